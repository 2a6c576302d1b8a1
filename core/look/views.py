"""Ways of seeing a reference. A small picture in, sRGB pixels (h, w, 3) out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray
from PIL import Image, ImageFilter
from scipy import ndimage

from core.colour.munsell import value_to_y
from core.colour.spaces import (
    DISPLAY_P3,
    SRGB,
    Floats,
    RgbSpace,
    lab_to_lch,
    lab_to_xyz,
    srgb_decode,
    srgb_encode,
    xyz_to_lab,
)
from core.colour.temperature import temperature
from core.errors import InputError
from core.look.balance import Balance, in_balance
from core.look.families import Mask
from core.look.picture import Picture
from core.look.profile import IccSpace

Pixels = NDArray[np.uint8]

FEWEST_STEPS, MOST_STEPS = 2, 9
SQUINTS = (0.004, 0.006, 0.01, 0.015, 0.025, 0.04)
"""Standard deviations of the blur, as parts of the longer side."""
PUSHES = (1.5, 2.0, 3.0, 4.5, 7.0)
"""How many times stronger chroma is shown."""
_LATTICE = 33
_SAMPLED = 4
_WARM_HUE_DEG, _COOL_HUE_DEG = 62.0, 262.0
_FULL_DEG, _FULL_CHROMA = 35.0, 46.0
_TO_SRGB = np.linalg.inv(SRGB.to_xyz)


@dataclass(frozen=True, slots=True, eq=False)
class Small:
    """pixels (h, w, 3): 8-bit, in `space`; small enough to be looked at. coarseness: as the picture's own."""

    pixels: Pixels
    space: RgbSpace
    coarseness: float = 0.0

    @property
    def width(self) -> int:
        return int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        return int(self.pixels.shape[0])


def scaled(picture: Picture, longest: int) -> Small:
    """The picture in sRGB or Display P3, made smaller, if need be, to at most `longest` pixels on its longer side."""
    scale = min(1.0, longest / max(picture.width, picture.height))
    size = (max(1, round(picture.width * scale)), max(1, round(picture.height * scale)))
    pixels, space = picture.pixels, picture.space
    if scale < 1:
        # Four channels are inks, which fromarray would take for a colour and its opacity.
        whole = (picture.width, picture.height)
        image = Image.frombytes("CMYK", whole, pixels.tobytes()) if pixels.shape[2] == 4 else Image.fromarray(pixels)
        pixels = np.asarray(image.resize(size, Image.Resampling.BOX, reducing_gap=2.0))
    if isinstance(space, IccSpace):
        return Small(space.shown(pixels), DISPLAY_P3, picture.coarseness)
    return Small(pixels, space, picture.coarseness)


def shrunk(small: Small, longest: int) -> Small:
    """The same picture with at most `longest` pixels on its longer side."""
    scale = longest / max(small.width, small.height)
    if scale >= 1:
        return small
    size = (max(1, round(small.width * scale)), max(1, round(small.height * scale)))
    pixels = np.asarray(Image.fromarray(small.pixels).resize(size, Image.Resampling.BOX))
    return Small(pixels, small.space, small.coarseness)


def light_of(small: Small, balance: Balance | None = None) -> Floats:
    """XYZ (h, w, 3) of a picture, balanced if there is a balance."""
    return in_balance(small.space.xyz(small.pixels), balance)


def is_colourless(small: Small) -> bool:
    """Whether a picture is black and white: hardly a pixel has any chroma."""
    chroma = lab_to_lch(xyz_to_lab(small.space.xyz(small.pixels[::3, ::3])))[..., 1]
    return float(np.percentile(chroma, 99.5)) < 3.0


def as_it_is(small: Small, balance: Balance | None = None) -> Pixels:
    """The picture itself."""
    if small.space is SRGB and balance is None:
        return small.pixels
    return _through(small, balance, lambda xyz: xyz)


def values(small: Small, steps: int, borders: bool = False) -> Pixels:
    """The picture in `steps` greys, equally far apart in Munsell value, with lines between them if wanted.

    Raises InputError (`bad_steps`) outside 2 to 9.
    """
    _check(FEWEST_STEPS <= steps <= MOST_STEPS, f"{steps} values", f"{FEWEST_STEPS} to {MOST_STEPS}", "bad_steps")
    y = _luminance(small)
    if borders:
        y = ndimage.gaussian_filter(y, max(y.shape) / 500)
    edges = value_to_y(np.arange(1, steps) * 10 / steps).astype(np.float32)
    step = np.searchsorted(edges, y).astype(np.uint8)
    greys = np.rint(srgb_encode(value_to_y((np.arange(steps) + 0.5) * 10 / steps)) * 255).astype(np.uint8)
    grey = greys[step]
    if borders:
        grey = np.where(_edge(step), np.where(step >= steps / 2, 0, 255), grey).astype(np.uint8)
    return np.repeat(grey[..., None], 3, axis=-1)


def squint(small: Small, amount: int, balance: Balance | None = None) -> Pixels:
    """What is left when the eyes are nearly shut: blurred in linear light. amount: 1–6, index into SQUINTS."""
    _check(1 <= amount <= len(SQUINTS), f"A squint of {amount}", f"1 to {len(SQUINTS)}", "bad_amount")
    sigma = SQUINTS[amount - 1] * max(small.width, small.height)
    light = srgb_decode(np.arange(256) / 255).astype(np.float32)[small.pixels]
    shrunk = 1
    while shrunk == 1 or (sigma / shrunk > 3 and min(light.shape[:2]) > 8):
        light, shrunk = _halved(light), shrunk * 2
    blurred = ndimage.gaussian_filter(light, (sigma / shrunk, sigma / shrunk, 0), mode="nearest")
    linear = in_balance(blurred @ small.space.to_xyz.astype(np.float32), balance) @ _TO_SRGB.astype(np.float32)
    tiny = Image.fromarray(np.rint(srgb_encode(linear) * 255).astype(np.uint8))
    whole = (tiny.width * shrunk, tiny.height * shrunk)
    return np.asarray(tiny.resize(whole, Image.Resampling.BICUBIC).crop((0, 0, small.width, small.height)))


def _halved(light: NDArray[np.float32]) -> NDArray[np.float32]:
    """Means of two by two pixels; an odd last row or column counts double."""
    even = np.pad(light, ((0, light.shape[0] % 2), (0, light.shape[1] % 2), (0, 0)), mode="edge")
    return np.asarray((even[::2, ::2] + even[1::2, ::2] + even[::2, 1::2] + even[1::2, 1::2]) / 4)


def warm_and_cool(
    small: Small, averages: list[tuple[Mask | None, ArrayLike]], balance: Balance | None = None
) -> Pixels:
    """Warmer than the average in orange, cooler in blue, as warm as the rest in grey; values stay.

    averages: pairs of an area (h, w; None for everything) and the CIELAB (3,) that it is compared with;
    later ones lie on top.
    """
    out = np.zeros((*small.pixels.shape[:2], 3), np.uint8)
    for area, average in averages:

        def tinted(xyz: Floats, average: ArrayLike = average) -> Floats:
            lab = xyz_to_lab(xyz)
            degrees = temperature(lab, average)
            chroma = _FULL_CHROMA * np.clip(np.abs(degrees) / _FULL_DEG, 0, 1) ** 0.8
            hue = np.radians(np.where(degrees > 0, _WARM_HUE_DEG, _COOL_HUE_DEG))
            lightness = 12 + 0.82 * np.clip(lab[..., 0], 0, 100)
            return lab_to_xyz(np.stack([lightness, chroma * np.cos(hue), chroma * np.sin(hue)], axis=-1))

        seen = _through(small, balance, tinted)
        out = seen if area is None else np.where(area[..., None], seen, out)
    return out


def pushed(small: Small, amount: int, balance: Balance | None = None) -> Pixels:
    """Chroma made PUSHES[amount − 1] times stronger at the same value and hue, as far as a screen can show it."""
    _check(1 <= amount <= len(PUSHES), f"A push of {amount}", f"1 to {len(PUSHES)}", "bad_amount")
    return _through(small, balance, lambda xyz: _stronger(xyz, PUSHES[amount - 1]))


def _stronger(xyz: Floats, times: float) -> Floats:
    """XYZ (n, 3) with CIELAB chroma raised up to `times`, at most to the edge of sRGB. Lightness and hue stay."""
    lab = xyz_to_lab(np.asarray(xyz, dtype=float))
    most = np.full(len(lab), float(times))
    least = np.ones(len(lab))
    outside = ~_inside(lab, most)
    least[~outside] = times
    for _ in range(7):
        half = (least + most) / 2
        fits = _inside(lab, half)
        least, most = np.where(outside & fits, half, least), np.where(outside & ~fits, half, most)
    return lab_to_xyz(lab * np.stack([np.ones(len(lab)), least, least], axis=-1))


def _inside(lab: Floats, times: Floats) -> NDArray[np.bool_]:
    rgb = lab_to_xyz(lab * np.stack([np.ones(len(lab)), times, times], axis=-1)) @ _TO_SRGB
    return np.asarray(np.all((rgb > -0.001) & (rgb < 1.001), axis=-1))


def families(small: Small, owners: NDArray[np.uint8], light: Mask, balance: Balance | None = None) -> Pixels:
    """Each figure's skin in two flat colours, light and shadow, with their border; everything else faded to grey.

    owners (h, w): 0 for no skin, else 1 + the figure's number.
    """
    part = (slice(None, None, _SAMPLED), slice(None, None, _SAMPLED))
    xyz = in_balance(small.space.xyz(small.pixels[part]), balance)
    table = np.zeros((2 * (int(owners.max(initial=0)) + 1), 3), np.uint8)
    flat = 2 * owners + light
    for index in range(2, len(table)):
        mine = flat[part] == index
        if mine.any():
            table[index] = np.rint(srgb_encode(xyz[mine].mean(axis=0, dtype=float) @ _TO_SRGB) * 255)
    skin = owners > 0
    seen = Image.fromarray(flat.astype(np.uint8))
    seen.putpalette(table.tobytes())
    return _with_lines(_composed(seen.convert("RGB"), small, skin), _edge(flat) & skin | _edge(skin))


def skin_alone(small: Small, skin: Mask, balance: Balance | None = None) -> Pixels:
    """The skin as it is, everything else faded to grey, with a line between."""
    seen = Image.fromarray(as_it_is(small, balance))
    return _with_lines(_composed(seen, small, skin), _edge(skin))


def faded(small: Small) -> Pixels:
    """The picture in dim greys."""
    flat = [round(96 + 0.35 * (code - 96)) for code in range(256)]
    return np.asarray(Image.fromarray(small.pixels).convert("L").point(flat).convert("RGB"))


def recoloured(small: Small, change: Callable[[Floats], Floats]) -> Pixels:
    """The picture with every colour changed by itself: XYZ (n, 3) to XYZ (n, 3)."""
    return _through(small, None, change)


def enlarged(labels: NDArray[np.uint8], small: Small) -> NDArray[np.uint8]:
    """Labels (h, w) at the size of the shown picture, with smooth edges."""
    out = np.zeros((small.height, small.width), np.uint8)
    for label in range(1, int(labels.max(initial=0)) + 1):
        field = Image.fromarray(((labels == label) * 255).astype(np.uint8))
        out[np.asarray(field.resize((small.width, small.height), Image.Resampling.BICUBIC)) > 127] = label
    return out


def _composed(seen: Image.Image, small: Small, skin: Mask) -> Pixels:
    """What is seen of the skin, in the faded grey of everything else."""
    whole = Image.fromarray(faded(small))
    whole.paste(seen, mask=Image.fromarray(skin.astype(np.uint8) * 255))
    return np.asarray(whole)


def _edge(labels: NDArray[Any]) -> Mask:
    """The pixels (h, w) whose label differs from that to the left or above."""
    edge = np.zeros(labels.shape, bool)
    edge[:, 1:] = labels[:, 1:] != labels[:, :-1]
    edge[1:] |= labels[1:] != labels[:-1]
    return edge


def _with_lines(pixels: Pixels, line: Mask) -> Pixels:
    """White lines with a dark rim, so that they are seen on every colour."""
    rim = line.copy()
    rim[1:] |= line[:-1]
    rim[:-1] |= line[1:]
    rim[:, 1:] |= line[:, :-1]
    rim[:, :-1] |= line[:, 1:]
    out = pixels.copy()
    out[rim] = 0
    out[line] = 255
    return out


def _luminance(small: Small) -> NDArray[np.float32]:
    tables = srgb_decode(np.arange(256) / 255)[:, None] * small.space.to_xyz[:, 1]
    red, green, blue = tables.T.astype(np.float32)
    pixels = small.pixels
    return np.asarray(red[pixels[..., 0]] + green[pixels[..., 1]] + blue[pixels[..., 2]])


def _through(small: Small, balance: Balance | None, change: Callable[[Floats], Floats]) -> Pixels:
    """A change of each colour by itself, worked out on a lattice of colours and interpolated between them."""
    xyz = in_balance(_lattice_light(small.space), balance)
    seen = srgb_encode(change(xyz) @ _TO_SRGB).astype(np.float32)
    table = ImageFilter.Color3DLUT(_LATTICE, seen.ravel(), _copy_table=False)
    return np.asarray(Image.fromarray(small.pixels).filter(table))


@lru_cache(maxsize=2)
def _lattice_light(space: RgbSpace) -> Floats:
    """XYZ (n, 3) of the lattice's colours, red changing fastest."""
    steps = srgb_decode(np.arange(_LATTICE) / (_LATTICE - 1))
    blue, green, red = np.meshgrid(steps, steps, steps, indexing="ij")
    return np.asarray(np.stack([red, green, blue], axis=-1).reshape(-1, 3) @ space.to_xyz)


def _check(holds: bool, given: str, allowed: str, code: str) -> None:
    if not holds:
        raise InputError(code, f"{given}: that is out of range.", f"Use {allowed}.", "amount")
