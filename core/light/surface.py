"""Surfaces of quads: their normals, and finer ones."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats

Ints = NDArray[np.int64]


def triangles_of(quads: Ints) -> Ints:
    """Two triangles (2m, 3) for each quad (m, 4)."""
    return np.vstack([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])


def normals_of(vertices: NDArray[Any], triangles: Ints) -> Floats:
    """Unit normals (n, 3) of vertices (n, 3), weighted by the area of triangles (m, 3)."""
    a, b, c = (vertices[triangles[:, i]] for i in range(3))
    across = np.cross(b - a, c - a)
    found = np.stack(
        [sum(np.bincount(triangles[:, i], across[:, k], len(vertices)) for i in range(3)) for k in range(3)], axis=1
    )
    return np.asarray(found / np.maximum(np.linalg.norm(found, axis=1, keepdims=True), 1e-12))


def smoother(values: Floats, quads: Ints, shaped: int) -> tuple[Floats, Ints]:
    """One step of Catmull and Clark (1978) on values (n, k) of quads (m, 4): finer values and quads.

    The columns from `shaped` on are no lengths; they are interpolated, not smoothed. A rim stays a curve of its own.
    """
    n = len(values)
    middles = values[quads].mean(axis=1)
    edges = np.stack([quads, np.roll(quads, -1, axis=1)], axis=2).reshape(-1, 2)
    unique, which, count = np.unique(np.sort(edges, axis=1), axis=0, return_inverse=True, return_counts=True)
    which = which.ravel()
    beside = np.zeros((len(unique), values.shape[1]))
    np.add.at(beside, which, np.repeat(middles, 4, axis=0))
    halves = values[unique].mean(axis=1)
    rim = count == 1
    on_edges = np.where(rim[:, None], halves, (values[unique].sum(axis=1) + beside) / 4)

    def gathered(index: Ints, rows: Floats) -> tuple[Floats, Floats]:
        total, number = np.zeros_like(values), np.zeros((n, 1))
        np.add.at(total, index, rows)
        np.add.at(number, index, 1.0)
        return total / np.maximum(number, 1), number

    faces, valence = gathered(quads.ravel(), np.repeat(middles, 4, axis=0))
    around, _ = gathered(unique.ravel(), np.repeat(halves, 2, axis=0))
    moved = (faces + 2 * around + (valence - 3) * values) / np.maximum(valence, 1)
    along, number = gathered(unique[rim].ravel(), np.repeat(halves[rim], 2, axis=0))
    on_rim = number[:, 0] > 0
    moved[on_rim] = (values[on_rim] + along[on_rim]) / 2
    moved[:, shaped:] = values[:, shaped:]
    on_edges[:, shaped:] = halves[:, shaped:]
    in_faces = n + len(unique) + np.arange(len(quads))
    at_edges = (n + which).reshape(-1, 4)
    finer = np.stack(
        [quads, at_edges, np.broadcast_to(in_faces[:, None], quads.shape), np.roll(at_edges, 1, axis=1)], 2
    )
    return np.vstack([moved, on_edges, middles]), finer.reshape(-1, 4)
