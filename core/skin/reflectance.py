"""Skin: a scattering epidermis with melanin over a dermis with blood, under a glossy surface."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats
from core.optics.film import film, over
from core.optics.spectra import BANDS_NM
from core.skin.measured import tables

# Molar extinction (cm⁻¹/M) at 400–700 nm in steps of 10 nm, oxygenated and not.
# Source: Prahl's compilation; tests/outside/test_published.py compares it with the published table.
_HBO2 = np.array([
    266232, 466840, 480360, 246072, 102580, 62816, 44480, 33209, 26629, 23684, 20933, 20035, 24202, 39957, 53236, 43016,
    32613, 44496, 50104, 14401, 3200, 1506, 942, 610, 442, 368, 319.6, 294, 277.6, 276, 290,
])  # fmt: skip
_HB = np.array([
    223296, 303956, 407560, 528600, 413280, 103292, 23389, 16156, 14550, 16684, 20862, 25774, 31590, 39036, 46592,
    53412, 53788, 45072, 37020, 28324, 14677, 9444, 6510, 5149, 4345, 3750, 3227, 2795, 2408, 2052, 1794,
])  # fmt: skip
BLOOD_G_PER_L, HAEMOGLOBIN_G_PER_MOL = 150.0, 64500.0
EPIDERMIS_CM = 0.006
MELANOSOME_PER_CM = 6.6e11 * 550.0**-3.33
"""Absorption of melanosomes at 550 nm. Source: Jacques 1998."""


class Complexion(NamedTuple):
    """melanin: volume fraction of melanosomes in the epidermis, 0.01–0.4. blood: volume fraction in the
    dermis, 0.001–0.1. carotene: relative amount of yellow, 0–3."""

    melanin: float
    blood: float
    carotene: float = 0.0


@dataclass(frozen=True, slots=True)
class Layers:
    """What skin is made of, the same for everybody.

    scatter: reduced scattering of the dermis, and tissue: absorption of bloodless tissue, both times the published
    curves. epidermis_scatter: scattering of the epidermis over that of the dermis. saturation: of the blood with
    oxygen. vessel_um: radius of the vessels that hold it. melanin_exponent: absorption of melanin goes with the
    wavelength to minus this. surface: what its surface reflects into an instrument that takes gloss along.
    """

    scatter: float
    tissue: float
    epidermis_scatter: float
    saturation: float
    vessel_um: float
    melanin_exponent: float
    surface: float


@cache
def layers() -> Layers:
    """The layers that fit measured skin best (docs/skin.md)."""
    return Layers(**tables()["layers"])


def body_reflectance(skins: ArrayLike, made_of: Layers | None = None) -> Floats:
    """Reflectance (…, 31) of living skin without its surface's gloss.

    skins (…, 3): melanin, blood and carotene as in Complexion.

    Absorption of melanosomes and of bloodless tissue: Jacques 1998 and 2013; reduced scattering of skin: Jacques 2013;
    blood is seen less because it lies in vessels: van Veen, Verkruysse and Sterenborg 2002; both layers by Kubelka–Munk
    with K = 2 μa and S = 3/4 μs' − 1/4 μa. Bands of carotene: assumed, Gaussian.
    """
    of = made_of or layers()
    melanin, blood, carotene = np.moveaxis(np.asarray(skins, dtype=float)[..., None, :], -1, 0)
    tissue, scatter, yellow = _tissue(of), _scatter(of), carotene * _YELLOW
    melanosome = MELANOSOME_PER_CM * (BANDS_NM / 550.0) ** -of.melanin_exponent
    dermis_absorption = _dermis_absorption(blood, yellow, of)
    dermis_scatter = np.maximum(0.75 * scatter - 0.25 * dermis_absorption, 0.05 * scatter)
    ratio = 2 * dermis_absorption / dermis_scatter
    dermis = 1 + ratio - np.sqrt(ratio**2 + 2 * ratio)
    epidermis_absorption = melanin * melanosome + (1 - melanin) * tissue + 8.0 * yellow
    r0, t = film(2 * epidermis_absorption, 0.75 * scatter * of.epidermis_scatter, EPIDERMIS_CM)
    return over(dermis, r0, t)


_YELLOW = np.exp(-(((BANDS_NM - np.array([[425.0], [452.0], [481.0]])) / 15.0) ** 2)).sum(axis=0)


def _tissue(of: Layers) -> Floats:
    return np.asarray((0.244 + 85.3 * np.exp(-(BANDS_NM - 154.0) / 66.2)) * of.tissue)


def _scatter(of: Layers) -> Floats:
    return np.asarray(46.0 * (0.409 * (BANDS_NM / 500.0) ** -4 + 0.591 * (BANDS_NM / 500.0) ** -0.702) * of.scatter)


def _dermis_absorption(blood: Floats, yellow: Floats, of: Layers) -> Floats:
    extinction = of.saturation * _HBO2 + (1 - of.saturation) * _HB
    whole_blood = np.log(10.0) * extinction * BLOOD_G_PER_L / HAEMOGLOBIN_G_PER_MOL
    across = 2.0 * whole_blood * of.vessel_um * 1e-4
    in_vessels = whole_blood * -np.expm1(-across) / across
    return np.asarray(blood * in_vessels + (1 - blood) * _tissue(of) + 2.0 * yellow)


def spread_cm(skins: ArrayLike, made_of: Layers | None = None) -> Floats:
    """How far light spreads sideways under the skin in each band (…, 31), in cm; skins (…, 3) as in body_reflectance.

    The diffusion length 1 / √(3 μa (μa + μs')) of the dermis, which is what the profile of light around a point falls
    off by. Source: Farrell, Patterson and Wilson 1992; so used for skin by Jensen and others 2001.
    """
    of = made_of or layers()
    _, blood, carotene = np.moveaxis(np.asarray(skins, dtype=float)[..., None, :], -1, 0)
    absorption = _dermis_absorption(blood, carotene * _YELLOW, of)
    return np.asarray(1 / np.sqrt(3 * absorption * (absorption + _scatter(of))))


def skin_reflectance(skins: ArrayLike, made_of: Layers | None = None) -> Floats:
    """Reflectance (…, 31) of living skin as an instrument measures it that takes gloss along, which is how the colours
    of skin are told. skins (…, 3): melanin, blood and carotene as in Complexion."""
    surface = (made_of or layers()).surface
    return surface + (1.0 - surface) * body_reflectance(skins, made_of)
