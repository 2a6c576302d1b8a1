"""The plan of a piece as a sheet to lay beside the paper: layer by layer, with its stick, its hand and its maps."""

from __future__ import annotations

import io
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from PIL import Image

from core.exchange.pen import DOTTED, GREY, PNG_DPI, Pen, pages_in, sheet, wrapped

_WIDE, _HIGH, _MARGIN = 210.0, 297.0, 14.0
_MAP, _GAP, _SWATCH = 46.0, 4.0, 7.0
_TICK, _TITLE, _RULER = 3.0, 8.0, 100.0
_HEAD_PICTURE = 62.0


@dataclass(frozen=True, slots=True)
class Where:
    """A part of a layer that is ticked by itself: figure and feature, how, and its places."""

    what: str
    how: str
    places: str
    done: bool = False


@dataclass(frozen=True, slots=True)
class LayerOnSheet:
    """One layer. hex: of its stick, empty for a tool; how: what the hand does; maps: pictures of where it goes; areas:
    a sentence on each of its doses, if the maps have areas with names."""

    number: int
    code: str
    name: str
    hex: str
    how: str
    where: tuple[Where, ...]
    maps: tuple[bytes, ...] = ()
    note: str = ""
    areas: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class PlanSheet:
    """All of it. about: paper, method and light in a line; shown: pictures at its head with words beneath them, and
    said: sentences after them. maps:
    on pages of their own after it, so many on each (1 or 4), with words above them."""

    title: str
    about: str
    shown: tuple[tuple[str, bytes], ...]
    layers: tuple[LayerOnSheet, ...]
    said: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    maps: tuple[tuple[str, bytes], ...] = ()
    maps_a_page: int = 1


def write_plan(plan: PlanSheet, kind: str = "pdf", pages: Collection[int] = (), dpi: float = PNG_DPI) -> bytes:
    """On as many pages of A4 as it takes. kind, pages, dpi: see core.exchange.pen.sheet. Raises InputError
    (`unknown_format`, `no_such_page`)."""
    return sheet(kind, plan.title, lambda pen: _Layout(pen, plan).draw(), pages, dpi)


def pages_of(plan: PlanSheet) -> int:
    """How many pages it takes."""
    return pages_in(lambda pen: _Layout(pen, plan).draw())


class _Layout:
    """Fills page after page from above."""

    def __init__(self, pen: Pen, plan: PlanSheet) -> None:
        self._pen, self._plan, self._y, self._pages = pen, plan, 0.0, 0

    def draw(self) -> None:
        self._next_page()
        for line in wrapped(self._plan.about, 8.5, _WIDE - 2 * _MARGIN):
            self._pen.words(_MARGIN, self._y, line, 8.5, _WIDE, colour=GREY)
            self._y += 4
        self._y += 2
        self._pictures()
        for text in self._plan.said:
            self._text(text, 9.0)
        for layer in self._plan.layers:
            self._layer(layer)
        for text in self._plan.notes:
            self._text(text, 9.0)
        for text in self._plan.cautions:
            self._text(text, 7.0, GREY)
        self._maps()

    def _maps(self) -> None:
        """Maps on pages of their own, as large as they go."""
        across = 2 if self._plan.maps_a_page == 4 else 1
        wide, high = (_WIDE - 2 * _MARGIN - _GAP * (across - 1)) / across, (_HIGH - 2 * _MARGIN - _TITLE) / across
        for number, (words, data) in enumerate(self._plan.maps):
            row, column = divmod(number % across**2, across)
            if row == column == 0:
                self._next_page()
            x, y = _MARGIN + column * (wide + _GAP), _MARGIN + _TITLE + row * high
            self._pen.words(x, y + 4, words, 9 if across > 1 else 12, wide, bold=True)
            map_wide, map_high = _fitted(data, wide, high - 10)
            self._pen.picture(x, y + 7, map_wide, map_high, data)

    def _next_page(self) -> None:
        self._pages += 1
        self._pen.page(_WIDE, _HIGH)
        first = self._pages == 1
        said = self._plan.title if first else f"{self._plan.title}, page {self._pages}"
        self._pen.words(_MARGIN, _MARGIN + 5, said, 16 if first else 9, _WIDE - 2 * _MARGIN, bold=True)
        if first:
            self._ruler()
        self._y = _MARGIN + 12

    def _ruler(self) -> None:
        """A line of known length at the foot: whether the printer has scaled the page."""
        y = _HIGH - 6
        self._pen.rect(_MARGIN, y - 0.1, _RULER, 0.2, fill=GREY)
        for end in (_MARGIN, _MARGIN + _RULER - 0.2):
            self._pen.rect(end, y - 1, 0.2, 2, fill=GREY)
        self._pen.words(
            _MARGIN + _RULER + 3, y + 0.8, f"{_RULER:g} mm, if printed at its true size", 6.5, 60, colour=GREY
        )

    def _room_for(self, high: float) -> None:
        if self._y + high > _HIGH - _MARGIN:
            self._next_page()

    def _text(self, said: str, points: float, colour: str = "#000000") -> None:
        lines, apart = wrapped(said, points, _WIDE - 2 * _MARGIN), points * 0.45
        self._room_for(apart * len(lines) + 2)
        for line in lines:
            self._y += apart
            self._pen.words(_MARGIN, self._y, line, points, _WIDE, colour=colour)
        self._y += 2

    def _pictures(self) -> None:
        x, highest = _MARGIN, 0.0
        for words, data in self._plan.shown:
            wide, high = _fitted(data, _HEAD_PICTURE, _HEAD_PICTURE)
            self._pen.picture(x, self._y, wide, high, data)
            self._pen.words(x, self._y + high + 4, words, 7.5, wide, colour=GREY)
            x, highest = x + wide + _GAP, max(highest, high + 7)
        self._y += highest

    def _layer(self, layer: LayerOnSheet) -> None:
        sizes = [_fitted(data, _MAP, _MAP) for data in layer.maps]
        left = _MARGIN + (sum(wide + _GAP for wide, _ in sizes) if sizes else 0)
        wide = _WIDE - _MARGIN - left
        how, rows = wrapped(layer.how, 9, wide), [_rows(part, wide - _TICK - 2) for part in layer.where]
        note, areas = wrapped(layer.note, 8, wide), [wrapped(said, 8, wide) for said in layer.areas]
        words = 11 + 4.2 * len(how) + sum(3.8 * len(row) + 0.8 for row in (*areas, *rows)) + 3.8 * len(note)
        self._room_for(max(words, max((high for _, high in sizes), default=0.0)) + 5)
        top, x = self._y, _MARGIN
        self._pen.line([(_MARGIN, top), (_WIDE - _MARGIN, top)], 0.15, colour=DOTTED)
        for data, (map_wide, map_high) in zip(layer.maps, sizes, strict=True):
            self._pen.picture(x, top + 2, map_wide, map_high, data)
            x += map_wide + _GAP
        if layer.hex:
            # Beside it an empty frame, to lay the stick in on this very paper.
            self._pen.rect(left, top + 2, _SWATCH, _SWATCH, fill=layer.hex)
            self._pen.rect(left + _SWATCH, top + 2, _SWATCH, _SWATCH, edge=GREY)
        after = left + (2 * _SWATCH + 2 if layer.hex else 0)
        self._pen.words(
            after, top + 7, f"{layer.number}  {layer.code}  {layer.name}", 11, wide - after + left, bold=True
        )
        y = top + 10
        for line in how:
            y += 4.2
            self._pen.words(left, y, line, 9, wide + 1)
        y += 1.5
        for lines in areas:
            for line in lines:
                y += 3.8
                self._pen.words(left, y, line, 8, wide + 1)
            y += 0.8
        for part, lines in zip(layer.where, rows, strict=True):
            self._pen.rect(left, y + 1.4, _TICK, _TICK, edge=GREY)
            if part.done:
                self._pen.line([(left + 0.6, y + 3), (left + 1.3, y + 3.9), (left + 2.6, y + 1.8)], 0.4)
            for line in lines:
                y += 3.8
                self._pen.words(left + _TICK + 2, y, line, 8, wide)
            y += 0.8
        for line in note:
            y += 3.8
            self._pen.words(left, y, line, 8, wide, colour=GREY)
        self._y = max(y, top + 2 + max((high for _, high in sizes), default=0.0)) + 4


def _rows(part: Where, wide: float) -> list[str]:
    said = f"{part.what}, {part.how}" if part.how else part.what
    return wrapped(f"{said} ({part.places})" if part.places else said, 8, wide)


def _fitted(data: bytes, wide: float, high: float) -> tuple[float, float]:
    """The largest size with the picture's shape within these."""
    with Image.open(io.BytesIO(data)) as image:
        scale = min(wide / image.width, high / image.height)
        return image.width * scale, image.height * scale


def cropped(data: bytes, corners: Sequence[tuple[float, float]], around: float = 0.35) -> bytes:
    """The part of a picture that holds these points (x, y in parts of it), with so much of its size around it, as
    JPEG; all of it where there are none."""
    with Image.open(io.BytesIO(data)) as image:
        if not corners:
            return data
        xs, ys = zip(*((x * image.width, y * image.height) for x, y in corners), strict=True)
        room = max(max(xs) - min(xs), max(ys) - min(ys), 0.05 * max(image.size)) * around
        left, top = (max(0, round(min(part) - room)) for part in (xs, ys))
        right, bottom = min(image.width, round(max(xs) + room)), min(image.height, round(max(ys) + room))
        out = io.BytesIO()
        image.convert("RGB").crop((left, top, right, bottom)).save(out, "JPEG", quality=88)
        return out.getvalue()
