"""What goes in and out about drawings that are compared."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from annotated_types import Interval, Len, MaxLen

from core.colour.swatch import Swatch
from core.compare.corrections import MOST
from core.limits import LIMITS, Code, Identifier, Point
from core.photo.squared import Corner
from core.trial.calibration import Errors
from server.api.schema import EXAMPLE_IDS, example
from server.api.values import value
from server.pieces.document.schema import Level

Corners = Annotated[tuple[Corner, ...], Len(4, 4)]
MOST_BESIDE = 24
Note = Annotated[str, MaxLen(LIMITS.note)]


_WHOLE = [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]]
_INSIDE = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]]


@example({"picture": EXAMPLE_IDS["picture_id"], "corners": _WHOLE, "frame": _INSIDE})
@value
class AskComparison:
    """picture: a photograph or a scan that was put in. corners: of the sheet, in parts of it, clockwise from its upper
    left; looked for if there are none. frame: of the piece's picture on the sheet, in parts of that. chart: of a chart
    of 24 patches, in parts of the sheet."""

    picture: UUID
    corners: Corners | None = None
    frame: Corners | None = None
    chart: Corners | None = None


@value
class SwatchBeside:
    """A closed swatch of a stick that trial cards have shown, laid once and as hard as the hand goes beside the
    drawing. x, y: parts of the sheet."""

    x: Annotated[float, Interval(ge=0, le=1)]
    y: Annotated[float, Interval(ge=0, le=1)]
    stick: Code


@example({"note": "the second evening"})
@value
class ChangeComparison:
    """What becomes of it; what is not named stays. moved: by spot, where it lies in the picture; all of them. taken:
    numbers of the corrections that are on the sheet as another round, from 0; all of them. chart, beside: what tells of
    the camera, one or the other; empty: nothing does but the paper."""

    corners: Corners | None = None
    frame: Corners | None = None
    chart: Annotated[tuple[Corner, ...], MaxLen(4)] | None = None
    beside: Annotated[tuple[SwatchBeside, ...], MaxLen(MOST_BESIDE)] | None = None
    moved: Annotated[dict[Identifier, Point], MaxLen(LIMITS.spots)] | None = None
    taken: Annotated[tuple[Annotated[int, Interval(ge=0, le=MOST)], ...], MaxLen(MOST)] | None = None
    note: Note | None = None


@value
class SpotCompared:
    """wanted: as the picture shows it; seen: as it is drawn, None where nothing could be read, and then `trouble` says
    why. steps: of value by which it is lighter (+) or darker; off: ΔE00; doubt: ΔE00 by which the reading may be off;
    word: what is wrong with it, empty where nothing is beyond that; close: how near it is, in words."""

    spot: str
    wanted: Swatch
    seen: Swatch | None
    steps: float
    off: float
    doubt: float
    word: str
    close: str
    trouble: str
    x: float
    y: float


@value
class SaidFinding:
    """stage: `values`, `order`, `hue`, `edges` or `places`, in the order in which one judges; figure: its id; spots:
    theirs."""

    stage: str
    figure: str
    kind: str
    text: str
    spots: tuple[str, ...]


@value
class ComparisonRow:
    """mean: ΔE00 over the places, and in words; taken: how many corrections are on the sheet."""

    id: UUID
    number: int
    made: datetime
    mean: float
    close: str
    taken: int


@value
class TakenCorrection:
    """A correction that is on the sheet."""

    id: str
    title: str
    stick: str


@value
class Compared:
    """A photograph of the drawing, judged. corners: of the sheet in the photograph; frame: of the picture on the sheet;
    said: what is wrong with all of it. bare: whether most of what neighbours the skin is still paper. teaches: how many
    places could teach the sticks; taught: whether they do."""

    id: UUID
    number: int
    made: datetime
    picture: UUID
    corners: tuple[Corner, ...]
    frame: tuple[Corner, ...]
    chart: tuple[Corner, ...] | None
    beside: tuple[SwatchBeside, ...]
    said: tuple[str, ...]
    bare: bool
    mean: float
    close: str
    usual: float
    spots: tuple[SpotCompared, ...]
    found: tuple[SaidFinding, ...]
    taken: tuple[TakenCorrection, ...]
    note: str
    teaches: int
    taught: bool


@value
class Comparisons:
    """All photographs of the drawing, the earliest first. all_laid: whether nothing is ticked in Work, so that all
    layers are taken as laid."""

    rows: tuple[ComparisonRow, ...]
    all_laid: bool


@value
class SaidCorrection:
    """One layer more. number: from 0; area: where, in words; how: how hard and how often, in words; levels: by spot;
    before, after: mean ΔE00 of its figure, and in words."""

    number: int
    figure: str
    stick: str
    name: str
    hex: str
    title: str
    area: str
    how: str
    levels: dict[str, Level]
    before: float
    after: float
    before_words: str
    after_words: str
    taken: bool


@value
class NothingHelps:
    """Spots that are off and that no stick brings nearer, and what is left to do."""

    spots: tuple[str, ...]
    text: str
    caution: str


@value
class SaidAdvice:
    """headline: how many things there are to do; line: what to begin with, and how much room there is."""

    headline: str
    line: str
    corrections: tuple[SaidCorrection, ...]
    nothing: tuple[NothingHelps, ...]


@example({"learn": True})
@value
class Teach:
    """Whether the sticks are to learn from the places of a drawing."""

    learn: bool


@value
class TaughtBy:
    """errors: medians over all boxes before and after; words: what changed."""

    errors: Errors | None
    words: tuple[str, ...]
    places: int
    taught: bool


Side = Literal["drawing", "reference"]
SIDES: tuple[Side, ...] = ("drawing", "reference")
