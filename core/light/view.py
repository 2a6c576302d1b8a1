"""A study model as it is seen from one side: what shows in which pixel, with all that does not depend on the light."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import scipy.sparse as sparse
from scipy.spatial import cKDTree

from core.colour.spaces import Floats
from core.light.directions import harmonics, turned
from core.light.model import Floats32, ModelName, StudyModel, study_model
from core.light.raster import rasterise
from core.light.scene import Shown
from core.light.surface import Ints

EYE = 12.0
"""From where it is seen: 1.2 m, as a sitter is."""
_FRAMES: dict[Shown, tuple[ModelName, float, float]] = {
    "head": ("bust", 2.72, -0.06),
    "bust": ("bust", 4.35, -0.85),
    "hand-flat": ("hand-flat", 2.9, -0.2),
    "hand-bent": ("hand-bent", 2.9, -0.2),
}
"""Which model it is, how much of it the picture's height holds, and the height of its middle."""
_GLOSS_HARMONICS = 9
F0 = 0.028
"""What skin reflects square on. Source: Fresnel, for a refractive index of 1.4."""


@dataclass(frozen=True, slots=True, eq=False)
class View:
    """pixel (k,): which pixels of size × size show something. vertex (v,): which vertices of the model those lie
    between; to_pixels (k, v) interpolates. rotation (3, 3): from the model's frame to the picture's.

    Of each pixel (k, …), in the picture's frame: normal, eye (unit vector to who looks), facing (cosine between both),
    mirror (k, 9): harmonics of the mirrored look in the model's frame; openness; graze: what gloss adds at a flat
    angle; place: which place it mostly belongs to.
    """

    model: StudyModel
    size: int
    pixel: Ints
    vertex: Ints
    to_pixels: Any
    rotation: Floats32
    normal: Floats32
    eye: Floats32
    facing: Floats32
    mirror: Floats32
    openness: Floats32
    graze: Floats32
    position: Floats32
    place: Ints


@lru_cache(maxsize=8)
def view(shown: Shown, turn_deg: float, tilt_deg: float, size: int) -> View:
    """A study model turned so, on size × size pixels. Raises ModelError."""
    name, high, middle = _FRAMES[shown]
    model = study_model(name)
    rotation = turned(turn_deg, tilt_deg).astype(np.float32)
    stands = model.vertices @ rotation.T
    points = projected(stands, high, middle, size)
    found = rasterise(points, model.triangles, size, size)
    corners = model.triangles[found.triangle]
    vertex, index = np.unique(corners, return_inverse=True)
    count = len(found.pixel)
    shares = np.stack([1 - found.u - found.v, found.u, found.v], axis=1).astype(np.float32)
    to_pixels = sparse.csr_matrix(
        (shares.ravel(), index.ravel(), np.arange(0, 3 * count + 1, 3)), shape=(count, len(vertex))
    )
    normal = to_pixels @ (model.normals[vertex] @ rotation.T)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-6)
    position = to_pixels @ stands[vertex]
    eye = np.array([0, middle, EYE], np.float32) - position
    eye /= np.linalg.norm(eye, axis=1, keepdims=True)
    facing = np.clip((normal * eye).sum(axis=1), 0.05, 1)
    mirror = 2 * facing[:, None] * normal - eye
    return View(
        model, size, found.pixel, vertex, to_pixels, rotation, normal, eye, facing,
        harmonics(mirror @ rotation)[:, :_GLOSS_HARMONICS].astype(np.float32),
        to_pixels @ model.openness[vertex],
        (F0 + (1 - F0) * 0.45 * (1 - facing) ** 5).astype(np.float32),
        position,
        np.asarray((to_pixels @ model.weights[vertex]).argmax(axis=1)),
    )  # fmt: skip


def projected(stands: Floats, high: float, middle: float, size: int) -> Floats:
    """Column, row and nearness (n, 3) of points (n, 3) in the picture's frame, seen from EYE."""
    near = EYE / (EYE - stands[:, 2])
    across, up = stands[:, 0] * near, (stands[:, 1] - middle) * near
    return np.stack([across * size / high + size / 2, size / 2 - up * size / high, stands[:, 2]], axis=1).astype(float)


@lru_cache(maxsize=16)
def spreading(name: ModelName, sigma: float) -> Any:
    """A sparse matrix (n, n) that spreads what falls on the vertices of a model over its neighbours, as a Gaussian of
    that width does; rows sum to 1. Across a gap, where the surface faces the other way, nothing spreads."""
    model = study_model(name)
    pairs = cKDTree(model.vertices).query_pairs(3 * sigma, output_type="ndarray")
    one, other = pairs.T
    alike = (model.normals[one] * model.normals[other]).sum(axis=1) > _SAME_SIDE
    one, other = one[alike], other[alike]
    off = ((model.vertices[one] - model.vertices[other]) ** 2).sum(axis=1)
    share = np.exp(-off / (2 * sigma**2)).astype(np.float32)
    count = len(model.vertices)
    area = _areas(model)
    every = np.arange(count)
    rows, columns = np.concatenate([one, other, every]), np.concatenate([other, one, every])
    weight = np.concatenate([share, share, np.ones(count, np.float32)]) * area[columns]
    matrix = sparse.csr_matrix((weight, (rows, columns)), shape=(count, count))
    return sparse.diags(1 / np.asarray(matrix.sum(axis=1)).ravel()).astype(np.float32) @ matrix


_SAME_SIDE = 0.2


def _areas(model: StudyModel) -> Floats32:
    a, b, c = (model.vertices[model.triangles[:, i]] for i in range(3))
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    return np.bincount(model.triangles.T.ravel(), np.tile(area, 3), len(model.vertices)).astype(np.float32)
