"""Everything worth saying about one colour, worked out once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.munsell import lab_to_value
from core.colour.spaces import hex_to_lab, lab_to_hex, lab_to_lch
from core.colour.words import describe


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
        lightness, chroma, hue_deg = (float(v) for v in lab_to_lch(lab))
        _, a, b = (float(v) for v in np.asarray(lab))
        return Swatch(
            lab=(round(lightness, 2), round(a, 2), round(b, 2)),
            value=round(float(lab_to_value(lab)), 2),
            chroma=round(chroma, 1),
            hue_deg=round(hue_deg, 1),
            hex=lab_to_hex(lab),
            words=describe(lab),
        )
