"""A sitter as a line study: its outlines, the families in hatches of their own, and where the light comes from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.measure import find_contours
from skimage.morphology import skeletonize

from core.colour.spaces import Floats
from core.light.families import FAMILIES, Family, families_of
from core.light.scene import Key
from core.light.shade import Lit

Mask = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Hatch:
    """How a family is told apart without colour: lines at angles in degrees, so far apart (parts of the side); dots
    instead of lines; a dotted or a whole border."""

    angles: tuple[float, ...]
    apart: float
    dots: bool = False


HATCHES: dict[Family, Hatch] = {
    "highlight": Hatch((), 1.0),
    "light": Hatch((), 1.0),
    "half-tone": Hatch((60.0,), 0.020),
    "core shadow": Hatch((60.0, 120.0), 0.011),
    "reflected light": Hatch((0.0,), 0.016, dots=True),
    "cast shadow": Hatch((0.0,), 0.008),
}
"""Light and highlight stay paper; the highlight has a dotted border."""


@dataclass(frozen=True, slots=True, eq=False)
class Stroke:
    """points (n, 2) in parts of the side, y down; weight: of the line, 1 is an outline's; kind: what it is."""

    points: Floats
    weight: float
    kind: str


_SMOOTH, _COARSE = 1 / 300, 0.0007
_SHORTEST = 0.02
_CREASE = 0.30
_JUMP = 0.16
"""Of depth, in units of 100 mm, from one pixel to the next but one."""


def line_study(lit: Lit) -> tuple[Stroke, ...]:
    """Outlines of what shows and of lips, creases, borders of the families, and their hatches."""
    size = lit.view.size
    flat = np.full(size * size, -1, np.int8)
    flat[lit.view.pixel] = families_of(lit)
    family = flat.reshape(size, size)
    shows = family >= 0
    inner = ndimage.distance_transform_edt(shows) > size / 250
    strokes = [Stroke(line, 1.0, "outline") for line in _borders(shows)]
    strokes += [Stroke(line, 0.6, "feature") for line in _features(lit, shows)]
    for number, name in enumerate(FAMILIES):
        mine = family == number
        if not mine.any():
            continue
        if name != "light":
            kind = "highlight" if name == "highlight" else "border"
            strokes += [Stroke(line, 0.35, kind) for line in _borders(mine, inner)]
        strokes += [Stroke(line, 0.25, name) for line in hatched(mine, HATCHES[name])]
    return tuple(strokes)


def _borders(mask: Mask, inside: Mask | None = None) -> list[Floats]:
    """The borders of a mask as smooth lines; only where they run inside another."""
    # Loads half of SciPy: only who draws lines need wait for it.
    from skimage.measure import approximate_polygon

    size = mask.shape[0]
    level = np.pad(ndimage.gaussian_filter(mask.astype(float), size * _SMOOTH), 1)
    lines = []
    for found in find_contours(level, 0.5):
        line = found[:, ::-1] - 0.5
        parts = [line]
        if inside is not None:
            at = np.clip(line.astype(int), 0, size - 1)
            keep = inside[at[:, 1], at[:, 0]]
            cuts = np.flatnonzero(np.diff(keep.astype(int))) + 1
            parts = [part for part, kept in zip(np.split(line, cuts), np.split(keep, cuts), strict=True) if kept[0]]
        lines += [approximate_polygon(part / size, _COARSE) for part in parts if _long(part / size)]
    return lines


def _long(line: Floats) -> bool:
    return len(line) > 1 and float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()) >= _SHORTEST


def _features(lit: Lit, shows: Mask) -> list[Floats]:
    """Lids, nostrils, mouth and ears as creases, the outline of the lips, and where something stands before what lies
    behind it, as a jaw before a neck."""
    size, names = lit.view.size, lit.view.model.places
    openness = np.ones(size * size)
    openness[lit.view.pixel] = lit.view.openness
    creases = (openness.reshape(size, size) < _CREASE) & shows
    lips = np.zeros(size * size, bool)
    lips[lit.view.pixel] = np.isin(lit.view.place, [i for i, name in enumerate(names) if name.endswith(" lip")])
    nearness = np.full(size * size, np.nan)
    nearness[lit.view.pixel] = lit.view.position[:, 2]
    depth = nearness.reshape(size, size)
    inside = ndimage.binary_erosion(shows, iterations=2)
    jumps = ndimage.maximum_filter(depth, 3) - ndimage.minimum_filter(depth, 3) > _JUMP
    return [*_borders(creases), *_borders(lips.reshape(size, size)), *_traced(skeletonize(jumps & inside))]


def _traced(thin: Mask) -> list[Floats]:
    """Lines one pixel wide as the short lines (2, 2) between neighbours."""
    size = thin.shape[0]
    lines = []
    for down, right in ((0, 1), (1, 0), (1, 1), (1, -1)):
        step = np.array([right, down])
        rows, columns = np.nonzero(thin)
        inside = (rows + down < size) & (columns + right >= 0) & (columns + right < size)
        rows, columns = rows[inside], columns[inside]
        met = thin[rows + down, columns + right]
        start = np.stack([columns[met], rows[met]], axis=1) + 0.5
        lines += list(np.stack([start, start + step], axis=1) / size)
    return lines


def hatched(mask: Mask, hatch: Hatch) -> list[Floats]:
    """The lines (2, 2), or short dashes for dots, of a hatch inside a mask (size, size)."""
    size = mask.shape[0]
    return [line for angle in hatch.angles for line in _lines(mask, np.radians(angle), hatch.apart * size, hatch.dots)]


def _lines(mask: Mask, angle: float, apart: float, dots: bool) -> list[Floats]:
    size = mask.shape[0]
    along, across = np.array([np.cos(angle), -np.sin(angle)]), np.array([np.sin(angle), np.cos(angle)])
    far = size * 0.75
    steps = np.arange(-far, far, apart if dots else 0.5)
    middle = np.array([size / 2, size / 2])
    dash = np.array([size / 800, 0.0])
    lines = []
    for row, off in enumerate(np.arange(-far, far, apart)):
        shift = apart / 2 * (row % 2) if dots else 0.0
        points = middle + off * across + (steps[:, None] + shift) * along
        at = np.floor(points).astype(int)
        on = ((at >= 0) & (at < size)).all(axis=1)
        at = np.clip(at, 0, size - 1)
        on &= mask[at[:, 1], at[:, 0]]
        if dots:
            lines += [np.stack([point, point + dash]) / size for point in points[on]]
            continue
        edges = np.flatnonzero(np.diff(np.concatenate([[False], on, [False]]).astype(int)))
        lines += [points[[start, end - 1]] / size for start, end in edges.reshape(-1, 2) if end - start > 3]
    return lines


def arrow(key: Key) -> tuple[Floats, Floats]:
    """Tail and head (2,) of the light's arrow over the picture, in parts of its side, y down: from where it comes, the
    shorter the more it comes from the front or from behind."""
    right, up, _ = key.direction
    flat = float(np.hypot(right, up))
    way = np.array([right, -up]) / flat if flat > 1e-6 else np.array([0.0, -1.0])
    middle, length = np.array([0.5, 0.5]), 0.05 + 0.13 * flat
    head = middle + way * 0.36
    return head + way * length, head
