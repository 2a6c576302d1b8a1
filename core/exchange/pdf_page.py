"""What every page that is filled by hand and photographed has in its PDF: marks, title, a line of known length."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from core.photo.marks import MARK_CELLS, mark
from core.photo.squared import Box
from core.photo.swatch_sheet import SwatchSheet

FONT, BOLD, GREY, DOTTED = "Helvetica", "Helvetica-Bold", 0.45, 0.72
_RULER_MM = 50
_SIZES = ((7.5, 3.6, 3), (6.2, 2.9, 4), (5.2, 2.4, 5))
"""Of the lines above, the largest first: points, millimetres from line to line, and how many there may be."""


def frame(canvas: Canvas, page: SwatchSheet, title: str, lines: Sequence[str]) -> None:
    """Marks in the corners, title and some words between those above, the line of known length between those below."""
    left, top, size = page.margin, page.height - page.margin, page.printed
    corners = (
        (left, top),
        (left + size.wide - size.mark, top),
        (left + size.wide - size.mark, top - size.high + size.mark),
        (left, top - size.high + size.mark),
    )
    for corner, (x, y) in enumerate(corners):
        _mark(canvas, page.number, corner, x, y, size.mark)
    between, wide = left + size.mark + 4, size.wide - 2 * size.mark - 8
    canvas.setFillGray(0)
    text(canvas, BOLD, 11, between, top - 4, title.strip(), wide)
    canvas.setFillGray(GREY)
    split = ((*size, simpleSplit(" ".join(lines), FONT, size[0], wide * mm)) for size in _SIZES)
    points, apart, _, rows = next(row for row in split if len(row[3]) <= row[2] or row[:3] == _SIZES[-1])
    for number, row in enumerate(rows):
        text(canvas, FONT, points, between, top - 9 - apart * number, row, wide)
    _ruler(canvas, between, top - size.high + 3)


def place(canvas: Canvas, page: SwatchSheet, box: Box) -> tuple[float, float, float]:
    """The frame of a place; where words under it begin and how wide they may be: x, y, width in millimetres."""
    size = page.printed
    x = page.margin + box.left * size.wide
    y = page.height - page.margin - box.bottom * size.high
    wide, high = (box.right - box.left) * size.wide, (box.bottom - box.top) * size.high
    canvas.setStrokeGray(DOTTED)
    canvas.setLineWidth(0.25 * mm)
    canvas.rect(x * mm, y * mm, wide * mm, high * mm)
    return x, y, wide


def _mark(canvas: Canvas, number: int, corner: int, x: float, top: float, size: float) -> None:
    """One mark, squares in a row as one bar: between bars no white line shows."""
    cell = size / MARK_CELLS
    canvas.setFillGray(0)
    canvas.rect(x * mm, (top - size) * mm, size * mm, size * mm, stroke=0, fill=1)
    canvas.setFillGray(1)
    for row, squares in enumerate(mark(number, corner)):
        for column, black in enumerate(squares):
            if not black:
                canvas.rect(
                    (x + column * cell) * mm, (top - (row + 1) * cell) * mm, cell * mm, cell * mm, stroke=0, fill=1
                )


def _ruler(canvas: Canvas, x: float, y: float) -> None:
    """A line of known length: whether the printer has scaled the page."""
    canvas.setStrokeGray(GREY)
    canvas.setLineWidth(0.2 * mm)
    canvas.line(x * mm, y * mm, (x + _RULER_MM) * mm, y * mm)
    for end in (x, x + _RULER_MM):
        canvas.line(end * mm, (y - 1) * mm, end * mm, (y + 1) * mm)
    text(canvas, FONT, 6.5, x, y - 4, f"{_RULER_MM} mm, if printed at its true size (100 %)", _RULER_MM * 2)


def text(canvas: Canvas, font: str, points: float, x: float, y: float, text: str, wide: float) -> None:
    """A line, cut where it would be too long. Letters outside Latin 1 are not in the fonts that every reader has."""
    said = text.encode("latin-1", "replace").decode("latin-1")
    while said and canvas.stringWidth(said, font, points) > wide * mm:
        said = said[:-2].rstrip() + "." if len(said) > 2 else ""
    canvas.setFont(font, points)
    canvas.drawString(x * mm, y * mm, said)
