"""Many colours, and the few of them that are nearest to a target."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.recipe.cost import CHOOSING_K_L, colour_cost

_SLICES_L = (2.0, 6.0, np.inf)
"""Half widths in L* of what is looked at: most targets are served by the first, a small part of all."""
_MOST_S_L = 1.75
"""The largest weight S_L that CIEDE2000 gives a step of lightness (at L* 0 and 100)."""
_EXACT_PER_WANTED = 2
_EXACT_AT_LEAST = 48
"""How many of the nearest by the quick stand-in are measured exactly, so that the true nearest is among them."""

Distance = Callable[[NDArray[np.float32]], NDArray[np.float32]]


class Pool:
    """Candidate stacks sorted by lightness.

    labs (n, 3) CIELAB; penalties (n,), inf for what is not allowed. Positions in the answers count
    in the order the candidates were given.
    """

    def __init__(self, labs: NDArray[np.float32], penalties: NDArray[np.float32]) -> None:
        keep = np.flatnonzero(np.isfinite(penalties))
        order = keep[np.argsort(labs[keep, 0])]
        self.labs, self.penalties, self.positions = labs[order], penalties[order], order
        self.lightness = self.labs[:, 0].copy()
        self.least = float(self.penalties.min(initial=np.inf))

    def __len__(self) -> int:
        return len(self.positions)

    def best(
        self, target: Floats, count: int, near: Distance | None = None
    ) -> tuple[NDArray[np.intp], NDArray[np.float32], Floats]:
        """Positions, CIELAB and exact costs of the `count` cheapest candidates, cheapest first.

        near: what `distance_from` gives for the target. It picks who is measured exactly. Only a slice of lightness is
        looked at, unless what it holds is so far off that more could be nearer.
        """
        for slice_l in _SLICES_L:
            low, high = np.searchsorted(self.lightness, [target[0] - slice_l, target[0] + slice_l])
            positions, labs, costs = self._best_of(target, count, slice(low, high), near or distance_from(target))
            # Whatever lies outside the slice costs at least its distance in lightness and the least penalty of all.
            if len(costs) == count and costs[-1] <= slice_l / (CHOOSING_K_L * _MOST_S_L) + self.least:
                break
        return positions, labs, costs

    def _best_of(
        self, target: Floats, count: int, part: slice, near: Distance
    ) -> tuple[NDArray[np.intp], NDArray[np.float32], Floats]:
        labs, penalties = self.labs[part], self.penalties[part]
        exact = max(_EXACT_AT_LEAST, _EXACT_PER_WANTED * count)
        rough = near(labs) + penalties
        chosen = np.argpartition(rough, exact)[:exact] if len(rough) > exact else np.arange(len(rough))
        costs = colour_cost(target, labs[chosen].astype(float)) + penalties[chosen]
        positions = self.positions[part][chosen]
        order = np.lexsort((positions, costs))[:count]
        return positions[order], labs[chosen[order]], costs[order]


def forms_at(targets: Floats) -> Floats:
    """(m, 3, 3): moved · form has the length of the choosing difference near each target (m, 3).

    A quick stand-in: CIEDE2000 with its weights and its hue direction frozen at the target, so that it is
    a plain quadratic form of CIELAB.
    """
    lightness, a, b = np.asarray(targets, dtype=float).T
    chroma = np.hypot(a, b)
    g = 0.5 * (1 - np.sqrt(chroma**7 / (chroma**7 + 25.0**7)))
    a_p = (1 + g) * a
    chroma_p, hue = np.hypot(a_p, b), np.arctan2(b, a_p)
    t = (
        1 - 0.17 * np.cos(hue - np.radians(30)) + 0.24 * np.cos(2 * hue)
        + 0.32 * np.cos(3 * hue + np.radians(6)) - 0.20 * np.cos(4 * hue - np.radians(63))
    )  # fmt: skip
    s_l = 1 + 0.015 * (lightness - 50) ** 2 / np.sqrt(20 + (lightness - 50) ** 2)
    s_c, s_h = 1 + 0.045 * chroma_p, 1 + 0.015 * chroma_p * t
    forms = np.zeros((len(s_l), 3, 3))
    forms[:, 0, 0] = 1 / (CHOOSING_K_L * s_l)
    forms[:, 1, 1], forms[:, 2, 1] = (1 + g) * np.cos(hue) / s_c, np.sin(hue) / s_c
    forms[:, 1, 2], forms[:, 2, 2] = -(1 + g) * np.sin(hue) / s_h, np.cos(hue) / s_h
    return forms


def distance_from(target: Floats) -> Distance:
    """The choosing difference of CIELAB (n, 3) from one target (3,), about; see `forms_at`."""
    form = forms_at(target[None])[0].astype(np.float32)
    origin = np.asarray(target, dtype=np.float32)

    def distance(labs: NDArray[np.float32]) -> NDArray[np.float32]:
        moved = (labs - origin) @ form
        return np.asarray(np.sqrt(np.einsum("ij,ij->i", moved, moved)))

    return distance
