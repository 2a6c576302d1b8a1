"""Everything worth saying about one colour, worked out once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.munsell import y_to_value
from core.colour.spaces import hex_to_lab, lab_to_lch, lab_to_xyz, xyz_to_hexes
from core.colour.words import in_words


@dataclass(frozen=True, slots=True)
class Swatch:
    """A colour as it is shown: CIELAB, Munsell value, chroma, hue in degrees, sRGB hex and words."""

    lab: tuple[float, float, float]
    value: float
    chroma: float
    hue_deg: float
    hex: str
    words: str

    @staticmethod
    def of_hex(code: str) -> Swatch:
        """The swatch of `#rrggbb`."""
        return Swatch.of(hex_to_lab(code))

    @staticmethod
    def of(lab: ArrayLike) -> Swatch:
        """The swatch of CIELAB (3,)."""
        return Swatch.of_all(np.asarray(lab, dtype=float)[None])[0]

    @staticmethod
    def of_all(labs: ArrayLike) -> tuple[Swatch, ...]:
        """The swatches of CIELAB (n, 3)."""
        xyz, rows = lab_to_xyz(labs), np.hstack([np.asarray(labs, dtype=float), lab_to_lch(labs)[:, 1:]]).tolist()
        values = y_to_value(xyz[:, 1]).tolist()
        return tuple(
            Swatch(
                lab=(round(lightness, 2), round(a, 2), round(b, 2)),
                value=round(value, 2),
                chroma=round(chroma, 1),
                hue_deg=round(hue_deg, 1),
                hex=code,
                words=in_words(lightness, chroma, hue_deg, value),
            )
            for (lightness, a, b, chroma, hue_deg), value, code in zip(rows, values, xyz_to_hexes(xyz), strict=True)
        )
