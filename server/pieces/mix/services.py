"""Recipes for the spots of a piece, and what is worth knowing around them.

Nothing here is stored but by the one who asks for it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.contrib.auth.models import User

from core.errors import InputError, NotFoundError
from core.optics.medium import Pass
from core.plan.questions import (
    Task,
    answers_for,
    passes_for,
    stacks_for,
)
from core.plan.setup import Setup, judged
from core.plan.solve import Candidates, Wanted
from core.recipe.reach import fitted
from core.recipe.recipe import work_out
from server.api.jobs import Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.pieces.document.schema import Document, PlannedPass, PlannedRecipe, Spot, settled
from server.pieces.look.readings import readings_of
from server.pieces.mix.laid_out import kit_for, lightness_reach, owned_by
from server.pieces.mix.outcomes import Lab, Outcome, labs_of, seen_colours
from server.pieces.mix.values import (
    Answer,
)

_candidates: SingleFlightCache[tuple[object, ...], Candidates] = SingleFlightCache(1200)
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
    owned.kit()  # what is wrong with either is said first
    read, seen = seen_colours(document, readings_of(user, document))
    asked = [spot for spot in read if not spot_ids or spot.id in spot_ids]
    if not asked:
        raise nothing_to_mix()
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


def nothing_to_mix() -> InputError:
    """The refusal where no spot has a reading."""
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
    in_use = frozenset(
        pass_.stick for spot in document.spots if spot.id not in mixed for pass_ in document.passes_of(spot)
    )
    wanted = tuple(found.wanted)
    (stacks,) = jobs.do(
        digest("passes", found.task, wanted, sorted(in_use)),
        [Step(passes_for, (found.task, wanted, found.lists, in_use))],
    )
    fresh = {
        spot.id: PlannedRecipe(_with_locks(stack, _locked(spot)))
        for spot, stack in zip(found.spots, stacks, strict=True)
    }
    mixed_anew = (replace(spot, recipe=fresh.get(spot.id, spot.recipe)) for spot in document.spots)
    return settled(document.with_spots(mixed_anew))


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
        raise no_spot()
    free = document.with_spots(_unlocked(spot) for spot in document.spots)
    found = prepared(user, free, [spot_id])
    (wanted,), (hits,) = found.wanted, found.lists
    used = frozenset(pass_.stick for spot in document.spots if spot.id != spot_id for pass_ in document.passes_of(spot))
    (said,) = jobs.do(
        digest("answers", found.task, wanted, sorted(used)), [Step(answers_for, (found.task, wanted, hits, used))]
    )
    kit = kit_for(user, document)
    rows = []
    for answer in said:
        recipe = work_out(kit, answer.passes, wanted.judged or wanted.target, wanted.role)
        rows.append(Answer(planned(answer.passes), Outcome.of(recipe, kit), answer.kind))
    return rows


def _unlocked(spot: Spot) -> Spot:
    passes = tuple(replace(pass_, locked=False) for pass_ in spot.passes)
    return replace(spot, locked=False, recipe=spot.recipe and PlannedRecipe(passes))


def no_spot() -> NotFoundError:
    """The refusal of a spot that is not there."""
    return NotFoundError("no_spot", "There is no such spot.", "Choose another.", "spot")


def planned(passes: Sequence[Pass]) -> tuple[PlannedPass, ...]:
    """Passes with ids of their own."""
    return tuple(map(PlannedPass.of, passes))
