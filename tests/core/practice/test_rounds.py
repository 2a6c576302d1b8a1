"""Rounds are made of what there is, ask what is weak, and a ramp by hand is measured."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest

from core.colour.spaces import xyz_to_lab
from core.errors import InputError
from core.exchange.tray_csv import read_tray
from core.optics.medium import Pass
from core.optics.support import get_support
from core.plan.setup import Setup
from core.practice.asked import Kind, Sample, Source
from core.practice.ramp import read_ramp
from core.practice.rounds import COUNT, Asking, PlannedPlaces, make_round
from core.practice.standing import DAY, Answer
from tests.conftest import ROOT

STICKS = read_tray((ROOT / "demo/ranges/long-pier-72.csv").read_bytes()).sticks
PAPER = get_support(Setup().paper)


def asking(
    kinds: tuple[Kind, ...] = (), sources: tuple[Source, ...] = (), answers: tuple[Answer, ...] = (), seed: int = 1,
    samples: tuple[Sample, ...] = (), plans: tuple[PlannedPlaces, ...] = (),
) -> Asking:  # fmt: skip
    return Asking(samples, STICKS, plans, answers, 100 * DAY, kinds, sources, seed)


def test_a_round_asks_eight_different_things_and_the_same_seed_the_same() -> None:
    made = make_round(asking())
    assert len(made.questions) == COUNT and make_round(asking()) == made != make_round(asking(seed=2))
    assert len({(question.kind, question.samples[0].lab) for question in made.questions}) == COUNT
    assert {question.kind for question in made.questions} <= {"value", "hue", "chroma", "stick"}


def test_kinds_and_sources_are_as_they_were_chosen() -> None:
    made = make_round(asking(("hue",), ("patches",)))
    assert {question.kind for question in made.questions} == {"hue"} and made.scene is None
    assert all(sample.source == "patches" for question in made.questions for sample in question.samples)
    head = make_round(asking(("value",), ("study head",)))
    assert head.scene is not None and {question.samples[0].source for question in head.questions} == {"study head"}
    with pytest.raises(InputError, match="nothing to ask"):
        make_round(asking(sources=("references",)))
    with pytest.raises(InputError, match="nothing to ask"):
        make_round(asking(kinds=("layer",)))


def test_what_is_weak_is_asked_more_often() -> None:
    groups = ("darks", "middles", "lights", "eye whites")
    answers = tuple(
        Answer("value", group, 3.0 if group == "eye whites" else 0.0, (80 + day) * DAY)
        for day in range(20)
        for group in groups
    )
    asked = Counter(
        question.group
        for seed in range(12)
        for question in make_round(asking(("value",), ("patches",), answers, seed)).questions[:1]
    )
    assert asked["eye whites"] > 6, asked


def test_a_planned_place_asks_for_its_next_layer() -> None:
    sample = Sample((40.0, 22.0, 20.0), "cheek", "middle", "cheek", "references", "piece", "figure-1")
    passes = (Pass("L13", "light", 2), Pass("L37", "medium", 2), Pass("L52", "medium", 1))
    held = tuple(stick for stick in STICKS if stick.code in ("L13", "L37", "L52", "L62", "L25", "L72"))
    plan = PlannedPlaces(held, PAPER, "pencil", ((sample, passes),))
    made = make_round(asking(("layer",), ("references",), samples=(sample,), plans=(plan,)))
    assert made.questions and {question.kind for question in made.questions} == {"layer"}
    for question in made.questions:
        assert question.samples[0] == sample and all(choice.how for choice in question.choices)
    # Where references are not wanted, their plans are not either.
    with pytest.raises(InputError, match="nothing to ask"):
        make_round(asking(("layer",), ("patches",), samples=(sample,), plans=(plan,)))


def greys(*values: float) -> list[tuple[float, float, float]]:
    """CIELAB of greys of these Munsell values, by the published polynomial (ASTM D1535)."""
    found = []
    for v in values:
        y = 1.1914 * v - 0.22533 * v**2 + 0.23352 * v**3 - 0.020484 * v**4 + 0.00081939 * v**5
        lab = xyz_to_lab(np.array([0.95047, 1.0, 1.08883]) * y / 100)
        found.append((float(lab[0]), float(lab[1]), float(lab[2])))
    return found


def test_five_even_steps_are_told_from_timid_and_from_uneven_ones() -> None:
    paper, black = greys(9.5)[0], greys(2.0)[0]
    even = read_ramp(greys(8.0, 6.5, 5.0, 3.5, 2.0), paper, black)
    assert np.abs(even.errors).max() < 0.1 and even.said == "Five even steps, as wanted."
    assert even.wanted == pytest.approx((8.0, 6.5, 5.0, 3.5, 2.0), abs=0.05)
    timid = read_ramp(greys(8.6, 7.7, 6.8, 5.9, 5.0), paper, black)
    assert timid.errors[-1] == pytest.approx(3.0, abs=0.1) and "3.0 steps deeper" in timid.said
    uneven = read_ramp(greys(3.5, 8.0, 7.9, 5.0, 2.0), paper, black)
    assert "Steps 1 and 2 are as good as alike" in uneven.said
    # Without its stick the darkest is what it can do.
    assert np.abs(read_ramp(greys(8.6, 7.7, 6.8, 5.9, 5.0), paper).errors).max() < 0.1


def test_what_is_no_ramp_is_refused_in_clear_words() -> None:
    paper = greys(9.5)[0]
    with pytest.raises(InputError, match="3 swatches are in this photograph, not five"):
        read_ramp(greys(8, 6, 4), paper)
    with pytest.raises(InputError, match="as light as the paper"):
        read_ramp(greys(9.4, 9.3, 9.2, 9.1, 9.0), paper)
