"""Who is on board: four people that do not exist."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.optics.spectra import BANDS_NM
from tools.portraits.light import Light, dye
from tools.portraits.mesh import Shape
from tools.portraits.skin import Skin

Floats = NDArray[np.float64]

_ALL = {
    "head/head-scale-vert-decr": 0.35, "eyes/l-eye-scale-incr": 0.30, "eyes/r-eye-scale-incr": 0.30,
    "faceunits/eyeBlinkLeft": 0.06, "faceunits/eyeBlinkRight": 0.06, "faceunits/mouthPressLeft": 0.22,
    "faceunits/mouthPressRight": 0.22, "faceunits/mouthSmileLeft": 0.14, "faceunits/mouthSmileRight": 0.14,
    "faceunits/browInnerUp": 0.22, "mouth/mouth-trans-backward": 0.25,
}  # fmt: skip
"""Without these everybody stares and sulks."""


def _hair(lightness: float, red: float = 0.0) -> Floats:
    return np.asarray(0.010 + lightness * np.clip((BANDS_NM - 380) / 320, 0, 1) ** (1.6 + red))


@dataclass(frozen=True)
class Person:
    """head: turn, nod and lean; yaw of the whole body, in degrees; at: where the person stands."""

    name: str
    title: str
    shape: Shape
    skin: Skin
    hair: Floats
    iris: Floats
    coat: Floats
    knit: Floats
    cut: Literal["pulled back", "swept", "coils", "cropped"]
    wears: tuple[str, ...]
    head: tuple[float, float, float]
    yaw: float
    at: tuple[float, float, float]
    gaze: tuple[float, float, float]
    brows: float = 1.0
    brow_hairs: int = 900
    stubble: float = 0.0
    gloss: float = 0.75
    freckles: float = 0.0


CREW = {
    "mairen": Person(
        "mairen", "Mairen",
        Shape(0.10, 0.12, 0.0, _ALL | {
            "nose/nose-scale-horiz-decr": 0.25, "cheek/l-cheek-volume-incr": 0.45, "cheek/r-cheek-volume-incr": 0.45,
            "chin/chin-width-decr": 0.35, "head/head-oval": 0.35, "nose/nose-point-up": 0.35,
            "mouth/mouth-scale-horiz-incr": 0.1, "nose/nose-scale-vert-decr": 0.2,
        }),
        Skin((68.5, 9.2, 12.8), flush=0.30), _hair(0.26, 1.5), dye(0.085, 0.11, 0.115), dye(0.045, 0.07, 0.125),
        dye(0.44, 0.40, 0.33), "pulled back", ("jersey", "coat"), (14, 2, -2), 16, (-1.40, 0, 0),
        (0.10, 0, 1), 0.85, 700, freckles=0.30,
    ),
    "odelo": Person(
        "odelo", "Odelo",
        Shape(0.88, 0.50, 0.1, _ALL | {
            "nose/nose-scale-horiz-incr": 0.45, "mouth/mouth-lowerlip-volume-incr": 0.5, "head/head-square": 0.3,
            "mouth/mouth-upperlip-volume-incr": 0.5, "chin/chin-width-incr": 0.4, "neck/neck-scale-horiz-incr": 0.3,
            "nose/nose-hump-incr": 0.15, "chin/chin-height-incr": 0.25, "forehead/forehead-scale-vert-incr": 0.2,
        }),
        Skin((28.5, 7.8, 7.2)), _hair(0.012), dye(0.030, 0.018, 0.012), dye(0.20, 0.075, 0.045), dye(0.09, 0.10, 0.12),
        "cropped", ("cap", "jersey", "coat"), (-16, 0, 2), -18, (1.42, 0.12, 0), (-0.10, 0, 1), 1.05, 1000, 0.35, 0.95,
    ),
    "tavi": Person(
        "tavi", "Tavi",
        Shape(0.75, 0.30, -0.2, _ALL | {
            "nose/nose-hump-incr": 0.45, "cheek/l-cheek-volume-decr": 0.4, "cheek/r-cheek-volume-decr": 0.4,
            "chin/chin-height-incr": 0.2, "head/head-rectangular": 0.3, "nose/nose-scale-vert-incr": 0.3,
            "cheek/l-cheek-bones-incr": 0.35, "cheek/r-cheek-bones-incr": 0.35,
        }),
        Skin((58.0, 8.4, 18.2), beard=0.8), _hair(0.028), dye(0.09, 0.055, 0.03), dye(0.085, 0.115, 0.085),
        dye(0.20, 0.06, 0.045), "swept", ("jersey", "coat"), (14, -1, 2), 16, (-1.42, 0.10, 0), (0.08, 0, 1), 1.1, 1200,
        0.55,
    ),
    "senna-rue": Person(
        "senna-rue", "Senna Rue",
        Shape(0.12, 0.32, 0.25, _ALL | {
            "nose/nose-scale-horiz-incr": 0.2, "mouth/mouth-lowerlip-volume-incr": 0.35, "head/head-round": 0.4,
            "mouth/mouth-upperlip-volume-incr": 0.3, "nose/nose-point-up": 0.2, "eyes/l-eye-scale-incr": 0.35,
            "eyes/r-eye-scale-incr": 0.35,
        }),
        Skin((45.5, 12.2, 18.0), flush=0.1), _hair(0.018), dye(0.050, 0.028, 0.016), dye(0.12, 0.07, 0.06),
        dye(0.42, 0.30, 0.13), "coils", ("jersey", "scarf", "coat"), (-14, 2, -3), -16, (1.42, 0, 0),
        (-0.06, 0, 1), 1.0, 900, 0, 0.85,
    ),
}  # fmt: skip

DECK_LAMP = Light(2750, -38, 34, 5, 13000, 0.34, 75, 35, 0.18, 4900, 0.86)
GREY_MORNING = Light(7000, 24, 46, 13, 6800, 0.30, 20, 80, 0.35, 6500, 0.95, 1.22)


@dataclass(frozen=True)
class Plate:
    """A picture: who, in which light, by evening or by day, how large, and from where it is seen."""

    sitters: tuple[Person, ...]
    light: Light
    evening: bool
    width: int
    height: int
    middle: float
    view_deg: float


def _two(left: str, right: str, light: Light, evening: bool) -> Plate:
    return Plate((CREW[left], CREW[right]), light, evening, 1400, 1000, -0.52, 18.1)


def _alone(name: str, light: Light, evening: bool) -> Plate:
    """A single portrait: the same person, turned less to the side."""
    one = CREW[name]
    return Plate((replace(one, at=(0, one.at[1], 0), yaw=0.55 * one.yaw),), light, evening, 960, 1200, -0.36, 17.8)


PLATES = {
    "night-watch": _two("mairen", "odelo", DECK_LAMP, True),
    "morning-relief": _two("tavi", "senna-rue", GREY_MORNING, False),
    "mairen": _alone("mairen", DECK_LAMP, True),
    "odelo": _alone("odelo", DECK_LAMP, True),
    "tavi": _alone("tavi", GREY_MORNING, False),
    "senna-rue": _alone("senna-rue", GREY_MORNING, False),
}
