"""What is said of a drawing. Which words fit was decided by hand for each case (common practice, no source)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.compare.judged import STAGES, Drawn, believed, judged, steps_in_words

FACE = (
    ("forehead", "light", (78.0, 12.0, 18.0), 0.5, 0.2),
    ("cheek", "light", (72.0, 18.0, 20.0), 0.4, 0.5),
    ("nose tip", "highlight", (84.0, 10.0, 14.0), 0.5, 0.5),
    ("jaw", "middle", (62.0, 15.0, 20.0), 0.3, 0.7),
    ("cheek, far side", "shadow", (40.0, 14.0, 14.0), 0.7, 0.5),
    ("under the chin", "shadow", (34.0, 12.0, 12.0), 0.5, 0.85),
    ("nostril", "deep accent", (24.0, 12.0, 8.0), 0.52, 0.55),
)


def drawn(*moved: tuple[float, float, float], doubt: float = 2.4) -> list[Drawn]:
    """The face, each place moved by so much in L*, a*, b*."""
    return [
        Drawn(name, 0, name, role, lab, tuple(np.add(lab, by).tolist()), doubt, x, y)
        for (name, role, lab, x, y), by in zip(FACE, moved, strict=True)
    ]


RIGHT = (0.0, 0.0, 0.0)
TIMID = [RIGHT, RIGHT, RIGHT, RIGHT, (12.0, 0.0, 0.0), (14.0, 0.0, 0.0), (15.0, 0.0, 0.0)]


def said(*moved: tuple[float, float, float]) -> dict[str, list[str]]:
    found = judged(drawn(*moved), ["Ines"]).findings
    assert [STAGES.index(row.stage) for row in found] == sorted(STAGES.index(row.stage) for row in found)
    return {stage: [row.text for row in found if row.stage == stage] for stage in STAGES}


def test_a_drawing_that_is_right_is_enough_and_nothing_else_is_said() -> None:
    held = said(*[RIGHT] * 7)
    assert held["values"] == ["Ines: darks and lights are right."]
    assert not any(held[stage] for stage in STAGES[1:])
    assert judged([], ["Ines"]).findings == () and judged([], []).mean == 0


def test_timid_darks_come_first_and_are_weak() -> None:
    found = judged(drawn(*TIMID), ["Ines"]).findings
    assert found[0].kind == "weak" and found[0].text.startswith("Ines: the darks are one and a half steps too light")
    assert set(found[0].places) == {"cheek, far side", "under the chin", "nostril"}
    named = [row for row in found if row.stage == "places"]
    assert named[0].text.endswith("is too light.") and len(named) == 3


def test_lights_that_are_dirty_and_middles_that_creep_dark_are_told_apart() -> None:
    assert said((-9, 0, 0), (-9, 0, 0), (-9, 0, 0), RIGHT, RIGHT, RIGHT, RIGHT)["values"][0].endswith(
        "the lights are one step too dark."
    )
    assert "middles creep dark" in said(RIGHT, RIGHT, RIGHT, (-10, 0, 0), RIGHT, RIGHT, RIGHT)["values"][1]


def test_an_order_that_is_turned_round_is_named_with_both_places() -> None:
    held = said(RIGHT, (-18, 0, 0), RIGHT, (8, 0, 0), RIGHT, RIGHT, RIGHT)
    assert held["order"][0] == "Cheek should be lighter than jaw, and is darker."


def test_neighbours_that_fell_together_are_too_alike() -> None:
    held = said(RIGHT, RIGHT, (-5, 0, 0), RIGHT, RIGHT, RIGHT, (9, 0, 0))
    assert any("are too alike" in text for text in held["order"])


@pytest.mark.parametrize(
    ("moved", "words"),
    [((0, -6, 8), "cooler|warmer"), ((0, 8, -8), "cooler|warmer"), ((0, -7, -9), "duller"), ((0, 8, 9), "stronger")],
)
def test_hue_and_chroma_are_said_of_light_and_shade_apart(moved: tuple[float, float, float], words: str) -> None:
    held = said(*[moved] * 4, RIGHT, RIGHT, RIGHT)["hue"]
    assert held and all("in the light" in text for text in held)
    assert any(word in text for text in held for word in words.split("|"))


def test_edges_are_said_where_they_can_be_told() -> None:
    face = drawn(*[RIGHT] * 7)
    for steep, word in ((2.0, "harder"), (0.4, "softer"), (1.0, ""), (None, "")):
        texts = [row.text for row in judged(face, ["Ines"], [steep]).findings if row.stage == "edges"]
        assert bool(texts) == bool(word) and all(word in text for text in texts)


def test_what_lies_within_the_readings_own_error_is_neither_named_nor_believed() -> None:
    slightly = drawn(*[(2.0, 0.5, -0.5)] * 7)
    assert all(not row.word for row in judged(slightly, ["Ines"]).verdicts)
    wanted = np.array([row.wanted for row in slightly])
    assert ciede2000(believed(slightly), wanted).max() < 0.7
    far = drawn(*TIMID)
    seen = np.array([row.seen for row in far])
    assert ciede2000(believed(far), seen)[4:].max() < 1.5
    sure = [replace(row, doubt=0.1) for row in slightly]
    assert ciede2000(believed(sure), np.array([row.seen for row in sure])).max() < 0.1


@pytest.mark.parametrize(
    ("steps", "words"), [(0.1, "half a step"), (-0.6, "half a step"), (1.0, "one step"), (1.6, "one and a half steps"),
                         (-2.1, "two steps"), (3.4, "3 and a half steps")],
)  # fmt: skip
def test_steps_are_said_to_the_half(steps: float, words: str) -> None:
    assert steps_in_words(steps) == words


def test_a_dull_or_a_yellow_place_is_called_so() -> None:
    words = {
        row.id: row.word
        for row in judged(drawn((0, -9, -11), (0, -8, 8), RIGHT, (0, 9, -9), RIGHT, RIGHT, RIGHT), ["Ines"]).verdicts
    }
    assert (words["forehead"], words["cheek"], words["jaw"]) == ("dull", "yellow", "red")
