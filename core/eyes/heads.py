"""Finding heads: detector, mesh and eyes together, in pictures that may be turned."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.eyes.detector import Candidate, Pixels, Points, candidates
from core.eyes.mesh import EYE_CORNERS, Eye, Mesh, Square, mesh_in

_PLAINLY, _TILTED = 0.75, np.radians(40)
"""Score from which a face shows which way up its picture is, if it is tilted less than this."""
_MOST_ROLL = np.radians(65)
"""A face that lies more on its side than this is not found here, but in the picture turned by a quarter."""
_ROOMS = (1.5, 1.9)
"""Sides of the square in which a mesh is looked for, against the box's."""
_EYES_AGREE, _EYES_ASTRAY = 0.12, 0.2
"""Up to these parts of the box eyes of the mesh and of the detector are the same; or may be, if the mesh is sure."""
_SAME_MESH = 0.04
_SURE_ALONE = 0.8
"""Score from which a face is believed without a mesh: a profile, or a face turned away."""
_COVERED = 0.4
"""Part of the smaller of two boxes that lies in the larger one if both are the same face."""


@dataclass(frozen=True, slots=True, eq=False)
class Head:
    """A face that was found. low, high (2,): corners of the box about it, in pixels of the picture.

    mesh: None where the mesh finds no hold, as in full profile. score: of the detector; 1 for a box that was given.
    """

    low: Points
    high: Points
    mesh: Mesh | None
    score: float

    @property
    def side(self) -> float:
        return float((self.high - self.low).max())


def find_heads(rgb: Pixels) -> tuple[Head, ...]:
    """Faces in sRGB pixels (h, w, 3), the largest first. Raises EyesError.

    A picture may be turned by quarters: unless a face is plainly upright, it is looked at in all four ways, and taken
    to lie as most is found.
    """
    best, turn = _upright(rgb), 0
    if not any(_plainly_upright(head) for head in best):
        for other in (1, 2, 3):
            heads = _upright(np.ascontiguousarray(np.rot90(rgb, other)))
            if _weight(heads) > _weight(best):
                best, turn = heads, other
    return tuple(_turned_back(head, turn, rgb.shape[1], rgb.shape[0]) for head in best)


def _plainly_upright(head: Head) -> bool:
    return head.mesh is not None and head.score >= _PLAINLY and abs(roll_rad(head.mesh)) < _TILTED


def roll_rad(mesh: Mesh) -> float:
    """How far the line between the eyes is turned from level, clockwise."""
    left, right = (mesh.points[list(pair), :2].mean(axis=0) for pair in EYE_CORNERS)
    return float(np.arctan2(right[1] - left[1], right[0] - left[0]))


def _weight(heads: list[Head]) -> float:
    """How much was found: faces without a mesh count half."""
    return sum(head.score * (1.0 if head.mesh else 0.5) for head in heads)


def head_in(rgb: Pixels, low: Points, high: Points) -> Head:
    """The head in a box that somebody drew about a face, corners in pixels. Raises EyesError."""
    middle = (low + high) / 2
    side = float((high - low).max())
    for room in _ROOMS:
        square = Square(float(middle[0]), float(middle[1]), max(room * side, 4.0), 0.0)
        mesh = mesh_in(rgb, square)
        if mesh is not None and _within(mesh, low, high):
            return Head(*_box(mesh), mesh, 1.0)
    return Head(low, high, None, 1.0)


def _within(mesh: Mesh, low: Points, high: Points) -> bool:
    """Whether a mesh lies where it was looked for."""
    middle = mesh.points[:, :2].mean(axis=0)
    return bool(np.all(middle > low) and np.all(middle < high))


def _upright(rgb: Pixels) -> list[Head]:
    heads: list[Head] = []
    for face in candidates(rgb):
        head = _head(rgb, face)
        if head and not any(same(head, other) for other in heads):
            heads.append(head)
    return sorted(heads, key=lambda head: -head.side)


def _head(rgb: Pixels, face: Candidate) -> Head | None:
    mesh = mesh_in(rgb, _about(face, _ROOMS[0]))
    if mesh is not None:
        eyes = np.array([mesh.points[list(pair), :2].mean(axis=0) for pair in EYE_CORNERS])
        off = float(np.hypot(*(eyes - face.eyes).T).mean()) / face.side
        if abs(roll_rad(mesh)) > _MOST_ROLL or off > _EYES_ASTRAY:
            return None
        if off > _EYES_AGREE and not _comes_again(mesh, mesh_in(rgb, _about(face, _ROOMS[1]))):
            return None
        return Head(*_box(mesh), mesh, face.score)
    if face.score < _SURE_ALONE or abs(face.turn_rad) > _MOST_ROLL:
        return None
    return Head(face.centre - face.side / 2, face.centre + face.side / 2, None, face.score)


def _about(face: Candidate, room: float) -> Square:
    return Square(float(face.centre[0]), float(face.centre[1]), room * face.side, face.turn_rad)


def _comes_again(mesh: Mesh, other: Mesh | None) -> bool:
    """Whether a mesh that was begun elsewhere comes to lie in the same place, as it does on a face."""
    if other is None:
        return False
    apart = np.hypot(*(mesh.points[:, :2] - other.points[:, :2]).T).mean()
    return bool(apart < _SAME_MESH * np.ptp(mesh.points[:, :2], axis=0).max())


def _box(mesh: Mesh) -> tuple[Points, Points]:
    return mesh.points[:, :2].min(axis=0), mesh.points[:, :2].max(axis=0)


def same(one: Head, other: Head) -> bool:
    """Whether two boxes hold the same face."""
    shared = np.prod(np.clip(np.minimum(one.high, other.high) - np.maximum(one.low, other.low), 0, None))
    smaller = min(np.prod(one.high - one.low), np.prod(other.high - other.low))
    return bool(shared > _COVERED * smaller)


def _turned_back(head: Head, turn: int, width: int, height: int) -> Head:
    """A head found in a picture turned by quarters anticlockwise, in the picture as it lies (width × height)."""
    if turn == 0:
        return head

    def back(points: Points) -> Points:
        x, y = points[..., 0], points[..., 1]
        if turn == 1:
            x, y = width - y, x
        elif turn == 2:
            x, y = width - x, height - y
        else:
            x, y = y, height - x
        return np.stack([x, y, *np.moveaxis(points[..., 2:], -1, 0)], axis=-1)

    ends = np.array([back(head.low), back(head.high)])
    mesh = None
    if head.mesh:
        eyes = tuple(Eye(back(eye.outline), back(eye.iris), eye.radius) for eye in head.mesh.eyes)
        mesh = Mesh(back(head.mesh.points), head.mesh.presence, (eyes[0], eyes[1]))
    return Head(ends.min(axis=0), ends.max(axis=0), mesh, head.score)
