"""What every page that is filled by hand and photographed has: marks, title, a line of known length."""

from __future__ import annotations

from collections.abc import Sequence

from core.exchange.pen import BLACK, DOTTED, GREY, Pen, wrapped
from core.photo.marks import MARK_CELLS, mark
from core.photo.squared import Box
from core.photo.swatch_sheet import SwatchSheet

WHITE = "#ffffff"
_RULER_MM = 50
_SIZES = ((7.5, 3.6, 3), (6.2, 2.9, 4), (5.2, 2.4, 5))
"""Of the lines above, the largest first: points, millimetres from line to line, and how many there may be."""


def begin(pen: Pen, page: SwatchSheet, title: str, lines: Sequence[str]) -> None:
    """A page with marks in the corners, title and some words between those above, the line of known length between
    those below."""
    pen.page(page.width, page.height)
    left, top, size = page.margin, page.margin, page.printed
    corners = (
        (left, top),
        (left + size.wide - size.mark, top),
        (left + size.wide - size.mark, top + size.high - size.mark),
        (left, top + size.high - size.mark),
    )
    for corner, (x, y) in enumerate(corners):
        _mark(pen, page.number, corner, x, y, size.mark)
    between, wide = left + size.mark + 4, size.wide - 2 * size.mark - 8
    pen.words(between, top + 4, title.strip(), 11, wide, bold=True)
    split = ((*size, wrapped(" ".join(lines), size[0], wide)) for size in _SIZES)
    points, apart, _, rows = next(row for row in split if len(row[3]) <= row[2] or row[:3] == _SIZES[-1])
    for number, row in enumerate(rows):
        pen.words(between, top + 9 + apart * number, row, points, wide, colour=GREY)
    _ruler(pen, between, top + size.high - 3)


def place(pen: Pen, page: SwatchSheet, box: Box) -> tuple[float, float, float]:
    """The frame of a place; where words under it begin and how wide they may be: x, y, width in millimetres."""
    size = page.printed
    x, y = page.margin + box.left * size.wide, page.margin + box.top * size.high
    wide, high = (box.right - box.left) * size.wide, (box.bottom - box.top) * size.high
    pen.rect(x, y, wide, high, edge=DOTTED)
    return x, y + high, wide


def _mark(pen: Pen, number: int, corner: int, x: float, y: float, size: float) -> None:
    cell = size / MARK_CELLS
    pen.rect(x, y, size, size, fill=BLACK)
    for row, squares in enumerate(mark(number, corner)):
        for column, black in enumerate(squares):
            if not black:
                pen.rect(x + column * cell, y + row * cell, cell, cell, fill=WHITE)


def _ruler(pen: Pen, x: float, y: float) -> None:
    """A line of known length: whether the printer has scaled the page."""
    pen.rect(x, y - 0.1, _RULER_MM, 0.2, fill=GREY)  # a line would end round, and be longer
    for end in (x, x + _RULER_MM):
        pen.line([(end, y - 1), (end, y + 1)], 0.2, colour=GREY)
    pen.words(x, y + 4, f"{_RULER_MM} mm, if printed at its true size (100 %)", 6.5, _RULER_MM * 2, colour=GREY)
