"""What practitioners know, at equal amounts: same pressure, times and paper. Common practice, no published source."""

from itertools import combinations, product

import numpy as np
import pytest

from core.colour.spaces import lab_to_lch
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, Box, Pass
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after, tooth_left_after
from core.optics.stick import Stick
from core.optics.support import get_support
from core.recipe.recipe import work_out
from tests.conftest import SWATCHES, a_range, pencil


def box_of(medium: str, paper: str) -> Box:
    """The test swatches as sticks of a medium, on a paper."""
    sticks = tuple(Stick(code, code, medium, pencil(code, lab).hex) for code, lab in SWATCHES.items())
    return get_medium(medium).prepare(sticks, get_support(paper))


PASTELS, OILS = box_of("pastel", "toothy-white"), box_of("oil_pastel", "oil-paper")


def last(box: Box, *passes: Pass) -> np.ndarray:
    return np.asarray(colours_after(box, passes)[-1])


def chroma(lab: np.ndarray) -> float:
    return float(lab_to_lch(lab)[1])


def shown(box: Box, under: Pass, top: Pass) -> float:
    """How far an under-colour moves what lies on it, in CIELAB."""
    return float(np.linalg.norm(last(box, under, top) - last(box, top)))


# Peach first on deep skin.


@pytest.mark.parametrize("pressure", PRESSURES)
@pytest.mark.parametrize(("pale", "dark"), [*product(("peach", "cream", "ochre"), ("brown", "umber", "sienna"))])
def test_peach_first_on_deep_skin_ends_lighter_than_peach_last(pale: str, dark: str, pressure: str) -> None:
    for times in (1, 2, 3):
        one, other = Pass(pale, pressure, times), Pass(dark, pressure, times)
        assert last(OILS, one, other)[0] > last(OILS, other, one)[0] + 2


@pytest.mark.parametrize("medium", ["pencil", "pastel", "oil_pastel"])
def test_a_pale_first_layer_that_fills_the_tooth_costs_the_next_its_depth(medium: str) -> None:
    box = box_of(medium, {"pencil": "medium-white", "pastel": "toothy-white", "oil_pastel": "oil-paper"}[medium])
    for dark in ("sienna", "brown", "umber"):
        alone = last(box, Pass(dark, "medium", 2))[0]
        lost = [last(box, Pass("peach", "heavy", times), Pass(dark, "medium", 2))[0] - alone for times in (1, 2, 3)]
        assert 1 < lost[0] < lost[1] < lost[2]


# Grey over warm coats.

WARM = {"rose": (84, 13, 4), "straw": (92, -2, 16), "tan": (70, 14, 26)}
GREYS = {"fog": (72, 0, 0), "stone": (60, 0, 0), "slate": (50, 0, 0)}


@pytest.mark.parametrize(
    ("grey", "coats"), [("fog", 2), ("fog", 3), ("stone", 1), ("stone", 2), ("stone", 3), ("slate", 1)]
)
def test_grey_over_pink_and_yellow_goes_dead_and_a_tan_brings_it_back(grey: str, coats: int) -> None:
    sticks = tuple(Stick(code, code, "marker", pencil(code, lab).hex) for code, lab in (WARM | GREYS).items())
    box = get_medium("marker").prepare(sticks, get_support("marker-card"))

    def said(*stack: Pass) -> set[str]:
        return {caution.code for caution in work_out(box, stack, last(box, *stack), "light").cautions}

    dead = {"dead_grey", "dead_grey_strong"}
    skin, greyed = (Pass("rose"), Pass("straw")), Pass(grey, "light", coats)
    assert not dead & said(*skin)
    assert dead & said(*skin, greyed)
    assert chroma(last(box, *skin, greyed)) < 0.7 * chroma(last(box, *skin))
    saved = last(box, *skin, greyed, Pass("tan", "light", 2))
    assert chroma(saved) > 1.2 * chroma(last(box, *skin, greyed))


@pytest.mark.parametrize("skin", [("pink", "yellow"), ("peach", "ochre"), ("pink", "ochre")])
def test_grey_pulls_a_warm_layer_to_grey(skin: tuple[str, str], box: PencilBox) -> None:
    for warm in (box, PASTELS, OILS):
        plain = [Pass(code, "medium") for code in skin]
        left = [chroma(last(warm, *plain, Pass("grey", "medium", times))) for times in (1, 2)]
        assert left[1] < left[0] < 0.8 * chroma(last(warm, *plain))


# Darks.


@pytest.mark.parametrize("dark", ["sienna", "brown", "umber"])
def test_black_under_brown_is_deeper_than_as_much_brown_alone(dark: str, box: PencilBox) -> None:
    brown = Pass(dark, "medium", 2)
    assert last(box, Pass("black", "medium"), brown)[0] < last(box, Pass(dark, "medium"), brown)[0] - 1


@pytest.mark.parametrize("skin", ["terracotta", "sienna", "brown"])
@pytest.mark.parametrize("cool", ["violet", "blue"])
def test_in_oil_pastel_brown_with_a_cool_dark_is_richer_over_skin_than_as_much_black(skin: str, cool: str) -> None:
    base = Pass(skin, "medium", 2)
    black = last(OILS, base, Pass("black", "medium", 2))
    mixed = last(OILS, base, Pass(cool, "medium"), Pass("umber", "medium"))
    assert chroma(mixed) > 1.4 * chroma(black)
    assert mixed[0] < min(black[0] + 12, last(OILS, base)[0] - 2)


def test_six_light_passes_of_black_are_no_darker_than_two_heavy_ones(box: PencilBox) -> None:
    light, heavy = last(box, *[Pass("black", "light")] * 6)[0], last(box, *[Pass("black", "heavy")] * 2)[0]
    assert light > heavy
    assert last(box, *[Pass("black", "light")] * 9)[0] < light


# One pass.


@pytest.mark.parametrize("code", [code for code in SWATCHES if code != "white"])
def test_one_heavy_pass_of_a_pencil_comes_within_four_of_its_swatch(code: str, box: PencilBox) -> None:
    laid, swatch = last(box, Pass(code, "heavy"))[0], SWATCHES[code][0]
    assert abs(laid - swatch) < 4


@pytest.mark.parametrize("code", ["peach", "ochre", "terracotta", "sienna", "brown", "umber", "red", "violet"])
def test_a_light_pass_of_oil_pastel_leaves_grain_and_is_less_chromatic_than_a_heavy_one(code: str) -> None:
    light, heavy = (work_out(OILS, [Pass(code, hand)], last(OILS, Pass(code, hand))) for hand in ("light", "heavy"))
    assert light.result.chroma < 0.7 * heavy.result.chroma
    assert light.result.lab[0] > heavy.result.lab[0] + 3


# What fills, and what shows.


def test_the_tooth_of_pastel_paper_fills_and_a_heavy_hand_early_fills_it_soonest() -> None:
    left = {hand: tooth_left_after(PASTELS, [Pass("peach", hand)] * 5) for hand in PRESSURES}
    for row in left.values():
        assert row == sorted(row, reverse=True)
    assert left["heavy"][-1] < 0.4 < left["light"][-1]


@pytest.mark.parametrize("medium", ["pencil", "marker", "pastel"])
def test_the_darker_the_top_the_less_of_the_under_colours_shows(medium: str) -> None:
    laid = box_of(medium, {"pencil": "medium-white", "marker": "marker-card", "pastel": "toothy-white"}[medium])
    seen = [
        np.mean([shown(laid, Pass(under), Pass(top)) for under in ("violet", "blue", "green", "red", "yellow")])
        for top in ("peach", "ochre", "terracotta", "brown")
    ]
    assert seen == sorted(seen, reverse=True)


def test_a_mixture_of_pastels_is_no_more_chromatic_than_its_richer_part() -> None:
    tray = a_range("quay-chalk-48").sticks[::4]
    chalks = get_medium("pastel").prepare(tray, get_support("toothy-white"))
    for one, other in combinations(tray, 2):
        for hand in PRESSURES:
            alone = [
                chroma(last(chalks, Pass(stick.code, hand, times, "smudge")))
                for stick in (one, other)
                for times in (1, 2)
            ]
            mixed = last(chalks, Pass(one.code, hand), Pass(other.code, hand, 1, "smudge"))
            assert chroma(mixed) < max(*alone, chroma(one.lab), chroma(other.lab)) + 0.3
