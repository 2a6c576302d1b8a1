"""Blender, stump, putty and blade; hard leads."""

from dataclasses import replace

import numpy as np
import pytest

from core.optics.media import get_medium
from core.optics.medium import Box, Pass
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after, tooth_left_after
from core.optics.stick import Stick
from core.optics.support import get_support
from tests.conftest import SWATCHES, pencil

RAMP = ("umber", "brown", "sienna", "terracotta", "ochre", "peach")


@pytest.fixture(scope="module")
def wax() -> Box:
    sticks = tuple(pencil(code, lab) for code, lab in SWATCHES.items())
    blender = Stick("blender", "colourless blender", "pencil", "#f4f4f1", "transparent")
    return get_medium("pencil").prepare((*sticks, blender), get_support("medium-white"))


def last(box: Box, *passes: Pass) -> np.ndarray:
    return np.asarray(colours_after(box, passes)[-1])


def test_a_colourless_blender_merges_darkens_and_saturates_the_middles(wax: Box) -> None:
    for code in ("sienna", "terracotta", "ochre"):
        layers = [Pass(code, "medium", 2)]
        before, after = last(wax, *layers), last(wax, *layers, Pass("blender", "heavy", 1, "burnish"))
        assert after[0] < before[0]
        assert np.hypot(*after[1:]) > np.hypot(*before[1:])


def test_a_colourless_blender_merely_laid_changes_nothing(wax: Box) -> None:
    layers = [Pass("sienna", "medium", 2)]
    assert np.array_equal(last(wax, *layers), last(wax, *layers, Pass("blender", "heavy", 3)))


def test_a_stump_works_only_over_several_layers(wax: Box) -> None:
    def moved(*layers: Pass) -> float:
        rubbed = last(wax, *layers, Pass("stump", "medium", 1, "smudge"))
        return float(np.linalg.norm(rubbed - last(wax, *layers)))

    assert moved(Pass("sienna", "light")) == 0
    assert moved(Pass("sienna", "medium", 2), Pass("peach", "medium", 2)) > 3


@pytest.mark.parametrize("tool", ["putty", "blade"])
def test_lifting_gives_light_back_but_never_the_whole_paper(tool: str, wax: Box) -> None:
    layers = [Pass("brown", "medium", 2)]
    paper, laid = last(wax)[0], last(wax, *layers)[0]
    lifted = [last(wax, *layers, Pass(tool, pressure, 1, "lift"))[0] for pressure in ("light", "medium", "heavy")]
    assert laid < lifted[0] < lifted[1] < lifted[2]
    assert last(wax, *layers, Pass(tool, "heavy", 3, "lift"))[0] < paper - 1
    assert tooth_left_after(wax, [*layers, Pass(tool, "heavy", 1, "lift")])[-1] > tooth_left_after(wax, layers)[-1]


def test_a_blade_lifts_more_than_putty_and_putty_hardly_anything_from_burnished_wax(wax: Box) -> None:
    layers = [Pass("brown", "medium", 2)]
    burnished = [*layers, Pass("brown", "heavy", 1, "burnish")]

    def gain(tool: str, stack: list[Pass]) -> float:
        return float(last(wax, *stack, Pass(tool, "medium", 1, "lift"))[0] - last(wax, *stack)[0])

    gained = {tool: [gain(tool, stack) for stack in (layers, burnished)] for tool in ("putty", "blade")}
    assert gained["blade"][0] > gained["putty"][0] + 2
    assert gained["putty"][1] < 0.6 * gained["putty"][0]


def test_hard_leads_take_more_passes_and_burnish_less(wax: Box) -> None:
    hard_sticks = tuple(replace(stick, binder="oil") for stick in wax.sticks)
    hard = get_medium("pencil").prepare(hard_sticks, wax.support)
    assert isinstance(hard, PencilBox)
    layers = [Pass("sienna", "medium", 2)]
    assert last(hard, *layers)[0] > last(wax, *layers)[0] + 3
    assert tooth_left_after(hard, layers)[-1] > tooth_left_after(wax, layers)[-1]
    burnish = [*layers, Pass("sienna", "heavy", 1, "burnish")]
    assert tooth_left_after(wax, burnish)[-1] == 0 < tooth_left_after(hard, burnish)[-1]


def test_burnishing_keeps_the_order_of_values_with_every_finish(wax: Box) -> None:
    for finish in ("cream", "white", "blender"):
        seen = [last(wax, Pass(code, "medium", 2), Pass(finish, "heavy", 1, "burnish"))[0] for code in RAMP]
        assert seen == sorted(seen)
