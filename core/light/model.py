"""The study models: a head on shoulders, and a hand flat and bent, with how open each point of them lies to light.

Made by tools/study from a base mesh released as CC0 (core/light/data/NOTICE.md). Lengths are in units of 100 mm, x to
the sitter's left, y up, z forward; the head's origin lies between its ears.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from io import BytesIO
from typing import Any, Literal
from zipfile import BadZipFile

import numpy as np
from numpy.typing import NDArray

from core.errors import CaltinError
from core.light.directions import EVEN, frames
from core.light.surface import Ints, normals_of

Floats32 = NDArray[np.float32]
WIDEST = 1.2
"""Radians that a head hides the sky by at most, off the direction to its middle."""
ModelName = Literal["bust", "hand-flat", "hand-bent"]
_DIGESTS: dict[ModelName, str] = {
    "bust": "0e51f11094c80ef7fa5f22521d4811af65b99c17d4119136773e98b75f9aa25a",
    "hand-flat": "35ded0c417d7eb7d357df87bf726cfcac73fc457c9c285e52c4349260b55dcbb",
    "hand-bent": "629709aedd93771937e16685cf1805cbb155dedaae97a690bda8dac6d1937b03",
}
"""SHA-256 of each file."""
_MIRRORED = np.array([1, 1, 1, -1, -1, 1, 1, -1, 1, 1, -1, 1, 1, -1, 1, -1], dtype=np.float32)
"""What becomes of each spherical harmonic when x is turned round."""


class ModelError(CaltinError):
    """A study model is missing or damaged; everything that needs no study model goes on."""


@dataclass(frozen=True, slots=True, eq=False)
class StudyModel:
    """vertices and normals (n, 3); triangles (m, 3); around and aside (n, 3): the frame in which horizons are told.

    transfer (n, 16): irradiance over π for the radiance of each spherical harmonic, with what hides it. horizon
    and ceiling (n, 24): sines of the heights above the surface from which and up to which light comes in, by azimuth in
    the vertex's own frame; a chest has a ceiling where the chin juts out over it.
    over (n, 24): how far from `axis` (n, 3), in radians, the head hides the sky from shoulders and chest, by azimuth in
    the frame over_around, over_aside about it; 0 for the head itself. hung (n,): where that is so.

    places: names; weights (n, p): how much each vertex belongs to each, rows sum to 1. plane (n,): which facet.
    """

    name: ModelName
    vertices: Floats32
    normals: Floats32
    triangles: Ints
    around: Floats32
    aside: Floats32
    transfer: Floats32
    horizon: Floats32
    ceiling: Floats32
    over: Floats32
    axis: Floats32
    over_around: Floats32
    over_aside: Floats32
    hung: NDArray[np.bool_]
    places: tuple[str, ...]
    weights: Floats32
    plane: Ints

    @property
    def openness(self) -> Floats32:
        """How much of all that a vertex (n,) could see it does see: 1 where nothing stands in the way."""
        return np.asarray(np.clip(self.transfer[:, 0] / EVEN, 0, 1))


def geometry(held: dict[str, NDArray[Any]]) -> tuple[Floats32, Ints, Ints]:
    """Vertices (n, 3) and triangles (m, 3) that a file stands for, and which of its rows each vertex is (n,).

    A symmetric shape is kept as one half: what does not lie on the middle is there twice.
    """
    low, high = held["box"]
    vertices = (low + held["vertices"] / 65535.0 * (high - low)).astype(np.float32)
    triangles, rows = held["triangles"].astype(np.int64), np.arange(len(vertices))
    if not held["symmetric"]:
        return vertices, triangles, rows
    aside = np.flatnonzero(held["vertices"][:, 0] > 0)
    twin = rows.copy()
    twin[aside] = len(rows) + np.arange(len(aside))
    other = vertices[aside] * np.array([-1, 1, 1], np.float32)
    return np.vstack([vertices, other]), np.vstack([triangles, twin[triangles][:, ::-1]]), np.concatenate([rows, aside])


def unpacked(name: ModelName, held: dict[str, NDArray[Any]]) -> StudyModel:
    """The model that a file's arrays stand for."""
    vertices, triangles, rows = geometry(held)
    normals = normals_of(vertices, triangles).astype(np.float32)
    around, aside = frames(normals)
    transfer = (held["transfer"] * (held["transfer_scale"] / 127.0)).astype(np.float32)[rows]
    kept = len(held["vertices"])
    transfer[kept:] *= _MIRRORED
    weights = held["places"].astype(np.float32)[rows]
    plane = held["plane"].astype(np.int64)[rows]
    middle = int(held["middle_planes"])
    plane[kept:] = np.where(plane[kept:] < middle, plane[kept:], plane[kept:] + int(held["plane"].max()) + 1 - middle)
    over = (held["over"] * (WIDEST / 255.0)).astype(np.float32)[rows]
    axis = held["over_centre"].astype(np.float32) - vertices
    axis /= np.linalg.norm(axis, axis=1, keepdims=True)
    return StudyModel(
        name, vertices, normals, triangles, around, aside, transfer,
        (held["horizon"] / 255.0).astype(np.float32)[rows],
        (held["ceiling"] / 255.0).astype(np.float32)[rows],
        over, axis, *frames(axis), np.asarray(over.any(axis=1)),
        tuple(str(place) for place in held["names"]),
        weights / weights.sum(axis=1, keepdims=True),
        plane,
    )  # fmt: skip


@cache
def study_model(name: ModelName) -> StudyModel:
    """A study model, read once in a process. Raises ModelError (`study_model_broken`)."""
    try:
        content = files("core.light").joinpath("data", f"{name}.npz").read_bytes()
        if hashlib.sha256(content).hexdigest() != _DIGESTS[name]:
            raise _broken(name)
        with np.load(BytesIO(content), allow_pickle=False) as file:
            return unpacked(name, dict(file))
    except (OSError, BadZipFile, KeyError, ValueError) as error:
        raise _broken(name) from error


def _broken(name: str) -> ModelError:
    return ModelError(
        "study_model_broken",
        f"Imagined light cannot be shown: the file {name}.npz is missing or damaged.",
        "Install Caltin again. Everything else works, and what you described is kept.",
    )
