"""Spreadsheets as lists of sticks: the first sheet that holds anything, in and out."""

from __future__ import annotations

import io
import zipfile

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from python_calamine import CalamineError, CalamineWorkbook, PasswordError

from core.errors import InputError
from core.exchange.tray_csv import rows_of
from core.optics.stick import Tray
from core.tray.editing import MAX_STICKS

_LARGEST = 60_000_000
_MOST_FILES, _MOST_COLUMNS, _LONGEST = 400, 60, 2000
"""Bytes of a spreadsheet once it is unpacked, files in it, columns that are looked at, and letters of a cell."""


def read_cells(data: bytes) -> list[list[str]]:
    """Rows of texts. Raises InputError (`bad_spreadsheet`, `list_too_large`, `empty_list`, `too_many_sticks`)."""
    _check_size(data)
    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        sheets = (book.get_sheet_by_index(i).to_python(skip_empty_area=True) for i in range(len(book.sheet_names)))
        rows = next((rows for rows in sheets if any(any(str(cell).strip() for cell in row) for row in rows)), [])
    except PasswordError:
        raise _bad("it is locked by a password") from None
    except (CalamineError, zipfile.BadZipFile, OSError, ValueError, UnicodeError):
        raise _bad("perhaps it is cut off") from None
    if not rows:
        raise InputError("empty_list", "There is nothing in this spreadsheet.", "Put one stick in each row.", "list")
    if len(rows) > MAX_STICKS + 1:
        raise InputError(
            "too_many_sticks", f"It has {len(rows)} rows; a box holds {MAX_STICKS} sticks.", "Split it.", "list"
        )
    return [[_text(cell) for cell in row[:_MOST_COLUMNS]] for row in rows]


def _bad(why: str) -> InputError:
    return InputError(
        "bad_spreadsheet", f"This spreadsheet cannot be read: {why}.", "Save it anew, or as CSV. Nothing was put in.",
        "list",
    )  # fmt: skip


def _check_size(data: bytes) -> None:
    """Raises InputError for what would unpack into more than can be looked at."""
    if not data.startswith(b"PK"):
        return
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as held:
            entries = held.infolist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError):
        raise _bad("perhaps it is cut off") from None
    if len(entries) > _MOST_FILES or sum(entry.file_size for entry in entries) > _LARGEST:
        raise InputError(
            "list_too_large", "This spreadsheet unpacks into more than a list of sticks.", "Keep one sheet.", "list"
        )


def _text(cell: object) -> str:
    """Of a cell in one line; whole numbers without a point."""
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return " ".join(str(cell).split())[:_LONGEST]


def write_cells(tray: Tray) -> bytes:
    """A spreadsheet that `read_cells` reads; texts stay texts, whatever they begin with."""
    book = Workbook(write_only=True)
    sheet = book.create_sheet("sticks")
    for row in rows_of(tray):
        cells = [WriteOnlyCell(sheet, value=text) for text in row]
        for cell in cells:
            # What begins like a formula is none.
            cell.data_type = "s"
        sheet.append(cells)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
