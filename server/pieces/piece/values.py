"""A piece as it goes out: what was decided, what was done on paper, what was worked out."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal, get_args
from uuid import UUID

from annotated_types import Interval, Len, MaxLen
from pydantic import StringConstraints

from core.light.scene import MOST_AROUND, MOST_SITTERS, Around, Exposure, Key, Settled, Sitter, Twice
from core.limits import LIMITS, Name, OwnId
from core.look.measuring import Measured, Placement
from core.look.reading import Reading
from server.api.schema import EXAMPLE_IDS, EXAMPLE_VERSION, example
from server.api.values import encode, value
from server.pieces.document.schema import Document, Spot, empty_document
from server.pieces.look.readings import Temperature
from server.pieces.mix.laid_out import Reach
from server.pieces.mix.outcomes import Outcome
from server.pieces.mix.values import SpotIds
from server.pieces.work.values import Work

Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=LIMITS.title)]
Pictured = Literal["after", "maps"]
"""What is seen of a plan: the reference after all layers, or the maps of them."""
PartPath = Annotated[str, MaxLen(120)]
PICTURED: tuple[Pictured, ...] = get_args(Pictured)
MOST_PARTS = 5000
Version = Annotated[int, Interval(ge=1, le=2**31)]


def example_document() -> object:
    """A small document as it is sent: one spot with a recipe of one pass, and one under a layer."""
    spot = encode(Spot, Spot("spot-1", "figure-1", "cheek", "cheek", "middle", 0.5, 0.5, 0.05)) | {
        "recipe": {"passes": [{"stick": "G01", "pressure": "light", "repeats": 2}]}
    }
    other = encode(Spot, Spot("spot-2", "figure-1", "chin", "chin", "half-shadow", 0.5, 0.7, 0.05))
    layer = {"id": "layer-1", "stick": "G01", "levels": {"spot-2": {"pressure": "light", "repeats": 1}}}
    return encode(Document, empty_document()) | {
        "tray": EXAMPLE_IDS["tray_id"],
        "picture": EXAMPLE_IDS["picture_id"],
        "spots": [spot, other],
        "layers": [layer],
    }


@example({"title": "Lamp trimmer"})
@value
class NewPiece:
    """key: the same one again makes no second piece."""

    title: Title
    key: OwnId = ""


@example({"version": EXAMPLE_VERSION, "title": "Lamp trimmer", "document": example_document()})
@value
class WritePiece:
    """A new state, made from `version`. key: the same one again writes nothing more, and gets the piece as it is."""

    version: Version
    title: Title
    document: Document
    key: OwnId = ""


@example({"version": EXAMPLE_VERSION, "changes": {"spots/spot-1/name": "left cheek"}, "known": ""})
@value
class ChangePiece:
    """Some parts of a document (see server.pieces.document.parts) and perhaps a title, made from `version`.

    known: what the sender holds of what was worked out (`keys.found`); key: as in WritePiece.
    """

    version: Version
    changes: Annotated[dict[PartPath, Any], MaxLen(MOST_PARTS)]
    title: Title | None = None
    known: OwnId = ""
    key: OwnId = ""


@example({"version": EXAMPLE_VERSION})
@value
class PieceVersion:
    """known, key: as in ChangePiece."""

    version: Version
    known: OwnId = ""
    key: OwnId = ""


@example({"version": EXAMPLE_VERSION, "spots": []})
@value
class Solve:
    """spots: ids of those to be mixed, none for all."""

    version: Version
    spots: SpotIds
    known: OwnId = ""
    key: OwnId = ""


@value
class SeatAsked:
    """figure: the id of one that is there, empty for a new one."""

    name: Name
    sitter: Sitter
    figure: OwnId = ""


@example({"version": EXAMPLE_VERSION, "seats": [{"name": "Odelo", "sitter": {"skin": {"depth": 29}}}], "key_light": {}})
@value
class Imagine:
    """Who sits in an imagined light. The other fields: as in core.light.scene.Scene.

    drawn: whether a sheet of them becomes the picture; without it the piece keeps the one it has, or none. spots:
    whether what is proposed takes the place of the spots that these figures have.
    """

    version: Version
    seats: Annotated[tuple[SeatAsked, ...], Len(1, MOST_SITTERS)]
    key_light: Key
    around: Annotated[tuple[Around, ...], MaxLen(MOST_AROUND)] = ()
    exposure: Exposure = 0.0
    settled: Settled = -1.0
    sheen: Twice = 1.0
    bleeding: Twice = 1.0
    drawn: bool = True
    spots: bool = True
    known: OwnId = ""
    key: OwnId = ""


@value
class PieceRow:
    id: UUID
    title: str
    changed: datetime
    picture: UUID | None
    figures: tuple[str, ...]
    spots: int
    steps: int
    done: int


@value
class PictureInPiece:
    id: UUID
    width: int
    height: int
    profile: str


@value
class SpotFound:
    """What was worked out about a spot. beyond: why its colour cannot be reached, empty if it can."""

    reading: Reading | None = None
    temperature: Temperature | None = None
    beyond: str = ""
    outcome: Outcome | None = None


@value
class Found:
    """What was worked out about a piece. spots: by their ids."""

    spots: dict[str, SpotFound]
    reach: Reach | None
    placement: Placement | None
    measured: tuple[Measured, ...]


@value
class Keys:
    """One for each part that is asked for by itself: it changes whenever the answer could.

    found: all that was worked out about the piece; look: ways of seeing; sheet: the work sheet; figures: bases and
    ramps; forecast: the drawing foreseen; surroundings: spots beside their neighbours; maps: those of layers; layers:
    what is to be expected of them.
    """

    found: str
    look: str
    study: str
    transfer: str
    sheet: str
    figures: str
    palette: str
    forecast: str
    surroundings: str
    maps: str
    layers: str


@value
class Piece:
    """troubles: what the stored piece holds wrongly, and what cannot be worked out: a sentence each."""

    id: UUID
    title: str
    version: int
    changed: datetime
    can_undo: bool
    can_redo: bool
    document: Document
    work: Work
    found: Found
    keys: Keys
    troubles: tuple[str, ...]
    picture: PictureInPiece | None


@value
class PieceChange:
    """What a write has changed of a piece, beyond what its sender asked for.

    document: the parts of the document that differ from those that were sent. spots: what was worked out about spots,
    field by field, where it differs from what the sender knows; complete where that is not known. measured: None where
    it is as it was.
    """

    version: int
    title: str
    changed: datetime
    can_undo: bool
    can_redo: bool
    keys: Keys
    troubles: tuple[str, ...]
    picture: PictureInPiece | None
    document: dict[str, Any]
    spots: dict[str, dict[str, Any]]
    reach: Reach | None
    placement: Placement | None
    measured: tuple[Measured, ...] | None


@value
class SheetPages:
    """How many there are."""

    pages: int
