"""What cards have taught, in plans: a tray laid out with its fits, and how far its layers may be off."""

from dataclasses import replace
from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from core.errors import InputError
from core.layers.doses import Dose
from core.layers.plan import Layer
from core.look.questions import Source
from core.optics.media import facts_of
from core.optics.stick import Tray
from core.optics.touch import Fit
from core.plan.drafted import untried_of
from core.plan.questions import Owned
from core.plan.setup import lay_out, usual_setup
from core.plan.solve import Wanted, chosen
from core.plan.tried import (
    TEACHING_STEPS,
    Filled,
    Tried,
    calibrated,
    foreseen,
    made_card,
    taught_by,
    teach_on,
)
from core.plan.trying import asked_of, by_other_hands, usual_skins
from core.trial.joint import learn
from core.trial.swatched import as_swatched
from tests.core.trial.cards import Desk
from tests.core.trial.test_joint import boxes_of, stacks_of
from tools.camera import Camera

DESK = Desk()
PHONE = Camera(3, "mild", 0.06, size=(1200, 900))


def layers_of(*codes: str) -> list[Layer]:
    dose = Dose("medium", 1)
    return [Layer(code, dose, (dose,), "everywhere") for code in codes]


def test_layers_of_tried_sticks_are_off_by_what_is_still_unknown_of_them() -> None:
    sticks, support = DESK.nature.sticks, DESK.nature.support
    tried = Tried(sticks, support, "pencil", tuple(boxes_of(DESK.nature, stacks_of(DESK.nature, 30, 1))))
    found = calibrated(tried)
    setup, usual = usual_setup("pencil"), facts_of("pencil").untried
    listed, shown = (lay_out(Tray("", held), setup) for held in (sticks, found.sticks))
    codes = [stick.code for stick in sticks[:3]]
    assert untried_of(listed, layers_of(*codes)) == usual
    assert 0 < untried_of(shown, layers_of(*codes)) < 0.8 * usual
    assert found.doubt < usual and found.errors is not None and not found.left_out
    assert [as_swatched(stick) for stick in found.sticks] == list(found.sticks)


def test_a_first_card_of_markers_asks_for_what_other_hands_would_lay_too() -> None:
    # Truth: a nature of other physics; what is planned once its first boxes are known has that in it.
    nature = Desk("marker").nature
    laid_out = lay_out(Tray("", nature.sticks), usual_setup("marker"))
    _, skins = usual_skins()
    nothing, something = (
        learn(nature.sticks, nature.support, "marker", boxes_of(nature, stacks_of(nature, count, 1)))
        for count in (0, 8)
    )
    first, later = (asked_of(laid_out, [], np.zeros((0, 3)), 12, known) for known in (nothing, something))
    usual = {stack for _, stack in first.stacks}
    others = set(first.otherwise())
    assert others - usual and not later.otherwise()
    assert not asked_of(laid_out, [], np.zeros((0, 3)), 96, nothing).otherwise()
    known = lay_out(Tray("", something.doubted(())), usual_setup("marker"), something.support)
    then = {stack for stack in chosen(known, [Wanted.of(lab) for lab in known.aims(skins)]) if stack}
    assert len(then & (usual | others)) > len(then & usual)


def test_of_pencils_what_other_hands_would_lay_is_not_asked() -> None:
    laid_out = lay_out(Tray("", DESK.nature.sticks), usual_setup("pencil"))
    assert not by_other_hands(laid_out, [Wanted((60.0, 18.0, 22.0))], DESK.untried, 12)


def test_a_card_after_others_asks_for_what_is_still_unknown() -> None:
    sticks, support = DESK.nature.sticks, DESK.nature.support
    owned, boxes = Owned(sticks, usual_setup("pencil")), tuple(boxes_of(DESK.nature, stacks_of(DESK.nature, 30, 1)))
    seen = [(60.0, 18.0, 22.0), (45.0, 18.0, 20.0)]
    first, after = (
        made_card(owned, Tried(sticks, support, "pencil", held), ["cheek", "jaw"], seen, "teach", "A5", 0, 6)
        for held in ((), boxes)
    )
    assert first[0].bands and after[0].bands and after[0].bands[0] < first[0].bands[0]
    assert first[0].cells != after[0].cells
    # A stick that is gone meanwhile is foreseen as bare paper, and nothing is known of its boxes.
    left = tuple(stick for stick in sticks if stick.code != first[0].cells[0].passes[0].stick)
    known = foreseen(first[0], Tried(left, support, "pencil").known())
    assert known.bands[0] is None and known.labs[0][0] > 90


def test_of_two_sticks_that_do_the_same_the_one_that_is_liked_is_taken() -> None:
    sticks, wanted = DESK.nature.sticks, [Wanted((lightness, 16.0, 20.0)) for lightness in (40.0, 55.0, 70.0)]
    for liked in (False, True):
        twins = tuple(replace(stick, code=f"A{stick.code}", fit=Fit(liked=liked)) for stick in sticks)
        others = tuple(replace(stick, code=f"B{stick.code}", fit=Fit(liked=not liked)) for stick in sticks)
        stacks = chosen(lay_out(Tray("", (*twins, *others)), usual_setup("pencil")), wanted)
        used = {pass_.stick[0] for stack in stacks for pass_ in stack}
        assert used == {"A" if liked else "B"}


def test_a_photograph_is_worked_on_in_steps_to_the_same_end() -> None:
    card = DESK.card(count=12)
    data, _ = DESK.taken(card, DESK.laid(card), PHONE)
    tried = Tried(DESK.nature.sticks, DESK.nature.support, "pencil")
    filled = Filled(Source("filled", data), card, tried)
    at_once = taught_by(filled)
    for _ in range(TEACHING_STEPS + 3):
        teach_on(filled)
    in_steps = taught_by(filled)
    assert at_once.calibrated is not None and in_steps == at_once
    assert all(stick.fit.count for stick in at_once.calibrated.sticks)


def test_what_went_wrong_in_a_step_is_begun_anew() -> None:
    grey = BytesIO()
    Image.new("RGB", (400, 300), (128, 128, 128)).save(grey, "PNG")
    filled = Filled(
        Source("grey", grey.getvalue()),
        DESK.card(count=6),
        Tried(DESK.nature.sticks, DESK.nature.support, "pencil"),
    )
    for work in (teach_on, teach_on, taught_by):
        with pytest.raises(InputError, match="marks of a card are not seen"):
            work(filled)
