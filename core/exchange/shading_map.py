"""Shading maps, at true size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.exchange.pen import Pen, sheet
from core.light.families import FAMILIES
from core.light.lines import HATCHES, Hatch, Stroke, hatched

_LINE_MM = 0.35
_TITLE_MM, _FOOT_MM, _GAP_MM = 9.0, 24.0, 6.0
_KEY_MM = 8.0


@dataclass(frozen=True, slots=True, eq=False)
class Plate:
    """One line study on the page. arrow: tail and head of the light's, in parts of the side; says: beneath it."""

    title: str
    strokes: tuple[Stroke, ...]
    arrow: tuple[Floats, Floats]
    says: str


@dataclass(frozen=True, slots=True)
class _Page:
    """A page in millimetres: how wide and high, and the side of each study."""

    wide: float
    high: float
    side: float


def _page(plates: Sequence[Plate], side_mm: float) -> _Page:
    wide = len(plates) * side_mm + (len(plates) + 1) * _GAP_MM
    return _Page(wide, side_mm + _TITLE_MM + _FOOT_MM, side_mm)


def write_map(plates: Sequence[Plate], side_mm: float, title: str, kind: str = "pdf") -> bytes:
    """Line studies side by side, each so wide and high. kind: see core.exchange.pen. Raises InputError
    (`unknown_format`)."""
    page = _page(plates, side_mm)
    return sheet(kind, title, lambda pen: _draw(pen, page, plates))


def _draw(pen: Pen, page: _Page, plates: Sequence[Plate]) -> None:
    pen.page(page.wide, page.high)
    for number, plate in enumerate(plates):
        left = _GAP_MM + number * (page.side + _GAP_MM)
        corner = np.array([left, _TITLE_MM])
        pen.words(left, 6.0, plate.title, 11, page.side, bold=True)
        for stroke in plate.strokes:
            pen.line(corner + stroke.points * page.side, _LINE_MM * stroke.weight, stroke.kind == "highlight")
        _arrow(pen, corner, page.side, plate.arrow)
        pen.words(left, _TITLE_MM + page.side + 4.0, plate.says, 8, page.side)
    _legend(pen, page)


def _arrow(pen: Pen, corner: Floats, side: float, ends: tuple[Floats, Floats]) -> None:
    tail, head = (corner + end * side for end in ends)
    way = (head - tail) / max(float(np.linalg.norm(head - tail)), 1e-6)
    aside = np.array([-way[1], way[0]])
    pen.line(np.stack([tail, head]), 0.9)
    for wing in (aside, -aside):
        pen.line(np.stack([head, head - way * 3.5 + wing * 2.0]), 0.9)


def _legend(pen: Pen, page: _Page) -> None:
    """What each hatch stands for."""
    top = page.high - _KEY_MM - 5.0
    wide = (page.wide - 2 * _GAP_MM) / len(FAMILIES)
    for number, family in enumerate(FAMILIES):
        corner = np.array([_GAP_MM + number * wide, top])
        frame = np.array([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0]]) * _KEY_MM
        pen.line(corner + frame, 0.15, family == "highlight")
        hatch = HATCHES[family]
        whole = np.ones((200, 200), bool)
        for line in hatched(whole, Hatch(hatch.angles, hatch.apart * page.side / _KEY_MM, hatch.dots)):
            pen.line(corner + line * _KEY_MM, _LINE_MM * 0.25)
        pen.words(corner[0] + _KEY_MM + 1.2, top + _KEY_MM / 2 + 1.0, family, 6.5, wide - _KEY_MM - 2)
