"""Sheets for swatches to print, at true size."""

from __future__ import annotations

from collections.abc import Sequence

from core.exchange.marked_page import begin, place
from core.exchange.pen import GREY, Pen, sheet
from core.optics.stick import Stick
from core.photo.swatch_sheet import SwatchSheet, pages_for

_HOW = (
    "Lay every swatch closed and heavy, until no paper shows, up to its frame.",
    "Keep the rest of the sheet white, and let it dry.",
    "Photograph all of it from above, in even light, without flash.",
)


def write_swatch_sheet(paper: str, sticks: Sequence[Stick], title: str = "", kind: str = "pdf") -> bytes:
    """The pages for these sticks, one place each with its number and name; one page with empty lines if there are none.
    kind: see core.exchange.pen.

    Raises InputError (`unknown_size`, `unknown_format`).
    """
    pages = pages_for(paper, sticks)

    def draw(pen: Pen) -> None:
        for number, page in enumerate(pages, 1):
            here = sticks[page.first : page.first + len(page.places)]
            _page(pen, page, here, bool(sticks), f"{title} {number}/{len(pages)}" if len(pages) > 1 else title)

    return sheet(kind, title or "Swatches", draw)


def _page(pen: Pen, page: SwatchSheet, sticks: Sequence[Stick], named: bool, title: str) -> None:
    begin(pen, page, title, _HOW)
    for i, box in enumerate(page.places[: len(sticks) if named else None]):
        x, y, wide = place(pen, page, box)
        if named:
            pen.words(x, y + 3.4, sticks[i].code, 9, wide, bold=True)
            pen.words(x, y + 6, sticks[i].name, 6, wide, colour=GREY)
        else:
            pen.line([(x, y + 5.5), (x + wide, y + 5.5)], 0.15, colour=GREY)
