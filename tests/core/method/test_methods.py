import numpy as np
import pytest

from core.errors import InputError
from core.look.roles import ROLES
from core.method.method import Method, get_method, methods
from core.optics.media import get_medium
from core.optics.medium import PRESSURES
from core.optics.pencil import PencilBox
from core.optics.stick import Tray
from core.plan.setup import LaidOutTray, Setup, lay_out
from core.plan.solve import mix
from core.recipe.finish import FINISHES
from tests.conftest import a_range

SKIN = np.array([[82.0, 8, 14], [70, 14, 18], [58, 18, 20], [45, 17, 18], [33, 13, 14], [24, 9, 9]])


SETUPS = {
    "pencil": ("long-pier-72", "medium-white"),
    "marker": ("breakwater-60", "marker-card"),
    "pastel": ("quay-chalk-48", "warm-grey"),
    "oil_pastel": ("winch-48", "oil-paper"),
    "opaque": ("lantern-16", "marker-card"),
}


def bench_of(method: Method) -> LaidOutTray:
    """The largest stand-in range of the method's medium on its usual paper."""
    name, paper = SETUPS[method.medium]
    return lay_out(a_range(name), Setup(medium=method.medium, paper=paper, method=method.id))


@pytest.mark.parametrize(
    "method", [m for m in methods().values() if not get_medium(m.medium).finishing], ids=lambda m: m.id
)
class TestEveryMethod:
    def test_says_in_two_lines_what_it_is(self, method: Method) -> None:
        assert 1 <= method.explanation.strip().count("\n") + 1 <= 3
        assert len(method.explanation) > 60

    def test_names_only_roles_and_pressures_that_exist(self, method: Method) -> None:
        assert {role for stage in method.stages for role in stage} <= set(ROLES)
        assert set(method.first_pressures) <= set(PRESSURES)
        assert method.order in ("dark_to_light", "light_to_dark")

    def test_ends_recipes_in_ways_that_exist_and_leaves_them_layered_first(self, method: Method) -> None:
        assert method.finishes[0] == "layer"
        assert set(method.finishes) <= set(FINISHES)

    def test_gives_every_pass_a_stage(self, method: Method) -> None:
        for role in ROLES:
            stages = [method.stage(role, i) for i in range(4)]
            assert stages == sorted(stages)

    def test_keeps_its_own_rules_in_every_recipe(self, method: Method) -> None:
        laid_out = bench_of(method)
        lightness = {stick.code: float(stick.lab[0]) for stick in laid_out.box.sticks}
        for recipe in mix(laid_out, SKIN, ["middle"] * len(SKIN)):
            assert recipe.steps
            first = recipe.steps[0].pass_
            assert first.pressure in method.first_pressures
            assert method.first_lightness[0] <= lightness[first.stick] <= method.first_lightness[1]
            assert all(step.pass_.repeats <= method.later_repeats for step in recipe.steps[1:])
            rises = np.diff([lightness[step.pass_.stick] for step in recipe.steps])
            if method.order == "dark_to_light":
                assert (rises >= -method.slack_l).all()
            else:
                assert (rises <= method.slack_l).all()

    def test_reaches_skin_from_light_to_deep(self, method: Method) -> None:
        recipes = mix(bench_of(method), SKIN, ["middle"] * len(SKIN))
        assert max(abs(recipe.delta_v) for recipe in recipes) < 0.5
        assert np.mean([recipe.delta_e for recipe in recipes]) < 2.5


def test_methods_differ_in_what_they_lay_first(big_range: Tray) -> None:
    first = {}
    for name in ("darks_first", "pale_base_first"):
        laid_out = lay_out(big_range, Setup(method=name))
        lightness = {stick.code: float(stick.lab[0]) for stick in laid_out.box.sticks}
        recipes = mix(laid_out, SKIN[2:], ["middle"] * 4)
        first[name] = np.mean([lightness[recipe.steps[0].pass_.stick] for recipe in recipes])
    assert first["pale_base_first"] > first["darks_first"] + 15


def test_a_tray_without_any_pale_stick_still_gets_the_nearest(box: PencilBox) -> None:
    from tests.conftest import SWATCHES, pencil

    dark = get_medium("pencil").prepare(
        (pencil("umber", SWATCHES["umber"]), pencil("brown", SWATCHES["brown"])), box.support
    )
    rules = methods()["pale_base_first"].rules(dark)
    allowed = {dark.sticks[a.stick].code for a, may in zip(dark.actions, rules.first, strict=True) if may}
    assert allowed == {"brown"}


def test_an_unknown_method_is_refused_with_the_choice() -> None:
    with pytest.raises(InputError) as caught:
        get_method("upside_down", "pencil")
    assert caught.value.code == "unknown_method"
    assert "darks_first" in caught.value.hint


def test_every_medium_has_one_usual_method() -> None:
    usual = [method.medium for method in methods().values() if method.usual]
    assert sorted(usual) == sorted({method.medium for method in methods().values()})
