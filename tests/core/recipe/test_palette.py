"""Palettes against the exhaustive optimum."""

from itertools import combinations

import numpy as np
import pytest

from core.errors import InputError
from core.optics.stick import Tray
from core.plan.setup import Setup, lay_out
from core.recipe.palette import choose_palette, gains, pair_costs, smallest_palette, weighed
from core.recipe.table import Table

SKIN = np.array(
    [[88.0, 5, 12], [80, 10, 16], [70, 14, 18], [58, 18, 20], [45, 17, 18], [33, 13, 14], [24, 9, 9], [50, 8, 6]]
)


@pytest.fixture(scope="module")
def table(small_tray: Tray) -> Table:
    return lay_out(small_tray, Setup()).table


@pytest.fixture(scope="module")
def pairs(table: Table) -> np.ndarray:
    return pair_costs(table, SKIN)


def mean_cost(pairs: np.ndarray, sticks: tuple[int, ...]) -> float:
    """Written out: for each target the cheapest of all ordered pairs, one stick alone included."""
    return float(np.mean([min(costs[i, j] for i in sticks for j in sticks) for costs in pairs]))


@pytest.mark.parametrize("size", [2, 3, 4])
def test_the_best_palette_is_within_two_percent_of_the_best_of_all(size: int, table: Table, pairs: np.ndarray) -> None:
    best = min(float(pairs[:, s][:, :, s].min(axis=(1, 2)).mean()) for s in map(list, combinations(range(24), size)))
    chosen = choose_palette(table, SKIN, size, pairs=pairs)
    assert len(chosen) == size
    assert mean_cost(pairs, chosen) <= 1.02 * best


def test_what_must_be_in_is_in(table: Table, pairs: np.ndarray) -> None:
    for must in ((0,), (3, 17), (5, 6, 7)):
        chosen = choose_palette(table, SKIN, 4, must, pairs=pairs)
        assert set(must) <= set(chosen)
        assert len(chosen) == 4
    with pytest.raises(InputError) as caught:
        choose_palette(table, SKIN, 2, (1, 2, 3), pairs=pairs)
    assert caught.value.code == "too_many_must_use"


def test_the_smallest_palette_holds_every_colour_and_one_less_would_not(table: Table, pairs: np.ndarray) -> None:
    floor = pairs.min(axis=(1, 2))

    def farthest(sticks: tuple[int, ...]) -> float:
        return float((pairs[:, sticks][:, :, sticks].min(axis=(1, 2)) - floor).max())

    sizes = []
    for within in (0.5, 1.5, 3.0):
        chosen = smallest_palette(table, SKIN, within, pairs=pairs)
        sizes.append(len(chosen))
        assert farthest(chosen) <= within
        if len(chosen) > 2:
            assert farthest(choose_palette(table, SKIN, len(chosen) - 1, pairs=pairs)) > within
    assert sizes == sorted(sizes, reverse=True)
    assert sizes[0] > sizes[-1]


def test_each_stick_is_worth_what_the_mean_would_lose_without_it(pairs: np.ndarray) -> None:
    palette = weighed(pairs, (2, 5, 9, 16))
    assert palette.cost == pytest.approx(mean_cost(pairs, palette.sticks))
    for stick, loss in zip(palette.sticks, palette.losses, strict=True):
        left = tuple(s for s in palette.sticks if s != stick)
        assert loss == pytest.approx(mean_cost(pairs, left) - palette.cost, abs=2e-3)
        assert loss >= 0


def test_the_stick_that_helps_most_is_named_first(pairs: np.ndarray) -> None:
    held = (2, 16)
    found = gains(pairs, held)
    assert set(found) == set(range(24)) - set(held)
    best = max(found, key=lambda j: mean_cost(pairs, held) - mean_cost(pairs, (*held, j)))
    assert next(iter(found)) == best
    assert found[best] == pytest.approx(mean_cost(pairs, held) - mean_cost(pairs, (*held, best)), abs=1e-3)
    assert list(found.values()) == sorted(found.values(), reverse=True)
