"""Skin: a scattering epidermis with melanin over a dermis with blood."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.optics.film import film, over
from core.optics.spectra import BANDS_NM

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
BLOOD_G_PER_L, HAEMOGLOBIN_G_PER_MOL, SATURATION = 150.0, 64500.0, 0.75
EPIDERMIS_CM = 0.006
EPIDERMIS_SCATTER, BILIRUBIN = 1.2, 0.6


@dataclass(frozen=True, slots=True)
class Complexion:
    """melanin: volume fraction of melanosomes in the epidermis, 0.005–0.45. blood: volume fraction in the
    dermis, 0.002–0.1. carotene: relative amount of yellow, 0–2."""

    melanin: float
    blood: float
    carotene: float = 0.0


def skin_reflectance(skin: Complexion) -> Floats:
    """Reflectance (31,) of living skin, without surface gloss.

    Absorption of melanosomes and of bloodless tissue: Jacques 1998 and 2013; reduced scattering of skin:
    Jacques 2013; both layers by Kubelka–Munk with K = 2 μa and S = 3/4 μs' − 1/4 μa. The epidermis' extra
    scattering and the bilirubin term were fitted to the two skin patches of the standard chart (docs/model.md).
    """
    base = 0.244 + 85.3 * np.exp(-(BANDS_NM - 154.0) / 66.2)
    scatter = 46.0 * (0.409 * (BANDS_NM / 500.0) ** -4 + 0.591 * (BANDS_NM / 500.0) ** -0.702)
    melanosome = 6.6e11 * BANDS_NM**-3.33
    blood = 2.303 * (SATURATION * _HBO2 + (1 - SATURATION) * _HB) * BLOOD_G_PER_L / HAEMOGLOBIN_G_PER_MOL
    bilirubin = BILIRUBIN * 2.0 * np.exp(-(((BANDS_NM - 458.0) / 38.0) ** 2))
    carotene = skin.carotene * sum(np.exp(-(((BANDS_NM - peak) / 15.0) ** 2)) for peak in (425.0, 452.0, 481.0))

    dermis_absorption = skin.blood * blood + (1 - skin.blood) * base + bilirubin + 2.0 * carotene
    dermis_scatter = np.maximum(0.75 * scatter - 0.25 * dermis_absorption, 0.05 * scatter)
    ratio = 2 * dermis_absorption / dermis_scatter
    dermis = 1 + ratio - np.sqrt(ratio**2 + 2 * ratio)
    epidermis_absorption = skin.melanin * melanosome + (1 - skin.melanin) * base + 8.0 * carotene
    r0, t = film(2 * epidermis_absorption, 0.75 * scatter * EPIDERMIS_SCATTER, EPIDERMIS_CM)
    return over(dermis, r0, t)
