from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.optics.marker import FLOOR, Marker, MarkerBox
from core.optics.medium import Pass
from core.optics.spectra import upsample
from core.optics.stack import colours_after, states_after, tooth_left_after
from core.optics.stick import Stick
from core.optics.support import get_support
from tests.conftest import SWATCHES, pencil


def box_on(paper: str = "marker-card") -> MarkerBox:
    sticks = [Stick(code, code, "marker", pencil(code, lab).hex, "transparent") for code, lab in SWATCHES.items()]
    blender = Stick("blender", "colourless blender", "marker", "#f3f3f0", "transparent")
    return Marker().prepare((*sticks, blender), get_support(paper))


BOX = box_on()
CODES = [code for code in SWATCHES if code != "white"]


def last(*passes: Pass, box: MarkerBox = BOX) -> np.ndarray:
    return np.asarray(colours_after(box, passes)[-1])


@pytest.mark.parametrize("code", CODES)
def test_one_coat_on_white_is_the_declared_swatch(code: str) -> None:
    lightness = SWATCHES[code][0]
    assert last(Pass(code))[0] == pytest.approx(max(lightness, 17), abs=2.5)


@given(st.permutations(["peach", "pink", "ochre", "terracotta", "violet"]))
def test_the_order_of_dry_coats_of_different_markers_does_not_matter(order: list[str]) -> None:
    usual = last(*[Pass(code) for code in ("peach", "pink", "ochre", "terracotta", "violet")])
    # The paper takes up a little less of each later coat, hence not exactly.
    assert np.linalg.norm(last(*[Pass(code) for code in order]) - usual) < 6


def light_left(*codes: str, m: float) -> np.ndarray:
    """Part of the paper's light after coats of these on a sheet with this exponent that takes up any number."""
    box = Marker().prepare(BOX.sticks, replace(BOX.support, saturation=m, coats=1e9))
    seen = [box.reflectance(state) - FLOOR for state in states_after(box, [Pass(code) for code in codes])]
    return np.asarray(seen[-1] / seen[0])


@pytest.mark.parametrize(("one", "other"), [("peach", "lightblue"), ("ochre", "pink"), ("terracotta", "violet")])
def test_dyes_are_clear_filters_at_one_end_and_saturate_towards_the_other(one: str, other: str) -> None:
    product = light_left(one, m=3) * light_left(other, m=3)
    # Beer-Lambert: of clear filters the part that both leave is the product of what each leaves.
    assert np.allclose(light_left(one, other, m=1e6), product, rtol=1e-3)
    lefts = [light_left(one, other, m=m).mean() for m in (1, 2, 3, 6, 100)]
    assert lefts == sorted(lefts, reverse=True)
    # Never lighter than the darker of the two, whatever m is.
    assert (light_left(one, other, m=1) <= np.minimum(light_left(one, m=1), light_left(other, m=1)) + 1e-9).all()


def test_a_flicked_coat_is_half_paper_and_half_coat_to_the_eye() -> None:
    # Reflectances average by area where strokes are too fine to be seen (Murray 1936, Davies 1936: halftones).
    bare, full = BOX.reflectance(BOX.start()), BOX.reflectance(BOX.apply(BOX.start(), Pass("umber")))
    flicked = BOX.reflectance(BOX.apply(BOX.start(), Pass("umber", technique="flick")))
    assert np.allclose(flicked, (bare + full) / 2, atol=2e-3)


def test_a_thin_card_is_full_before_a_heavy_one() -> None:
    coats = [Pass(code) for code in ("peach", "pink", "ochre", "terracotta", "sienna", "brown")]
    rooms = {paper: tooth_left_after(box_on(paper), coats)[-1] for paper in ("thin-card", "marker-card")}
    assert rooms["thin-card"] == 0
    assert rooms["marker-card"] > 0.5
    thin, heavy = (colours_after(box_on(paper), coats)[-1, 0] for paper in ("thin-card", "marker-card"))
    assert thin > heavy + 2


def test_a_blender_lifts_what_lies_there_and_leaves_clean_paper_alone() -> None:
    plain = last(Pass("terracotta"))
    assert last(Pass("terracotta"), Pass("blender", technique="wet"))[0] > plain[0] + 5
    assert np.linalg.norm(last(Pass("blender", technique="wet")) - last()) < 3


def test_the_search_leaves_the_blender_to_the_artist() -> None:
    used = {BOX.sticks[action.stick].code for action in BOX.actions}
    assert "blender" not in used
    assert {"peach", "brown"} <= used
    only = Marker().prepare((BOX.sticks[-1],), BOX.support)
    assert len(only.actions) == 3


def test_the_swatch_is_the_same_marker_on_every_paper() -> None:
    assert np.allclose(box_on("thin-card").dye, BOX.dye)
    assert upsample(np.array([[0.3, 0.3, 0.3]])).shape == (1, 31)
