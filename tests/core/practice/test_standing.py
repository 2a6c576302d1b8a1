"""What answers show: bands that hold what they say, prejudices that are there, what comes next."""

from __future__ import annotations

import numpy as np
import pytest

from core.practice.asked import GUESSED, Group, Kind
from core.practice.standing import DAY, WEEK, Answer, curves, due, prejudices


def answers(errors: object, kind: Kind = "value", group: Group = "darks", start: float = 0.0) -> list[Answer]:
    held = np.asarray(errors, dtype=float).ravel()
    return [Answer(kind, group, float(error), start + i * 600.0) for i, error in enumerate(held)]


def test_a_band_holds_the_mean_as_often_as_it_says() -> None:
    rng = np.random.default_rng(7)
    # Skewed on purpose: what a guess is off by is no normal distribution.
    true, held = 1.5 * 0.9, 0
    for _ in range(1500):
        (curve,) = curves(answers(rng.gamma(1.5, 0.9, 8)))
        (week,) = curve.weeks
        assert week.low is not None and week.high is not None
        held += week.low <= true <= week.high
    assert 0.72 < held / 1500 < 0.86, held / 1500


def test_few_answers_make_no_band_and_alike_ones_no_narrow_one() -> None:
    (curve,) = curves(answers([1.0, -2.0]))
    assert (curve.weeks[0].count, curve.weeks[0].off, curve.weeks[0].low) == (2, 1.5, None)
    (curve,) = curves(answers([0.5, 0.5, 0.5]))
    assert curve.weeks[0].low is not None and curve.weeks[0].high is not None
    assert curve.weeks[0].high - curve.weeks[0].low > 0.3
    assert curves([]) == ()


def test_weeks_are_counted_from_the_first_answer_and_empty_ones_left_out() -> None:
    rows = answers([2.0]) + answers([1.0], start=3 * WEEK + DAY) + answers([4.0], kind="hue", start=WEEK)
    value = next(curve for curve in curves(rows) if curve.kind == "value")
    assert [(week.start, week.off) for week in value.weeks] == [(0.0, 2.0), (3 * WEEK, 1.0)]


def test_a_prejudice_is_named_where_there_is_one_and_seldom_where_there_is_none() -> None:
    rng = np.random.default_rng(11)
    named, wrongly = 0, 0
    for _ in range(200):
        rows = answers(rng.normal(2.0, 0.9, 12), group="eye whites") + answers(rng.normal(0, 0.9, 12))
        found = prejudices(rows)
        named += any(row.group == "eye whites" and row.said.endswith("too light.") for row in found)
        wrongly += any(row.group == "darks" for row in found)
    assert named > 195 and wrongly < 16, (named, wrongly)


@pytest.mark.parametrize(
    ("error", "said"),
    [(0.5, "half a step too light"), (-1.0, "one step too dark"), (1.5, "one and a half steps too light")],
)
def test_steps_are_said_in_words(error: float, said: str) -> None:
    (found,) = prejudices(answers(error + np.array([0.1, -0.1, 0.1, -0.1, 0.1, -0.1])))
    assert said in found.said


def test_what_was_wrong_comes_again_at_once_and_what_was_right_later_and_later() -> None:
    rows = answers([2.0], group="darks") + answers([0.1], group="lights") + answers([0.1, 0.2, 0.0], group="middles")
    now = DAY / 2
    by = {(row.kind, row.group): row for row in due(rows, now)}
    assert by["value", "darks"].days < 0 < by["value", "lights"].days < by["value", "middles"].days
    assert by["value", "darks"].weight > by["value", "eye whites"].weight > by["value", "lights"].weight
    assert due(rows, now)[0].group == "darks"
    later = {(row.kind, row.group): row for row in due(rows, 2 * DAY)}
    assert later["value", "lights"].days < 0 < later["value", "middles"].days
    # A wrong answer afterwards begins anew.
    again = {(row.kind, row.group): row for row in due(rows + answers([3.0], group="middles", start=DAY), 2 * DAY)}
    assert again["value", "middles"].days < 0
    assert {row.kind for row in due([], 0.0)} == set(GUESSED)
