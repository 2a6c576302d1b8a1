"""The face mesh: 468 points of a face in space, and the outlines of its eyes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PIL import Image

from core.eyes.detector import Pixels, Points
from core.eyes.runtime import IRIS, MESH, Image32, run

EYE_CORNERS = ((33, 133), (263, 362))
"""Outer and inner corner in the mesh: of the eye on the picture's left, and on its right."""
_PRESENT = 0.96
"""What the mesh says of itself on faces; on other things that it is laid over it says less."""
_ROOM, _EYE_ROOM = 1.5, 2.3
"""Side of the square that is looked at, against the widest extent of what is in it."""
_OUTLINE = (*range(9), *range(15, 8, -1))
"""Of the points the iris model gives for an eye, those around its opening: along the lower lid from the outer to the
inner corner, and back along the upper lid."""


@dataclass(frozen=True, slots=True, eq=False)
class Eye:
    """outline (16, 2): along the lower lid from the outer corner, from the ninth on back along the upper one.

    iris: centre (2,) and radius. All in pixels of the picture.
    """

    outline: Points
    iris: Points
    radius: float


@dataclass(frozen=True, slots=True, eq=False)
class Mesh:
    """points (468, 3): x, y in pixels of the picture, z towards its depth in the same unit. presence: 0–1.

    eyes: on the picture's left and right when the face looks ahead.
    """

    points: Points
    presence: float
    eyes: tuple[Eye, Eye]


@dataclass(frozen=True, slots=True)
class Square:
    """A square part of a picture, turned clockwise about its centre."""

    x: float
    y: float
    side: float
    turn_rad: float

    def to_picture(self, points: Points) -> Points:
        """Points (n, 2) in fractions of the square as pixels of the picture."""
        cos, sin = np.cos(self.turn_rad), np.sin(self.turn_rad)
        off = (points - 0.5) * self.side
        return np.column_stack([self.x + off[:, 0] * cos - off[:, 1] * sin, self.y + off[:, 0] * sin + off[:, 1] * cos])

    def cut(self, rgb: Pixels, size: int) -> Image.Image:
        """The square at size × size pixels; black beyond the picture."""
        image = Image.fromarray(rgb)
        step = self.side / size
        if step > 2:
            # Mean of what is left out, else fine patterns would alias.
            shrink = int(step)
            image = image.reduce(shrink)
            return Square(self.x / shrink, self.y / shrink, self.side / shrink, self.turn_rad)._warped(image, size)
        return self._warped(image, size)

    def _warped(self, image: Image.Image, size: int) -> Image.Image:
        cos, sin = np.cos(self.turn_rad), np.sin(self.turn_rad)
        step = self.side / size
        half = self.side / 2
        matrix = (
            step * cos, -step * sin, self.x - half * cos + half * sin,
            step * sin, step * cos, self.y - half * sin - half * cos,
        )  # fmt: skip
        return image.transform((size, size), Image.Transform.AFFINE, matrix, Image.Resampling.BILINEAR)


def mesh_in(rgb: Pixels, square: Square, rounds: int = 2) -> Mesh | None:
    """The mesh of the face that a square about it shows, looked at once more from where it says that it is.

    None if there is no face. Raises EyesError.
    """
    points, presence = np.zeros((0, 3)), 0.0
    for _ in range(rounds):
        points, presence = _meshed(rgb, square)
        if presence < _PRESENT:
            return None
        square = _about(points)
    eyes = tuple(_eye(rgb, points, corners, mirrored=i == 1) for i, corners in enumerate(EYE_CORNERS))
    return Mesh(points, presence, (eyes[0], eyes[1]))


def _meshed(rgb: Pixels, square: Square) -> tuple[Points, float]:
    said, logit = run(MESH, _unit(square.cut(rgb, MESH.side)))
    points = said.reshape(-1, 3).astype(float) / MESH.side
    flat = square.to_picture(points[:, :2])
    return np.column_stack([flat, points[:, 2] * square.side]), float(1 / (1 + np.exp(-logit.ravel()[0])))


def _unit(image: Image.Image) -> Image32:
    """Pixels (h, w, 3) from 0 to 1."""
    return np.asarray(image, dtype=np.float32) / np.float32(255)


def _about(points: Points) -> Square:
    """The square about a mesh, turned so that the eyes are level."""
    left, right = (points[list(pair), :2].mean(axis=0) for pair in EYE_CORNERS)
    turn = float(np.arctan2(right[1] - left[1], right[0] - left[0]))
    cos, sin = np.cos(turn), np.sin(turn)
    level = points[:, :2] @ np.array([[cos, -sin], [sin, cos]])
    low, high = level.min(axis=0), level.max(axis=0)
    middle = np.array([[cos, -sin], [sin, cos]]) @ ((low + high) / 2)
    return Square(float(middle[0]), float(middle[1]), _ROOM * float((high - low).max()), turn)


def _eye(rgb: Pixels, points: Points, corners: tuple[int, int], mirrored: bool) -> Eye:
    """Outline and iris of an eye; the model knows one eye, so the other is shown to it mirrored."""
    ends = points[list(corners), :2]
    across = (ends[1] - ends[0]) * (-1 if mirrored else 1)
    middle = ends.mean(axis=0)
    turn = float(np.arctan2(across[1], across[0]))
    square = Square(float(middle[0]), float(middle[1]), max(_EYE_ROOM * float(np.hypot(*across)), 4.0), turn)
    seen = _unit(square.cut(rgb, IRIS.side))
    lids, iris = run(IRIS, np.ascontiguousarray(seen[:, ::-1]) if mirrored else seen)

    def placed(said: Image32) -> Points:
        flat = said.reshape(-1, 3)[:, :2].astype(float) / IRIS.side
        if mirrored:
            flat[:, 0] = 1 - flat[:, 0]
        return square.to_picture(flat)

    ring = placed(iris)
    return Eye(placed(lids)[list(_OUTLINE)], ring[0], float(np.hypot(*(ring[1:] - ring[0]).T).mean()))
