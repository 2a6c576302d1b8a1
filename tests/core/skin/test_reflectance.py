import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.colour.spaces import lab_to_lch
from core.optics.spectra import reflectance_to_lab
from core.skin.reflectance import Complexion, body_reflectance, layers, skin_reflectance
from core.skin.solve import skins_of


def lab(melanin: float, blood: float, carotene: float = 0.0) -> np.ndarray:
    return np.array(reflectance_to_lab(skin_reflectance(Complexion(melanin, blood, carotene))))


@given(st.floats(0.005, 0.45), st.floats(0.001, 0.1), st.floats(0, 3))
def test_skin_reflects_some_light_and_never_more_than_there_is(melanin: float, blood: float, carotene: float) -> None:
    seen = skin_reflectance(Complexion(melanin, blood, carotene))
    assert (seen > 0).all()
    assert (seen < 1).all()


def test_the_surface_only_adds_its_own_reflection() -> None:
    skins = [(0.02, 0.02, 0.3), (0.3, 0.03, 1.0)]
    gloss = skin_reflectance(skins) - body_reflectance(skins)
    assert (gloss > 0).all()
    assert (gloss <= layers().surface).all()


@pytest.mark.parametrize("blood", [0.005, 0.02, 0.05])
def test_more_melanin_is_deeper(blood: float) -> None:
    lightness = [lab(melanin, blood)[0] for melanin in (0.01, 0.03, 0.07, 0.16, 0.3, 0.45)]
    assert (np.diff(lightness) < 0).all()


@pytest.mark.parametrize("melanin", [0.02, 0.04, 0.08])
def test_a_flush_reddens_light_and_middle_skin(melanin: float) -> None:
    calm, flushed = lab(melanin, 0.015, 0.5), lab(melanin, 0.03, 0.5)
    assert flushed[1] > calm[1] + 1.5
    assert flushed[0] < calm[0]


def test_on_deep_skin_a_flush_reddens_less() -> None:
    def reddens(melanin: float) -> float:
        return float(lab(melanin, 0.03)[1] - lab(melanin, 0.015)[1])

    assert 0 < reddens(0.3) < 0.5 * reddens(0.03)
    assert lab(0.3, 0.03)[0] < lab(0.3, 0.015)[0]


def test_carotene_yellows() -> None:
    assert lab(0.04, 0.02, 1.0)[2] > lab(0.04, 0.02)[2] + 3


def test_chroma_is_highest_in_the_middle_and_skin_is_never_green() -> None:
    colours = np.array([lab(melanin, 0.02, 0.8) for melanin in (0.02, 0.05, 0.1, 0.22, 0.4)])
    chroma = lab_to_lch(colours)[:, 1]
    assert chroma.argmax() in (1, 2, 3)
    assert chroma.max() < 30
    assert (colours[:, 1] > 2).all()


@given(st.floats(0.02, 0.3), st.floats(0.005, 0.05), st.floats(0.1, 2.5))
def test_what_a_skin_holds_is_found_again_from_its_colour(melanin: float, blood: float, carotene: float) -> None:
    wanted = lab(melanin, blood, carotene)
    found = skins_of(wanted)
    assert np.allclose(reflectance_to_lab(skin_reflectance(found))[0], wanted, atol=0.3)


def test_a_colour_no_skin_has_gets_a_skin_near_it() -> None:
    green = np.array([[60.0, -30.0, 30.0]])
    found = skins_of(green)
    assert np.isfinite(found).all()
    assert reflectance_to_lab(skin_reflectance(found))[0, 1] > 0
