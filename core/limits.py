"""How much of everything a piece may hold. The server refuses more, and the interface asks for no more."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated

from annotated_types import Interval, Len, MaxLen, MinLen, Predicate


@dataclass(frozen=True, slots=True)
class Limits:
    """The most of each. no_faces: finds that were called wrong. title, name, note: characters. stroke_points: of one
    stroke; corners: of one outline."""

    spots: int = 200
    figures: int = 12
    no_faces: int = 40
    strokes: int = 80
    stroke_points: int = 300
    corners: int = 60
    marks: int = 60
    surroundings: int = 6
    layers: int = 120
    passes: int = 12
    title: int = 120
    name: int = 60
    note: int = 500


LIMITS = Limits()

Fraction = Annotated[float, Interval(ge=0, le=1)]
"""A part of the width or height of a picture."""
Point = tuple[Fraction, Fraction]
"""x and y."""


def is_plain(text: str) -> bool:
    """Whether a text holds nothing but unaccented letters, digits and hyphens."""
    return re.fullmatch(r"[A-Za-z0-9-]*", text) is not None


OwnId = Annotated[str, MaxLen(40), Predicate(is_plain)]
"""The id of something, empty as long as it has none."""
Identifier = Annotated[OwnId, MinLen(1)]
"""What tells one thing of a piece from the others."""
Name = Annotated[str, Len(1, LIMITS.name)]
Code = Annotated[str, Len(1, 80)]
"""Of a stick, as its tray has it; or the name of a tool."""
Choice = Annotated[str, MaxLen(40)]
"""The id of something to choose from that may grow: a medium, a paper, a method."""
