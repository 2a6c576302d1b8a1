"""A plan followed layer by layer: colours from another path of the model, words from changes set by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.munsell import lab_to_value
from core.colour.swatch import Swatch
from core.colour.words import closeness
from core.layers.doses import Dose
from core.layers.plan import Layer, Plan
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.edited import Edited
from core.plan.layered import plan_figure
from core.plan.setup import LaidOutTray
from core.plan.walked import _fault, _moved, ends_of
from tests.core.layers.test_edited import named
from tests.core.layers.test_plans import FACE, few


@pytest.fixture(scope="module")
def laid_out(big_range: Tray) -> LaidOutTray:
    return few(big_range)


@pytest.fixture(scope="module")
def plan(laid_out: LaidOutTray) -> Plan:
    return named(plan_figure(laid_out, FACE, most=4).of(4))


def near(one: str, other: str) -> bool:
    return bool(np.abs(np.array(Swatch.of_hex(one).lab) - Swatch.of_hex(other).lab).max() < 1.0)


def test_a_core_shows_what_the_recipe_of_its_place_gives(laid_out: LaidOutTray, plan: Plan) -> None:
    holes = Edited(laid_out, FACE, plan.layers).walked().holes()
    assert [hole.name for hole in holes] == ["light", "half", "shade"]
    for hole in holes:
        place = next(i for i, spot in enumerate(FACE) if hole.place in (spot.name, spot.place))
        steps = colours_after(laid_out.kit, plan.passes_at(place))
        shown = dict.fromkeys(hole.colours)
        assert near(hole.colours[-1], Swatch.of(steps[-1]).hex)
        assert len(shown) == len({Swatch.of(step).hex for step in steps})
        # Nothing lies where the layer does not.
        laid = [layer.levels[place] is not None for layer in plan.layers]
        assert [thick > 0 for thick in hole.thick] == laid


def test_a_place_is_promised_no_better_than_hands_and_untried_sticks_allow(laid_out: LaidOutTray, plan: Plan) -> None:
    endings = Edited(laid_out, FACE, plan.layers).walked().endings()
    for place, ending in enumerate(endings):
        steady = colours_after(laid_out.kit, plan.passes_at(place))[-1]
        assert ending.value == pytest.approx(float(lab_to_value(steady)), abs=0.05)
        assert ending.low < ending.value < ending.high
        # Pencils that nobody tried are off by about 4 in all three dimensions together: a quarter of a step in one.
        assert ending.high - ending.low > 0.4
    (ends,) = ends_of(laid_out, FACE, [plan.layers])
    assert ends == tuple(ending.hex for ending in endings)


def test_each_layer_says_what_it_is_for(laid_out: LaidOutTray, plan: Plan) -> None:
    doings = Edited(laid_out, FACE, plan.layers).walked().doings()
    assert doings[0].why.startswith("Lays the first colour")
    assert all(doing.why.endswith(".") and doing.without.startswith("Without it") for doing in doings)
    # A layer twice as good as none, and one that is none.
    idle = Layer(plan.layers[0].stick, Dose("light", 1), (None,) * len(FACE), "", "lay", "idle")
    assert Edited(laid_out, FACE, (*plan.layers, idle)).walked().doings()[-1].why == "It lies nowhere yet."
    dark = min(laid_out.box.sticks, key=lambda stick: stick.lab[0])
    shade = tuple(Dose("medium", 2) if spot.role in ("shadow", "deep accent") else None for spot in FACE)
    deep = Edited(laid_out, FACE, (*plan.layers[:1], replace(idle, stick=dark.code, levels=shade))).walked().doings()[1]
    assert "eepens it" in deep.why
    assert deep.why.endswith(", only in the shade.")


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ((60, 20, 20), (50, 20, 20), ["deepens it"]),
        ((60, 10, 10), (66, 10, 10), ["lightens it"]),
        ((60, 25, 20), (60, 15, 12), ["takes the heat out of the colour"]),
        ((60, 10, 20), (60, 20, 10), ["makes it redder"]),
        ((60, 20, 10), (60, 10, 20), ["makes it more yellow"]),
        ((60, 20, 20), (60.5, 20, 20), []),
    ],
)
def test_a_change_of_colour_in_words(before: tuple[float, ...], after: tuple[float, ...], said: list[str]) -> None:
    assert _moved(np.array(before, dtype=float), np.array(after, dtype=float)) == said


def test_a_miss_in_words() -> None:
    wanted = np.array([50.0, 15.0, 20.0])
    assert _fault(wanted, np.array([60.0, 15.0, 20.0])) == "light"
    assert _fault(wanted, np.array([41.0, 6.0, 8.0])) == "grey and too dark"
    assert _fault(wanted, wanted) == ""
    assert [closeness(distance) for distance in (0.4, 1.6, 3.0, 8.0)] == [
        "so close that none can tell",
        "very close",
        "just visibly off",
        "clearly off",
    ]
