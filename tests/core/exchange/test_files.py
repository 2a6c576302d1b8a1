import json

import pytest

from core.errors import InputError
from core.exchange import tray_csv
from core.exchange.json_files import read_passes, read_spots
from core.exchange.tray_csv import read_tray
from core.limits import LIMITS
from core.optics.medium import Pass

HEADER = "code,name,medium,hex,opacity,range,binder,pigments,lightfastness,condition\n"
ROW = "A1,oak,pencil,#7a5a3c,semi,Test,wax,brown earth+bone black,I,good\n"


def test_a_full_row_is_read() -> None:
    (stick,) = read_tray((HEADER + ROW).encode(), "mine").sticks
    assert (stick.code, stick.name, stick.hex, stick.opacity) == ("A1", "oak", "#7a5a3c", "semi")
    assert stick.pigments == ("brown earth", "bone black")
    assert (stick.lightfastness, stick.condition, stick.binder) == ("I", "good", "wax")


def test_the_short_header_is_enough() -> None:
    (stick,) = read_tray(b"code,name,medium,hex,opacity\n1,ash,pencil,7A5A3C,opaque\n").sticks
    assert stick.hex == "#7a5a3c"
    assert stick.condition == "good"


@pytest.mark.parametrize(
    "change",
    [lambda t: t.replace(",", ";"), lambda t: "\ufeff" + t, lambda t: t.replace("\n", "\r\n"), lambda t: t + "\n\n"],
)
def test_what_spreadsheets_do_to_the_file_is_understood(change) -> None:
    assert read_tray(change(HEADER + ROW).encode()).sticks == read_tray((HEADER + ROW).encode()).sticks


def test_only_usable_sticks_of_the_medium_go_into_recipes() -> None:
    rows = "".join(
        f"{i},n,{medium},#7a5a3c,semi,,,,,{condition}\n"
        for i, (medium, condition) in enumerate(
            [("pencil", "good"), ("pencil", "low"), ("pencil", "dried_out"), ("pencil", "wanted"), ("marker", "good")]
        )
    )
    tray = read_tray((HEADER + rows).encode())
    assert [stick.code for stick in tray.usable("pencil")] == ["0", "1"]


BAD_TRAYS = {
    "nothing": ("", "tray_header", "row 1"),
    "a header alone": (HEADER, "empty_tray", "tray"),
    "another header": ("id,colour\n1,red\n", "tray_header", "row 1"),
    "a wrong hex": (HEADER + ROW + "A2,elm,pencil,#12345,semi\n", "bad_tray_row", "row 3, hex"),
    "no hex": (HEADER + ROW + "A2,elm,pencil,,semi\n", "bad_tray_row", "row 3, hex"),
    "a double code": (HEADER + ROW + "A2,elm,pencil,#123456,semi\n" + ROW, "double_code", "row 4, code"),
    "no code": (HEADER + ",elm,pencil,#123456,semi\n", "bad_tray_row", "row 2, code"),
    "no name": (HEADER + "A,,pencil,#123456,semi\n", "bad_tray_row", "row 2, name"),
    "an unknown medium": (HEADER + "A,elm,crayon,#123456,semi\n", "bad_tray_row", "row 2, medium"),
    "an unknown opacity": (HEADER + "A,elm,pencil,#123456,milky\n", "bad_tray_row", "row 2, opacity"),
    "an unknown condition": (HEADER + "A,elm,pencil,#123456,semi,,,,,eaten\n", "bad_tray_row", "row 2, condition"),
    "an unknown grade": (HEADER + "A,elm,pencil,#123456,semi,,,,VI\n", "bad_tray_row", "row 2, lightfastness"),
    "a novel": (HEADER + f"A,{'elm' * 40},pencil,#123456,semi\n", "bad_tray_row", "row 2, name"),
    "a short row": (HEADER + "A,elm\n", "bad_tray_row", "row 2, hex"),
    "too many": (HEADER + "".join(f"{i},n,pencil,#123456,semi\n" for i in range(401)), "too_many_sticks", "tray"),
}


@pytest.mark.parametrize("name", BAD_TRAYS)
def test_a_wrong_tray_is_refused_by_row_and_field(name: str) -> None:
    text, code, field = BAD_TRAYS[name]
    with pytest.raises(InputError) as caught:
        read_tray(text.encode())
    assert (caught.value.code, caught.value.field) == (code, field)
    assert caught.value.hint


def test_what_is_no_text_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(InputError, match="UTF-8"):
        read_tray(b"\xff\xfe\x00code")
    monkeypatch.setattr(tray_csv, "MAX_BYTES", 10)
    with pytest.raises(InputError, match="over"):
        read_tray(HEADER.encode())


SPOT = {"name": "tip", "figure": "A", "place": "nose tip", "role": "light", "x": 0.5, "y": 0.4, "radius": 0.01}


def spots_file(**change: object) -> bytes:
    return json.dumps({"spots": [SPOT, SPOT | change]}).encode()


def test_spots_are_read_with_their_defaults() -> None:
    full, short = read_spots(json.dumps({"spots": [SPOT, {"x": 0, "y": 1, "radius": 0.1}]}).encode())
    assert (full.name, full.figure, full.role, full.disc.x) == ("tip", "A", "light", 0.5)
    assert (short.name, short.role) == ("spot 2", "middle")


@pytest.mark.parametrize(
    ("change", "code", "field"),
    [
        ({"x": 1.5}, "spot_outside", "spots[1].x"),
        ({"y": -0.2}, "spot_outside", "spots[1].y"),
        ({"radius": 0}, "bad_radius", "spots[1].radius"),
        ({"radius": "big"}, "bad_field", "spots[1].radius"),
        ({"x": None}, "bad_field", "spots[1].x"),
        ({"x": True}, "bad_field", "spots[1].x"),
        ({"role": "glow"}, "bad_role", "spots[1].role"),
        ({"name": 7}, "bad_field", "spots[1].name"),
        ({"name": "n" * 81}, "bad_field", "spots[1].name"),
    ],
)
def test_a_wrong_spot_is_refused_by_number_and_field(change: dict[str, object], code: str, field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_spots(spots_file(**change))
    assert (caught.value.code, caught.value.field) == (code, field)


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "bad_json"),
        (b"{", "bad_json"),
        (b"[]", "bad_json"),
        (b'{"spots": 4}', "bad_json"),
        (b'{"spots": [4]}', "bad_json"),
        (b'{"spots": []}', "nothing_given"),
        (b"\xff\xff", "bad_json"),
        (b'{"spots": [' + b",".join([b"{}"] * (LIMITS.spots + 1)) + b"]}", "too_many"),
        (b" " * 1_000_001, "file_too_large"),
    ],
)
def test_what_is_no_spots_file_is_refused(data: bytes, code: str) -> None:
    with pytest.raises(InputError) as caught:
        read_spots(data)
    assert caught.value.code == code


def test_passes_are_read_with_their_defaults() -> None:
    rows = [{"stick": "A"}, {"stick": "B", "pressure": "heavy", "repeats": 2, "technique": "burnish"}]
    assert read_passes(json.dumps({"passes": rows}).encode()) == (Pass("A"), Pass("B", "heavy", 2, "burnish"))


@pytest.mark.parametrize(
    ("row", "field"),
    [({}, "stick"), ({"stick": "A", "repeats": 1.5}, "repeats"), ({"stick": "A", "pressure": 3}, "pressure")],
)
def test_a_wrong_pass_is_refused_by_field(row: dict[str, object], field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_passes(json.dumps({"passes": [row]}).encode())
    assert caught.value.field == f"passes[0].{field}"
