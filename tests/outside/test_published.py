"""Caltin against published values. The source stands beside each check."""

import math

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.munsell import value_to_y, y_to_value
from core.colour.spaces import hex_to_lab
from core.optics.film import film, k_over_s, over
from core.optics.spectra import BANDS_NM, reflectance_to_lab
from core.skin import reflectance as skin
from core.skin.reflectance import skin_reflectance
from core.skin.solve import skins_of

# Sharma, Wu, Dalal 2005, Color Research & Application 30(1), table 1: two colours and their difference.
SHARMA = """
50.0000 2.6772 -79.7751 50.0000 0.0000 -82.7485 2.0425
50.0000 3.1571 -77.2803 50.0000 0.0000 -82.7485 2.8615
50.0000 2.8361 -74.0200 50.0000 0.0000 -82.7485 3.4412
50.0000 -1.3802 -84.2814 50.0000 0.0000 -82.7485 1.0000
50.0000 -1.1848 -84.8006 50.0000 0.0000 -82.7485 1.0000
50.0000 -0.9009 -85.5211 50.0000 0.0000 -82.7485 1.0000
50.0000 0.0000 0.0000 50.0000 -1.0000 2.0000 2.3669
50.0000 -1.0000 2.0000 50.0000 0.0000 0.0000 2.3669
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0009 7.1792
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0010 7.1792
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0011 7.2195
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0012 7.2195
50.0000 -0.0010 2.4900 50.0000 0.0009 -2.4900 4.8045
50.0000 -0.0010 2.4900 50.0000 0.0010 -2.4900 4.8045
50.0000 -0.0010 2.4900 50.0000 0.0011 -2.4900 4.7461
50.0000 2.5000 0.0000 50.0000 0.0000 -2.5000 4.3065
50.0000 2.5000 0.0000 73.0000 25.0000 -18.0000 27.1492
50.0000 2.5000 0.0000 61.0000 -5.0000 29.0000 22.8977
50.0000 2.5000 0.0000 56.0000 -27.0000 -3.0000 31.9030
50.0000 2.5000 0.0000 58.0000 24.0000 15.0000 19.4535
50.0000 2.5000 0.0000 50.0000 3.1736 0.5854 1.0000
50.0000 2.5000 0.0000 50.0000 3.2972 0.0000 1.0000
50.0000 2.5000 0.0000 50.0000 1.8634 0.5757 1.0000
50.0000 2.5000 0.0000 50.0000 3.2592 0.3350 1.0000
60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082
"""
PAIRS = [tuple(float(v) for v in line.split()) for line in SHARMA.strip().splitlines()]


@pytest.mark.parametrize("row", PAIRS, ids=range(1, len(PAIRS) + 1))
def test_ciede2000_of_every_published_pair(row: tuple[float, ...]) -> None:
    assert len(PAIRS) == 34
    assert float(ciede2000(row[:3], row[3:6])) == pytest.approx(row[6], abs=1e-4)


def test_pure_red() -> None:
    # IEC 61966-2-1 with CIE 15, D65.
    assert np.allclose(hex_to_lab("#ff0000"), [53.24, 80.09, 67.20], atol=0.05)


@pytest.mark.parametrize(
    ("value", "percent"),
    # ASTM D1535, table of value and luminous reflectance relative to magnesium oxide (from memory).
    [(1, 1.210), (2, 3.126), (3, 6.555), (4, 12.00), (5, 19.77), (6, 30.05), (7, 43.06), (8, 59.10), (9, 78.66)],
)
def test_the_munsell_ladder(value: int, percent: float) -> None:
    # Magnesium oxide reflects 97.5 % of a perfect diffuser, to which our scale refers.
    assert float(value_to_y(value)) * 100 == pytest.approx(percent * 0.975, rel=0.004)
    assert float(y_to_value(percent * 0.975 / 100)) == pytest.approx(value, abs=0.015)


@pytest.mark.parametrize(("reflectance", "ratio"), [(0.5, 0.25), (0.2, 1.6), (0.1, 4.05)])
def test_k_over_s(reflectance: float, ratio: float) -> None:
    # Kubelka & Munk 1931.
    assert float(k_over_s(reflectance)) == pytest.approx(ratio)


@pytest.mark.parametrize("x", [0.05, 0.3, 1.0, 2.5])
def test_the_film_is_the_hyperbolic_solution(x: float) -> None:
    # Kubelka 1948: R = (1 − Rg (a − b coth bSX)) / (a − Rg + b coth bSX).
    k, s, ground = 0.7, 1.3, 0.62
    a = 1 + k / s
    b = math.sqrt(a * a - 1)
    coth = 1 / math.tanh(b * s * x)
    wanted = (1 - ground * (a - b * coth)) / (a - ground + b * coth)
    assert float(over(ground, *film(k, s, x))) == pytest.approx(wanted, abs=1e-12)


def test_films_stack() -> None:
    # Kubelka 1954: a film of X over one of X is a film of 2X.
    one, two = film(0.4, 0.9, 0.7), film(0.4, 0.9, 1.4)
    assert float(over(over(0.3, *one), *one)) == pytest.approx(float(over(0.3, *two)), abs=1e-12)


def test_a_film_that_does_not_scatter_absorbs_by_density() -> None:
    # Beer–Lambert with a double pass: R = R_paper · 10^(−2D).
    density = 0.35
    k = density * math.log(10)
    assert float(over(0.8, *film(k, 1e-7, 1.0))) == pytest.approx(0.8 * 10 ** (-2 * density), rel=1e-5)


@pytest.mark.parametrize(("peak_nm", "oxygenated"), [(540, True), (580, True), (560, False)])
def test_haemoglobin_peaks(peak_nm: int, oxygenated: bool) -> None:
    # Prahl's compilation: 542 and 577 nm with oxygen, 556 nm without; to the nearest band.
    table = skin._HBO2 if oxygenated else skin._HB
    i = int(np.flatnonzero(peak_nm == BANDS_NM)[0])
    assert table[i] > table[i - 1]
    assert table[i] > table[i + 1]


@pytest.mark.parametrize("crossing_nm", [500, 530, 545, 570, 584])
def test_haemoglobin_isosbestic_points(crossing_nm: int) -> None:
    # Prahl's compilation: the two forms absorb alike near these wavelengths.
    fine = np.arange(500, 600, 1.0)
    difference = np.interp(fine, BANDS_NM, np.log(skin._HBO2 / skin._HB))
    crossings = fine[np.flatnonzero(np.diff(np.sign(difference)))]
    assert min(abs(crossings - crossing_nm)) <= 4 or abs(np.interp(crossing_nm, fine, difference)) < 0.03


@pytest.mark.parametrize("name", ["dark skin", "light skin"])
def test_the_skin_patches_of_the_standard_chart(name: str) -> None:
    # The 24-patch chart as measured spectra in colour-science's data sets (Ohta 1997): paints that look like skin.
    import colour

    measured = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"][name].copy().align(colour.SpectralShape(400, 700, 10))
    lab = reflectance_to_lab(measured.values)
    found = skin_reflectance(skins_of(lab))[0]
    assert float(ciede2000(lab, reflectance_to_lab(found))) < 0.5
    assert float(np.sqrt(np.mean((found - measured.values) ** 2))) < 0.04


# The open ten-shade skin tone scale of 2022 (CC BY 4.0), hex values from memory, lightest to darkest.
SCALE = ("f6ede4", "f3e7db", "f7ead0", "eadaba", "d7bd96", "a07e56", "825c43", "604134", "3a312a", "292420")


@pytest.mark.parametrize("code", SCALE)
def test_the_skin_tone_scale_is_reached(code: str) -> None:
    # Its ends lie beyond measured skin: the palest are lighter than any face, the darkest greyer.
    lab = hex_to_lab(code)
    assert float(ciede2000(lab, reflectance_to_lab(skin_reflectance(skins_of(lab)))[0])) < 5


def test_haemoglobin_is_the_published_table() -> None:
    # Prahl's compilation of molar extinction coefficients, as the package nirsimple carries it.
    from importlib.resources import files

    from core.skin.reflectance import _HB, _HBO2

    rows = np.genfromtxt(str(files("nirsimple.tables").joinpath("gratzer.csv")), delimiter=",", skip_header=1)
    published = {int(row[0]): row[1:] for row in rows}
    ours = np.array([_HBO2, _HB]).T
    assert np.allclose(ours, [published[int(nm)] for nm in BANDS_NM], rtol=5e-4)
