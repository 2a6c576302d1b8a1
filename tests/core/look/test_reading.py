import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.colour.munsell import y_to_value
from core.colour.spaces import SRGB, hex_to_lab
from core.errors import InputError
from core.look.picture import Picture
from core.look.reading import Disc, Outline, middle_of, read_spot
from core.look.views import as_it_is, scaled, values


def flat(colour: tuple[int, int, int] = (190, 140, 110), height: int = 80, width: int = 120) -> Picture:
    return Picture(np.full((height, width, 3), colour, dtype=np.uint8), SRGB, "sRGB")


def test_a_flat_patch_reads_as_itself() -> None:
    reading = read_spot(flat(), Disc(0.5, 0.5, 0.1))
    assert np.allclose(reading.swatch.lab, hex_to_lab("#be8c6e"), atol=0.02)
    assert reading.spread == pytest.approx(0, abs=0.01)
    assert reading.pixels == pytest.approx(np.pi * 12**2, rel=0.05)


def test_specks_do_not_count() -> None:
    picture = flat()
    picture.pixels[35:45:3, 55:65:3] = 255
    with_specks = read_spot(picture, Disc(0.5, 0.5, 0.08))
    assert np.allclose(with_specks.swatch.lab, hex_to_lab("#be8c6e"), atol=0.02)
    assert with_specks.spread > 3


def test_the_mean_is_taken_in_linear_light() -> None:
    picture = flat((0, 0, 0))
    picture.pixels[:, ::2] = 255
    reading = read_spot(picture, Disc(0.5, 0.5, 0.2))
    # Half of the light is Munsell 7.4; the mean of the codes would be 5.2.
    assert reading.swatch.value > 6.5


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0.0001, 0.25))
def test_every_disc_inside_can_be_read(x: float, y: float, radius: float) -> None:
    reading = read_spot(flat(), Disc(x, y, radius))
    assert np.allclose(reading.swatch.lab, hex_to_lab("#be8c6e"), atol=0.02)
    assert reading.pixels >= 1


@pytest.mark.parametrize(
    ("disc", "code", "field"),
    [
        (Disc(1.2, 0.5, 0.01), "spot_outside", "x"),
        (Disc(-0.1, 0.5, 0.01), "spot_outside", "x"),
        (Disc(0.5, 7, 0.01), "spot_outside", "y"),
        (Disc(float("nan"), 0.5, 0.01), "spot_outside", "x"),
        (Disc(0.5, 0.5, 0), "bad_radius", "radius"),
        (Disc(0.5, 0.5, -1), "bad_radius", "radius"),
        (Disc(0.5, 0.5, 0.3), "bad_radius", "radius"),
        (Disc(0.5, 0.5, float("inf")), "bad_radius", "radius"),
    ],
)
def test_a_disc_outside_is_refused_by_field(disc: Disc, code: str, field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_spot(flat(), disc)
    assert (caught.value.code, caught.value.field) == (code, field)


def test_a_scaled_picture_keeps_its_spots() -> None:
    ys, xs = np.mgrid[0:400, 0:600]
    picture = Picture(np.stack([xs // 3, ys // 2, xs // 5], axis=-1).astype(np.uint8), SRGB, "sRGB")
    small = scaled(picture, 150)
    assert (small.width, small.height) == (150, 100)
    for disc in (Disc(0.3, 0.7, 0.05), Disc(0.8, 0.2, 0.04)):
        assert np.allclose(read_spot(picture, disc).swatch.lab, read_spot(small, disc).swatch.lab, atol=1.0)


def test_a_small_picture_is_not_enlarged() -> None:
    assert scaled(flat(), 1000).width == 120


@pytest.mark.parametrize("steps", range(2, 10))
def test_the_values_view_has_that_many_greys_and_keeps_their_order(steps: int) -> None:
    ramp = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, axis=2)
    seen = values(Picture(np.repeat(ramp, 4, axis=0), SRGB, "sRGB"), steps)
    assert (seen[..., 0] == seen[..., 1]).all()
    assert (seen[..., 1] == seen[..., 2]).all()
    row = seen[0, :, 0].astype(int)
    assert len(np.unique(row)) == steps
    assert (np.diff(row) >= 0).all()
    # Equally far apart in value, not in code.
    shown = y_to_value(SRGB.xyz(np.unique(seen[0], axis=0))[:, 1])
    assert np.allclose(np.diff(shown), 10 / steps, atol=0.1)


@pytest.mark.parametrize("steps", [1, 10, 0, -3])
def test_other_numbers_of_values_are_refused(steps: int) -> None:
    with pytest.raises(InputError, match="2 to 9"):
        values(flat(), steps)


def test_as_it_is_leaves_srgb_alone() -> None:
    picture = flat()
    assert as_it_is(picture) is picture.pixels


SQUARE = ((0.25, 0.25), (0.75, 0.25), (0.75, 0.75), (0.25, 0.75))


def test_an_outline_holds_what_it_encloses_and_nothing_else() -> None:
    picture = flat((20, 20, 20))
    picture.pixels[20:60, 30:90] = (190, 140, 110)
    reading = read_spot(picture, Outline(SQUARE))
    assert np.allclose(reading.swatch.lab, hex_to_lab("#be8c6e"), atol=0.1)
    assert reading.pixels == pytest.approx(40 * 60, rel=0.06)
    assert not reading.straddles
    assert middle_of(Outline(SQUARE)) == (0.5, 0.5)


@pytest.mark.parametrize(
    ("corners", "code"),
    [
        (((0.1, 0.1), (0.9, 0.9)), "bad_outline"),
        (((0.1, 0.1), (0.9, 0.9), (0.9, 0.1), (0.1, 0.9)), "bad_outline"),
        (((0.1, 0.1), (0.5, 0.5), (0.9, 0.9)), "bad_outline"),
        (((0.1, 0.1), (0.1, 0.1), (0.1, 0.1)), "bad_outline"),
        (tuple((0.5 + 0.4 * np.cos(a), 0.5 + 0.4 * np.sin(a)) for a in np.linspace(0, 6, 80)), "bad_outline"),
        (((0.1, 0.1), (1.2, 0.1), (0.5, 0.9)), "spot_outside"),
        (((0.1, float("nan")), (0.2, 0.1), (0.5, 0.9)), "spot_outside"),
    ],
    ids=["two corners", "crosses itself", "a line", "one point", "too many", "outside", "not a number"],
)
def test_an_outline_that_cannot_be_read_is_refused(corners: tuple[tuple[float, float], ...], code: str) -> None:
    with pytest.raises(InputError) as caught:
        read_spot(flat(), Outline(corners))
    assert caught.value.code == code
    assert caught.value.field == "outline"


@given(st.floats(0, 0.6), st.floats(0, 0.6), st.floats(0.001, 0.4))
def test_every_plain_outline_inside_can_be_read(x: float, y: float, side: float) -> None:
    corners = ((x, y), (x + side, y), (x + side, y + side), (x, y + side))
    assert read_spot(flat(), Outline(corners)).pixels >= 1


def test_corners_along_one_side_do_not_cross() -> None:
    dense = ((0.2, 0.2), (0.3, 0.2), (0.4, 0.2), (0.5, 0.2), (0.6, 0.2), (0.6, 0.5), (0.4, 0.5), (0.2, 0.5))
    assert read_spot(flat(), Outline(dense)).pixels > 500


def test_a_very_large_outline_is_thinned_out_not_refused() -> None:
    big = flat(height=1200, width=1600)
    reading = read_spot(big, Outline(((0, 0), (1, 0), (1, 1), (0, 1))))
    assert 10_000 < reading.pixels < 60_000


@pytest.mark.parametrize("share", [0.35, 0.5, 0.7])
def test_a_spot_over_a_border_says_so(share: float) -> None:
    picture = flat()
    picture.pixels[:, : int(120 * (0.4 + 0.2 * share))] = (90, 60, 50)
    assert read_spot(picture, Disc(0.5, 0.5, 0.1)).straddles


def test_neither_a_gradient_nor_noise_is_a_border() -> None:
    slope = np.linspace(60, 220, 120).astype(np.uint8)
    gradient = Picture(np.broadcast_to(slope[None, :, None], (80, 120, 3)).copy(), SRGB, "")
    assert not read_spot(gradient, Disc(0.5, 0.5, 0.15)).straddles
    noise = np.random.default_rng(3).normal(140, 25, (80, 120, 3)).clip(0, 255).astype(np.uint8)
    assert not read_spot(Picture(noise, SRGB, ""), Disc(0.5, 0.5, 0.15)).straddles
