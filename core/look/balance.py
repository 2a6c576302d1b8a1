"""Balancing a picture on something in it that is known to be grey or white."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.munsell import y_to_value
from core.colour.spaces import D65_WHITE, Floats, lab_to_lch, lab_to_xyz, xyz_to_lab
from core.errors import InputError
from core.limits import Fraction
from core.look.picture import Picture
from core.look.reading import Disc, Radius, Region, read_spot

_M16: Floats = np.array(
    [[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]]
)
"""CAT16. Source: Li et al. 2017, Color Research & Application 42(6)."""

USUAL_EYE_WHITE_AB = (3.5, 6.0)
"""CIELAB a* and b* of an eye white in daylight: a little warm (from memory; no published source at hand)."""
DARKEST_VALUE = 2.5
STRONGEST_CHROMA = 40.0


@dataclass(frozen=True, slots=True)
class Balance:
    """white: XYZ, with Y = 1, of what a white would be in the picture's light."""

    white: tuple[float, float, float]

    def matrix(self) -> Floats:
        """Matrix (3, 3) that takes XYZ row vectors to what they would be in daylight (von Kries, CAT16)."""
        gain = (_M16 @ D65_WHITE) / (_M16 @ np.array(self.white))
        return np.asarray((np.linalg.inv(_M16) @ np.diag(gain) @ _M16).T)

    def apply(self, xyz: ArrayLike) -> Floats:
        """Balanced XYZ (…, 3). Lightness stays nearly as it is: only the cast goes."""
        arr = np.asarray(xyz)
        return np.asarray(arr @ self.matrix().astype(arr.dtype))


@dataclass(frozen=True, slots=True)
class Neutral:
    """What a picture is balanced on: a disc as in core.look.reading. eye_white: whether it is one, and no grey."""

    x: Fraction
    y: Fraction
    radius: Radius
    eye_white: bool = False

    @property
    def disc(self) -> Disc:
        return Disc(self.x, self.y, self.radius)


def balance_of(lab: ArrayLike, eye_white: bool = False) -> Balance:
    """The balance that makes a grey of a colour (3,) in CIELAB, or of an eye white one as warm as they are."""
    xyz = lab_to_xyz(lab)
    if eye_white:
        usual = lab_to_xyz([float(np.asarray(lab)[0]), *USUAL_EYE_WHITE_AB])
        xyz = xyz * D65_WHITE * usual[1] / usual
    x, y, z = (float(v) for v in xyz / xyz[1])
    return Balance((x, y, z))


def balance_on(picture: Picture, region: Region, eye_white: bool = False) -> Balance:
    """The balance that makes this place neutral, or as warm as eye whites are.

    Raises InputError: `too_dark_to_balance`, `burnt_out`, `not_neutral`, or what `read_spot` raises.
    """
    xyz = lab_to_xyz(read_spot(picture, region).swatch.lab)
    value = float(y_to_value(xyz[1]))
    if value < DARKEST_VALUE:
        raise InputError(
            "too_dark_to_balance",
            f"This place is too dark to balance on (value {value:.1f}).",
            "Choose a lighter grey or a white that is not burnt out.",
            "balance",
        )
    if value > 9.85:
        raise InputError(
            "burnt_out",
            "This place is burnt out to pure white, so its cast is lost.",
            "Choose a grey, or a white in half-light.",
            "balance",
        )
    chroma = float(lab_to_lch(xyz_to_lab(xyz))[1])
    if chroma > STRONGEST_CHROMA:
        raise InputError(
            "not_neutral",
            f"This place is too colourful to be a grey or white (chroma {chroma:.0f}).",
            "Choose something that is grey or white in daylight.",
            "balance",
        )
    return balance_of(xyz_to_lab(xyz), eye_white)


def in_balance(xyz: Floats, balance: Balance | None) -> Floats:
    """XYZ (…, 3), balanced if there is a balance."""
    return xyz if balance is None else balance.apply(xyz)


WHITE_SHEET_L = 95.0
"""CIELAB lightness that a plain white sheet laid beside a paper counts as (assumption)."""


def read_beside_white(picture: Picture, region: Region, white: Region) -> Floats:
    """CIELAB (3,) of a paper photographed beside a plain white sheet, which cancels lamp and exposure.

    Von Kries in CAT16 from the sheet's own white, then scaled so that the sheet has WHITE_SHEET_L.
    Raises what `balance_on` raises.
    """
    balance = balance_on(picture, white)
    seen = balance.apply(lab_to_xyz([read_spot(picture, place).swatch.lab for place in (region, white)]))
    sheet = float(lab_to_xyz([WHITE_SHEET_L, 0.0, 0.0])[1])
    return xyz_to_lab(seen[0] * sheet / seen[1, 1])
