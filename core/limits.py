"""How much of everything a piece may hold. The server refuses more, and the interface asks for no more."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Limits:
    """The most of each. title, name, note: characters. stroke_points: of one stroke; corners: of one outline."""

    spots: int = 200
    figures: int = 12
    strokes: int = 80
    stroke_points: int = 300
    corners: int = 60
    marks: int = 60
    surroundings: int = 6
    passes: int = 12
    title: int = 120
    name: int = 60
    note: int = 500


LIMITS = Limits()
