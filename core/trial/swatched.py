"""Sticks that come with a light and a heavy swatch beside the solid one."""

from __future__ import annotations

from functools import lru_cache

from core.colour.spaces import hex_to_lab
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.stick import Stick
from core.optics.support import WHITE_PAPER, own_support
from core.optics.touch import AS_DECLARED
from core.trial.joint import MeasuredBox, learn
from core.trial.space import SHARED

_SWATCHES_KEPT = 512


@lru_cache(maxsize=_SWATCHES_KEPT)
def as_swatched(stick: Stick) -> Stick:
    """The stick, fitted to its light and its heavy swatch on white paper if it has any, and was never tried."""
    if stick.medium not in SHARED or stick.fit != AS_DECLARED:
        return stick
    hands = get_medium(stick.medium).pressures
    given = [(hands[0], stick.light_hex), (hands[-1], stick.heavy_hex)]
    boxes = [
        MeasuredBox((Pass(stick.code, pressure),), (float(lab[0]), float(lab[1]), float(lab[2])))
        for pressure, code in given
        if code
        for lab in [hex_to_lab(code)]
    ]
    if not boxes:
        return stick
    white = own_support("swatch", "Swatch paper", WHITE_PAPER, 0.5, 10, (stick.medium,))
    return learn((stick,), white, stick.medium, boxes, shared=False).sticks[0]
