"""The skin of a picture as layers are to cover it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.layers.drawable import Flags
from core.layers.marked import Marked
from core.layers.pixels import Skin

_LIGHTS = 0.4
"""How much of the lit skin counts as lights, where what is much darker is kept out (assumption)."""
_MARGIN = 8
_FEWEST = 3
"""How many pixels an area has at least, however coarse the picture is."""


@dataclass(frozen=True, slots=True, eq=False)
class Ground:
    """Skin to be covered. lab (h, w, 3): CIELAB as seen; mask (h, w): whose skin; px_per_mm: of the sheet.

    lit (h, w): skin in the light, where darks may be kept out; free (h, w): skin that is kept free; none by default.
    owner (h, w): the place of the figure for which each pixel stands; needed where layers are held.
    marked: places that are laid evenly, each for itself.
    """

    lab: NDArray[np.float32]
    mask: Flags
    px_per_mm: float
    lit: Flags
    free: Flags | None = None
    owner: NDArray[np.intp] | None = None
    marked: Marked | None = None

    @property
    def skin(self) -> Skin:
        """Its pixels, row by row."""
        free = np.zeros_like(self.mask) if self.free is None else self.free
        return Skin(self.lab[self.mask], self.lights[self.mask], ~self.lit[self.mask], free[self.mask])

    @property
    def lights(self) -> Flags:
        """(h, w): the lights, without the middle tones and half-tones of the skin that is lit."""
        lit = self.lit & self.mask
        if not lit.any():
            return lit
        return np.asarray(lit & (self.lab[..., 0] >= np.quantile(self.lab[lit, 0], 1 - _LIGHTS)))

    def part(self, rows: slice, columns: slice) -> Ground:
        """A part of it."""
        free = None if self.free is None else self.free[rows, columns]
        owner = None if self.owner is None else self.owner[rows, columns]
        marked = self.marked and self.marked.part(rows, columns)
        lab, mask, lit = self.lab[rows, columns], self.mask[rows, columns], self.lit[rows, columns]
        return Ground(lab, mask, self.px_per_mm, lit, free, owner, marked)

    def where(self) -> tuple[slice, slice]:
        """Rows and columns with skin, and a little more."""
        return _around(np.any(self.mask, axis=1)), _around(np.any(self.mask, axis=0))

    def least(self, mm2: float) -> int:
        """How many pixels an area of so many mm² of the sheet has."""
        return max(_FEWEST, round(mm2 * self.px_per_mm**2))

    def half(self) -> Ground:
        """At half the size."""
        h, w = (n // 2 for n in self.mask.shape)
        quads = self.lab[: 2 * h, : 2 * w].reshape(h, 2, w, 2, 3).mean(axis=(1, 3))
        mask, lit, free = (
            None if m is None else m[: 2 * h, : 2 * w].reshape(h, 2, w, 2).mean(axis=(1, 3)) >= 0.5
            for m in (self.mask, self.lit, self.free)
        )
        assert mask is not None and lit is not None
        owner = None if self.owner is None else self.owner[: 2 * h : 2, : 2 * w : 2]
        return Ground(quads.astype(np.float32), mask, self.px_per_mm / 2, lit, free, owner)


def _around(held: Any) -> slice:
    """From where to where something is held, and a little more."""
    where = np.flatnonzero(held)
    return slice(max(0, int(where[0]) - _MARGIN), int(where[-1]) + 1 + _MARGIN) if len(where) else slice(0, 0)
