"""The parts of the portrait tool that need neither mesh nor renderer."""

from __future__ import annotations

import colour
import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import D65_WHITE, xyz_to_lab
from core.optics.spectra import BANDS_NM
from core.skin.reflectance import layers
from tools.portraits.light import Light, dye, lamp
from tools.portraits.noise import clouds, noise
from tools.portraits.people import CREW
from tools.portraits.skin import PLACES

OBSERVER = (
    colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(colour.SpectralShape(400, 700, 10)).values
)


def settled(share: float) -> Light:
    return Light(2750, 0, 30, 5, 6500, 0.3, 0, 90, 0.3, 2750, share)


def test_a_lamp_has_the_colour_of_its_temperature() -> None:
    for kelvin in (1900, 2750, 3900):
        xyz = lamp(kelvin) @ OBSERVER
        assert xyz[1] == pytest.approx(1)
        assert xyz[:2] / xyz.sum() == pytest.approx(colour.temperature.CCT_to_xy_Kang2002(kelvin), abs=0.003)


def test_an_eye_that_has_settled_sees_white_as_white_and_one_that_has_not_sees_it_warm() -> None:
    assert settled(1.0).white(lamp(2750)) == pytest.approx([1, 1, 1], abs=0.01)
    red, green, blue = settled(0.0).white(lamp(2750))
    assert red > green > blue


def test_a_dye_reflects_what_it_is_said_to_reflect() -> None:
    made = dye(0.6, 0.3, 0.1)
    assert made[BANDS_NM > 660] == pytest.approx(0.6, abs=0.01)
    assert made[BANDS_NM < 430] == pytest.approx(0.1, abs=0.01)
    assert ((made >= 0.1 - 1e-9) & (made <= 0.6 + 1e-9)).all()


def test_noise_is_smooth_even_and_the_same_every_time() -> None:
    points = np.random.default_rng(1).uniform(-20, 20, size=(4000, 3))
    found = noise(points)
    assert found == pytest.approx(noise(points.copy()), abs=0)
    assert 0 <= found.min() < 0.1
    assert 0.9 < found.max() <= 1
    assert found.mean() == pytest.approx(0.5, abs=0.02)
    assert np.abs(noise(points + 1e-3) - found).max() < 0.01
    assert clouds(points).std() < found.std()


@pytest.mark.parametrize("name", CREW)
def test_the_skin_of_every_place_has_the_colour_that_was_asked_for(name: str) -> None:
    """Integrated by another library's observer and lamp."""
    one = CREW[name].skin
    plain = type(one)(one.lab, beard=one.beard)
    gloss = layers().surface
    d65 = colour.SDS_ILLUMINANTS["D65"].copy().align(colour.SpectralShape(400, 700, 10)).values
    seen = (gloss + (1 - gloss) * plain.reflectances()) * d65 @ OBSERVER / (d65 @ OBSERVER[:, 1])
    off = ciede2000(xyz_to_lab(seen * D65_WHITE / (d65 @ OBSERVER / (d65 @ OBSERVER[:, 1]))), plain.labs())
    assert dict(zip(PLACES, off, strict=True))["forehead"] < 0.3
    assert np.median(off) < 0.3
    assert off.max() < 2.5  # lips lie at the edge of what blood and melanin can do
