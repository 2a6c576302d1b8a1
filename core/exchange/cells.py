"""Spreadsheets as lists of sticks: the first sheet that holds anything, in and out."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from xml.etree.ElementTree import Element, SubElement, tostring

from python_calamine import CalamineError, CalamineWorkbook, PasswordError

from core.errors import InputError
from core.exchange.tray_csv import rows_of
from core.optics.stick import Tray
from core.tray.editing import MAX_STICKS

_UNPRINTABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]")
_LARGEST = 60_000_000
_CHUNK = 2**16
_MOST_FILES, _MOST_COLUMNS, _LONGEST = 400, 60, 2000
"""Bytes of a spreadsheet once it is unpacked; bytes looked at in one go; files in it, columns that are looked at, and
letters of a cell."""


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
    except BaseException as error:
        # What the reading library gives up on inside is no Exception of Python's.
        if type(error).__name__ != "PanicException":
            raise
        raise _bad("it holds something that cannot be") from None
    if not rows:
        raise InputError("empty_list", "There is nothing in this spreadsheet.", "Put one colour in each row.", "list")
    if len(rows) > MAX_STICKS + 1:
        raise InputError("too_many_sticks", f"It has {len(rows)} rows; a box holds {MAX_STICKS}.", "Split it.", "list")
    return [[_text(cell) for cell in row[:_MOST_COLUMNS]] for row in rows]


def _bad(why: str) -> InputError:
    return InputError(
        "bad_spreadsheet", f"This spreadsheet cannot be read: {why}.", "Save it anew, or as CSV. Nothing was put in.",
        "list",
    )  # fmt: skip


def _check_size(data: bytes) -> None:
    """Raises InputError for what would unpack into more than can be looked at, whatever its directory says of that."""
    if not data.startswith(b"PK"):
        return
    left = _LARGEST
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as held:
            entries = held.infolist()
            if len(entries) > _MOST_FILES:
                raise _too_large()
            for entry in entries:
                with held.open(entry) as part:
                    while left >= 0 and (chunk := part.read(_CHUNK)):
                        left -= len(chunk)
                if left < 0:
                    raise _too_large()
    except (zipfile.BadZipFile, zlib.error, ValueError, NotImplementedError, OSError, EOFError, RuntimeError):
        raise _bad("perhaps it is cut off") from None


def _too_large() -> InputError:
    return InputError(
        "list_too_large", "This spreadsheet unpacks into more than a list of colours.", "Keep one sheet.", "list"
    )


def _text(cell: object) -> str:
    """Of a cell in one line; whole numbers without a point."""
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return " ".join(str(cell).split())[:_LONGEST]


def printable(text: str) -> str:
    """Without the characters that no XML may hold."""
    return _UNPRINTABLE.sub("", text)


def write_cells(tray: Tray) -> bytes:
    """A spreadsheet that `read_cells` reads; texts stay texts, whatever they begin with."""
    # Only who writes one need wait for it.
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    sheet = book.create_sheet("sticks")
    for row in rows_of(tray):
        cells = [WriteOnlyCell(sheet, value=printable(text)) for text in row]
        for cell in cells:
            # What begins like a formula is none.
            cell.data_type = "s"
        sheet.append(cells)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


_ODS = "application/vnd.oasis.opendocument.spreadsheet"
_OFFICE = "urn:oasis:names:tc:opendocument:xmlns:"
_PARTS = {"office": "office", "table": "table", "text": "text"}


def write_ods(tray: Tray) -> bytes:
    """The same as an OpenDocument spreadsheet (OASIS ODF 1.3): texts alone, so that nothing counts as a formula."""
    names = {f"xmlns:{key}": f"{_OFFICE}{part}:1.0" for key, part in _PARTS.items()}
    root = Element("office:document-content", names | {"office:version": "1.3"})
    sheet = SubElement(SubElement(SubElement(root, "office:body"), "office:spreadsheet"), "table:table")
    sheet.set("table:name", "sticks")
    for row in rows_of(tray):
        line = SubElement(sheet, "table:table-row")
        for text in row:
            cell = SubElement(line, "table:table-cell")
            if text:
                cell.set("office:value-type", "string")
                SubElement(cell, "text:p").text = printable(text)
    manifest = Element("manifest:manifest", {"xmlns:manifest": f"{_OFFICE}manifest:1.0", "manifest:version": "1.3"})
    for path, kind in (("/", _ODS), ("content.xml", "text/xml")):
        SubElement(manifest, "manifest:file-entry", {"manifest:full-path": path, "manifest:media-type": kind})
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        # First and not packed: by it the file is told.
        archive.writestr(zipfile.ZipInfo("mimetype"), _ODS)
        for name, held in (("content.xml", root), ("META-INF/manifest.xml", manifest)):
            entry = zipfile.ZipInfo(name)
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, tostring(held, encoding="utf-8", xml_declaration=True))
    return out.getvalue()
