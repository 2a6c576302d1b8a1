"""What goes in and out about the work on paper."""

from __future__ import annotations

from typing import Annotated, Literal

from annotated_types import Len, MaxLen

from core.limits import LIMITS, Identifier
from core.method.steps import Order
from core.method.strokes import Kind
from server.api.schema import example
from server.api.values import value

State = Literal["done", "skipped"]
Note = Annotated[str, MaxLen(LIMITS.note)]
MOST_AT_ONCE = 500


@value
class Work:
    """What was done on paper, by the id of a pass."""

    done: dict[Identifier, State]
    notes: dict[Identifier, Note]


@value
class Change:
    """What becomes of one pass: what is not named stays; nothing (“”) takes a tick or a note away."""

    state: State | Literal[""] | None = None
    note: Note | None = None


@example({"passes": {"pass-1": {"state": "done"}, "pass-2": {"note": "harder than planned"}}})
@value
class WorkChanges:
    """By the id of a pass."""

    passes: Annotated[dict[Identifier, Change], Len(1, MOST_AT_ONCE)]


@value
class Job:
    """One pass of one spot; `index` counts from 0 within its recipe. manner: how it is laid, in words."""

    spot: str
    pass_id: str
    index: int
    stick: str
    pressure: str
    repeats: int
    technique: str
    manner: str


@value
class PickUp:
    """A stick taken in hand once, and everything done with it before it is laid down."""

    stick: str
    stage: int
    jobs: tuple[Job, ...]


@value
class LaidPart:
    """What is ticked at once. figure, feature: whose and which; places: their names; how: how it is laid there, in
    words; ticks: the ids under which it is ticked, one for each place; spots: their ids."""

    figure: str
    feature: str
    places: tuple[str, ...]
    how: str
    ticks: tuple[str, ...]
    spots: tuple[str, ...]


@value
class LaidStep:
    """A layer, or a part of it, to be laid at once. number: of the layer, from 1; how: how hard and how often at most,
    in words; kind, stroke, first, end: see core.method.strokes.Stroke; caution: what to beware of where it comes
    first, empty elsewhere. round: 1 for the plan; later ones are corrections, and then comparison and correction say
    which. settles: whether hardly anything holds afterwards, so that the drawing is better compared before."""

    layer: str
    number: int
    stick: str
    technique: str
    how: str
    kind: Kind
    stroke: str
    first: str
    end: str
    caution: str
    parts: tuple[LaidPart, ...]
    settles: bool = False
    round: int = 1
    comparison: str = ""
    correction: int = 0


@value
class AroundStep:
    """A layer of a region that surrounds the skin. where: over which of light, middle and shade; how: how hard and how
    often."""

    region: str
    layer: str
    stick: str
    where: str
    how: str


@value
class Sheet:
    """Pick-ups in working order, the proven least number of them, and what to beware of. steps: the layers as they are
    laid; around: those of hair, cloth and ground; orders: in which they may be."""

    steps: tuple[LaidStep, ...]
    around: tuple[AroundStep, ...]
    orders: tuple[Order, ...]
    pick_ups: tuple[PickUp, ...]
    fewest: int
    cautions: tuple[str, ...]
