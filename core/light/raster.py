"""Which triangle of a surface shows in which pixel."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.light.surface import Ints

_LARGEST_PX = 4096
"""A triangle whose box holds more pixels than this is not drawn: at no size that is asked for is there one."""
_SAME_SIZE = 1 << 12
_EDGE = 1e-6


@dataclass(frozen=True, slots=True, eq=False)
class Shown:
    """What shows, pixel by pixel (k,). pixel: row × width + column; triangle: which; u, v: where on it, as weights of
    its second and third corner."""

    pixel: Ints
    triangle: Ints
    u: Floats
    v: Floats


def rasterise(points: Floats, triangles: Ints, width: int, height: int) -> Shown:
    """The nearest front of triangles (m, 3) in each pixel that one covers with its middle, all at once.

    points (n, 3): column and row in pixels, and nearness. Triangles whose boxes are of one size are done together;
    where several lie in a pixel the nearest is kept. Fronts are those that go round against the clock as seen.
    """
    a, b, c = (points[triangles[:, i]] for i in range(3))
    area = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
    low, high = np.minimum(np.minimum(a, b), c)[:, :2], np.maximum(np.maximum(a, b), c)[:, :2]
    first = np.ceil(low - 0.5).astype(np.int64)
    count = np.floor(high - 0.5).astype(np.int64) - first + 1
    inside = (high > 0).all(axis=1) & (low < [width, height]).all(axis=1)
    seen = np.flatnonzero((area < -1e-9) & inside & (count > 0).all(axis=1) & (count.prod(axis=1) <= _LARGEST_PX))
    size = count[seen, 0] * _SAME_SIZE + count[seen, 1]
    order = np.argsort(size, kind="stable")
    parts = [
        _covered(group, count[group[0]], first[group], [corner[group] for corner in (a, b, c)], area[group])
        for group in np.split(seen[order], np.flatnonzero(np.diff(size[order])) + 1)
        if len(group)
    ]
    if not parts:
        none = np.zeros(0)
        return Shown(none.astype(np.int64), none.astype(np.int64), none, none)
    column, row, which, u, v, near = (np.concatenate(held) for held in zip(*parts, strict=True))
    on = (column >= 0) & (column < width) & (row >= 0) & (row < height)
    column, row, which, u, v, near = (held[on] for held in (column, row, which, u, v, near))
    pixel = row * width + column
    order = np.argsort(near, kind="stable")
    nearest = np.full(width * height, -1)
    nearest[pixel[order]] = order
    hit = np.flatnonzero(nearest >= 0)
    kept = nearest[hit]
    return Shown(hit, which[kept], u[kept], v[kept])


def _covered(
    group: Ints, size: Ints, first: Ints, corners: list[Floats], area: Floats
) -> tuple[NDArray[np.int64], NDArray[np.int64], Ints, Floats, Floats, Floats]:
    """Column, row, triangle, u, v and nearness of each pixel that triangles with boxes of one size cover."""
    down, across = (held.ravel() for held in np.mgrid[0 : size[1], 0 : size[0]])
    column, row = first[:, :1] + across, first[:, 1:] + down
    a, b, c = corners
    b, c = b - a, c - a
    right, below = column + 0.5 - a[:, :1], row + 0.5 - a[:, 1:2]
    u = (right * c[:, 1:2] - c[:, :1] * below) / area[:, None]
    v = (b[:, :1] * below - right * b[:, 1:2]) / area[:, None]
    inside = (u >= -_EDGE) & (v >= -_EDGE) & (u + v <= 1 + _EDGE)
    which = np.nonzero(inside)[0]
    near = a[:, 2:] + u * b[:, 2:] + v * c[:, 2:]
    return column[inside], row[inside], group[which], u[inside], v[inside], near[inside]
