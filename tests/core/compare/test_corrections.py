"""Corrections from what lies there, followed by a hand in a nature of other physics (tools.nature)."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.compare.corrections import MOST, Advice, There, advised, in_words, looking_like
from core.compare.possible import possible
from core.compare.words import title_of
from core.layers.doses import Dose
from core.layers.natural import Spot
from core.layers.plan import Layer
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.spectra import reflectance_to_lab, upsample
from core.optics.support import get_support
from core.plan.questions import Owned
from core.plan.setup import LaidOutTray, usual_setup
from core.trial.joint import Learnt, MeasuredBox, learn
from tools.bench_trial import tray_of
from tools.nature import Nature

PLACES = (
    ("forehead", "forehead", "light"), ("cheek", "cheek", "light"), ("nose", "nose tip", "highlight"),
    ("jaw", "jaw", "middle"), ("temple", "temple", "half-shadow"), ("far cheek", "cheek", "shadow"),
    ("neck", "under the chin", "shadow"), ("nostril", "nostril", "deep accent"),
)  # fmt: skip
SHADE = (4, 5, 6, 7)


@cache
def laid_out(medium: str) -> LaidOutTray:
    return Owned(tray_of(medium, 16), usual_setup(medium)).laid_out()


@cache
def nature_of(medium: str, seed: int = 4) -> Nature:
    tray = laid_out(medium)
    return Nature(seed, tray.box.sticks, get_support(tray.setup.paper))


@cache
def known(medium: str) -> Learnt:
    """What a card of single sticks and pairs has taught."""
    tray, nature = laid_out(medium), nature_of(medium)
    pressures = ("light",) if medium == "marker" else ("light", "medium", "heavy")
    alone = [(Pass(stick.code, pressure),) for stick in tray.box.sticks for pressure in pressures]
    pairs = [(*one, *other) for one, other in zip(alone, alone[3:], strict=False)]
    boxes = []
    for stack in (*alone, *pairs):
        lab = nature.lab(stack, reading=1.0)
        boxes.append(MeasuredBox(stack, (float(lab[0]), float(lab[1]), float(lab[2])), 1.0))
    return learn(tray.box.sticks, get_support(tray.setup.paper), medium, boxes)


def by_depth(medium: str) -> list[str]:
    return [stick.code for stick in sorted(laid_out(medium).box.sticks, key=lambda stick: -stick.lab[0])]


def layer(stick: str, where: tuple[int, ...], pressure: str = "light", times: int = 1, technique: str = "lay") -> Layer:
    dose = Dose(pressure, times)
    return Layer(stick, dose, tuple(dose if i in where else None for i in range(len(PLACES))), "", technique)


def planned(medium: str) -> list[Layer]:
    """A pale base over all, a middle stick from the half-tones down, a dark one in the shade."""
    codes = by_depth(medium)
    hard = "light" if medium == "marker" else "medium"
    return [
        layer(codes[2], tuple(range(8))),
        layer(codes[8], (3, *SHADE), hard),
        layer(codes[12], SHADE, hard, 2),
    ]


def stacks(layers: list[Layer]) -> list[list[Pass]]:
    return [
        [Pass(row.stick, dose.pressure, dose.repeats) for row in layers if (dose := row.levels[i])]
        for i in range(len(PLACES))
    ]


def colours(medium: str, of: list[list[Pass]]) -> Floats:
    nature = nature_of(medium)
    found = []
    for i, passes in enumerate(of):
        nature.rng = np.random.default_rng(i)
        found.append(nature.lab(passes, hand=0.1))
    return np.array(found)


def advice(medium: str, laid: list[Layer], lies: Floats, wanted: Floats) -> Advice:
    there = [
        There(Spot(name, place, role, tuple(aim)), 0, tuple(lab), tuple(aim))
        for (name, place, role), lab, aim in zip(PLACES, lies.tolist(), wanted.tolist(), strict=True)
    ]
    trays = possible(laid_out(medium), known(medium), 1.0, 4)
    return advised(trays, laid, there, {row.stick for row in laid})


@pytest.mark.parametrize("medium", ["pencil", "marker", "pastel"])
def test_a_timid_shade_is_deepened_and_that_helps_in_another_nature(medium: str) -> None:
    plan = planned(medium)
    wanted = colours(medium, stacks(plan))
    timid = [plan[0], plan[1]]
    lies = colours(medium, stacks(timid))
    found = advice(medium, timid, lies, wanted)
    assert 1 <= len(found.corrections) <= MOST
    first = found.corrections[0]
    assert first.title.startswith("Deepen") and first.steps < 0 and first.after < first.before
    assert {i for i, dose in enumerate(first.levels) if dose} >= {5, 6}
    more = stacks(timid)
    for one in found.corrections:
        for i, dose in enumerate(one.levels):
            if dose:
                technique = "flick" if dose.flicked else "lay"
                more[i] = [*more[i], Pass(one.stick, dose.pressure, dose.repeats, technique)]
    before, after = (float(ciede2000(labs, wanted).mean()) for labs in (lies, colours(medium, more)))
    assert after < 0.7 * before, (before, after)


@pytest.mark.parametrize(
    ("moved", "said"),
    [
        ((0, 8, -1), "Redden the shade"), ((0, -8, 1), "Take red out of the shade"), ((0, 1, 7), "Warm the shade"),
        ((0, -1, -9), "Cool the shade"), ((9, 2, 2), "Bring up the shade, one step"),
        ((0, 6, 8), "Strengthen the shade"),
    ],
)  # fmt: skip
def test_a_layer_is_called_by_what_it_does(moved: tuple[float, float, float], said: str) -> None:
    """As it is said at the easel (common practice, no source): adding a red to orange skin is not called cooling it."""
    before = np.array([[40.0, 14.0, 18.0]] * 3)
    spots = [Spot("neck", "neck", "shadow", (40.0, 14.0, 18.0))] * 3
    assert title_of(before, before + np.array(moved), 1.0, spots) == said


def test_nothing_is_to_be_done_where_nothing_is_wrong() -> None:
    plan = planned("pencil")
    lies = colours("pencil", stacks(plan))
    found = advice("pencil", plan, lies, lies)
    assert found.corrections == () and found.nothing == ()
    assert in_words(found)[0] == "Stop here"


def test_where_the_paper_is_full_or_burnished_it_is_said_what_is_left() -> None:
    codes = by_depth("pencil")
    full = [layer(code, tuple(range(8)), "heavy", 3) for code in codes[10:14]]
    lies = np.tile([30.0, 12.0, 10.0], (8, 1))
    wanted = lies + np.array([30.0, 0.0, 0.0])
    found = advice("pencil", full, lies, wanted)
    assert found.corrections == () and {row.why for row in found.nothing} == {"full"} and found.room == 0
    assert "putty" in found.nothing[0].text
    burnished = [layer(codes[4], tuple(range(8))), layer(codes[0], tuple(range(8)), "heavy", 1, "burnish")]
    found = advice("pencil", burnished, lies, wanted)
    assert {row.why for row in found.nothing} == {"burnished"} and "Already burnished" in found.nothing[0].text


def test_what_covers_nothing_cannot_lighten_and_says_so() -> None:
    plan = [layer(by_depth("marker")[14], tuple(range(8)))]
    lies = np.tile([30.0, 12.0, 10.0], (8, 1))
    found = advice("marker", plan, lies, lies + np.array([35.0, 0.0, 0.0]))
    assert found.corrections == () and {row.why for row in found.nothing} <= {"lighter", "full"} and found.nothing


def test_reflectances_take_on_the_colours_that_were_read() -> None:
    labs = np.array([[40.0, 20.0, 15.0], [70.0, 12.0, 22.0], [20.0, 5.0, 2.0]])
    begun = np.tile(upsample(np.array([0.3, 0.3, 0.3])), (3, 1))
    assert ciede2000(reflectance_to_lab(looking_like(begun, labs)), labs).max() < 0.3
    # What no surface can be is taken for the nearest that one can.
    impossible = np.array([[4.0, 60.0, -40.0], [101.0, 0.0, 0.0], [50.0, 140.0, 0.0]])
    assert np.isfinite(looking_like(begun, impossible)).all()


def test_possible_trays_lie_to_both_sides_of_the_likely_one() -> None:
    trays = possible(laid_out("pencil"), known("pencil"), 2.4, 4)
    assert len(trays) == 5 and not trays[0].off.any()
    assert np.allclose(trays[1].off, -trays[2].off) and trays[1].off.any()
    code = by_depth("pencil")[9]
    seen = [np.asarray(reflectance_to_lab(_seen(tray.laid_out.kit, code)))[0] for tray in trays]
    assert seen[1] != seen[2] and min(seen[1:3]) < seen[0] < max(seen[1:3])


def _seen(kit: Kit, code: str) -> Floats:
    return kit.reflectance(kit.apply(kit.start(), Pass(code, "medium")))
