"""Where faces may be: boxes with the eyes, from the whole picture and from windows on it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.eyes.runtime import DETECTOR, run

Pixels = NDArray[np.uint8]
Points = NDArray[np.float64]

_CELLS = 48
"""The detector answers for a square grid of this many cells a side."""
_LEAST_SCORE = 0.5
_WINDOW = 0.6
"""Side of the windows as a part of the picture's longer side; small faces are seen in them alone."""
_SMALLEST_WINDOW = 192
_SAME = 0.3
"""Overlap (intersection over union) from which two boxes are one face."""
_EDGE = 0.02


@dataclass(frozen=True, slots=True, eq=False)
class Candidate:
    """What may be a face. centre, eyes (2, 2): x and y in pixels of the picture; side: of its square box."""

    centre: Points
    side: float
    eyes: Points
    score: float

    @property
    def turn_rad(self) -> float:
        """How far the line between the eyes is turned from level, clockwise."""
        across = self.eyes[1] - self.eyes[0]
        return float(np.arctan2(across[1], across[0]))


def candidates(rgb: Pixels) -> list[Candidate]:
    """Whatever may be a face in sRGB pixels (h, w, 3), the most certain first. Raises EyesError."""
    found = [face for window in _windows(rgb.shape[1], rgb.shape[0]) for face in _in_window(rgb, window)]
    return _merged(found)


def _windows(width: int, height: int) -> Iterator[tuple[int, int, int]]:
    """Squares (left, top, side) that cover the picture: all of it, and overlapping parts if there is enough of it."""
    longest = max(width, height)
    yield (width - longest) // 2, (height - longest) // 2, longest
    side = round(_WINDOW * longest)
    if side < _SMALLEST_WINDOW:
        return
    for top in _starts(height, side):
        for left in _starts(width, side):
            yield left, top, side


def _starts(length: int, side: int) -> list[int]:
    """Where windows begin along one side of the picture, each overlapping the next by a third or more."""
    if length <= side:
        return [(length - side) // 2]
    count = int(np.ceil((length - side) / (0.67 * side))) + 1
    return [round(v) for v in np.linspace(0, length - side, count)]


def _in_window(rgb: Pixels, window: tuple[int, int, int]) -> list[Candidate]:
    left, top, side = window
    size = DETECTOR.side
    box = (left, top, left + side, top + side)
    part = Image.fromarray(rgb).crop(box).resize((size, size), Image.Resampling.BILINEAR, reducing_gap=2.0)
    boxes, logits = run(DETECTOR, np.asarray(part, dtype=np.float32) / 127.5 - 1)
    scores = 1 / (1 + np.exp(-np.clip(logits[:, 0], -30, 30)))
    rows = np.flatnonzero(scores >= _LEAST_SCORE)
    cells = (np.column_stack([rows % _CELLS, rows // _CELLS]) + 0.5) / _CELLS
    found = []
    for row, cell in zip(rows, cells, strict=True):
        said = boxes[row].astype(float) / size
        centre = said[:2] + cell
        if _cut_off(centre, float(said[2]), window, rgb.shape):
            continue
        eyes = said[4:8].reshape(2, 2) + cell
        corner = np.array([left, top])
        width = float(said[2:4].max()) * side
        found.append(Candidate(centre * side + corner, width, eyes * side + corner, float(scores[row])))
    return found


def _cut_off(centre: Points, width: float, window: tuple[int, int, int], shape: tuple[int, ...]) -> bool:
    """Whether a box reaches over an edge of its window that is not the picture's own: the next window has it whole."""
    left, top, side = window
    low, high = centre - width / 2, centre + width / 2
    inner = (left > 0, top > 0, left + side < shape[1], top + side < shape[0])
    return bool(
        (inner[0] and low[0] < -_EDGE) or (inner[1] and low[1] < -_EDGE)
        or (inner[2] and high[0] > 1 + _EDGE) or (inner[3] and high[1] > 1 + _EDGE)
    )  # fmt: skip


def _merged(found: list[Candidate]) -> list[Candidate]:
    """One for each group of boxes that overlap: their mean, weighted by score."""
    left = sorted(found, key=lambda face: -face.score)
    out = []
    while left:
        group = [face for face in left if _overlap(left[0], face) > _SAME]
        left = [face for face in left if all(face is not other for other in group)]
        weight = np.array([face.score for face in group])
        weight /= weight.sum()
        out.append(
            Candidate(
                np.tensordot(weight, [face.centre for face in group], 1),
                float(weight @ [face.side for face in group]),
                np.tensordot(weight, [face.eyes for face in group], 1),
                group[0].score,
            )
        )
    return out


def _overlap(one: Candidate, other: Candidate) -> float:
    """Intersection over union of two boxes."""
    shared = np.minimum(one.centre + one.side / 2, other.centre + other.side / 2) - np.maximum(
        one.centre - one.side / 2, other.centre - other.side / 2
    )
    area = float(np.prod(np.clip(shared, 0, None)))
    return area / (one.side**2 + other.side**2 - area)
