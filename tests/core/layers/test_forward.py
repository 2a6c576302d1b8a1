"""What layers give at many places under many hands, against the exact model at one place under one hand."""

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.layers.doses import NONE, Dose, scale_of
from core.layers.forward import Places
from core.layers.hands import hands_for
from core.optics.media import MEDIA, get_medium
from core.optics.medium import Box, Hand, Pass
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.optics.support import supports
from tests.conftest import SWATCHES, pencil

TARGETS = np.array([[72.0, 12, 20], [48, 16, 18], [30, 10, 9]])


def box_of(medium: str) -> Box:
    paper = next(paper for paper in supports().values() if paper.media[0] == medium or medium in paper.media)
    sticks = tuple(Stick(code, code, medium, pencil(code, lab).hex) for code, lab in SWATCHES.items())
    return get_medium(medium).prepare(sticks, paper)


def test_hands_are_the_same_for_everybody_and_the_first_is_steady() -> None:
    hands = hands_for(5, 24)
    assert len(hands) == 25
    assert (hands.film[0] == 1).all()
    assert (hands.slips[0] == 0).all()
    assert np.array_equal(hands.slips, hands_for(5, 24).slips)
    # Each layer meets light and heavy hands alike, and a stroke less as often as one more.
    assert np.allclose(np.log(hands.film[1:]).mean(axis=0), 0, atol=1e-9)
    assert np.allclose(np.log(hands.film[1:]).std(axis=0), 0.14, atol=0.01)
    assert ((hands.slips[1:] == 1).sum(axis=0) == 4).all()
    assert ((hands.slips[1:] == -1).sum(axis=0) == 4).all()


@pytest.mark.parametrize("medium", sorted(MEDIA))
def test_the_steady_hand_lays_what_the_exact_model_does(medium: str) -> None:
    box, scale = box_of(medium), scale_of(medium)
    places = Places(box, scale, TARGETS, hands_for(3, 3))
    layers = [("peach", [1, 2, NONE]), ("terracotta", [NONE, len(scale.doses), 2]), ("umber", [1, NONE, 3])]
    state = places.start()
    for slot, (code, doses) in enumerate(layers):
        state = places.lay(state, slot, list(SWATCHES).index(code), np.array(doses))
    for place, seen in enumerate(places.labs(state)[:3]):
        laid = [(code, scale.doses[doses[place] - 1]) for code, doses in layers if doses[place] != NONE]
        passes = [Pass(code, d.pressure, d.repeats, "flick" if d.flicked else "lay") for code, d in laid]
        exact = colours_after(box, passes)[-1]
        assert np.allclose(seen, exact, atol=0.15)
        assert places.errors(state)[0, place] == pytest.approx(float(ciede2000(TARGETS[place], exact)), abs=0.15)


@pytest.mark.parametrize("medium", sorted(MEDIA))
def test_every_dose_at_once_is_each_dose_by_itself(medium: str) -> None:
    box, scale = box_of(medium), scale_of(medium)
    places = Places(box, scale, TARGETS, hands_for(3, 5))
    start = places.lay(places.start(), 1, 3, np.array([1, NONE, 2]))
    each = places.each_dose(start, 2, 6)
    for dose in range(len(scale.doses) + 1):
        alone = places.lay(start, 2, 6, np.full(3, dose))
        rows = slice(dose * places.rows, (dose + 1) * places.rows)
        assert np.allclose(each.roots[rows], alone.roots, atol=2e-4)
        assert np.allclose(each.filled[rows], alone.filled)


def test_a_heavy_hand_is_one_that_the_exact_model_knows() -> None:
    box, scale = box_of("pencil"), scale_of("pencil")
    hands = hands_for(1, 6)
    places = Places(box, scale, TARGETS[:1], hands)
    dose = scale.index(Dose("medium", 2))
    seen = places.labs(places.lay(places.start(), 4, 6, np.array([dose])))
    for number, lab in enumerate(seen):
        hand = Hand(float(hands.film[number, 4]), float(hands.cover[number, 4]))
        times = 2 + int(hands.slips[number, 4, 0])
        passes = [Pass("terracotta", "medium", times)]
        assert np.allclose(lab, colours_after(box, passes, hand)[-1], atol=0.15)


def test_a_marker_laid_again_remembers_its_coats() -> None:
    box, scale = box_of("marker"), scale_of("marker")
    places = Places(box, scale, TARGETS[:1], hands_for(1, 0))
    under, over, once = 3, 6, np.array([scale.index(Dose("light", 2))])
    state = places.lay(places.lay(places.start(), 0, under, once), 1, over, once, "wet")
    state = places.lay(state, 2, under, once, before=np.array([2]))
    code, top = (list(SWATCHES)[number] for number in (under, over))
    passes = [Pass(code, "light", 2), Pass(top, "light", 2, "wet"), Pass(code, "light", 2)]
    assert np.allclose(places.labs(state)[0], colours_after(box, passes)[-1], atol=0.15)


def test_the_coarse_box_is_near_enough_to_compare_by() -> None:
    for medium in ("pencil", "marker", "pastel", "oil_pastel"):
        box, scale = box_of(medium), scale_of(medium)
        every, coarse = (Places(b, scale, TARGETS, hands_for(3, 0)) for b in (box, box.coarse()))
        labs = []
        for places in (every, coarse):
            state = places.start()
            for slot, code in enumerate(("ochre", "violet", "sienna")):
                state = places.lay(state, slot, list(SWATCHES).index(code), np.array([1, 2, 3]))
            labs.append(places.labs(state).astype(float))
        assert ciede2000(*labs).max() < 0.1


def test_what_is_far_off_costs_more_than_its_share_and_value_more_than_hue() -> None:
    places = Places(box_of("pencil"), scale_of("pencil"), TARGETS[1:2], hands_for(1, 0))
    near, far, darker, redder = places.costs_of_labs(
        (TARGETS[1] + np.array([[0, 1, 0], [0, 4, 0], [3, 0, 0], [0, 3, 0]])).astype(np.float32)
    )[0]
    assert far > 4 * near
    assert darker > redder
