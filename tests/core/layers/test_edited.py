"""Layers that an artist has changed: what they give, what else they could be, and what stays when it is locked."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.layers.doses import Dose
from core.layers.plan import Layer, Plan
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.edited import Edited
from core.plan.layered import Planning, plan_figure
from core.plan.setup import LaidOutTray, Setup, lay_out
from tests.conftest import a_range
from tests.core.layers.test_plans import FACE, few


@pytest.fixture(scope="module")
def laid_out(big_range: Tray) -> LaidOutTray:
    return few(big_range)


@pytest.fixture(scope="module")
def plan(laid_out: LaidOutTray) -> Plan:
    return named(plan_figure(laid_out, FACE, most=3).of(3))


def named(plan: Plan) -> Plan:
    return replace(plan, layers=tuple(replace(layer, id=f"layer-{i}") for i, layer in enumerate(plan.layers)))


def error_of(laid_out: LaidOutTray, plan: Plan, place: int) -> float:
    seen = colours_after(laid_out.kit, plan.passes_at(place))[-1]
    return float(ciede2000(np.array(FACE[place].lab), seen))


def test_layers_as_they_are_promise_what_the_plan_did(laid_out: LaidOutTray, plan: Plan) -> None:
    held = Edited(laid_out, FACE, plan.layers)
    assert held.plan().layers == plan.layers
    assert held.plan().expected.planned == plan.expected.planned
    assert held.keeps_the_rules()
    heavy = replace(plan.layers[0], levels=(Dose("heavy", 3),) * len(FACE))
    assert not Edited(laid_out, FACE, (heavy, *plan.layers[1:])).keeps_the_rules()


def test_doses_are_fitted_again_but_for_what_is_locked(laid_out: LaidOutTray, plan: Plan) -> None:
    spoilt = tuple(replace(layer, levels=(Dose("light", 1),) * len(FACE)) for layer in plan.layers)
    before = Edited(laid_out, FACE, spoilt).plan().expected
    free = Edited(laid_out, FACE, spoilt).fitted()
    assert free.expected.by_hand < before.by_hand - 3
    some = Edited(laid_out, FACE, spoilt, locked=["layer-1"]).fitted()
    assert next(layer for layer in some.layers if layer.id == "layer-1").levels == spoilt[1].levels
    assert some.expected.by_hand < before.by_hand
    with pytest.raises(InputError) as caught:
        Edited(laid_out, FACE, spoilt, locked=[layer.id for layer in spoilt]).fitted()
    assert caught.value.code == "all_locked"


def test_other_sticks_come_in_the_order_of_what_they_do_to_the_face(laid_out: LaidOutTray, plan: Plan) -> None:
    swaps = Edited(laid_out, FACE, plan.layers).other_sticks("layer-1")
    assert len(swaps) >= 2
    assert [swap.expected.by_hand for swap in swaps] == sorted(swap.expected.by_hand for swap in swaps)
    for swap in swaps:
        changed = next(layer for layer in swap.layers if layer.id == "layer-1")
        assert changed.stick == swap.stick != plan.layers[1].stick
        assert Edited(laid_out, FACE, swap.layers).plan().expected.planned == swap.expected.planned
    with pytest.raises(InputError) as caught:
        Edited(laid_out, FACE, plan.layers).other_sticks("layer-9")
    assert caught.value.code == "no_such_layer"


def test_an_accent_lies_at_its_place_alone_and_brings_it_nearer(laid_out: LaidOutTray, plan: Plan) -> None:
    off = [error_of(laid_out, plan, place) for place in range(len(FACE))]
    worst = int(np.argmax(off))
    changed = Edited(laid_out, FACE, plan.layers).with_accent(worst)
    assert len(changed.layers) == len(plan.layers) + 1
    (accent,) = (layer for layer in changed.layers if not layer.id)
    assert [place for place, level in enumerate(accent.levels) if level] == [worst]
    assert error_of(laid_out, changed, worst) < off[worst]
    for place in set(range(len(FACE))) - {worst}:
        assert changed.passes_at(place) == plan.passes_at(place)


def test_locked_layers_stay_when_it_is_planned_anew(laid_out: LaidOutTray, plan: Plan) -> None:
    kept = replace(plan.layers[1], levels=(None, Dose("light", 2), Dose("light", 2), None, None, None))
    work = Planning(laid_out, FACE, kept=[kept])
    for _ in work.run(4):
        pass
    plans = work.plans()
    for found in plans.by_count.values():
        (same,) = (layer for layer in found.layers if layer.id == kept.id)
        assert (same.stick, same.levels) == (kept.stick, kept.levels)
    assert plans.of(4).expected.by_hand < 8


def test_what_works_on_others_stays_where_it_is(big_range: Tray) -> None:
    chalk = lay_out(a_range("quay-chalk-48"), Setup("pastel", "warm-grey", "pastel_dark_to_light"))
    every = (Dose("light", 2),) * len(FACE)
    rubbed = Layer("stump", Dose("medium", 1), (Dose("medium", 1),) * len(FACE), "", "smudge", "rub")
    layers = (Layer("Q52", every[0], every, "", id="dark"), rubbed, Layer("Q13", every[0], every, "", id="pale"))
    held = Edited(chalk, FACE, layers)
    plan = held.plan()
    assert [layer.id for layer in plan.layers] == ["dark", "rub", "pale"]
    off = [
        float(ciede2000(np.array(spot.lab), colours_after(chalk.kit, plan.passes_at(i))[-1]))
        for i, spot in enumerate(FACE)
    ]
    assert plan.expected.planned == pytest.approx(np.mean(off), abs=0.05)
    assert [layer.id for layer in held.fitted().layers if layer.id == "rub" or layer.id == "pale"] == ["rub", "pale"]
    # Over nothing it does nothing.
    first = Edited(chalk, FACE, (rubbed, *layers[::2])).plan()
    assert np.isfinite(first.expected.by_hand)
    with pytest.raises(InputError) as caught:
        Edited(chalk, FACE, (replace(layers[0], technique="burnish"),))
    assert (caught.value.code, caught.value.field) == ("bad_technique", "layers[0].technique")


def test_layers_that_cannot_be_are_named(laid_out: LaidOutTray, plan: Plan, big_range: Tray) -> None:
    gone = replace(plan.layers[0], stick="L99")
    with pytest.raises(InputError) as caught:
        Edited(laid_out, FACE, (plan.layers[1], gone))
    assert (caught.value.code, caught.value.field) == ("layer_without_its_stick", "layers[1].stick")
    odd = replace(plan.layers[0], levels=(Dose("feather", 1),) * len(FACE))
    with pytest.raises(InputError) as caught:
        Edited(laid_out, FACE, (odd,))
    assert caught.value.code == "bad_dose"
    with pytest.raises(InputError) as caught:
        Edited(laid_out, FACE, [Layer("L05", Dose("light", 1), (Dose("light", 1),) * len(FACE), "")] * 16)
    assert caught.value.code == "too_many_layers"
    with pytest.raises(InputError) as caught:
        Planning(few(big_range, setup=Setup(banned=(plan.layers[0].stick,))), FACE, kept=plan.layers[:1])
    assert caught.value.code == "layer_without_its_stick"


def test_a_loose_coat_is_laid_dry_and_of_ink_alone() -> None:
    flicked = (Dose("light", 1, flicked=True),) * len(FACE)
    markers = lay_out(a_range("breakwater-60"), Setup("marker", "marker-card", "light_to_dark"))
    layer = Layer("B023", flicked[0], flicked, "", id="one")
    plan = Edited(markers, FACE, (layer,)).plan()
    assert plan.passes_at(0) == (Pass("B023", "light", 1, "flick"),)
    seen = np.array([colours_after(markers.kit, plan.passes_at(i))[-1] for i in range(len(FACE))])
    off = ciede2000(np.array([spot.lab for spot in FACE]), seen)
    assert plan.expected.planned == pytest.approx(off.mean(), abs=0.05)
    with pytest.raises(InputError, match="flicked and worked in at once"):
        Edited(markers, FACE, (replace(layer, technique="wet"),))
    pastels = lay_out(a_range("quay-chalk-48"), Setup("pastel", "warm-grey", "pastel_dark_to_light"))
    with pytest.raises(InputError) as caught:
        Edited(pastels, FACE, (replace(layer, stick="Q52"),))
    assert (caught.value.code, caught.value.field) == ("bad_dose", "layers[0].levels")
