import itertools

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.light.model import study_model
from core.look.roles import PLACES
from core.optics.spectra import reflectance_to_lab
from core.skin.describe import DEEPEST, PALEST, Description, described, skins_at, usual_offset
from core.skin.measured import beyond_measured, measured_places, place_offset
from core.skin.reflectance import skin_reflectance, spread_cm

FACE = ("forehead", "cheek", "nose tip", "ear", "lower lip", "jaw", "under-eye")


def looks(skin: Description, places: tuple[str, ...] = FACE) -> np.ndarray:
    """CIELAB (p, 3) of places as an instrument measures them."""
    return reflectance_to_lab(skin_reflectance(skins_at(skin, places).held))


def test_every_position_of_every_slider_is_a_skin_that_exists() -> None:
    for depth, undertone, strength in itertools.product(np.linspace(DEEPEST, PALEST, 13), (5, 35, 65, 95), (5, 50, 95)):
        skin = Description(float(depth), undertone, strength)
        assert beyond_measured(skin.lab) == ""
        assert ciede2000(looks(skin, ("forehead",))[0] - usual_offset("forehead", 0), skin.lab) < 5


def test_flush_sun_and_years_end_where_nobody_was_measured() -> None:
    full = ({"flush": 1.0}, {"sun": 1.0}, {"age": 1.0}, {"flush": 1.0, "sun": 1.0, "age": 1.0})
    for depth, undertone, more in itertools.product((28.0, 34.0, 50.0, PALEST), (5, 50, 95), full):
        rest, changed = (
            looks(Description(depth, undertone, 50, **change), ("forehead", "cheek")).mean(axis=0)
            for change in ({}, more)
        )
        assert beyond_measured(changed) in ("", beyond_measured(rest))


@pytest.mark.parametrize("depth", [28.0, 45.0, 60.0, 72.0])
def test_forehead_and_cheek_together_look_as_described(depth: float) -> None:
    skin = Description(depth)
    mean = looks(skin, ("forehead", "cheek")).mean(axis=0)
    assert ciede2000(mean, skin.lab) < 1.5


def test_the_sliders_do_what_they_say() -> None:
    usual, pinker, yellower = (Description(55, share).lab for share in (50, 10, 90))
    hue = [np.degrees(np.arctan2(lab[2], lab[1])) for lab in (pinker, usual, yellower)]
    assert hue == sorted(hue)
    assert np.hypot(*Description(55, 50, 90).lab[1:]) > np.hypot(*Description(55, 50, 10).lab[1:]) + 3
    assert Description(60).lab[0] == 60


def test_a_flush_reddens_cheek_nose_and_ear_and_hardly_the_jaw() -> None:
    calm, flushed = looks(Description(62)), looks(Description(62, flush=1.0))
    more = dict(zip(FACE, flushed[:, 1] - calm[:, 1], strict=True))
    assert min(more["cheek"], more["nose tip"], more["ear"]) > 4
    assert more["jaw"] < 2


def test_sun_darkens_the_forehead_and_spares_what_lies_below() -> None:
    places = ("forehead", "under the chin", "palm")
    pale, tanned = (looks(Description(65, sun=sun), places) for sun in (0.0, 1.0))
    assert tanned[0, 0] < pale[0, 0] - 4
    assert tanned[1:] == pytest.approx(pale[1:], abs=0.01)


def test_a_beard_cools_the_jaw_and_years_take_colour_from_the_cheek() -> None:
    jaw = FACE.index("jaw")
    assert looks(Description(62, beard=1.0))[jaw, 2] < looks(Description(62))[jaw, 2] - 3
    cheek = FACE.index("cheek")
    assert looks(Description(62, age=1.0))[cheek, 1] < looks(Description(62))[cheek, 1] - 1


def test_palms_of_deep_skin_are_much_lighter_than_its_face() -> None:
    """Measured on 59 people (docs/skin.md): 14 L*."""
    face, palm = looks(Description(29), ("cheek", "palm"))
    assert 9 < palm[0] - face[0] < 18


def test_measured_places_are_as_measured_and_every_place_of_the_models_is_known() -> None:
    for place in ("cheek", "nose tip", "chin", "palm"):
        measured = place_offset(place, 27)
        assert measured is not None
        assert usual_offset(place, 27) == pytest.approx(measured.lab)
    for name in ("bust", "hand-flat"):
        for place in study_model(name).places:
            assert place in PLACES
            assert place in measured_places() or np.abs(usual_offset(place, 27)).any(), place
    assert usual_offset("knee", 27) == pytest.approx(np.zeros(3))


def test_a_colour_is_described_by_the_skin_that_comes_nearest() -> None:
    for skin in (Description(33, 20, 70), Description(58, 88, 30), Description(70, 50, 50)):
        found = described(skin.lab)
        assert found.lab == pytest.approx(skin.lab, abs=1e-6)
        assert (found.undertone, found.strength) == pytest.approx((skin.undertone, skin.strength))
    beyond = described((90.0, 0.0, 60.0))
    assert beyond_measured(beyond.lab) == ""


def test_a_complexion_is_put_into_words() -> None:
    assert Description(45, 90, flush=0.2).words == "brown, warm, a little flushed"
    assert Description(68, 50).words.split(", ")[0] in ("light", "very light")
    assert "very freckled" in Description(66, freckles=0.9).words


def test_red_light_spreads_farther_under_the_skin_than_blue() -> None:
    """Published: Jensen and others 2001, 3.7, 1.4 and 0.7 mm for red, green and blue on an arm (from memory)."""
    usual = skins_at(Description(62), ("cheek",)).held[0]
    blue, green, red = spread_cm(usual)[[6, 14, 24]] * 10
    assert blue < green < red
    assert 1.5 < red < 6
    assert 0.2 < blue < 1.2
