"""What goes in and out about pictures."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from annotated_types import Interval, Len, MaxLen

from core.colour.swatch import Swatch
from core.look.reading import Disc
from core.photo.squared import Box
from core.photo.swatches import MOST_SWATCHES
from server.api.schema import example
from server.api.values import value


@value
class Picture:
    id: UUID
    width: int
    height: int
    profile: str


@example({"paper": {"x": 0.7, "y": 0.5, "radius": 0.1}, "white": {"x": 0.2, "y": 0.5, "radius": 0.1}})
@value
class Patch:
    """Where a paper and a white sheet lie on a photograph."""

    paper: Disc
    white: Disc


Part = Annotated[float, Interval(ge=-1, le=2)]
Corners = Annotated[tuple[tuple[Part, Part], ...], Len(4, 4)]
"""Clockwise from the upper left."""


@value
class SwatchGrid:
    """rows, columns: of swatches that fill a frame evenly; count: of them, from the first row on, all if 0."""

    rows: Annotated[int, Interval(ge=1, le=60)]
    columns: Annotated[int, Interval(ge=1, le=60)]
    frame: Box
    count: Annotated[int, Interval(ge=0, le=MOST_SWATCHES)] = 0


@example({"corners": [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]]})
@value
class AskSheet:
    """A sheet with swatches in a photograph; what is not said of it is looked for.

    corners: in parts of the photograph; chart: corners of a chart of 24 known patches, in parts of the sheet; boxes or
    grid: where swatches lie on it.
    """

    corners: Corners | None = None
    boxes: Annotated[tuple[Box, ...], MaxLen(MOST_SWATCHES)] | None = None
    grid: SwatchGrid | None = None
    chart: Corners | None = None


@value
class SeenSwatch:
    """place: on the sheet; spread, doubt: ΔE00 within it, and by how much it may be off; said: what is wrong."""

    place: Box
    swatch: Swatch
    spread: float
    doubt: float
    said: str


@value
class SeenSheet:
    """corners: in parts of the photograph; width, height: pixels of the sheet squared up; first: of a printed sheet,
    how many sticks stand on the pages before it, none if it is no such sheet; said: what is wrong with all of it;
    usual, usual_words: ΔE00 by which such readings are off in the median, and what that is to an eye."""

    corners: tuple[tuple[float, float], ...]
    width: int
    height: int
    swatches: tuple[SeenSwatch, ...]
    first: int | None
    said: str
    usual: float
    usual_words: str
