import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.colour.swatch import Swatch
from core.colour.temperature import hue_spread, temperature, temperature_word
from core.colour.words import hue_word, matters


def lab(lightness: float, chroma: float, hue_deg: float) -> list[float]:
    return [lightness, chroma * np.cos(np.radians(hue_deg)), chroma * np.sin(np.radians(hue_deg))]


@pytest.mark.parametrize(
    ("colour", "said"),
    [
        ([97, 0, 1], "near-white"),
        ([10, 0, 0], "near-black"),
        ([50, 1, 1], "middle grey"),
        (lab(30, 18, 48), "deep red-orange, muted"),
        (lab(70, 8, 60), "light orange, greyish"),
        (lab(55, 50, 30), "middle red, strong"),
        (lab(85, 70, 95), "very light yellow, vivid"),
        (lab(35, 30, 310), "deep violet"),
        (lab(50, 30, 260), "middle blue"),
        (lab(45, 30, 150), "middle green"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_colours_are_said_in_plain_words(colour: list[float], said: str) -> None:
    assert Swatch.of(colour).words == said


@pytest.mark.parametrize(("by", "said"), [(-0.1, "hardly"), (0.0, "hardly"), (0.1, "a little"), (2.0, "much")])
def test_what_hardly_matters_is_not_called_much(by: float, said: str) -> None:
    assert matters(by) == said


@given(st.floats(-720, 720))
def test_every_hue_has_a_word(hue_deg: float) -> None:
    assert hue_word(hue_deg)


@given(st.floats(0, 100), st.floats(-100, 100), st.floats(-100, 100))
def test_every_colour_has_words_and_a_swatch(lightness: float, a: float, b: float) -> None:
    swatch = Swatch.of([lightness, a, b])
    assert swatch.words.split()[0] in ("near-white", "near-black", "very", "deep", "middle", "light")
    assert Swatch.of_all([[50, 0, 0], [lightness, a, b]])[1] == swatch
    assert 0 <= swatch.value <= 10
    assert len(swatch.hex) == 7


def test_pinker_is_cooler_and_yellower_is_warmer_than_the_figure() -> None:
    average = lab(60, 22, 50)
    assert temperature(lab(60, 22, 20), average) < -10
    assert temperature(lab(60, 22, 72), average) > 10
    assert temperature(lab(60, 22, 280), average) < -50


def test_a_near_grey_hardly_has_a_temperature() -> None:
    average = lab(60, 22, 50)
    strong, weak = temperature(lab(60, 12, 280), average), temperature(lab(60, 1, 280), average)
    assert abs(weak) < abs(strong) / 10


@pytest.mark.parametrize(
    ("degrees", "spread", "said"),
    [
        (2, 5, "about as warm as the rest"),
        (-2.9, 0, "about as warm as the rest"),
        (9, 5, "warmer than the rest"),
        (-9, 5, "cooler than the rest"),
    ],
)
def test_temperature_is_only_claimed_beyond_the_spread(degrees: float, spread: float, said: str) -> None:
    assert temperature_word(degrees, spread) == said


def test_one_spot_has_no_spread_and_alike_spots_have_none() -> None:
    assert hue_spread([lab(60, 22, 50)]) == 0
    assert hue_spread([lab(60, 22, 50)] * 4) == 0
    assert hue_spread([lab(60, 22, 20), lab(60, 22, 70)]) > 5
