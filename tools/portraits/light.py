"""Light and colour: what a spectrum looks like under a lamp, to an eye that has settled."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import colour
import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import D65_WHITE, SRGB
from core.optics.spectra import BANDS_NM

Floats = NDArray[np.float64]

_SHAPE = colour.SpectralShape(400, 700, 10)
_OBSERVER = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(_SHAPE).values
_TO_RGB = np.linalg.inv(SRGB.to_xyz)


def _even(power: Floats) -> Floats:
    """A lamp of luminance 1."""
    return np.asarray(power / (power @ _OBSERVER[:, 1]))


def lamp(kelvin: float) -> Floats:
    """Planck's radiator below 4000 K, daylight (CIE D) from there on; luminance 1."""
    if kelvin < 4000:
        return _even(BANDS_NM**-5.0 / np.expm1(1.4388e7 / (BANDS_NM * kelvin)))
    xy = colour.temperature.CCT_to_xy_CIE_D(kelvin)
    return _even(colour.sd_CIE_illuminant_D_series(xy).copy().align(_SHAPE).values)


def dye(red: float, green: float, blue: float) -> Floats:
    """A smooth reflectance (31,) that is so high in three parts of the spectrum."""
    low = 1 / (1 + np.exp(-(BANDS_NM - 495) / 14))
    high = 1 / (1 + np.exp(-(BANDS_NM - 590) / 14))
    return np.asarray(red * high + green * (low - high) + blue * (1 - low))


@dataclass(frozen=True)
class Light:
    """Key and sky in kelvin and strength; the key's direction (azimuth to the picture's right, height) and half angle
    in degrees; the white the eye has settled on, and how far."""

    key_kelvin: float
    azimuth: float
    height: float
    half_angle: float
    sky_kelvin: float
    sky: float
    sky_azimuth: float
    sky_height: float
    sky_even: float
    settled_kelvin: float
    settled: float
    exposure: float = 1.0

    @cached_property
    def direction(self) -> Floats:
        """Towards the key."""
        a, h = np.radians([self.azimuth, self.height])
        return np.array([np.sin(a) * np.cos(h), np.sin(h), np.cos(a) * np.cos(h)])

    @cached_property
    def _adapt(self) -> Floats:
        cat16 = colour.adaptation.CHROMATIC_ADAPTATION_TRANSFORMS["CAT16"]
        white = lamp(self.settled_kelvin) @ _OBSERVER
        gains = self.settled * (cat16 @ D65_WHITE) / (cat16 @ (white / white[1])) + 1 - self.settled
        return np.asarray(np.linalg.inv(cat16) @ np.diag(gains) @ cat16)

    def rgb(self, reflectance: Floats, power: Floats) -> Floats:
        """Linear sRGB (…, 3) of reflectances (…, 31) under a lamp, as the settled eye sees them."""
        return np.asarray((reflectance * power) @ _OBSERVER @ self._adapt.T @ _TO_RGB)

    def white(self, power: Floats) -> Floats:
        """Linear sRGB (3,) of a perfect white under a lamp."""
        return self.rgb(np.ones(len(BANDS_NM)), power)

    def albedo(self, reflectance: Floats, power: Floats) -> Floats:
        """What is reflected of each channel (…, 3): exact for light that meets the surface once."""
        return np.clip(self.rgb(reflectance, power) / self.white(power), 0.001, 0.95)
