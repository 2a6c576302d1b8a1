"""Trial cards as PDF, at true size."""

from __future__ import annotations

import io

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from core.colour.spaces import Floats, lab_to_hex
from core.exchange.pdf_page import BOLD, FONT, GREY, frame, place, text
from core.photo.swatch_sheet import SwatchSheet
from core.trial.card import KINDS, Card, instructions

_HOW = (
    "On the paper of the piece: print this on it, or trace frames and marks. Lay each box up to its frame.",
    "Let every layer dry before the next. Leave out what you like; keep the rest of the card white.",
    "Photograph all of it from above, in even light, without flash.",
)
_FORESEEN_MM = 5.0
_LINE_MM, _MOST_LINES = 2.7, 4
_RULER_TAKES_MM, _CAUTION_LINES = 55.0, 5


def write_card(card: Card, foreseen: Floats, title: str = "", caution: str = "") -> bytes:
    """All pages of a card. foreseen: CIELAB (n, 3) of its boxes, small beside each. caution: said at the foot."""
    out = io.BytesIO()
    pages = card.pages()
    canvas = Canvas(out, pagesize=(pages[0].width * mm, pages[0].height * mm), invariant=True)
    canvas.setTitle(title or KINDS[card.kind].name)
    canvas.setCreator("Caltin")
    for count, page in enumerate(pages, 1):
        number = f"Card {card.number}, page {count} of {len(pages)}" if len(pages) > 1 else f"Card {card.number}"
        frame(canvas, page, f"{number} · {title or KINDS[card.kind].name}", _HOW)
        _caution(canvas, page, caution)
        for i, cell in enumerate(card.on(page)):
            x, y, wide = place(canvas, page, page.places[i])
            corner, side = ((x + wide - _FORESEEN_MM) * mm, (y - _FORESEEN_MM - 0.8) * mm), _FORESEEN_MM * mm
            canvas.setFillColor(HexColor(lab_to_hex(foreseen[page.first + i])))
            canvas.rect(*corner, side, side, stroke=0, fill=1)
            lines = instructions(cell.passes)
            canvas.setFillGray(GREY)
            text(canvas, FONT, 5.5, x, y - 2.0, f"{page.first + i + 1} {cell.says}", wide - _FORESEEN_MM - 1)
            canvas.setFillGray(0)
            for line, said in enumerate(lines[:_MOST_LINES]):
                last = line == _MOST_LINES - 1 and len(lines) > _MOST_LINES
                room = wide - (_FORESEEN_MM + 1 if line < 1 else 0)
                text(canvas, BOLD, 6.5, x, y - 4.7 - _LINE_MM * line, f"{said} …" if last else said, room)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _caution(canvas: Canvas, page: SwatchSheet, said: str) -> None:
    """At the foot, beside the line of known length."""
    x = page.margin + page.printed.mark + 4 + _RULER_TAKES_MM
    wide = page.width - page.margin - page.printed.mark - 4 - x
    canvas.setFillGray(GREY)
    canvas.setFont(FONT, 5.5)
    for line, part in enumerate(simpleSplit(said, FONT, 5.5, wide * mm)[:_CAUTION_LINES]):
        canvas.drawString(x * mm, (page.margin + 9 - 2.3 * line) * mm, part)
