"""A scene: who sits under which light."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from annotated_types import Interval, Len, MaxLen

from core.colour.spaces import Floats, hex_to_xyz
from core.errors import InputError
from core.light.directions import towards
from core.light.lamps import NAMED, HexColour, Lamp
from core.limits import LIMITS
from core.skin.describe import Description

MOST_SITTERS, MOST_AROUND = 6, 4
Degrees = Annotated[float, Interval(ge=-180, le=180)]
Exposure = Annotated[float, Interval(ge=-1, le=1)]
Settled = Annotated[float, Interval(ge=-1, le=1)]
Twice = Annotated[float, Interval(ge=0, le=2)]
Shown = Literal["head", "bust", "hand-flat", "hand-bent"]
AroundKind = Literal["even", "sky", "side", "bounce"]


BULB, OVERCAST, MIDDLING = NAMED["warm bulb"], NAMED["overcast sky"], Description()


@dataclass(frozen=True, slots=True)
class Key:
    """The lamp that makes light and shade. azimuth: to the picture's right, 0 is from who looks; height: up; both in
    degrees. softness: half angle of the lamp as the sitter sees it, in degrees. level: how strong, 1 is usual.
    distance_cm: from the middle of the sheet, for a lamp inside the picture; 0 is one so far off that it is alike
    everywhere.
    """

    lamp: Lamp = BULB
    azimuth: Degrees = -50.0
    height: Annotated[float, Interval(ge=-90, le=90)] = 40.0
    softness: Annotated[float, Interval(ge=1, le=25)] = 6.0
    level: Annotated[float, Interval(ge=0, le=4)] = 1.0
    distance_cm: Annotated[float, Interval(ge=0, le=1000)] = 0.0

    @property
    def direction(self) -> Floats:
        """Unit vector (3,) to the lamp in the picture's frame."""
        return towards(self.azimuth, self.height)


@dataclass(frozen=True, slots=True)
class Around:
    """Light from around: from everywhere alike, from the sky, from a side, or off a cloth below.

    level: what a card that faces it receives against the key's 1. azimuth and height as in Key, for what comes from a
    side; the sky is above and a cloth below. cloth: its colour, which takes up the key and the rest of the light.
    """

    kind: AroundKind = "even"
    lamp: Lamp = OVERCAST
    level: Annotated[float, Interval(ge=0, le=2)] = 0.12
    azimuth: Degrees = 90.0
    height: Annotated[float, Interval(ge=-90, le=90)] = 0.0
    cloth: HexColour = "b04030"

    @property
    def axis(self) -> Floats:
        """Where most of it comes from (3,)."""
        height = {"sky": 90.0, "bounce": -90.0}.get(self.kind, self.height)
        return towards(self.azimuth, height)

    def radiance(self, directions: Floats) -> Floats:
        """How bright each direction (n, 3) of the picture's frame is; a card facing the axis receives 1."""
        if self.kind == "even":
            return np.ones(len(directions))
        wide = _WIDE[self.kind]
        lobe = np.clip((directions @ self.axis + wide - 1) / wide, 0, None) ** 2
        return np.asarray(lobe / _received(wide))


_WIDE = {"sky": 1.6, "side": 1.2, "bounce": 1.3}
"""How far round a lobe reaches: 1 is half of all directions, 2 all."""


def _received(wide: float) -> float:
    """Irradiance over π of a card that faces a lobe."""
    cosine = (np.arange(4000) + 0.5) / 4000
    return float(2 * (np.clip((cosine + wide - 1) / wide, 0, None) ** 2 * cosine).mean())


@dataclass(frozen=True, slots=True)
class Sitter:
    """Somebody or something that is lit. turn: to the picture's right, tilt: down, in degrees."""

    name: Annotated[str, MaxLen(LIMITS.name)] = ""
    skin: Description = MIDDLING
    shown: Shown = "head"
    turn: Degrees = 0.0
    tilt: Annotated[float, Interval(ge=-60, le=60)] = 0.0


@dataclass(frozen=True)
class Scene:
    """exposure: stops above or below a white card at 90 %. settled: how far the eye has settled on the light, 0 (as a
    camera sees it) to 1; below 0 is as usual for the lamp. sheen: of the skin, 1 is usual. bleeding: how far red light
    goes under the skin, 1 is as far as it does.
    """

    sitters: Annotated[tuple[Sitter, ...], Len(1, MOST_SITTERS)] = (Sitter(),)
    key: Key = Key()
    around: Annotated[tuple[Around, ...], MaxLen(MOST_AROUND)] = (Around(),)
    exposure: Exposure = 0.0
    settled: Settled = -1.0
    sheen: Twice = 1.0
    bleeding: Twice = 1.0


def check_scene(scene: Scene) -> None:
    """Raises InputError: `no_sitter`, `too_many_sitters`, `too_much_around`, `bad_hex`, and `no_light` where nothing
    shines."""
    if not 1 <= len(scene.sitters) <= MOST_SITTERS:
        code = "too_many_sitters" if scene.sitters else "no_sitter"
        raise InputError(
            code, f"{len(scene.sitters)} figures are on the sheet.", f"Light 1 to {MOST_SITTERS}.", "sitters"
        )
    if len(scene.around) > MOST_AROUND:
        raise InputError(
            "too_much_around", f"{len(scene.around)} lights are around.", f"Use at most {MOST_AROUND}.", "around"
        )
    for where, colour in (("key.lamp", scene.key.lamp.gel_colour), *_colours(scene.around)):
        try:
            hex_to_xyz(colour)
        except InputError as error:
            raise InputError(error.code, error.message, error.hint, where) from error
    if scene.key.level + sum(one.level for one in scene.around if one.kind != "bounce") < _LEAST:
        raise InputError("no_light", "Nothing shines.", "Raise the key, or add light from around.", "key.level")


def _colours(around: tuple[Around, ...]) -> list[tuple[str, str]]:
    return [(f"around[{i}]", colour) for i, one in enumerate(around) for colour in (one.cloth, one.lamp.gel_colour)]


_LEAST = 0.01
