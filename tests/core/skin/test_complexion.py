import pytest

from core.optics.spectra import reflectance_to_lab
from core.skin.complexion import depth_word, read_complexion, typology_angle
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
        read_complexion(reflectance_to_lab(skin_reflectance(Complexion(m, 0.02)))).ita_deg
        for m in (0.01, 0.03, 0.05, 0.08, 0.13, 0.3)
    ]
    assert angles == sorted(angles, reverse=True)
    assert len({depth_word(a) for a in angles}) >= 5


@pytest.mark.parametrize("melanin", [0.015, 0.05, 0.12])
def test_blood_cools_and_carotene_warms_the_undertone(melanin: float) -> None:
    def hue_off(blood: float, carotene: float = 0.0) -> float:
        return read_complexion(reflectance_to_lab(skin_reflectance(Complexion(melanin, blood, carotene)))).hue_off_deg

    assert hue_off(0.05) < hue_off(0.02) < hue_off(0.005) < hue_off(0.005, 1.0)
    assert abs(hue_off(0.02)) < 1


def test_undertones_have_words() -> None:
    def word(melanin: float, blood: float, carotene: float = 0.0) -> str:
        return read_complexion(reflectance_to_lab(skin_reflectance(Complexion(melanin, blood, carotene)))).undertone

    assert word(0.02, 0.05) == "cool"
    assert word(0.05, 0.02) == "neutral"
    assert word(0.05, 0.012) == "warm"
    assert word(0.05, 0.004, 0.5) == "olive"
