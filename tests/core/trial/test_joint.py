"""What boxes teach, with a nature of other physics for truth (tools.nature)."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.optics.medium import Pass
from core.optics.support import get_support, supports
from core.optics.touch import AS_ASSUMED, AS_DECLARED
from core.trial.joint import MAX_BOXES, Learnt, MeasuredBox, learn, within
from core.trial.space import SHARED, Space
from core.trial.teaching import Stack, offered, teach_most
from tests.conftest import a_range
from tools.bench_trial import RANGES, setup_of, tray_of
from tools.nature import Nature

STICKS = 8


def some(medium: str) -> Nature:
    return Nature(3, tray_of(medium, STICKS), supports()[setup_of(medium).paper])


def stacks_of(nature: Nature, count: int, seed: int) -> list[Stack]:
    """Two or three sticks over each other, as recipes have them."""
    rng = np.random.default_rng(seed)
    pressures = ("light",) if nature.medium == "marker" else ("light", "medium", "heavy")
    return [
        tuple(
            Pass(nature.sticks[i].code, pressures[rng.integers(len(pressures))], int(rng.integers(1, 3)))
            for i in rng.choice(len(nature.sticks), rng.integers(2, 4), replace=False)
        )
        for _ in range(count)
    ]


def boxes_of(nature: Nature, stacks: list[Stack]) -> list[MeasuredBox]:
    read = [nature.lab(stack, hand=0.15, reading=1.0).tolist() for stack in stacks]
    return [MeasuredBox(stack, (lab[0], lab[1], lab[2])) for stack, lab in zip(stacks, read, strict=True)]


def learnt_of(nature: Nature, boxes: list[MeasuredBox]) -> Learnt:
    return learn(nature.sticks, nature.support, nature.medium, boxes)


def off(nature: Nature, learnt: Learnt, stacks: list[Stack]) -> np.ndarray:
    return np.asarray(ciede2000(learnt.labs(stacks), np.array([nature.lab(stack) for stack in stacks])))


@pytest.mark.parametrize("medium", RANGES)
def test_boxes_of_stacks_make_fresh_stacks_true_and_the_bands_hold(medium: str) -> None:
    nature = some(medium)
    fresh, untried = stacks_of(nature, 30, 9), learnt_of(nature, [])
    learnt = learnt_of(nature, boxes_of(nature, stacks_of(nature, 40, 1)))
    before, after = off(nature, untried, fresh), off(nature, learnt, fresh)
    assert np.median(after) < 0.55 * np.median(before)
    # Stacks in any order are harder than plans, of which the bench tells.
    assert 0.5 <= (after < learnt.bands(fresh)).mean() <= 0.97
    assert learnt.bands(fresh).mean() < 0.75 * untried.bands(fresh).mean()


@pytest.mark.parametrize("medium", ["pencil", "oil_pastel"])
def test_boxes_of_single_sticks_make_stacks_no_worse(medium: str) -> None:
    nature = some(medium)
    alone: list[Stack] = [(Pass(stick.code, "light", times),) for stick in nature.sticks for times in (1, 2)]
    fresh = stacks_of(nature, 40, 9)
    learnt = learnt_of(nature, boxes_of(nature, alone))
    assert np.median(off(nature, learnt, fresh)) < 1.02 * np.median(off(nature, learnt_of(nature, []), fresh))
    assert learnt.support.touch(medium) == AS_ASSUMED
    assert any(stick.fit != AS_DECLARED for stick in learnt.sticks)


def test_the_box_that_plans_is_the_one_that_was_fitted() -> None:
    nature = some("pencil")
    learnt = learnt_of(nature, boxes_of(nature, stacks_of(nature, 20, 1)))
    fresh = stacks_of(nature, 5, 2)
    anew = Space(learnt.sticks, learnt.support, "pencil")
    assert np.allclose(anew.labs(anew.stacks(fresh), np.zeros(anew.size)), learnt.labs(fresh), atol=1e-6)
    assert [stick.name for stick in learnt.sticks] == [stick.name for stick in nature.sticks]


def test_one_slipped_box_bends_nothing_and_is_told_apart() -> None:
    nature = some("pencil")
    boxes = boxes_of(nature, stacks_of(nature, 30, 1))
    fresh = stacks_of(nature, 20, 9)
    whole = off(nature, learnt_of(nature, boxes), fresh)
    slipped = [replace(boxes[0], lab=(30.0, -40.0, 30.0)), *boxes[1:]]
    learnt = learnt_of(nature, slipped)
    assert np.median(off(nature, learnt, fresh)) < np.median(whole) + 0.5
    assert learnt.off.argmax() == 0 and learnt.off[0] > 3


def test_few_boxes_move_a_stick_a_little_and_sticks_without_boxes_follow_the_paper_only() -> None:
    nature = some("pencil")
    code = nature.sticks[0].code
    few, many = (
        learnt_of(nature, boxes_of(nature, [(Pass(code, "medium", 1 + i % 3),) for i in range(n)])) for n in (1, 24)
    )
    spread = [np.trace(learnt.covariance) for learnt in (few, many)]
    assert spread[1] < spread[0] < np.trace(learnt_of(nature, []).covariance)
    assert many.sticks[1].fit == AS_DECLARED
    assert learnt_of(nature, []).sticks == nature.sticks


def test_what_cannot_be_learnt_is_refused_or_left_out() -> None:
    sticks, support = a_range("small-tray-24").sticks, get_support("medium-white")
    box = MeasuredBox((Pass("G30", "medium"),), (50.0, 0.0, 0.0))
    with pytest.raises(InputError, match="too many"):
        learn(sticks, support, "pencil", [box] * (MAX_BOXES + 1))
    with pytest.raises(InputError) as caught:
        learn(sticks, support, "pencil", [replace(box, passes=(Pass("G30", "crushing"),))])
    assert caught.value.code == "bad_pressure"
    with pytest.raises(InputError) as caught:
        learn(sticks, support, "opaque", [box])
    assert caught.value.code == "nothing_to_learn" and set(SHARED) == set(RANGES)
    burnished = replace(box, passes=(Pass("G30", "heavy", 1, "burnish"),))
    assert len(learn(sticks, support, "pencil", [burnished, box]).off) == 1


def test_a_band_is_the_radius_that_holds_its_part() -> None:
    # Truth: drawn.
    rng = np.random.default_rng(0)
    spread = np.array([np.diag([4.0, 1.0, 0.25]), np.eye(3)])
    for covariance, radius in zip(spread, within(spread, 0.8), strict=True):
        drawn = np.linalg.norm(rng.multivariate_normal(np.zeros(3), covariance, 20_000), axis=1)
        assert 0.78 < (drawn < radius).mean() < 0.82


def test_hands_are_drawn_as_far_apart_as_is_unknown_and_to_both_sides() -> None:
    nature = some("marker")
    unknown, known = learnt_of(nature, []), learnt_of(nature, boxes_of(nature, stacks_of(nature, 40, 1)))
    spread = {}
    for learnt in (unknown, known):
        drawn = learnt.hands(8)
        logs = np.log([paper.touch("marker").saturation for paper in drawn])
        middle = np.log(learnt.support.touch("marker").saturation)
        assert len(drawn) == 8 and logs[::2] + logs[1::2] == pytest.approx(np.full(4, 2 * middle))
        spread[learnt] = logs.std()
    assert spread[known] < 0.7 * spread[unknown]
    assert unknown.hands(8) == unknown.hands(8) and unknown.hands(0) == []


def test_the_boxes_that_teach_most_are_asked_first_and_none_twice() -> None:
    nature = some("pencil")
    stacks = stacks_of(nature, 24, 1)
    chosen = teach_most(learnt_of(nature, []), offered(stacks), stacks, 16)
    assert len(set(chosen.stacks)) == 16
    falls = -np.diff(chosen.bands)
    assert (falls >= -1e-9).all() and falls[:4].mean() > 3 * falls[-4:].mean()
    assert chosen.bands[-1] < 0.6 * chosen.bands[0]
    # Against as many boxes drawn at random.
    rng = np.random.default_rng(4)
    offers = offered(stacks)
    fresh = stacks_of(nature, 24, 9)
    drawn = [offers[i] for i in rng.choice(len(offers), 16, replace=False)]
    chose, random = (learnt_of(nature, boxes_of(nature, list(card))) for card in (chosen.stacks, drawn))
    assert chose.bands(stacks).mean() / chose.wider < random.bands(stacks).mean() / random.wider
    assert np.median(off(nature, chose, fresh)) < np.median(off(nature, learnt_of(nature, []), fresh))
