from dataclasses import replace

import pytest

from core.light.lamps import Lamp
from core.light.scene import Around, Key, Scene, Sitter
from core.skin.describe import Description

PALE, MIDDLE, DEEP = Description(68), Description(55), Description(30)


def scene(skin: Description = MIDDLE, kelvin: float = 5500, sky: float = 5500, **change) -> Scene:
    """One head under a key from the left and an even surround."""
    turn, tilt, shown = (change.pop(name, usual) for name, usual in (("turn", 8.0), ("tilt", 0.0), ("shown", "head")))
    key = Key(Lamp("daylight" if kelvin >= 4000 else "glow", kelvin), -58, 40, 6)
    lamp = Lamp("daylight" if sky >= 4000 else "glow", sky)
    made = Scene((Sitter("", skin, shown, turn, tilt),), key, (Around("even", lamp, 0.13),))
    return replace(made, **change)


@pytest.fixture
def head() -> Scene:
    return scene()
