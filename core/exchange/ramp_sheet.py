"""Ramps of sticks from dark to light, as a strip to lay beside the paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from core.exchange.pen import GREY, Pen, sheet, wrapped

_WIDE, _MARGIN, _HIGH = 210.0, 12.0, 26.0
_HEAD, _TITLE, _WORDS, _LINE = 12.0, 9.0, 12.0, 4.0


@dataclass(frozen=True, slots=True)
class Rung:
    """A stick as it looks laid full on the paper. value: Munsell's."""

    code: str
    name: str
    hex: str
    value: float


@dataclass(frozen=True, slots=True)
class RampOf:
    """The ramp of one figure, from dark to light. said: where neighbours do not blend, and what would help."""

    figure: str
    rungs: tuple[Rung, ...]
    said: tuple[str, ...]


def write_ramps(title: str, ramps: Sequence[RampOf], kind: str = "pdf") -> bytes:
    """One below the other. kind: see core.exchange.pen. Raises InputError (`unknown_format`)."""
    wide = _WIDE - 2 * _MARGIN
    said = [[line for text in ramp.said for line in wrapped(text, 8, wide)] for ramp in ramps]
    heights = [_TITLE + _HIGH + _WORDS + _LINE * len(lines) + 6 for lines in said]

    def draw(pen: Pen) -> None:
        pen.page(_WIDE, _HEAD + sum(heights) + _MARGIN)
        pen.words(_MARGIN, _HEAD, title, 14, wide, bold=True)
        y = _HEAD
        for ramp, lines, high in zip(ramps, said, heights, strict=True):
            _ramp(pen, y, ramp, lines)
            y += high

    return sheet(kind, title, draw)


def _ramp(pen: Pen, top: float, ramp: RampOf, lines: Sequence[str]) -> None:
    each = (_WIDE - 2 * _MARGIN) / max(1, len(ramp.rungs))
    pen.words(_MARGIN, top + 6.5, ramp.figure, 10, _WIDE - 2 * _MARGIN)
    for number, rung in enumerate(ramp.rungs):
        x, y = _MARGIN + number * each, top + _TITLE
        # Touching: whether neighbours blend is seen where they meet.
        pen.rect(x, y, each, _HIGH, fill=rung.hex)
        pen.words(x, y + _HIGH + 4, rung.code, 8, each - 1, bold=True)
        pen.words(x, y + _HIGH + 7.5, rung.name, 6, each - 1, colour=GREY)
        pen.words(x, y + _HIGH + 10.5, f"value {rung.value:.1f}", 6, each - 1, colour=GREY)
    for number, line in enumerate(lines, start=1):
        pen.words(_MARGIN, top + _TITLE + _HIGH + _WORDS + _LINE * number, line, 8, _WIDE, colour=GREY)
