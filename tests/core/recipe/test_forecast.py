"""The drawing foreseen against the made-up heads, whose colours are known."""

from functools import cache

import numpy as np
import pytest
from scipy.stats import spearmanr

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, xyz_to_lab
from core.exchange.json_files import read_spots
from core.look.picture import read_picture
from core.look.reading import read_spot
from core.look.study import WORKING_SIZE, Person, study
from core.look.views import Small, enlarged, light_of, scaled
from core.optics.support import get_support
from core.optics.texture import tooth_tile
from core.plan.setup import LaidOutTray, Setup, lay_out
from core.plan.solve import mix
from core.recipe.forecast import Palette, forecast, foreseen
from tests.conftest import ROOT, a_range

LONGEST = 700


@cache
def laid_out() -> LaidOutTray:
    return lay_out(a_range("long-pier-72"), Setup())


@cache
def planned(name: str) -> tuple[Small, np.ndarray, tuple[Palette, ...]]:
    """A demo head: the picture, whose skin is where, and what the recipes make of each figure's colours."""
    folder = ROOT / "demo/references"
    picture = read_picture((folder / f"{name}.jpg").read_bytes())
    spots = read_spots((folder / f"{name}.json").read_bytes())
    figures = list(dict.fromkeys(spot.figure for spot in spots))
    seen = np.array([read_spot(picture, spot.disc).swatch.lab for spot in spots])
    results = np.array([recipe.result.lab for recipe in mix(laid_out(), seen, [spot.role for spot in spots])])
    small = scaled(picture, LONGEST)
    owners = enlarged(study(scaled(picture, WORKING_SIZE), None, [Person() for _ in figures]).coloured, small)
    mine = [np.array([spot.figure == figure for spot in spots]) for figure in figures]
    return small, owners, tuple(Palette(seen[own], results[own]) for own in mine)


@pytest.mark.parametrize("name", ["mairen", "odelo", "tavi", "senna-rue", "morning-relief", "night-watch"])
def test_a_rich_tray_foresees_the_reference_and_keeps_the_order_of_its_values(name: str) -> None:
    small, owners, palettes = planned(name)
    drawn = forecast(small, owners, palettes)
    skin = owners > 0
    was, is_ = xyz_to_lab(light_of(small)[skin]), xyz_to_lab(SRGB.xyz(drawn)[skin])
    for number, palette in enumerate(palettes, start=1):
        own = owners[skin] == number
        # Darker than the tray goes, its darkest is all there is: lamp-lit shade on deep skin lies below any pencil.
        darkest = palette.results[:, 0].min()
        reached = was[own, 0] >= darkest
        assert ciede2000(was[own][reached], is_[own][reached]).mean() <= 3.0
        assert is_[own][~reached, 0].max(initial=0) <= darkest + 6
        assert spearmanr(was[own, 0], is_[own, 0])[0] >= 0.97


def test_only_the_skin_is_redrawn() -> None:
    small, owners, palettes = planned("tavi")
    as_is = forecast(small, owners, palettes, muted=False)
    assert np.array_equal(as_is[owners == 0], small.pixels[owners == 0])
    muted = forecast(small, owners, palettes)
    assert np.ptp(muted[owners == 0].astype(int), axis=-1).max() == 0
    assert np.array_equal(muted[owners > 0], as_is[owners > 0])


def test_grain_changes_the_surface_and_not_the_mean() -> None:
    small, owners, palettes = planned("mairen")
    plain = forecast(small, owners, palettes).astype(float)
    grained = forecast(small, owners, palettes, tooth=tooth_tile(get_support("toothy-white")), roughness=0.9)
    skin = owners > 0
    assert np.abs(grained[skin] - plain[skin]).mean() > 3
    assert abs(grained[skin].mean() - plain[skin].mean()) < 0.6


def test_a_figure_without_recipes_is_left_as_it_is() -> None:
    small, owners, _ = planned("tavi")
    left = forecast(small, owners, [None], muted=False)
    assert np.array_equal(left, small.pixels)


def test_a_colour_of_a_recipe_becomes_its_result_and_beyond_the_ends_nothing_is_promised() -> None:
    targets = np.array([[30.0, 10, 10], [60, 18, 20], [85, 8, 14]])
    results = np.array([[34.0, 9, 12], [61, 17, 22], [83, 7, 15]])
    palette = Palette(targets, results)
    assert np.allclose(foreseen(targets, palette), results, atol=0.6)
    ends = foreseen(np.array([[5.0, 5, 5], [99, 1, 3]]), palette)[:, 0]
    assert ends == pytest.approx([34, 83], abs=0.1)
    ramp = np.column_stack([np.linspace(0, 100, 60), np.full(60, 12.0), np.full(60, 14.0)])
    assert (np.diff(foreseen(ramp, palette)[:, 0]) >= 0).all()
