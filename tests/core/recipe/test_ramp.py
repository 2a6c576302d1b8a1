from itertools import pairwise

import pytest

from core.optics.media import get_medium
from core.optics.pencil import PencilBox
from core.optics.support import get_support
from core.recipe.ramp import WIDE_VALUE, ramp
from tests.conftest import SWATCHES, pencil


def test_a_ramp_goes_from_dark_to_light_and_each_stick_stands_once(box: PencilBox) -> None:
    found = ramp(box, ["peach", "umber", "sienna", "peach", "terracotta", "cream"])
    assert [rung.stick for rung in found.rungs] == ["umber", "sienna", "terracotta", "peach", "cream"]
    values = [rung.swatch.value for rung in found.rungs]
    assert values == sorted(values)
    assert len(found.gaps) == 4
    for gap, (low, high) in zip(found.gaps, pairwise(values), strict=True):
        assert gap.value == pytest.approx(high - low, abs=0.01)


def test_cool_notes_and_greys_are_no_steps_of_skin(box: PencilBox) -> None:
    found = ramp(box, ["umber", "sienna", "violet", "lightblue", "grey", "peach"])
    assert [rung.stick for rung in found.rungs] == ["umber", "sienna", "peach"]


def test_a_wide_gap_is_named_and_bridged_by_the_stick_between(box: PencilBox) -> None:
    found = ramp(box, ["umber", "peach"])
    (gap,) = found.gaps
    assert gap.value > WIDE_VALUE
    assert "will not blend" in gap.words
    assert gap.bridge
    assert len(gap.bridge.passes) == 1
    assert found.rungs[0].swatch.value + 1 < gap.bridge.swatch.value < found.rungs[1].swatch.value - 1


def test_without_a_stick_between_a_mixed_pass_bridges() -> None:
    two = get_medium("pencil").prepare(
        (pencil("umber", SWATCHES["umber"]), pencil("peach", SWATCHES["peach"])), get_support("medium-white")
    )
    (gap,) = ramp(two, ["umber", "peach"]).gaps
    assert gap.bridge
    assert len(gap.bridge.passes) == 2
    assert "where they meet" in gap.words


def test_neighbours_that_blend_have_nothing_to_say(box: PencilBox) -> None:
    (gap,) = ramp(box, ["brown", "sienna"]).gaps
    assert gap.words == ""
    assert gap.bridge is None


def test_a_hot_first_colour_is_calmed_by_about_a_third_with_a_complement(box: PencilBox) -> None:
    (calming,) = [row for row in ramp(box, ["orange", "peach"]).calmings if row.stick == "orange"]
    assert calming.complement in ("blue", "lightblue", "violet", "green")
    assert 0.5 < calming.after / calming.before < 0.85
    assert ramp(box, ["peach", "cream", "brown"]).calmings == ()


def test_an_empty_ramp_is_no_accident(box: PencilBox) -> None:
    assert ramp(box, []).rungs == ()
    assert ramp(box, ["nothing"]).gaps == ()
