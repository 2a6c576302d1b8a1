"""What a camera did to colours, told from what is known in its picture: undone for the rest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.optimize import least_squares

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, xyz_to_lab

_POWER, _OFFSET, _MIXING = 0.10, 0.01, 0.08
"""How far a camera may be from true before that is believed: logarithm of the power of a channel, what is added to it,
and how much of its neighbours it holds."""
_PAPER_KNOWN = 0.5
"""ΔE to which the paper is known."""
_ROBUST = 2.0
"""From how many times the expected error on a thing counts less: one that was wrongly known must not bend the rest."""


Known = tuple[tuple[float, float, float], float]
"""CIELAB of a swatch, and the ΔE to which that is known."""


@dataclass(frozen=True, slots=True, eq=False)
class Undone:
    """Linear sRGB as a camera gave it, evened by the paper, to true: (rgb + offset) ** power @ mixing.

    left: ΔE00 in the median by which what is known is still off.
    """

    power: NDArray[np.float64]
    offset: NDArray[np.float64]
    mixing: NDArray[np.float64]
    left: float

    def true(self, rgb: NDArray[np.float64]) -> NDArray[np.float64]:
        """(n, 3) to (n, 3)."""
        return np.asarray(np.maximum(rgb + self.offset, 1e-4) ** self.power @ self.mixing)


def undone_beside(white: ArrayLike, paper: ArrayLike, rgb: NDArray[np.float64], known: Sequence[Known]) -> Undone:
    """The same from swatches (n, 3) that were measured before, lying on a paper that is known.

    white: what the camera gave of the paper, whose CIELAB is `paper`.
    """
    labs = np.array([paper, *[lab for lab, _ in known]], dtype=float)
    return undone(
        np.vstack([np.asarray(white, dtype=float), rgb]), labs, np.array([_PAPER_KNOWN, *[error for _, error in known]])
    )


def undone(rgb: NDArray[np.float64], lab: NDArray[np.float64], error: NDArray[np.float64] | float) -> Undone:
    """What the camera did, from rgb (n, 3) it gave of things whose CIELAB (n, 3) is known to `error` ΔE.

    Power, offset and a 3×3 matrix near identity, with priors, by least squares that outliers bend little.
    """
    known = np.asarray(lab, dtype=float)
    weight = 1 / np.broadcast_to(np.asarray(error, dtype=float), len(known))[:, None]

    def parts(x: NDArray[np.float64]) -> Undone:
        return Undone(np.exp(x[:3]), x[3:6], np.eye(3) + x[6:].reshape(3, 3), 0.0)

    def off(x: NDArray[np.float64]) -> NDArray[np.float64]:
        found = xyz_to_lab(np.maximum(parts(x).true(rgb), 1e-5) @ SRGB.to_xyz)
        prior = np.concatenate([x[:3] / _POWER, x[3:6] / _OFFSET, x[6:] / _MIXING])
        return np.concatenate([((found - known) * weight).ravel(), prior])

    x = least_squares(off, np.zeros(15), loss="soft_l1", f_scale=_ROBUST).x
    done = parts(x)
    left = ciede2000(xyz_to_lab(np.maximum(done.true(rgb), 0) @ SRGB.to_xyz), known)
    return Undone(done.power, done.offset, done.mixing, float(np.median(left)))
