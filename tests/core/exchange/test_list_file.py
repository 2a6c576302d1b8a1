"""Files of any kind as lists of sticks: spreadsheets by another writer, ODS by hand, bombs and nonsense refused."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest

from core.errors import InputError
from core.exchange.cells import write_cells
from core.exchange.formats import FORMATS
from core.exchange.list_file import MAX_BYTES, list_in, tray_in
from core.exchange.stick_list import read_list
from core.exchange.tray_csv import read_tray
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
    assert kinds == {"tray-csv", "tray-json", "tray-xlsx", "tray-gpl", "tray-cgats", "tray-cxf"}
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


def bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * 70_000_000)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (bomb(), "list_too_large"),
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
