"""Sheets for swatches as PDF, at true size."""

from __future__ import annotations

import io
from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.optics.stick import Stick
from core.photo.marks import MARK_CELLS, mark
from core.photo.swatch_sheet import SwatchSheet, pages_for

_HOW = (
    "Lay every swatch closed and heavy, until no paper shows, up to its frame.",
    "Keep the rest of the sheet white, and let it dry.",
    "Photograph all of it from above, in even light, without flash.",
)
_FONT, _BOLD, _GREY, _DOTTED = "Helvetica", "Helvetica-Bold", 0.45, 0.72
_RULER_MM = 50


def write_swatch_sheet(paper: str, sticks: Sequence[Stick], title: str = "") -> bytes:
    """The pages for these sticks, one place each with its number and name; one page with empty lines if there are none.

    Raises InputError (`unknown_size`).
    """
    out = io.BytesIO()
    pages = pages_for(paper, sticks)
    canvas = Canvas(out, pagesize=(pages[0].width * mm, pages[0].height * mm), invariant=True)
    canvas.setTitle(title or "Swatches")
    canvas.setCreator("Caltin")
    for number, page in enumerate(pages, 1):
        _page(
            canvas,
            page,
            sticks[page.first : page.first + len(page.places)],
            f"{title} {number}/{len(pages)}" if len(pages) > 1 else title,
        )
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas: Canvas, page: SwatchSheet, sticks: Sequence[Stick], title: str) -> None:
    left, top, size = page.margin, page.height - page.margin, page.printed
    corners = (
        (left, top),
        (left + size.wide - size.mark, top),
        (left + size.wide - size.mark, top - size.high + size.mark),
        (left, top - size.high + size.mark),
    )
    for corner, (x, y) in enumerate(corners):
        _mark(canvas, page.number, corner, x, y, size.mark)
    between = left + size.mark + 4
    canvas.setFillGray(0)
    _text(canvas, _BOLD, 11, between, top - 4, title.strip(), size.wide - 2 * size.mark - 8)
    canvas.setFillGray(_GREY)
    for line, said in enumerate(_HOW):
        _text(canvas, _FONT, 7.5, between, top - 9 - 3.6 * line, said, size.wide - 2 * size.mark - 8)
    _ruler(canvas, between, top - size.high + 3)
    for i, place in enumerate(page.places):
        if sticks and i >= len(sticks):
            break
        x, y = left + place.left * size.wide, top - place.bottom * size.high
        wide, high = (place.right - place.left) * size.wide, (place.bottom - place.top) * size.high
        canvas.setStrokeGray(_DOTTED)
        canvas.setLineWidth(0.25 * mm)
        canvas.rect(x * mm, y * mm, wide * mm, high * mm)
        if sticks:
            canvas.setFillGray(0)
            _text(canvas, _BOLD, 9, x, y - 3.4, sticks[i].code, wide)
            canvas.setFillGray(_GREY)
            _text(canvas, _FONT, 6, x, y - 6, sticks[i].name, wide)
        else:
            canvas.setLineWidth(0.15 * mm)
            canvas.line(x * mm, (y - 5.5) * mm, (x + wide) * mm, (y - 5.5) * mm)


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
    canvas.setStrokeGray(_GREY)
    canvas.setLineWidth(0.2 * mm)
    canvas.line(x * mm, y * mm, (x + _RULER_MM) * mm, y * mm)
    for end in (x, x + _RULER_MM):
        canvas.line(end * mm, (y - 1) * mm, end * mm, (y + 1) * mm)
    _text(canvas, _FONT, 6.5, x, y - 4, f"{_RULER_MM} mm, if printed at its true size (100 %)", _RULER_MM * 2)


def _text(canvas: Canvas, font: str, points: float, x: float, y: float, text: str, wide: float) -> None:
    """A line, cut where it would be too long. Letters outside Latin 1 are not in the fonts that every reader has."""
    said = text.encode("latin-1", "replace").decode("latin-1")
    while said and canvas.stringWidth(said, font, points) > wide * mm:
        said = said[:-2].rstrip() + "." if len(said) > 2 else ""
    canvas.setFont(font, points)
    canvas.drawString(x * mm, y * mm, said)
