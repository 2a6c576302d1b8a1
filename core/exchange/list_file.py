"""A file with sticks of whatever kind, as a list that can be looked through: see core.exchange.stick_list."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from core.errors import InputError
from core.exchange.cells import read_cells
from core.exchange.colour_files import ColourFile, read_cgats, read_cxf, read_palette
from core.exchange.stick_list import decoded, read_list
from core.exchange.tray_csv import KEPT, REQUIRED, rows_of, tray_of
from core.exchange.tray_json import read_tray_json
from core.optics.stick import Kept, Stick, Tray

MAX_BYTES = 8_000_000
_SHEETS = (b"PK\x03\x04", b"\xd0\xcf\x11\xe0")
"""What spreadsheets begin with: those that are zip archives, and older ones."""


@dataclass(frozen=True, slots=True)
class ListFile:
    """text: rows divided by tabs, or what was in a file of text; said: what of the file was not understood."""

    text: str
    said: tuple[str, ...] = ()


def list_in(data: bytes) -> ListFile:
    """The sticks of a file, told by what it holds and not by its name: a spreadsheet, a plain-text palette, CGATS.17,
    CxF3, a tray as JSON, or a text that is left as it is.

    Raises InputError: `list_too_large`, `list_not_text`, and what the kinds raise.
    """
    if len(data) > MAX_BYTES:
        raise InputError(
            "list_too_large", f"The file is over {MAX_BYTES // 1_000_000} MB.", "Keep one colour in each row.", "list"
        )
    if data.startswith(_SHEETS):
        return ListFile(_tabbed(read_cells(data)))
    head = data[:4000].lstrip(b"\xef\xbb\xbf \r\n\t")
    if head.startswith(b"<"):
        return _told(read_cxf(data))
    if head.startswith(b"{"):
        return ListFile(_tabbed(rows_of(read_tray_json(data, ""))))
    text = decoded(data)
    if text.startswith("GIMP Palette"):
        return _told(read_palette(text))
    if "BEGIN_DATA" in text.upper():
        return _told(read_cgats(text))
    return ListFile(text)


def tray_in(data: bytes, name: str, medium: str = "") -> Tray:
    """All sticks of a file, as they can be put in. medium: of those that do not say theirs. Raises InputError
    (`bad_row`, and what `list_in` and `read_list` raise)."""
    text = list_in(data).text
    rows = [[cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), delimiter="\t")]
    if rows and set(REQUIRED) <= set(rows[0]):
        # Written by us: every column is known, also those that no list of somebody else's has.
        named = [(number, dict(zip(rows[0], row, strict=False))) for number, row in enumerate(rows[1:], start=2)]
        return tray_of(name, named, bool(set(KEPT) & set(rows[0])))
    found = read_list(text, medium)
    for row in found.sticks:
        for wrong in row.wrong:
            raise InputError("bad_row", f"Row {row.number}: {wrong.said}", "Set it right in the file.", wrong.field)
    sticks = tuple(
        Stick(
            row.code, row.name, row.medium, row.hex, row.opacity, row.range, row.binder, row.pigments,
            row.lightfastness, row.condition, spectrum=row.spectrum,
        )
        for row in found.sticks
    )  # fmt: skip
    return Tray(name, sticks, tuple(Kept(row.count, row.note) for row in found.sticks))


def _told(found: ColourFile) -> ListFile:
    coded = any(colour.code for colour in found.colours)
    spectral = any(colour.spectrum for colour in found.colours)
    rows = [[*(["code"] if coded else []), "name", "hex", *(["spectrum"] if spectral else [])]]
    for colour in found.colours:
        measured = [" ".join(f"{value:.4f}" for value in colour.spectrum)] if spectral else []
        rows.append([*([colour.code] if coded else []), colour.name or colour.code, colour.hex, *measured])
    return ListFile(_tabbed(rows), found.said)


def _tabbed(rows: list[list[str]]) -> str:
    out = io.StringIO()
    csv.writer(out, delimiter="\t", lineterminator="\n").writerows(
        [[cell.replace("\t", " ") for cell in row] for row in rows]
    )
    return out.getvalue()
