"""Caltin against other people's code: never the library that the code under test calls."""

import io

import colour
import numpy as np
import pytest
from coloraide import Color
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from PIL import Image

from core.colour.difference import ciede2000
from core.colour.munsell import value_to_y
from core.colour.spaces import SRGB, hex_to_lab, lab_to_lch, srgb_decode, xyz_to_lab
from core.look.picture import read_picture
from core.look.reading import Disc, read_spot
from core.optics.spectra import WEIGHTS
from tests.conftest import ROOT, picture_bytes
from tools import derive_fonts
from tools.derive_profile import PROFILES, build
from tools.derive_weights import derive
from tools.icc import SRGB_CURVE, rgb_profile

channel = st.integers(0, 255)


@settings(max_examples=150, deadline=None)
@given(channel, channel, channel)
def test_srgb_to_cielab_agrees_with_coloraide(r: int, g: int, b: int) -> None:
    other = Color("srgb", [r / 255, g / 255, b / 255]).convert("lab-d65")
    assert np.allclose(hex_to_lab(f"#{r:02x}{g:02x}{b:02x}"), other.coords(), atol=0.02)


@settings(max_examples=80, deadline=None)
@given(*[st.floats(1, 99)] * 2, *[st.floats(-60, 60)] * 4)
def test_ciede2000_agrees_with_coloraide(
    l_1: float, l_2: float, a_1: float, a_2: float, b_1: float, b_2: float
) -> None:
    # Hues that lie exactly opposite have no mean, and the formula leaps there (Sharma, Wu, Dalal 2005).
    assume(abs(a_1 * b_2 - a_2 * b_1) > 1e-3 or a_1 * a_2 + b_1 * b_2 >= 0)
    one, other = Color("lab-d65", [l_1, a_1, b_1]), Color("lab-d65", [l_2, a_2, b_2])
    assert float(ciede2000([l_1, a_1, b_1], [l_2, a_2, b_2])) == pytest.approx(
        one.delta_e(other, method="2000", space="lab-d65"), abs=1e-6
    )


def test_chroma_and_hue_agree_with_coloraide() -> None:
    for lab in ([50, 20, 30], [40, -10, 25], [70, -5, -35]):
        lightness, chroma, hue_deg = Color("lab-d65", lab).convert("lch-d65").coords()
        assert np.allclose(lab_to_lch(lab), [lightness, chroma, hue_deg % 360], atol=1e-6)


def test_srgb_agrees_with_colour_science() -> None:
    rgb = np.random.default_rng(3).random((200, 3))
    wanted = colour.XYZ_to_Lab(
        colour.sRGB_to_XYZ(rgb), colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    )
    assert np.allclose(
        xyz_to_lab(srgb_decode(rgb) @ SRGB.to_xyz), wanted, atol=0.06
    )  # its matrix is rounded to four digits


def test_the_munsell_polynomial_agrees_with_colour_science() -> None:
    values = np.linspace(0.5, 10, 20)
    assert np.allclose(value_to_y(values) * 100, colour.colorimetry.luminance_ASTMD1535(values), atol=1e-9)


def test_the_shipped_weights_are_those_of_the_cie_tables() -> None:
    assert np.allclose(WEIGHTS, derive(), atol=1e-10)


@pytest.mark.parametrize("file", PROFILES)
def test_the_shipped_profiles_are_those_their_script_makes(file: str) -> None:
    assert (ROOT / f"core/look/data/{file}.icc").read_bytes() == build(file)


@pytest.mark.parametrize("name", derive_fonts.WEIGHTS)
def test_the_letters_of_sheets_are_those_their_script_makes(name: str) -> None:
    made = derive_fonts.build(name, derive_fonts.WEIGHTS[name])
    assert (ROOT / f"core/exchange/fonts/{name}.ttf").read_bytes() == made


@pytest.mark.parametrize("rgb", [(200, 150, 120), (90, 60, 50), (255, 0, 0), (30, 200, 60), (250, 235, 225)])
@pytest.mark.parametrize("form", ["PNG", "TIFF", "WEBP", "JPEG"])
def test_a_wide_gamut_patch_reads_as_an_independent_conversion_says(rgb: tuple[int, int, int], form: str) -> None:
    options = {"JPEG": {"quality": 97, "subsampling": 0}, "WEBP": {"lossless": True}}.get(form, {})
    data = picture_bytes(rgb, form=form, icc_profile=build("display-p3"), **options)
    wanted = Color("display-p3", [v / 255 for v in rgb]).convert("lab-d65").coords()
    read = read_spot(read_picture(data), Disc(0.5, 0.5, 0.2)).swatch.lab
    assert float(ciede2000(wanted, read)) < (1.0 if form == "JPEG" else 0.5)


@pytest.mark.parametrize("rgb", [(200, 150, 120), (90, 60, 50), (120, 160, 90), (250, 235, 225)])
def test_another_wide_profile_is_converted_by_way_of_display_p3(rgb: tuple[int, int, int]) -> None:
    # A profile with the primaries of ITU-R BT.2020 and the curve of sRGB, made here, read by Caltin through LittleCMS;
    # coloraide has no such space, so the matrices are colour-science's.
    space = colour.RGB_COLOURSPACES["ITU-R BT.2020"]
    icc = rgb_profile("other", space.matrix_RGB_to_XYZ.T, SRGB_CURVE)
    wanted = xyz_to_lab(srgb_decode(np.array(rgb) / 255) @ space.matrix_RGB_to_XYZ.T)
    picture = read_picture(picture_bytes(rgb, icc_profile=icc))
    assert float(ciede2000(wanted, read_spot(picture, Disc(0.5, 0.5, 0.2)).swatch.lab)) < 0.5


def test_the_values_of_a_photograph_are_those_of_an_independent_greyscale() -> None:
    pixels = np.random.default_rng(1).integers(0, 256, (20, 20, 3), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    y = read_picture(out.getvalue()).space.xyz(pixels)[..., 1]
    for i, j in ((0, 0), (7, 3), (19, 19)):
        assert float(y[i, j]) == pytest.approx(Color("srgb", [*(pixels[i, j] / 255)]).luminance(), abs=2e-4)
