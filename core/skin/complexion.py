"""A complexion in respectful words: depth and undertone, both measured."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats, lab_to_lch
from core.optics.spectra import reflectance_to_lab
from core.skin.reflectance import Complexion, skin_reflectance

_DEPTHS = (
    (-90.0, "deep"),
    (-30.0, "brown"),
    (10.0, "tan"),
    (28.0, "intermediate"),
    (41.0, "light"),
    (55.0, "very light"),
)
_UNDERTONES = ((-180.0, "cool"), (-4.0, "neutral"), (4.0, "warm"), (10.0, "olive"))


@dataclass(frozen=True, slots=True)
class ComplexionReading:
    """ita_deg: individual typology angle. hue_off_deg: how much yellower (+) or pinker (−) than usual at that depth."""

    ita_deg: float
    depth: str
    hue_off_deg: float
    undertone: str


def typology_angle(lab: ArrayLike) -> float:
    """ITA° = atan((L* − 50) / b*) in degrees, of CIELAB (3,). Source: Chardon, Crétois and Hourseau 1991."""
    lightness, _, b = (float(v) for v in np.asarray(lab))
    return math.degrees(math.atan2(lightness - 50.0, max(b, 1e-6)))


def depth_word(ita_deg: float) -> str:
    """From `deep` to `very light`. Source of the limits: Del Bino and Bernerd 2013 (whose `dark` is deep here)."""
    return _DEPTHS[bisect_right([limit for limit, _ in _DEPTHS[1:]], ita_deg)][1]


@cache
def _usual_hues() -> tuple[Floats, Floats]:
    """CIELAB lightness, rising, and hue in degrees of skins of every depth with a middling amount of blood."""
    labs = np.array([reflectance_to_lab(skin_reflectance(Complexion(m, 0.02))) for m in np.geomspace(0.45, 0.005, 40)])
    return labs[:, 0], lab_to_lch(labs)[:, 2]


def read_complexion(lab: ArrayLike) -> ComplexionReading:
    """Depth and undertone of the CIELAB colour (3,) of evenly lit skin.

    The undertone is the hue against what the model of core.skin has at the same lightness: pinker is
    cool, yellower warm, much yellower olive (limits: common practice, no published source).
    """
    ita_deg = typology_angle(lab)
    lightness, _, hue_deg = (float(v) for v in lab_to_lch(lab))
    off = (hue_deg - float(np.interp(lightness, *_usual_hues())) + 180.0) % 360.0 - 180.0
    undertone = _UNDERTONES[bisect_right([limit for limit, _ in _UNDERTONES[1:]], off)][1]
    return ComplexionReading(round(ita_deg, 1), depth_word(ita_deg), round(off, 1), undertone)
