"""What goes in and out around the recipes."""

from __future__ import annotations

from typing import Annotated

from annotated_types import Interval, MaxLen

from core.colour.swatch import Swatch
from core.limits import LIMITS, Code, Identifier
from core.look.roles import Role
from core.optics.medium import Pass
from core.plan.setup import MAX_STICKS
from core.recipe.figure import Departure, Undertone
from core.recipe.ramp import Ramp
from server.api.schema import example
from server.api.values import value
from server.pieces.document.schema import PlannedPass
from server.pieces.mix.laid_out import Reach
from server.pieces.mix.outcomes import Outcome

Coordinate = Annotated[float, Interval(ge=-200, le=200)]
SpotIds = Annotated[tuple[Identifier, ...], MaxLen(LIMITS.spots)]


@example({"spots": ["spot-1"]})
@value
class Spots:
    """Ids of spots; none for all of them."""

    spots: SpotIds


@example({"spot": "spot-1"})
@value
class OneSpot:
    spot: Identifier


@example({"code": "G01"})
@value
class StickCode:
    code: Code


@example({"target": [62.0, 14.0, 18.0], "role": "middle", "passes": [{"stick": "G01", "pressure": "light"}]})
@value
class Trial:
    """Passes that are being tried out. target: CIELAB."""

    target: tuple[Coordinate, Coordinate, Coordinate]
    role: Role
    passes: Annotated[tuple[PlannedPass, ...], MaxLen(LIMITS.passes)]

    def bare(self) -> tuple[Pass, ...]:
        """The passes as the computation knows them."""
        return tuple(pass_.bare for pass_ in self.passes)


@example({"labs": [[62.0, 14.0, 18.0], [22.0, 9.0, 4.0]]})
@value
class JobColours:
    """CIELAB of jobs, such as those of an imagined light; values: Munsell values of the places that it asks for."""

    labs: Annotated[tuple[tuple[Coordinate, Coordinate, Coordinate], ...], MaxLen(20)]
    values: Annotated[tuple[Annotated[float, Interval(ge=-10, le=20)], ...], MaxLen(LIMITS.spots)] = ()


@value
class StickForJob:
    """of_family: whether it is of the family of hues that serves most of the jobs. off: by how much ΔE00 it misses."""

    code: str
    name: str
    colour: Swatch
    off: float
    of_family: bool


@value
class AtHand:
    """What a new piece of the artist's would be made with: its medium, what tray and paper can hold, and a stick for
    each job; nothing of it as long as there is no tray. out: which of the places cannot be laid; advice: what to do."""

    medium: str
    reach: Reach | None
    sticks: tuple[StickForJob, ...]
    out: tuple[bool, ...]
    advice: str


@example({"size": 4})
@value
class PaletteSize:
    """Either how many sticks, or how much farther off a colour may be than with the whole tray."""

    size: Annotated[int, Interval(ge=1, le=MAX_STICKS)] | None = None
    within: Annotated[float, Interval(ge=0.1, le=10)] | None = None


@value
class Prepared:
    """How many spots there is an answer for."""

    done: int


@value
class Progress:
    """How many steps of a job are done, and of how many; none of none where it must be asked for again."""

    done: int
    total: int


@value
class TriedRecipe:
    passes: tuple[PlannedPass, ...]
    outcome: Outcome


@value
class Answer(TriedRecipe):
    kind: str


@value
class FigurePlan:
    """base: id of the spot whose recipe is the base, empty if nothing is mixed. sticks: those of its ramp."""

    id: str
    base: str
    departures: tuple[Departure, ...]
    undertones: tuple[Undertone, ...]
    sticks: tuple[str, ...]
    ramp: Ramp


@value
class Figures:
    """stages: what is done in each stage of the method."""

    figures: tuple[FigurePlan, ...]
    stages: tuple[tuple[str, ...], ...]


@value
class PaletteStick:
    """loss: what the mean would rise by without it; missed: that in words."""

    code: str
    loss: float
    missed: str


@value
class Buy:
    """gain: what the mean would fall by with it; helps: that in words."""

    code: str
    name: str
    range: str
    gain: float
    helps: str
    swatch: Swatch


@value
class Palette:
    """mean, mean_of_all: ΔE00 with these and with the whole tray; farther: what lies between them, in words."""

    sticks: tuple[PaletteStick, ...]
    mean: float
    mean_of_all: float
    farther: str
    buy: tuple[Buy, ...]


@value
class Neighbour:
    id: str
    name: str
    swatch: Swatch
    own: Swatch
    words: str
