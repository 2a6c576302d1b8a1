"""Swatches read from a photograph, by the paper they lie on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, lab_to_xyz, xyz_to_lab
from core.errors import InputError
from core.look.picture import Picture
from core.photo.chart import read_chart
from core.photo.field import paper_field
from core.photo.found import found_sheet, found_swatches
from core.photo.lens import Known, Undone, undone_beside
from core.photo.marks import found_marks
from core.photo.squared import EVERYWHERE, WHOLE, Box, Corner, Flat, squared
from core.photo.swatch_sheet import sheets

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

CHART_DOUBT = 1.5
"""The same with a chart of known patches beside it."""
_MANY = 3
_ELSE = "Most of what is marked is no even swatch: move the marks, or is this a photograph of something else?"
IS_EMPTY = "It is as light as the paper: is it empty?"
GLARES = "A lamp shines on it: tilt the sheet, and photograph it again."
IS_UNEVEN = "It is laid unevenly, or the box lies over its edge: close it, or move the box."
KNOWN_DOUBT = 1.9
"""The same with sticks beside it that were measured before."""
_LEAST_KNOWN = 6
"""How many swatches must be known for the camera to be told from them."""


@dataclass(frozen=True, slots=True)
class SwatchReading:
    """lab: CIELAB as it would look under daylight; spread: ΔE00 between its parts; doubt: by how much it may be off,
    ΔE00; said: what is wrong with it, a sentence, empty if nothing is."""

    lab: tuple[float, float, float]
    spread: float
    doubt: float
    said: str


@dataclass(frozen=True, slots=True)
class SheetRead:
    """corners: of the sheet, in parts of the photograph; size: pixels across and down once it is squared up; boxes,
    readings: of its swatches, row by row; first: of a printed sheet, how many sticks stand on the pages before; said:
    what is wrong with all of it, a sentence, empty if nothing is; usual: ΔE00 by which such readings are off in the
    median."""

    corners: tuple[Corner, ...]
    size: tuple[int, int]
    boxes: tuple[Box, ...]
    readings: tuple[SwatchReading, ...]
    first: int | None = None
    said: str = ""
    usual: float = DOUBT


def grid(rows: int, columns: int, frame: Box = EVERYWHERE, gap: float = 0.2) -> list[Box]:
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


def read_sheet(
    photo: Picture,
    corners: Sequence[Corner] | None = None,
    boxes: Sequence[Box] | None = None,
    chart: Sequence[Corner] | None = None,
    paper: ArrayLike = WHITE_PAPER,
    cells: bool = False,
) -> SheetRead:
    """A sheet with swatches: what is not said of it is looked for.

    corners: in parts of the photograph; without them those that printed marks tell, or those of the sheet as far as it
    is plain. boxes: without them the places of a printed sheet, or what seems to be laid; none may be found. chart:
    corners of a chart of 24 patches, in parts of the sheet. cells: whether each box is a place with a swatch somewhere
    in it, which then is looked for. Raises what `read_swatches` raises.
    """
    printed = {number: sheet.printed for number, sheet in sheets().items()}
    marked = found_marks(photo, printed) if boxes is None else None
    sheet = sheets()[marked.sheet] if marked else None
    at = tuple(corners or (marked.corners if marked else None) or found_sheet(photo) or WHOLE)
    flat = squared(photo, at, sheet.printed.wide / sheet.printed.high if sheet else None)
    if sheet:
        boxes = sheet.places
    elif boxes is None or cells:
        laid = [box for box in found_swatches(flat, paper_field(flat)) if not (chart and _within(box, chart))]
        boxes = laid if boxes is None else [_in_cell(box, laid) for box in boxes]
    readings = _readings(flat, boxes, chart, np.asarray(paper, dtype=float), {}) if boxes else []
    if sheet:
        # A printed sheet is seldom filled to its end.
        last = 1 + max((i for i, reading in enumerate(readings) if reading.said != IS_EMPTY), default=-1)
        boxes, readings = boxes[:last], readings[:last]
    doubtful = sum(bool(reading.said) for reading in readings)
    said = _ELSE if doubtful >= _MANY and doubtful > len(readings) / 2 else ""
    first = sheet.first if sheet else None
    usual = CHART_DOUBT if chart else DOUBT
    return SheetRead(at, flat.burnt.shape[::-1], tuple(boxes), tuple(readings), first, said, usual)


def _in_cell(cell: Box, laid: Sequence[Box]) -> Box:
    """The swatch whose middle lies in a cell, the cell itself where none seems to be laid."""
    for box in laid:
        x, y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
        if cell.left <= x <= cell.right and cell.top <= y <= cell.bottom:
            return box
    return cell


def _within(box: Box, chart: Sequence[Corner]) -> bool:
    (left, top), (right, bottom) = np.min(chart, axis=0), np.max(chart, axis=0)
    return bool(left < (box.left + box.right) / 2 < right and top < (box.top + box.bottom) / 2 < bottom)


def read_swatches(
    photo: Picture,
    corners: Sequence[Corner] | None,
    boxes: Sequence[Box],
    paper: ArrayLike = WHITE_PAPER,
    chart: Sequence[Corner] | None = None,
    known: Mapping[int, Known] | None = None,
    ratio: float | None = None,
) -> list[SwatchReading]:
    """The swatches in these boxes. paper: CIELAB of the bare sheet; chart: see `read_sheet`; known: what was measured
    before of some of the boxes, by their indices; ratio: of the sheet's width to its height, if that is known.

    Raises InputError (`no_swatches`, `too_many_swatches`, `overlapping`, `bad_corners`, `no_paper`, `too_small`,
    `all_alike`, `chart_outside`, `no_chart`).
    """
    return _readings(squared(photo, corners, ratio), boxes, chart, np.asarray(paper, dtype=float), known or {})


def _readings(
    flat: Flat,
    boxes: Sequence[Box],
    chart: Sequence[Corner] | None,
    paper: NDArray[np.float64],
    known: Mapping[int, Known],
) -> list[SwatchReading]:
    _check(boxes)
    covered = np.zeros(flat.burnt.shape, dtype=bool)
    for box in boxes:
        covered[_pixels(flat, box, 1.1)] = True
    if chart:
        (left, top), (right, bottom) = np.clip(np.min(chart, axis=0), 0, 1), np.clip(np.max(chart, axis=0), 0, 1)
        covered[_pixels(flat, Box(left, top, right, bottom), 1.2)] = True
    white = lab_to_xyz(paper) @ np.linalg.inv(SRGB.to_xyz)
    daylight = flat.rgb / paper_field(flat, covered) * white.astype(np.float32)
    if chart:
        camera, usual = read_chart(daylight, chart), CHART_DOUBT
    elif len(known) >= _LEAST_KNOWN:
        camera, usual = _by_known(flat, daylight, boxes, paper, white, known), KNOWN_DOUBT
    else:
        camera, usual = None, DOUBT
    found = [_read(flat, daylight, box, paper, camera, usual) for box in boxes]
    labs = np.array([reading.lab for reading in found])
    laid = any(reading.said != IS_EMPTY for reading in found)
    if laid and len(labs) > 2 and ciede2000(labs, labs.mean(axis=0)).max() < _ALL_ALIKE:
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


def _read(
    flat: Flat,
    daylight: NDArray[np.float32],
    box: Box,
    paper: NDArray[np.float64],
    camera: Undone | None,
    usual: float,
) -> SwatchReading:
    where = _pixels(flat, box, _CENTRE)
    held = daylight[where]
    if held.shape[0] * held.shape[1] < _LEAST_PIXELS:
        raise InputError("too_small", "A swatch is too small in this photograph.", "Go nearer.", "boxes")
    seen = _lab(_trimmed(held.reshape(-1, 3)))
    lab = _lab(camera.true(_trimmed(held.reshape(-1, 3)))) if camera else seen
    parts = [
        _lab(_trimmed(cell.reshape(-1, 3)))
        for band in np.array_split(held, _BLOCK, axis=0)
        for cell in np.array_split(band, _BLOCK, axis=1)
        if cell.size
    ]
    spread = float(ciede2000(np.array(parts), seen).mean())
    said = ""
    if flat.burnt[where].mean() > _GLARE:
        said = GLARES
    elif ciede2000(seen, paper) < _EMPTY:
        said = IS_EMPTY
    elif spread > _UNEVEN:
        said = IS_UNEVEN
    lightness, a, b = lab.round(2).tolist()
    doubt = float(np.hypot(usual, spread / 2))
    return SwatchReading((lightness, a, b), round(spread, 2), round(doubt, 2), said)


def _by_known(
    flat: Flat,
    daylight: NDArray[np.float32],
    boxes: Sequence[Box],
    paper: NDArray[np.float64],
    white: NDArray[np.float64],
    known: Mapping[int, Known],
) -> Undone:
    """What the camera did, told from the paper and from swatches that were measured before."""
    seen = [_trimmed(daylight[_pixels(flat, boxes[i], _CENTRE)].reshape(-1, 3)) for i in known]
    return undone_beside(white, paper, np.array(seen), list(known.values()))


def _trimmed(rgb: NDArray[np.float32]) -> NDArray[np.float64]:
    """The mean of what lies between the darkest and the lightest tenth."""
    order = np.argsort(rgb.sum(axis=1))
    cut = int(_TRIMMED * len(order))
    return np.asarray(rgb[order[cut : len(order) - cut]].mean(axis=0), dtype=float)


def _lab(rgb: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(xyz_to_lab(np.maximum(rgb, 0.0) @ SRGB.to_xyz), dtype=float)
