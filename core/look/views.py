"""Ways of seeing a reference."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.colour.munsell import value_to_y, y_to_value
from core.colour.spaces import SRGB, Floats, srgb_encode
from core.errors import InputError
from core.look.picture import Picture

FEWEST_STEPS, MOST_STEPS = 2, 9


def scaled(picture: Picture, longest: int) -> Picture:
    """The picture made smaller, if need be, so that its longer side has at most `longest` pixels."""
    scale = longest / max(picture.width, picture.height)
    if scale >= 1:
        return picture
    size = (max(1, round(picture.width * scale)), max(1, round(picture.height * scale)))
    small = Image.fromarray(picture.pixels).resize(size, Image.Resampling.BOX, reducing_gap=2.0)
    return Picture(np.asarray(small), picture.space, picture.profile)


def as_it_is(picture: Picture) -> NDArray[np.uint8]:
    """sRGB pixels (h, w, 3) of the picture."""
    if picture.space is SRGB:
        return picture.pixels
    return _to_srgb(picture.space.xyz(picture.pixels))


def values(picture: Picture, steps: int) -> NDArray[np.uint8]:
    """The picture in `steps` greys, equally far apart in Munsell value: sRGB pixels (h, w, 3).

    Raises InputError (`bad_steps`) outside 2 to 9.
    """
    if not FEWEST_STEPS <= steps <= MOST_STEPS:
        raise InputError(
            "bad_steps", f"{steps} values are out of range.", f"Use {FEWEST_STEPS} to {MOST_STEPS}.", "steps"
        )
    value = y_to_value(picture.space.xyz(picture.pixels)[..., 1])
    step = np.clip(np.floor(value / 10 * steps), 0, steps - 1).astype(int)
    grey = np.rint(srgb_encode(value_to_y((np.arange(steps) + 0.5) * 10 / steps)) * 255).astype(np.uint8)
    return np.repeat(grey[step][..., None], 3, axis=-1)


def _to_srgb(xyz: Floats) -> NDArray[np.uint8]:
    linear = xyz @ np.linalg.inv(SRGB.to_xyz).astype(np.float32)
    return np.rint(srgb_encode(linear) * 255).astype(np.uint8)
