"""A filled card read back from its photograph: each box, and whether it can be believed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.errors import InputError
from core.look.picture import Picture
from core.photo.marks import found_marks
from core.photo.squared import Box, Corner
from core.photo.swatch_sheet import SwatchSheet, sheets
from core.photo.swatches import GLARES, IS_EMPTY, IS_UNEVEN, SwatchReading, read_swatches
from core.trial.card import FIRST_NUMBER, NUMBERS, Card

FINE, EMPTY, GLARE, EDGE, EXCHANGED = "fine", "empty", "glare", "edge", "exchanged"
_VERDICTS = {"": FINE, IS_EMPTY: EMPTY, GLARES: GLARE, IS_UNEVEN: EDGE}
_KNOWN_TO = 3.0
"""ΔE00 within which 80 of 100 must lie for a box to tell of the camera."""
BAND_TO_ERROR = 1.5
"""How many times what a colour is off by in the root mean square such a band is wide."""
_EXCHANGED_BY, _FITS_BETTER = 6.0, 0.6
"""By how many ΔE00 two boxes must fit each other's places better than their own, and to which part of it each."""
_KEPT = "What was learnt before is kept."


@dataclass(frozen=True, slots=True)
class BoxRead:
    """cell: its index on the card. lab: CIELAB under daylight; spread: ΔE00 between its parts; doubt: by how much the
    reading may be off, ΔE00. verdict: `fine`, `empty`, `glare`, `edge` (laid unevenly, or over its frame) or
    `exchanged` (with `other`, a cell, −1 if it is not); said: that in a sentence, empty if it is fine."""

    cell: int
    lab: tuple[float, float, float]
    spread: float
    doubt: float
    verdict: str
    said: str
    other: int = -1


@dataclass(frozen=True, slots=True)
class CardRead:
    """page: which of the card's, from 0. corners: of its field of marks, in parts of the photograph. places: of the
    boxes within it, in parts; boxes: what was read, in the same order. said: what is wrong with all of it, or empty."""

    page: int
    corners: tuple[Corner, ...]
    places: tuple[Box, ...]
    boxes: tuple[BoxRead, ...]
    said: str = ""


def read_card(
    photo: Picture,
    card: Card,
    foreseen: Floats,
    bands: Floats,
    paper: ArrayLike,
    page: int | None = None,
    corners: Sequence[Corner] | None = None,
    chart: Sequence[Corner] | None = None,
) -> CardRead:
    """The boxes of a card, or of one page of it, from a photograph.

    foreseen (n, 3): CIELAB of all its boxes as they are expected; bands (n,): ΔE00 within which 80 of 100 are: boxes
    that are well known tell what the camera did. paper: CIELAB of the bare paper. corners: of the field of marks, where
    marks are not seen; page: then which it is. chart: corners of a chart of 24 patches, in parts of the field.

    Raises InputError: `no_card`, `another_card`, `two_sheets`, `no_page`, `empty_card`, what `read_swatches` raises.
    """
    pages = card.pages()
    if corners is None:
        which, corners = _by_marks(photo, card, pages)
    else:
        which = _page(pages, page or 0)
    first, places = which.first, which.places[: len(card.on(which))]
    known = {
        i: ((float(lightness), float(a), float(b)), float(band) / BAND_TO_ERROR)
        for i, ((lightness, a, b), band) in enumerate(
            zip(foreseen[first : first + len(places)], bands[first : first + len(places)], strict=True)
        )
        if band <= _KNOWN_TO
    }
    ratio = which.printed.wide / which.printed.high
    found = read_swatches(photo, corners, places, paper, chart, known, ratio)
    rows = [_box(first + i, reading) for i, reading in enumerate(found)]
    if all(row.verdict == EMPTY for row in rows):
        raise InputError(
            "empty_card", "No box of this card is filled.", f"Fill some, or choose its page. {_KEPT}", "photo"
        )
    rows = _exchanged(rows, foreseen, bands)
    glaring = sum(row.verdict == GLARE for row in rows)
    said = "A lamp shines on a third of it: photograph it again from another side." if glaring > len(rows) / 3 else ""
    return CardRead(pages.index(which), tuple(corners), places, tuple(rows), said)


def _page(pages: Sequence[SwatchSheet], page: int) -> SwatchSheet:
    if not 0 <= page < len(pages):
        raise InputError("no_page", f"This card has no page {page + 1}.", f"It has {len(pages)}. {_KEPT}", "page")
    return pages[page]


def _by_marks(photo: Picture, card: Card, pages: Sequence[SwatchSheet]) -> tuple[SwatchSheet, tuple[Corner, ...]]:
    others = {number: sheet.printed for number, sheet in sheets().items()}
    numbers = dict.fromkeys(range(FIRST_NUMBER, FIRST_NUMBER + NUMBERS), pages[0].printed)
    marked = found_marks(photo, others | numbers)
    if marked is None:
        raise InputError(
            "no_card",
            "The marks of a card are not seen in this photograph.",
            f"Take all of it, sharp and from above, or set its corners by hand. {_KEPT}",
            "photo",
        )
    for page in pages:
        if page.number == marked.sheet:
            return page, marked.corners
    other = f"card {marked.sheet}" if marked.sheet >= FIRST_NUMBER else "a sheet of swatches"
    raise InputError(
        "another_card",
        f"This is {other}, not card {card.number}.",
        f"Photograph card {card.number}, or choose the other one. {_KEPT}",
        "photo",
    )


def _box(cell: int, reading: SwatchReading) -> BoxRead:
    return BoxRead(cell, reading.lab, reading.spread, reading.doubt, _VERDICTS[reading.said], reading.said)


def _exchanged(rows: list[BoxRead], foreseen: Floats, bands: Floats) -> list[BoxRead]:
    """Boxes that fit each other's places much better than their own are said to be exchanged."""
    fine = [row for row in rows if row.verdict == FINE]
    if len(fine) < 2:
        return rows
    cells = [row.cell for row in fine]
    labs = np.array([row.lab for row in fine])
    off = np.asarray(ciede2000(labs[:, None], foreseen[cells][None]))
    own, band = np.diag(off), bands[cells]
    gained = own[:, None] + own[None] - off - off.T
    far = own > band
    wrong = far[:, None] & far[None] & (off < _FITS_BETTER * own[:, None]) & (_FITS_BETTER * own[None] > off.T)
    gained = np.where(wrong, gained, 0.0)
    out = {row.cell: row for row in rows}
    for i, j in np.argwhere(np.triu(gained > _EXCHANGED_BY)):
        for one, other in ((fine[i], fine[j]), (fine[j], fine[i])):
            said = f"It looks like box {other.cell + 1}: were the two exchanged?"
            out[one.cell] = replace(one, verdict=EXCHANGED, said=said, other=other.cell)
    return [out[row.cell] for row in rows]
