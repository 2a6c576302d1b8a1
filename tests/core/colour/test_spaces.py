import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.colour.spaces import (
    D65_WHITE,
    DISPLAY_P3,
    SRGB,
    hex_to_lab,
    hex_to_xyz,
    lab_to_hex,
    lab_to_lch,
    lab_to_xyz,
    srgb_decode,
    srgb_encode,
    xyz_to_hex,
    xyz_to_lab,
)
from core.errors import InputError

channel = st.integers(0, 255)


@given(channel, channel, channel)
def test_hex_goes_to_xyz_and_back(r: int, g: int, b: int) -> None:
    code = f"#{r:02x}{g:02x}{b:02x}"
    assert xyz_to_hex(hex_to_xyz(code)) == code
    assert lab_to_hex(hex_to_lab(code)) == code


@given(st.floats(0, 100), st.floats(-100, 100), st.floats(-100, 100))
def test_lab_goes_to_xyz_and_back(lightness: float, a: float, b: float) -> None:
    lab = np.array([lightness, a, b])
    assert np.allclose(xyz_to_lab(lab_to_xyz(lab)), lab, atol=1e-9)


@given(st.floats(0, 1))
def test_encoding_undoes_decoding(v: float) -> None:
    # The two branches of the standard meet only to about 1e-7.
    assert float(srgb_encode(srgb_decode(v))) == pytest.approx(v, abs=1e-6)


def test_white_is_neutral_and_black_is_nothing() -> None:
    assert np.allclose(xyz_to_lab(D65_WHITE), [100, 0, 0])
    assert np.allclose(hex_to_lab("#ffffff"), [100, 0, 0], atol=1e-9)
    assert np.allclose(hex_to_xyz("#000000"), 0)


@pytest.mark.parametrize("space", [SRGB, DISPLAY_P3], ids=lambda s: s.name)
def test_white_pixels_are_the_white_of_every_space(space) -> None:
    white = space.xyz(np.full((1, 3), 255, dtype=np.uint8))
    assert np.allclose(white, D65_WHITE, atol=1e-5)


def test_single_precision_stays_single_and_agrees() -> None:
    xyz = np.random.default_rng(1).random((50, 3))
    single = xyz_to_lab(xyz.astype(np.float32))
    assert single.dtype == np.float32
    assert np.allclose(single, xyz_to_lab(xyz), atol=2e-3)


def test_hue_angle_counts_from_red_towards_yellow() -> None:
    lch = lab_to_lch([[50, 10, 0], [50, 0, 10], [50, -10, 0], [50, 0, -10]])
    assert np.allclose(lch[:, 2], [0, 90, 180, 270])
    assert np.allclose(lch[:, 1], 10)


@pytest.mark.parametrize("text", ["", "#12345", "#1234567", "123 56", "#gggggg", "red", "#12345\n6"])
def test_what_is_not_a_colour_is_refused(text: str) -> None:
    with pytest.raises(InputError) as caught:
        hex_to_xyz(text)
    assert caught.value.code == "bad_hex"
    assert caught.value.field == "hex"


def test_the_hash_sign_may_be_missing() -> None:
    assert np.allclose(hex_to_xyz("c08a6a"), hex_to_xyz("#C08A6A"))
