"""The borders of a reference at true size, light enough to be carried over to the paper that is drawn on."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from core.exchange.pen import GREY, Pen, sheet

A4 = (210.0, 297.0)
_EDGE = 8.0
"""What a printer at home leaves white; pages that are joined overlap by it."""
_RULER = 50.0
_LINES = {"skin": ("#777777", 0.35, False), "shadow": ("#888888", 0.3, True)}
_OTHER = ("#b4b4b4", 0.2, False)
"""Colour, width in millimetres and whether it is dotted, by what a line borders."""
_FRAME, _GRID, _SPOT, _FOOT = "#bbbbbb", "#c4c4c4", "#777777", "#333333"
_CROSS = 1.2
_ARROW = 6.0

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Rect:
    left: float
    top: float
    wide: float
    high: float

    def within(self, other: Rect) -> Rect:
        """What both cover."""
        left, top = max(self.left, other.left), max(self.top, other.top)
        right = min(self.left + self.wide, other.left + other.wide)
        bottom = min(self.top + self.high, other.top + other.high)
        return Rect(left, top, max(0.0, right - left), max(0.0, bottom - top))


@dataclass(frozen=True, slots=True)
class Line:
    """kind: `skin`, `shadow` or another; points: in millimetres on the sheet."""

    kind: str
    points: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class TransferSheet:
    """All in millimetres on the sheet that is drawn on, wide x high. frame: where the picture lies; grid: columns, rows
    and whether it has diagonals; spots: where they lie; light: where it comes from, in degrees, 90 from above.
    mirrored: to be rubbed off from behind; in_parts: on A4 pages that are joined."""

    title: str
    wide: float
    high: float
    frame: Rect
    lines: tuple[Line, ...]
    spots: tuple[Point, ...] = ()
    grid: tuple[int, int, bool] | None = None
    light: float | None = None
    mirrored: bool = False
    in_parts: bool = False

    def pages(self) -> list[tuple[str, Rect]]:
        """What each page shows of the sheet, and what it is called."""
        if not self.in_parts:
            return [("", Rect(0, 0, self.wide, self.high))]
        wide, high = A4[0] - 2 * _EDGE, A4[1] - 2 * _EDGE
        columns, rows = math.ceil(self.wide / wide), math.ceil(self.high / high)
        return [
            (f"{chr(65 + row)}{column + 1} of {rows * columns}", Rect(column * wide - _EDGE, row * high - _EDGE, *A4))
            for row in range(rows)
            for column in range(columns)
        ]


def write_transfer(made: TransferSheet, kind: str = "pdf") -> bytes:
    """One page, or as many of A4 as it takes. kind: see core.exchange.pen. Raises InputError (`unknown_format`)."""

    def draw(pen: Pen) -> None:
        for name, page in made.pages():
            pen.page(page.wide, page.high)
            _Page(pen, made, page).draw(name)

    return sheet(kind, made.title, draw)


class _Page:
    """A part of the sheet on a page of its own."""

    def __init__(self, pen: Pen, made: TransferSheet, page: Rect) -> None:
        self._pen, self._made, self._page = pen, made, page

    def draw(self, name: str) -> None:
        made = self._made
        everything = Rect(0, 0, made.wide, made.high)
        self._outline(everything, "#cccccc")
        for line in made.lines:
            colour, width, dotted = _LINES.get(line.kind, _OTHER)
            self._line(line.points, made.frame, width, colour, dotted)
        self._outline(made.frame, _FRAME)
        if made.grid:
            for way in _grid(made.frame, *made.grid):
                self._line(way, made.frame, 0.15, _GRID)
        for x, y in made.spots:
            self._line([(x - _CROSS, y), (x + _CROSS, y)], everything, 0.2, _SPOT)
            self._line([(x, y - _CROSS), (x, y + _CROSS)], everything, 0.2, _SPOT)
        if made.light is not None:
            self._arrow((180 - made.light) % 360 if made.mirrored else made.light)
        self._foot(name)

    def _at(self, point: Point) -> Point:
        """A point of the sheet on this page."""
        x = self._made.wide - point[0] if self._made.mirrored else point[0]
        return x - self._page.left, point[1] - self._page.top

    def _line(self, points: Sequence[Point], box: Rect, width: float, colour: str, dotted: bool = False) -> None:
        on_page = Rect(0, 0, self._page.wide, self._page.high)
        for part in _clipped(points, box):
            for seen in _clipped([self._at(point) for point in part], on_page):
                self._pen.line(seen, width, dotted, colour)

    def _outline(self, box: Rect, colour: str) -> None:
        right, bottom = box.left + box.wide, box.top + box.high
        corners = [(box.left, box.top), (right, box.top), (right, bottom), (box.left, bottom), (box.left, box.top)]
        self._line(corners, box, 0.2, colour)

    def _arrow(self, from_deg: float) -> None:
        """From where the light comes to the middle of the corner."""
        turn, (x, y) = math.radians(from_deg), (_EDGE + _ARROW, _EDGE + _ARROW)
        way = (math.cos(turn) * _ARROW, -math.sin(turn) * _ARROW)
        tail, head = (x + way[0], y + way[1]), (x - way[0], y - way[1])
        self._pen.line([tail, head], 0.9)
        for side in (1, -1):
            wing = (head[0] + way[0] * 0.5 - side * way[1] * 0.35, head[1] + way[1] * 0.5 + side * way[0] * 0.35)
            self._pen.line([head, wing], 0.9)

    def _foot(self, name: str) -> None:
        """A line of known length, and what page it is."""
        y = self._page.high - 5
        self._pen.rect(_EDGE, y - 0.1, _RULER, 0.2, fill=GREY)
        for end in (_EDGE, _EDGE + _RULER - 0.2):
            self._pen.rect(end, y - 1.5, 0.2, 1.5, fill=GREY)
        said = f"{_RULER:g} mm  {self._made.title}  {name}"
        self._pen.words(_EDGE + _RULER + 2, y, said, 8.5, self._page.wide - _RULER - 2 * _EDGE, colour=_FOOT)


def _grid(frame: Rect, columns: int, rows: int, diagonals: bool) -> Iterator[list[Point]]:
    xs = [frame.left + frame.wide * i / columns for i in range(columns + 1)]
    ys = [frame.top + frame.high * i / rows for i in range(rows + 1)]
    yield from ([(x, ys[0]), (x, ys[-1])] for x in xs)
    yield from ([(xs[0], y), (xs[-1], y)] for y in ys)
    if diagonals:
        for left, right in pairwise(xs):
            for top, bottom in pairwise(ys):
                yield [(left, top), (right, bottom)]
                yield [(right, top), (left, bottom)]


def _clipped(points: Sequence[Point], box: Rect) -> Iterator[list[Point]]:
    """The parts of a line that lie in a box."""
    part: list[Point] = []
    for one, other in pairwise(points):
        seen = _inside(one, other, box)
        if seen is None:
            if part:
                yield part
            part = []
            continue
        if part and part[-1] != seen[0]:
            yield part
            part = []
        part = [*part, seen[1]] if part else [*seen]
    if part:
        yield part


def _inside(one: Point, other: Point, box: Rect) -> tuple[Point, Point] | None:
    """The part of a segment that lies in a box, by Liang and Barsky (1984)."""
    dx, dy = other[0] - one[0], other[1] - one[1]
    first, last = 0.0, 1.0
    for way, room in (
        (-dx, one[0] - box.left),
        (dx, box.left + box.wide - one[0]),
        (-dy, one[1] - box.top),
        (dy, box.top + box.high - one[1]),
    ):
        if way == 0:
            if room < 0:
                return None
            continue
        if way < 0:
            first = max(first, room / way)
        else:
            last = min(last, room / way)
    if first > last:
        return None
    start = one if first == 0 else (one[0] + first * dx, one[1] + first * dy)
    end = other if last == 1 else (one[0] + last * dx, one[1] + last * dy)
    return start, end
