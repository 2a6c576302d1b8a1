"""Recipes for the spots of a piece, and what is worth knowing around them.

Nothing here is stored but by the one who asks for it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from django.contrib.auth.models import User

from core.colour.spaces import Floats
from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.look.reading import read_spot
from core.optics.medium import Pass
from core.optics.stick import Stick, Tray
from core.plan.setup import LaidOutTray, lay_out, narrowed
from core.plan.solve import Candidates, Wanted, candidates, chosen, replacement
from core.recipe.answers import answers
from core.recipe.context import beside
from core.recipe.figure import Mixed, figure_plan
from core.recipe.palette import Pairs, choose_palette, gains, pair_costs, smallest_palette, weighed
from core.recipe.ramp import ramp
from core.recipe.recipe import Recipe, work_out
from server.api.memo import SingleFlightCache
from server.materials import services as materials
from server.pictures.services import decoded, get_picture
from server.pieces.document.schema import Document, PlannedPass, PlannedRecipe, Spot
from server.pieces.look.readings import Readings, readings_of
from server.pieces.mix.laid_out import Key, keyed, kit_for, laid_out_for
from server.pieces.mix.outcomes import Lab, Outcome, outcomes_of, seen_colours, targets_of
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

WITHIN = (0.5, 1.0, 2.0, 3.0)
"""Choices of how much farther off a colour may be with fewer sticks."""
FEWEST, MOST = 2, 20
_MOST_FROM_RANGES = 100
_MID_GREY_L = 50.0
_WHITE_PAPER = (96.0, 0.0, 1.5)

_narrowed: SingleFlightCache[tuple[Key, int, tuple[str, ...], bytes], LaidOutTray] = SingleFlightCache(16)
_candidates: SingleFlightCache[tuple[object, ...], Candidates] = SingleFlightCache(1200)
Ranges = dict[str, tuple[str, Stick]]
"""Sticks of ranges by code, with the name of their range."""
_wide: SingleFlightCache[tuple[object, ...], tuple[LaidOutTray, Pairs, Ranges]] = SingleFlightCache(4)


@dataclass(frozen=True, slots=True)
class Prepared:
    """Spots to be mixed, what each is to become, and the best stacks for it."""

    laid_out: LaidOutTray
    spots: list[Spot]
    wanted: list[Wanted]
    lists: list[Candidates]


def prepared(user: User, document: Document, spot_ids: Sequence[str]) -> Prepared:
    """The best stacks of these spots (all if none are named), from memory as far as they are at hand.

    Raises InputError (`nothing_to_mix`, `all_locked`, or what the core raises).
    """
    laid_out, key = keyed(user, document)
    read, seen = seen_colours(document, readings_of(user, document))
    asked = [spot for spot in read if not spot_ids or spot.id in spot_ids]
    if not asked:
        raise _nothing_to_mix()
    spots = [spot for spot in asked if not spot.locked]
    if not spots:
        raise InputError(
            "all_locked", "Every one of these recipes is locked, so nothing was changed.", "Unlock one first.", "spots"
        )
    aims, judged = laid_out.aims(seen), laid_out.judged(seen)
    few = _narrow(laid_out, key, aims)
    wanted = [
        Wanted.of(aim, spot.role, [pass_.bare for pass_ in _locked(spot)], target)
        for spot, aim, target in zip(read, aims, judged, strict=True)
        if spot in spots
    ]
    sticks = tuple(stick.code for stick in few.box.sticks)
    setup = few.setup
    lists = _candidates.get_many(
        [
            (key, sticks, setup.max_passes, setup.finish, setup.reserve, row.role, row.target, row.locked)
            for row in wanted
        ],
        lambda missing: candidates(few, [wanted[i] for i in missing]),
    )
    return Prepared(few, spots, wanted, lists)


def _nothing_to_mix() -> InputError:
    return InputError(
        "nothing_to_mix", "There is no spot to mix for yet.", "Put in a picture and mark spots first.", "spots"
    )


def _narrow(laid_out: LaidOutTray, key: Key, targets: Floats) -> LaidOutTray:
    """No more sticks than the set-up allows. Raises what core.plan.setup.narrowed raises."""
    setup = laid_out.setup
    if not 0 < setup.max_sticks < len(laid_out.box.sticks):
        return narrowed(laid_out, targets)
    few = _narrowed.get((key, setup.max_sticks, setup.must_use, targets.tobytes()), lambda: narrowed(laid_out, targets))
    return replace(few, setup=setup)


def _locked(spot: Spot) -> list[PlannedPass]:
    return [pass_ for pass_ in spot.passes if pass_.locked]


def solved(user: User, document: Document, spot_ids: Sequence[str]) -> Document:
    """The document with fresh recipes for these spots, or for all if none are named. What is locked stays.

    Raises InputError (`nothing_to_mix`, `all_locked`) if there is no spot to mix.
    """
    found = prepared(user, document, spot_ids)
    mixed = {spot.id for spot in found.spots}
    in_use = {pass_.stick for spot in document.spots if spot.id not in mixed for pass_ in spot.passes}
    fresh = {
        spot.id: PlannedRecipe(_with_locks(stack, _locked(spot)))
        for spot, stack in zip(found.spots, chosen(found.laid_out, found.wanted, in_use, found.lists), strict=True)
    }
    return document.with_spots(replace(spot, recipe=fresh.get(spot.id, spot.recipe)) for spot in document.spots)


def _with_locks(passes: Sequence[Pass], locked: Sequence[PlannedPass]) -> tuple[PlannedPass, ...]:
    """Passes as they are planned; those that were locked keep their ids, ticks and notes, and stay locked."""
    rows, waiting = [], list(locked)
    for pass_ in passes:
        rows.append(waiting.pop(0) if waiting and waiting[0].bare == pass_ else PlannedPass.of(pass_))
    return tuple(rows)


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
    laid_out, wanted = found.laid_out, found.wanted[0]
    used = {pass_.stick for spot in document.spots if spot.id != spot_id for pass_ in spot.passes}
    said = answers(
        laid_out.table,
        np.array(wanted.target),
        laid_out.setup.max_passes,
        laid_out.index(used),
        found.lists[0],
    )
    rows = []
    for answer in said:
        passes = laid_out.table.stack(answer.found)
        recipe = work_out(laid_out.kit, passes, wanted.judged or wanted.target, wanted.role)
        rows.append(Answer(_planned(passes), Outcome.of(recipe, laid_out.kit), answer.kind))
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
    laid_out = laid_out_for(user, document)
    targets = targets_of(user, document, readings_of(user, document))
    rows = []
    for figure in document.figures:
        mixed = [
            Mixed(spot.id, spot.place, spot.role, recipe)
            for spot in document.spots_of(figure.id)
            if (recipe := _worked_out(laid_out, spot, targets))
        ]
        plan = figure_plan(mixed, laid_out.kit)
        parts = {field: getattr(plan, field) for field in ("base", "departures", "undertones", "sticks")}
        rows.append(FigurePlan(id=figure.id, ramp=ramp(laid_out.box, plan.sticks), **parts))
    return Figures(tuple(rows), laid_out.method.stage_names())


def _worked_out(laid_out: LaidOutTray, spot: Spot, targets: dict[str, Lab]) -> Recipe | None:
    if not spot.recipe or spot.id not in targets:
        return None
    try:
        return work_out(laid_out.kit, spot.recipe.bare(), targets[spot.id], spot.role)
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
    laid_out, key = keyed(user, document)
    _, seen = seen_colours(document, readings_of(user, document))
    if not len(seen):
        raise _nothing_to_mix()
    setup, owned = laid_out.setup, laid_out.box.sticks
    if size is not None and not FEWEST <= size <= min(MOST, len(owned)):
        raise InputError(
            "bad_palette",
            f"A palette of {size} is out of range; the tray holds {len(owned)} that may be used.",
            f"Use {FEWEST} to {min(MOST, len(owned))}.",
            "size",
        )
    aims = laid_out.aims(seen)

    def widen() -> tuple[LaidOutTray, Pairs, Ranges]:
        more = _not_owned(key, setup.medium)
        made = lay_out(
            Tray("", (*key[0], *(stick for _, stick in more.values()))),
            replace(setup, max_sticks=0, must_use=()),
            key[2],
        )
        return made, pair_costs(made.table, aims), more

    wide, pairs, more = _wide.get((key, aims.tobytes()), widen)
    mine = [i for i, stick in enumerate(wide.box.sticks) if stick.code not in more]
    own_pairs = pairs[:, mine][:, :, mine]
    held = [wide.box.sticks[i].code for i in mine]
    must = [held.index(code) for code in setup.must_use if code in held]
    if size is not None:
        best_few = choose_palette(laid_out.table, aims, size, must, pairs=own_pairs)
    else:
        best_few = smallest_palette(laid_out.table, aims, within or WITHIN[1], must, pairs=own_pairs)
    best = weighed(own_pairs, best_few)
    buying = gains(pairs, [mine[i] for i in best_few])
    codes = [held[i] for i in best.sticks]
    return Palette(
        sticks=tuple(PaletteStick(code, loss) for code, loss in zip(codes, best.losses, strict=True)),
        mean=round(best.cost, 2),
        mean_of_all=round(float(own_pairs.min(axis=(1, 2)).mean()), 2),
        buy=tuple(
            _to_buy(wide.box.sticks[i], gain, more[wide.box.sticks[i].code])
            for i, gain in list(buying.items())
            if wide.box.sticks[i].code in more and gain > 0.01
        )[:3],
    )


def _not_owned(key: Key, medium: str) -> Ranges:
    """Sticks of the ranges that are not in the tray."""
    held = {stick.code for stick in key[0]}
    found: Ranges = {}
    for range_ in materials.ranges().values():
        for stick in range_.usable(medium):
            if stick.code not in held and not stick.colourless:
                found.setdefault(stick.code, (stick.range, stick))
    return dict(list(found.items())[:_MOST_FROM_RANGES])


def _to_buy(stick: Stick, gain: float, found: tuple[str, Stick]) -> Buy:
    return Buy(code=stick.code, name=stick.name, range=found[0], gain=round(gain, 2), swatch=Swatch.of(stick.lab))


def missing(user: User, document: Document, code: str) -> TriedRecipe:
    """The best mix in the place of a stick of the tray or of a range. Raises NotFoundError (`no_stick`)."""
    laid_out = laid_out_for(user, document)
    assert document.tray is not None  # laid_out_for has said so otherwise
    tray = materials.as_core(materials.get_tray(user, document.tray))
    everywhere = [*tray.sticks, *(s for range_ in materials.ranges().values() for s in range_.sticks)]
    stick = next((s for s in everywhere if s.code == code), None)
    if stick is None:
        raise NotFoundError("no_stick", "There is no such stick.", "Choose another.", "code")
    recipe = replacement(laid_out, stick)
    return TriedRecipe(_planned([step.pass_ for step in recipe.steps]), Outcome.of(recipe, laid_out.kit))


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
