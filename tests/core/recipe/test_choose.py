"""The final choice against brute force: every stack, every hand, every set of sticks."""

from itertools import combinations, product

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.optics.media import get_medium
from core.optics.medium import Hand, Pass
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after
from core.optics.support import get_support
from core.recipe import rules
from core.recipe.choose import around, choose, finalists
from core.recipe.cost import LAYER_COST, SENSITIVITY_COST, STICK_COST
from core.recipe.search import search
from core.recipe.table import Found, Table
from tests.conftest import SWATCHES, pencil

TARGETS = np.array([[78.0, 12, 18], [60, 18, 20], [42, 16, 16], [30, 10, 10]])


def table_of(*codes: str, medium: str = "pencil") -> Table:
    box = get_medium(medium).prepare(tuple(pencil(c, SWATCHES[c]) for c in codes), get_support("medium-white"))
    return Table(box, rules.free(box))


@pytest.fixture(scope="module")
def table() -> Table:
    return table_of("cream", "peach", "terracotta", "brown", "umber", "violet")


def brute_cost(table: Table, passes: tuple[Pass, ...], target: np.ndarray) -> float:
    """The cost of a stack, written out anew."""
    colour = colours_after(table.box, passes)[-1]
    hands = [Hand(0.85), Hand(1.15), Hand(1.0, 0.9), Hand(1.0, 1.1)]
    moved = [ciede2000(colour, colours_after(table.box, passes, hand)[-1]) for hand in hands]
    return float(ciede2000(target, colour, k_l=0.5) + LAYER_COST * len(passes) + SENSITIVITY_COST * np.mean(moved))


def test_the_cost_of_a_finalist_is_distance_layers_and_hand(table: Table) -> None:
    for target, hits in zip(TARGETS, finalists(table, TARGETS, 3), strict=True):
        assert [hit.cost for hit in hits] == sorted(hit.cost for hit in hits)
        for hit in hits[:3]:
            assert hit.cost == pytest.approx(brute_cost(table, table.passes(hit.path), target), abs=0.02)


def test_the_first_finalist_is_within_a_hundredth_of_the_best_of_all_stacks_of_two() -> None:
    table = table_of("peach", "terracotta", "brown")
    every = [(a,) for a in range(len(table.box.actions))] + list(product(range(len(table.box.actions)), repeat=2))
    stacks = [table.passes(path) for path in every]
    for target, hits in zip(TARGETS[1:3], finalists(table, TARGETS[1:3], 2), strict=True):
        best = min(brute_cost(table, stack, target) for stack in stacks)
        assert hits[0].cost <= 1.01 * best + 0.01


def test_the_choice_for_all_is_the_cheapest_set_of_sticks(table: Table) -> None:
    lists = [hits[:12] for hits in finalists(table, TARGETS, 2)]
    chosen = choose(table, lists)

    def total(picked: tuple[Found, ...]) -> float:
        sticks = {int(s) for hit in picked for s in table.stick_of[list(hit.path)]}
        return sum(hit.cost for hit in picked) + STICK_COST * len(sticks)

    # Brute force over every set of sticks: each target takes its cheapest stack within the set.
    best = np.inf
    for size in range(1, 7):
        for some in combinations(range(6), size):
            picked = [next((h for h in hits if set(table.stick_of[list(h.path)]) <= set(some)), None) for hits in lists]
            if None not in picked:
                best = min(best, total(tuple(h for h in picked if h)))
    assert total(tuple(hit for hit in chosen if hit)) <= 1.01 * best


def test_sticks_that_are_needed_anyway_cost_nothing(table: Table) -> None:
    lists = finalists(table, TARGETS, 2)
    alone = choose(table, lists)
    used = {int(s) for hit in alone if hit for s in table.stick_of[list(hit.path)]}
    again = choose(table, lists, at_hand=range(6))
    assert [hit and hit.path for hit in again] == [hits[0].path for hits in lists]
    assert len(used) <= len({int(s) for hits in lists for s in table.stick_of[list(hits[0].path)]})


def test_a_target_without_any_stack_is_left_empty(table: Table) -> None:
    lists = finalists(table, TARGETS[:2], 2)
    assert choose(table, [lists[0], [], lists[1]])[1] is None
    assert choose(table, [[], []]) == [None, None]


def test_what_is_kept_stays_in_its_order_and_the_rest_fits_around_it(table: Table) -> None:
    violet = next(i for i, a in enumerate(table.box.actions) if table.box.sticks[a.stick].code == "violet")
    umber = next(i for i, a in enumerate(table.box.actions) if table.box.sticks[a.stick].code == "umber")
    free = search(table, TARGETS[:1], 4)[0]
    assert free
    for hit in around(table, [(violet, umber)], TARGETS[0], 4)[:10]:
        places = [hit.path.index(violet), len(hit.path) - 1 - hit.path[::-1].index(umber)]
        assert places == sorted(places)
        assert len(hit.path) <= 4
    best = around(table, [(violet,)], TARGETS[0], 4)[0]
    assert violet in best.path
    assert best.cost >= free.cost - 0.01
    # More passes around what is kept help.
    assert best.cost < around(table, [(violet,)], TARGETS[0], 1)[0].cost - 1


def test_the_same_question_has_the_same_answer(table: Table) -> None:
    again = table_of("cream", "peach", "terracotta", "brown", "umber", "violet")
    assert finalists(table, TARGETS) == finalists(again, TARGETS)
    assert choose(table, finalists(table, TARGETS)) == choose(again, finalists(again, TARGETS))


def test_rules_hold_in_everything_that_is_listed(box: PencilBox) -> None:
    from core.method.method import get_method

    ruled = Table(box, get_method("pale_base_first", "pencil").rules(box, "last"))
    for hits in finalists(ruled, TARGETS):
        assert hits
        assert all(ruled.allows(hit.path) for hit in hits)
