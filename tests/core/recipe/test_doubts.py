"""How sure stacks are, by what else their sticks may be; what is sure is taken before others."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.optics.media import get_medium
from core.optics.stick import Stick, Tray
from core.optics.touch import AS_DECLARED, Fit, packed
from core.plan.setup import lay_out, usual_setup
from core.plan.solve import Wanted, chosen
from core.recipe.doubts import Doubts, others_of
from core.recipe.table import Table
from core.trial.joint import learn
from tests.core.trial.cards import Desk
from tests.core.trial.test_joint import boxes_of, some, stacks_of

STICKS, SUPPORT = Desk().nature.sticks, Desk().nature.support
WANTED = [Wanted((lightness, 16.0, 20.0)) for lightness in (35.0, 45.0, 55.0, 65.0, 75.0)]


def spread(fit: Fit, by: float, seed: int) -> str:
    """What a stick may be as well, if all that is its own is unknown by so much."""
    moved = np.exp(np.random.default_rng(seed).normal(0, by, (8, len(fit.factors()))))
    return packed((np.array(fit.factors()) * np.concatenate([moved, 1 / moved])).tolist())


def doubted(sticks: tuple[Stick, ...], by: float, mark: str = "") -> tuple[Stick, ...]:
    return tuple(
        replace(stick, code=mark + stick.code, fit=replace(stick.fit, others=spread(stick.fit, by, i)))
        for i, stick in enumerate(sticks)
    )


def test_what_a_stick_may_be_as_well_is_another_fit_and_has_none_itself() -> None:
    rows = [(1.0,) * 8, (2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0)]
    fit = Fit(strength=1.1, tint=(0.9, 1.0, 1.2, 1.3), doubt=2.0, liked=True, others=packed(rows))
    other = fit.as_other(1)
    assert (other.strength, other.coverage, other.scatter, other.tint, other.later) == (2, 3, 4, (5, 6, 7, 8), 9)
    assert fit.count == 2 and other.liked and other.factors() == rows[1] and other.count == 0
    assert AS_DECLARED.as_other(3) is AS_DECLARED


def test_nothing_is_doubted_of_a_tray_that_was_never_tried() -> None:
    box = get_medium("pencil").prepare(STICKS, SUPPORT)
    assert others_of(box) == () and not Doubts(box)


@pytest.mark.parametrize("medium", ["pencil", "marker"])
def test_stacks_are_off_the_more_the_more_they_are_doubted(medium: str) -> None:
    # Truth: a nature of other physics, of which a small card was laid.
    nature = some(medium)
    learnt = learn(nature.sticks, nature.support, medium, boxes_of(nature, stacks_of(nature, 10, 1)))
    box = get_medium(medium).prepare(learnt.doubted(()), learnt.support)
    table = lay_out(Tray("", box.sticks), usual_setup(medium), learnt.support).table
    assert isinstance(table, Table) and table.doubts
    rng = np.random.default_rng(5)
    paths = np.array([rng.choice(len(box.actions), 2, replace=False) for _ in range(100)])
    laid = [table.passes(tuple(path)) for path in paths.tolist()]
    seen = table.labs_of(table.run(paths)[0]).astype(float)
    off = ciede2000(seen, np.array([nature.lab(stack) for stack in laid]))
    sure = np.argsort(table.doubts.of(paths))
    assert off[sure[:30]].mean() < 0.8 * off[sure[-30:]].mean()


def test_a_stick_that_came_later_is_less_known_than_those_that_were_tried() -> None:
    known = doubted(STICKS, 0.01)
    box = get_medium("pencil").prepare((*known, replace(STICKS[4], code="new", fit=AS_DECLARED)), SUPPORT)
    new, old = (next(i for i, a in enumerate(box.actions) if a.stick == stick) for stick in (len(STICKS), 4))
    first, second = Doubts(box).of(np.array([[0, new], [0, old]]))
    assert first > 1.5 * second


def test_of_two_sticks_that_do_the_same_the_one_that_is_better_known_is_taken() -> None:
    for sure in ("A", "B"):
        twins = [doubted(STICKS, 0.02 if mark == sure else 0.4, mark) for mark in "AB"]
        stacks = chosen(lay_out(Tray("", (*twins[0], *twins[1])), usual_setup("pencil")), WANTED)
        assert {pass_.stick[0] for stack in stacks for pass_ in stack} == {sure}


def test_what_is_closer_than_is_known_counts_as_equal_and_the_simpler_is_taken() -> None:
    trays = [STICKS, doubted(STICKS, 0.3)]
    passes = [
        sum(len(stack) for stack in chosen(lay_out(Tray("", held), usual_setup("pencil")), WANTED)) for held in trays
    ]
    assert passes[1] < passes[0]
