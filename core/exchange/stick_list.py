"""A list of sticks from anywhere: pasted names, cells of a spreadsheet, a CSV in any order of columns.

What is missing is guessed and said to be, what is wrong is said all at once, and nothing is left out in silence.
"""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from core.errors import InputError
from core.exchange.tray_csv import MAX_BYTES, unguarded
from core.optics.media import MEDIA
from core.optics.spectra import N_BANDS, check_spectrum
from core.optics.stick import CONDITIONS, OPACITIES, Stick, Tray
from core.tray.editing import MAX_LENGTH, MAX_NOTE, MAX_STICKS, MOST_COUNT
from core.tray.naming import guess

FIELDS = (
    "code", "name", "medium", "hex", "opacity", "range", "condition", "count", "note", "lightfastness", "binder",
    "pigments", "spectrum",
)  # fmt: skip
"""What a column can be."""
_HEADERS: Mapping[str, str] = {
    "code": "code number no nr num nummer id ref reference item article sku key",
    "name": "name colour color title description shade label stick pencil marker pastel colourname colorname",
    "medium": "medium media type kind material",
    "hex": "hex rgb html value colourcode colorcode hexcode swatch srgb colourvalue colorvalue webcolour",
    "opacity": "opacity transparency covers",
    "range": "range series set brand maker line family collection box",
    "condition": "condition state status have owned",
    "count": "count quantity qty howmany pieces amount number_of",
    "note": "note notes remark remarks comment comments",
    "lightfastness": "lightfastness lf fastness light permanence",
    "binder": "binder base",
    "pigments": "pigment pigments",
    "spectrum": "spectrum spectral reflectance reflectances",
}
_FIELD_OF = {word: field for field, words in _HEADERS.items() for word in words.split()}
_MEDIA_WORDS: Mapping[str, str] = {
    "pencil": "pencil colouredpencil coloredpencil colourpencil colorpencil crayon lead",
    "marker": "marker alcoholmarker ink felt felttip pen",
    "pastel": "pastel softpastel chalk chalkpastel drypastel",
    "oil_pastel": "oilpastel oilpastels waxpastel",
    "opaque": "gouache gelpen opaque paintpen",
}
_MEDIUM_OF = {word: medium for medium, words in _MEDIA_WORDS.items() for word in words.split()}
_CONDITION_WORDS: Mapping[str, str] = {
    "good": "good here have yes ok fine new owned x",
    "low": "low nearlygone nearlyusedup short stub almostempty",
    "dried_out": "driedout dry dead empty gone",
    "wanted": "wanted want wish missing no buy",
}
_CONDITION_OF = {word: held for held, words in _CONDITION_WORDS.items() for word in words.split()}
GRADES = ("", "I", "II", "III", "IV", "V")
_MEDIUM_OF |= {re.sub(r"[^a-z]", "", key): key for key in MEDIA}
_CONDITION_OF |= {re.sub(r"[^a-z]", "", key): key for key in CONDITIONS}
_OPACITY_OF = {key: key for key in OPACITIES}
_GRADE_OF = {grade.lower(): grade for grade in GRADES[1:]}
_USUAL_OPACITY = {"marker": "transparent", "pastel": "opaque", "oil_pastel": "opaque", "opaque": "opaque"}
_OF_A_RANGE = ("name", "medium", "hex", "opacity", "range", "lightfastness", "binder")
_DELIMITERS = ("\t", ";", "|", ",")
_HEX = re.compile(r"#?([0-9a-fA-F]{6})\b")
_RGB = re.compile(r"(?:rgb)?\s*\(?\s*(\d{1,3})\s*[, ]\s*(\d{1,3})\s*[, ]\s*(\d{1,3})\s*\)?")
_CODE = re.compile(r"[A-Za-z]{0,4}[-.]?\d{1,5}[A-Za-z]{0,2}")
_MOSTLY = 0.6


@dataclass(frozen=True, slots=True)
class Wrong:
    """What is wrong with one field of a row, and what would be right."""

    field: str
    said: str


@dataclass(frozen=True, slots=True)
class ReadStick:
    """A row of a list. number: its line in what was given, from 1; guessed: fields that the list does not hold. A row
    with something `wrong` is no stick yet. spectrum: measured, in bands of 10 nm from 400 to 700, or none."""

    number: int
    code: str
    name: str
    medium: str
    hex: str
    opacity: str
    range: str
    condition: str
    count: int
    note: str
    lightfastness: str
    binder: str
    pigments: tuple[str, ...]
    spectrum: tuple[float, ...]
    guessed: tuple[str, ...]
    wrong: tuple[Wrong, ...]


@dataclass(frozen=True, slots=True)
class StickList:
    """Everything in a list. header: the heads of its columns, or the first row where it has none; columns: what each is
    taken for, "" for nothing; has_header: whether the first row is one."""

    sticks: tuple[ReadStick, ...]
    header: tuple[str, ...]
    columns: tuple[str, ...]
    has_header: bool


def read_list(
    data: bytes | str, medium: str = "", columns: Sequence[str] | None = None, within: Tray | None = None
) -> StickList:
    """The sticks in a list. medium: of those that do not say theirs; columns: what each column is, if known; within:
    the range whose numbers these are: it fills in what a row does not hold.

    Raises InputError (`list_too_large`, `list_not_text`, `empty_list`, `too_many_sticks`, `bad_columns`).
    """
    rows = _rows(_text(data))
    if not rows:
        raise InputError("empty_list", "There is nothing in this list.", "Put one colour in each line.", "list")
    if len(rows) > MAX_STICKS + 1:
        raise InputError(
            "too_many_sticks",
            f"The list has {len(rows)} lines; a box holds {MAX_STICKS}.",
            "Split it into several. Nothing was put in.",
            "list",
        )
    width = max(len(cells) for _, cells in rows)
    first = rows[0][1]
    named = [_FIELD_OF.get(_plain(cell), "") for cell in first]
    has_header = (width > 1 and any(named) and not any(map(hex_of, first))) or (
        width == 1 and _plain(first[0]) in _FIELD_OF
    )
    body = rows[1:] if has_header else rows
    if columns is None:
        columns = _told(named, width) if has_header else _seen([cells for _, cells in body], width)
    elif len(columns) != width or any(field and field not in FIELDS for field in columns):
        raise InputError("bad_columns", f"The list has {width} columns.", f"Say of each one of {', '.join(FIELDS)}.")
    if not body:
        raise InputError("empty_list", "There is only a header.", "Put one colour in each line below it.", "list")
    known = {stick.code.casefold(): stick for stick in within.sticks} if within else {}
    sticks = [_stick(number, cells, columns, medium, known) for number, cells in body]
    heads = tuple(first) + ("",) * (width - len(first))
    return StickList(tuple(_told_apart(sticks)), heads, tuple(columns), has_header)


def _text(data: bytes | str) -> str:
    if len(data) > MAX_BYTES:
        raise InputError(
            "list_too_large", f"The list is over {MAX_BYTES // 1_000_000} MB.", "Keep one colour in each line.", "list"
        )
    return data.lstrip("\ufeff") if isinstance(data, str) else decoded(data)


def decoded(data: bytes) -> str:
    """A text in UTF-8, UTF-16 or the usual one of older programs. Raises InputError (`list_not_text`)."""
    for coding in ("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig", "cp1252"):
        try:
            text = data.decode(coding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise InputError("list_not_text", "This file is not text.", "Save it as CSV or as plain text.", "list")


def _rows(text: str) -> list[tuple[int, list[str]]]:
    """Lines that hold something, with their numbers, cut into cells."""
    lines = [line for line in text.splitlines() if line.strip()]
    delimiter = _delimiter(lines)
    if len(lines) == 1 and delimiter and not any(_plain(cell) in _FIELD_OF for cell in lines[0].split(delimiter)):
        cells = [cell.strip() for cell in lines[0].split(delimiter)]
        # One line of names, rather than one stick with several columns.
        if not any(map(hex_of, cells)) and not any(_plain(cell) in _MEDIUM_OF for cell in cells):
            return [(number, [cell]) for number, cell in enumerate(cells, 1) if cell]
    if not delimiter:
        return [(number, [line.strip()]) for number, line in enumerate(text.splitlines(), 1) if line.strip()]
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    found = []
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                found.append((reader.line_num, [unguarded(cell.strip()) for cell in cells]))
    except csv.Error as error:
        raise InputError("list_not_text", f"This list cannot be read ({error}).", "Save it anew.", "list") from error
    return found


def _delimiter(lines: Sequence[str]) -> str:
    """What most lines are divided by, equally often; nothing where each is one name."""
    for delimiter in _DELIMITERS:
        counts = Counter(line.count(delimiter) for line in lines)
        if any(usual > 0 and often >= _MOSTLY * len(lines) for usual, often in counts.most_common(1)):
            return delimiter
    return ""


def _plain(text: str) -> str:
    return re.sub(r"[^a-z]", "", text.casefold())


def _told(named: Sequence[str], width: int) -> list[str]:
    """What a header says, each field once."""
    columns: list[str] = []
    for field in named:
        columns.append(field if field not in columns else "")
    return columns + [""] * (width - len(columns))


def _seen(rows: Sequence[Sequence[str]], width: int) -> list[str]:
    """What columns without heads hold, as far as that can be seen."""
    if width == 1:
        return ["name"]
    columns = [""] * width
    cells = [[row[i] for row in rows if i < len(row) and row[i]] for i in range(width)]
    kinds: tuple[tuple[str, Callable[[str], object]], ...] = (
        ("hex", hex_of),
        ("medium", lambda text: _plain(text) in _MEDIUM_OF),
        ("opacity", lambda text: text.casefold() in OPACITIES),
        ("condition", lambda text: _plain(text) in _CONDITION_OF),
        ("code", _CODE.fullmatch),
    )
    for field, fits in kinds:
        for i in range(width):
            held = cells[i]
            if not columns[i] and held and sum(bool(fits(text)) for text in held) >= _MOSTLY * len(held):
                columns[i] = field
                break
    free = [i for i in range(width) if not columns[i] and cells[i]]
    if free:
        columns[max(free, key=lambda i: sum(map(len, cells[i])) / len(cells[i]))] = "name"
    return columns


def _stick(
    number: int, cells: Sequence[str], columns: Sequence[str], medium: str, known: Mapping[str, Stick]
) -> ReadStick:
    held = {field: text for field, text in zip(columns, cells, strict=False) if field and text}
    if set(columns) - {""} == {"name"}:
        held = _from_words(held.get("name", ""))
    code = held.get("code") or held.get("name", "")
    if stick := known.get(code.casefold()):
        held = {field: text for field in _OF_A_RANGE if (text := getattr(stick, field))} | held
        held |= {"code": stick.code} | ({} if held.get("name") != code else {"name": stick.name})
    row = _Row(held)
    name, code, what = row.text("name"), row.text("code"), row.medium(medium)
    if not name and not code:
        row.refuse("name", "It has neither a name nor a number.")
    return ReadStick(
        number=number,
        code=code,
        name=name or code,
        medium=what,
        hex=row.colour(name or code),
        opacity=row.word("opacity", _OPACITY_OF, "neither transparent, semi nor opaque")
        or row.guess("opacity", _USUAL_OPACITY.get(what, "semi")),
        range=row.text("range"),
        condition=row.word("condition", _CONDITION_OF, "neither good, low, dried out nor wanted") or "good",
        count=row.count(),
        note=row.text("note", MAX_NOTE),
        lightfastness=row.word("lightfastness", _GRADE_OF, f"none of {', '.join(GRADES[1:])}"),
        binder=row.text("binder"),
        pigments=tuple(part.strip() for part in row.text("pigments").split("+") if part.strip()),
        spectrum=row.spectrum(),
        guessed=tuple(row.guessed),
        wrong=tuple(row.wrong),
    )


class _Row:
    """What a row holds, by field, what had to be guessed, and what is wrong."""

    def __init__(self, held: Mapping[str, str]) -> None:
        self._held = held
        self.guessed: list[str] = []
        self.wrong: list[Wrong] = []

    def refuse(self, field: str, said: str) -> None:
        self.wrong.append(Wrong(field, said))

    def guess(self, field: str, usual: str) -> str:
        """What the row does not say."""
        self.guessed.append(field)
        return usual

    def text(self, field: str, most: int = MAX_LENGTH) -> str:
        text = self._held.get(field, "")
        if len(text) > most:
            self.refuse(field, f"The {field} has {len(text)} letters; {most} fit.")
        return text[:most]

    def word(self, field: str, known: Mapping[str, str], said: str) -> str:
        """One of some words, however it is written; nothing where the row does not say."""
        text = self._held.get(field, "")
        found = known.get(_plain(text), "")
        if text and not found:
            self.refuse(field, f"“{text[:40]}” is {said}.")
        return found

    def medium(self, usual: str) -> str:
        if self._held.get("medium"):
            return self.word("medium", _MEDIUM_OF, f"none of {', '.join(MEDIA)}")
        if not usual:
            self.refuse("medium", "It does not say what it is: pencil, marker or pastel.")
            return ""
        return self.guess("medium", usual)

    def colour(self, name: str) -> str:
        text = self._held.get("hex", "")
        if found := hex_of(text):
            return found
        if text:
            self.refuse("hex", f"“{text[:40]}” is no colour: write six hex digits such as #c08a6a.")
        elif told := guess(name):
            return self.guess("hex", told.hex)
        else:
            self.refuse("hex", f"“{name[:40]}” does not say its colour: choose it.")
        return ""

    def spectrum(self) -> tuple[float, ...]:
        text = self._held.get("spectrum", "")
        try:
            return tuple(check_spectrum([float(part) for part in text.split()])) if text else ()
        except (ValueError, InputError):
            self.refuse("spectrum", f"Its spectrum is not {N_BANDS} reflectances from 0 to 1, for 400 to 700 nm.")
            return ()

    def count(self) -> int:
        text = self._held.get("count", "1")
        if text.isascii() and text.isdigit() and 1 <= int(text[:9]) <= MOST_COUNT:
            return int(text)
        self.refuse("count", f"“{text[:40]}” is not a number from 1 to {MOST_COUNT}.")
        return 1


def _from_words(text: str) -> dict[str, str]:
    """Number, colour and name of a line as it is jotted down: `12 burnt sienna`, `burnt sienna (G12) #8a4b2f`."""
    held: dict[str, str] = {}
    if found := re.search(r"#[0-9a-fA-F]{6}\b", text):
        held["hex"] = found[0]
        text = text.replace(found[0], " ")
    words = text.replace("(", " ").replace(")", " ").split()
    for at in (0, -1):
        if len(words) > 1 and _CODE.fullmatch(words[at].strip(".:,-–")) and not words[at].endswith("%"):
            # A grey's own number is no number of a stick: it belongs to the name.
            if at == -1 and words[-2].casefold() in ("grey", "gray"):
                continue
            held["code"] = words.pop(at).strip(".:,-–")
            break
    held["name"] = " ".join(words).strip(" .:,;-–") or text.strip()
    return held


def hex_of(text: str) -> str:
    """sRGB hex of a colour code, or of red, green and blue as numbers up to 255; nothing if it is neither."""
    if (found := _HEX.fullmatch(text)) and (text.startswith("#") or re.search(r"[a-fA-F]", text) or text.isdigit()):
        return f"#{found[1].lower()}"
    if found := _RGB.fullmatch(text):
        parts = [int(part) for part in found.groups()]
        if max(parts) < 256:
            return "#" + "".join(f"{part:02x}" for part in parts)
    return ""


def _told_apart(sticks: Sequence[ReadStick]) -> Iterator[ReadStick]:
    """The sticks with a number each; one that stands twice is wrong where it comes again."""
    rows: dict[str, int] = {}
    taken = {stick.code for stick in sticks if stick.code}
    for stick in sticks:
        if not stick.code:
            code = _short(stick.name, taken)
            taken.add(code)
            stick = replace(stick, code=code, guessed=("code", *stick.guessed))
        elif stick.code in rows:
            said = f"{stick.code} stands in line {rows[stick.code]} as well."
            stick = replace(stick, wrong=(*stick.wrong, Wrong("code", said)))
        rows.setdefault(stick.code, stick.number)
        yield stick


def _short(name: str, taken: set[str]) -> str:
    """A number for a stick that has none: the first letters of its words, and which of them it is."""
    letters = "".join(word[0] for word in re.findall(r"\w+", name))[:3].upper() or "X"
    return next(code for n in range(1, len(taken) + 2) if (code := letters if n == 1 else f"{letters}{n}") not in taken)
