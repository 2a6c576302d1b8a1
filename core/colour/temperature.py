"""Warm or cool, always against the rest of the same figure."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats, lab_to_lch

WARM_POLE_DEG = 75.0
"""The hue painters call warmest, between orange and yellow (common practice, no published source)."""
_FULL_CHROMA = 12.0


def temperature(lab: ArrayLike, average_lab: ArrayLike) -> Floats:
    """Signed difference (…) in degrees of hue towards warm (+) or cool (−) of CIELAB (…, 3) against an average (3,), or
    one for each.

    Colours weaker than chroma 12 count proportionally less, since the hue of a near-grey is hardly seen.
    """
    _, chroma, hue_deg = np.moveaxis(lab_to_lch(lab), -1, 0)
    _, average_chroma, average_hue_deg = np.moveaxis(lab_to_lch(average_lab), -1, 0)
    weight = np.minimum(1.0, np.minimum(chroma, average_chroma) / _FULL_CHROMA)
    return np.asarray(weight * (_from_pole(average_hue_deg) - _from_pole(hue_deg)))


def _from_pole(hue_deg: Floats) -> Floats:
    return np.asarray(np.abs((hue_deg - WARM_POLE_DEG + 180.0) % 360.0 - 180.0))


def temperature_word(degrees: float, spread: float) -> str:
    """In words; `spread` is the usual scatter of the figure's own hues, in degrees."""
    if abs(degrees) <= max(spread, 3.0):
        return "about as warm as the rest"
    return "warmer than the rest" if degrees > 0 else "cooler than the rest"


def hue_spread(labs: ArrayLike) -> float:
    """Half the usual scatter of temperature among a figure's CIELAB colours (n, 3), in degrees."""
    arr = np.asarray(labs, dtype=float).reshape(-1, 3)
    if len(arr) < 2:
        return 0.0
    mean = arr.mean(axis=0)
    return float(np.std(temperature(arr, mean)) / 2)
