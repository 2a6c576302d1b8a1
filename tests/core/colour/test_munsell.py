import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.colour.munsell import lab_to_value, value_greys, value_to_y, y_to_value
from core.colour.spaces import hex_to_lab


@given(st.floats(0, 10))
def test_value_goes_to_luminance_and_back(value: float) -> None:
    assert abs(float(y_to_value(value_to_y(value))) - value) < 1e-4


@given(st.floats(0, 1), st.floats(0, 1))
def test_lighter_is_never_a_lower_value(y_1: float, y_2: float) -> None:
    low, high = sorted((y_1, y_2))
    assert y_to_value(low) <= y_to_value(high)


def test_hue_does_not_matter_for_value() -> None:
    assert np.isclose(lab_to_value([50, 40, 20]), lab_to_value([50, -30, -30]))


def test_the_greys_of_the_ladder_are_neutral_and_rise() -> None:
    labs = np.array([hex_to_lab(grey) for grey in value_greys()])
    assert len(labs) == 11
    assert np.abs(labs[:, 1:]).max() < 0.01
    assert (np.diff(labs[:, 0]) > 5).all()
    assert np.allclose(lab_to_value(labs), np.arange(11), atol=0.06)  # 8-bit steps
