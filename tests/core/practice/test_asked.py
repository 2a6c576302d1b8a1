"""Questions and what answers to them are worth."""

from __future__ import annotations

import colour
import numpy as np
import pytest

from core.colour.spaces import hex_to_lab
from core.exchange.tray_csv import read_tray
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.support import get_support
from core.plan.setup import Setup
from core.practice.asked import (
    ALIKE,
    LESS,
    MORE,
    Question,
    Sample,
    group_of,
    marked,
    of_chroma,
    of_hue,
    of_layer,
    of_stick,
    of_value,
)
from tests.conftest import ROOT

STICKS = read_tray((ROOT / "demo/ranges/long-pier-72.csv").read_bytes()).sticks


def sample(hex_: str, place: str = "cheek", role: str = "middle") -> Sample:
    lightness, a, b = hex_to_lab(hex_).tolist()
    return Sample((lightness, a, b), place, role, place, "patches")


@pytest.mark.parametrize(
    ("hex_", "place", "role", "kind", "group"),
    [
        ("#3a2018", "cheek", "shadow", "value", "darks"),
        ("#a06a50", "cheek", "middle", "value", "middles"),
        ("#f0d0bc", "cheek", "light", "value", "lights"),
        ("#b0a8a0", "eye white", "middle", "value", "eye whites"),
        ("#3a2018", "cheek", "shadow", "hue", "shadow hues"),
    ],
)
def test_errors_are_kept_apart_by_what_was_looked_at(hex_: str, place: str, role: str, kind: str, group: str) -> None:
    assert group_of(kind, sample(hex_, place, role)) == group  # type: ignore[arg-type]


def test_a_value_is_told_as_asked_of_another_library_and_its_error_has_a_sign() -> None:
    question = of_value(sample("#a06a50"))
    xyz = colour.sRGB_to_XYZ(np.array([0xA0, 0x6A, 0x50]) / 255)
    truth = float(colour.notation.munsell_value_ASTMD1535(100 * xyz[1]))
    assert question.truth == pytest.approx(truth, abs=0.06)
    too_light = marked(question, round(truth + 2, 1))
    assert too_light.error == pytest.approx(2, abs=0.1) and not too_light.right and "too light" in too_light.said
    assert marked(question, truth - 1).error < 0 and marked(question, truth + 0.3).right


def test_warmer_and_stronger_are_told_against_the_neighbour() -> None:
    orange, violet, dull = sample("#c07850"), sample("#a07090"), sample("#a08878")
    assert of_hue(orange, violet).truth > 20 and of_hue(violet, orange).truth < -20
    assert of_chroma(orange, dull).truth > 10
    question = of_hue(orange, violet)
    assert marked(question, MORE) == marked(question, 0.9)
    assert marked(question, MORE).right and marked(question, MORE).error == 0
    # Taken for cooler than it is.
    assert marked(question, LESS).error == pytest.approx(-question.truth) and not marked(question, ALIKE).right
    alike = of_chroma(orange, sample("#c07951"))
    assert marked(alike, ALIKE).right and marked(alike, MORE).error > 0 > marked(alike, LESS).error


def test_the_nearest_of_five_sticks_is_the_nearest_by_another_library_too() -> None:
    rng = np.random.default_rng(3)
    by_code = {stick.code: stick for stick in STICKS}
    for hex_ in ("#c08a70", "#5a3428", "#e0b8a0", "#7a6a78"):
        question = of_stick(sample(hex_), STICKS, rng)
        assert question is not None and len({choice.stick for choice in question.choices}) == 5
        labs = np.array([by_code[choice.stick].lab for choice in question.choices])
        off = colour.delta_E(labs, np.array(question.samples[0].lab), method="CIE 2000")
        assert int(np.argmin(off)) == question.truth
        assert [choice.off for choice in question.choices] == pytest.approx(off, abs=0.02)
        assert marked(question, question.truth).right
        worst = int(np.argmax(off))
        assert marked(question, worst).error == pytest.approx(off.max() - off.min(), abs=0.03)
    assert of_stick(sample("#c08a70"), STICKS[:3], rng) is None


def test_the_next_layer_is_the_one_that_brings_it_nearest() -> None:
    kit = Kit(STICKS, get_support(Setup().paper), "pencil")
    laid, target = (Pass("L13", "light", 2),), sample("#8a4a38")
    offered = [
        (Pass(code, "medium", 2), "medium, twice over") for code in ("L13", "L37", "L52", "L62", "L25", "L09", "L60")
    ]
    question = of_layer(target, kit, laid, offered, np.random.default_rng(1))
    assert question is not None and len(question.choices) == 4 and question.samples[1].name == "what lies there"
    off = {
        pass_.stick: float(
            colour.delta_E(colours_after(kit, (*laid, pass_))[-1], np.array(target.lab), method="CIE 2000")
        )
        for pass_, _ in offered
    }
    best = min(off, key=lambda code: off[code])
    assert question.choices[int(question.truth)].stick == best
    assert of_layer(target, kit, laid, offered[:2], np.random.default_rng(1)) is None


def test_a_guess_beside_the_choices_is_held_within_them() -> None:
    question = Question("value", "middles", (sample("#a06a50"),), 5.0)
    assert marked(question, 40.0).error == 5.0
