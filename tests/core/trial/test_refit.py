"""Correcting sticks by boxes whose truth is known: 0.6–1.6 times as strong, ± 25 % in coverage, noise of 1 ΔE."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import AS_DECLARED, Fit, Stick
from core.optics.support import Support, get_support
from core.trial.refit import MAX_BOXES, MeasuredBox, refit
from tests.conftest import a_range

CASES = {
    "pencil": ("small-tray-24", "medium-white"),
    "marker": ("ebb-24", "marker-card"),
    "pastel": ("rigging-36", "warm-grey"),
    "oil_pastel": ("keel-24", "oil-paper"),
}


def boxes_of(kit: Kit, code: str, medium: str, rng: np.random.Generator, count: int = 9) -> list[MeasuredBox]:
    pressures = get_medium(medium).pressures
    made = []
    for i in range(count):
        passes = (Pass(code, pressures[i % len(pressures)], 1 + i // 3 % 3),)
        lab = colours_after(kit, passes)[-1] + rng.normal(0, 1 / np.sqrt(3), 3)
        made.append(MeasuredBox(passes, (float(lab[0]), float(lab[1]), float(lab[2]))))
    return made


def error(truth: Kit, tried: Kit, stacks: list[list[Pass]]) -> float:
    return float(np.median([ciede2000(colours_after(truth, s)[-1], colours_after(tried, s)[-1]) for s in stacks]))


@pytest.mark.parametrize("medium", CASES)
def test_nine_boxes_a_stick_halve_the_error_of_fresh_stacks(medium: str) -> None:
    name, paper = CASES[medium]
    support, pressures = get_support(paper), get_medium(medium).pressures
    rng = np.random.default_rng(5)
    sticks = [s for s in a_range(name).sticks if not s.colourless][::4][:5]
    real = [replace(s, fit=Fit(float(rng.uniform(0.6, 1.6)), float(rng.uniform(0.75, 1.25)))) for s in sticks]
    truth = Kit(tuple(real), support, medium)
    boxes = [box for stick in real for box in boxes_of(truth, stick.code, medium, rng)]
    fitted = Kit(refit(sticks, boxes, support), support, medium)
    stacks = [
        [
            Pass(sticks[i].code, pressures[rng.integers(len(pressures))], int(rng.integers(1, 3)))
            for i in rng.choice(len(sticks), rng.integers(2, 4), replace=False)
        ]
        for _ in range(60)
    ]
    before, after = error(truth, Kit(tuple(sticks), support, medium), stacks), error(truth, fitted, stacks)
    assert after < 0.5 * before


def one(strength: float) -> tuple[Stick, Kit, Support]:
    stick = next(s for s in a_range("small-tray-24").sticks if s.code == "G30")
    support = get_support("medium-white")
    return stick, Kit((replace(stick, fit=Fit(strength)),), support, "pencil"), support


def test_one_box_moves_a_stick_a_little_and_many_decide() -> None:
    stick, truth, support = one(0.6)
    rng = np.random.default_rng(2)
    boxes = boxes_of(truth, stick.code, "pencil", rng, 18)
    few, many = (refit([stick], boxes[:n], support)[0].fit.strength for n in (1, 18))
    assert 0.6 < many < few < 1.0
    assert many < 0.72


def test_without_boxes_nothing_changes_and_others_are_left_alone() -> None:
    stick, truth, support = one(1.3)
    other = replace(stick, code="other")
    assert refit([stick], [], support) == (stick,)
    fitted = refit([stick, other], boxes_of(truth, stick.code, "pencil", np.random.default_rng(1)), support)
    assert fitted[0].fit != AS_DECLARED
    assert fitted[1] == other


def test_too_many_boxes_or_passes_that_cannot_be_are_refused() -> None:
    stick, _, support = one(1.0)
    box = MeasuredBox((Pass(stick.code),), (50.0, 0.0, 0.0))
    with pytest.raises(InputError, match="too many"):
        refit([stick], [box] * (MAX_BOXES + 1), support)
    with pytest.raises(InputError) as caught:
        refit([stick], [MeasuredBox((Pass(stick.code, "crushing"),), (50.0, 0.0, 0.0))], support)
    assert caught.value.code == "bad_pressure"
