"""What practitioners know. Common practice, no published source; the bands say how firmly the model holds each."""

from collections.abc import Callable

import numpy as np
import pytest

from core.colour.spaces import lab_to_lch
from core.colour.temperature import temperature
from core.optics.marker import Marker
from core.optics.medium import Box, Pass
from core.optics.oil_pastel import OilPastel
from core.optics.pastel import Pastel
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after, tooth_left_after
from core.optics.stick import Stick, Tray
from core.optics.support import get_support
from core.plan.setup import Setup, lay_out
from core.plan.solve import mix
from core.recipe.context import beside
from core.recipe.ramp import ramp
from core.recipe.recipe import work_out
from tests.conftest import SWATCHES, pencil


def last(box: Box, *passes: Pass) -> np.ndarray:
    return np.array(colours_after(box, passes)[-1])


def chroma(lab: np.ndarray) -> float:
    return float(lab_to_lch(lab)[1])


@pytest.mark.parametrize("under", ["violet", "blue"])
@pytest.mark.parametrize("skin", ["peach", "terracotta", "sienna"])
def test_a_cool_under_layer_makes_skin_darker_and_cooler(under: str, skin: str, box: PencilBox) -> None:
    alone = last(box, Pass(skin, "medium", 2))
    with_under = last(box, Pass(under, "light", 2), Pass(skin, "medium", 2))
    assert with_under[0] < alone[0] - 1
    assert temperature(with_under, alone) < 0 or with_under[2] < alone[2] - 2


def test_the_darker_the_top_coat_the_less_of_the_under_layer_shows(box: PencilBox) -> None:
    shown = []
    for top in ("peach", "ochre", "terracotta", "brown"):
        alone, both = last(box, Pass(top, "medium", 3)), last(box, Pass("violet", "light", 1), Pass(top, "medium", 3))
        shown.append(float(np.linalg.norm(both - alone)))
    assert shown == sorted(shown, reverse=True)


@pytest.mark.parametrize(
    ("base", "complement"), [("red", "green"), ("orange", "blue"), ("yellow", "violet"), ("terracotta", "green")]
)
def test_a_complement_calms(base: str, complement: str, box: PencilBox) -> None:
    plain = last(box, Pass(base, "heavy"))
    calmed = last(box, Pass(base, "heavy"), Pass(complement, "medium"))
    loss = 1 - chroma(calmed) / chroma(plain)
    assert 0.15 < loss < 0.75


def test_white_over_pigment_does_not_bring_the_paper_back(box: PencilBox) -> None:
    paper = last(box)[0]
    missing = []
    for under in ("peach", "ochre", "sienna", "brown", "black"):
        whitened = last(box, Pass(under, "medium", 2), Pass("white", "heavy", 2))
        missing.append(float(paper - whitened[0]))
    assert missing == sorted(missing)
    assert missing[0] > 1
    assert missing[-1] > 20


@pytest.mark.parametrize("skin", ["peach", "terracotta"])
def test_brown_with_violet_is_a_richer_dark_over_skin_than_black(skin: str, box: PencilBox) -> None:
    base = [Pass(skin, "medium", 2)]
    with_black = last(box, *base, Pass("black", "medium"))
    with_brown = last(box, *base, Pass("violet", "light"), Pass("brown", "medium", 2))
    assert with_brown[0] < with_black[0] + 8
    assert chroma(with_brown) > chroma(with_black) * 1.1


def test_red_with_brown_lands_near_a_red_brown(box: PencilBox) -> None:
    sienna = last(box, Pass("sienna", "heavy", 2))
    mixed = last(box, Pass("red", "medium", 1), Pass("brown", "medium", 2))
    assert abs(mixed[0] - sienna[0]) < 8
    hue = float(lab_to_lch(mixed)[2])
    assert 20 < hue < 60


@pytest.mark.parametrize(
    ("one", "other", "low_deg", "high_deg"),
    [("yellow", "pink", 30, 80), ("yellow", "blue", 95, 215), ("pink", "blue", 270, 350)],
)
def test_two_primaries_make_the_colour_between(
    one: str, other: str, low_deg: float, high_deg: float, box: PencilBox
) -> None:
    strengths = [(Pass(one, "medium", n), Pass(other, "light", m)) for n in (1, 2, 3) for m in (1, 2, 3)]
    hues = [float(lab_to_lch(last(box, *pair))[2]) for pair in strengths]
    assert any(low_deg < hue < high_deg for hue in hues)


def test_burnishing_with_an_off_white_lifts_darks_and_keeps_the_order_of_values(box: PencilBox) -> None:
    ramps = [
        [Pass("umber", "medium", 2)],
        [Pass("brown", "medium", 2)],
        [Pass("sienna", "medium", 2)],
        [Pass("terracotta", "medium", 2)],
        [Pass("ochre", "medium", 2)],
        [Pass("peach", "medium", 2)],
    ]
    plain = [last(box, *ramp)[0] for ramp in ramps]
    merged = [last(box, *ramp, Pass("cream", "heavy", 1, "burnish")) for ramp in ramps]
    assert [lab[0] for lab in merged] == sorted(lab[0] for lab in merged)
    assert plain == sorted(plain)
    # Against merging without a pale stick, the off-white lifts and calms.
    for layers, lifted in zip(ramps, merged, strict=True):
        own = layers[0].stick
        rubbed = last(box, *layers, Pass(own, "light", 1, "burnish"))
        assert lifted[0] > rubbed[0]
        assert chroma(lifted) < chroma(rubbed) + 1


def test_smooth_paper_is_full_soon_and_reaches_less_deep_with_layers(box_on: Callable[[str], PencilBox]) -> None:
    stack = [Pass(code, "heavy") for code in ("peach", "terracotta", "brown", "umber", "umber", "umber")]
    depth = {paper: last(box_on(paper), *stack)[0] for paper in ("smooth-white", "medium-white", "toothy-white")}
    assert depth["smooth-white"] > depth["medium-white"] + 15
    assert depth["medium-white"] > depth["toothy-white"]
    useful = {}
    for paper in depth:
        seen = colours_after(box_on(paper), stack)[:, 0]
        useful[paper] = int((-np.diff(seen) > 1).sum())
    assert useful["smooth-white"] <= 3 < useful["toothy-white"]


def test_darker_by_repeating_up_to_a_limit(box: PencilBox) -> None:
    seen = colours_after(box, [Pass("brown", "light")] * 12)[:, 0]
    drops = -np.diff(seen)
    assert (drops > 0).all()
    assert drops[-1] < drops[0] / 5


def test_heavy_pressure_early_costs_later_layers(box: PencilBox) -> None:
    early = tooth_left_after(box, [Pass("peach", "heavy", 3)])[-1]
    gentle = tooth_left_after(box, [Pass("peach", "light", 3)])[-1]
    assert early < 0.45 < gentle
    deep_after_heavy = last(box, Pass("peach", "heavy", 3), Pass("brown", "medium", 2))[0]
    deep_after_light = last(box, Pass("peach", "light", 3), Pass("brown", "medium", 2))[0]
    assert deep_after_heavy > deep_after_light + 5


def test_grey_over_pink_yellow_and_blue_is_warned_of(box: PencilBox) -> None:
    passes = [Pass("pink", "light"), Pass("yellow", "light"), Pass("lightblue", "medium"), Pass("grey", "medium", 2)]
    recipe = work_out(box, passes, last(box, *passes), "light")
    assert {"dead_grey", "dead_grey_strong"} & {caution.code for caution in recipe.cautions}


def test_five_sticks_hold_every_value_of_a_light_skin(box: PencilBox) -> None:
    # Black, yellow, red, brown, blue: every value within half a Munsell step, whatever the hue.
    from core.optics.media import get_medium

    chosen = tuple(s for s in box.sticks if s.code in ("black", "yellow", "red", "brown", "lightblue"))
    assert len(chosen) == 5
    tray = Tray("five", chosen)
    laid_out = lay_out(tray, Setup(method="darks_first", black="free"))
    assert get_medium("pencil").id == laid_out.setup.medium
    skin = np.array([[lightness, 12.0, 16.0] for lightness in range(30, 88, 6)])
    recipes = mix(laid_out, skin, [""] * len(skin))
    assert max(abs(recipe.delta_v) for recipe in recipes) < 0.5


def test_pinker_reads_cooler_and_orange_and_yellow_warmer() -> None:
    skin = [65, 16, 18]
    assert temperature([65, 22, 8], skin) < 0
    assert temperature([65, 14, 26], skin) > 0


# Markers.

MARKERS = Marker().prepare(
    tuple(Stick(code, code, "marker", pencil(code, lab).hex) for code, lab in SWATCHES.items()),
    get_support("marker-card"),
)


def coated(*passes: Pass) -> np.ndarray:
    return np.asarray(colours_after(MARKERS, passes)[-1])


@pytest.mark.parametrize("code", ["peach", "pink", "ochre", "terracotta", "brown"])
def test_coats_of_a_marker_darken_each_less_than_the_one_before(code: str) -> None:
    seen = colours_after(MARKERS, [Pass(code)] * 4)[:, 0]
    drops = -np.diff(seen)
    assert (drops > 0).all()
    assert (np.diff(drops) < 0).all()
    assert drops[1] < 0.6 * drops[0]


@pytest.mark.parametrize(("dark", "pale"), [("terracotta", "peach"), ("brown", "peach"), ("sienna", "cream")])
def test_a_paler_marker_lifts_a_darker_one_when_worked_in_and_never_over_a_dry_one(dark: str, pale: str) -> None:
    before = coated(Pass(dark))[0]
    assert coated(Pass(dark), Pass(pale, technique="wet"))[0] > before + 1
    assert coated(Pass(dark), Pass(pale))[0] < before


@pytest.mark.parametrize("under", ["violet", "lightblue"])
@pytest.mark.parametrize("skin", ["peach", "ochre", "terracotta"])
def test_a_cool_marker_under_skin_makes_it_darker_cooler_and_calmer(under: str, skin: str) -> None:
    alone, with_under = coated(Pass(skin)), coated(Pass(under), Pass(skin))
    assert with_under[0] < alone[0] - 3
    assert with_under[2] < alone[2] - 2
    assert chroma(with_under) < max(chroma(alone), chroma(coated(Pass(under))))


def test_the_darker_the_marker_on_top_the_less_of_what_lies_under_shows() -> None:
    shown = []
    for top in ("peach", "ochre", "terracotta", "brown"):
        shown.append(float(np.linalg.norm(coated(Pass("lightblue"), Pass(top)) - coated(Pass(top)))))
    assert shown == sorted(shown, reverse=True)


@pytest.mark.parametrize(("base", "complement"), [("red", "green"), ("orange", "lightblue"), ("yellow", "violet")])
def test_a_complementary_marker_calms(base: str, complement: str) -> None:
    assert chroma(coated(Pass(base), Pass(complement))) < 0.8 * chroma(coated(Pass(base)))


@pytest.mark.parametrize(
    ("one", "other", "low_deg", "high_deg"),
    [("yellow", "pink", 30, 85), ("yellow", "lightblue", 95, 215), ("pink", "lightblue", 270, 350)],
)
def test_two_markers_make_the_colour_between(one: str, other: str, low_deg: float, high_deg: float) -> None:
    hues = [
        float(lab_to_lch(coated(Pass(one, "light", n), Pass(other, "light", m)))[2])
        for n in (1, 2, 3)
        for m in (1, 2, 3)
    ]
    assert any(low_deg < hue < high_deg for hue in hues)


# Pastels.


def pastels(paper: str) -> Box:
    sticks = tuple(Stick(code, code, "pastel", pencil(code, lab).hex) for code, lab in SWATCHES.items())
    return Pastel().prepare(sticks, get_support(paper))


def chalked(paper: str, *passes: Pass) -> np.ndarray:
    return np.asarray(colours_after(pastels(paper), passes)[-1])


@pytest.mark.parametrize("code", ["red", "terracotta", "ochre", "peach", "blue"])
@pytest.mark.parametrize("paper", ["near-black", "cool-mid-grey"])
def test_on_dark_paper_white_first_makes_the_colour_lighter_and_stronger(code: str, paper: str) -> None:
    alone = chalked(paper, Pass(code, "medium", 2))
    on_white = chalked(paper, Pass("white", "heavy", 2), Pass(code, "medium", 2))
    assert on_white[0] > alone[0] + 2
    assert chroma(on_white) > chroma(alone) + 0.5


def test_light_over_dark_works_in_pastel_as_it_does_not_in_pencil(box: PencilBox) -> None:
    dark, light = Pass("brown", "medium", 2), Pass("peach", "heavy", 2)
    lifted = chalked("toothy-white", dark, light)[0] - chalked("toothy-white", dark)[0]
    assert lifted > 25
    assert lifted > 5 + last(box, dark, light)[0] - last(box, dark)[0]


def test_smudging_and_scumbling_are_far_apart() -> None:
    base = Pass("brown", "heavy", 2)
    scumbled = chalked("warm-grey", base, Pass("peach", "heavy"))
    rubbed = chalked("warm-grey", base, Pass("peach", "heavy", 1, "smudge"))
    assert scumbled[0] > rubbed[0] + 8


def test_a_glaze_colours_less_than_a_scumbled_pass() -> None:
    white = Pass("white", "heavy", 2)
    bare, glazed, scumbled = (
        chalked("near-black", white, *more)
        for more in ((), (Pass("terracotta", "medium", 1, "glaze"),), (Pass("terracotta", "medium"),))
    )
    assert bare[0] - 1 > glazed[0] > scumbled[0]


def test_toned_paper_shows_through_a_light_hand() -> None:
    light, heavy = (
        [chalked(p, Pass("peach", hand, n))[0] for p in ("warm-grey", "near-black")]
        for hand, n in (("light", 1), ("heavy", 3))
    )
    assert light[0] - light[1] > 2 * (heavy[0] - heavy[1])


# Oil pastels.


def oiled(*passes: Pass) -> np.ndarray:
    sticks = tuple(Stick(code, code, "oil_pastel", pencil(code, lab).hex) for code, lab in SWATCHES.items())
    return np.asarray(colours_after(OilPastel().prepare(sticks, get_support("oil-paper")), passes)[-1])


@pytest.mark.parametrize("code", ["peach", "terracotta", "sienna"])
def test_rubbing_oil_pastel_into_the_grain_closes_and_enriches_a_light_pass(code: str) -> None:
    # Common practice, no source: a finger over a light pass fills the white of the paper with what lies beside it.
    laid, rubbed = (oiled(Pass(code, "light", 2), *more) for more in ((), (Pass("stump", technique="smudge"),)))
    assert np.hypot(*rubbed[1:]) > np.hypot(*laid[1:]) + 1
    assert np.array_equal(oiled(Pass("stump", technique="smudge")), oiled())


def test_an_oil_pastel_drags_along_what_lies_beneath() -> None:
    clean = oiled(Pass("peach", "medium"))
    over_brown = oiled(Pass("brown", "medium"), Pass("peach", "medium"))
    much_over_brown = oiled(Pass("brown", "medium"), Pass("peach", "heavy", 3))
    assert over_brown[0] < clean[0] - 15
    assert over_brown[0] < much_over_brown[0] - 3


def test_white_oil_pastel_over_colour_does_not_bring_the_paper_back() -> None:
    paper = oiled()[0]
    missing = [
        paper - oiled(Pass(code, "medium"), Pass("white", "heavy", 2))[0] for code in ("peach", "ochre", "brown")
    ]
    assert missing == sorted(missing)
    assert missing[-1] > 10


def test_grey_over_pale_pink_yellow_and_blue_coats_is_warned_of_and_the_coats_alone_are_not() -> None:
    pale = {"rose": (84, 13, 4), "straw": (92, -2, 16), "sky": (86, -4, -8), "fog": (72, 0, 0), "stone": (60, 0, 0)}
    sticks = tuple(Stick(code, code, "marker", pencil(code, lab).hex) for code, lab in pale.items())
    box = Marker().prepare(sticks, get_support("marker-card"))

    def said(*codes: str) -> set[str]:
        stack = [Pass(code) for code in codes]
        return {c.code for c in work_out(box, stack, last(box, *stack), "light").cautions}

    dead = {"dead_grey", "dead_grey_strong"}
    assert dead & said("rose", "straw", "sky", "fog")
    assert dead & said("rose", "sky", "stone")
    assert not dead & said("rose", "straw")


@pytest.mark.parametrize("cool", ["violet", "blue"])
def test_brown_with_a_cool_dark_is_deeper_or_richer_than_black_alone(cool: str, box: PencilBox) -> None:
    black = last(box, Pass("black", "heavy", 2))
    mixed = last(box, Pass(cool, "light"), Pass("umber", "heavy", 2))
    assert mixed[0] < black[0] + 8
    assert chroma(mixed) > chroma(black) + 3


def test_only_reserved_paper_stays_as_light_as_paper(box: PencilBox) -> None:
    reserved = last(box)[0]
    whitened = [last(box, Pass("peach", "light"), Pass("white", "heavy", n))[0] for n in (1, 2, 3)]
    assert max(whitened) < reserved - 0.5


# Ramps and neighbours.


def test_ramp_neighbours_far_apart_need_a_stick_between(box: PencilBox) -> None:
    far = ramp(box, ["umber", "peach"]).gaps[0]
    assert far.value > 2
    assert far.bridge
    near = ramp(box, ["umber", "brown", "sienna", "terracotta"]).gaps
    assert max(gap.value for gap in near) < 2
    assert not any(gap.words for gap in near)


def test_two_sticks_of_one_family_hold_the_values_of_a_face(box: PencilBox) -> None:
    two = Tray("two", tuple(s for s in box.sticks if s.code in ("umber", "peach")))
    face = np.array([[lightness, 10.0, 14.0] for lightness in range(32, 88, 7)])
    recipes = mix(lay_out(two, Setup(method="darks_first", black="free")), face, [""] * len(face))
    assert max(abs(recipe.delta_v) for recipe in recipes) < 0.5


def test_a_vivid_surround_calms_a_skin_and_white_paper_darkens_it() -> None:
    for skin in ([80, 10, 15], [62, 17, 20], [45, 16, 17]):
        assert "calmer" in beside(skin, [50, 65, 45])
        assert "darker" in beside(skin, [97, 0, 1]) or skin[0] > 81
