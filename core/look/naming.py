"""What the places of a face are called, and their outlines: asked for a point, or by name."""

from __future__ import annotations

import numpy as np

from core.colour.spaces import Floats
from core.eyes.areas import Area, inset, place_at, thinned
from core.look.faces import FaceMap
from core.look.roles import PLACES, Place
from core.look.study import Study

NARROW: frozenset[Place] = frozenset(
    ("brow hair", "crease", "upper lid", "lash line", "eye white", "iris", "pupil", "catchlight", "tear duct",
     "under-eye", "nostril", "upper lip", "lower lip", "lip corner", "teeth", "wrinkle", "freckle")
)  # fmt: skip
"""Places that a disc of the usual size is wider than."""
_LINES: frozenset[Place] = frozenset(("lash line", "crease"))
_NEAR = 0.03
"""Up to this far from a place of the mesh, in sides of the face's box, a spot still carries its name."""
_CHIN_ENDS, _NECK_ENDS = 0.66, 1.1
"""How far below the middle of the face the head's underside and the neck reach, in sides of its box."""
_CORNERS = 20
_INSET = 0.18
"""How far an outline is drawn in from its edge, against its narrower half."""
FEWEST_PX = 9.0
"""An outline of fewer pixels of the map is too small to be read without a look at it."""


def name_of_place(study: Study, figure: int, x: float, y: float) -> Place:
    """The place of a figure's face at a point in fractions of the picture; `other` if none is near, or nobody knows."""
    face = study.maps[figure]
    if face is None or not face.areas:
        return "other"
    h, w = study.owners.shape
    row, column = min(h - 1, int(y * h)), min(w - 1, int(x * w))
    return place_of_pixel(face, row, column, bool(study.owners[row, column] == figure + 1))


def outline_of(study: Study, figure: int, place: Place, x: float, y: float) -> tuple[tuple[float, float], ...] | None:
    """The outline of a place of a figure's face, in fractions of the picture; of two sides the one nearer to a point.

    None where it is not seen, or too small to be read.
    """
    face = study.maps[figure]
    h, w = study.owners.shape
    areas = [area for area in face.areas if area.place == place and area.read and area.exact] if face else []
    at = np.array([x * w, y * h])
    for area in sorted(areas, key=lambda one: float(np.hypot(*(one.outline.mean(axis=0) - at)))):
        corners = drawn_in(area, place) / [w, h]
        if area.size >= FEWEST_PX and np.all((corners >= 0) & (corners <= 1)):
            return tuple((round(float(px), 5), round(float(py), 5)) for px, py in corners)
    return None


def drawn_in(area: Area, place: Place) -> Floats:
    """What is read of an area: without its edge, which is never certain; a line has no more than that."""
    return thinned(area.outline if place in _LINES else inset(area.outline, _INSET), _CORNERS)


def place_of_pixel(face: FaceMap, row: int, column: int, on_skin: bool) -> Place:
    """The place at a pixel of the map; skin below the face that no outline holds is the head's underside, or neck."""
    at = np.array([column + 0.5, row + 0.5])
    place = place_at(face.areas, at, _NEAR * face.side)
    if place or not on_skin:
        return _named(place)
    across, down = ((at - face.middle) @ axis / face.side for axis in (face.right, face.down))
    if not (0.35 < down < _NECK_ENDS and abs(across + 0.25 * face.turned) < 0.55):
        return "other"
    return "under the chin" if down < _CHIN_ENDS and abs(across) < 0.4 else "neck"


def _named(place: str) -> Place:
    return next((known for known in PLACES if known == place), "other")
