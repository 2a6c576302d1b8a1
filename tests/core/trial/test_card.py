"""Trial cards: what they ask, how they are printed, what is read back, what is refused."""

import re
from dataclasses import replace

import numpy as np
import pypdfium2
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.exchange.card_sheet import write_card
from core.optics.media import facts_of
from core.optics.medium import Pass
from core.photo.swatch_sheet import sheets
from core.photo.swatches import DOUBT
from core.trial.calibration import calibrate
from core.trial.card import FIRST_NUMBER, GONE, KINDS, NUMBERS, Card, instructions, make_card
from core.trial.joint import MeasuredBox
from core.trial.reading import EMPTY, EXCHANGED, FINE, GLARE, CardRead, read_card
from core.trial.teaching import Stack
from tests.core.trial.cards import Desk
from tests.core.trial.test_joint import boxes_of, stacks_of
from tools.camera import Camera

PHONE = Camera(seed=2, curve="mild", tilt=0.06, size=(1600, 1200))
DESK = Desk()


def read(desk: Desk, card: Card, labs: list[list[float]], camera: Camera = PHONE) -> CardRead:
    foreseen = desk.foreseen(card)
    return read_card(
        desk.photo(card, labs, camera), card, foreseen, np.full(len(foreseen), 7.0), desk.nature.support.lab
    )


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("medium", ["pencil", "marker"])
def test_every_kind_of_card_asks_what_a_hand_can_lay(kind: str, medium: str) -> None:
    desk = Desk(medium)
    card = desk.card(kind, "A4", 40)
    assert 0 < len(card.cells) <= 40
    for cell in card.cells:
        desk.kit.apply(desk.kit.start(), cell.passes[0])
        assert instructions(cell.passes)[0].endswith(("light", "medium", "heavy", "×2", "×3"))
        assert cell.bare < len(card.cells)
    assert len({page.number for page in card.pages()}) == len(card.pages())


def test_the_card_that_teaches_says_beforehand_how_sure_plans_become() -> None:
    few, many = (DESK.card("teach", count=count) for count in (8, 20))
    assert few.bands and many.bands
    assert many.bands[1] < few.bands[1] < few.bands[0] == many.bands[0]
    assert len({cell.passes for cell in many.cells}) == 20
    assert any(len(cell.passes) > 1 for cell in many.cells) and any(cell.says for cell in many.cells)


def test_crosses_leave_out_what_cannot_be_seen_and_name_the_box_to_compare_with() -> None:
    card = DESK.card("crosses", "A4", 60)
    foreseen = DESK.foreseen(card)
    crossed = [(i, cell) for i, cell in enumerate(card.cells) if cell.bare >= 0]
    assert crossed and {cell.passes[-1].repeats for _, cell in crossed} == {1, 2}
    for i, cell in crossed:
        assert card.cells[cell.bare].passes == cell.passes[1:]
        assert ciede2000(foreseen[i], foreseen[cell.bare]) >= GONE


def test_charts_are_in_order_and_a_sequence_lays_and_coats() -> None:
    by_value = DESK.foreseen(DESK.card("values", "A4", 60))[:, 0]
    assert (np.diff(by_value) < 4).all() and by_value[0] > by_value[-1] + 20
    lengths = [len(cell.passes) for cell in DESK.card("sequence", "A4", 60).cells]
    assert lengths[:4] == [1, 2, 3, 4]
    assert [cell.passes for cell in DESK.card("plan", "A4", 60).cells] == [stack for _, stack in DESK.stacks]


def test_what_cannot_be_made_is_refused() -> None:
    for kind, size, count, code in (
        ("tarot", "A5", 12, "unknown_card"), ("teach", "A9", 12, "unknown_size"), ("teach", "A5", 0, "bad_count")
    ):  # fmt: skip
        with pytest.raises(InputError) as caught:
            DESK.card(kind, size, count)
        assert caught.value.code == code
    with pytest.raises(InputError) as caught:
        make_card("plan", "A5", 0, replace(DESK.asked(), stacks=()))
    assert caught.value.code == "nothing_to_try"


def test_only_the_card_that_teaches_asks_what_the_piece_may_ask_for_later() -> None:
    asked: list[str] = []

    def noted() -> tuple[Stack, ...]:
        asked.append("asked")
        return ()

    for kind in KINDS:
        make_card(kind, "A4", 0, replace(DESK.asked(12), otherwise=noted))
        assert (asked == ["asked"]) == (kind == "teach"), kind
        asked.clear()


@pytest.mark.parametrize(("size", "mm"), [("A4", (210, 297)), ("A5", (148, 210)), ("Letter", (215.9, 279.4))])
def test_a_card_is_printed_at_its_true_size_with_its_sticks_and_cautions(size: str, mm: tuple[float, float]) -> None:
    card = DESK.card("plan", size, 18)
    pdf = pypdfium2.PdfDocument(write_card(card, DESK.foreseen(card), "Night watch", facts_of("pencil").caution))
    assert len(pdf) == len(card.pages())
    assert np.allclose(np.array(pdf[0].get_size()) / 72 * 25.4, mm, atol=0.2)
    text = pdf[0].get_textpage().get_text_bounded()
    assert f"Card {card.number}" in text and "50 mm" in text and "safety sheet" in text
    assert all(line in text for line in instructions(card.cells[0].passes))
    # 50 mm between the ends of the line of known length.
    black = np.asarray(pdf[0].render(scale=4).to_pil().convert("L")) < 160
    runs = [np.diff(np.flatnonzero(np.diff(np.r_[0, row, 0])))[::2] for row in black.astype(int)]
    assert np.abs(np.concatenate(runs) / 4 / 72 * 25.4 - 50).min() < 0.2


def test_the_numbers_of_cards_are_none_of_swatch_sheets_and_come_round() -> None:
    numbers = {DESK.card("plan", number=number).number for number in (0, 5, NUMBERS - 1, NUMBERS)}
    assert numbers == {FIRST_NUMBER, FIRST_NUMBER + 5, FIRST_NUMBER + NUMBERS - 1}
    assert not numbers & set(sheets())


@pytest.mark.parametrize("curve", ["mild", "strong"])
def test_boxes_are_read_from_a_photograph_and_make_the_plans_true(curve: str) -> None:
    card = DESK.card()
    photo, true = DESK.photographed(card, DESK.laid(card), replace(PHONE, curve=curve))
    found = read_card(photo, card, DESK.foreseen(card), np.full(20, 7.0), DESK.nature.support.lab)
    off = ciede2000(np.array([row.lab for row in found.boxes]), true)
    assert np.median(off) < {"mild": 2.4, "strong": 3.7}[curve]
    fine = [row for row in found.boxes if row.verdict == FINE]
    assert len(fine) >= 17 and found.said == "" and all(row.doubt >= DOUBT for row in fine)
    boxes = [MeasuredBox(card.cells[row.cell].passes, row.lab, row.doubt) for row in fine]
    calibration = calibrate(DESK.nature.sticks, DESK.nature.support, "pencil", boxes)
    stacks = [stack for _, stack in DESK.stacks]
    truth = np.array([DESK.nature.lab(stack) for stack in stacks])
    before, after = (np.median(ciede2000(x.labs(stacks), truth)) for x in (DESK.untried, calibration.learnt))
    # What a strong curve leaves is common to all boxes, and is learnt with them.
    assert after < {"mild": 0.7, "strong": 0.9}[curve] * before
    assert calibration.errors is not None
    assert calibration.errors.after < calibration.errors.held_out < calibration.errors.before
    assert calibration.words and all(said.endswith(".") for said in calibration.words)


def test_sticks_that_were_measured_before_tell_what_the_camera_did() -> None:
    card = DESK.card()
    photo, labs = DESK.photographed(card, DESK.laid(card), replace(PHONE, curve="strong"))
    foreseen = DESK.foreseen(card)
    known = np.where(np.arange(len(labs))[:, None] % 2 == 0, labs, foreseen)
    bands = np.where(np.arange(len(labs)) % 2 == 0, 2.0, 7.0)
    alone, told = (
        read_card(photo, card, foreseen_, bands_, DESK.nature.support.lab)
        for foreseen_, bands_ in ((foreseen, np.full(len(labs), 7.0)), (known, bands))
    )
    off = [
        np.median(ciede2000(np.array([row.lab for row in found.boxes])[1::2], labs[1::2])) for found in (alone, told)
    ]
    assert off[1] < 0.8 * off[0]


def test_half_a_card_is_fine_and_what_is_wrong_with_a_box_is_said() -> None:
    card = DESK.card()
    labs = DESK.laid(card)
    white = list(DESK.nature.support.lab)
    foreseen = DESK.foreseen(card)
    swapped = next((i, j) for i in range(10) for j in range(i) if ciede2000(foreseen[i], foreseen[j]) > 25)
    labs[swapped[0]], labs[swapped[1]] = labs[swapped[1]], labs[swapped[0]]
    half = labs[:12] + [white] * 8
    found = read(DESK, card, half)
    assert [row.verdict for row in found.boxes[12:]] == [EMPTY] * 8
    assert {row.cell for row in found.boxes if row.verdict == EXCHANGED} == set(swapped)
    assert f"box {swapped[1] + 1}" in found.boxes[swapped[0]].said
    assert any(row.verdict == GLARE for row in read(DESK, card, labs, replace(PHONE, glare=True)).boxes)


def test_what_is_no_such_photograph_is_refused_in_clear_words() -> None:
    card, other = DESK.card(), DESK.card(number=9)
    labs = DESK.laid(card)
    blurred = DESK.photo(card, labs, replace(PHONE, size=(160, 120)))
    cases = {
        "no_card": blurred,
        "another_card": DESK.photo(other, labs, PHONE),
        "empty_card": DESK.photo(card, [], PHONE),
        "all_alike": DESK.photo(card, [labs[3]] * 20, PHONE),
    }
    for code, photo in cases.items():
        with pytest.raises(InputError) as caught:
            read_card(photo, card, DESK.foreseen(card), np.full(20, 7.0), DESK.nature.support.lab)
        assert caught.value.code == code and caught.value.field == "photo"


def test_upside_down_is_read_and_corners_by_hand_do_without_marks() -> None:
    card = DESK.card()
    labs = DESK.laid(card)
    photo = DESK.photo(card, labs, PHONE)
    turned = replace(photo, pixels=photo.pixels[::-1, ::-1])
    straight, upside = (
        read_card(p, card, DESK.foreseen(card), np.full(20, 7.0), DESK.nature.support.lab) for p in (photo, turned)
    )
    by_hand = read_card(
        photo, card, DESK.foreseen(card), np.full(20, 7.0), DESK.nature.support.lab, corners=straight.corners
    )
    with pytest.raises(InputError, match="no page 3"):
        read_card(photo, card, DESK.foreseen(card), np.full(20, 7.0), (96, 0, 1.5), page=2, corners=straight.corners)
    for found in (upside, by_hand):
        assert np.median(ciede2000([row.lab for row in found.boxes], [row.lab for row in straight.boxes])) < 1


def wild_boxes(count: int) -> list[MeasuredBox]:
    """Readings by chance, of single sticks."""
    rng = np.random.default_rng(0)
    codes = [stick.code for stick in DESK.nature.sticks[:8]]
    labs = [(float(rng.uniform(5, 95)), *rng.uniform(-60, 60, 2).tolist()) for _ in range(count)]
    return [MeasuredBox((Pass(codes[i % 8], "medium"),), lab) for i, lab in enumerate(labs)]


def test_readings_that_no_stick_can_make_are_refused_and_name_their_boxes() -> None:
    sticks, support = DESK.nature.sticks, DESK.nature.support
    with pytest.raises(InputError, match="cannot make") as caught:
        calibrate(sticks, support, "pencil", wild_boxes(24), range(1, 25))
    assert (
        caught.value.code == "boxes_disagree" and "is kept" in caught.value.hint and caught.value.hint.count(",") >= 5
    )
    assert calibrate(sticks, support, "pencil", []).errors is None


def test_a_wrong_card_is_refused_however_many_were_right_before_it() -> None:
    sticks, support = DESK.nature.sticks, DESK.nature.support
    right = boxes_of(DESK.nature, stacks_of(DESK.nature, 60, 1))
    with pytest.raises(InputError, match="cannot make") as caught:
        calibrate(sticks, support, "pencil", [*right, *wild_boxes(12)], range(1, 13))
    named = re.search(r"Look at boxes ([\d, ]+):", caught.value.hint)
    assert named and set(named[1].split(", ")) <= {str(number) for number in range(1, 13)}
    # One that slipped among many is no reason.
    slipped = [*boxes_of(DESK.nature, stacks_of(DESK.nature, 11, 2)), *wild_boxes(1)]
    assert len(right) + 11 in calibrate(sticks, support, "pencil", [*right, *slipped], range(1, 13)).disagree
