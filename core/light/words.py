"""A light in an artist's words, and the usual lights by name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from core.light.lamps import NAMED, Lamp
from core.light.scene import Around, Key, Scene

_SIDES = (
    (20.0, "from the front"), (70.0, "from the front {side}"), (110.0, "from the {side}"),
    (160.0, "from behind {side}"), (181.0, "from behind"),
)  # fmt: skip
_HEIGHTS = ((-15.0, "from below"), (10.0, "level"), (30.0, "a little high"), (60.0, "high"), (91.0, "from above"))
_SOFTNESS = ((3.0, "hard"), (8.0, "soft"), (26.0, "very soft"))


_OF_SHEET = (
    "the right", "the upper right", "above", "the upper left", "the left", "the lower left", "below",
    "the lower right",
)  # fmt: skip


def side_of(from_deg: float) -> str:
    """On which side of a sheet the light comes from: 0 is the right, 90 above."""
    return _OF_SHEET[round(from_deg / 45) % 8]


def where_from(key: Key) -> str:
    """Such as `from the front left, high`. Left and right are the picture's."""
    height = next(word for limit, word in _HEIGHTS if key.height < limit)
    if key.height >= 75 or key.height <= -75:
        return height
    side = "right" if key.azimuth > 0 else "left"
    around = next(words for limit, words in _SIDES if abs(key.azimuth) < limit)
    return f"{around.format(side=side)}, {height}"


def edge_of(key: Key) -> str:
    """How its shadows end."""
    return next(word for limit, word in _SOFTNESS if key.softness < limit)


def lamp_words(lamp: Lamp) -> str:
    """Such as `candle, 1900 K` or `stage lamp through a red gel`."""
    if lamp.kind == "led":
        named = {name: held for name, held in NAMED.items() if held.kind == "led"}
    else:
        named = {name: held for name, held in NAMED.items() if held.kind != "led"}
    near = min(named, key=lambda name: abs(np.log(named[name].kelvin / lamp.kelvin)))
    if lamp.gel:
        return f"{near} through a {'coloured' if lamp.gel == 'own' else lamp.gel} gel"
    return f"{near}, {lamp.kelvin:.0f} K"


@dataclass(frozen=True, slots=True)
class Preset:
    """A light that artists know: key and surroundings of a scene."""

    name: str
    key: Key
    around: tuple[Around, ...]

    def on(self, scene: Scene) -> Scene:
        """A scene's sitters in this light."""
        return replace(scene, key=self.key, around=self.around, exposure=0.0, settled=-1.0)


def _day(kelvin: float) -> Lamp:
    return Lamp("daylight", kelvin)


def _glow(kelvin: float) -> Lamp:
    return Lamp("glow", kelvin)


PRESETS: Mapping[str, Preset] = {
    "window": Preset(
        "Window, from the side",
        Key(_day(6200), -58, 40, 11),
        (Around("side", _day(8000), 0.07, -60, 50), Around("even", _glow(4500), 0.07)),
    ),
    "overcast": Preset(
        "Overcast day",
        Key(_day(6500), -20, 65, 25, 0.7),
        (Around("sky", _day(7000), 0.5), Around("even", _day(6500), 0.2)),
    ),
    "sun": Preset(
        "Sun, blue sky",
        Key(_day(5500), -45, 50, 1, 1.0),
        (Around("sky", _day(14000), 0.22), Around("bounce", level=0.12, cloth="b8a888")),
    ),
    "low_sun": Preset(
        "Low sun", Key(_glow(3200), -70, 12, 2), (Around("sky", _day(12000), 0.25), Around("even", _day(8000), 0.06))
    ),
    "lamp": Preset("Lamp indoors", Key(_glow(2700), -45, 45, 6), (Around("even", _glow(2700), 0.10),)),
    "candle": Preset(
        "Candle, held low",
        Key(_glow(1900), -25, -20, 3, 1.0, 45.0),
        (Around("even", _glow(2200), 0.03), Around("side", _day(11000), 0.05, 120, 45)),
    ),
    "dusk": Preset(
        "Deck lamp, evening sky",
        Key(_glow(2600), -62, 25, 6),
        (Around("sky", _day(14000), 0.30), Around("even", _day(9000), 0.08)),
    ),
    "stage": Preset(
        "Red and blue",
        Key(Lamp("glow", 3200, "red"), -60, 25, 5),
        (Around("side", Lamp("glow", 3200, "blue"), 0.35, 80, 5), Around("even", _glow(3200), 0.03)),
    ),
    "rim": Preset(
        "From behind", Key(_day(5600), -150, 35, 4), (Around("even", _day(6500), 0.22),)
    ),
    "below": Preset(
        "From below", Key(_glow(3000), 0, -45, 5), (Around("even", _day(7500), 0.08),)
    ),
}  # fmt: skip
