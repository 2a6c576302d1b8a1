"""What an artist may wish of the recipes: sticks kept and banned, passes kept, one shadow, values drawn together."""

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.errors import InputError
from core.method.method import Method, methods
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Tray
from core.plan.setup import Setup, lay_out, narrowed, usual_setup
from core.plan.solve import Wanted, mix, replacement, solve
from core.recipe.recipe import Recipe, work_out
from core.recipe.rules import LEAST_TOOTH, is_black
from core.skin.reflectance import skin_reflectance
from tests.conftest import a_range
from tests.core.method.test_methods import SETUPS as MEDIA_SETUPS

SKIN = np.array([[82.0, 8, 14], [64, 16, 19], [46, 17, 18], [34, 13, 13], [26, 9, 8]])
ROLES = ["light", "middle", "half-shadow", "shadow", "deep accent"]


def used(recipes: list[Recipe]) -> list[set[str]]:
    return [{step.pass_.stick for step in recipe.steps} for recipe in recipes]


def test_a_banned_stick_is_never_used(big_range: Tray) -> None:
    free = used(mix(lay_out(big_range, Setup()), SKIN, ROLES))
    banned = tuple(sorted(free[0] | free[2]))
    for sticks in used(mix(lay_out(big_range, Setup(banned=banned)), SKIN, ROLES)):
        assert not sticks & set(banned)


def test_a_stick_that_must_be_in_is_among_the_few(big_range: Tray) -> None:
    laid_out = lay_out(big_range, Setup(max_sticks=4, must_use=("L64", "L56")))
    few = narrowed(laid_out, laid_out.aims(SKIN))
    assert {"L64", "L56"} <= {stick.code for stick in few.box.sticks}
    assert len(few.box.sticks) == 4


def test_all_shadows_share_a_stick_if_that_is_wanted(big_range: Tray) -> None:
    apart = used(mix(lay_out(big_range, Setup()), SKIN, ROLES))
    shared = used(mix(lay_out(big_range, Setup(one_shadow=True)), SKIN, ROLES))
    assert set.intersection(*shared[2:])
    assert shared[:2] == apart[:2] or len(set.union(*shared)) <= len(set.union(*apart)) + 1


def test_kept_passes_stay_and_the_rest_is_found_around_them(big_range: Tray) -> None:
    laid_out = lay_out(big_range, Setup())
    kept = (Pass("L64", "light"), Pass("L48", "medium"))
    (recipe,) = solve(laid_out, [Wanted.of(SKIN[2], "half-shadow", kept)])
    passes = [step.pass_ for step in recipe.steps]
    assert [p for p in passes if p in kept] == list(kept)
    assert len(passes) <= 4
    alone = work_out(laid_out.kit, kept, SKIN[2])
    assert recipe.delta_e <= alone.delta_e


@pytest.mark.parametrize(
    ("kept", "place"),
    [
        ((Pass("L64", "light", 1, "burnish"),), "last"),
        ((Pass("L56", "medium"), Pass("N13", "light")), "anywhere"),
        ((Pass("M30"),), "first"),
    ],
    ids=["another technique", "another medium over it", "another medium under it"],
)
def test_kept_passes_that_the_search_does_not_lay_get_what_serves_them(
    kept: tuple[Pass, ...], place: str, big_range: Tray
) -> None:
    ink = replace(a_range("breakwater-60").sticks[30], code="M30")
    laid_out = lay_out(Tray("all", (*big_range.sticks, *a_range("lantern-16").sticks, ink)), Setup())
    (recipe,) = solve(laid_out, [Wanted.of(SKIN[2], "", kept)])
    passes = [step.pass_ for step in recipe.steps]
    assert [p for p in passes if p in kept] == list(kept)
    assert place != "last" or passes[-1] == kept[-1]
    assert place != "first" or passes[0] == kept[0]
    assert len(passes) > len(kept)
    assert recipe.delta_e < min(3.5, 0.5 * work_out(laid_out.kit, kept, SKIN[2]).delta_e)


def test_kept_passes_that_cannot_be_made_are_named(big_range: Tray) -> None:
    with pytest.raises(InputError) as caught:
        solve(lay_out(big_range, Setup()), [Wanted.of(SKIN[2], "", (Pass("L64"), Pass("gone")))])
    assert (caught.value.code, caught.value.field) == ("unknown_stick", "passes[1].stick")


@pytest.mark.parametrize(
    ("setup", "code"),
    [
        (Setup(must_use=("L64",), banned=("L64",)), "must_use_and_banned"),
        (Setup(max_sticks=2, must_use=("L64", "L56", "L48")), "too_many_must_use"),
        (Setup(max_sticks=4, must_use=("nothing",)), "must_use_is_missing"),
        (Setup(max_sticks=4, must_use=("L72",), black="avoid"), "must_use_breaks_method"),
        (Setup(fit="stretch"), "unknown_fit"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_wishes_that_cannot_be_are_refused_with_clear_words(setup: Setup, code: str, big_range: Tray) -> None:
    with pytest.raises(InputError) as caught:
        mix(lay_out(big_range, setup), SKIN, ROLES)
    assert caught.value.code == code
    assert caught.value.hint


@pytest.mark.parametrize("finish", ["layer", "burnish"])
def test_sticks_that_must_be_used_are_used(finish: str, big_range: Tray) -> None:
    must = ("L66", "L40")
    tray = Tray("some", tuple(s for i, s in enumerate(big_range.sticks) if i % 3 == 0 or s.code in must))
    recipes = mix(lay_out(tray, Setup(must_use=must, finish=finish)), SKIN, ROLES)
    assert set(must) <= used(recipes)[0].union(*used(recipes))
    free = mix(lay_out(tray, Setup(finish=finish)), SKIN, ROLES)
    assert not set(must) <= used(free)[0].union(*used(free))
    off = [recipe.delta_e - other.delta_e for recipe, other in zip(recipes, free, strict=True)]
    assert sum(d > 0.5 for d in off) <= len(must)


@pytest.mark.parametrize(
    ("method", "finish"),
    [
        ("darks_first", "burnish"),
        ("pastel_dark_to_light", "smudge"),
        ("lights_reserved", "smudge"),
        ("light_to_dark", "wet"),
    ],
)
@pytest.mark.parametrize("most", [2, 3])
def test_what_ends_a_recipe_counts_among_its_passes(method: str, finish: str, most: int) -> None:
    medium = methods()[method].medium
    name, paper = MEDIA_SETUPS[medium]
    setup = Setup(medium, paper, method, finish=finish, max_passes=most)
    for recipe in mix(lay_out(a_range(name), setup), SKIN, ROLES):
        assert len(recipe.steps) <= most
        assert recipe.delta_e < 12


def test_more_sticks_than_can_be_planned_with_are_said(big_range: Tray) -> None:
    many = tuple(replace(stick, code=f"{stick.code}-{i}") for i in range(3) for stick in big_range.sticks)
    with pytest.raises(InputError) as caught:
        lay_out(Tray("many", many), Setup())
    assert caught.value.code == "too_many_sticks"
    assert f"{len(many)} usable pencils" in caught.value.message
    few = lay_out(Tray("many", many), Setup(banned=tuple(stick.code for stick in many[150:])))
    # What is banned, or too much, is still known where it was laid.
    assert {stick.code for stick in many} <= {stick.code for stick in few.kit.sticks}


def test_body_colour_is_for_last_touches_alone() -> None:
    with pytest.raises(InputError) as caught:
        lay_out(a_range("lantern-16"), usual_setup("opaque"))
    assert caught.value.code == "medium_only_finishes"


def test_a_tray_in_which_everything_is_banned_is_refused(small_tray: Tray) -> None:
    with pytest.raises(InputError) as caught:
        lay_out(small_tray, Setup(banned=tuple(stick.code for stick in small_tray.sticks)))
    assert caught.value.code == "all_banned"


def test_a_missing_stick_is_mixed_from_the_others(small_tray: Tray) -> None:
    laid_out = lay_out(small_tray, Setup())
    sienna = next(stick for stick in small_tray.sticks if stick.code == "G30")
    recipe = replacement(laid_out, sienna)
    assert recipe.steps
    assert "G30" not in used([recipe])[0]
    assert recipe.delta_e < 5
    assert np.allclose(recipe.target.lab, sienna.lab, atol=0.01)


def test_compressed_values_keep_their_order_in_the_recipes(small_tray: Tray) -> None:
    deep = np.array([[6.0, 3, 3], [11, 5, 5], [17, 7, 7], [30, 12, 12], [45, 16, 17]])
    laid_out = lay_out(small_tray, Setup(fit="compress"))
    recipes = mix(laid_out, deep, [""] * 5)
    lightness = [recipe.result.lab[0] for recipe in recipes]
    assert lightness == sorted(lightness)
    assert lightness[2] - lightness[0] > 2
    clipped = mix(lay_out(small_tray, Setup()), deep, [""] * 5)
    assert clipped[0].delta_v > 0.5
    assert max(recipe.delta_e for recipe in recipes) < clipped[0].delta_e


@pytest.mark.parametrize(
    "method", [m for m in methods().values() if not get_medium(m.medium).finishing], ids=lambda m: m.id
)
@settings(max_examples=2, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_no_rule_of_a_method_is_broken_on_any_tray(method: Method, seed: int) -> None:
    rng = np.random.default_rng(seed)
    name, paper = MEDIA_SETUPS[method.medium]
    all_sticks = a_range(name).usable(method.medium)
    some = tuple(all_sticks[i] for i in sorted(rng.choice(len(all_sticks), min(9, len(all_sticks)), replace=False)))
    black = str(rng.choice(["avoid", "last", "free"]))
    setup = Setup(method.medium, paper, method.id, black)
    laid_out = lay_out(Tray("some", some), setup)
    targets = np.column_stack([rng.uniform(15, 92, 3), rng.uniform(2, 22, 3), rng.uniform(2, 26, 3)])
    rules = method.rules(laid_out.box, black)
    place = {stick.code: i for i, stick in enumerate(laid_out.box.sticks)}
    for recipe in mix(laid_out, targets, ["middle", "shadow", "light"]):
        sticks = [place[step.pass_.stick] for step in recipe.steps]
        assert len(sticks) <= 4
        assert all(rules.follow[i, j] for i, j in itertools.pairwise(sticks))
        assert all(step.tooth_left >= LEAST_TOOTH - 1e-6 for step in recipe.steps[:-1])
        blacks = [is_black(laid_out.box.sticks[i]) for i in sticks]
        assert black == "free" or not any(blacks[:-1])
        assert black != "avoid" or not any(blacks)


COMPLEXIONS = ((0.018, 0.012, 0.2), (0.044, 0.020, 0.4), (0.107, 0.037, 2.0), (0.245, 0.020, 1.0))


@pytest.mark.parametrize("medium", [m for m in MEDIA_SETUPS if not get_medium(m).finishing])
def test_every_medium_reaches_skin_from_the_palest_to_the_deepest(medium: str) -> None:
    name, paper = MEDIA_SETUPS[medium]
    laid_out = lay_out(a_range(name), replace(usual_setup(medium), paper=paper))
    skin = reflectance_to_lab(skin_reflectance(COMPLEXIONS))
    recipes = mix(laid_out, skin, ["middle"] * 4)
    assert max(abs(recipe.delta_v) for recipe in recipes) < 0.35
    assert max(recipe.delta_e for recipe in recipes) < 4


ENDS = [(method, finish) for method in methods().values() for finish in method.finishes[1:]]


@pytest.mark.parametrize(("method", "finish"), ENDS, ids=lambda v: v if isinstance(v, str) else v.id)
def test_recipes_end_as_their_method_is_told_to_and_come_near_their_targets(method: Method, finish: str) -> None:
    name, paper = MEDIA_SETUPS[method.medium]
    tray = Tray("both", (*a_range(name).sticks, *a_range("lantern-16").sticks))
    setup = Setup(method.medium, paper, method.id)
    plain, ended = (mix(lay_out(tray, replace(setup, finish=how)), SKIN, ROLES) for how in ("layer", finish))
    kit = lay_out(tray, setup).kit
    naive = []
    for layered, recipe in zip(plain, ended, strict=True):
        passes = [step.pass_ for step in recipe.steps]
        assert passes[-1].technique == finish or len(passes) == 1
        assert not any(p.technique == finish for p in passes[:-1])
        # White beneath everything cannot be rubbed to the deepest dark.
        assert recipe.delta_e < (5 if method.id == "white_then_glaze" and layered.target.lab[0] < 30 else 3)
        last = passes[-1] if len(passes) > 1 else replace(passes[-1], technique=finish)
        naive.append(work_out(kit, [*(step.pass_ for step in layered.steps), last], layered.target.lab).delta_e)
    assert not any(step.pass_.technique == finish for recipe in plain for step in recipe.steps)
    # Rubbing hardly moves oil pastel that covers well: there no more can be gained than can be seen.
    assert np.mean([recipe.delta_e for recipe in ended]) < max(0.5 * float(np.mean(naive)), 0.3)


def test_a_method_is_not_ended_in_a_way_that_is_not_its_own() -> None:
    with pytest.raises(InputError) as caught:
        lay_out(a_range("ebb-24"), replace(usual_setup("marker"), method="coloured_under_layer", finish="wet"))
    assert caught.value.code == "method_does_not_finish"
    assert "Coloured under-layer" in caught.value.message


@pytest.mark.parametrize("blender", [True, False])
def test_few_sticks_are_burnished_by_a_blender_or_by_one_of_them(blender: bool, big_range: Tray) -> None:
    held = a_range("lantern-16").sticks if blender else ()
    wanted = Setup(finish="burnish", max_sticks=5, banned=("L01",))
    recipes = mix(lay_out(Tray("both", (*big_range.sticks, *held)), wanted), SKIN, ROLES)
    layered = {step.pass_.stick for recipe in recipes for step in recipe.steps if step.pass_.technique == "lay"}
    last = {recipe.steps[-1].pass_.stick for recipe in recipes}
    assert all(recipe.steps[-1].pass_.technique == "burnish" for recipe in recipes)
    assert len(layered) <= 5
    assert "L01" not in last
    assert ("N00" in last) is blender


def test_an_ended_recipe_leaves_kept_passes_and_reserved_highlights_alone(big_range: Tray) -> None:
    laid_out = lay_out(big_range, Setup(finish="burnish", reserve=True))
    kept = (Pass("L64", "light"),)
    held, light = solve(laid_out, [Wanted.of(SKIN[2], "shadow", kept), Wanted.of([93.0, 1, 5], "highlight")])
    assert kept[0] in [step.pass_ for step in held.steps]
    assert held.steps[-1].pass_.technique == "burnish"
    assert all(step.pass_.technique == "lay" for step in light.steps)


def test_reserved_highlights_are_left_to_the_paper(small_tray: Tray) -> None:
    laid_out = lay_out(small_tray, Setup(reserve=True))
    recipes = mix(laid_out, np.array([[93.0, 1, 5], [86.0, 6, 12], [64, 16, 19]]), ["highlight", "highlight", "middle"])
    lightness = {stick.code: stick.lab[0] for stick in small_tray.sticks}
    for recipe in recipes[:2]:
        assert len(recipe.steps) <= 1
        assert all(lightness[s.pass_.stick] >= 85 and s.pass_.pressure == "light" for s in recipe.steps)
    assert recipes[2].steps


def test_glazes_are_laid_where_the_method_glazes() -> None:
    skin = np.array([[78.0, 10, 16], [66, 15, 18], [72, 14, 18], [60, 14, 15]])
    roles = ["light", "middle", "light", "middle"]
    laid_out = lay_out(a_range("quay-chalk-48"), Setup("pastel", "near-black", "white_then_glaze"))
    steps = [step.pass_ for recipe in mix(laid_out, skin, roles) for step in recipe.steps]
    assert "glaze" in {p.technique for p in steps}
    massed = lay_out(a_range("quay-chalk-48"), Setup("pastel", "near-black", "pastel_dark_to_light"))
    assert {s.pass_.technique for r in mix(massed, skin, roles) for s in r.steps} == {"lay"}


@pytest.mark.parametrize("method", ["cool_under_layer", "coloured_under_layer"])
def test_under_colours_are_cool_in_the_shade_and_warm_in_the_light(method: str) -> None:
    school = methods()[method]
    name, paper = MEDIA_SETUPS[school.medium]
    laid_out = lay_out(a_range(name), Setup(school.medium, paper, method))
    sticks = {stick.code: stick for stick in laid_out.box.sticks}
    skin = np.array([[60.0, 14, 15], [44, 14, 12], [34, 11, 8], [72, 14, 18]])
    roles = ["half-shadow", "shadow", "deep accent", "light"]
    for recipe, role in zip(mix(laid_out, skin, roles), roles, strict=True):
        assert school.lies_under(sticks[recipe.steps[0].pass_.stick], role)
        assert recipe.delta_e < 8
