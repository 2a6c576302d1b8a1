from dataclasses import replace

import numpy as np
import pytest

from core.errors import InputError
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after
from core.optics.support import get_support
from core.recipe.cautions import metal_in, sentences
from core.recipe.recipe import Asked, Recipe, work_out, work_out_all
from tests.conftest import SWATCHES, pencil

GOOD = [Pass("peach", "medium", 2), Pass("sienna", "light")]


def good_target(box: PencilBox) -> np.ndarray:
    return np.array(colours_after(box, GOOD)[-1])


def codes(recipe: Recipe) -> set[str]:
    return {caution.code for caution in recipe.cautions}


def test_a_recipe_tells_the_colour_after_every_pass(box: PencilBox) -> None:
    recipe = work_out(box, GOOD, good_target(box), "middle")
    seen = colours_after(box, GOOD)
    assert np.allclose([step.after.lab for step in recipe.steps], seen[1:], atol=0.01)
    assert np.allclose(recipe.paper.lab, seen[0], atol=0.01)
    assert recipe.result == recipe.steps[-1].after
    assert recipe.delta_e == 0
    assert recipe.delta_v == 0
    assert recipe.tolerance > 0
    assert [step.pass_ for step in recipe.steps] == GOOD


def test_many_at_once_are_told_as_each_by_itself_and_what_cannot_be_made_spoils_no_other(box: PencilBox) -> None:
    target = good_target(box)
    burnished = [GOOD[0], Pass("brown", "heavy", technique="burnish")]
    stacks = [GOOD, [*GOOD, Pass("brown", "medium")], [], [Pass("nothing")], burnished]
    told = work_out_all(box, [Asked(stack, target + i, "middle") for i, stack in enumerate(stacks)])
    for i, (stack, found) in enumerate(zip(stacks, told, strict=True)):
        if i == 3:
            assert isinstance(found, InputError) and found.code == "unknown_stick"
        else:
            assert found == work_out(box, stack, target + i, "middle")
            assert isinstance(found, Recipe) and np.allclose(found.result.lab, colours_after(box, stack)[-1], atol=0.01)


def test_a_good_recipe_has_no_cautions(box: PencilBox) -> None:
    assert codes(work_out(box, GOOD, good_target(box), "middle")) == set()


def test_bare_paper_is_a_recipe_too(box: PencilBox) -> None:
    recipe = work_out(box, [], box.support.lab, "highlight")
    assert recipe.steps == ()
    assert recipe.result == recipe.paper
    assert recipe.cautions == ()


def test_too_dark_and_too_light_have_their_sign(box: PencilBox) -> None:
    dark, light = good_target(box) + np.array([[-15, 0, 0], [15, 0, 0]])
    assert work_out(box, GOOD, dark).delta_v > 1
    assert work_out(box, GOOD, light).delta_v < -1


@pytest.mark.parametrize(
    ("passes", "effect"),
    [
        ([Pass("peach", "medium", 2), Pass("brown", "medium")], "deepens"),
        ([Pass("brown", "heavy", 2), Pass("cream", "heavy", 2)], "lightens"),
        ([Pass("peach", "medium", 3), Pass("violet", "light", 1)], "cools"),
        ([Pass("pink", "medium", 2), Pass("yellow", "medium")], "warms"),
        ([Pass("terracotta", "heavy"), Pass("green", "medium")], "calms"),
        ([Pass("cream", "light"), Pass("red", "medium")], "strengthens"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_what_a_pass_does_is_said_in_an_artists_words(passes: list[Pass], effect: str, box: PencilBox) -> None:
    recipe = work_out(box, passes, [60, 15, 15])
    assert recipe.steps[0].effect == "base"
    assert effect in recipe.steps[1].effect


CASES = {
    "too_dark_for_tray": ([Pass("black", "heavy", 3)], [5, 0, 0], "deep accent"),
    "too_light_for_tray": ([Pass("brown", "heavy")], [80, 5, 10], "light"),
    "too_strong_for_tray": ([Pass("peach", "medium")], [90, 60, 60], "light"),
    "too_calm_for_tray": ([Pass("red", "heavy")], [50, 5, 5], "middle"),
    "dead_grey": ([Pass("peach", "medium", 2), Pass("grey", "medium", 2)], None, "light"),
    "dead_grey_strong": ([Pass("grey", "heavy", 2)], None, "middle"),
    "black_over_warm": ([Pass("terracotta", "medium", 2), Pass("black", "light")], [42, 26, 24], "shadow"),
    "hot_first_colour": ([Pass("orange", "medium", 2), Pass("cream", "light", 1)], [80, 14, 18], "light"),
    "lost_under_colour": ([Pass("lightblue", "medium", 1), Pass("umber", "heavy", 3)], None, "shadow"),
    "stirred_under_colour": ([Pass("m-violet"), Pass("m-peach", repeats=2)], None, "shadow"),
    "blade": ([Pass("brown", "medium"), Pass("blade", "light", 1, "lift")], None, "middle"),
    "tooth_used_up": ([Pass("brown", "heavy", 3), Pass("umber", "heavy", 3), Pass("cream")], None, "shadow"),
    "white_will_not_return": ([Pass("sienna", "medium"), Pass("white", "heavy", 2)], [94, 0, 3], "highlight"),
    "fugitive": ([Pass("fading", "medium")], None, "light"),
    "metal": ([Pass("heavy metal", "medium")], None, "light"),
}


@pytest.fixture(scope="module")
def marked_kit() -> Kit:
    sticks = (
        *(pencil(code, lab) for code, lab in SWATCHES.items()),
        *(replace(pencil(f"m-{code}", SWATCHES[code]), medium="marker") for code in ("violet", "peach")),
        replace(pencil("fading", SWATCHES["terracotta"]), lightfastness="IV"),
        replace(pencil("heavy metal", SWATCHES["terracotta"]), pigments=("cadmium red",)),
    )
    return Kit(sticks, get_support("medium-white"), "pencil")


@pytest.mark.parametrize("code", CASES)
def test_each_caution_fires_on_a_stack_that_deserves_it(code: str, marked_kit: Kit) -> None:
    passes, target, role = CASES[code]
    wanted = colours_after(marked_kit, passes)[-1] if target is None else target
    assert code in codes(work_out(marked_kit, passes, wanted, role))


def test_every_caution_of_recipes_is_tested_and_is_one_sentence_with_a_remedy() -> None:
    recipe_codes = set(sentences())
    assert recipe_codes == set(CASES)
    for text in sentences().values():
        assert text.endswith(".")
        assert ":" in text or "," in text


def test_a_planned_cool_shadow_is_no_dead_grey(box: PencilBox) -> None:
    passes = [Pass("grey", "heavy", 2)]
    target = colours_after(box, passes)[-1]
    assert "dead_grey_strong" in codes(work_out(box, passes, target, "light"))
    assert "dead_grey_strong" not in codes(work_out(box, passes, target, "shadow"))


def test_a_pass_that_cannot_be_made_is_named(box: PencilBox) -> None:
    with pytest.raises(InputError) as caught:
        work_out(box, [Pass("peach"), Pass("gone")], [50, 0, 0])
    assert caught.value.field == "passes[1].stick"


@pytest.mark.parametrize(
    ("code", "passes", "target", "role"),
    [
        ("black_over_warm", [Pass("terracotta", "medium", 2), Pass("black", "light")], None, "shadow"),
        ("hot_first_colour", [Pass("orange", "light", 1), Pass("peach", "medium", 3)], None, "light"),
        ("lost_under_colour", [Pass("violet", "medium", 2), Pass("peach", "medium", 1)], None, "shadow"),
        ("stirred_under_colour", [Pass("m-violet"), Pass("m-peach")], None, "shadow"),
        ("blade", [Pass("brown", "medium"), Pass("putty", "light", 1, "lift")], None, "middle"),
        # Lit by a cold lamp skin is pink to violet, which is no grey.
        ("dead_grey", [Pass("pink", "medium", 2), Pass("violet", "light")], None, "middle"),
    ],
)
def test_a_caution_stays_silent_where_it_is_not_deserved(
    code: str, passes: list[Pass], target: list[float] | None, role: str, marked_kit: Kit
) -> None:
    wanted = colours_after(marked_kit, passes)[-1] if target is None else target
    assert code not in codes(work_out(marked_kit, passes, wanted, role))


@pytest.mark.parametrize(
    ("pigment", "metal"),
    [("PR108", "cadmium"), ("pbr24", "chromium"), ("cobalt blue", "cobalt"), ("burnt sienna", ""), ("PBr7", "")],
)
def test_metals_are_known_by_the_name_of_the_pigment(pigment: str, metal: str) -> None:
    assert metal_in(pigment) == metal
