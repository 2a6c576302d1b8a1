"""A tray changed: what is asked for happens, and nothing else; what cannot be leaves all as it was."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.errors import CaltinError, NotFoundError
from core.optics.stick import Kept, Stick, Tray
from core.tray.editing import MAX_STICKS, StickChange, changed, ordered, put, some_of, without

RUST, SKY = Stick("1", "rust", "pencil", "#a0522d"), Stick("2", "sky", "pencil", "#88bbee", black_hex="#101010")
BOX = Tray("Box", (RUST, SKY), (Kept(), Kept(3, "the old one", ("dusty",))))


def test_sticks_are_put_in_once() -> None:
    rose = Stick("3", "rose", "marker", "#e08090", "transparent")
    held = put(BOX, [(rose, Kept(source="guessed")), (SKY, Kept())])
    assert held.sticks == (RUST, SKY, rose)
    assert held.kept == (*BOX.kept, Kept(source="guessed"))
    assert put(held, [(rose, Kept())]) == held
    assert put(Tray("New"), [(rose, Kept())]).sticks == (rose,)


def test_something_about_sticks_is_changed_and_the_rest_stays() -> None:
    held = changed(BOX, ["1", "2"], StickChange(condition="low", count=2))
    assert [stick.condition for stick in held.sticks] == ["low", "low"]
    assert held.kept == (Kept(2), Kept(2, "the old one", ("dusty",)))
    painted = changed(BOX, ["2"], StickChange(hex="#99ccff", source="picked")).sticks[1]
    assert painted == replace(SKY, hex="#99ccff", black_hex="")
    assert changed(BOX, ["2"], StickChange(code="B7", name="pale sky")).sticks[1].code == "B7"


def test_sticks_are_taken_away_sorted_and_picked_out() -> None:
    assert without(BOX, ["1"]) == Tray("Box", (SKY,), (BOX.kept[1],))
    assert ordered(BOX, ["2", "1"]).kept == ordered(BOX, ["2"]).kept == BOX.kept[::-1]
    assert some_of(BOX, ["2"]) == [(SKY, BOX.kept[1])]
    assert some_of(replace(BOX, kept=()), ["2"]) == [(SKY, Kept())]


@pytest.mark.parametrize(
    ("edit", "code", "field"),
    [
        (lambda: put(BOX, [(replace(RUST, hex="#000000"), Kept())]), "double_code", "code"),
        (lambda: put(BOX, [(replace(RUST, code="9"), Kept())] * 2), "double_code", "code"),
        (lambda: put(BOX, [(replace(RUST, code=f"n{i}"), Kept()) for i in range(400)]), "too_many_sticks", "sticks"),
        (lambda: put(BOX, [(replace(RUST, code="9", medium="quill"), Kept())]), "unknown_medium", "medium"),
        (lambda: put(BOX, [(replace(RUST, code="9", name=" "), Kept())]), "bad_stick", "name"),
        (lambda: put(BOX, [(replace(RUST, code="9", name="n" * 500), Kept())]), "bad_stick", "name"),
        (lambda: put(BOX, [(replace(RUST, code="9", hex="red"), Kept())]), "bad_stick", "hex"),
        (lambda: changed(BOX, ["1"], StickChange(code="2")), "double_code", "code"),
        (lambda: changed(BOX, ["1", "2"], StickChange(code="3")), "one_at_a_time", "code"),
        (lambda: changed(BOX, ["1"], StickChange(opacity="milky")), "bad_stick", "opacity"),
        (lambda: changed(BOX, ["1"], StickChange(condition="eaten")), "bad_stick", "condition"),
        (lambda: changed(BOX, ["1"], StickChange(count=0)), "bad_stick", "count"),
        (lambda: changed(BOX, ["1"], StickChange(feel=("sad",))), "bad_stick", "feel"),
        (lambda: changed(BOX, ["1"], StickChange(source="a dream")), "bad_stick", "source"),
        (lambda: changed(BOX, ["1"], StickChange(note="n" * 301)), "bad_stick", "note"),
        (lambda: ordered(BOX, ["2", "2"]), "bad_order", "codes"),
        (lambda: ordered(BOX, ["7"]), "no_stick", "codes"),
        (lambda: without(BOX, ["1", "7"]), "no_stick", "codes"),
        (lambda: changed(BOX, [], StickChange(count=2)), "no_stick", "codes"),
    ],
)
def test_what_cannot_be_is_said_with_its_field(edit, code: str, field: str) -> None:
    with pytest.raises(CaltinError) as refused:
        edit()
    assert (refused.value.code, refused.value.field) == (code, field)
    assert refused.value.hint


@given(st.lists(st.sampled_from(["1", "2", "3", "4"]), unique=True), st.integers(0, 3))
def test_a_tray_is_never_torn(codes: list[str], size: int) -> None:
    sticks = [replace(RUST, code=str(i), hex=f"#{i:06x}") for i in range(1, size + 1)]
    tray = put(Tray("Box"), [(stick, Kept(int(stick.code))) for stick in sticks])
    try:
        left = without(tray, codes)
    except NotFoundError:
        assert not codes or set(codes) - {stick.code for stick in sticks}
        return
    assert [int(stick.code) for stick in left.sticks] == [kept.count for kept in left.kept]
    assert len(left.sticks) == size - len(codes) <= MAX_STICKS
