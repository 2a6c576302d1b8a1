"""A layer's map as a drawing: lines along the form, the heavier the harder, in the stick's colour on a quiet ground."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy import ndimage

from core.colour.spaces import Floats
from core.look.views import Pixels

LONGEST = 960
"""The usual longer side, in pixels, for which distances of lines are given."""
_PALE_L = 62.0
"""Sticks from this L* on are drawn on a dark ground, all others on a pale one."""
_ON_PALE, _ON_DARK = 0.84, 0.26
_APART_MM, _LEAST_PX, _MOST_PX = 3.0, 6.0, 11.0
"""How far lines are apart on the sheet, and in pixels at least and at most."""
_LIGHTEST, _HEAVIEST = 0.2, 0.56
"""The part of that which a line of the smallest and of the largest dose takes."""
_CROSSED = 0.7
"""From which part of the largest dose on lines are crossed."""
_TURN_DEG, _CROSS_DEG = 40.0, 64.0
_BEND, _SWAY, _SWAY_PX = 6.0, 0.16, 40
"""How much lines follow the light on the form, and how unsteady they are, in distances of lines, and how slowly."""
_FORM, _BROAD = 1 / 45, 1 / 30
"""Over which part of the picture light is evened for the form, and what stands out of it is detail."""
_GHOST, _DETAIL = 0.5, 0.8
_BESIDE = 0.93
"""The tone of what is no skin, as a part of the skin's, where no ghost tells them apart."""


def hatched(
    lightness: Floats,
    mask: NDArray[np.bool_],
    levels: NDArray[np.uint8],
    doses: int,
    stick: tuple[tuple[int, int, int], float],
    px_per_mm: float,
    number: int,
    longest: int = LONGEST,
    ghost: bool = True,
) -> Pixels:
    """sRGB pixels (H, W, 3), the longer side `longest`.

    lightness (h, w): L* of the reference; mask (h, w): skin; levels (h, w): 0 for none up to `doses`; stick: its sRGB
    colour and L*; px_per_mm: of these arrays, on the sheet; number: of the layer, by which the lines turn; ghost:
    whether the reference shows through, or nothing of it but where there is skin.
    """
    h, w = mask.shape
    scale, finer = longest / max(h, w), longest / LONGEST
    shape = (round(h * scale), round(w * scale))
    small = np.asarray(lightness if ghost else np.full_like(lightness, 50), dtype=float) / 100
    light, form, broad = (
        _enlarged(ndimage.gaussian_filter(small, wide * max(h, w)) if wide else small, shape)
        for wide in (0.0, _FORM, _BROAD)
    )
    skin = _enlarged(mask, shape)
    # Each edge by itself, so that it stays an edge and loses its steps.
    part = np.zeros(shape, dtype=np.float32)
    for level in range(1, doses + 1):
        part += _enlarged(ndimage.gaussian_filter((levels >= level).astype(np.float32), 1.0), shape) >= 0.5
    part /= max(1, doses)
    apart = float(np.clip(_APART_MM * px_per_mm * scale, _LEAST_PX * finer, _MOST_PX * finer))
    ink = _lines(form, part, apart, np.deg2rad(25 + _TURN_DEG * number), number)
    rgb, stick_l = stick
    ground = _ground(light, light - broad, skin, _ON_PALE if stick_l < _PALE_L else _ON_DARK)
    if not ghost:
        ground = np.where(skin > 0.5, ground, _BESIDE * ground)
    seen = ground[..., None] * (1 - ink[..., None]) + np.array(rgb) / 255 * ink[..., None]
    return np.rint(np.clip(seen, 0, 1) * 255).astype(np.uint8)


def _lines(form: Floats, part: Floats, apart: float, angle: float, seed: int) -> Floats:
    """(H, W): how much of each pixel is ink, by the form's light and which part of the largest dose lies there."""
    rng, shape = np.random.default_rng(seed), form.shape
    # A few numbers spread over the picture sway slowly, many of them make lines rough.
    sway = _SWAY * _enlarged(rng.normal(size=tuple(max(2, n // _SWAY_PX) for n in shape)), shape)
    rough = _enlarged(rng.normal(size=tuple(max(2, n // 3) for n in shape)), shape)
    y, x = np.ogrid[: shape[0], : shape[1]]

    def away(turned: float, bend: float) -> Floats:
        phase = x * (np.sin(turned) / apart) + y * (np.cos(turned) / apart) + bend * form + sway
        return np.asarray(np.abs(phase % 1 - 0.5) * 2)  # 0 on a line, 1 between two

    wide = np.where(part > 0, _LIGHTEST + (_HEAVIEST - _LIGHTEST) * part, 0.0)
    ink = np.clip((wide - away(angle, _BEND)) * apart / 2 + 0.5, 0, 1)
    across = np.clip((wide / 2 - away(angle + np.deg2rad(_CROSS_DEG), -_BEND / 2)) * apart / 2 + 0.5, 0, 1)
    ink = np.maximum(ink, np.where(part >= _CROSSED, across, 0.0))
    return np.asarray(ink * np.clip(0.9 + 0.12 * rough, 0.4, 1.0) * (part > 0))


def _ground(light: Floats, detail: Floats, skin: Floats, tone: float) -> Floats:
    """(H, W): the reference as a neutral ghost around one tone."""
    inside = skin > 0.5
    middle = float(light[inside].mean()) if inside.any() else 0.5
    # What is no skin keeps still further back.
    near = np.where(inside, 1.0, 0.5)
    return np.asarray(np.clip(tone + near * (_GHOST / 2 * (light - middle) + _DETAIL / 2 * detail), 0.03, 0.97))


def _enlarged(field: NDArray[np.generic], shape: tuple[int, ...]) -> NDArray[np.float32]:
    """A field (h, w) at another size, by Pillow's bicubic filter."""
    image = Image.fromarray(np.asarray(field, dtype=np.float32), mode="F")
    return np.asarray(image.resize((shape[1], shape[0]), Image.Resampling.BICUBIC))
