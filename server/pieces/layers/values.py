"""What goes in and out around plans in layers."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated

from annotated_types import Interval, MaxLen

from core.colour.words import closeness
from core.layers.doses import Dose
from core.layers.hands import MOST_LAYERS
from core.layers.plan import Expected
from core.limits import LIMITS, Choice, Identifier, OwnId
from core.plan.setup import MAX_STICKS, Codes
from core.plan.walked import Ending, Hole
from server.api.schema import EXAMPLE_VERSION, example
from server.api.values import value
from server.pieces.document.schema import LeastMm2, Level, MapAreas, MapDoses, MapsWanted, PlannedLayer

Count = Annotated[int, Interval(ge=0, le=MOST_LAYERS - 1)]
"""Of layers; 0 for as many as are worth it."""
Version = Annotated[int, Interval(ge=1, le=2**31)]
FigureLayers = Annotated[tuple[PlannedLayer, ...], MaxLen(MOST_LAYERS - 1)]


@example({"version": EXAMPLE_VERSION, "figures": [], "layers": 3})
@value
class PlanLayers:
    """figures: ids of those to be planned, none for all. known, key: as in ChangePiece."""

    version: Version
    figures: Annotated[tuple[Identifier, ...], MaxLen(LIMITS.figures)] = ()
    layers: Count = 0
    known: OwnId = ""
    key: OwnId = ""


@example({"figure": "figure-1", "first": True})
@value
class TryPlans:
    """Plans of one figure to look at. first: the first that can be had, at once. most: layers, 0 for the usual. method,
    black, under, max_sticks, banned, must_use: instead of what the set-up says."""

    figure: Identifier
    first: bool = False
    most: Count = 0
    method: Choice | None = None
    black: Choice | None = None
    under: Choice | None = None
    max_sticks: Annotated[int, Interval(ge=0, le=MAX_STICKS)] | None = None
    banned: Codes | None = None
    must_use: Codes | None = None


@example({"version": EXAMPLE_VERSION, "figure": "figure-1", "layers": []})
@value
class TakeLayers:
    """The layers that a figure is to have, in order, in the place of those it has. known, key: as in ChangePiece."""

    version: Version
    figure: Identifier
    layers: FigureLayers
    known: OwnId = ""
    key: OwnId = ""


@example({"figure": "figure-1"})
@value
class OneFigure:
    figure: Identifier


@example({"spot": "spot-2"})
@value
class AccentAt:
    spot: Identifier


@example({"figure": "figure-1", "layer": "layer-1"})
@value
class OneLayer:
    figure: Identifier
    layer: Identifier


@value
class SaidLayer:
    """A layer that could be taken. most: how hard and how often at most; area: where it lies, in words."""

    layer: PlannedLayer
    most: Level
    area: str


@value
class Closeness:
    """An Expected in words."""

    planned: str
    by_hand: str
    on_paper: str

    @staticmethod
    def of(expected: Expected) -> Closeness:
        return Closeness(closeness(expected.planned), closeness(expected.by_hand), closeness(expected.on_paper))


@value
class SaidPlan:
    """gives: the colour at each spot, sRGB hex, by id; empty where it was not asked for."""

    layers: tuple[SaidLayer, ...]
    expected: Expected
    words: Closeness
    gives: dict[str, str]


@value
class SaidPlans:
    """Plans of one figure, fewest layers first. recommended: how many layers are worth it. untried: ΔE00 by which
    stacks of sticks that nobody has tried are off; 0 if all were tried on this paper."""

    figure: str
    plans: tuple[SaidPlan, ...]
    recommended: int
    untried: float


@value
class OtherStick:
    """Another stick for a layer, and the plan with it."""

    stick: str
    plan: SaidPlan


@value
class ToldLayer:
    """A layer as it is. most: how hard and how often at most; area: where it lies, in words; why, without: what it does
    and how the face ends without it, a sentence each."""

    id: str
    most: Level
    area: str
    why: str
    without: str


@value
class AsPlanned:
    expected: Expected
    words: Closeness


@value
class FigureAsItIs:
    """layers: in order, also of the colours in `holes`. endings: by spot. trouble: why nothing can be said, a sentence;
    then that is all there is. All by the maps, if there are any; planned: of the layers as they were planned, any
    dose anywhere, which is what other plans are compared with; keeps_the_rules: whether all of that is as the method
    wants it."""

    id: str
    layers: tuple[ToldLayer, ...] = ()
    holes: tuple[Hole, ...] = ()
    endings: dict[str, Ending] = field(default_factory=dict)
    expected: Expected | None = None
    words: Closeness | None = None
    planned: AsPlanned | None = None
    keeps_the_rules: bool = False
    trouble: str = ""


@example({"doses": 3, "least_mm2": 30.0})
@value
class AskMaps:
    """doses: of each layer, besides none; least_mm2: the smallest area, on the sheet. areas: drawn where they serve
    best, or those that have names. What is not given is as the piece has it."""

    doses: MapDoses | None = None
    least_mm2: LeastMm2 | None = None
    areas: MapAreas | None = None

    def of(self, wanted: MapsWanted) -> MapsWanted:
        """What is asked for a piece that has its maps like this."""
        return MapsWanted(self.areas or wanted.areas, self.doses or wanted.doses, self.least_mm2 or wanted.least_mm2)


@value
class DosedArea:
    """An area that has a name. dose: the number of the dose there, from 1."""

    area: str
    dose: int


@value
class LayerMap:
    """The doses of a layer in its map, the smallest first. levels: what it has at the figure's spots, by id, so far
    as they lie on mapped skin: what the layer is to have there if it is drawn by the map. where: in areas that
    have names; none where areas were drawn. in_flecks: whether it falls into so many
    small parts that its spots are easier to lay one by one."""

    layer: str
    doses: tuple[Dose, ...]
    levels: dict[str, Level | None]
    where: tuple[DosedArea, ...]
    in_flecks: bool


@value
class FigureMaps:
    """maps: what the pictures are asked for by. mean, p90: CIEDE2000 between the skin and what they give. trouble: why
    there are none; then that is all there is."""

    id: str
    maps: str
    layers: tuple[LayerMap, ...]
    mean: float
    p90: float
    trouble: str


@value
class Maps:
    """noted: whether recipes are other than they were before, now that they are read off these maps."""

    figures: tuple[FigureMaps, ...]
    noted: bool = False


@value
class LayersAsTheyAre:
    """pick_ups: how often a stick is taken in hand; fewest: a proven lower bound of it for any order of the layers of
    different figures."""

    figures: tuple[FigureAsItIs, ...]
    pick_ups: int
    fewest: int
