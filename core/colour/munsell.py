"""Munsell value: the number artists mean by light and dark."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import D65_WHITE, Floats, lab_to_xyz, xyz_to_hex

_COEFFICIENTS = (0.0, 1.1914, -0.22533, 0.23352, -0.020484, 0.00081939)


def value_to_y(value: ArrayLike) -> Floats:
    """Luminous reflectance, 0–1 of a perfect diffuser, of Munsell value 0–10.

    Source: ASTM D1535 (editions since 2008; the older ones count relative to magnesium oxide).
    """
    v = np.asarray(value, dtype=float)
    return np.asarray(np.polynomial.polynomial.polyval(v, _COEFFICIENTS) / 100.0)


_VALUES = np.linspace(0.0, 10.0, 4001)
_YS = value_to_y(_VALUES)


def y_to_value(y: ArrayLike) -> Floats:
    """Munsell value 0–10 of luminous reflectance 0–1: the inverse of `value_to_y`, to 1e-5."""
    return np.asarray(np.interp(np.asarray(y, dtype=float), _YS, _VALUES))


def lab_to_value(lab: ArrayLike) -> Floats:
    """Munsell value (…) of CIELAB (…, 3)."""
    return y_to_value(lab_to_xyz(lab)[..., 1])


def value_greys() -> tuple[str, ...]:
    """The neutral grey (hex) of each whole value from 0 to 10."""
    return tuple(xyz_to_hex(y * D65_WHITE) for y in value_to_y(np.arange(11)))
