"""Reading a spot: the colour that is there, without the brain's prejudice."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import xyz_to_lab
from core.colour.swatch import Swatch
from core.errors import InputError
from core.look.picture import Picture

MAX_RADIUS = 0.25
_KEPT = 0.8
_MOST_PIXELS = 40_000


@dataclass(frozen=True, slots=True)
class Disc:
    """x, y: centre as fractions of width and height; radius: fraction of the longer side."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True, slots=True)
class Reading:
    """spread: root mean square CIELAB distance of the spot's pixels from their median."""

    swatch: Swatch
    spread: float
    pixels: int


def check_disc(disc: Disc) -> None:
    """Raises InputError (`spot_outside`, `bad_radius`) unless the disc can be read."""
    if not (math.isfinite(disc.x) and math.isfinite(disc.y) and 0 <= disc.x <= 1 and 0 <= disc.y <= 1):
        raise InputError(
            "spot_outside",
            f"The spot lies outside the picture (x {disc.x:g}, y {disc.y:g}).",
            "Give x and y as fractions from 0 to 1.",
            "x" if not 0 <= disc.x <= 1 else "y",
        )
    if not (math.isfinite(disc.radius) and 0 < disc.radius <= MAX_RADIUS):
        raise InputError(
            "bad_radius",
            f"A radius of {disc.radius:g} is out of range.",
            f"Use more than 0 and at most {MAX_RADIUS}.",
            "radius",
        )


def read_spot(picture: Picture, disc: Disc) -> Reading:
    """Mean in linear light of the disc's pixels, without the fifth farthest from their median.

    Raises InputError for a disc outside the picture.
    """
    check_disc(disc)
    xyz = picture.space.xyz(_pixels(picture, disc)).astype(float)
    lab = xyz_to_lab(xyz)
    distance = np.linalg.norm(lab - np.median(lab, axis=0), axis=1)
    kept = np.argsort(distance, kind="stable")[: max(1, math.ceil(_KEPT * len(distance)))]
    return Reading(
        swatch=Swatch.of(xyz_to_lab(xyz[kept].mean(axis=0))),
        spread=round(float(np.sqrt(np.mean(distance**2))), 2),
        pixels=len(distance),
    )


def _pixels(picture: Picture, disc: Disc) -> NDArray[np.uint8]:
    """The 8-bit pixels (n, 3) whose centres lie in the disc, every k-th of a very large one."""
    width, height = picture.width, picture.height
    radius = disc.radius * max(width, height)
    cx, cy = disc.x * width - 0.5, disc.y * height - 0.5
    step = max(1, math.ceil(math.sqrt(math.pi * radius**2 / _MOST_PIXELS)))
    xs = np.arange(max(0, math.ceil(cx - radius)), min(width - 1, math.floor(cx + radius)) + 1, step)
    ys = np.arange(max(0, math.ceil(cy - radius)), min(height - 1, math.floor(cy + radius)) + 1, step)
    inside = (xs[None] - cx) ** 2 + (ys[:, None] - cy) ** 2 <= radius**2
    if not inside.any():
        x, y = min(width - 1, max(0, round(cx))), min(height - 1, max(0, round(cy)))
        return picture.pixels[y : y + 1, x]
    return picture.pixels[np.ix_(ys, xs)][inside]
