"""Files of any kind as lists of sticks: spreadsheets by another writer, ODS by hand, bombs and nonsense refused."""

from __future__ import annotations

import io
import struct
import zipfile
from dataclasses import replace

import openpyxl
import pytest
import python_calamine

from core.errors import InputError
from core.exchange.cells import write_cells, write_ods
from core.exchange.colour_files import write_cgats, write_cxf
from core.exchange.formats import FORMATS
from core.exchange.list_file import MAX_BYTES, list_in, tray_in
from core.exchange.stick_list import read_list
from core.exchange.tray_csv import read_tray, write_tray
from core.exchange.tray_json import write_tray_json
from core.optics.stick import Kept, Tray
from tests.conftest import ROOT

TRAY = read_tray((ROOT / "demo/ranges/small-tray-24.csv").read_bytes(), "Small tray")


def workbook(*rows: list[object], empty_first: bool = False) -> bytes:
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    if empty_first:
        sheet = book.create_sheet("mine")
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_a_spreadsheet_in_any_order_of_columns_is_read() -> None:
    data = workbook(
        ["Colour name", "Shop", "No", "Kind", "HTML", "How many"],
        ["rope", "quay", 12, "pencil", "#b49a72", 2],
        ["night water", "quay", 13, "pencil", "#20304c", 1.0],
        empty_first=True,
    )
    found = read_list(list_in(data).text)
    assert [(row.code, row.name, row.medium, row.hex) for row in found.sticks] == [
        ("12", "rope", "pencil", "#b49a72"),
        ("13", "night water", "pencil", "#20304c"),
    ]
    assert not any(row.wrong for row in found.sticks)


ODS = """<?xml version="1.0" encoding="UTF-8"?><office:document-content
 xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
 xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"
 xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" office:version="1.2"><office:body><office:spreadsheet>
 <table:table table:name="s">{rows}</table:table></office:spreadsheet></office:body></office:document-content>"""


MANIFEST = """<?xml version="1.0"?><manifest:manifest
 xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.2">
 <manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.spreadsheet"/>
 </manifest:manifest>"""


def ods(*rows: tuple[str, ...]) -> bytes:
    """By hand, to OpenDocument 1.2."""
    cell = '<table:table-cell office:value-type="string"><text:p>{}</text:p></table:table-cell>'
    body = "".join(f"<table:table-row>{''.join(cell.format(text) for text in row)}</table:table-row>" for row in rows)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", ODS.format(rows=body))
        archive.writestr("META-INF/manifest.xml", MANIFEST)
    return out.getvalue()


def test_an_open_document_is_read() -> None:
    data = ods(("name", "hex", "medium"), ("rope", "#b49a72", "marker"))
    (row,) = read_list(list_in(data).text).sticks
    assert (row.name, row.hex, row.medium) == ("rope", "#b49a72", "marker")


def test_what_a_tray_is_written_as_comes_back_by_every_format_that_reads_it() -> None:
    with_kept = Tray("Kept", TRAY.sticks[:5], tuple(Kept(2, "dusty") for _ in range(5)))
    back = tray_in(write_cells(with_kept), "Kept")
    assert back.sticks == with_kept.sticks and [row.count for row in back.kept] == [2] * 5
    assert "\tpencil\t" in list_in(write_tray_json(TRAY)).text
    kinds = {row.id for row in FORMATS.values() if row.holds == "tray" and row.write}
    assert kinds == {
        "tray-csv", "tray-json", "tray-xlsx", "tray-ods", "tray-gpl", "tray-cgats", "tray-cxf", "tray-zip"
    }  # fmt: skip
    assert tray_in(write_ods(with_kept), "Kept") == back
    assert write_ods(with_kept) == write_ods(with_kept)
    # An independent reader of OpenDocument.
    rows = python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(write_ods(with_kept))).get_sheet_by_index(0)
    assert rows.to_python()[1][:2] == [with_kept.sticks[0].code, with_kept.sticks[0].name]
    # A palette does not say what its sticks are.
    palette = FORMATS["tray-gpl"].write
    assert palette is not None
    with pytest.raises(InputError, match="Row 2: It does not say what it is"):
        tray_in(palette(TRAY), "Palette")


def test_cells_that_begin_like_a_formula_stay_texts() -> None:
    stick = type(TRAY.sticks[0])("=1+1", "@SUM(A1)", "pencil", "#112233")
    data = write_cells(Tray("=cmd", (stick,)))
    sheet = openpyxl.load_workbook(io.BytesIO(data)).active
    assert sheet is not None
    assert {cell.data_type for cell in list(sheet.rows)[1]} <= {"s", "n", "inlineStr"}
    assert sheet.cell(2, 1).value == "=1+1"
    assert tray_in(data, "x").sticks[0].code == "=1+1"


@pytest.mark.parametrize("text", ["=1+1", "+1", "-x", "@SUM(A1)", "'=1", "''-x", "'quoted'", "plain"])
def test_no_spreadsheet_sees_a_formula_in_a_csv_file_and_the_text_comes_back(text: str) -> None:
    tray = Tray("mine", (type(TRAY.sticks[0])("1", text, "pencil", "#112233"),))
    data = write_tray(tray)
    assert data.decode().splitlines()[1].split(",")[1][0] not in "=+-@"
    assert read_tray(data, "mine") == tray
    assert read_list(list_in(data).text).sticks[0].name == text


def test_what_no_xml_may_hold_breaks_no_file() -> None:
    tray = Tray("mine", (type(TRAY.sticks[0])("1", "a\x01b\x0bc", "pencil", "#112233"),))
    for write in (write_cells, write_ods):
        assert tray_in(write(tray), "mine").sticks[0].name == "abc"
    assert read_list(list_in(write_cxf(tray)).text, "pencil").sticks[0].name == "ab c"


def test_a_spectrum_comes_through_the_list_and_a_wrong_one_is_said() -> None:
    measured = replace(TRAY.sticks[0], spectrum=tuple(round(0.1 + i / 100, 4) for i in range(31)))
    tray = Tray("mine", (measured,))
    for write in (write_cxf, write_cgats, write_ods):
        (row,) = read_list(list_in(write(tray)).text, "pencil").sticks
        assert row.spectrum == measured.spectrum and not row.wrong
    (row,) = read_list("name,medium,hex,spectrum\nrope,pencil,#b49a72,0.1 0.2").sticks
    assert [fault.field for fault in row.wrong] == ["spectrum"]


def liar() -> bytes:
    """A spreadsheet whose directory says that it is small."""
    data = bomb()
    return data.replace(struct.pack("<I", 70_000_000), struct.pack("<I", 1000))


def bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * 70_000_000)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (bomb(), "list_too_large"),
        (liar(), "bad_spreadsheet"),
        (workbook(["name"], ["rope"])[:900], "bad_spreadsheet"),
        (b"PK\x03\x04 no archive", "bad_spreadsheet"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 600, "bad_spreadsheet"),
        (workbook(), "empty_list"),
        (workbook(*[[f"stick {i}"] for i in range(700)]), "too_many_sticks"),
        (b"x" * (MAX_BYTES + 1), "list_too_large"),
        (b"\x00\x01\x02 no text", "list_not_text"),
        (b"{", "bad_json"),
        (b"", "empty_list"),
    ],
    ids=[
        "bomb",
        "liar",
        "cut off",
        "no archive",
        "old and empty",
        "empty",
        "too many",
        "too large",
        "binary",
        "json",
        "nothing",
    ],
)
def test_hostile_and_broken_files_are_refused_in_clear_words(data: bytes, code: str) -> None:
    with pytest.raises(InputError) as refused:
        read_list(list_in(data).text)
    assert refused.value.code == code or code == "bad_json", refused.value.code
