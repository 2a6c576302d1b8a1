"""What goes in and out about looking at a reference."""

from __future__ import annotations

from core.colour.swatch import Swatch
from core.look.faces import Face
from core.look.measuring import Mark, Placement
from core.look.roles import Place, Role
from core.skin.complexion import ComplexionReading
from server.api.schema import example
from server.api.values import value


@example({"mark": {"id": "mark-1", "kind": "caliper", "x1": 0.1, "y1": 0.2, "x2": 0.4, "y2": 0.2}})
@value
class DrawnMark:
    """A mark that is being drawn."""

    mark: Mark


@value
class FigureStudy:
    """What the reference shows of a figure: see core.look.study.FigureStudy."""

    id: str
    found: bool
    certain: bool
    lightest: float | None
    darkest: float | None
    border: float | None
    average: Swatch | None
    complexion: ComplexionReading | None


@value
class SpotStudy:
    """family: `light`, `shadow` or nothing. note: what usually holds there; note_source: `measured` or `practice`.

    measured: how it differs from forehead and cheek at this figure's depth, where that was measured. doubt: a gentle
    contradiction.
    """

    id: str
    note: str
    note_source: str = ""
    measured: str = ""
    family: str = ""
    doubt: str = ""
    balanced: Swatch | None = None


@value
class Study:
    """What the reference shows. trouble: a sentence where there is no skin or no colour; empty otherwise."""

    figures: tuple[FigureStudy, ...]
    spots: tuple[SpotStudy, ...]
    colourless: bool
    trouble: str
    light_from_deg: float | None


@value
class SuggestedFigure:
    id: str
    name: str
    face: Face | None
    is_new: bool


@value
class SuggestedSpot:
    figure: str
    place: Place
    role: Role
    x: float
    y: float
    radius: float
    swatch: Swatch


@value
class Suggestion:
    """A proposal; nothing of it is stored."""

    figures: tuple[SuggestedFigure, ...]
    spots: tuple[SuggestedSpot, ...]
    trouble: str


@value
class TransferLine:
    """path: an SVG path in millimetres on the sheet."""

    kind: str
    path: str


@value
class TransferSpot:
    id: str
    number: int
    x_mm: float
    y_mm: float


@value
class Transfer:
    """Everything on the transfer page, in millimetres on the sheet."""

    placement: Placement
    lines: tuple[TransferLine, ...]
    spots: tuple[TransferSpot, ...]
