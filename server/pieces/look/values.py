"""What goes in and out about looking at a reference."""

from __future__ import annotations

from typing import Literal

from core.colour.swatch import Swatch
from core.look.balance import Neutral
from core.look.faces import Face
from core.look.measuring import Mark
from core.look.neutrals import Kind
from core.look.reading import Corners
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
    """What the reference shows of a figure: see core.look.study.FigureStudy; untold and places as sentences."""

    id: str
    found: bool
    certain: bool
    face: Face | None
    lightest: float | None
    darkest: float | None
    border: float | None
    average: Swatch | None
    complexion: ComplexionReading | None
    untold: str
    places: str


@value
class SpotStudy:
    """family: `light`, `shadow` or nothing. note: what usually holds there; note_source: `measured` or `practice`.

    measured: how it differs from forehead and cheek at this figure's depth, where that was measured. doubt: a gentle
    contradiction. seen_as: the place that the picture shows, where a spot claims none; empty if nobody can
    tell. place_outline: of a narrow place that is read by a disc.
    """

    id: str
    note: str
    note_source: str = ""
    measured: str = ""
    family: str = ""
    doubt: str = ""
    balanced: Swatch | None = None
    seen_as: Place | Literal[""] = ""
    place_outline: Corners | None = None


@value
class Effect:
    """What a balance would make of a figure: its lit skin as seen and balanced, and its complexion or why that cannot
    be told."""

    figure: str
    seen: Swatch | None
    skin: Swatch | None
    complexion: ComplexionReading | None
    untold: str


@value
class Offer:
    """Something in the picture to balance on. sure: whether something else in it says the same of the light."""

    kind: Kind
    on: Neutral
    seen: Swatch
    sure: bool
    effects: tuple[Effect, ...]


@value
class Study:
    """What the reference shows. trouble: sentences where something is in the way; empty otherwise.

    light_sure: whether the direction can be relied on; light_words: of its colour. offers: what could be balanced on.
    """

    figures: tuple[FigureStudy, ...]
    spots: tuple[SpotStudy, ...]
    colourless: bool
    trouble: str
    light_from_deg: float | None
    light_sure: bool
    light_words: str
    offers: tuple[Offer, ...]


@value
class SuggestedFigure:
    id: str
    name: str
    face: Face | None
    is_new: bool


@value
class SuggestedSpot:
    """doubt: why it is to be looked at before it counts; empty if it is plain."""

    figure: str
    place: Place
    role: Role
    x: float
    y: float
    radius: float
    name: str
    outline: Corners | None
    doubt: str
    swatch: Swatch


@value
class Suggestion:
    """A proposal; nothing of it is stored."""

    figures: tuple[SuggestedFigure, ...]
    spots: tuple[SuggestedSpot, ...]
    trouble: str
