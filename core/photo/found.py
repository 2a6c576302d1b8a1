"""What lies in a photograph, looked for: the sheet's corners, and the swatches on it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.filters import threshold_otsu
from skimage.measure import label, regionprops
from skimage.morphology import convex_hull_image, disk

from core.colour.spaces import SRGB, xyz_to_lab
from core.errors import InputError
from core.look.picture import Picture
from core.look.views import scaled
from core.photo.squared import Box, Corner, Flat, check_corners

_SHEET_PIXELS = 400
_LEAST_SHEET, _FILLED = 0.12, 0.9
"""How much of the photograph a sheet takes at least, and how much of its four corners' field."""
_SWATCH_PIXELS = 500
_OFF_PAPER = 5.0
"""ΔE*ab from the paper beyond which something is laid on it."""
_SMALLEST = 0.012
"""Side of a swatch, as a part of the sheet's longer one."""
_UNLIKE, _FULL = 3.2, 0.6
"""How many times larger or smaller than the usual one a swatch may be, and how much of its box it fills."""
_INSIDE = 0.94
_ROUNDS, _DARKEST = 3, 1.5
"""How often the lamp is told from the sheet and the sheet from the lamp; logarithms of light that differ enough."""
_ENDS, _LEAST_POINTS, _PARALLEL = 0.12, 8, 0.2
"""Which part of a side at its ends does not count, how many points a side needs, and how nearly two may be one."""


def found_sheet(photo: Picture) -> tuple[Corner, ...] | None:
    """The corners of a light sheet on something darker, in parts of the photograph, clockwise from the upper left; None
    where that is not plain."""
    small = scaled(photo, _SHEET_PIXELS)
    light = np.log(np.maximum(small.space.xyz(small.pixels)[..., 1], 1e-3))
    light = ndimage.gaussian_filter(light, 1.0)
    sheet = _largest(light > threshold_otsu(light))
    for _ in range(_ROUNDS):
        if not sheet.any():
            return None
        # A lamp at one side leaves the other side of the sheet darker than a table beside the lamp.
        even = light - _lamp_on(light, sheet)
        sheet = _largest(even > threshold_otsu(np.clip(even, -_DARKEST, _DARKEST)))
    h, w = sheet.shape
    if sheet.mean() < _LEAST_SHEET:
        return None
    hull = convex_hull_image(sheet)
    at = _four_corners(hull)
    if at is None or sheet.sum() < _FILLED * _area(at):
        return None
    try:
        check_corners(at, max(w, h))
    except InputError:
        return None
    return tuple((float(x / w), float(y / h)) for x, y in at)


def _largest(mask: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """The largest part of it, with what lies in it."""
    parts, _ = ndimage.label(mask)
    sizes = np.bincount(parts.ravel())[1:]
    part = parts == 1 + np.argmax(sizes) if sizes.size else np.zeros_like(mask)
    return np.asarray(ndimage.binary_fill_holes(ndimage.binary_opening(part, disk(2))))


def _lamp_on(light: NDArray[np.float64], sheet: NDArray[np.bool_]) -> NDArray[np.float64]:
    """What the sheet's lightness, a plane through what seems to be it, would be everywhere."""
    y, x = np.mgrid[0 : light.shape[0], 0 : light.shape[1]]
    terms = np.stack([np.ones_like(x), x, y], axis=-1).astype(float)
    held = sheet & (light > np.percentile(light[sheet], 40))
    fit, *_ = np.linalg.lstsq(terms[held], light[held], rcond=None)
    return np.asarray(terms @ fit)


def _four_corners(hull: NDArray[np.bool_]) -> NDArray[np.float64] | None:
    """The four corners (x, y) in pixels that hold most of a convex field: the one whose loss is least is given up."""
    edge = hull & ~ndimage.binary_erosion(hull)
    y, x = np.nonzero(edge)
    middle = np.array([x.mean(), y.mean()])
    points = np.stack([x, y], axis=1).astype(float)
    order = np.argsort(np.arctan2(points[:, 1] - middle[1], points[:, 0] - middle[0]))
    held = points[order]
    if len(held) < 4:
        return None
    while len(held) > 4:
        before, after = np.roll(held, 1, axis=0), np.roll(held, -1, axis=0)
        lost = np.abs(
            (held[:, 0] - before[:, 0]) * (after[:, 1] - before[:, 1])
            - (held[:, 1] - before[:, 1]) * (after[:, 0] - before[:, 0])
        )
        held = np.delete(held, int(np.argmin(lost)), axis=0)
    held = _by_sides(held, points)
    first = int(np.argmin(held.sum(axis=1)))
    return np.roll(held, -first, axis=0) + 0.5


def _by_sides(corners: NDArray[np.float64], edge: NDArray[np.float64]) -> NDArray[np.float64]:
    """The corners where lines through the points of an edge meet: the corners themselves may be rounded or bent."""
    along = np.roll(corners, -1, axis=0) - corners
    far = np.maximum(np.linalg.norm(along, axis=1), 1.0)
    unit = along / far[:, None]
    offset = edge[:, None] - corners[None]
    part = (offset * unit).sum(axis=2) / far
    beside = np.abs(offset[..., 0] * unit[:, 1] - offset[..., 1] * unit[:, 0])
    beside[(part < _ENDS) | (part > 1 - _ENDS)] = np.inf
    nearest = np.argmin(beside, axis=1)
    lines = []
    for side in range(4):
        near = edge[(nearest == side) & (beside[:, side] < _ENDS * far[side])]
        if len(near) < _LEAST_POINTS:
            return corners
        middle = near.mean(axis=0)
        normal = np.linalg.svd(near - middle, full_matrices=False)[2][1]
        lines.append((*normal, normal @ middle))
    found = []
    for before, after in zip(np.roll(lines, 1, axis=0), np.array(lines), strict=True):
        both = np.array([before[:2], after[:2]])
        if abs(np.linalg.det(both)) < _PARALLEL:
            return corners
        found.append(np.linalg.solve(both, [before[2], after[2]]))
    return np.array(found)


def _area(at: NDArray[np.float64]) -> float:
    x, y = at[:, 0], at[:, 1]
    return float(abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2)


def found_swatches(flat: Flat, field: NDArray[np.float32]) -> list[Box]:
    """Where something of one size is laid on a sheet, row by row. field: as core.photo.field.paper_field tells it.

    Swatches as light as the paper are not found, and those that touch are taken for one.
    """
    step = max(1, max(flat.burnt.shape) // _SWATCH_PIXELS)
    even = ndimage.gaussian_filter(flat.rgb[::step, ::step] / field[::step, ::step], (1, 1, 0))
    lab = xyz_to_lab(np.maximum(even, 0) @ SRGB.to_xyz)
    laid = np.linalg.norm(lab - np.array([100.0, 0.0, 0.0]), axis=2) > _OFF_PAPER
    laid = ndimage.binary_opening(ndimage.binary_fill_holes(laid), disk(2))
    h, w = laid.shape
    least = max(4.0, _SMALLEST * max(h, w))
    held = []
    for part in regionprops(label(laid)):
        top, left, bottom, right = part.bbox
        whole = min(bottom - top, right - left) >= least and part.area >= _FULL * part.area_bbox
        if whole and top > 0 and left > 0 and bottom < h and right < w:
            held.append(part)
    if not held:
        return []
    usual = float(np.median([part.area for part in held]))
    held = [part for part in held if usual / _UNLIKE <= part.area <= usual * _UNLIKE]
    boxes = [_box(part.bbox, h, w) for part in held]
    return _row_by_row(boxes)


def _box(bbox: tuple[int, int, int, int], h: int, w: int) -> Box:
    top, left, bottom, right = bbox
    x, y, half_x, half_y = (left + right) / 2, (top + bottom) / 2, (right - left) / 2, (bottom - top) / 2
    return Box(
        (x - half_x * _INSIDE) / w, (y - half_y * _INSIDE) / h, (x + half_x * _INSIDE) / w, (y + half_y * _INSIDE) / h
    )


def _row_by_row(boxes: list[Box]) -> list[Box]:
    """As one reads: those whose middle is within the height of a row stand in it."""
    rows: list[list[Box]] = []
    for box in sorted(boxes, key=lambda each: each.top + each.bottom):
        row = rows[-1] if rows else []
        middle = (box.top + box.bottom) / 2
        if row and middle < np.mean([each.top * 0.2 + each.bottom * 0.8 for each in row]):
            row.append(box)
        else:
            rows.append([box])
    return [box for row in rows for box in sorted(row, key=lambda each: each.left)]
