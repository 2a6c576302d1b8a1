import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.optics.film import absorption_for, film, k_over_s, laid_over, over

absorption = st.floats(0, 50)
scattering = st.floats(0.05, 8)
thickness = st.floats(0, 5)
ground = st.floats(0, 1)


@given(absorption, scattering, thickness, ground)
def test_a_film_never_makes_or_eats_more_light_than_there_is(k: float, s: float, x: float, g: float) -> None:
    r0, t = film(k, s, x)
    seen = over(g, r0, t)
    assert -1e-9 <= r0 <= 1 + 1e-9
    assert -1e-9 <= t <= 1 + 1e-9
    assert r0 + t <= 1 + 1e-6
    assert -1e-9 <= seen <= 1 + 1e-6


@given(absorption, scattering, thickness, ground)
def test_two_films_of_half_the_thickness_are_one_film(k: float, s: float, x: float, g: float) -> None:
    half = film(k, s, x / 2)
    assert over(over(g, *half), *half) == pytest.approx(float(over(g, *film(k, s, x))), abs=1e-6)


@given(st.floats(0.01, 50), scattering, ground)
def test_a_very_thick_film_hides_its_ground(k: float, s: float, g: float) -> None:
    r_infinite = 1 + k / s - np.sqrt((k / s) ** 2 + 2 * k / s)
    assert over(g, *film(k, s, 1e5)) == pytest.approx(r_infinite, abs=1e-6)


@given(absorption, scattering, ground)
def test_no_film_shows_the_ground(k: float, s: float, g: float) -> None:
    assert over(g, *film(k, s, 0.0)) == pytest.approx(g, abs=1e-9)


@given(st.floats(0.01, 50), scattering, thickness)
def test_black_and_white_grounds_bracket_all_others(k: float, s: float, x: float) -> None:
    r0, t = film(k, s, x)
    assert over(0.0, r0, t) == pytest.approx(float(r0))
    assert over(0.0, r0, t) <= over(0.5, r0, t) <= over(1.0, r0, t)


@given(st.floats(0.02, 0.98))
def test_k_over_s_belongs_to_the_thick_film(reflectance: float) -> None:
    ratio = float(k_over_s(reflectance))
    assert over(0.3, *film(ratio, 1.0, 1e5)) == pytest.approx(reflectance, abs=1e-4)


def test_a_film_laid_over_a_ground_in_one_step_is_the_film_over_it() -> None:
    rng = np.random.default_rng(3)
    k, s, g = (
        10 ** rng.uniform(-4, 1.5, (400, 31)),
        10 ** rng.uniform(-3, 1, (400, 31)),
        rng.uniform(0.01, 0.98, (400, 31)),
    )
    whole = over(g, *film(k, s, 1.0))
    assert np.abs(laid_over(g, k.copy(), s) - whole).max() < 1e-12
    single = laid_over(*(part.astype(np.float32) for part in (g, k, s)))
    assert single.dtype == np.float32 and np.abs(single - whole).max() < 1e-5


def test_absorption_is_found_so_that_the_swatch_comes_out() -> None:
    target = np.linspace(0.02, 0.85, 31)
    paper, s = np.full(31, 0.9), np.full(31, 0.7)
    k = absorption_for(target, paper, s)
    assert np.allclose(over(paper, *film(k, s, 1.0)), target, atol=1e-6)


def test_a_swatch_lighter_than_possible_gets_the_clearest_film() -> None:
    k = absorption_for(np.array([0.99]), np.array([0.5]), np.array([0.1]))
    assert k[0] < 1e-6
