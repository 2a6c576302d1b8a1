"""What goes in and out about practice."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from annotated_types import Interval, Len, MaxLen

from core.limits import Code
from core.photo.squared import Corner
from core.practice.asked import KINDS, SOURCES, Group, Kind, Source
from server.api.schema import EXAMPLE_IDS, example
from server.api.values import value


@example({"kinds": ["value"], "sources": ["patches"]})
@value
class AskRound:
    """Empty: everything, what is weak first."""

    kinds: Annotated[tuple[Kind, ...], MaxLen(len(KINDS))] = ()
    sources: Annotated[tuple[Source, ...], MaxLen(len(SOURCES))] = ()


@value
class ChoiceShown:
    stick: str
    name: str
    hex: str
    how: str


@value
class AnswerShown:
    """guess: as it was given; truth: the value, how much more it is, or the index of the best; error: signed; offs: ΔE
    of each choice."""

    guess: float
    truth: float
    error: float
    right: bool
    said: str
    offs: tuple[float, ...]


@value
class QuestionShown:
    """hexes: what is asked about, then its neighbour or what lies there; around: what the first lies in, if anything;
    pictured: whether it can be seen where it is; answer: None until it is given."""

    number: int
    kind: Kind
    group: Group
    place: str
    hexes: tuple[str, ...]
    around: str
    pictured: bool
    choices: tuple[ChoiceShown, ...]
    answer: AnswerShown | None


@value
class PracticeRound:
    id: UUID
    made: datetime
    questions: tuple[QuestionShown, ...]


@example({"guess": 6.5})
@value
class Guess:
    """A value; 1, 0 or −1 for more, alike and less than the neighbour; or the index of a choice."""

    guess: Annotated[float, Interval(ge=-1, le=10)]


@value
class WeekShown:
    """off: mean of the errors without sign; low, high: band of 80 of 100, None where answers are too few."""

    start: datetime
    count: int
    off: float
    low: float | None
    high: float | None


@value
class CurveShown:
    """felt: within which an answer is right; leaning: signed mean, where it surely leans."""

    kind: Kind
    group: Group
    unit: str
    felt: float
    weeks: tuple[WeekShown, ...]
    leaning: float | None


@value
class PrejudiceShown:
    kind: Kind
    group: Group
    error: float
    said: str


@value
class DueShown:
    """days: until it is due, negative since when."""

    kind: Kind
    group: Group
    days: float
    never: bool


@value
class Standing:
    """count: of answers; open: a round that was begun and is not done; sources: what there is to practise on; layers:
    whether a planned piece can be asked about."""

    count: int
    open: UUID | None
    sources: tuple[Source, ...]
    sticks: bool
    layers: bool
    curves: tuple[CurveShown, ...]
    prejudices: tuple[PrejudiceShown, ...]
    due: tuple[DueShown, ...]


@example({"picture": EXAMPLE_IDS["picture_id"], "stick": "G01", "tray": EXAMPLE_IDS["tray_id"]})
@value
class AskRamp:
    """A photograph of five steps laid with a stick. corners: of the sheet, in parts of it; looked for if there are
    none."""

    picture: UUID
    tray: UUID | None = None
    stick: Code | None = None
    corners: Annotated[tuple[Corner, ...], Len(4, 4)] | None = None


@value
class RampShownRead:
    """values: as they were laid; wanted: even steps; errors: too light is positive; hexes: as they were seen."""

    values: tuple[float, ...]
    wanted: tuple[float, ...]
    errors: tuple[float, ...]
    hexes: tuple[str, ...]
    said: str
