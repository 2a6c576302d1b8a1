import pytest

from core.look.roles import PLACES
from core.optics.spectra import reflectance_to_lab
from core.skin.complexion import depth_word, read_complexion, typology_angle
from core.skin.measured import beyond_measured, envelope, measured_places, place_offset
from core.skin.reflectance import Complexion, skin_reflectance


@pytest.mark.parametrize(
    ("ita_deg", "word"),
    [
        (60, "very light"), (55.1, "very light"), (54.9, "light"), (41.1, "light"), (40.9, "intermediate"),
        (28.1, "intermediate"), (27.9, "tan"), (10.1, "tan"), (9.9, "brown"), (-29.9, "brown"), (-30.1, "deep"),
        (-80, "deep"),
    ],
)  # fmt: skip
def test_depths_begin_where_they_are_published_to(ita_deg: float, word: str) -> None:
    """Chardon, Crétois and Hourseau 1991; Del Bino and Bernerd 2013."""
    assert depth_word(ita_deg) == word


def test_the_typology_angle_is_the_published_formula() -> None:
    assert typology_angle((70.0, 10.0, 20.0)) == pytest.approx(45.0)
    assert typology_angle((30.0, 10.0, 20.0)) == pytest.approx(-45.0)
    assert typology_angle((70.0, 10.0, 0.0)) == pytest.approx(90.0, abs=0.01)


def test_depth_falls_with_melanin_through_every_word() -> None:
    angles = [
        read_complexion(reflectance_to_lab(skin_reflectance(Complexion(m, 0.02, 0.6)))).ita_deg
        for m in (0.02, 0.04, 0.055, 0.07, 0.11, 0.3)
    ]
    assert angles == sorted(angles, reverse=True)
    assert len({depth_word(a) for a in angles}) >= 5


@pytest.mark.parametrize("melanin", [0.03, 0.06, 0.12])
def test_blood_cools_and_carotene_warms_the_undertone(melanin: float) -> None:
    def hue_off(blood: float, carotene: float) -> float:
        return read_complexion(reflectance_to_lab(skin_reflectance(Complexion(melanin, blood, carotene)))).hue_off_deg

    assert hue_off(0.05, 0.5) < hue_off(0.02, 0.5) < hue_off(0.008, 0.5) < hue_off(0.008, 1.5)


@pytest.mark.parametrize(
    ("lab", "undertone"),
    [((62, 14.5, 14), "cool"), ((62, 11, 17), "neutral"), ((62, 9, 18), "warm"), ((62, 7, 19), "olive")],
)
def test_undertones_have_words(lab: tuple[float, float, float], undertone: str) -> None:
    assert read_complexion(lab).undertone == undertone


@pytest.mark.parametrize(
    ("lab", "said"),
    [
        ((90, 4, 8), "lighter"), ((12, 6, 6), "darker"), ((60, 3, 4), "greyer"), ((60, 30, 35), "more vivid"),
        ((60, 19, 4), "redder"), ((60, 2, 20), "yellower"), ((60, -15, 15), "yellower"), ((50, 12, -15), "redder"),
        ((60, 11, 17), ""), ((30, 7, 7.5), ""), ((45, 12, 18), ""),
    ],
)  # fmt: skip
def test_what_is_no_skin_is_said(lab: tuple[float, float, float], said: str) -> None:
    assert beyond_measured(lab).removesuffix(" than") == said
    assert read_complexion(lab).beyond == beyond_measured(lab)


def test_the_envelope_is_in_order_everywhere() -> None:
    for lightness in range(10, 95, 5):
        skins = envelope(lightness)
        assert list(skins.hue_deg) == sorted(skins.hue_deg)
        assert list(skins.chroma) == sorted(skins.chroma)


def test_every_measured_place_is_a_place() -> None:
    assert set(measured_places()) <= set(PLACES)
    for place in measured_places():
        for angle in (-80, -10, 20, 35, 80):
            found = place_offset(place, angle)
            assert found is not None
            assert (found.spread > 0).all()
    assert place_offset("upper lip", 30) is None
    assert place_offset("angle_deg", 30) is None
