from dataclasses import replace

import numpy as np
import pytest

from core.errors import InputError
from core.optics.stick import Tray
from core.plan.setup import Setup, check_setup, lay_out, lay_out_kit
from core.plan.solve import mix
from tests.conftest import SWATCHES, pencil

SKIN = np.array([[82.0, 8, 14], [66, 16, 18], [48, 18, 20], [30, 12, 12]])
ROLES = ["light", "middle", "half-shadow", "shadow"]


def test_every_target_gets_a_recipe_near_it(small_tray: Tray) -> None:
    recipes = mix(lay_out(small_tray, Setup()), SKIN, ROLES)
    assert len(recipes) == len(SKIN)
    for recipe, target in zip(recipes, SKIN, strict=True):
        assert np.allclose(recipe.target.lab, target)
        assert recipe.delta_e < 2
        assert abs(recipe.delta_v) < 0.2
        assert 1 <= len(recipe.steps) <= 4


@pytest.mark.parametrize("most", [2, 3, 5])
def test_no_more_sticks_are_used_than_allowed(most: int, small_tray: Tray) -> None:
    recipes = mix(lay_out(small_tray, Setup(max_sticks=most)), SKIN, ROLES)
    used = {step.pass_.stick for recipe in recipes for step in recipe.steps}
    assert len(used) <= most


@pytest.mark.parametrize("most", [1, 2, 3])
def test_no_more_passes_are_made_than_allowed(most: int, small_tray: Tray) -> None:
    recipes = mix(lay_out(small_tray, Setup(max_passes=most)), SKIN, ROLES)
    assert max(len(recipe.steps) for recipe in recipes) <= most


def test_where_the_paper_is_nearest_it_stays_bare(small_tray: Tray) -> None:
    laid_out = lay_out(small_tray, Setup())
    (recipe,) = mix(laid_out, np.array([laid_out.box.support.lab]), ["highlight"])
    assert recipe.steps == ()
    assert recipe.delta_e < 0.1


def test_what_cannot_be_reached_says_so(small_tray: Tray) -> None:
    laid_out = lay_out(small_tray, Setup())
    darkest, lightest = laid_out.reach()
    assert 1 < darkest < 3
    assert 9 < lightest < 10
    (recipe,) = mix(laid_out, np.array([[6.0, 2, 2]]), ["deep accent"])
    assert recipe.delta_v > 0.5
    assert recipe.cautions[0].code == "too_dark_for_tray"


def test_one_pencil_is_a_tray(small_tray: Tray) -> None:
    alone = Tray("one", (pencil("brown", SWATCHES["brown"]),))
    recipes = mix(lay_out(alone, Setup()), SKIN, ROLES)
    assert {step.pass_.stick for recipe in recipes for step in recipe.steps} == {"brown"}


def test_two_hundred_pencils_are_a_tray(big_range: Tray) -> None:
    sticks = tuple(replace(big_range.sticks[i % 72], code=f"x{i}") for i in range(200))
    recipes = mix(lay_out(Tray("many", sticks), Setup(max_passes=2)), SKIN[:2], ROLES[:2])
    assert all(recipe.delta_e < 2 for recipe in recipes)


@pytest.mark.parametrize(
    ("setup", "code"),
    [
        (Setup(medium="watercolour"), "unknown_medium"),
        (Setup(paper="parchment"), "unknown_paper"),
        (Setup(method="upside_down"), "unknown_method"),
        (Setup(black="maybe"), "unknown_black_policy"),
        (Setup(max_sticks=1), "bad_stick_limit"),
        (Setup(max_sticks=-4), "bad_stick_limit"),
        (Setup(max_sticks=201), "bad_stick_limit"),
        (Setup(max_passes=0), "bad_pass_limit"),
        (Setup(max_passes=5), "bad_pass_limit"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_a_wrong_set_up_is_refused(setup: Setup, code: str) -> None:
    with pytest.raises(InputError) as caught:
        check_setup(setup)
    assert caught.value.code == code


def test_a_tray_without_usable_pencils_is_refused() -> None:
    for sticks in (
        (),
        (replace(pencil("a", (50, 0, 0)), condition="dried_out"),),
        (replace(pencil("a", (50, 0, 0)), medium="marker"),),
    ):
        with pytest.raises(InputError) as caught:
            lay_out_kit(Tray("empty", sticks), Setup())
        assert caught.value.code == "empty_tray"


def test_too_many_targets_are_refused(small_tray: Tray) -> None:
    with pytest.raises(InputError, match="too many"):
        mix(lay_out(small_tray, Setup()), np.zeros((401, 3)), [""] * 401)
