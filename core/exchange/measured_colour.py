"""Colours as instruments write them, under their own light and for their own observer, brought to D65 and 2°."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import D65_WHITE, Floats, xyz_to_hex
from core.optics.spectra import BANDS_NM, reflectance_to_xyz

WHITES: dict[tuple[str, int], tuple[float, float, float]] = {
    ("A", 2): (1.09850, 1.0, 0.35585), ("A", 10): (1.11144, 1.0, 0.35200),
    ("D50", 2): (0.96422, 1.0, 0.82521), ("D50", 10): (0.96720, 1.0, 0.81427),
    ("D55", 2): (0.95682, 1.0, 0.92149), ("D55", 10): (0.95799, 1.0, 0.90926),
    ("D65", 2): (0.95047, 1.0, 1.08883), ("D65", 10): (0.94811, 1.0, 1.07304),
    ("D75", 2): (0.94972, 1.0, 1.22638), ("D75", 10): (0.94416, 1.0, 1.20641),
}  # fmt: skip
"""XYZ of the perfect diffuser by illuminant and observer (ASTM E308)."""
_BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
"""Source: Lam 1985, as ICC.1 has it."""
_KAPPA, _EPSILON = 903.2963, 0.00885645
_FROM_NM, _TO_NM, _WIDEST_NM = 430.0, 670.0, 20.0
"""What a spectrum must hold at least, and how far apart its bands may be."""


@dataclass(frozen=True, slots=True)
class Seen:
    """Under which light, and by which observer (2 or 10 degrees), a colour is written."""

    illuminant: str = "D50"
    observer: int = 2

    @staticmethod
    def told(text: str) -> Seen:
        """What a line such as `ILLUMINANT, D65` or `10 degree` says; D50 and 2° where it says nothing (ISO 13655)."""
        light = re.search(r"\b(D50|D55|D65|D75|A)\b", text)
        wide = re.search(r"\b10\s*(?:°|_?degree|deg\b|$)|OBSERVER\W+10|10_Degree", text, re.IGNORECASE)
        return Seen(light[1] if light else "D50", 10 if wide else 2)

    @property
    def white(self) -> Floats:
        return np.array(WHITES[self.illuminant, self.observer])


def hex_of_lab(lab: ArrayLike, seen: Seen) -> str:
    """sRGB of CIELAB (3,) as it is seen so."""
    lightness, a, b = np.asarray(lab, dtype=float)
    fy = (lightness + 16.0) / 116.0
    f = np.array([fy + a / 500.0, fy, fy - b / 200.0])
    relative = np.where(f**3 > _EPSILON, f**3, (116.0 * f - 16.0) / _KAPPA)
    return hex_of_xyz(relative * seen.white, seen)


def hex_of_xyz(xyz: ArrayLike, seen: Seen) -> str:
    """sRGB of XYZ (3,), white about 1, as it is seen so: adapted to D65 by Bradford."""
    gains = (_BRADFORD @ D65_WHITE) / (_BRADFORD @ seen.white)
    adapted = np.linalg.inv(_BRADFORD) @ (gains * (_BRADFORD @ np.asarray(xyz, dtype=float)))
    return xyz_to_hex(np.clip(adapted, 0.0, None))


def in_bands(nm: ArrayLike, reflectance: ArrayLike) -> tuple[float, ...] | None:
    """A reflectance in our bands; None where it holds too little. In percent where it goes beyond 1.5."""
    at, held = np.asarray(nm, dtype=float), np.asarray(reflectance, dtype=float)
    order = np.argsort(at)
    at, held = at[order], held[order]
    if len(at) < 3 or at[0] > _FROM_NM or at[-1] < _TO_NM or np.diff(at).max() > _WIDEST_NM:
        return None
    if held.max() > 1.5:
        held = held / 100.0
    return tuple(np.interp(BANDS_NM, at, np.clip(held, 0.0, 1.2)).round(4).tolist())


def hex_of_spectrum(bands: ArrayLike) -> str:
    """sRGB of a reflectance (31,) under D65."""
    return xyz_to_hex(reflectance_to_xyz(np.asarray(bands, dtype=float)))
