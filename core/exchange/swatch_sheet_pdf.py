"""Sheets for swatches as PDF, at true size."""

from __future__ import annotations

import io
from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.exchange.pdf_page import BOLD, FONT, GREY, frame, place, text
from core.optics.stick import Stick
from core.photo.swatch_sheet import SwatchSheet, pages_for

_HOW = (
    "Lay every swatch closed and heavy, until no paper shows, up to its frame.",
    "Keep the rest of the sheet white, and let it dry.",
    "Photograph all of it from above, in even light, without flash.",
)


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
    frame(canvas, page, title, _HOW)
    for i, box in enumerate(page.places):
        if sticks and i >= len(sticks):
            break
        x, y, wide = place(canvas, page, box)
        if sticks:
            canvas.setFillGray(0)
            text(canvas, BOLD, 9, x, y - 3.4, sticks[i].code, wide)
            canvas.setFillGray(GREY)
            text(canvas, FONT, 6, x, y - 6, sticks[i].name, wide)
        else:
            canvas.setLineWidth(0.15 * mm)
            canvas.line(x * mm, (y - 5.5) * mm, (x + wide) * mm, (y - 5.5) * mm)
