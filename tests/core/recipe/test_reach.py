import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.recipe.reach import FITS, beyond, fitted, told_apart

LIGHTNESS = st.lists(st.floats(0, 100), min_size=1, max_size=12)


@pytest.mark.parametrize(
    ("value", "distance", "word"),
    [
        (1.0, None, "1.0 value steps darker"),
        (9.8, None, "0.3 value steps lighter"),
        (5.0, 6.2, "stays clearly off"),
        (5.0, 2.0, ""),
        (5.0, None, ""),
        (1.96, None, ""),
    ],
)
def test_what_cannot_be_reached_is_said_with_its_reason(value: float, distance: float | None, word: str) -> None:
    said = beyond(value, 2.0, 9.5, distance)
    assert word in said
    assert bool(said) == bool(word)


def labs(lightness: list[float]) -> np.ndarray:
    return np.column_stack([lightness, np.full(len(lightness), 12.0), np.full(len(lightness), 15.0)])


@pytest.mark.parametrize("how", FITS)
@given(LIGHTNESS)
def test_fitted_colours_lie_within_reach_and_keep_the_order_of_their_values(how: str, lightness: list[float]) -> None:
    moved = fitted(labs(lightness), 20.0, 92.0, how)
    assert (moved[:, 0] >= 20 - 1e-9).all()
    assert (moved[:, 0] <= 92 + 1e-9).all()
    assert (moved[:, 1:] == [12.0, 15.0]).all()
    order = np.argsort(lightness, kind="stable")
    assert (np.diff(moved[order, 0]) >= -1e-9).all()


@given(LIGHTNESS)
def test_darks_out_of_reach_stay_in_order_and_apart_and_all_else_is_left_alone(lightness: list[float]) -> None:
    moved = told_apart(labs(lightness), 20.0)
    assert np.allclose(moved[:, 1:], labs(lightness)[:, 1:])
    assert moved[:, 0].min() >= min(20.0, min(lightness)) - 1e-9
    if min(lightness) < 20.0:
        assert moved[:, 0].min() == pytest.approx(20.0)
    lit = np.array(lightness) >= 22.0
    assert np.array_equal(moved[lit, 0], np.array(lightness)[lit])
    for one, other in itertools.pairwise(np.argsort(lightness)):
        gap = lightness[other] - lightness[one]
        assert moved[other, 0] - moved[one, 0] >= min(gap, 2.0 / 22.0 * gap) - 1e-9


def test_compressing_keeps_apart_what_clipping_makes_one() -> None:
    dark = labs([8.0, 12.0, 16.0, 60.0, 80.0])
    clipped, drawn = (fitted(dark, 20.0, 92.0, how)[:, 0] for how in FITS)
    assert clipped[0] == clipped[1] == clipped[2] == 20
    assert drawn[0] == pytest.approx(20)
    assert (np.diff(drawn) > 0).all()
    assert drawn[4] == 80


@pytest.mark.parametrize("how", FITS)
def test_what_is_within_reach_is_left_alone(how: str) -> None:
    inside = labs([30.0, 50.0, 70.0])
    assert np.array_equal(fitted(inside, 20.0, 92.0, how), inside)
    assert fitted(np.empty((0, 3)), 20.0, 92.0, how).shape == (0, 3)
