import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.colour.spaces import D65_WHITE, SRGB, lab_to_lch, xyz_to_lab
from core.errors import InputError
from core.look.balance import Balance, balance_on
from core.look.picture import Picture
from core.look.reading import Disc

SPOT = Disc(0.5, 0.5, 0.2)


def flat(*colour_: int) -> Picture:
    return Picture(np.full((40, 40, 3), colour_, np.uint8), SRGB, "")


@pytest.mark.parametrize("codes", [(200, 170, 130), (120, 130, 150), (90, 110, 95), (240, 235, 220)])
def test_the_chosen_place_becomes_neutral_and_stays_as_light(codes: tuple[int, ...]) -> None:
    picture = flat(*codes)
    balance = balance_on(picture, SPOT)
    before = picture.space.xyz(picture.pixels[0, 0]).astype(float)
    after = balance.apply(before)
    assert float(lab_to_lch(xyz_to_lab(after))[1]) < 0.3
    assert after[1] == pytest.approx(before[1], rel=0.03)


@given(st.tuples(*[st.floats(0.7, 1.3)] * 2), st.tuples(*[st.floats(0.02, 0.95)] * 3))
def test_balancing_agrees_with_an_independent_cat16(white: tuple[float, float], xyz: tuple[float, ...]) -> None:
    source = np.array([0.95 * white[0], 1.0, 1.09 * white[1]])
    matrix = colour.adaptation.matrix_chromatic_adaptation_VonKries(source, D65_WHITE, transform="CAT16")
    assert np.allclose(Balance(tuple(source)).apply(np.array(xyz)), matrix @ np.array(xyz), atol=1e-5)


@pytest.mark.parametrize(
    ("codes", "code"),
    [
        ((20, 20, 20), "too_dark_to_balance"),
        ((0, 0, 0), "too_dark_to_balance"),
        ((255, 255, 255), "burnt_out"),
        ((220, 60, 40), "not_neutral"),
    ],
)
def test_a_place_that_cannot_be_a_grey_is_refused_with_a_way_out(codes: tuple[int, ...], code: str) -> None:
    with pytest.raises(InputError) as caught:
        balance_on(flat(*codes), SPOT)
    assert caught.value.code == code
    assert caught.value.hint
