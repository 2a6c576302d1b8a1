"""A complexion in respectful words: depth and undertone, both measured."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import lab_to_lch
from core.skin.measured import beyond_measured, usual_hue

_DEPTHS = (
    (-90.0, "deep"),
    (-30.0, "brown"),
    (10.0, "tan"),
    (28.0, "intermediate"),
    (41.0, "light"),
    (55.0, "very light"),
)
# Common practice of the trade, no published source: what is seen as an undertone.
_UNDERTONES = ((-180.0, "cool"), (-4.0, "neutral"), (4.0, "warm"), (10.0, "olive"))


@dataclass(frozen=True, slots=True)
class ComplexionReading:
    """ita_deg: individual typology angle. hue_off_deg: how much yellower (+) or pinker (−) than usual at that depth.

    beyond: what makes it no skin that was measured, such as `yellower than`; empty if it could be one.
    """

    ita_deg: float
    depth: str
    hue_off_deg: float
    undertone: str
    beyond: str


def typology_angle(lab: ArrayLike) -> float:
    """ITA° = atan((L* − 50) / b*) in degrees, of CIELAB (3,). Source: Chardon, Crétois and Hourseau 1991."""
    lightness, _, b = (float(v) for v in np.asarray(lab))
    return math.degrees(math.atan2(lightness - 50.0, max(b, 1e-6)))


def depth_word(ita_deg: float) -> str:
    """From `deep` to `very light`. Source of the limits: Del Bino and Bernerd 2013 (whose `dark` is deep here)."""
    return _DEPTHS[bisect_right([limit for limit, _ in _DEPTHS[1:]], ita_deg)][1]


def read_complexion(lab: ArrayLike) -> ComplexionReading:
    """Depth and undertone of the CIELAB colour (3,) of evenly lit skin.

    The undertone is the hue against the median of measured people of the same depth (core.skin.measured): pinker is
    cool, yellower warm, much yellower olive. About a quarter of people of middle depth are beyond each of the first
    two limits; the hues of deep skin differ less, so most of it is neutral.
    """
    ita_deg = typology_angle(lab)
    off = (float(lab_to_lch(lab)[2]) - usual_hue(ita_deg) + 180.0) % 360.0 - 180.0
    undertone = _UNDERTONES[bisect_right([limit for limit, _ in _UNDERTONES[1:]], off)][1]
    return ComplexionReading(round(ita_deg, 1), depth_word(ita_deg), round(off, 1), undertone, beyond_measured(lab))
