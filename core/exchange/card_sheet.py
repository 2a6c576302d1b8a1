"""Trial cards to print, at true size."""

from __future__ import annotations

from core.colour.spaces import Floats, lab_to_hex
from core.exchange.marked_page import begin, place
from core.exchange.pen import GREY, Pen, sheet, wrapped
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


def write_card(card: Card, foreseen: Floats, title: str = "", caution: str = "", kind: str = "pdf") -> bytes:
    """All pages of a card. foreseen: CIELAB (n, 3) of its boxes, small beside each. caution: said at the foot. kind:
    see core.exchange.pen. Raises InputError (`unknown_format`)."""
    title = title or KINDS[card.kind].name
    pages = card.pages()

    def draw(pen: Pen) -> None:
        for count, page in enumerate(pages, 1):
            number = f"Card {card.number}, page {count} of {len(pages)}" if len(pages) > 1 else f"Card {card.number}"
            begin(pen, page, f"{number} · {title}", _HOW)
            _caution(pen, page, caution)
            _boxes(pen, page, card, foreseen)

    return sheet(kind, title, draw)


def _boxes(pen: Pen, page: SwatchSheet, card: Card, foreseen: Floats) -> None:
    for i, cell in enumerate(card.on(page)):
        x, y, wide = place(pen, page, page.places[i])
        side = _FORESEEN_MM
        pen.rect(x + wide - side, y + 0.8, side, side, fill=lab_to_hex(foreseen[page.first + i]))
        lines = instructions(cell.passes)
        pen.words(x, y + 2.0, f"{page.first + i + 1} {cell.says}", 5.5, wide - side - 1, colour=GREY)
        for line, said in enumerate(lines[:_MOST_LINES]):
            last = line == _MOST_LINES - 1 and len(lines) > _MOST_LINES
            room = wide - (side + 1 if line < 1 else 0)
            pen.words(x, y + 4.7 + _LINE_MM * line, f"{said} …" if last else said, 6.5, room, bold=True)


def _caution(pen: Pen, page: SwatchSheet, said: str) -> None:
    """At the foot, beside the line of known length."""
    x = page.margin + page.printed.mark + 4 + _RULER_TAKES_MM
    wide = page.width - page.margin - page.printed.mark - 4 - x
    for line, part in enumerate(wrapped(said, 5.5, wide)[:_CAUTION_LINES]):
        pen.words(x, page.height - page.margin - 9 + 2.3 * line, part, 5.5, wide + 1, colour=GREY)
