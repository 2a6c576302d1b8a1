"""What the recipes of a piece give."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from django.contrib.auth.models import User

from core.colour.spaces import Floats
from core.colour.swatch import Swatch
from core.errors import CaltinError, InputError
from core.optics.kit import Kit
from core.optics.medium import Layered, Pass
from core.optics.stick import Stick
from core.plan.questions import Owned
from core.plan.setup import judged
from core.recipe.cautions import Caution
from core.recipe.reach import beyond
from core.recipe.recipe import MODEL, Asked, Recipe, work_out_all
from core.recipe.why import why
from server.api.memo import digest
from server.api.values import value
from server.pieces.document.schema import Document, PlannedPass, Spot
from server.pieces.look.readings import Readings
from server.pieces.mix.laid_out import Reach, colour_name, kit_for, lightness_reach
from server.pieces.results import ResultCache

Lab = tuple[float, float, float]


@value
class PassOutcome:
    """The colour after a pass, how much of the tooth is free then (0–1), and what the pass does."""

    after: Swatch
    tooth_left: float
    effect: str


@value
class Outcome:
    """What a recipe gives; with `trouble` set, that sentence is all there is. See core.recipe.recipe.Recipe.

    grain: colours of equal parts of the surface, from the valleys of the paper's tooth to its peaks.
    """

    trouble: str = ""
    why: str = ""
    target: Swatch | None = None
    paper: Swatch | None = None
    result: Swatch | None = None
    steps: tuple[PassOutcome, ...] = ()
    delta_e: float | None = None
    delta_v: float | None = None
    tolerance: float | None = None
    cautions: tuple[Caution, ...] = ()
    grain: tuple[str, ...] = ()

    @staticmethod
    def of(recipe: Recipe, kit: Layered) -> Outcome:
        """What a recipe gives."""
        return Outcome(
            why=why(recipe, kit),
            target=recipe.target,
            paper=recipe.paper,
            result=recipe.result,
            steps=tuple(PassOutcome(step.after, step.tooth_left, step.effect) for step in recipe.steps),
            delta_e=recipe.delta_e,
            delta_v=recipe.delta_v,
            tolerance=recipe.tolerance,
            cautions=recipe.cautions,
            grain=recipe.grain,
        )


_outcomes: ResultCache[Outcome] = ResultCache(Outcome, "outcome", MODEL)


@dataclass(frozen=True, slots=True)
class Outcomes:
    """Outcomes and their keys by the id of the spot; spots without a recipe are missing."""

    by_spot: dict[str, Outcome]
    keys: dict[str, str]


NO_OUTCOMES = Outcomes({}, {})
_UNREAD = Outcome(trouble="This spot has no reading yet.")


def seen_colours(document: Document, readings: Readings) -> tuple[list[Spot], Floats]:
    """The spots that have a reading, and their CIELAB (m, 3)."""
    read = [spot for spot in document.spots if spot.id in readings]
    return read, np.array([readings[spot.id].swatch.lab for spot in read]).reshape(-1, 3)


def targets_of(user: User, document: Document, readings: Readings, owned: Owned | None = None) -> dict[str, Lab]:
    """What the recipe of each spot with a reading is judged by, by spot id.

    Raises what `lightness_reach` raises where the whole scale of values is moved.
    """
    read, seen = seen_colours(document, readings)
    labs = judged(seen, document.setup.fit, partial(lightness_reach, user, document, owned)) if read else seen
    return {spot.id: _rounded(lab) for spot, lab in zip(read, labs, strict=True)}


def labs_of(colours: Floats) -> tuple[Lab, ...]:
    """Colours (m, 3) as plain values."""
    return tuple((float(lightness), float(a), float(b)) for lightness, a, b in colours)


def _rounded(lab: Floats) -> Lab:
    lightness, a, b = (round(float(v), 3) for v in lab)
    return lightness, a, b


def outcomes_of(user: User, document: Document, readings: Readings, owned: Owned | None = None) -> Outcomes:
    """The outcome of every recipe. owned: what it is made with, where that is known already."""
    spots = [spot for spot in document.spots if document.is_planned(spot)]
    if not spots:
        return NO_OUTCOMES
    try:
        kit = kit_for(user, document, owned)
        targets = targets_of(user, document, readings, owned)
    except CaltinError as error:
        return Outcomes(
            {spot.id: Outcome(trouble=error.message) for spot in spots}, {spot.id: error.code for spot in spots}
        )
    read = [spot for spot in spots if spot.id in targets]
    paper, by_code = digest(kit.usual, kit.support), {stick.code: stick for stick in kit.sticks}
    asked = [_Question(paper, by_code, _bare(document.passes_of(spot)), targets[spot.id], spot.role) for spot in read]
    named = [_outcomes.key(row.content) for row in asked]
    found = _outcomes.get_keyed(named, lambda missing: _worked_out(kit, [asked[i].asked for i in missing]))
    by_spot = {spot.id: _UNREAD for spot in spots}
    by_spot |= {spot.id: outcome for spot, outcome in zip(read, found, strict=True)}
    return Outcomes(by_spot, {spot.id: key for spot, key in zip(read, named, strict=True)})


def _bare(passes: Sequence[PlannedPass]) -> list[Pass]:
    return [pass_.bare for pass_ in passes]


class _Question:
    """The question what passes give, with everything that its answer depends on."""

    def __init__(
        self, paper: str, by_code: Mapping[str, Stick], passes: Sequence[Pass], target: Lab, role: str
    ) -> None:
        """paper: a name for what it is and how it is laid on."""
        self.asked = Asked(tuple(passes), target, role)
        used: list[Stick | None] = [by_code.get(pass_.stick) for pass_ in passes]
        sticks = tuple(stick and colour_name(stick) for stick in used)
        self.content = (paper, sticks, self.asked.passes, target, role)


def _worked_out(kit: Kit, asked: Sequence[Asked]) -> list[Outcome]:
    return [
        Outcome(trouble=f"{row.message} {row.hint}") if isinstance(row, InputError) else Outcome.of(row, kit)
        for row in work_out_all(kit, asked)
    ]


def out_of_reach(document: Document, readings: Readings, outcomes: Outcomes, reach: Reach | None) -> dict[str, str]:
    """Why spots cannot be reached, by spot id; empty sentences where they can."""
    if reach is None:
        return {}
    said = {}
    for spot in document.spots:
        if spot.id in readings:
            outcome = outcomes.by_spot.get(spot.id)
            value_ = readings[spot.id].swatch.value
            said[spot.id] = beyond(value_, reach.darkest, reach.lightest, outcome.delta_e if outcome else None)
    return said
