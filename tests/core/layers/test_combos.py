"""Lists of sticks by the best stacks that they make: against every stack there is, laid one by one."""

import itertools
from dataclasses import replace

import numpy as np
import pytest

from core.layers.combos import Combos, Sticks
from core.layers.doses import NONE, scale_of
from core.layers.forward import Places
from core.layers.frame import Frame
from core.layers.hands import hands_for
from core.layers.school import Wishes, frame_for
from core.layers.search import PLACE_COST
from core.optics.stick import Tray
from tests.core.layers.test_plans import FACE, few

STICK_COST = 0.15


class Case:
    """A small tray, its places, and lists judged by hand."""

    def __init__(self, tray: Tray) -> None:
        laid_out = few(tray)
        aims = laid_out.aims(np.array([spot.lab for spot in FACE]))
        self.scale = scale_of("pencil")
        self.places = Places(laid_out.box.coarse(), self.scale, aims, hands_for(len(FACE), 0))
        roles = [spot.role for spot in FACE]
        self.frame = frame_for(laid_out.box, laid_out.method, roles, aims, Wishes(black="free"))
        self.usable = np.unique([action.stick for action in laid_out.box.actions])
        self.costs = np.full(len(laid_out.box.sticks), STICK_COST)

    def combos(self, frame: Frame | None = None) -> Combos:
        return Combos(self.places, frame or self.frame, PLACE_COST, self.costs, self.scale.tried, unsteady=False)

    def of_stack(self, sticks: Sticks, doses: tuple[int, ...]) -> np.ndarray:
        """(m,): what one stack costs at every place; inf where it must not lie."""
        state = self.places.start()
        frame, free = self.frame, np.ones(len(FACE), dtype=bool)
        laid = [(k, d) for k, d in zip(sticks, doses, strict=True) if d != NONE]
        for slot, (stick, dose) in enumerate(laid):
            free &= self.places.box.tooth_left_at(state.filled) >= frame.least_tooth
            state = self.places.lay(state, slot, stick, np.full(len(FACE), dose))
            free &= frame.may_lie[:, stick] & (frame.may_begin[:, stick] if slot == 0 else True)
        lawful = all(frame.follow[a, b] for (a, _), (b, _) in itertools.combinations(laid, 2))
        return np.where(free & lawful, self.places.costs(state)[0] + PLACE_COST * len(laid), np.inf)

    def cost(self, sticks: Sticks) -> float:
        """What a list costs: the best of all its stacks at every place, and its sticks."""
        every = [
            self.of_stack(sticks, doses) for doses in itertools.product((NONE, *self.scale.tried), repeat=len(sticks))
        ]
        return float(np.min(every, axis=0).sum() + STICK_COST * len(sticks))


@pytest.fixture(scope="module")
def case(big_range: Tray) -> Case:
    return Case(big_range)


def test_a_list_costs_what_its_best_stacks_do(case: Case) -> None:
    combos = case.combos()
    for sticks in itertools.permutations(case.usable.tolist()[1:6], 2):
        assert combos.cost(sticks) == pytest.approx(case.cost(sticks), rel=1e-3)
    three = tuple(case.usable[[2, 4, 5]].tolist())
    assert combos.cost(three) == pytest.approx(case.cost(three), rel=1e-3)


def test_the_stick_put_in_is_the_best_of_all_at_the_best_place_of_all(case: Case) -> None:
    held = (int(case.usable[4]),)
    cost, best = case.combos().with_one(held, case.usable)
    every = {
        longer: case.cost(longer)
        for stick in case.usable.tolist()
        if stick not in held
        for longer in ((stick, *held), (*held, stick))
    }
    assert best == min(every, key=lambda sticks: every[sticks])
    assert cost == pytest.approx(every[best], rel=1e-3)
    # Where it may only come last, it does.
    cost_last, last = case.combos().with_one(held, case.usable, (1,))
    assert last[:1] == held and cost_last >= cost


def test_exchanging_never_makes_a_list_dearer(case: Case) -> None:
    combos = case.combos()
    for sticks in itertools.combinations(case.usable.tolist(), 3):
        better = combos.exchanged(sticks, case.usable, 1)
        assert len(better) == 3 and len(set(better)) == 3
        assert combos.cost(better) <= combos.cost(sticks) + 1e-6


def test_lists_followed_up_have_little_in_common_and_the_best_comes_first(case: Case) -> None:
    combos = case.combos()
    _, one = combos.with_one((), case.usable)
    _, best = combos.with_one(one, case.usable)
    assert combos.unlike(best, 1, 0) == [best]
    found = combos.unlike(best, 4, 1)
    assert found[0] == best and 1 < len(found) <= 4 and all(len(sticks) == 2 for sticks in found)
    assert all(len(set(a) & set(b)) <= 1 for a, b in itertools.combinations(found, 2))
    # Each is the cheapest that was compared and has no more than that in common with those before it.
    costs = [combos.cost(sticks) for sticks in found[1:]]
    assert costs == sorted(costs)
    # What must be in is in all of them, and does not count.
    must = np.isin(np.arange(len(case.costs)), best)
    combos = case.combos(replace(case.frame, must=must))
    _, again = combos.with_one(combos.with_one((), case.usable)[1], case.usable)
    assert len(combos.unlike(again, 4, 0)) > 1


def test_the_best_doses_are_the_best_and_then_others_of_other_layers(case: Case) -> None:
    sticks = tuple(case.usable[[2, 4, 5]].tolist())
    found = case.combos().best_doses(sticks, 3, case.scale.tried)
    first = np.array([case.of_stack(sticks, tuple(doses)) for doses in found[0].T]).diagonal()
    assert first.sum() + 3 * STICK_COST == pytest.approx(case.cost(sticks), rel=1e-3)
    for place in range(len(FACE)):
        kinds = {tuple(doses[:, place] != NONE) for doses in found}
        own = [case.of_stack(sticks, tuple(doses[:, place]))[place] for doses in found]
        assert own == sorted(own) and len(kinds) >= 2


def test_what_must_be_in_is_taken_and_no_more_sticks_than_are_wanted(case: Case) -> None:
    must = np.zeros(len(case.costs), dtype=bool)
    must[case.usable[-1]] = True
    frame = replace(case.frame, must=must, most_sticks=2)
    costs = np.where(must, -1e3, case.costs)
    combos = Combos(case.places, frame, PLACE_COST, costs, case.scale.tried, unsteady=False)
    # What must be in may not lie first at every place; so it comes second, whatever would be better there.
    _, one = combos.with_one((), case.usable)
    _, two = combos.with_one(one, case.usable)
    assert len(two) == 2 and int(case.usable[-1]) in two
    assert combos.with_one(two, case.usable)[0] == np.inf
