"""Swatches read from a photograph, by the paper they lie on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, lab_to_xyz, xyz_to_lab
from core.errors import InputError
from core.look.picture import Picture
from core.photo.field import paper_field
from core.photo.squared import Corner, Flat, squared

MOST_SWATCHES = 400
WHITE_PAPER = (96.0, 0.0, 1.5)
_CENTRE = 0.6
"""Which part of a swatch's width and height is read: its edges are laid unevenly."""
_LEAST_PIXELS = 30
_TRIMMED = 0.1
_BLOCK = 4
"""Tooth and noise are no unevenness: it is told from blocks of so many by so many parts of a swatch."""
_UNEVEN, _EMPTY, _GLARE = 6.0, 3.0, 0.08
_ALL_ALIKE = 2.5
DOUBT = 2.4
"""ΔE00 by which a reading on the paper alone is off in the median, with the mild tone curve of a phone (on simulated
photographs it is less, see tests/core/photo; real ones were not measured)."""


@dataclass(frozen=True, slots=True)
class Box:
    """Where a swatch lies on the squared sheet, in parts of its width and height."""

    left: float
    top: float
    right: float
    bottom: float


@dataclass(frozen=True, slots=True)
class SwatchReading:
    """lab: CIELAB as it would look under daylight; spread: ΔE00 between its parts; doubt: by how much it may be off,
    ΔE00; said: what is wrong with it, a sentence, empty if nothing is."""

    lab: tuple[float, float, float]
    spread: float
    doubt: float
    said: str


def grid(rows: int, columns: int, frame: Box = Box(0, 0, 1, 1), gap: float = 0.2) -> list[Box]:  # a value
    """Boxes in rows and columns over a frame, row by row. gap: between them, as a part of a cell.

    Raises InputError (`bad_grid`).
    """
    if not (1 <= rows <= 60 and 1 <= columns <= 60 and rows * columns <= MOST_SWATCHES and 0 <= gap < 0.9):
        raise InputError(
            "bad_grid", f"{rows} rows of {columns} are too many.", f"Read {MOST_SWATCHES} at most.", "grid"
        )
    wide, high = (frame.right - frame.left) / columns, (frame.bottom - frame.top) / rows
    return [
        Box(
            frame.left + (column + gap / 2) * wide,
            frame.top + (row + gap / 2) * high,
            frame.left + (column + 1 - gap / 2) * wide,
            frame.top + (row + 1 - gap / 2) * high,
        )
        for row in range(rows)
        for column in range(columns)
    ]


def read_swatches(
    photo: Picture, corners: Sequence[Corner] | None, boxes: Sequence[Box], paper: ArrayLike = WHITE_PAPER
) -> list[SwatchReading]:
    """The swatches in these boxes. paper: CIELAB of the bare sheet.

    Raises InputError (`no_swatches`, `too_many_swatches`, `overlapping`, `bad_corners`, `no_paper`, `too_small`,
    `all_alike`).
    """
    _check(boxes)
    flat = squared(photo, corners)
    covered = np.zeros(flat.burnt.shape, dtype=bool)
    for box in boxes:
        covered[_pixels(flat, box, 1.1)] = True
    white = lab_to_xyz(np.asarray(paper, dtype=float)) @ np.linalg.inv(SRGB.to_xyz)
    daylight = flat.rgb / paper_field(flat, covered) * white.astype(np.float32)
    found = [_read(flat, daylight, box, np.asarray(paper, dtype=float)) for box in boxes]
    labs = np.array([reading.lab for reading in found])
    if len(labs) > 2 and ciede2000(labs, labs.mean(axis=0)).max() < _ALL_ALIKE:
        raise InputError(
            "all_alike",
            "All of these swatches have one colour.",
            "Look whether the grid lies on the swatches. Nothing was kept.",
            "photo",
        )
    return found


def _check(boxes: Sequence[Box]) -> None:
    if not boxes:
        raise InputError("no_swatches", "No swatch is marked.", "Lay the grid over them, or tap each.", "boxes")
    if len(boxes) > MOST_SWATCHES:
        raise InputError("too_many_swatches", f"{len(boxes)} are marked.", f"Read {MOST_SWATCHES} at most.", "boxes")
    for box in boxes:
        if not (0 <= box.left < box.right <= 1 and 0 <= box.top < box.bottom <= 1):
            raise InputError("bad_box", "A swatch lies outside the sheet.", "Move it onto the paper.", "boxes")
    for number, one in enumerate(boxes):
        for other in boxes[number + 1 :]:
            across = min(one.right, other.right) - max(one.left, other.left)
            down = min(one.bottom, other.bottom) - max(one.top, other.top)
            if across > 1e-9 and down > 1e-9:
                raise InputError("overlapping", "Two swatches lie upon each other.", "Move one of them.", "boxes")


def _pixels(flat: Flat, box: Box, part: float) -> tuple[slice, slice]:
    """Rows and columns of the middle of a box, or of what is around it where `part` is over 1."""
    h, w = flat.burnt.shape
    middle_x, middle_y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
    half_x, half_y = (box.right - box.left) / 2 * part, (box.bottom - box.top) / 2 * part
    rows = slice(max(0, round((middle_y - half_y) * h)), min(h, round((middle_y + half_y) * h)))
    return rows, slice(max(0, round((middle_x - half_x) * w)), min(w, round((middle_x + half_x) * w)))


def _read(flat: Flat, daylight: NDArray[np.float32], box: Box, paper: NDArray[np.float64]) -> SwatchReading:
    where = _pixels(flat, box, _CENTRE)
    held = daylight[where]
    if held.shape[0] * held.shape[1] < _LEAST_PIXELS:
        raise InputError("too_small", "A swatch is too small in this photograph.", "Go nearer.", "boxes")
    lab = _lab(_trimmed(held.reshape(-1, 3)))
    parts = [
        _lab(_trimmed(cell.reshape(-1, 3)))
        for band in np.array_split(held, _BLOCK, axis=0)
        for cell in np.array_split(band, _BLOCK, axis=1)
        if cell.size
    ]
    spread = float(ciede2000(np.array(parts), lab).mean())
    said = ""
    if flat.burnt[where].mean() > _GLARE:
        said = "A lamp shines on it: tilt the sheet, and photograph it again."
    elif ciede2000(lab, paper) < _EMPTY:
        said = "It is as light as the paper: is it empty?"
    elif spread > _UNEVEN:
        said = "It is laid unevenly, or the box lies over its edge: close it, or move the box."
    lightness, a, b = lab.round(2).tolist()
    return SwatchReading((lightness, a, b), round(spread, 2), round(float(np.hypot(DOUBT, spread / 2)), 2), said)


def _trimmed(rgb: NDArray[np.float32]) -> NDArray[np.float64]:
    """The mean of what lies between the darkest and the lightest tenth."""
    order = np.argsort(rgb.sum(axis=1))
    cut = int(_TRIMMED * len(order))
    return np.asarray(rgb[order[cut : len(order) - cut]].mean(axis=0), dtype=float)


def _lab(rgb: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(xyz_to_lab(np.maximum(rgb, 0.0) @ SRGB.to_xyz), dtype=float)
