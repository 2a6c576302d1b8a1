import numpy as np
import pytest

from core.colour.munsell import y_to_value
from core.colour.spaces import DISPLAY_P3, SRGB, lab_to_lch, xyz_to_lab
from core.colour.temperature import temperature
from core.errors import InputError
from core.look import views
from core.look.balance import Balance
from core.look.picture import Picture
from core.look.views import PUSHES, Small


def colours() -> np.ndarray:
    """Every hue in middling and light, as 8-bit pixels (20, 36, 3)."""
    import colorsys

    rows = [[colorsys.hls_to_rgb(h / 36, light / 22, 0.35) for h in range(36)] for light in range(1, 21)]
    return np.rint(np.array(rows) * 255).astype(np.uint8)


def lab_of(pixels: np.ndarray) -> np.ndarray:
    return xyz_to_lab(SRGB.xyz(pixels).astype(float))


SMALL = Small(colours(), SRGB)


def test_as_it_is_keeps_srgb_and_converts_a_wide_space() -> None:
    assert views.as_it_is(SMALL) is SMALL.pixels
    wide = views.as_it_is(Small(SMALL.pixels, DISPLAY_P3))
    inside = np.all((wide > 3) & (wide < 252), axis=-1)
    off = np.linalg.norm(lab_of(wide) - xyz_to_lab(DISPLAY_P3.xyz(SMALL.pixels).astype(float)), axis=-1)
    assert off[inside].max() < 2.5  # interpolated between lattice colours, and rounded
    assert off[inside].mean() < 0.7


@pytest.mark.parametrize("amount", range(1, len(PUSHES) + 1))
def test_pushed_chroma_keeps_value_and_hue(amount: int) -> None:
    before, after = lab_of(SMALL.pixels), lab_of(views.pushed(SMALL, amount))
    lch_before, lch_after = lab_to_lch(before), lab_to_lch(after)
    assert np.abs(after[..., 0] - before[..., 0]).max() < 2.5
    seen = lch_before[..., 1] > 6
    turn = (lch_after[..., 2] - lch_before[..., 2] + 180) % 360 - 180
    assert np.percentile(np.abs(turn[seen]), 95) < 5
    assert np.median(lch_after[..., 1][seen] / lch_before[..., 1][seen]) > min(1.3, PUSHES[amount - 1] - 0.3)


def test_a_stronger_push_is_stronger_until_the_screen_ends() -> None:
    faint = Small(np.full((8, 8, 3), (150, 138, 132), np.uint8), SRGB)
    chroma = [float(lab_to_lch(lab_of(views.pushed(faint, n)))[0, 0, 1]) for n in range(1, len(PUSHES) + 1)]
    assert chroma == sorted(chroma)
    assert chroma[-1] > 5 * float(lab_to_lch(lab_of(faint.pixels))[0, 0, 1])


def test_warm_and_cool_are_shown_against_the_average() -> None:
    average = lab_of(np.array([[190, 140, 110]], np.uint8))[0]
    seen = lab_of(views.warm_and_cool(SMALL, [(None, average)]))
    degrees = temperature(lab_of(SMALL.pixels), average)
    clearly = np.abs(degrees) > 12
    assert np.array_equal((seen[..., 2] > 0)[clearly], (degrees > 0)[clearly])
    same = views.warm_and_cool(Small(np.full((4, 4, 3), (190, 140, 110), np.uint8), SRGB), [(None, average)])
    assert lab_to_lch(lab_of(same))[..., 1].max() < 2.5


def test_each_area_is_compared_with_its_own_average() -> None:
    skin = Small(np.full((6, 10, 3), (190, 140, 110), np.uint8), SRGB)
    own, blue = lab_of(skin.pixels)[0, 0], np.array([60.0, 20.0, -20.0])
    right = np.zeros((6, 10), bool)
    right[:, 5:] = True
    seen = lab_to_lch(lab_of(views.warm_and_cool(skin, [(None, own), (right, blue)])))
    assert seen[:, :5, 1].max() < 2.5
    assert seen[:, 5:, 1].min() > 10


def test_a_squint_takes_detail_away_and_keeps_the_light() -> None:
    rng = np.random.default_rng(5)
    noisy = Small(rng.integers(60, 200, (90, 121, 3), dtype=np.uint8), SRGB)
    light = SRGB.xyz(noisy.pixels)[..., 1]
    scatter = []
    for amount in range(1, len(views.SQUINTS) + 1):
        seen = views.squint(noisy, amount)
        assert seen.shape == noisy.pixels.shape
        y = SRGB.xyz(seen)[..., 1]
        assert y.mean() == pytest.approx(light.mean(), rel=0.03)
        scatter.append(float(y.std()))
    assert scatter == sorted(scatter, reverse=True)
    assert scatter[0] < 0.5 * float(light.std())


def test_borders_of_values_are_drawn_between_them() -> None:
    steps = np.repeat(np.array([30, 110, 220], np.uint8), 40)
    small = Small(np.broadcast_to(steps[None, :, None], (50, 120, 3)).copy(), SRGB)
    plain, lined = views.values(small, 3), views.values(small, 3, borders=True)
    changed = np.any(plain != lined, axis=(0, 2))
    assert changed[38:43].any()
    assert changed[78:83].any()
    assert not changed[5:35].any()
    assert not changed[45:75].any()


def test_families_are_two_flat_colours_a_figure() -> None:
    owners = np.zeros((20, 36), np.uint8)
    owners[4:16, 4:16], owners[4:16, 20:32] = 1, 2
    light = np.zeros((20, 36), bool)
    light[4:10] = True
    seen = views.families(SMALL, owners, light)
    for columns in (slice(7, 13), slice(23, 29)):
        assert len(np.unique(seen[6:8, columns].reshape(-1, 3), axis=0)) == 1
        assert not np.array_equal(seen[7, columns.start], seen[13, columns.start])
    assert not np.array_equal(seen[7, 8], seen[7, 25])


def test_what_is_not_skin_fades_to_grey() -> None:
    skin = np.zeros((20, 36), bool)
    skin[5:15, 5:15] = True
    seen = views.skin_alone(SMALL, skin)
    assert np.array_equal(seen[9:11, 9:11], SMALL.pixels[9:11, 9:11])
    assert np.ptp(seen[:, 25:].astype(int), axis=-1).max() == 0


@pytest.mark.parametrize("way", ["as_it_is", "squint", "pushed"])
def test_balance_makes_the_chosen_white_neutral_in_every_way_of_seeing(way: str) -> None:
    small = Small(np.full((32, 32, 3), (200, 180, 150), np.uint8), SRGB)
    white = SRGB.xyz(small.pixels[0, 0]).astype(float)
    balance = Balance(tuple(white / white[1]))
    seen = {
        "as_it_is": lambda: views.as_it_is(small, balance),
        "squint": lambda: views.squint(small, 2, balance),
        "pushed": lambda: views.pushed(small, 1, balance),
    }[way]()
    assert float(lab_to_lch(lab_of(seen))[16, 16, 1]) < 1.5


@pytest.mark.parametrize("amount", [0, 99, -1])
def test_an_amount_out_of_range_is_refused(amount: int) -> None:
    for way in (views.squint, views.pushed, views.values):
        with pytest.raises(InputError) as caught:
            way(SMALL, amount)
        assert caught.value.hint.startswith("Use ")


def test_scaling_makes_smaller_never_larger() -> None:
    picture = Picture(np.zeros((300, 100, 3), np.uint8), SRGB, "")
    assert views.scaled(picture, 150).pixels.shape == (150, 50, 3)
    assert views.scaled(picture, 1000).pixels.shape == (300, 100, 3)


def test_black_and_white_is_told_from_colour() -> None:
    grey = np.repeat(SMALL.pixels[..., :1], 3, axis=-1)
    assert views.is_colourless(Small(grey, SRGB))
    assert not views.is_colourless(SMALL)
    assert y_to_value(views.light_of(Small(grey, SRGB))[..., 1]).max() > 5
