from typing import get_args

import numpy as np
import pytest

from core.colour.spaces import D65_WHITE, Floats
from core.light.lamps import NAMED, Gel, Lamp, observer, power, settled, usually_settled, white_of

colour = pytest.importorskip("colour")


def chromaticity(of: Floats) -> Floats:
    xyz = of @ observer()
    return np.asarray(xyz[:2] / xyz.sum())


@pytest.mark.parametrize(
    ("lamp", "xy"),
    [
        # Published: CIE 15, illuminants A, D50, D65 and D75; our bands end at 400 and 700 nm.
        (Lamp("glow", 2856), (0.44757, 0.40745)),
        (Lamp("daylight", 5003), (0.34567, 0.35850)),
        (Lamp("daylight", 6504), (0.31272, 0.32903)),
        (Lamp("daylight", 7504), (0.29902, 0.31485)),
    ],
)
def test_lamps_have_the_published_chromaticities(lamp: Lamp, xy: tuple[float, float]) -> None:
    assert chromaticity(power(lamp)) == pytest.approx(xy, abs=0.0012)


@pytest.mark.parametrize("kelvin", [1500, 2700, 4000, 6500, 12000])
def test_a_white_led_has_the_colour_that_is_said_of_it(kelvin: float) -> None:
    like = Lamp("glow" if kelvin < 4000 else "daylight", kelvin)
    assert chromaticity(power(Lamp("led", kelvin))) == pytest.approx(chromaticity(power(like)), abs=1e-4)


def test_a_led_renders_red_less_than_a_bulb_of_its_colour() -> None:
    """Published in every test of colour rendering: R9 of phosphor LEDs is low."""
    deep_red = np.where(np.arange(400, 701, 10) > 620, 0.8, 0.05)
    by_led, by_bulb = (deep_red * power(Lamp(kind, 3000)) @ observer()[:, 0] for kind in ("led", "glow"))
    assert by_led < 0.8 * by_bulb


def test_every_lamp_is_of_one_luminance_and_no_power_is_negative() -> None:
    for lamp in [*NAMED.values(), *(Lamp("glow", 3200, gel, "40c080") for gel in get_args(Gel))]:
        assert power(lamp) @ observer()[:, 1] == pytest.approx(1)
        assert (power(lamp) >= 0).all()


@pytest.mark.parametrize(("gel", "wave"), [("red", 640), ("green", 520), ("blue", 450), ("amber", 590)])
def test_a_gel_lets_its_own_colour_through(gel: str, wave: int) -> None:
    share = power(Lamp("glow", 3200, gel)) / power(Lamp("glow", 3200))
    at = (wave - 400) // 10
    assert share[at] > 3 * share[[3, 12, 28]].min()


def test_a_gel_of_any_colour_turns_white_into_that_colour() -> None:
    xyz = power(Lamp("daylight", 6504, "own", "d05020")) @ observer()
    rgb = xyz @ np.linalg.inv(colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ).T
    linear = colour.models.eotf_sRGB(np.array([0xD0, 0x50, 0x20]) / 255)
    assert rgb / rgb.max() == pytest.approx(linear / linear.max(), abs=0.02)


def test_an_eye_that_has_wholly_settled_sees_white_as_white() -> None:
    white = white_of(NAMED["candle"])
    assert settled(white, 1.0) @ white == pytest.approx(D65_WHITE, abs=1e-9)
    assert settled(white, 0.0) == pytest.approx(np.eye(3), abs=1e-12)


def test_settling_is_what_an_independent_library_makes_of_it() -> None:
    white, seen = white_of(NAMED["warm bulb"]), np.array([0.3, 0.25, 0.1])
    theirs = colour.adaptation.chromatic_adaptation_VonKries(seen, white, D65_WHITE, transform="CAT16")
    assert settled(white, 1.0) @ seen == pytest.approx(theirs, abs=1e-6)


def test_an_eye_settles_less_on_a_candle_than_on_daylight_and_half_through_a_gel() -> None:
    assert usually_settled(NAMED["candle"]) == pytest.approx(0.7)
    assert usually_settled(NAMED["warm bulb"]) < usually_settled(NAMED["sun"]) == 1
    assert usually_settled(Lamp("glow", 3200, "red")) < 0.6
