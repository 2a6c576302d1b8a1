"""Readings of flat patches against independent conversions, by format and by profile (ICC.1, CIPA DC-008)."""

from __future__ import annotations

import io
from itertools import product

import colour
import numpy as np
import pillow_heif
import pytest
from coloraide import Color
from PIL import Image

from core.look.picture import read_picture
from core.look.reading import Disc, read_spot
from core.look.views import as_it_is, scaled
from tests.conftest import ROOT
from tools.icc import D50, cmyk_profile, gamma_curve, grey_profile, rgb_profile

pillow_heif.register_heif_opener()

# Codes of flat patches: skins, greys, and colours near the gamut's edge.
CODES = [
    (238, 208, 190), (201, 150, 122), (141, 92, 68), (74, 48, 40), (30, 22, 20), (128, 128, 128), (250, 250, 250),
    (12, 12, 12), (220, 30, 40), (30, 180, 60), (40, 60, 220), (240, 220, 40), (90, 140, 150), (150, 60, 130),
]  # fmt: skip
# Adobe RGB (1998) primaries and white, CIE xy; the gamma is 563/256. Source: its specification, version 2005-05.
WIDE_XY = ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06))
WHITE_XY = (0.3127, 0.3290)
FORMATS = {
    "JPEG": {"quality": 98, "subsampling": 0},
    "PNG": {},
    "TIFF": {},
    "WEBP": {"lossless": True},
    "HEIF": {"quality": -1, "chroma": 444, "matrix_coefficients": 0},
}


def wide_profile() -> bytes:
    to_xyz = colour.normalised_primary_matrix(np.ravel(WIDE_XY), WHITE_XY).T
    return rgb_profile("Wide", to_xyz, gamma_curve(563 / 256))


PROFILES = {
    "sRGB": ("srgb", None),
    "Display P3": ("display-p3", (ROOT / "core/look/data/display-p3.icc").read_bytes()),
    "wide gamut": ("a98-rgb", wide_profile()),
}


def encoded(image: Image.Image, form: str, icc: bytes | None) -> bytes:
    out = io.BytesIO()
    image.save(out, form, icc_profile=icc, **FORMATS[form])  # type: ignore[arg-type]  # options differ by format
    return out.getvalue()


def distance(one: np.ndarray, other: np.ndarray) -> float:
    return float(colour.difference.delta_E_CIE2000(one, other))


@pytest.mark.parametrize(("form", "profile"), list(product(FORMATS, PROFILES)))
def test_flat_patches_read_as_coloraide_converts_them(form: str, profile: str) -> None:
    space, icc = PROFILES[profile]
    worst = 0.0
    for codes in CODES:
        picture = read_picture(encoded(Image.new("RGB", (48, 48), codes), form, icc))
        read = read_spot(picture, Disc(0.5, 0.5, 0.2)).swatch.lab
        wanted = Color(space, [c / 255 for c in codes]).convert("lab-d65").coords()
        worst = max(worst, distance(np.array(read), np.array(wanted)))
    assert worst <= (1.0 if form == "JPEG" else 0.5)


GRID = 6
INKS = np.array([[0.09, 0.38, 0.75], [0.60, 0.03, 0.20], [0.85, 0.78, 0.05], [0.02, 0.02, 0.02]])


def ink_labs() -> np.ndarray:
    """CIELAB (6, 6, 6, 6, 3) under D50 of four invented inks that overprint as filters."""
    amounts = np.stack(np.meshgrid(*[np.linspace(0, 1, GRID)] * 4, indexing="ij"), axis=-1)[..., None]
    rgb = np.prod(1 - amounts * (1 - INKS), axis=-2)
    to_xyz = colour.normalised_primary_matrix(np.ravel(((0.64, 0.33), (0.30, 0.60), (0.15, 0.06))), WHITE_XY).T
    adapt = colour.adaptation.matrix_chromatic_adaptation_VonKries(np.ones(3) @ to_xyz, D50, transform="Bradford")
    return np.asarray(colour.XYZ_to_Lab(rgb @ to_xyz @ adapt.T, colour.XYZ_to_xy(D50)))


@pytest.mark.parametrize("form", ["JPEG", "TIFF"])
def test_cmyk_patches_read_as_the_profile_s_own_table_says(form: str) -> None:
    labs = ink_labs()
    icc = cmyk_profile("Four inks", labs)
    back = colour.adaptation.matrix_chromatic_adaptation_VonKries(D50, colour.xy_to_XYZ(WHITE_XY), transform="Bradford")
    for node in [(0, 0, 0, 0), (1, 2, 3, 0), (0, 2, 2, 1), (0, 3, 4, 2), (4, 1, 0, 0), (2, 2, 2, 3), (0, 1, 1, 0)]:
        image = Image.new("CMYK", (48, 48), tuple(51 * n for n in node))
        read = read_spot(read_picture(encoded(image, form, icc)), Disc(0.5, 0.5, 0.2)).swatch.lab
        xyz = colour.Lab_to_XYZ(labs[node], colour.XYZ_to_xy(D50)) @ back.T
        wanted = colour.XYZ_to_Lab(xyz, WHITE_XY)
        assert distance(np.array(read), np.asarray(wanted)) <= (1.0 if form == "JPEG" else 0.5), node


def test_what_is_shown_of_a_wide_or_cmyk_picture_looks_as_it_reads() -> None:
    wide = encoded(Image.new("RGB", (48, 48), (150, 120, 100)), "PNG", wide_profile())
    inks = encoded(Image.new("CMYK", (48, 48), (51, 102, 102, 51)), "TIFF", cmyk_profile("Four inks", ink_labs()))
    for data in (wide, inks):
        picture = read_picture(data)
        shown = as_it_is(scaled(picture, 40))[20, 20]
        seen = Color("srgb", [int(c) / 255 for c in shown]).convert("lab-d65").coords()
        assert distance(np.array(read_spot(picture, Disc(0.5, 0.5, 0.2)).swatch.lab), np.array(seen)) < 1.0


@pytest.mark.parametrize("form", ["JPEG", "PNG", "TIFF", "WEBP"])
@pytest.mark.parametrize("orientation", range(1, 9))
def test_spots_lie_where_they_belong_under_every_orientation(form: str, orientation: int) -> None:
    upright = np.zeros((60, 90, 3), np.uint8)
    upright[:20, :30] = (200, 140, 110)  # the corner at the upper left
    exif = Image.Exif()
    exif[0x0112] = orientation
    # The scene as a camera stores it, so that the orientation's turn sets it upright. Source: CIPA DC-008.
    turns = {
        1: lambda p: p, 2: lambda p: p[:, ::-1], 3: lambda p: p[::-1, ::-1], 4: lambda p: p[::-1],
        5: lambda p: p.transpose(1, 0, 2), 6: lambda p: np.rot90(p, 1), 7: lambda p: p[::-1, ::-1].transpose(1, 0, 2),
        8: lambda p: np.rot90(p, -1),
    }  # fmt: skip
    out = io.BytesIO()
    stored = Image.fromarray(np.ascontiguousarray(turns[orientation](upright)))
    stored.save(out, form, exif=exif.tobytes(), **FORMATS[form])  # type: ignore[arg-type]  # options differ
    picture = read_picture(out.getvalue())
    assert (picture.width, picture.height) == (90, 60)
    assert read_spot(picture, Disc(0.15, 0.15, 0.05)).swatch.value > 5
    assert read_spot(picture, Disc(0.85, 0.85, 0.05)).swatch.value < 0.5


def test_an_orientation_in_a_heic_file_is_applied_once() -> None:
    upright = np.zeros((64, 96, 3), np.uint8)
    upright[:24, :32] = (200, 140, 110)
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(np.rot90(upright, 1))).save(out, "HEIF", exif=exif.tobytes(), quality=95)
    picture = read_picture(out.getvalue())
    assert (picture.width, picture.height) == (96, 64)
    assert read_spot(picture, Disc(0.15, 0.15, 0.05)).swatch.value > 5


def test_a_grey_picture_with_a_gamma_of_its_own_is_read_by_it() -> None:
    out = io.BytesIO()
    Image.new("L", (48, 48), 128).save(out, "PNG", icc_profile=grey_profile("Grey", 1.8))
    read = read_spot(read_picture(out.getvalue()), Disc(0.5, 0.5, 0.2)).swatch.lab
    wanted = colour.XYZ_to_Lab(np.array([0.95047, 1, 1.08883]) * (128 / 255) ** 1.8, WHITE_XY)
    assert distance(np.array(read), np.asarray(wanted)) <= 0.5
