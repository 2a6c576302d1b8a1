"""Small bright lights on what is wet, which are kept free from the start: catchlights and moisture lights."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.look.faces import FaceMap, drawn
from core.look.roles import Place
from core.look.views import Small

_CATCHLIGHT, _MOIST = 5.0, 1.5
"""A catchlight is so many times lighter than the eye, a moisture light than the skin around."""
_FEWEST_PX = 20
_MOST = 2
_WET: tuple[tuple[Place, str, bool, float], ...] = (
    ("iris", "eye white", False, _CATCHLIGHT), ("lower lip", "lower lip", True, _MOIST),
    ("nose tip", "nose tip", True, _MOIST),
)  # fmt: skip
"""What a spark lies on, the area that it is looked for in and whether that is the one to be read, and how much lighter
than it is at least."""


@dataclass(frozen=True, slots=True)
class Spark:
    """A small bright light: place, middle in fractions of the picture, radius of its longer side."""

    place: Place
    x: float
    y: float
    radius: float


def sparks(looked: Small, face: FaceMap | None) -> tuple[Spark, ...]:
    """Catchlights in the eyes and moisture lights on lower lip and nose tip, the plainest of each, _MOST at the most.

    looked: the picture that the map is of.
    """
    found = []
    for place, name, read, least in _WET:
        rows = (
            [_brightest(looked, area.outline, place) for area in face.areas if area.place == name and area.read == read]
            if face
            else []
        )
        plain = [row for row in rows if row and row[0] >= least]
        if plain:
            found.append(max(plain, key=lambda row: row[0])[1])
    return tuple(found[:_MOST])


def _brightest(looked: Small, outline: Floats, place: Place) -> tuple[float, Spark] | None:
    """The brightest place of an area, and how many times lighter than the area's usual light it is."""
    h, w = looked.height, looked.width
    low = np.maximum(np.floor(outline.min(axis=0)).astype(int), 0)
    high = np.minimum(np.ceil(outline.max(axis=0)).astype(int) + 1, [w, h])
    if np.any(high - low < 3):
        return None
    part = looked.space.xyz(looked.pixels[low[1] : high[1], low[0] : high[0]])[..., 1]
    inside = drawn([outline - low], (part.shape[0], part.shape[1]))
    if inside.sum() < _FEWEST_PX:
        return None
    usual = float(np.percentile(part[inside], 40 if place == "iris" else 75))
    row, column = divmod(int(np.argmax(np.where(inside, part, -1))), part.shape[1])
    most = float(part[row, column])
    bright = int((inside & (part > (usual + most) / 2)).sum())
    radius = max(float(np.sqrt(min(bright, 400) / np.pi)), 0.8) / max(h, w)
    x, y = (column + low[0] + 0.5) / w, (row + low[1] + 0.5) / h
    return most / max(usual, 0.002), Spark(place, round(float(x), 5), round(float(y), 5), round(radius, 5))
