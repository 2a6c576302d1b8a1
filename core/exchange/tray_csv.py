"""A tray as CSV: code,name,medium,hex,opacity and, if known, range,binder,pigments,lightfastness,condition,
light_hex,heavy_hex,black_hex (further swatches), spectrum (31 reflectances of the solid swatch, by spaces), count,
note, feel (words divided by +), source (how the colour is known), price (of one) and sets (name=price of each set it is
in, divided by +)."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterable, Mapping

from core.colour.spaces import xyz_to_hex
from core.errors import InputError
from core.optics.media import MEDIA
from core.optics.spectra import BANDS_NM, check_spectrum, reflectance_to_xyz
from core.optics.stick import CONDITIONS, FEELS, OPACITIES, SOURCES, Kept, Stick, Tray
from core.tray.editing import MAX_LENGTH, MAX_NOTE, MAX_STICKS, MOST_COUNT, MOST_PRICE, MOST_SETS

REQUIRED = ("code", "name", "medium", "hex", "opacity")
FURTHER_SWATCHES = ("light_hex", "heavy_hex", "black_hex")
OPTIONAL = ("range", "binder", "pigments", "lightfastness", "condition", *FURTHER_SWATCHES)
KEPT = ("count", "note", "feel", "source", "price", "sets")
MAX_BYTES = 1_000_000
Row = Mapping[str, str]
"""Texts by field."""
_HEX = re.compile(r"#?[0-9a-fA-F]{6}")
_FORMULA = re.compile(r"'*[=+@\t\r-]")
_GRADES = ("", "I", "II", "III", "IV", "V")


def guarded(cell: str) -> str:
    """A text that no spreadsheet takes for a formula: a quote before what begins like one, and before such quotes."""
    return f"'{cell}" if _FORMULA.match(cell) else cell


def unguarded(cell: str) -> str:
    """The text that `guarded` was given."""
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell) else cell


def read_tray(data: bytes, name: str = "My tray") -> Tray:
    """The tray in a CSV file, separated by commas or semicolons.

    Raises InputError naming the row (the header is row 1) and the field.
    """
    if len(data) > MAX_BYTES:
        raise InputError(
            "tray_too_large", f"The tray file is over {MAX_BYTES // 1_000_000} MB.", "Keep one colour a row.", "tray"
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise InputError(
            "tray_not_text", "The tray file is not UTF-8 text.", "Save it as CSV in UTF-8.", "tray"
        ) from error
    header_line = text.partition("\n")[0]
    rows = csv.reader(io.StringIO(text), delimiter=";" if header_line.count(";") > header_line.count(",") else ",")
    try:
        lines = [(number, [unguarded(cell.strip()) for cell in row]) for number, row in enumerate(rows, start=1)]
    except csv.Error as error:
        raise InputError("tray_not_csv", f"The tray file is not CSV ({error}).", "Save it as CSV.", "tray") from error
    header = [cell.lower() for cell in lines[0][1]] if lines else []
    missing = [column for column in REQUIRED if column not in header]
    if missing:
        raise InputError(
            "tray_header",
            f"Row 1 of the tray lacks the column {missing[0]}.",
            f"Begin with: {','.join(REQUIRED)}.",
            "row 1",
        )
    named = [(number, dict(zip(header, cells, strict=False))) for number, cells in lines[1:] if any(cells)]
    return tray_of(name, named, bool(set(KEPT) & set(header)))


def tray_of(name: str, rows: Iterable[tuple[int, Row]], with_kept: bool) -> Tray:
    """The tray of numbered rows, each a text by field. Raises InputError naming the row and the field."""
    sticks: list[Stick] = []
    kept: list[Kept] = []
    rows_by_code: dict[str, int] = {}
    for number, row in rows:
        stick = _stick(number, row)
        kept.append(_kept(number, row))
        if stick.code in rows_by_code:
            raise InputError(
                "double_code",
                f"The code {stick.code} stands in row {rows_by_code[stick.code]} and again in row {number}.",
                "Give every one its own code.",
                f"row {number}, code",
            )
        rows_by_code[stick.code] = number
        sticks.append(stick)
    if not sticks:
        raise InputError("empty_tray", "The tray is empty.", "Add one row for each colour below the header.", "tray")
    if len(sticks) > MAX_STICKS:
        raise InputError("too_many_sticks", f"The tray holds {len(sticks)} rows.", f"Keep it to {MAX_STICKS}.", "tray")
    return Tray(name, tuple(sticks), tuple(kept) if with_kept else ())


def _refusal(number: int, row: Row, field: str, expected: str) -> InputError:
    return InputError(
        "bad_tray_row",
        f"Row {number} of the tray: {field} is “{row.get(field, '')[:40]}”.",
        f"Expected {expected}.",
        f"row {number}, {field}",
    )


def _kept(number: int, row: Row) -> Kept:
    count = row.get("count") or "1"
    if not (count.isascii() and count.isdigit() and 1 <= int(count[:9]) <= MOST_COUNT):
        raise _refusal(number, row, "count", f"a number from 1 to {MOST_COUNT}")
    if len(row.get("note", "")) > MAX_NOTE:
        raise _refusal(number, row, "note", f"at most {MAX_NOTE} characters")
    feel = tuple(part.strip() for part in row.get("feel", "").split("+") if part.strip())
    if not set(feel) <= set(FEELS):
        raise _refusal(number, row, "feel", f"some of {', '.join(FEELS)}, divided by +")
    if row.get("source", "") not in SOURCES:
        raise _refusal(number, row, "source", f"one of {', '.join(SOURCES[1:])}, or nothing")
    return Kept(int(count), row.get("note", ""), feel, row.get("source", ""), *_sold(number, row))


def _sold(number: int, row: Row) -> tuple[float, tuple[tuple[str, float], ...]]:
    """The price of one, and the sets that hold it."""
    price = _price(row.get("price") or "0")
    if price is None:
        raise _refusal(number, row, "price", f"a price up to {MOST_PRICE:g}, such as 1.90")
    sets: dict[str, float] = {}
    for part in (part for part in row.get("sets", "").split("+") if part.strip()):
        name, _, asked = part.rpartition("=")
        cost = _price(asked)
        if not name.strip() or not cost or len(name.strip()) > MAX_LENGTH or len(sets) >= MOST_SETS:
            raise _refusal(number, row, "sets", "names and prices such as Portrait 12=14.90 + All 36=39")
        sets[name.strip()] = cost
    return price, tuple(sets.items())


def _price(text: str) -> float | None:
    try:
        found = float(text.strip().replace(",", "."))
    except ValueError:
        return None
    return round(found, 2) if 0 <= found <= MOST_PRICE else None


def _stick(number: int, row: Row) -> Stick:
    def refuse(field: str, expected: str) -> InputError:
        return _refusal(number, row, field, expected)

    for field in ("code", "name"):
        if not row.get(field):
            raise refuse(field, "a few letters or digits")
    for field in (*REQUIRED, *OPTIONAL):
        if len(row.get(field, "")) > MAX_LENGTH:
            raise refuse(field, f"at most {MAX_LENGTH} characters")
    spectrum = _spectrum(row.get("spectrum", ""), refuse)
    for field in ("hex", *FURTHER_SWATCHES):
        must = field == "hex" and not spectrum
        if (row.get(field) or must) and not _HEX.fullmatch(row.get(field, "")):
            raise refuse(field, "six hex digits such as #c08a6a")
    for field, allowed in (("medium", tuple(MEDIA)), ("opacity", OPACITIES)):
        if row.get(field) not in allowed:
            raise refuse(field, " or ".join(allowed))
    condition = row.get("condition") or "good"
    if condition not in CONDITIONS:
        raise refuse("condition", " or ".join(CONDITIONS))
    if row.get("lightfastness", "") not in _GRADES:
        raise refuse("lightfastness", "I, II, III, IV or V")
    return Stick(
        code=row["code"],
        name=row["name"],
        medium=row["medium"],
        hex=_hex(row.get("hex", "")) or xyz_to_hex(reflectance_to_xyz(spectrum)),
        opacity=row["opacity"],
        range=row.get("range", ""),
        binder=row.get("binder", ""),
        pigments=tuple(p.strip() for p in row.get("pigments", "").split("+") if p.strip()),
        lightfastness=row.get("lightfastness", ""),
        condition=condition,
        light_hex=_hex(row.get("light_hex", "")),
        heavy_hex=_hex(row.get("heavy_hex", "")),
        black_hex=_hex(row.get("black_hex", "")),
        spectrum=spectrum,
    )


def _hex(text: str) -> str:
    return f"#{text.lstrip('#').lower()}" if text else ""


def _spectrum(text: str, refuse: Callable[[str, str], InputError]) -> tuple[float, ...]:
    """Reflectances written one after the other; none if the field is empty."""
    try:
        return tuple(check_spectrum([float(part) for part in text.split()])) if text else ()
    except ValueError:
        raise refuse("spectrum", "numbers divided by spaces") from None
    except InputError as error:
        raise refuse("spectrum", f"{len(BANDS_NM)} reflectances from 0 to 1, for 400 to 700 nm") from error


def rows_of(tray: Tray) -> list[list[str]]:
    """The tray as rows of texts, the header first."""
    found: list[list[str]] = [[*REQUIRED, *OPTIONAL, "spectrum", *(KEPT if tray.kept else ())]]
    for i, stick in enumerate(tray.sticks):
        cells = {field: str(getattr(stick, field)) for field in (*REQUIRED, *OPTIONAL)}
        cells["pigments"] = " + ".join(stick.pigments)
        cells["spectrum"] = " ".join(map(repr, stick.spectrum))
        if tray.kept:
            held = tray.kept[i]
            cells |= {"count": str(held.count), "note": held.note, "feel": " + ".join(held.feel)}
            cells |= {"source": held.source, "price": f"{held.price:g}"}
            cells |= {"sets": " + ".join(f"{name}={cost:g}" for name, cost in held.sets)}
        found.append(list(cells.values()))
    return found


def write_tray(tray: Tray) -> bytes:
    """The tray as a CSV file that `read_tray` gives back the same, and in which no spreadsheet sees a formula."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([guarded(cell) for cell in row] for row in rows_of(tray))
    return out.getvalue().encode()
