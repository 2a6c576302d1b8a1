"""Lamps: the spectrum of what shines, through which gel, and the eye that settles on it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib.resources import files
from typing import Annotated, Literal

import numpy as np
from annotated_types import Interval, MaxLen
from scipy.optimize import least_squares

from core.colour.spaces import D65_WHITE, Floats, hex_to_xyz
from core.optics.spectra import BANDS_NM, WEIGHTS, upsample

HexColour = Annotated[str, MaxLen(7)]
"""Six hexadecimal digits."""
LampKind = Literal["glow", "daylight", "led"]
Gel = Literal["", "red", "amber", "green", "blue", "magenta", "own"]
COLDEST, HOTTEST = 1000.0, 20000.0
_DAYLIGHT_FROM = 4000.0
_PLANCK_NM_K = 1.4388e7


@dataclass(frozen=True, slots=True)
class Lamp:
    """kind: what makes it glow. kelvin: its colour. gel: what it shines through; `own` is a gel of the colour
    `gel_colour`."""

    kind: LampKind = "glow"
    kelvin: Annotated[float, Interval(ge=COLDEST, le=HOTTEST)] = 2700.0
    gel: Gel = ""
    gel_colour: HexColour = "ffffff"


NAMED: Mapping[str, Lamp] = {
    "candle": Lamp("glow", 1900),
    "oil lamp": Lamp("glow", 2200),
    "warm bulb": Lamp("glow", 2700),
    "stage lamp": Lamp("glow", 3200),
    "warm LED": Lamp("led", 3000),
    "cool LED": Lamp("led", 5000),
    "low sun": Lamp("glow", 3500),
    "sun": Lamp("daylight", 5500),
    "overcast sky": Lamp("daylight", 6500),
    "north sky": Lamp("daylight", 10000),
}
"""Usual lamps by the names artists use. The temperatures are common practice."""


@cache
def _daylight() -> Floats:
    text = files("core.light").joinpath("data/daylight.csv").read_text("utf-8").splitlines()[1:]
    return np.array([[float(v) for v in line.split(",")[1:]] for line in text])


def _cie_daylight(kelvin: float) -> Floats:
    """Relative power (31,) of daylight, 4000–25000 K. Source: CIE 15."""
    t = 1e3 / kelvin
    low = kelvin <= 7000
    a, b, c, d = (0.244063, 0.09911, 2.9678, -4.6070) if low else (0.237040, 0.24748, 1.9018, -2.0064)
    x = a + b * t + c * t**2 + d * t**3
    y = -3.0 * x**2 + 2.870 * x - 0.275
    below = 0.0241 + 0.2562 * x - 0.7341 * y
    weights = 1.0, (-1.3515 - 1.7703 * x + 5.9114 * y) / below, (0.0300 - 31.4424 * x + 30.0717 * y) / below
    return np.asarray(_daylight() @ weights)


def _planck(kelvin: float) -> Floats:
    return np.asarray((BANDS_NM / 560.0) ** -5 / np.expm1(_PLANCK_NM_K / (BANDS_NM * kelvin)))


@cache
def observer() -> Floats:
    """(31, 3): XYZ of a power is power @ observer. CIE 1931, scaled as WEIGHTS so that D65 gives the white of sRGB."""
    return np.asarray(WEIGHTS / _cie_daylight(6504.0)[:, None])


def _even(power: Floats) -> Floats:
    return np.asarray(power / (power @ observer()[:, 1]))


def _led(kelvin: float) -> Floats:
    """A blue pump and a broad phosphor, so mixed and so placed that the colour is Planck's or daylight's.

    Shapes: assumed, after usual white LEDs with one phosphor.
    """
    wanted = _chromaticity(_planck(kelvin) if kelvin < _DAYLIGHT_FROM else _cie_daylight(kelvin))

    def mixture(share_and_peak: Floats) -> Floats:
        share, peak = share_and_peak
        return np.asarray(np.exp(share) * _bump(452, 11) + _bump(peak, 75))

    start = np.array([np.interp(kelvin, [2000, 10000], [-2.0, 0.6]), 570.0])
    found = least_squares(lambda x: _chromaticity(mixture(x)) - wanted, start, x_scale=[1.0, 30.0])
    return mixture(found.x)


def _chromaticity(power: Floats) -> Floats:
    xyz = power @ observer()
    return np.asarray(xyz[:2] / xyz.sum())


def _rises(at: float, width: float) -> Floats:
    return np.asarray(1 / (1 + np.exp(-(BANDS_NM - at) / width)))


def _bump(at: float, width: float) -> Floats:
    return np.asarray(np.exp(-(((BANDS_NM - at) / width) ** 2)))


def transmission(lamp: Lamp) -> Floats:
    """What of each band (31,) the gel lets through. Named gels: assumed, after usual deep ones; of any other colour the
    smoothest spectrum is taken (core.optics.spectra.upsample)."""
    match lamp.gel:
        case "red":
            return 0.035 + 0.90 * _rises(602, 7)
        case "amber":
            return 0.05 + 0.90 * _rises(545, 18)
        case "green":
            return 0.03 + 0.70 * _bump(525, 35)
        case "blue":
            return 0.03 + 0.75 * _bump(455, 38)
        case "magenta":
            return 0.05 + 0.80 * (_rises(605, 8) + _bump(440, 40))
        case "own":
            return upsample(hex_to_xyz(lamp.gel_colour))
    return np.ones(len(BANDS_NM))


@lru_cache(maxsize=256)
def power(lamp: Lamp) -> Floats:
    """Relative power (31,) of a lamp, of luminance 1: Planck's radiator, daylight (CIE 15; Planck's below 4000 K) or a
    white LED, through its gel."""
    return _even(_bare(lamp) * transmission(lamp))


def _bare(lamp: Lamp) -> Floats:
    if lamp.kind == "led":
        return _led(lamp.kelvin)
    daylight = lamp.kind == "daylight" and lamp.kelvin >= _DAYLIGHT_FROM
    return _cie_daylight(lamp.kelvin) if daylight else _planck(lamp.kelvin)


def white_of(lamp: Lamp) -> Floats:
    """XYZ (3,), Y = 1, of a white under the lamp without its gel: what the eye takes for white in that room."""
    return _even(_bare(lamp)) @ observer()


def usually_settled(lamp: Lamp) -> float:
    """How far, 0 to 1, an eye settles on a lamp: wholly on daylight, less the warmer it glows, half through a gel.

    Common practice (a candle keeps its warmth); no published source for the numbers.
    """
    if lamp.gel:
        return 0.45
    return float(np.interp(lamp.kelvin, [1900.0, 3500.0], [0.7, 1.0]))


_CAT16: Floats = np.array(
    [[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]]
)
"""Source: Li, Li and others 2017, CAM16."""


def settled(white: Floats, degree: float) -> Floats:
    """The matrix (3, 3) that turns XYZ seen by an eye that has settled on a white (3,) so far into XYZ under D65.

    Gains of CAT16 by the degree of adaptation. Source: Li, Li and others 2017.
    """
    gains = degree * (_CAT16 @ D65_WHITE) / (_CAT16 @ (white / white[1])) + 1 - degree
    return np.asarray(np.linalg.inv(_CAT16) @ np.diag(gains) @ _CAT16)
