"""Whatever lies in a tray, there is a recipe or a sentence."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from core.colour.spaces import lab_to_hex
from core.errors import InputError
from core.method.method import Method, methods
from core.optics.media import MEDIA
from core.optics.stick import OPACITIES, Stick, Tray
from core.plan.setup import Setup, lay_out, usual_setup
from core.plan.solve import mix
from core.recipe.rules import BLACK_POLICIES

SKIN = np.array([[72.0, 12, 18], [30, 12, 12]])
ROLES = ["light", "deep accent"]


def stick(number: int, medium: str, lightness: float, a: float, b: float, opacity: str) -> Stick:
    return Stick(f"s{number}", f"stick {number}", medium, lab_to_hex((lightness, a, b)), opacity)


def tray_of(medium: str, *rows: tuple[float, float, float, str]) -> Tray:
    return Tray("t", tuple(stick(i, medium, *row) for i, row in enumerate(rows)))


BLENDER = (99.0, 0.0, 0.0, "transparent")


@pytest.mark.parametrize(
    ("method", "rows"),
    [
        ("light_to_dark", [BLENDER, *((30.0 + 10 * i, 12.0, 15.0, "semi") for i in range(4))]),
        ("white_then_glaze", [(96.0, 0.0, 2.0, "transparent"), (40.0, 20.0, 20.0, "semi")]),
        ("pale_base_first", [BLENDER, (30.0, 10.0, 10.0, "semi")]),
    ],
)
def test_nothing_begins_with_a_blender_however_pale_the_method_wants_it(
    method: str, rows: list[tuple[float, float, float, str]]
) -> None:
    medium = methods()[method].medium
    laid_out = lay_out(tray_of(medium, *rows), Setup(medium, usual_setup(medium).paper, method))
    recipes = mix(laid_out, SKIN, ROLES)
    assert laid_out.reach()[0] < laid_out.reach()[1]
    assert any(recipe.steps for recipe in recipes)
    assert all(recipe.steps[0].pass_.stick != "s0" for recipe in recipes if recipe.steps)


@pytest.mark.parametrize("medium", ["pencil", "marker", "pastel", "oil_pastel"])
def test_where_black_must_not_be_used_and_is_all_there_is_a_sentence_says_so(medium: str) -> None:
    setup = replace(usual_setup(medium), black="avoid")
    with pytest.raises(InputError, match=f"No {MEDIA[medium].word} of this tray") as refused:
        lay_out(tray_of(medium, (20.0, 0.0, 0.0, "opaque")), setup)
    assert refused.value.code == "nothing_to_begin_with"
    assert refused.value.hint


@pytest.mark.parametrize("medium", ["pencil", "marker"])
def test_a_blender_alone_colours_nothing(medium: str) -> None:
    laid_out = lay_out(tray_of(medium, BLENDER), usual_setup(medium))
    assert all(not recipe.steps for recipe in mix(laid_out, np.array([[96.0, 1.0, 2.0]]), ["light"]))


COLOURS = st.tuples(
    st.floats(3, 100), st.floats(-60, 60), st.floats(-60, 60), st.sampled_from(OPACITIES)
)  # fmt: skip


@pytest.mark.parametrize("method", methods().values(), ids=lambda m: m.id)
@settings(max_examples=8, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(
    rows=st.lists(COLOURS, min_size=1, max_size=4), black=st.sampled_from(BLACK_POLICIES), most=st.sampled_from([0, 2])
)
def test_any_few_sticks_give_recipes_or_a_sentence(
    method: Method, rows: list[tuple[float, float, float, str]], black: str, most: int
) -> None:
    paper = usual_setup(method.medium).paper
    setup = Setup(method.medium, paper, method.id, black, max_sticks=most, max_passes=2)
    try:
        laid_out = lay_out(tray_of(method.medium, *rows), setup)
        darkest, lightest = laid_out.reach()
        recipes = mix(laid_out, SKIN, ROLES)
    except InputError as error:
        assert error.message and error.hint
        return
    assert 0 <= darkest <= lightest <= 10
    assert len(recipes) == len(SKIN)
