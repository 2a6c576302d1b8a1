"""Finding frontal faces, to know where skin is and what the places on it are called."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from skimage import data
from skimage.exposure import equalize_adapthist
from skimage.feature import Cascade

from core.errors import InputError

_LONGEST = (160, 200, 250, 310)
_FEWEST_VOTES = 2
_SMALLEST_PX = 24


@dataclass(frozen=True, slots=True)
class Face:
    """A face box in fractions of the picture's width and height: left, top, width, height."""

    x: float
    y: float
    width: float
    height: float

    @property
    def centre(self) -> tuple[float, float]:
        return self.x + self.width / 2, self.y + self.height / 2


def check_face(face: Face) -> None:
    """Raises InputError (`bad_face`) unless the middle of the face lies in the picture."""
    if not (all(0 <= middle <= 1 for middle in face.centre) and face.width > 0 and face.height > 0):
        raise InputError(
            "bad_face", "A face lies outside the picture.", "Draw its box over the face once more.", "face"
        )


@cache
def _cascade() -> Cascade:
    return Cascade(data.lbp_frontal_face_cascade_filename())


def find_faces(rgb: NDArray[np.uint8]) -> tuple[Face, ...]:
    """Frontal, nearly upright faces in sRGB pixels (h, w, 3), from left to right.

    Local binary patterns in a boosted cascade (Viola and Jones 2001; Liao et al. 2007), as scikit-image
    ships it, at several sizes of the picture, plain and with its contrast evened out; only what at
    least two of them find is kept.
    """
    boxes: list[tuple[float, float, float, float]] = []
    for longest in _LONGEST:
        scale = longest / max(rgb.shape[:2])
        size = (max(1, round(rgb.shape[1] * scale)), max(1, round(rgb.shape[0] * scale)))
        if min(size) < _SMALLEST_PX:
            continue
        small = np.asarray(Image.fromarray(rgb).resize(size, Image.Resampling.BOX))
        even = (equalize_adapthist(small.mean(axis=2) / 255, clip_limit=0.02) * 255).astype(np.uint8)
        for seen in (small, even):
            found = _cascade().detect_multi_scale(
                img=seen, scale_factor=1.15, step_ratio=1.0,
                min_size=(_SMALLEST_PX, _SMALLEST_PX), max_size=(min(size), min(size)),
            )  # fmt: skip
            boxes += [(f["c"] / size[0], f["r"] / size[1], f["width"] / size[0], f["height"] / size[1]) for f in found]
    return _agreed(np.array(boxes).reshape(-1, 4))


def _agreed(boxes: NDArray[np.float64]) -> tuple[Face, ...]:
    """Groups of boxes whose centres lie in each other, each as its median box, the most agreed first."""
    centres = boxes[:, :2] + boxes[:, 2:] / 2
    groups: list[list[int]] = []
    for i in np.argsort(-boxes[:, 2] * boxes[:, 3], kind="stable"):
        for group in groups:
            head = boxes[group[0]]
            if np.all(np.abs(centres[i] - (head[:2] + head[2:] / 2)) < 0.45 * head[2:]):
                group.append(int(i))
                break
        else:
            groups.append([int(i)])
    kept = [boxes[_large(boxes, group)] for group in groups if len(group) >= _FEWEST_VOTES]
    largest = max((float(np.median(boxes_[:, 2])) for boxes_ in kept), default=0.0)
    faces = []
    for agreed in kept:
        x, y, width, height = (float(v) for v in np.median(agreed, axis=0))
        if width > 0.4 * largest:
            faces.append(Face(x, y, width, height))
    return tuple(sorted(faces, key=lambda face: face.x))


def _large(boxes: NDArray[np.float64], group: list[int]) -> list[int]:
    """Without the boxes around a single eye or mouth."""
    widest = boxes[group, 2].max()
    return [i for i in group if boxes[i, 2] > 0.6 * widest]
