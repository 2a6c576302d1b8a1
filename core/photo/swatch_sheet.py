"""Sheets with places for swatches, printed at their true size, filled by hand and photographed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from core.errors import InputError
from core.photo.marks import Printed
from core.photo.squared import Box

_MARGIN, _MARK = 10.0, 14.0
"""Millimetres: what printers leave white, and the side of a mark."""
_HEAD, _LABEL, _GAP = 6.0, 7.0, 3.0
"""Millimetres between marks and places, for the words under a place, and between places."""
_PAPERS = {"A4": (210.0, 297.0, 6, 8), "A5": (148.0, 210.0, 4, 5), "Letter": (215.9, 279.4, 6, 7)}
"""Width and height in millimetres, places across and down."""
MOST_PAGES = 20


@dataclass(frozen=True, slots=True)
class SwatchSheet:
    """One page. width, height: of the paper, millimetres; places: of every swatch within the field of the marks, in
    parts of it, row by row; first: how many sticks stand on the pages before; label: millimetres for words under a
    place."""

    number: int
    paper: str
    width: float
    height: float
    printed: Printed
    places: tuple[Box, ...]
    first: int
    label: float = _LABEL

    @property
    def margin(self) -> float:
        """Millimetres from the edge of the paper to the field of the marks."""
        return _MARGIN


def papers() -> tuple[str, ...]:
    """The sizes of paper there are sheets for."""
    return tuple(_PAPERS)


@cache
def sheets() -> dict[int, SwatchSheet]:
    """All pages of all sizes, by the number that their marks tell."""
    found = {}
    for i, paper in enumerate(_PAPERS):
        for page in range(MOST_PAGES):
            number = i * MOST_PAGES + page
            found[number] = laid_out(number, paper, page, _LABEL)
    return found


def laid_out(number: int, paper: str, page: int, label: float) -> SwatchSheet:
    """A page of a size, counted from 0, with so many millimetres for words. Raises InputError (`unknown_size`)."""
    if paper not in _PAPERS:
        raise InputError("unknown_size", f"There are no sheets of {paper[:20]}.", f"Use {', '.join(_PAPERS)}.", "paper")
    width, height, across, down = _PAPERS[paper]
    printed = Printed(width - 2 * _MARGIN, height - 2 * _MARGIN, _MARK)
    places = tuple(_places(printed, across, down, label))
    return SwatchSheet(number, paper, width, height, printed, places, page * across * down, label)


def _places(printed: Printed, across: int, down: int, label: float) -> list[Box]:
    top = _MARK + _HEAD
    wide, high = printed.wide / across, (printed.high - 2 * top) / down
    return [
        Box(
            (column * wide + _GAP / 2) / printed.wide,
            (top + row * high + _GAP / 2) / printed.high,
            ((column + 1) * wide - _GAP / 2) / printed.wide,
            (top + (row + 1) * high - _GAP / 2 - label) / printed.high,
        )
        for row in range(down)
        for column in range(across)
    ]


def pages_for(paper: str, sticks: Sequence[object]) -> list[SwatchSheet]:
    """The pages that hold so many sticks, one at least. Raises InputError (`unknown_size`)."""
    if paper not in _PAPERS:
        laid_out(0, paper, 0, _LABEL)
    of_paper = [sheet for sheet in sheets().values() if sheet.paper == paper]
    return [sheet for sheet in of_paper if sheet.first < max(1, len(sticks))]
