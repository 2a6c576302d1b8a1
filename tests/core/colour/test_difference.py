import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.colour.difference import ciede2000

labs = st.tuples(st.floats(0, 100), st.floats(-80, 80), st.floats(-80, 80)).map(np.array)


@given(labs, labs)
def test_the_difference_is_the_same_both_ways(first: np.ndarray, second: np.ndarray) -> None:
    assert np.isclose(ciede2000(first, second), ciede2000(second, first))


@given(labs)
def test_nothing_differs_from_itself(lab: np.ndarray) -> None:
    assert ciede2000(lab, lab) == 0


@given(labs, labs)
def test_the_lightness_term_alone_is_never_more(first: np.ndarray, second: np.ndarray) -> None:
    # The search and the exhaustive reference rely on this bound: S_L is at most 1.75.
    assert ciede2000(first, second, k_l=0.5) >= abs(first[0] - second[0]) / (0.5 * 1.75) - 1e-9


def test_value_counts_double_while_choosing() -> None:
    first, second = np.array([50.0, 20.0, 20.0]), np.array([54.0, 20.0, 20.0])
    assert np.isclose(ciede2000(first, second, k_l=0.5), 2 * ciede2000(first, second))


def test_arrays_broadcast() -> None:
    many = np.random.default_rng(0).random((5, 4, 3)) * 50
    assert ciede2000(many[:, :1], many).shape == (5, 4)
