"""Reading a spot: the colour that is there, without the brain's prejudice."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from annotated_types import Interval, Len
from numpy.typing import NDArray
from PIL import Image, ImageDraw
from skimage.filters import threshold_otsu

from core.colour.spaces import Floats, xyz_to_lab
from core.colour.swatch import Swatch
from core.errors import InputError
from core.limits import LIMITS, Fraction, Point
from core.look.picture import Picture

MODEL = 1
"""Grows with every change of what is read from the same picture."""
MAX_RADIUS = 0.25
_KEPT = 0.8
_MOST_PIXELS = 40_000
_SPLIT = 0.82
_APART = 7.0
_SMALLER_PART = 0.12

Radius = Annotated[float, Interval(gt=0, le=MAX_RADIUS)]
"""Of a spot, as a fraction of the longer side."""
Corners = Annotated[tuple[Point, ...], Len(3, LIMITS.corners)]
"""(x, y) as fractions of width and height, in order around an area."""


@dataclass(frozen=True, slots=True)
class Disc:
    """x, y: centre as fractions of width and height; radius: fraction of the longer side."""

    x: Fraction
    y: Fraction
    radius: Radius


@dataclass(frozen=True, slots=True)
class Outline:
    """corners: (x, y) as fractions of width and height, in order around the area."""

    corners: Corners


Region = Disc | Outline


@dataclass(frozen=True, slots=True)
class Reading:
    """spread: root mean square CIELAB distance of the spot's pixels from their median.

    straddles: whether two clearly different colours lie in the spot, so that the mean is neither.
    """

    swatch: Swatch
    spread: float
    pixels: int
    straddles: bool


def check_region(region: Region) -> None:
    """Raises InputError unless the region can be read: `spot_outside`, `bad_radius`, `bad_outline`."""
    if isinstance(region, Disc):
        _check_disc(region)
    else:
        _check_outline(region.corners)


def _check_disc(disc: Disc) -> None:
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


def _check_outline(corners: Sequence[tuple[float, float]]) -> None:
    if not 3 <= len(corners) <= LIMITS.corners:
        raise InputError(
            "bad_outline",
            f"An outline has 3 to {LIMITS.corners} corners; this one has {len(corners)}.",
            "Draw it with fewer corners." if len(corners) > 3 else "Set at least three corners.",
            "outline",
        )
    if not all(math.isfinite(v) and 0 <= v <= 1 for corner in corners for v in corner):
        raise InputError("spot_outside", "The outline leaves the picture.", "Keep every corner inside it.", "outline")
    if _crosses_itself(np.asarray(corners, dtype=float)):
        raise InputError(
            "bad_outline",
            "The outline crosses itself, so what it holds is unclear.",
            "Draw once around the area.",
            "outline",
        )
    if _area(np.asarray(corners, dtype=float)) < 1e-7:
        raise InputError("bad_outline", "The outline holds no area.", "Draw around a wider area.", "outline")


def _area(corners: Floats) -> float:
    x, y = corners.T
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


def _crosses_itself(corners: Floats) -> bool:
    """Whether two sides that are not neighbours meet.

    They do if each one's ends lie on both sides of the other and their boxes overlap.
    """
    n = len(corners)
    ends = np.roll(corners, -1, axis=0)

    def side(a: Floats, b: Floats, c: Floats) -> Floats:
        return np.sign(
            (b[..., 0] - a[..., 0]) * (c[..., 1] - a[..., 1]) - (b[..., 1] - a[..., 1]) * (c[..., 0] - a[..., 0])
        )

    a, b = corners[:, None], ends[:, None]
    c, d = corners[None], ends[None]
    meet = (side(a, b, c) * side(a, b, d) <= 0) & (side(c, d, a) * side(c, d, b) <= 0)
    boxes = np.all((np.minimum(a, b) <= np.maximum(c, d)) & (np.minimum(c, d) <= np.maximum(a, b)), axis=-1)
    gap = np.abs(np.arange(n)[:, None] - np.arange(n)[None])
    return bool(np.any(meet & boxes & (gap > 1) & (gap < n - 1)))


def read_spot(picture: Picture, region: Region) -> Reading:
    """Mean in linear light of the region's pixels, without the fifth farthest from their median.

    Raises InputError for a region that cannot be read.
    """
    check_region(region)
    pixels = _in_disc(picture, region) if isinstance(region, Disc) else _in_outline(picture, region)
    xyz = picture.space.xyz(pixels).astype(float)
    lab = xyz_to_lab(xyz)
    distance = np.linalg.norm(lab - np.median(lab, axis=0), axis=1)
    kept = np.argsort(distance, kind="stable")[: max(1, math.ceil(_KEPT * len(distance)))]
    return Reading(
        swatch=Swatch.of(xyz_to_lab(xyz[kept].mean(axis=0))),
        spread=round(float(np.sqrt(np.mean(distance**2))), 2),
        pixels=len(distance),
        straddles=_straddles(lab),
    )


def _straddles(lab: Floats) -> bool:
    """Whether the colours fall into two classes with little in between.

    Along their main axis the best split (Otsu 1979) explains nearly all of the variance: an even
    gradient reaches 0.75, noise 0.64, two flat colours 1.
    """
    if len(lab) < 12:
        return False
    centred = lab - lab.mean(axis=0)
    _, axes = np.linalg.eigh(centred.T @ centred)
    along = centred @ axes[:, -1]
    if np.ptp(along) < _APART:
        return False
    upper = along > threshold_otsu(along)
    share = float(upper.mean())
    if not _SMALLER_PART <= share <= 1 - _SMALLER_PART:
        return False
    apart = float(along[upper].mean() - along[~upper].mean())
    return apart >= _APART and share * (1 - share) * apart**2 >= _SPLIT * float(along.var())


def _in_disc(picture: Picture, disc: Disc) -> NDArray[np.uint8]:
    """The 8-bit pixels (n, channels) whose centres lie in the disc, every k-th of a very large one."""
    width, height = picture.width, picture.height
    radius = disc.radius * max(width, height)
    cx, cy = disc.x * width - 0.5, disc.y * height - 0.5
    step = _step(math.pi * radius**2)
    xs = np.arange(max(0, math.ceil(cx - radius)), min(width - 1, math.floor(cx + radius)) + 1, step)
    ys = np.arange(max(0, math.ceil(cy - radius)), min(height - 1, math.floor(cy + radius)) + 1, step)
    inside = (xs[None] - cx) ** 2 + (ys[:, None] - cy) ** 2 <= radius**2
    if not inside.any():
        return _nearest(picture, disc.x, disc.y)
    return picture.pixels[np.ix_(ys, xs)][inside]


def _in_outline(picture: Picture, outline: Outline) -> NDArray[np.uint8]:
    """The 8-bit pixels (n, channels) inside the outline, every k-th of a very large one."""
    corners = np.asarray(outline.corners, dtype=float) * [picture.width, picture.height]
    left, top = np.floor(corners.min(axis=0)).astype(int)
    right, bottom = np.ceil(corners.max(axis=0)).astype(int) + 1
    right, bottom = min(right, picture.width), min(bottom, picture.height)
    step = _step(_area(corners))
    size = (max(1, (right - left) // step), max(1, (bottom - top) // step))
    mask = Image.new("1", size)
    ImageDraw.Draw(mask).polygon([tuple(c) for c in (corners - [left, top]) / step], fill=1)
    inside = np.asarray(mask)
    part = picture.pixels[top:bottom:step, left:right:step][: size[1], : size[0]]
    if not inside.any():
        x, y = np.asarray(outline.corners).mean(axis=0)
        return _nearest(picture, float(x), float(y))
    return np.asarray(part[inside[: part.shape[0], : part.shape[1]]])


def _step(pixels: float) -> int:
    return max(1, math.ceil(math.sqrt(pixels / _MOST_PIXELS)))


def _nearest(picture: Picture, x: float, y: float) -> NDArray[np.uint8]:
    column = min(picture.width - 1, max(0, int(x * picture.width)))
    row = min(picture.height - 1, max(0, int(y * picture.height)))
    return picture.pixels[row : row + 1, column]


def middle_of(outline: Outline) -> tuple[float, float]:
    """The middle of an outline's corners, where its number is written."""
    xs, ys = zip(*outline.corners, strict=True)
    return sum(xs) / len(xs), sum(ys) / len(ys)
