import itertools

import numpy as np
import pytest

from core.optics.media import get_medium
from core.optics.medium import PRESSURES
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.optics.support import get_support
from core.recipe import rules
from core.recipe.choose import choose, finalists
from core.recipe.cost import LAYER_COST, LOW_STICK_COST, action_costs, colour_cost
from core.recipe.palette import choose_palette, pair_costs
from core.recipe.pool import Pool, distance_from
from core.recipe.search import DEEPEST, search
from core.recipe.table import Table
from tests.conftest import SWATCHES, pencil
from tools.exhaustive import Exhaustive, exact_cost, piece_cost

TARGETS = np.array([[80.0, 10, 16], [66, 15, 18], [52, 20, 22], [40, 16, 16], [30, 10, 10], [60, 4, 2]])


@pytest.fixture(scope="module")
def table(box: PencilBox) -> Table:
    return Table(box, rules.free(box))


def small_box(*codes: str) -> PencilBox:
    made = get_medium("pencil").prepare(tuple(pencil(c, SWATCHES[c]) for c in codes), get_support("medium-white"))
    assert isinstance(made, PencilBox)
    return made


def test_what_is_found_is_what_the_exact_model_gives(table: Table) -> None:
    for found, target in zip(search(table, TARGETS), TARGETS, strict=True):
        assert found is not None
        exact = colours_after(table.box, table.passes(found.path))[-1]
        assert np.allclose(found.lab, exact, atol=0.01)
        assert found.cost == pytest.approx(exact_cost(table.box, found.path, target), abs=0.01)


def test_the_search_comes_within_a_whisker_of_the_exhaustive_optimum() -> None:
    box = small_box("cream", "peach", "terracotta", "brown", "umber", "blue")
    table = Table(box, rules.free(box))
    best = Exhaustive(table, TARGETS, 3, hand_counts=False).per_spot()
    mine = np.array([hit.cost for hit in search(table, TARGETS, 3) if hit])
    gaps = mine / best - 1
    assert gaps.min() > -1e-3
    assert gaps.mean() <= 0.01
    assert gaps.max() <= 0.05


def test_the_choice_for_a_piece_comes_within_a_whisker_of_the_best_set_of_sticks() -> None:
    box = small_box("cream", "peach", "terracotta", "brown", "umber", "blue")
    table = Table(box, rules.free(box))
    every = Exhaustive(table, TARGETS, 2)
    lists = finalists(table, TARGETS, 2)
    assert np.allclose([hits[0].cost for hits in lists], every.per_spot(), atol=0.02)
    assert piece_cost(table, choose(table, lists)) <= 1.01 * every.of_piece()


def test_more_passes_never_cost_more(table: Table) -> None:
    costs = [[hit.cost for hit in search(table, TARGETS, n) if hit] for n in range(1, DEEPEST + 1)]
    assert all(len(row) == len(TARGETS) for row in costs)
    assert (np.diff(np.array(costs), axis=0) <= 1e-6).all()


def test_more_sticks_never_cost_more() -> None:
    few, many = small_box("peach", "brown", "umber"), small_box("peach", "brown", "umber", "terracotta", "cream")
    cost_of = {
        len(b.sticks): [hit.cost for hit in search(Table(b, rules.free(b)), TARGETS, 2) if hit] for b in (few, many)
    }
    assert (np.array(cost_of[5]) <= np.array(cost_of[3]) + 1e-6).all()


def test_the_same_question_has_the_same_answer(box: PencilBox, table: Table) -> None:
    again = Table(box, rules.free(box))
    assert search(table, TARGETS) == search(again, TARGETS)


def test_asking_for_one_target_or_for_many_is_hardly_different(table: Table) -> None:
    together = search(table, TARGETS)
    for target, held in zip(TARGETS, together, strict=True):
        alone = search(table, target[None])[0]
        assert alone is not None
        assert held is not None
        assert alone.cost == pytest.approx(held.cost, abs=0.35)


def test_a_stick_that_is_the_target_is_simply_used(table: Table) -> None:
    target = colours_after(table.box, table.passes((table_action(table, "sienna", 2, 2),)))[-1]
    found = search(table, target[None])[0]
    assert found is not None
    assert found.cost <= LAYER_COST + 0.01
    assert len(found.path) == 1


def table_action(table: Table, code: str, pressure: int, repeats: int) -> int:
    return next(
        i
        for i, a in enumerate(table.box.actions)
        if table.box.sticks[a.stick].code == code and (a.pressure, a.repeats) == (pressure, repeats)
    )


def test_no_targets_and_no_allowed_stacks_are_no_accident(box: PencilBox) -> None:
    assert search(Table(box, rules.free(box)), np.empty((0, 3))) == []
    none = np.zeros(len(box.actions), dtype=bool)
    nothing = rules.Rules(none, np.ones((len(box.sticks),) * 2, dtype=bool), ~none, np.zeros(len(box.sticks)))
    assert search(Table(box, nothing), TARGETS[:2]) == [None, None]


def test_a_nearly_used_up_stick_is_spared() -> None:
    good = pencil("good", SWATCHES["sienna"])
    low = pencil("low", SWATCHES["sienna"], condition="low")
    made = get_medium("pencil").prepare((low, good), get_support("medium-white"))
    costs = action_costs(made)
    assert costs.max() == pytest.approx(LAYER_COST + LOW_STICK_COST)
    found = search(Table(made, rules.free(made)), np.array([[60.0, 25, 28]]))[0]
    assert found is not None
    assert {made.sticks[made.actions[i].stick].code for i in found.path} == {"good"}


@pytest.mark.parametrize(
    ("policy", "black_last", "black_used"), [("avoid", True, False), ("last", True, True), ("free", False, True)]
)
def test_black_is_avoided_or_last_or_free(policy: str, black_last: bool, black_used: bool, box: PencilBox) -> None:
    table = Table(box, rules.with_black(rules.free(box), box, policy))
    black = next(i for i, stick in enumerate(box.sticks) if stick.code == "black")
    targets = np.array([[lightness, a, 0.0] for lightness in (12.0, 18, 22, 26) for a in (0.0, 3.0)])
    used = []
    for found in search(table, targets):
        assert found is not None
        sticks = [box.actions[i].stick for i in found.path]
        used += [black in sticks]
        if black_last:
            assert black not in sticks[:-1]
    assert any(used) == black_used


def test_the_pool_finds_what_measuring_everything_finds() -> None:
    rng = np.random.default_rng(4)
    labs = np.column_stack([rng.uniform(5, 95, 3000), rng.uniform(-30, 50, 3000), rng.uniform(-30, 50, 3000)])
    penalties = rng.choice([0.25, 0.5, np.inf], 3000).astype(np.float32)
    pool = Pool(labs.astype(np.float32), penalties)
    for target in ([50.0, 20, 20], [90.0, 2, 8], [10.0, 5, 5], [60.0, 0.0, 0.0]):
        wanted = np.array(target)
        truth = colour_cost(wanted, labs) + penalties
        positions, found, costs = pool.best(wanted, 5)
        assert costs[0] == pytest.approx(truth.min(), abs=0.05)
        assert (np.diff(costs) >= 0).all()
        assert np.allclose(found, labs[positions], atol=1e-4)
        assert np.isfinite(penalties[positions]).all()


def test_the_frozen_form_is_close_to_the_real_difference_nearby() -> None:
    target = np.array([55.0, 18, 22])
    near = target + np.random.default_rng(1).normal(0, 1.5, (200, 3))
    rough, exact = distance_from(target)(near.astype(np.float32)), colour_cost(target, near)
    assert np.abs(rough - exact).max() < 0.35


def test_a_palette_holds_the_targets_with_few_sticks(table: Table) -> None:
    sizes = {size: choose_palette(table, TARGETS, size) for size in (2, 4, 6)}
    assert all(len(chosen) == size for size, chosen in sizes.items())
    costs = []
    for chosen in sizes.values():
        box = get_medium("pencil").prepare(tuple(table.box.sticks[i] for i in chosen), table.box.support)
        costs.append(np.mean([hit.cost for hit in search(Table(box, rules.free(box)), TARGETS) if hit]))
    assert costs[0] > costs[1] > costs[2]


def test_a_palette_of_two_is_the_best_of_all_pairs(table: Table) -> None:
    pairs = pair_costs(table, TARGETS)

    def cost(two: tuple[int, ...]) -> float:
        return float(sum(min(costs[i, j] for i in two for j in two) for costs in pairs))

    best = min(itertools.combinations(range(len(table.box.sticks)), 2), key=cost)
    assert choose_palette(table, TARGETS, 2) == best


def test_a_palette_is_the_same_every_time_and_never_larger_than_the_tray(table: Table) -> None:
    assert choose_palette(table, TARGETS, 5) == choose_palette(table, TARGETS, 5)
    assert choose_palette(table, TARGETS, 99) == tuple(range(len(table.box.sticks)))


def test_the_reach_covers_paper_and_the_darkest_stack(table: Table, big_range: Tray) -> None:
    low, high = table.lightness_reach()
    assert high == pytest.approx(table.box.support.lab[0], abs=0.6)
    darkest = min(float(stick.lab[0]) for stick in table.box.sticks)
    assert darkest < low < darkest + 8
    assert PRESSURES[0] == "light"
