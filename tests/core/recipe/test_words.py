"""What is said about recipes: why, departures, undertones, answers, neighbours."""

import numpy as np
import pytest

from core.optics.medium import Pass
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after
from core.recipe import rules
from core.recipe.answers import answers
from core.recipe.context import beside
from core.recipe.figure import Mixed, figure_plan
from core.recipe.recipe import Recipe, work_out
from core.recipe.table import Table
from core.recipe.why import undertones, why


def made(box: PencilBox, *passes: Pass, role: str = "middle") -> Recipe:
    return work_out(box, passes, colours_after(box, passes)[-1], role)


def test_why_names_the_base_the_undertone_and_what_the_rest_does(box: PencilBox) -> None:
    recipe = made(box, Pass("lightblue", "light"), Pass("peach", "medium", 2), Pass("sienna", "medium"))
    said = why(recipe, box)
    assert said.startswith("Peach is the base; lightblue beneath gives the blue undertone")
    assert "sienna" in said
    assert "deepens" in said
    assert undertones(recipe, box) == {0: "blue"}


def test_sticks_that_do_the_same_are_named_together(box: PencilBox) -> None:
    cool = [Pass("lightblue", "light"), Pass("peach", "light"), Pass("blue", "light"), Pass("lightblue", "light")]
    said = why(made(box, *cool, Pass("peach", "heavy")), box)
    beneath = "lightblue beneath gives the blue undertone; blue beneath gives the blue-violet undertone"
    assert said == f"Peach is the base; {beneath}; peach warms and calms it."
    deeper = [Pass("peach", "medium"), Pass("sienna", "medium"), Pass("brown", "medium"), Pass("sienna", "medium")]
    said = why(made(box, *deeper), box)
    assert said == "Peach is the base; sienna deepens and strengthens it; brown and sienna deepen it."


def test_bare_paper_and_what_is_left_over_are_said(box: PencilBox) -> None:
    assert "leave it free" in why(work_out(box, [], box.support.lab), box)
    off = work_out(box, [Pass("peach")], [40, 10, 10])
    assert "value steps too light" in why(off, box)


def test_a_figure_has_a_base_departures_and_undertones(box: PencilBox) -> None:
    spots = [
        Mixed("a", "cheek", "middle", made(box, Pass("peach", "medium", 2), Pass("sienna", "light"))),
        Mixed("b", "forehead", "highlight", made(box, Pass("cream", "medium"))),
        Mixed("c", "jaw", "shadow", made(box, Pass("violet"), Pass("sienna", "medium", 2), Pass("brown", "medium"))),
    ]
    plan = figure_plan(spots, box)
    assert plan.base == "a"
    light, shadow = plan.departures
    assert (light.part, light.spot) == ("highlight", "b")
    assert "lighter" in light.words
    assert set(light.drops) == {"peach", "sienna"}
    assert "darker" in shadow.words
    assert "brown" in shadow.adds
    (tone,) = plan.undertones
    assert (tone.spot, tone.stick, tone.place) == ("c", "violet", "jaw")
    assert "violet" not in plan.sticks
    assert figure_plan([], box).base == ""


def test_answers_are_the_closest_the_fewest_and_the_right_value(box: PencilBox) -> None:
    table = Table(box, rules.free(box))
    for target in ([62.0, 16, 18], [38.0, 14, 15], [80.0, 9, 15]):
        found = {answer.kind: answer.found for answer in answers(table, np.array(target), 4)}
        off = {kind: work_out(box, table.passes(hit.path), target) for kind, hit in found.items()}
        closest = off["closest"]
        assert all(closest.delta_e <= other.delta_e + 0.1 for other in off.values())
        if "fewest colours" in off:
            fewest = {step.pass_.stick for step in off["fewest colours"].steps}
            assert len(fewest) <= len({step.pass_.stick for step in closest.steps})
        if "right value, freer hue" in off:
            assert abs(off["right value, freer hue"].delta_v) < 0.2


SKIN = [65.0, 16.0, 18.0]


@pytest.mark.parametrize(
    ("neighbour", "words"),
    [
        ([96, 0, 1.5], ["darker"]),
        ([15, 0, 0], ["lighter"]),
        ([55, 70, 40], ["calmer"]),
        ([62, 0, 0], ["stronger"]),
        ([45, 10, -50], ["warmer"]),
        ([70, 25, 60], ["cooler"]),
        ([66, 15, 17], ["as it is"]),
    ],
)
def test_a_neighbour_changes_what_is_seen(neighbour: list[float], words: list[str]) -> None:
    said = beside(SKIN, neighbour)
    assert all(word in said for word in words)
