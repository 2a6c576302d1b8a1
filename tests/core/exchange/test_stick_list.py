"""Lists as people have them: nothing is dropped, everything wrong is said at once."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.errors import InputError
from core.exchange.stick_list import FIELDS, ReadStick, StickList, read_list
from core.tray.editing import MAX_STICKS
from tests.conftest import a_range


def rows(text: str, medium: str = "pencil") -> tuple[ReadStick, ...]:
    return read_list(text, medium).sticks


def short(held: StickList) -> list[tuple[str, str, str]]:
    return [(stick.code, stick.name, stick.hex) for stick in held.sticks]


@pytest.mark.parametrize(
    "text",
    [
        "burnt sienna\nraw umber\nochre",
        "burnt sienna, raw umber, ochre",
        "burnt sienna; raw umber; ochre",
        "\ufeffburnt sienna\r\n\r\nraw umber\r\nochre\r\n",
        "Name\nburnt sienna\nraw umber\nochre",
    ],
)
def test_names_alone_are_enough(text: str) -> None:
    held = rows(text)
    assert [(stick.code, stick.name) for stick in held] == [("BS", "burnt sienna"), ("RU", "raw umber"), ("O", "ochre")]
    assert all({"code", "hex", "medium"} <= set(stick.guessed) and not stick.wrong for stick in held)


def test_numbers_stand_before_or_after_a_name_or_in_a_column() -> None:
    said = [("12", "burnt sienna"), ("G3", "warm grey 3"), ("44", "rose")]
    for text in (
        "12 burnt sienna\nG3 warm grey 3\n44. rose",
        "burnt sienna (12)\nG3 - warm grey 3\nrose 44",
        "Colour\tNo\nburnt sienna\t12\nwarm grey 3\tG3\nrose\t44",
        "12;burnt sienna\nG3;warm grey 3\n44;rose",
    ):
        assert [(stick.code, stick.name) for stick in rows(text)] == said, text


def test_columns_come_in_any_order_and_under_any_head() -> None:
    held = read_list(
        'Qty,Kind,Swatch,Shade,Shelf,Nr\n2,marker,#C08A6A,tan rope,left,M4\n1,Oil Pastel,"200, 100, 50",rust,,O7'
    )
    assert held.columns == ("count", "medium", "hex", "name", "", "code")
    assert held.header[4] == "Shelf"  # what was not understood is there to be asked about
    assert short(held) == [("M4", "tan rope", "#c08a6a"), ("O7", "rust", "#c86432")]
    assert [(stick.medium, stick.count, stick.opacity) for stick in held.sticks] == [
        ("marker", 2, "transparent"),
        ("oil_pastel", 1, "opaque"),
    ]
    told = read_list("a,b\nx,burnt sienna\ny,ochre", "pencil", ("note", "name"))
    assert told.sticks[-1].note == "y"
    with pytest.raises(InputError, match="2 columns"):
        read_list("a,b\nx,burnt sienna", "pencil", ("name",))


def test_columns_without_heads_are_told_by_what_is_in_them() -> None:
    held = read_list("#8a4b2f\tburnt sienna\t12\tlow\n#6b5233\traw umber\t13\tgood", "pencil")
    assert held.columns == ("hex", "name", "code", "condition")
    assert not held.has_header
    assert held.sticks[0].condition == "low"


def test_everything_that_is_wrong_is_said_at_once_with_its_row_and_the_rest_is_kept() -> None:
    held = rows(
        "code,name,medium,hex,condition,count,lightfastness\n"
        "1,rust,pencil,#a0522d,good,1,I\n"
        "1,wibble,quill,zzz,mouldy,900,VII\n"
        f"3,{'y' * 200},pencil,#a0522d,,,\n"
        ",,marker,,,,"
    )
    assert [bool(stick.wrong) for stick in held] == [False, True, True, True]
    every = ["medium", "hex", "condition", "count", "lightfastness", "code"]
    assert [fault.field for fault in held[1].wrong] == every
    assert "line 2" in held[1].wrong[-1].said
    assert held[2].wrong[0].said == "The name has 200 letters; 80 fit."
    assert {fault.field for fault in held[3].wrong} == {"name", "hex"}
    assert [stick.number for stick in held] == [2, 3, 4, 5]


def test_numbers_of_a_known_range_are_filled_in_from_it() -> None:
    within = a_range("gangway-36")
    first, second = within.sticks[:2]
    held = read_list(f"{first.code}\n{second.code.lower()}\nQ999", within=within)
    assert [(s.code, s.name, s.hex, s.medium) for s in held.sticks[:2]] == [
        (s.code, s.name, s.hex, s.medium) for s in (first, second)
    ]
    assert {fault.field for fault in held.sticks[2].wrong} == {"medium", "hex"}


def test_files_of_other_codings_are_read() -> None:
    text = "raw umber\nrosé\n"
    for data in (text.encode("utf-16"), text.encode("cp1252"), text.encode("utf-8-sig")):
        assert [stick.name for stick in read_list(data, "pencil").sticks] == ["raw umber", "rosé"]


@pytest.mark.parametrize(
    ("data", "code"),
    [
        ("", "empty_list"),
        (" \n\t\n", "empty_list"),
        ("code,name\n", "empty_list"),
        ("ochre\n" * 5000, "too_many_sticks"),
        (b"\x89PNG\x00\x01\x00\x00", "list_not_text"),
        (b"x" * 2_000_000, "list_too_large"),
    ],
)
def test_what_is_no_list_is_refused_in_clear_words(data: bytes | str, code: str) -> None:
    with pytest.raises(InputError) as refused:
        read_list(data, "pencil")
    assert refused.value.code == code
    assert refused.value.hint


@given(st.text(max_size=400), st.sampled_from(["", "pencil"]))
def test_whatever_is_pasted_every_line_comes_out_or_all_is_refused(text: str, medium: str) -> None:
    try:
        held = read_list(text, medium)
    except InputError as error:
        assert error.message
        return
    assert 0 < len(held.sticks) <= MAX_STICKS + 1
    assert set(held.columns) <= {"", *FIELDS}
    fine = [stick for stick in held.sticks if not stick.wrong]
    assert len({stick.code for stick in fine}) == len(fine)
    assert all(stick.code and stick.name and stick.hex and stick.medium for stick in fine)
