"""Recipes for the spots of a piece, and what is worth knowing around them.

Nothing here is stored but by the one who asks for it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.contrib.auth.models import User

from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.look.reading import read_spot
from core.method.method import get_method
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stick import Stick, Tray
from core.plan.questions import (
    BestPalette,
    Owned,
    Task,
    answers_for,
    palette_for,
    passes_for,
    replacement_for,
    stacks_for,
)
from core.plan.setup import Setup, judged, lay_out_kit
from core.plan.solve import Candidates, Wanted
from core.recipe.context import beside
from core.recipe.figure import Mixed, figure_plan
from core.recipe.ramp import ramp
from core.recipe.reach import fitted
from core.recipe.recipe import Recipe, work_out
from server.api.jobs import Step, jobs
from server.api.memo import SingleFlightCache
from server.materials import services as materials
from server.pictures.services import decoded, get_picture
from server.pieces.document.schema import Document, PlannedPass, PlannedRecipe, Spot
from server.pieces.look.readings import Readings, readings_of
from server.pieces.mix.laid_out import kit_for, lightness_reach, owned_by
from server.pieces.mix.outcomes import Lab, Outcome, labs_of, outcomes_of, seen_colours, targets_of
from server.pieces.mix.values import (
    Answer,
    Buy,
    FigurePlan,
    Figures,
    Neighbour,
    Palette,
    PaletteStick,
    TriedRecipe,
)
from server.pieces.results import digest

_MOST_FROM_RANGES = 100
_WORTH_BUYING = 0.01
_MID_GREY_L = 50.0
_WHITE_PAPER = (96.0, 0.0, 1.5)

_candidates: SingleFlightCache[tuple[object, ...], Candidates] = SingleFlightCache(1200)
_palettes: SingleFlightCache[tuple[object, ...], BestPalette] = SingleFlightCache(200)
_AT_ONCE = 8
"""Spots of one step of a job."""


@dataclass(frozen=True, slots=True)
class Prepared:
    """Spots to be mixed, what each is to become, and the best stacks for it."""

    task: Task
    spots: list[Spot]
    wanted: list[Wanted]
    lists: list[Candidates]


def prepared(user: User, document: Document, spot_ids: Sequence[str]) -> Prepared:
    """The best stacks of these spots (all if none are named), from memory as far as they are at hand.

    Raises InputError (`nothing_to_mix`, `all_locked`, or what the core raises), Underway.
    """
    owned = owned_by(user, document)
    lay_out_kit(Tray("", owned.sticks), owned.setup, owned.paper)  # what is wrong with either is said first
    read, seen = seen_colours(document, readings_of(user, document))
    asked = [spot for spot in read if not spot_ids or spot.id in spot_ids]
    if not asked:
        raise _nothing_to_mix()
    spots = [spot for spot in asked if not spot.locked]
    if not spots:
        raise InputError(
            "all_locked", "Every one of these recipes is locked, so nothing was changed.", "Unlock one first.", "spots"
        )
    reach = lightness_reach(user, document)
    mixed = {spot.id for spot in spots}
    aims, targets = fitted(seen, *reach, owned.setup.fit), judged(seen, owned.setup.fit, lambda: reach)
    task = Task(owned, labs_of(aims))
    wanted = [
        Wanted.of(aim, spot.role, [pass_.bare for pass_ in _locked(spot)], target)
        for spot, aim, target in zip(read, aims, targets, strict=True)
        if spot.id in mixed
    ]
    # How colours are fitted is in the targets by now, and what shadows share is chosen later.
    search = replace(task, owned=replace(owned, setup=replace(owned.setup, fit=Setup().fit, one_shadow=False)))
    key = digest("stacks", search)
    lists = _candidates.get_many(
        [(key, row.target, row.role, row.locked) for row in wanted],
        lambda missing: _found(key, search, [wanted[i] for i in missing]),
    )
    return Prepared(task, spots, wanted, lists)


def _found(key: str, task: Task, wanted: Sequence[Wanted]) -> list[Candidates]:
    parts = [tuple(wanted[i : i + _AT_ONCE]) for i in range(0, len(wanted), _AT_ONCE)]
    found = jobs.do(digest(key, wanted), [Step(stacks_for, (task, part)) for part in parts])
    return [row for part in found for row in part]


def _nothing_to_mix() -> InputError:
    return InputError(
        "nothing_to_mix", "There is no spot to mix for yet.", "Put in a picture and mark spots first.", "spots"
    )


def _locked(spot: Spot) -> list[PlannedPass]:
    return [pass_ for pass_ in spot.passes if pass_.locked]


def solved(user: User, document: Document, spot_ids: Sequence[str]) -> Document:
    """The document with fresh recipes for these spots, or for all if none are named. What is locked stays.

    Raises InputError (`nothing_to_mix`, `all_locked`) if there is no spot to mix, and Underway.
    """
    found = prepared(user, document, spot_ids)
    mixed = {spot.id for spot in found.spots}
    in_use = frozenset(pass_.stick for spot in document.spots if spot.id not in mixed for pass_ in spot.passes)
    wanted = tuple(found.wanted)
    (stacks,) = jobs.do(
        digest("passes", found.task, wanted, sorted(in_use)),
        [Step(passes_for, (found.task, wanted, found.lists, in_use))],
    )
    fresh = {
        spot.id: PlannedRecipe(_with_locks(stack, _locked(spot)))
        for spot, stack in zip(found.spots, stacks, strict=True)
    }
    return document.with_spots(replace(spot, recipe=fresh.get(spot.id, spot.recipe)) for spot in document.spots)


def _with_locks(passes: Sequence[Pass], locked: Sequence[PlannedPass]) -> tuple[PlannedPass, ...]:
    """Passes as they are planned; those that were locked keep their ids, ticks and notes, and stay locked."""
    rows, waiting = [], list(locked)
    for pass_ in passes:
        rows.append(waiting.pop(0) if waiting and waiting[0].bare == pass_ else PlannedPass.of(pass_))
    return tuple(rows)


Ranges = dict[str, tuple[str, Stick]]
"""Sticks of ranges by code, with the name of their range."""


def predicted(user: User, document: Document, target: Lab, role: str, passes: Sequence[Pass]) -> Outcome:
    """The outcome of passes that are being tried out. Raises InputError naming the pass."""
    kit = kit_for(user, document)
    return Outcome.of(work_out(kit, passes, target, role), kit)


def other_answers(user: User, document: Document, spot_id: str) -> list[Answer]:
    """The answers for a spot, each with its passes and outcome. Raises InputError, NotFoundError (`no_spot`)."""
    if spot_id not in {spot.id for spot in document.spots}:
        raise _no_spot()
    free = document.with_spots(_unlocked(spot) for spot in document.spots)
    found = prepared(user, free, [spot_id])
    (wanted,), (hits,) = found.wanted, found.lists
    used = frozenset(pass_.stick for spot in document.spots if spot.id != spot_id for pass_ in spot.passes)
    (said,) = jobs.do(
        digest("answers", found.task, wanted, sorted(used)), [Step(answers_for, (found.task, wanted, hits, used))]
    )
    kit = kit_for(user, document)
    rows = []
    for answer in said:
        recipe = work_out(kit, answer.passes, wanted.judged or wanted.target, wanted.role)
        rows.append(Answer(_planned(answer.passes), Outcome.of(recipe, kit), answer.kind))
    return rows


def _unlocked(spot: Spot) -> Spot:
    passes = tuple(replace(pass_, locked=False) for pass_ in spot.passes)
    return replace(spot, locked=False, recipe=spot.recipe and PlannedRecipe(passes))


def _no_spot() -> NotFoundError:
    return NotFoundError("no_spot", "There is no such spot.", "Choose another.", "spot")


def _planned(passes: Sequence[Pass]) -> tuple[PlannedPass, ...]:
    return tuple(map(PlannedPass.of, passes))


def figures(user: User, document: Document) -> Figures:
    """Each figure's base, departures, undertones and ramp, and the stages of the method."""
    kit, setup = kit_for(user, document), document.setup
    method = get_method(setup.method, setup.medium)
    box = kit.boxes[setup.medium]
    targets = targets_of(user, document, readings_of(user, document))
    rows = []
    for figure in document.figures:
        mixed = [
            Mixed(spot.id, spot.place, spot.role, recipe)
            for spot in document.spots_of(figure.id)
            if (recipe := _worked_out(kit, spot, targets))
        ]
        plan = figure_plan(mixed, kit)
        parts = {field: getattr(plan, field) for field in ("base", "departures", "undertones", "sticks")}
        rows.append(FigurePlan(id=figure.id, ramp=ramp(box, plan.sticks), **parts))
    return Figures(tuple(rows), method.stage_names())


def _worked_out(kit: Kit, spot: Spot, targets: dict[str, Lab]) -> Recipe | None:
    if not spot.recipe or spot.id not in targets:
        return None
    try:
        return work_out(kit, spot.recipe.bare(), targets[spot.id], spot.role)
    except InputError:
        return None


def palette(user: User, document: Document, size: int | None, within: float | None) -> Palette:
    """The best palette of a size, or the smallest within a tolerance; what each stick is worth; what to buy.

    Raises InputError (`size_or_within`, `nothing_to_mix`, `bad_palette`, or what the core raises).
    """
    if (size is None) == (within is None):
        raise InputError(
            "size_or_within", "A palette has a size, or is within a tolerance.", "Say one of the two.", "size"
        )
    owned = owned_by(user, document)
    lay_out_kit(Tray("", owned.sticks), owned.setup, owned.paper)  # what is wrong with either is said first
    _, seen = seen_colours(document, readings_of(user, document))
    if not len(seen):
        raise _nothing_to_mix()
    aims = fitted(seen, *lightness_reach(user, document), owned.setup.fit)
    more = _not_owned(owned)
    question = (Task(owned, labs_of(aims)), tuple(stick for _, stick in more.values()), size, within)

    def ask() -> BestPalette:
        (found,) = jobs.do(digest("palette", question), [Step(palette_for, question)])
        return found

    best = _palettes.get(question, ask)
    return Palette(
        sticks=tuple(PaletteStick(code, loss) for code, loss in zip(best.sticks, best.losses, strict=True)),
        mean=round(best.cost, 2),
        mean_of_all=round(best.cost_of_all, 2),
        buy=tuple(_to_buy(*more[code], gain) for code, gain in best.gains if gain > _WORTH_BUYING)[:3],
    )


def _not_owned(owned: Owned) -> Ranges:
    """Sticks of the ranges that are not in the tray."""
    held, medium = {stick.code for stick in owned.sticks}, owned.setup.medium
    found: Ranges = {}
    for range_ in materials.ranges().values():
        for stick in range_.usable(medium):
            if stick.code not in held and not stick.colourless:
                found.setdefault(stick.code, (stick.range, stick))
    return dict(list(found.items())[:_MOST_FROM_RANGES])


def _to_buy(range_name: str, stick: Stick, gain: float) -> Buy:
    return Buy(code=stick.code, name=stick.name, range=range_name, gain=round(gain, 2), swatch=Swatch.of(stick.lab))


def missing(user: User, document: Document, code: str) -> TriedRecipe:
    """The best mix in the place of a stick of the tray or of a range. Raises NotFoundError (`no_stick`)."""
    owned, kit = owned_by(user, document), kit_for(user, document)
    assert document.tray is not None  # owned_by has said so otherwise
    tray = materials.as_core(materials.get_tray(user, document.tray))
    everywhere = [*tray.sticks, *(s for range_ in materials.ranges().values() for s in range_.sticks)]
    stick = next((s for s in everywhere if s.code == code), None)
    if stick is None:
        raise NotFoundError("no_stick", "There is no such stick.", "Choose another.", "code")
    (passes,) = jobs.do(digest("replacement", owned, stick), [Step(replacement_for, (owned, stick))])
    return TriedRecipe(_planned(passes), Outcome.of(work_out(kit, passes, stick.lab), kit))


def context(user: User, document: Document, spot_id: str) -> list[Neighbour]:
    """A spot's colour on paper white, on mid grey, and beside the surroundings of the piece, with a word on each."""
    spot = next((spot for spot in document.spots if spot.id == spot_id), None)
    readings = readings_of(user, document) if spot else Readings()
    if spot is None or spot_id not in readings:
        raise _no_spot()
    outcome = outcomes_of(user, document.with_spots([spot]), readings).by_spot.get(spot_id, Outcome())
    own = outcome.result or readings[spot_id].swatch
    paper = outcome.paper.lab if outcome.paper else _WHITE_PAPER
    around: list[tuple[str, str, Lab]] = [
        ("paper", "on the bare paper", paper),
        ("grey", "on mid grey", (_MID_GREY_L, 0.0, 0.0)),
    ]
    if document.surroundings and document.picture:
        pixels = decoded(get_picture(user, document.picture).digest)
        for place in document.surroundings:
            around.append((place.id, f"beside {place.name}", read_spot(pixels, place.disc).swatch.lab))
    return [
        Neighbour(id=key, name=name, swatch=Swatch.of(lab), own=own, words=beside(own.lab, lab))
        for key, name, lab in around
    ]
