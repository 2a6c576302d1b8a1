"""A photographed drawing laid over its reference: which place of the picture lies where on the sheet."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.errors import InputError

_SHEET, _SMALL = 480, 160
"""Pixels of the longer side: of the sheet as it is laid over, and as the place is first looked for."""
_SMALLEST, _LARGEST, _SIZES, _BEYOND = 0.3, 1.6, 18, 0.3
"""How large the picture may be on the sheet, as a part of what just fits, how many sizes are tried, and how far it may
reach beyond the photograph."""
_LARGER_LIKELIER = 0.15
_ROUNDS, _EPSILON, _EVENED = 80, 1e-5, 5
"""Steps and end of the search for the exact place, and pixels over which both are evened for it."""
_PAPER_L = 96.0
_WRONG, _RIGHT = 0.5, 0.78
"""Likeness below which it is another picture, and from which nothing else is tried. Of drawings in progress the least
was 0.78, of other faces the most 0.63 (measured)."""
DOUBTFUL = 0.68
"""Likeness below which a hand should look whether it lies right."""
_SMOOTH, _FLAT, _LEAST_SEEN = 1.5, 0.3, 0.25
"""Pixels over which both are evened for it, spread of L* below which there is nothing to compare, and how much of the
skin must be seen."""
_FARTHEST = 0.35
"""How far from a plain rectangle the picture may lie, as a part of its side: a sheet is flat."""

Flags = NDArray[np.bool_]
Lines = NDArray[np.float32]


@dataclass(frozen=True, slots=True, eq=False)
class Register:
    """to_sheet (3, 3): takes parts of the picture (x, y, 1) to parts of the squared sheet. like: how alike both are,
    −1 to 1."""

    to_sheet: Floats
    like: float

    def on_sheet(self, points: Floats) -> Floats:
        """Parts of the sheet (n, 2) of parts of the picture (n, 2)."""
        return through(self.to_sheet, points)


def through(matrix: Floats, points: Floats) -> Floats:
    """Points (n, 2) by a projective transformation (3, 3)."""
    at = np.concatenate([np.asarray(points, dtype=float), np.ones((len(points), 1))], axis=1) @ np.asarray(matrix).T
    return np.asarray(at[:, :2] / at[:, 2:])


def registered(sheet: Floats, picture: Floats, skin: Flags, expected: Floats | None = None) -> Register:
    """Where the picture lies on the sheet.

    sheet (h, w): L* of the squared photograph, freed of the lamp; picture (h, w): L* of the reference; skin: whose it
    is in it. expected (3, 3): where it should lie, in parts; the sheet may also have been photographed turned.

    What surrounds the skin may still be paper, so both are tried; the place is found by likeness over sizes, and then
    exactly by the enhanced correlation coefficient. Source: Evangelidis & Psarakis 2008, IEEE TPAMI 30(10).

    Raises InputError (`wrong_drawing`, `mirrored_drawing`).
    """
    light = _sized(np.asarray(sheet, dtype=np.float32), _SHEET)
    drawings = _drawings(picture, skin)
    best = _best(light, drawings, skin, expected)
    if best.like < DOUBTFUL:
        over = _best(np.ascontiguousarray(light[:, ::-1]), drawings, skin, None)
        if over.like > max(DOUBTFUL, best.like):
            raise InputError(
                "mirrored_drawing",
                "This photograph shows the drawing mirrored.",
                "Have the camera not mirror what it takes, or turn the photograph over. Nothing was kept.",
                "photo",
            )
    if best.like < _WRONG:
        raise InputError(
            "wrong_drawing",
            "This does not look like a drawing of this piece's picture.",
            "Photograph all of the drawing, or set the picture's corners on it by hand. Nothing was kept.",
            "photo",
        )
    return best


def _best(light: Lines, drawings: tuple[Lines, Lines], skin: Flags, expected: Floats | None) -> Register:
    """The place where a drawing is most like the sheet."""
    best = Register(np.eye(3), -1.0)
    for start, drawn in _starts(light, drawings, expected):
        # Where something lies on the drawing the exact place may not be found, and the likely one is near enough.
        for found in (_exactly(light, drawn, start), start):
            if found is None:
                continue
            like = _likeness(light, drawings, skin, found)
            if like > best.like:
                best = Register(found, like)
            if best.like > _RIGHT:
                return best
    return best


def by_corners(corners: Floats, sheet: Floats, picture: Floats, skin: Flags) -> Register:
    """Where a hand has set the picture's corners (4, 2), in parts of the sheet, clockwise from its upper left."""
    unit = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], dtype=np.float32)
    found = np.asarray(cv2.getPerspectiveTransform(unit, np.asarray(corners, dtype=np.float32)), dtype=float)
    light = _sized(np.asarray(sheet, dtype=np.float32), _SHEET)
    return Register(found, _likeness(light, _drawings(picture, skin), skin, found))


def _drawings(picture: Floats, skin: Flags) -> tuple[Lines, Lines]:
    """What a drawing may be like: its skin alone on the paper, or all of it."""
    whole = np.asarray(picture, dtype=np.float32)
    return np.where(skin, whole, np.float32(_PAPER_L)), whole


def _starts(light: Lines, drawings: tuple[Lines, ...], expected: Floats | None) -> Iterator[tuple[Floats, Lines]]:
    """Places (3, 3) in parts that may be it, the likeliest first, each with what the drawing was taken to be."""
    if expected is not None:
        for drawn in drawings:
            yield expected, drawn
    small = _sized(light, _SMALL)
    tried = [_placed(small, drawn, turns) for turns in range(4) for drawn in drawings]
    yield from (row for _, row in sorted(tried, key=lambda each: each[0], reverse=True))


def _placed(small: Lines, drawn: Lines, turns: int) -> tuple[float, tuple[Floats, Lines]]:
    """Where on the sheet, turned by so many quarters, a drawing looks most like it, and how much."""
    turned = np.ascontiguousarray(np.rot90(small, turns))
    (h, w), (high, wide) = turned.shape, drawn.shape
    beyond = round(_BEYOND * max(h, w))
    # Where the photograph ends the drawing may go on.
    padded = np.pad(turned, beyond, constant_values=np.float32(np.median(turned)))
    best, place = -np.inf, np.eye(3)
    fits = min(h / high, w / wide)
    for size in [fits * float(part) for part in np.geomspace(_SMALLEST, _LARGEST, _SIZES)]:
        shape = (max(8, round(wide * size)), max(8, round(high * size)))
        fit = cv2.matchTemplate(padded, cv2.resize(drawn, shape, interpolation=cv2.INTER_AREA), cv2.TM_CCOEFF_NORMED)
        _, found, _, (x, y) = cv2.minMaxLoc(fit)
        # Larger is likelier by itself: small pieces of paper look alike.
        like = found * size**_LARGER_LIKELIER
        if like > best:
            left, top = (x - beyond) / w, (y - beyond) / h
            best, place = like, np.array([[shape[0] / w, 0, left], [0, shape[1] / h, top], [0, 0, 1]])
    return best, (_unturned(turns) @ place, drawn)


def _unturned(turns: int) -> Floats:
    """Takes parts of an array that was turned by quarters (np.rot90) to parts of what it was."""
    quarter = np.array([[0.0, -1.0, 1.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    return np.asarray(np.linalg.matrix_power(quarter, turns))


def _exactly(light: Lines, drawn: Lines, start: Floats) -> Floats | None:
    """The place near `start` where the drawing looks most like the sheet; None where there is none."""
    place = start
    for longest, motion in ((_SHEET // 4, cv2.MOTION_AFFINE), (_SHEET // 2, cv2.MOTION_HOMOGRAPHY)):
        sheet, patch = _sized(light, longest), _sized(drawn, longest)
        warp = _to_pixels(sheet.shape) @ place @ np.linalg.inv(_to_pixels(patch.shape))
        warp = (warp / warp[2, 2]).astype(np.float32)
        rows = 2 if motion == cv2.MOTION_AFFINE else 3
        ends = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, _ROUNDS, _EPSILON)
        everything = np.full(sheet.shape, 255, dtype=np.uint8)
        try:
            _, found = cv2.findTransformECC(patch, sheet, warp[:rows], motion, ends, everything, _EVENED)
        except cv2.error:
            return None
        full = np.eye(3)
        full[:rows] = found
        place = np.linalg.inv(_to_pixels(sheet.shape)) @ full @ _to_pixels(patch.shape)
        place = place / place[2, 2]
    return place if _is_plain(place, start) else None


def _is_plain(place: Floats, start: Floats) -> bool:
    """Whether a place is a picture's on a flat sheet, not a fold, and near where it was looked for."""
    unit = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    at, before = through(place, unit), through(start, unit)
    along = np.roll(at, -1, axis=0) - at
    turn = along[:, 0] * np.roll(along, -1, axis=0)[:, 1] - along[:, 1] * np.roll(along, -1, axis=0)[:, 0]
    side = float(np.linalg.norm(np.roll(before, -1, axis=0) - before, axis=1).mean())
    return bool((turn > 0).all() and np.linalg.norm(at - before, axis=1).max() < _FARTHEST * side)


def _likeness(light: Lines, drawings: tuple[Lines, ...], skin: Flags, place: Floats) -> float:
    """How alike sheet and picture are, −1 to 1: the mean of how lightness goes together within the skin, and of how
    its slopes do everywhere, for what the drawing is most like."""
    h, w = _shape(skin.shape, _SHEET // 2)
    its = cv2.resize(skin.astype(np.float32), (w, h), interpolation=cv2.INTER_AREA) > 0.5
    matrix = _to_pixels(light.shape) @ place @ np.linalg.inv(_to_pixels((h, w)))
    how: Any = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    seen = cv2.warpPerspective(light, matrix, (w, h), flags=how, borderValue=-1.0)
    there = seen >= 0
    if int(np.count_nonzero(its & there)) < _LEAST_SEEN * int(np.count_nonzero(its)) or not its.any():
        return -1.0
    sheet = _smooth(np.asarray(seen, dtype=np.float32))
    pictures = [_smooth(_sized(drawn, _SHEET // 2)) for drawn in drawings]
    within = _together(sheet[its & there], pictures[0][its & there])
    slopes = max(_together(_slope(sheet)[there], _slope(other)[there]) for other in pictures)
    return (within + slopes) / 2


def _smooth(light: Lines) -> Lines:
    return np.asarray(cv2.GaussianBlur(light, (0, 0), _SMOOTH), dtype=np.float32)


def _slope(light: Lines) -> Lines:
    return np.hypot(cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1))


def _together(one: Lines, other: Lines) -> float:
    """Correlation (Pearson); 0 for what is all alike."""
    if min(one.std(), other.std()) < _FLAT:
        return 0.0
    return float(np.corrcoef(one, other)[0, 1])


def _to_pixels(shape: tuple[int, ...]) -> Floats:
    """Parts of an array (h, w) to the numbers of its pixels, whose middles lie half a pixel in."""
    h, w = shape[:2]
    return np.array([[w, 0, -0.5], [0, h, -0.5], [0, 0, 1.0]])


def _sized(light: Lines, longest: int) -> Lines:
    h, w = _shape(light.shape, longest)
    how: Any = cv2.INTER_AREA if h < light.shape[0] else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(light, (w, h), interpolation=how), dtype=np.float32)


def _shape(shape: tuple[int, ...], longest: int) -> tuple[int, int]:
    """Height and width with the longer side so long."""
    scale = longest / max(shape)
    return max(1, round(shape[0] * scale)), max(1, round(shape[1] * scale))
