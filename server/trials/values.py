"""What goes in and out about trial cards."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from annotated_types import Interval, Len, MaxLen

from core.colour.swatch import Swatch
from core.limits import Choice, Code
from core.photo.squared import Box, Corner
from core.trial.calibration import Errors
from core.trial.card import MOST_BOXES
from server.api.schema import EXAMPLE_IDS, example
from server.api.values import value

Corners = Annotated[tuple[Corner, ...], Len(4, 4)]


@example({"kind": "teach", "size": "A5", "boxes": 12})
@value
class AskCard:
    """kind: see `TrialMaterials`; size: of the paper it is printed on; boxes: how many at most."""

    kind: Choice = "teach"
    size: Choice = "A4"
    boxes: Annotated[int, Interval(ge=1, le=MOST_BOXES)] = 48


@example({"picture": EXAMPLE_IDS["picture_id"]})
@value
class AskPhoto:
    """picture: one that was put in; corners: of the field of marks where those are not seen, in parts, clockwise from
    its upper left; page: then which it is, from 0; chart: corners of a chart of 24 patches, in parts of that field."""

    picture: UUID
    page: Annotated[int, Interval(ge=0, le=MOST_BOXES)] | None = None
    corners: Corners | None = None
    chart: Corners | None = None


BoxNumber = Annotated[int, Interval(ge=1, le=MOST_BOXES)]


@example({"left_out": [3, 7], "taken_in": [12], "exchange": None, "liked": [4]})
@value
class CorrectBoxes:
    """What the artist says of a photograph's boxes, by their numbers from 1: all that are not to be learnt from; all
    that look doubtful and are; two that were laid in each other's places. liked: all that the artist likes, whose
    sticks plans then prefer; those that were, if not given."""

    left_out: Annotated[tuple[BoxNumber, ...], MaxLen(MOST_BOXES)] = ()
    taken_in: Annotated[tuple[BoxNumber, ...], MaxLen(MOST_BOXES)] = ()
    exchange: tuple[BoxNumber, BoxNumber] | None = None
    liked: Annotated[tuple[BoxNumber, ...], MaxLen(MOST_BOXES)] | None = None


@example({"stick": "Q04"})
@value
class TakeBack:
    """stick: all boxes that hold it are left out from now on; with none, all boxes are."""

    stick: Code | None = None


@value
class CardBox:
    """number: from 1. lines: what to do, a line for each pass; says: what it is about; foreseen: its colour when the
    card was made; bare: the number of the box with the same but for what lies beneath, 0 if there is none."""

    number: int
    lines: tuple[str, ...]
    sticks: tuple[Code, ...]
    says: str
    foreseen: str
    bare: int


@value
class BoxSeen:
    """seen: what was read; off: ΔE00 from what was foreseen; doubt: by how much the reading may be off. verdict:
    `fine`, `empty`, `glare`, `edge` or `exchanged`, said in a sentence if it is not fine; other: the box that it was
    exchanged with, 0 if none. learnt: whether it is learnt from; liked: whether the artist likes it.
    crossed: of a cross, `shows`, `ghost` or `gone`;
    lighter: Munsell steps by which the under-colour moves it."""

    number: int
    place: Box
    seen: Swatch
    off: float
    doubt: float
    verdict: str
    said: str
    other: int
    learnt: bool
    liked: bool
    crossed: str
    lighter: float


@value
class PhotoSeen:
    """A photograph of one of its pages. said: what is wrong with all of it, or empty."""

    id: UUID
    picture: UUID
    page: int
    corners: tuple[Corner, ...]
    said: str
    made: datetime
    boxes: tuple[BoxSeen, ...]


@value
class TrialCard:
    """number: what its marks tell; bands: ΔE00 within which 80 of 100 of the piece's stacks are foreseen, before it and
    once it is filled, for a card that teaches."""

    id: UUID
    number: int
    kind: str
    name: str
    title: str
    size: str
    pages: int
    bands: tuple[float, float] | None
    made: datetime
    boxes: tuple[CardBox, ...]
    photos: tuple[PhotoSeen, ...]


@value
class LearntBefore:
    """What was known once: when, from how many boxes, and ΔE00 by which stacks like theirs were off in the mean."""

    made: datetime
    boxes: int
    doubt: float


@value
class Learnt:
    """What all cards of these sticks on this paper have shown. errors: medians of ΔE00; disagree: how many boxes depart
    from all others; words: what changed, most first. sticks: codes of those that boxes hold; history: how it came
    about, the latest last."""

    boxes: int
    made: datetime
    errors: Errors | None
    disagree: int
    words: tuple[str, ...]
    sticks: tuple[Code, ...]
    history: tuple[LearntBefore, ...]


@value
class CardKind:
    """id, what it is called, and what it is for."""

    id: str
    name: str
    says: str


@value
class PieceOnIt:
    """Another piece that is planned with the same sticks on the same paper."""

    id: UUID
    title: str


@value
class Trials:
    """The cards of a piece's sticks on its paper, the latest first, and what they have taught; untried: ΔE00 by which
    plans are off in the mean as long as nothing was tried. caution: before anything is laid. pieces: others whose
    plans are foreseen by them, too."""

    medium: str
    paper: str
    untried: float
    doubt: float
    caution: str
    kinds: tuple[CardKind, ...]
    sizes: tuple[str, ...]
    counts: tuple[int, ...]
    cards: tuple[TrialCard, ...]
    learnt: Learnt | None
    pieces: tuple[PieceOnIt, ...] = ()
