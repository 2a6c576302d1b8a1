"""Marks printed at the corners of a sheet: where it lies in a photograph, and which it is."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.transform import ProjectiveTransform

from core.colour.spaces import srgb_encode
from core.errors import InputError
from core.look.picture import Picture
from core.look.views import scaled
from core.photo.squared import Corner

_LONGEST_PHOTO = 2400
_LEAST_MARKS = 3
MARK_CELLS = 6
"""Squares along the side of a mark, its black border included."""


@dataclass(frozen=True, slots=True)
class Printed:
    """Where the marks of a sheet stand: in the corners of a field of so many millimetres, each with this side."""

    wide: float
    high: float
    mark: float


@dataclass(frozen=True, slots=True)
class Marked:
    """sheet: its number; corners: of the field between the outer corners of its marks, in parts of the photograph,
    clockwise from its upper left."""

    sheet: int
    corners: tuple[Corner, ...]


@cache
def _dictionary() -> cv2.aruco.Dictionary:
    """Marks of 4 × 4 squares, the large set: a thousand, four to a sheet."""
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_1000)


def mark(sheet: int, corner: int) -> NDArray[np.bool_]:
    """The mark of a sheet's corner (6, 6), True where it is black. corner: clockwise from the upper left."""
    return np.asarray(cv2.aruco.generateImageMarker(_dictionary(), 4 * sheet + corner, MARK_CELLS) < 128)


def found_marks(photo: Picture, printed: dict[int, Printed]) -> Marked | None:
    """The sheet whose marks are seen in a photograph, three of its four at least; None if there is none.

    printed: how the sheets that may be seen are printed, by number. Raises InputError (`two_sheets`) if several are
    seen.
    """
    small = scaled(photo, _LONGEST_PHOTO)
    light = small.space.xyz(small.pixels)[..., 1]
    grey = np.rint(srgb_encode(np.clip(light, 0, 1)) * 255).astype(np.uint8)
    how = cv2.aruco.DetectorParameters()
    how.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    seen, ids, _ = cv2.aruco.ArucoDetector(_dictionary(), how).detectMarkers(grey)
    of_sheet: dict[int, dict[int, NDArray[np.float64]]] = {}
    for at, number in zip(seen, () if ids is None else np.ravel(ids), strict=True):
        of_sheet.setdefault(int(number) // 4, {})[int(number) % 4] = np.asarray(at, dtype=float).reshape(4, 2)
    known = {sheet: found for sheet, found in of_sheet.items() if sheet in printed}
    if not known:
        return None
    if sum(len(found) >= _LEAST_MARKS for found in known.values()) > 1:
        raise InputError(
            "two_sheets", "Two sheets lie in this photograph.", "Take one at a time. Nothing was changed.", "photo"
        )
    sheet, found = max(known.items(), key=lambda row: len(row[1]))
    if len(found) < _LEAST_MARKS:
        return None
    size = printed[sheet]
    field = np.array(((0, 0), (size.wide, 0), (size.wide, size.high), (0, size.high)))
    of_mark = np.array(((0, 0), (1, 0), (1, 1), (0, 1))) * size.mark
    from_here, to = [], []
    for corner, at in found.items():
        # A mark stands inside the field, in its corner.
        first = field[corner] - np.array(((0, 0), (1, 0), (1, 1), (0, 1)))[corner] * size.mark
        from_here.append(first + of_mark)
        to.append(at)
    lies = ProjectiveTransform.from_estimate(np.concatenate(from_here), np.concatenate(to))
    if not lies:
        return None
    h, w = grey.shape
    return Marked(sheet, tuple((float(x / w), float(y / h)) for x, y in lies(field)))
