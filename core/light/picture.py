"""What is shown of a lit sitter: as it is, in values, in planes, in families, and without what daylight would show."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import SRGB, srgb_encode
from core.light.model import Floats32
from core.light.shade import Lit

Pixels = NDArray[np.uint8]

GROUND = 119
"""The grey of the room, code value of all three channels: core.look's ground of a picture."""
_FROM, _LEAST_PART = 0.8, 0.012
_TO_RGB: Floats32 = np.linalg.inv(SRGB.to_xyz).astype(np.float32)
_CODES: NDArray[np.uint8] = np.rint(srgb_encode(np.arange(4096) / 4095) * 255).astype(np.uint8)


def displayed(xyz: Floats32) -> Pixels:
    """sRGB code values (k, 3) of XYZ (k, 3): what is out of gamut is drawn to its own grey until it fits, what is
    brighter than 0.8 is rolled off with its hue kept. Targets are never read from these."""
    rgb = xyz @ _TO_RGB
    grey = xyz[:, 1:2]
    lowest = rgb.min(axis=1, keepdims=True) - _LEAST_PART * grey
    keep = np.where(lowest < 0, np.clip(grey / np.maximum(grey - lowest, 1e-6), 0, 1), 1)
    rgb = np.clip(grey + (rgb - grey) * keep, 0, None)
    top = rgb.max(axis=1, keepdims=True)
    rolled = np.where(top > _FROM, _FROM + (1 - _FROM) * np.tanh((top - _FROM) / (1 - _FROM)), top)
    rgb *= rolled / np.maximum(top, 1e-9)
    return np.asarray(_CODES[np.clip(rgb * 4095, 0, 4095).astype(np.int16)])


def on_ground(lit: Lit, pixels: Pixels, ground: int = GROUND) -> Pixels:
    """Pixels (k, 3) of a sitter as a picture (size, size, 3) on grey."""
    size = lit.view.size
    picture = np.full((size * size, 3), ground, np.uint8)
    picture[lit.view.pixel] = pixels
    return picture.reshape(size, size, 3)


def as_it_is(lit: Lit) -> Pixels:
    """The sitter as the settled eye sees it (size, size, 3)."""
    speckled = lit.xyz if lit.speckle is None else (lit.xyz - lit.gloss) * lit.speckle + lit.gloss
    return on_ground(lit, displayed(speckled))
