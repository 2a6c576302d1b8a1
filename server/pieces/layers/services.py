"""Plans in layers: worked out for figures, taken into the document, judged as they are."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from django.contrib.auth.models import User

from core.errors import CaltinError, InputError, NotFoundError
from core.layers.curve import MOST
from core.layers.doses import Dose
from core.layers.hands import MOST_LAYERS
from core.layers.natural import Spot as Place
from core.layers.plan import Layer, Plan, Plans
from core.look.study import MODEL as SEEING
from core.plan import layer_questions as questions
from core.plan import map_questions
from core.plan.layer_questions import PARTS, FigureTask, Judged, LayersTask
from core.plan.map_questions import SkinColours
from core.plan.questions import Owned
from core.recipe.recipe import MODEL
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.pictures.services import get_picture
from server.pieces.document.history import Opened
from server.pieces.document.schema import Document, Level, PlannedLayer, Spot
from server.pieces.layers.taking import Rows, fewest_pick_ups, with_layers
from server.pieces.layers.values import (
    AsPlanned,
    Closeness,
    FigureAsItIs,
    LayersAsTheyAre,
    OtherStick,
    SaidLayer,
    SaidPlan,
    SaidPlans,
    ToldLayer,
    TryPlans,
)
from server.pieces.look.readings import Readings, readings_of
from server.pieces.look.services import seen_of
from server.pieces.mix.laid_out import owned_by
from server.pieces.mix.services import no_spot, nothing_to_mix
from server.pieces.results import ResultCache

_plans: ResultCache[Plans] = ResultCache(Plans, "plans", MODEL)
_judged: ResultCache[Judged] = ResultCache(Judged, "layers", MODEL)
_skins: ResultCache[SkinColours] = ResultCache(SkinColours, "skin", SEEING)
_colours: SingleFlightCache[str, tuple[tuple[str, ...], ...]] = SingleFlightCache(60)
_LIGHTLY = Dose("light", 1)
_FROM_ABOVE = 1
"""How many layers more than asked for are looked at: what they lead to may be better with one taken out."""


@dataclass(frozen=True, slots=True)
class PlannedFigure:
    """The spots of a figure that can be planned, and the layers over them."""

    id: str
    spots: tuple[Spot, ...]
    places: tuple[Place, ...]
    rows: Rows

    def layers(self) -> tuple[Layer, ...]:
        """The layers as the computation knows them."""
        return tuple(_layer(row, self.spots) for row in self.rows)

    def kept(self) -> tuple[Layer, ...]:
        """Those that are locked."""
        return tuple(_layer(row, self.spots) for row in self.rows if row.locked)


def _layer(row: PlannedLayer, spots: Sequence[Spot]) -> Layer:
    levels = tuple(
        Dose(level.pressure, level.repeats, level.flicked) if (level := row.levels.get(spot.id)) else None
        for spot in spots
    )
    most = max((level for level in levels if level), key=lambda dose: level_of(dose).much(), default=_LIGHTLY)
    return Layer(row.stick, most, levels, "", row.technique, row.id)


def _figure_of(document: Document, readings: Readings, figure_id: str, as_it_is: bool = False) -> PlannedFigure:
    """The spots that would be planned; of a figure as it is those that have no recipe of their own.

    Raises NotFoundError (`no_figure`).
    """
    if figure_id not in {figure.id for figure in document.figures}:
        raise NotFoundError("no_figure", "There is no such figure.", "Choose another.", "figure")
    spots = tuple(
        spot
        for spot in document.spots_of(figure_id)
        if spot.id in readings and not (spot.recipe and (as_it_is or spot.locked or _holds_locked(spot)))
    )
    places = tuple(Place(spot.name, spot.place, spot.role, readings[spot.id].swatch.lab) for spot in spots)
    mine = {spot.id for spot in spots}
    rows = tuple(layer for layer in document.layers if mine & layer.levels.keys())
    return PlannedFigure(figure_id, spots, places, rows)


def places_of(user: User, document: Document, figure_id: str) -> list[tuple[Spot, Place]]:
    """The spots of a figure that can be planned, and their colours. Raises NotFoundError (`no_figure`)."""
    figure = _figure_of(document, readings_of(user, document), figure_id)
    return list(zip(figure.spots, figure.places, strict=True))


def _holds_locked(spot: Spot) -> bool:
    return any(pass_.locked for pass_ in spot.passes)


def _owned(user: User, document: Document) -> Owned:
    """The artist's own things, once it is sure that they can be laid out. Raises what `lay_out_kit` raises."""
    owned = owned_by(user, document)
    owned.kit()
    return owned


def planned(user: User, document: Document, figures: Sequence[str], count: int) -> Document:
    """The document with these figures (all if none are named) in layers: so many, or as many as are worth it (0).

    Locked layers and recipes stay. Raises InputError (`nothing_to_mix`, `all_locked`, or what core.plan.layered
    raises), NotFoundError (`no_figure`), Underway.
    """
    owned, readings = _owned(user, document), readings_of(user, document)
    asked = tuple(figures) or tuple(figure.id for figure in document.figures)
    found = [_figure_of(document, readings, figure) for figure in asked]
    if not any(spot.id in readings for figure in asked for spot in document.spots_of(figure)):
        raise nothing_to_mix()
    if not any(figure.spots for figure in found):
        raise InputError("all_locked", "Every one of these recipes is locked.", "Unlock one first.", "spots")
    for figure in found:
        if figure.spots:
            most = min(MOST_LAYERS - 1, count + _FROM_ABOVE) if count else MOST
            plans = _plans_of(_task(user, owned, document, figure, most))
            plan = plans.of(count or plans.recommended)
            document = with_layers(document, figure.spots, _rows(plan, figure))
    return document


def _task(user: User, owned: Owned, document: Document, figure: PlannedFigure, most: int) -> FigureTask:
    mine = {spot.id for spot in figure.spots}
    at_hand = {pass_.stick for spot in document.spots if spot.id not in mine for pass_ in document.passes_of(spot)}
    return FigureTask(
        owned, figure.places, figure.kept(), tuple(sorted(at_hand)), most, _skin(user, document, figure.id)
    )


def _skin(user: User, document: Document, figure_id: str) -> SkinColours:
    """Colours of which a figure's skin consists. Raises Underway."""
    if document.picture is None:
        return ()
    seen = seen_of(get_picture(user, document.picture), document)
    number = [figure.id for figure in document.figures].index(figure_id)
    step = Step(map_questions.skin_of, (seen, number))
    return _skins.get((seen, number), lambda: jobs.do(digest("skin", seen, number), [step], Lane.PICTURES)[0])


def _plans_of(task: FigureTask) -> Plans:
    """All plans of a figure. Raises Underway."""

    def work() -> Plans:
        steps = [Step(questions.plans_part, (task, part)) for part in range(PARTS)]
        last = jobs.do(digest("plans", task), steps)[-1]
        assert last is not None  # the last part has them
        return last

    return _plans.get(task, work)


def _rows(plan: Plan, figure: PlannedFigure) -> Rows:
    """A plan as a document holds it: every spot is named, if only as one that stays bare."""
    locked = {row.id: row for row in figure.rows if row.locked}
    rows = [_row(layer, figure.spots, locked.get(layer.id)) for layer in plan.layers]
    laid = {spot_id for row in rows for spot_id in row.levels}
    bare: dict[str, Level | None] = {spot.id: None for spot in figure.spots if spot.id not in laid}
    return (replace(rows[0], levels=rows[0].levels | bare), *rows[1:])


def _row(layer: Layer, spots: Sequence[Spot], held: PlannedLayer | None = None) -> PlannedLayer:
    levels: dict[str, Level | None] = {
        spot.id: level_of(dose) for spot, dose in zip(spots, layer.levels, strict=True) if dose
    }
    if held:
        # It may lie over another figure too.
        return replace(held, levels=levels)
    return PlannedLayer(layer.id or uuid.uuid4().hex[:12], layer.stick, levels, layer.technique)


def level_of(dose: Dose) -> Level:
    """A dose as a document holds it."""
    return Level(dose.pressure, dose.repeats, dose.flicked)


def tried(user: User, document: Document, asked: TryPlans) -> SaidPlans:
    """Plans of a figure to look at, perhaps with another set-up. Raises as `planned` does."""
    changes = {
        name: held
        for name in ("method", "black", "under", "max_sticks", "banned", "must_use")
        if (held := getattr(asked, name)) is not None
    }
    document = replace(document, setup=replace(document.setup, **changes))
    owned, readings = _owned(user, document), readings_of(user, document)
    figure = _figure_of(document, readings, asked.figure)
    if not figure.spots:
        raise nothing_to_mix()
    task = _task(user, owned, document, figure, asked.most or MOST)
    if asked.first:
        (plans,) = jobs.do(digest("first plans", task), [Step(questions.first_plans, (task,))])
    else:
        plans = _plans_of(task)
    every = tuple(plans.by_count.values())
    gives = _gives(owned, figure, [plan.layers for plan in every])
    said = tuple(_said(plan, figure, colours) for plan, colours in zip(every, gives, strict=True))
    return SaidPlans(figure.id, said, plans.recommended, plans.untried)


def _gives(owned: Owned, figure: PlannedFigure, plans: Sequence[tuple[Layer, ...]]) -> tuple[tuple[str, ...], ...]:
    """The colours that plans give at a figure's spots. Raises Underway."""
    task = (owned, figure.places, tuple(plans))
    return _colours.get(
        digest("gives", *task), lambda: jobs.do(digest("gives", *task), [Step(questions.gives, task)], Lane.PICTURES)[0]
    )


def _said(plan: Plan, figure: PlannedFigure, gives: Sequence[str] = ()) -> SaidPlan:
    held = {row.id: row for row in figure.rows}
    layers = tuple(
        SaidLayer(_row(layer, figure.spots, held.get(layer.id)), level_of(layer.most), layer.area)
        for layer in plan.layers
    )
    colours = {spot.id: colour for spot, colour in zip(figure.spots, gives, strict=False)}
    return SaidPlan(layers, plan.expected, Closeness.of(plan.expected), colours)


def taken(user: User, document: Document, figure_id: str, rows: Rows) -> Document:
    """The document with these layers over a figure in the place of those it has; recipes of spots that none of them
    names stay. Raises NotFoundError (`no_figure`)."""
    figure = _figure_of(document, readings_of(user, document), figure_id)
    named = {spot_id for row in rows for spot_id in row.levels}
    return with_layers(document, [spot for spot in figure.spots if not spot.recipe or spot.id in named], rows)


def as_it_is(user: User, document: Document, figure_id: str) -> tuple[PlannedFigure, LayersTask]:
    """A figure and its layers. Raises InputError (`no_layers`), NotFoundError (`no_figure`)."""
    owned = _owned(user, document)
    figure = _figure_of(document, readings_of(user, document), figure_id, as_it_is=True)
    if not figure.rows:
        raise InputError("no_layers", "This figure is not planned in layers yet.", "Plan its layers first.", "figure")
    locked = tuple(row.id for row in figure.rows if row.locked)
    return figure, LayersTask(owned, figure.places, figure.layers(), locked)


def fitted(user: User, document: Document, figure_id: str) -> SaidPlan:
    """The layers of a figure with their doses chosen anew. Raises InputError, NotFoundError, Underway."""
    figure, task = as_it_is(user, document, figure_id)
    (plan,) = jobs.do(digest("fitted", task), [Step(questions.fitted, (task,))], Lane.PICTURES)
    return _said(plan, figure)


def with_accent(user: User, document: Document, spot_id: str) -> SaidPlan:
    """The layers of a figure with one more over this spot alone. Raises InputError, NotFoundError (`no_spot`)."""
    spot = next((spot for spot in document.spots if spot.id == spot_id), None)
    if spot is None:
        raise no_spot()
    figure, task = as_it_is(user, document, spot.figure)
    places = [held.id for held in figure.spots]
    if spot_id not in places:
        raise InputError(
            "spot_has_its_own_recipe",
            "This spot has a recipe of its own, or no reading.",
            "Take that recipe away first, so that the layers lie over it.",
            "spot",
        )
    step = Step(questions.with_accent, (task, places.index(spot_id)))
    (plan,) = jobs.do(digest("accent", task, spot_id), [step], Lane.PICTURES)
    return _said(plan, figure)


def other_sticks(user: User, document: Document, figure_id: str, layer_id: str) -> list[OtherStick]:
    """Other sticks for a layer, the best for the whole face first. Raises InputError, NotFoundError."""
    figure, task = as_it_is(user, document, figure_id)
    # Who asks for another stick in a layer that was kept means to change it.
    task = replace(task, locked=tuple(each for each in task.locked if each != layer_id))
    step = Step(questions.other_sticks, (task, layer_id))
    (swaps,) = jobs.do(digest("other sticks", task, layer_id), [step], Lane.PICTURES)
    said = []
    gives = _gives(task.owned, figure, [swap.layers for swap in swaps])
    for swap, colours in zip(swaps, gives, strict=True):
        plan = _said(Plan(swap.layers, swap.expected), figure, colours)
        changed = tuple(
            replace(row, layer=replace(row.layer, stick=swap.stick)) if row.layer.id == layer_id else row
            for row in plan.layers
        )
        said.append(OtherStick(swap.stick, replace(plan, layers=changed)))
    return said


def as_they_are(user: User, opened: Opened) -> LayersAsTheyAre:
    """What is to be expected of the layers of each figure that has any, by its maps if they are there. Raises
    Underway."""
    figures, drawn = [], opened.drawn()
    for figure in opened.document.figures:
        try:
            held, task = as_it_is(user, drawn.document, figure.id)
            aimed = as_it_is(user, opened.document, figure.id)[1]
        except InputError as error:
            if error.code == "no_layers":
                continue
            figures.append(_trouble(figure.id, error))
            continue
        try:
            figures.append(_told(held, task.layers, _judged_as(task), _judged_as(aimed), drawn.most))
        except CaltinError as error:
            figures.append(_trouble(figure.id, error))
    return LayersAsTheyAre(tuple(figures), *fewest_pick_ups(opened.document))


def _judged_as(task: LayersTask) -> Judged:
    return _judged.get(
        task, lambda: jobs.do(digest("judged", task), [Step(questions.judged, (task,))], Lane.PICTURES)[0]
    )


def _told(
    figure: PlannedFigure, layers: Sequence[Layer], said: Judged, aimed: Judged, most: Mapping[str, Level]
) -> FigureAsItIs:
    """aimed: what was to be expected of the layers as they were planned."""
    told = (
        ToldLayer(layer.id, most.get(layer.id) or level_of(layer.most), area, doing.why, doing.without)
        for layer, area, doing in zip(layers, said.areas, said.doings, strict=True)
    )
    endings = {spot.id: ending for spot, ending in zip(figure.spots, said.endings, strict=True)}
    words, planned = Closeness.of(said.expected), AsPlanned(aimed.expected, Closeness.of(aimed.expected))
    return FigureAsItIs(
        figure.id, tuple(told), said.holes, endings, said.expected, words, planned, aimed.keeps_the_rules
    )


def _trouble(figure: str, error: CaltinError) -> FigureAsItIs:
    return FigureAsItIs(figure, trouble=f"{error.message} {error.hint}")
