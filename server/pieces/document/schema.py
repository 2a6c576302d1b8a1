"""What an artist decided about a piece: the document, as typed, frozen values.

Nothing in it was worked out, and nothing of it was done on paper: see server.pieces.results and server.pieces.work.
"""

from __future__ import annotations

import dataclasses
import uuid
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Literal, get_args
from uuid import UUID

from annotated_types import Interval, Len, MaxLen

from core.errors import InputError
from core.layers.doses import LEAST_MM2, USUAL_DOSES
from core.light.families import Family
from core.light.scene import (
    MOST_AROUND,
    MOST_SITTERS,
    Around,
    Exposure,
    Key,
    Scene,
    Settled,
    Sitter,
    Twice,
)
from core.limits import LIMITS, Choice, Code, Fraction, Identifier, Name, OwnId, Point
from core.look.balance import Neutral
from core.look.faces import Face
from core.look.measuring import Format, Mark
from core.look.reading import Corners, Disc, Outline, Radius, Region, middle_of
from core.look.roles import Place, Role
from core.look.study import Person, Stroke
from core.optics.medium import HOW_HARD, MAX_REPEATS, PRESSURES, Pass
from core.plan.setup import Setup
from core.surround.ramp import MOST_LAYERS, Shade
from core.surround.region import MOST_POINTS, USUAL_REACH, Part, Seed
from core.surround.region import Kind as SurroundKind
from server.api.values import value

Schema = Literal[10]
(SCHEMA,) = get_args(Schema)
"""The number of the present schema. It grows with every change of what a document holds, together with a step in
migrate.py and a folder of the version before in tests/folders."""


@dataclass(frozen=True, slots=True)
class Light:
    """Where the light comes from: 0 from the right, 90 from above."""

    from_deg: Annotated[float, Interval(ge=0, le=360)]


MapAreas = Literal["drawn", "named"]
MapDoses = Annotated[int, Interval(ge=1, le=9)]
LeastMm2 = Annotated[float, Interval(ge=1, le=1000)]


@dataclass(frozen=True, slots=True)
class MapsWanted:
    """How the layers' maps are drawn. areas: where they serve best, or those that have names; doses: of each layer,
    besides none; least_mm2: the smallest area, on the sheet, where areas are drawn."""

    areas: MapAreas = "drawn"
    doses: MapDoses = USUAL_DOSES
    least_mm2: LeastMm2 = LEAST_MM2


@dataclass(frozen=True, slots=True)
class Grid:
    columns: Annotated[int, Interval(ge=1, le=40)]
    rows: Annotated[int, Interval(ge=1, le=40)]
    diagonals: bool


@dataclass(frozen=True, slots=True)
class Cross:
    """The centre that rays are measured from."""

    x: Fraction
    y: Fraction


@dataclass(frozen=True, slots=True)
class PlannedPass(Pass):
    """A pass of a recipe. id: its own, by which it is ticked; locked: it stays when the spot is mixed anew."""

    id: OwnId = ""
    locked: bool = False

    @property
    def bare(self) -> Pass:
        """The pass as the computation knows it."""
        return Pass(self.stick, self.pressure, self.repeats, self.technique)

    @staticmethod
    def of(pass_: Pass) -> PlannedPass:
        """A pass with an id of its own."""
        return PlannedPass(pass_.stick, pass_.pressure, pass_.repeats, pass_.technique, uuid.uuid4().hex[:12])


@dataclass(frozen=True, slots=True)
class PlannedRecipe:
    passes: Annotated[tuple[PlannedPass, ...], MaxLen(LIMITS.passes)]

    def bare(self) -> tuple[Pass, ...]:
        """The passes as the computation knows them."""
        return tuple(pass_.bare for pass_ in self.passes)


@dataclass(frozen=True, slots=True)
class Level:
    """How hard a layer is laid at a spot, and how often; flicked: as a loose coat of ink that covers half of it."""

    pressure: Choice
    repeats: Annotated[int, Interval(ge=1, le=MAX_REPEATS)]
    flicked: bool = False

    def much(self) -> float:
        """How much that is, for telling levels of one medium apart."""
        return HOW_HARD[PRESSURES.index(self.pressure)] * (self.repeats - 0.5 * self.flicked)


@value
class PlannedLayer:
    """One stick, or a tool, taken in hand once. levels: by the id of a spot, of one figure or of several; it lies where
    there is one. locked: it stays when it is planned anew.

    A tick of its id means all of it.
    """

    id: Identifier
    stick: Code
    levels: Annotated[dict[Identifier, Level | None], MaxLen(LIMITS.spots)]
    technique: Choice = "lay"
    locked: bool = False

    def at(self, spot: str) -> PlannedPass | None:
        """Its part of a spot's recipe."""
        level = self.levels.get(spot)
        return None if level is None else self.laid(level)

    def laid(self, level: Level) -> PlannedPass:
        """Itself, laid so hard and so often."""
        technique = "flick" if level.flicked else self.technique
        return PlannedPass(self.stick, level.pressure, level.repeats, technique, self.id, self.locked)


@dataclass(frozen=True, slots=True)
class Seat:
    """A figure that is not seen but described."""

    figure: Identifier
    sitter: Sitter


@dataclass(frozen=True, slots=True)
class Imagined:
    """An imagined light, as in core.light.scene.Scene, and who sits in it. sheet: the picture that was drawn of them;
    where the piece has another picture, or none, their spots aim for their place and family."""

    seats: Annotated[tuple[Seat, ...], Len(1, MOST_SITTERS)]
    key: Key
    around: Annotated[tuple[Around, ...], MaxLen(MOST_AROUND)]
    exposure: Exposure = 0.0
    settled: Settled = -1.0
    sheen: Twice = 1.0
    bleeding: Twice = 1.0
    sheet: UUID | None = None

    def scene(self) -> Scene:
        """All of it, as the computation knows it."""
        sitters = tuple(seat.sitter for seat in self.seats)
        return Scene(sitters, self.key, self.around, self.exposure, self.settled, self.sheen, self.bleeding)

    def seat(self, figure: str) -> int | None:
        """The number of a figure's seat, if it has one."""
        return next((number for number, seat in enumerate(self.seats) if seat.figure == figure), None)


@dataclass(frozen=True, slots=True)
class Figure:
    id: Identifier
    name: Name
    face: Face | None = None
    strokes: Annotated[tuple[Stroke, ...], MaxLen(LIMITS.strokes)] = ()

    @property
    def person(self) -> Person:
        """What it says of the person in the picture."""
        return Person(self.face, self.strokes)


@dataclass(frozen=True, slots=True)
class Spot:
    """family: of an imagined light, where the spot aims for its place in it and not for what a picture shows."""

    id: Identifier
    figure: Identifier
    name: Name
    place: Place
    role: Role
    x: Fraction
    y: Fraction
    radius: Radius
    outline: Corners | None = None
    recipe: PlannedRecipe | None = None
    locked: bool = False
    family: Family | None = None

    @property
    def region(self) -> Region:
        """What it holds: its outline if it has one, else its disc."""
        return Disc(self.x, self.y, self.radius) if self.outline is None else Outline(self.outline)

    @property
    def passes(self) -> tuple[PlannedPass, ...]:
        """The passes of a recipe of its own; none as long as it has none."""
        return self.recipe.passes if self.recipe else ()


@value
class Surrounding:
    """A region of the reference that neighbours the skin, such as hair or cloth, grown from its points. more: of them
    besides the first; reach: how far it goes from them; shade: what it is shaded with. layers: of its ramp, in working
    order; their levels are by part: light, middle and shade."""

    id: Identifier
    name: Name
    x: Fraction
    y: Fraction
    radius: Radius
    kind: SurroundKind = "other"
    more: Annotated[tuple[Point, ...], MaxLen(MOST_POINTS)] = ()
    reach: Fraction = USUAL_REACH
    shade: Shade = "darker"
    layers: Annotated[tuple[PlannedLayer, ...], MaxLen(MOST_LAYERS)] = ()

    @property
    def disc(self) -> Disc:
        return Disc(self.x, self.y, self.radius)

    @property
    def seed(self) -> Seed:
        """What it is grown from."""
        return Seed(((self.x, self.y), *self.more), self.reach)

    def passes_in(self, part: Part) -> tuple[Pass, ...]:
        """What lies in its light, middle or shade."""
        return tuple(pass_.bare for layer in self.layers if (pass_ := layer.at(part)))


@value
class Document:
    """Everything that was decided about a piece. unit: the mark that counts as 1; balance: what is to be white.

    no_faces: finds that the artist called wrong. layers: of all figures, in working order; a spot's recipe is read off
    them, unless it has one of its own. imagined: the light on figures that are not seen but described.
    """

    schema: Schema
    setup: Setup
    maps: MapsWanted
    tray: UUID | None
    picture: UUID | None
    balance: Neutral | None
    light: Light | None
    format: Format
    grid: Grid | None
    cross: Cross | None
    marks: Annotated[tuple[Mark, ...], MaxLen(LIMITS.marks)]
    unit: Identifier | None
    figures: Annotated[tuple[Figure, ...], Len(1, LIMITS.figures)]
    no_faces: Annotated[tuple[Face, ...], MaxLen(LIMITS.no_faces)]
    spots: Annotated[tuple[Spot, ...], MaxLen(LIMITS.spots)]
    surroundings: Annotated[tuple[Surrounding, ...], MaxLen(LIMITS.surroundings)]
    layers: Annotated[tuple[PlannedLayer, ...], MaxLen(LIMITS.layers)]
    imagined: Imagined | None

    def spots_of(self, figure: str) -> tuple[Spot, ...]:
        """The spots of one figure."""
        return tuple(spot for spot in self.spots if spot.figure == figure)

    def passes_of(self, spot: Spot) -> tuple[PlannedPass, ...]:
        """The recipe of a spot: its own, or its part of every layer over it."""
        if spot.recipe:
            return spot.recipe.passes
        return tuple(pass_ for layer in self.layers if (pass_ := layer.at(spot.id)))

    def is_planned(self, spot: Spot) -> bool:
        """Whether a spot has a recipe, be it to leave the paper bare."""
        return spot.recipe is not None or any(spot.id in layer.levels for layer in self.layers)

    def pass_ids(self) -> tuple[str, ...]:
        """What can be ticked: layers, and passes of recipes of spots' own."""
        laid = [layer.id for layer in self.layers if any(layer.levels.values())]
        around = [layer.id for region in self.surroundings for layer in region.layers]
        return (*laid, *(pass_.id for spot in self.spots for pass_ in spot.passes), *around)

    @property
    def on_its_sheet(self) -> bool:
        """Whether the picture is what was drawn of the figures that are described."""
        return self.imagined is not None and self.picture is not None and self.picture == self.imagined.sheet

    def with_spots(self, spots: Iterable[Spot]) -> Document:
        """The document with these spots instead."""
        return dataclasses.replace(self, spots=tuple(spots))


def empty_document() -> Document:
    """What a new piece holds."""
    return Document(
        schema=SCHEMA,
        setup=Setup(),
        maps=MapsWanted(),
        tray=None,
        picture=None,
        balance=None,
        light=None,
        format=Format(),
        grid=None,
        cross=None,
        marks=(),
        unit=None,
        figures=(Figure("figure-1", "Figure 1"),),
        no_faces=(),
        spots=(),
        surroundings=(),
        layers=(),
        imagined=None,
    )


def check_references(document: Document) -> None:
    """Raises InputError (`same_id`, `refers_to_nothing`) unless every id is one thing's, and what is named is there."""
    for part, rows in (
        ("figures", document.figures),
        ("spots", document.spots),
        ("marks", document.marks),
        ("layers", document.layers),
    ):
        twice = [key for key, count in Counter(row.id for row in rows).items() if count > 1]
        if twice:
            raise InputError(
                "same_id", f"Two {part} have the id “{twice[0]}”.", "Nothing was changed.", f"document.{part}"
            )
    if document.unit is not None and document.unit not in {mark.id for mark in document.marks}:
        raise InputError(
            "refers_to_nothing", "The unit is none of the measures.", "Nothing was changed.", "document.unit"
        )
    known = {figure.id for figure in document.figures}
    for i, spot in enumerate(document.spots):
        if spot.figure not in known:
            raise InputError(
                "refers_to_nothing",
                "A spot belongs to a figure that is not there.",
                "Nothing was changed.",
                f"document.spots[{i}].figure",
            )


def settled(document: Document) -> Document:
    """The document as it is stored: outlined spots have their centre where the outline is, every pass has an id, and
    layers lie over nothing but spots that are there and have no recipe of their own."""
    over = {spot.id for spot in document.spots if spot.recipe is None}
    layers = (
        layer
        if layer.levels.keys() <= over
        else dataclasses.replace(layer, levels={key: level for key, level in layer.levels.items() if key in over})
        for layer in document.layers
    )
    spots = tuple(_settled(spot) for spot in document.spots)
    return dataclasses.replace(document, spots=spots, layers=tuple(layers))


def _settled(spot: Spot) -> Spot:
    if isinstance(spot.region, Outline):
        x, y = middle_of(spot.region)
        spot = dataclasses.replace(spot, x=x, y=y)
    if spot.recipe and not all(pass_.id for pass_ in spot.recipe.passes):
        passes = (
            pass_ if pass_.id else dataclasses.replace(PlannedPass.of(pass_), locked=pass_.locked)
            for pass_ in spot.recipe.passes
        )
        spot = dataclasses.replace(spot, recipe=PlannedRecipe(tuple(passes)))
    return spot
