"""Palettes against the exhaustive optimum."""

from itertools import combinations

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import lab_to_lch
from core.errors import InputError
from core.optics.stick import Tray
from core.plan.questions import Owned, Task, palette_for
from core.plan.setup import Setup, lay_out
from core.recipe.palette import additions, choose_palette, pair_costs, smallest_palette, weighed
from core.recipe.table import Table
from tests.conftest import a_range

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


def test_the_sticks_that_help_most_are_named_one_after_the_other(pairs: np.ndarray) -> None:
    held, some = (2, 16), tuple(j for j in range(24) if j not in (2, 16, 5))
    found = additions(pairs, held, some, 3)
    now = held
    for stick, gain in found.items():
        best = min(mean_cost(pairs, (*now, j)) for j in some if j not in now)
        assert mean_cost(pairs, (*now, stick)) == pytest.approx(best, abs=1e-4)
        assert gain == pytest.approx(mean_cost(pairs, now) - best, abs=1e-3)
        now = (*now, stick)
    assert len(found) == 3


def test_a_tray_without_darks_is_offered_brown_ones(big_range: Tray) -> None:
    """Deep skin is wanted; the tray's own reach must not hide it. Common practice, no published source."""
    pale = tuple(stick for stick in big_range.sticks if stick.lab[0] > 55)
    more = tuple(stick for stick in a_range("gangway-36").sticks if not stick.colourless)
    owned = Owned(pale, Setup())
    deep = ((38.0, 14.0, 17.0), (30.0, 12.0, 14.0), (22.0, 9.0, 9.0), (16.0, 6.0, 6.0))
    aims = tuple(tuple(row) for row in owned.laid_out().aims(np.array(deep)).tolist())
    best = palette_for(Task(owned, aims), deep, more, 4, None)
    by_code = {stick.code: stick for stick in more}
    first = by_code[best.gains[0][0]]
    lightness, chroma, hue = lab_to_lch(np.array(first.lab))
    assert lightness < 40
    assert chroma > 6
    assert 15 < hue < 90
    gains = [gain for _, gain in best.gains]
    assert gains == sorted(gains, reverse=True)
    bought = [np.array(by_code[code].lab) for code, _ in best.gains if _ > 0.3]
    assert all(ciede2000(a, b) > 3 for a, b in combinations(bought, 2))
