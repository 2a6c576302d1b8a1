"""Palettes and measured colours from elsewhere: plain-text palettes, CGATS.17 and CxF3, in and out.

Published descriptions: the palette form of the GIMP's documentation; CGATS.17-2009; ISO 17972-1 (CxF3 core). What such
files do not say of a stick (its medium, for one) is left to be said.
"""

from __future__ import annotations

import re
import shlex
from collections.abc import Iterator
from dataclasses import dataclass
from xml.etree.ElementTree import Element, ParseError, SubElement, indent, tostring

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from core.errors import InputError
from core.exchange.cells import printable
from core.exchange.measured_colour import Seen, hex_of_lab, hex_of_spectrum, hex_of_xyz, in_bands
from core.optics.spectra import BANDS_NM
from core.optics.stick import Tray
from core.tray.editing import MAX_LENGTH, MAX_STICKS

_PALETTE = "GIMP Palette"
_MOST_FIELDS = 200
_SPECTRAL = re.compile(r"(?:SPECTRAL_?(?:NM_?)?|NM_?|R_?)(\d{3})")
_CXF = "http://colorexchangeformat.com/CxF3-core"
_D65 = Seen("D65", 2)


@dataclass(frozen=True, slots=True)
class Found:
    """A colour of a file. number: of its line or element, from 1; spectrum: in our bands, empty if it is not known."""

    number: int
    code: str
    name: str
    hex: str
    spectrum: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class ColourFile:
    """All colours of a file, and sentences on what was not understood."""

    colours: tuple[Found, ...]
    said: tuple[str, ...] = ()


def _kept(colours: list[Found], said: list[str], kind: str) -> ColourFile:
    if not colours:
        raise InputError(
            "empty_list", f"There is no colour in this {kind}.", "Look at the file; nothing was put in.", "list"
        )
    if len(colours) > MAX_STICKS:
        raise InputError(
            "too_many_sticks", f"It holds {len(colours)} colours; a box holds {MAX_STICKS}.", "Split it.", "list"
        )
    return ColourFile(tuple(colours), tuple(said))


# Plain-text palettes --------------------------------------------------------------------------------------------------


def read_palette(text: str) -> ColourFile:
    """Three numbers from 0 to 255 and a name in each line, below the head. Raises InputError (`bad_palette`,
    `empty_list`, `too_many_sticks`)."""
    lines = text.splitlines()
    if not lines or not lines[0].startswith(_PALETTE):
        raise InputError("bad_palette", "This palette lacks its head.", f"Its first line is “{_PALETTE}”.", "list")
    colours, said = [], []
    for number, line in enumerate(lines[1:], start=2):
        if not line.strip() or line.lstrip().startswith("#") or re.match(r"\s*(Name|Columns):", line):
            continue
        found = re.match(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})\s*(.*)$", line)
        if not found or max(int(found[i]) for i in (1, 2, 3)) > 255:
            said.append(f"Line {number} is no colour: “{line.strip()[:40]}”.")
            continue
        code, name = _apart(found[4].strip())
        colours.append(Found(number, code, name, "#" + "".join(f"{int(found[i]):02x}" for i in (1, 2, 3))))
    return _kept(colours, said, "palette")


def _apart(text: str) -> tuple[str, str]:
    """Number and name of a stick where a name begins with a number."""
    found = re.match(r"([A-Za-z]{0,4}[-.]?\d{1,5}[A-Za-z]{0,2})\s+(\S.*)$", text)
    return (found[1], found[2][:MAX_LENGTH]) if found else ("", text[:MAX_LENGTH])


def write_palette(tray: Tray) -> bytes:
    """A palette that `read_palette` reads."""
    rows = [_PALETTE, f"Name: {_line(tray.name)}", "Columns: 8", "#"]
    for stick in tray.sticks:
        red, green, blue = bytes.fromhex(stick.solid_hex.lstrip("#"))
        rows.append(f"{red:3d} {green:3d} {blue:3d}\t{_line(f'{stick.code} {stick.name}')}")
    return ("\n".join(rows) + "\n").encode()


def _line(text: str) -> str:
    return printable(" ".join(text.split()))


# CGATS.17 -------------------------------------------------------------------------------------------------------------


def read_cgats(text: str) -> ColourFile:
    """Sets of data with Lab, XYZ, RGB or spectra. Raises InputError (`bad_cgats`, `empty_list`, `too_many_sticks`)."""
    head, format_, data = _sections(text)
    fields = [field.upper() for field in _words(format_)]
    if not fields or len(fields) > _MOST_FIELDS:
        raise _bad_cgats("it does not say its fields between BEGIN_DATA_FORMAT and END_DATA_FORMAT")
    words = _words(data)
    if len(words) % len(fields):
        raise _bad_cgats(f"its data hold {len(words)} values, which is no multiple of its {len(fields)} fields")
    seen = Seen.told(head)
    colours, said = [], []
    if seen.observer == 10:
        said.append("Colours are for the 10° observer; those without spectra were brought over by its white.")
    for number in range(len(words) // len(fields)):
        row = dict(zip(fields, words[number * len(fields) : (number + 1) * len(fields)], strict=True))
        code = row.get("SAMPLE_ID", row.get("SAMPLEID", ""))
        name = row.get("SAMPLE_NAME", row.get("SAMPLENAME", ""))
        try:
            hex_, spectrum = _of_row(row, seen)
        except ValueError:
            said.append(f"Set {number + 1} ({(name or code)[:40]}) holds a value that is no number.")
            continue
        if not hex_:
            said.append(f"Set {number + 1} ({(name or code)[:40]}) holds no Lab, XYZ, RGB or spectrum.")
            continue
        colours.append(Found(number + 1, code[:MAX_LENGTH], name[:MAX_LENGTH], hex_, spectrum))
    return _kept(colours, said, "file")


def _bad_cgats(why: str) -> InputError:
    return InputError("bad_cgats", f"This is no CGATS.17 file: {why}.", "Save it anew as CGATS text.", "list")


def _sections(text: str) -> tuple[str, str, str]:
    """What stands before the format, in the format, and in the data."""
    lines = [line.split("#", 1)[0] if '"' not in line else line for line in text.splitlines()]
    parts: dict[str, list[str]] = {"head": [], "format": [], "data": []}
    where = "head"
    for line in lines:
        word = line.strip().upper()
        if word in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            where = "format" if word == "BEGIN_DATA_FORMAT" else "data"
        elif word in ("END_DATA_FORMAT", "END_DATA"):
            where = "head"
        else:
            parts[where].append(line)
    if not parts["data"]:
        raise _bad_cgats("it holds no data between BEGIN_DATA and END_DATA")
    return "\n".join(parts["head"]), "\n".join(parts["format"]), "\n".join(parts["data"])


def _words(text: str) -> list[str]:
    """Words, those in quotes whole. Raises InputError (`bad_cgats`)."""
    words = []
    for line in text.splitlines():
        try:
            words += shlex.split(line.replace("'", "\\'").replace("\\\\'", "\\'"), posix=True)
        except ValueError:
            raise _bad_cgats(f"a quote is not closed in “{line.strip()[:40]}”") from None
    return words


def _of_row(row: dict[str, str], seen: Seen) -> tuple[str, tuple[float, ...]]:
    """Colour and spectrum of a set; spectra say most, then Lab. Raises ValueError."""
    nm = {float(found[1]): _number(value) for field, value in row.items() if (found := _SPECTRAL.fullmatch(field))}
    bands = in_bands(list(nm), list(nm.values())) if nm else None
    if bands:
        return hex_of_spectrum(bands), bands
    if {"LAB_L", "LAB_A", "LAB_B"} <= row.keys():
        return hex_of_lab([_number(row[f"LAB_{axis}"]) for axis in "LAB"], seen), ()
    if {"XYZ_X", "XYZ_Y", "XYZ_Z"} <= row.keys():
        return hex_of_xyz(np.array([_number(row[f"XYZ_{axis}"]) for axis in "XYZ"]) / 100, seen), ()
    if {"RGB_R", "RGB_G", "RGB_B"} <= row.keys():
        parts = [round(_number(row[f"RGB_{axis}"])) for axis in "RGB"]
        if all(0 <= part <= 255 for part in parts):
            return "#" + bytes(parts).hex(), ()
    return "", ()


def _number(text: str) -> float:
    value = float(text.replace(",", "."))
    if not np.isfinite(value):
        raise ValueError
    return value


def write_cgats(tray: Tray) -> bytes:
    """Lab under D65 and, if all of them were measured, spectra, that `read_cgats` reads."""
    spectral = all(stick.spectrum for stick in tray.sticks)
    fields = ["SAMPLE_ID", "SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B"]
    rows = [
        "CGATS.17", "", f'DESCRIPTOR "{_quoted(tray.name)}"', 'WEIGHTING_FUNCTION "ILLUMINANT, D65"',
        'WEIGHTING_FUNCTION "OBSERVER, 2 degree"',
    ]  # fmt: skip
    if spectral:
        fields += [f"SPECTRAL_NM{int(nm)}" for nm in BANDS_NM]
    rows += [f"NUMBER_OF_FIELDS {len(fields)}", "BEGIN_DATA_FORMAT", " ".join(fields), "END_DATA_FORMAT"]
    rows += [f"NUMBER_OF_SETS {len(tray.sticks)}", "BEGIN_DATA"]
    for stick in tray.sticks:
        lab = " ".join(f"{value:.3f}" for value in stick.lab)
        line = f'"{_quoted(stick.code)}" "{_quoted(stick.name)}" {lab}'
        if spectral:
            line += " " + " ".join(f"{value:.4f}" for value in stick.spectrum)
        rows.append(line)
    return ("\n".join([*rows, "END_DATA"]) + "\n").encode()


def _quoted(text: str) -> str:
    return _line(text).replace('"', "”").replace("\\", "/").replace("'", "’")


# CxF3 -----------------------------------------------------------------------------------------------------------------


def read_cxf(data: bytes) -> ColourFile:
    """Objects with a reflectance, CIELAB, XYZ or sRGB. Raises InputError (`bad_cxf`, `empty_list`,
    `too_many_sticks`)."""
    try:
        root = fromstring(data, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError) as error:
        raise InputError(
            "bad_cxf", "This is no CxF file, or it is cut off.", f"Save it anew ({type(error).__name__}).", "list"
        ) from None
    seen = {held.get("Id", ""): _specified(held) for held in _all(root, "ColorSpecification")}
    colours, said = [], []
    for number, held in enumerate(_all(root, "Object"), start=1):
        name = held.get("Name", "") or held.get("Id", "")
        try:
            hex_, spectrum = _of_object(held, seen)
        except (ValueError, TypeError):
            said.append(f"Object {number} ({name[:40]}) holds a value that is no number.")
            continue
        if not hex_:
            said.append(f"Object {number} ({name[:40]}) holds no reflectance, CIELAB, XYZ or sRGB.")
            continue
        code, rest = _apart(name)
        colours.append(Found(number, code, rest, hex_, spectrum))
    return _kept(colours, said, "file")


def _all(within: Element, tag: str) -> Iterator[Element]:
    """Elements of a name, whatever their namespace."""
    return (held for held in within.iter() if held.tag.rpartition("}")[2] == tag)


def _one(within: Element, tag: str) -> Element | None:
    return next(_all(within, tag), None)


@dataclass(frozen=True, slots=True)
class _Specified:
    seen: Seen
    start: float
    step: float


def _specified(held: Element) -> _Specified:
    """Light, observer and bands of a specification."""
    words = " ".join((part.text or "") for tag in ("Illuminant", "Observer") for part in _all(held, tag))
    bands = _one(held, "WavelengthRange")
    start, step = (
        (float(bands.get(key, usual)) for key, usual in (("StartWL", "0"), ("Increment", "0")))
        if (bands is not None)
        else (0.0, 0.0)
    )
    return _Specified(Seen.told(words.replace("_", " ")), start, step)


def _of_object(held: Element, known: dict[str, _Specified]) -> tuple[str, tuple[float, ...]]:
    """Raises ValueError."""
    usual = next(iter(known.values()), _Specified(Seen(), 0.0, 0.0))
    spectrum = _one(held, "ReflectanceSpectrum")
    if spectrum is not None:
        spec = known.get(spectrum.get("ColorSpecification", ""), usual)
        values = [_number(word) for word in (spectrum.text or "").split()]
        start = float(spectrum.get("StartWL", spec.start) or 0)
        step = float(spectrum.get("Increment", spec.step) or 0) or 10.0
        bands = in_bands(start + step * np.arange(len(values)), values) if len(values) > 2 else None
        if bands:
            return hex_of_spectrum(bands), bands
    for tag, axes in (("ColorCIELab", "LAB"), ("ColorCIEXYZ", "XYZ")):
        colour = _one(held, tag)
        if colour is not None:
            seen = known.get(colour.get("ColorSpecification", ""), usual).seen
            parts = [_number(_text(colour, axis)) for axis in axes]
            return (hex_of_lab(parts, seen) if axes == "LAB" else hex_of_xyz(np.array(parts) / 100, seen)), ()
    colour = _one(held, "ColorSRGB")
    if colour is not None:
        rgb = [round(_number(_text(colour, axis))) for axis in "RGB"]
        if all(0 <= part <= 255 for part in rgb):
            return "#" + bytes(rgb).hex(), ()
    return "", ()


def _text(held: Element, tag: str) -> str:
    found = _one(held, tag)
    return (found.text or "") if found is not None else ""


def write_cxf(tray: Tray) -> bytes:
    """CIELAB under D65 and, where they were measured, reflectances, that `read_cxf` reads."""
    root = Element("CxF", {"xmlns": _CXF})
    information = SubElement(root, "FileInformation")
    SubElement(information, "Description").text = _line(tray.name)
    resources = SubElement(root, "Resources")
    objects = SubElement(resources, "ObjectCollection")
    for number, stick in enumerate(tray.sticks, start=1):
        name = _line(f"{stick.code} {stick.name}")
        held = SubElement(objects, "Object", {"ObjectType": "Target", "Name": name, "Id": f"c{number}"})
        values = SubElement(held, "ColorValues")
        if stick.spectrum:
            its = SubElement(values, "ReflectanceSpectrum", {"ColorSpecification": "measured", "StartWL": "400"})
            its.text = " ".join(f"{value:.4f}" for value in stick.spectrum)
        lab = SubElement(values, "ColorCIELab", {"ColorSpecification": "d65"})
        for axis, value in zip("LAB", stick.lab, strict=True):
            SubElement(lab, axis).text = f"{value:.3f}"
    specifications = SubElement(resources, "ColorSpecificationCollection")
    for key in ("measured", "d65"):
        specification = SubElement(specifications, "ColorSpecification", {"Id": key})
        tristimulus = SubElement(specification, "TristimulusSpec")
        SubElement(tristimulus, "Illuminant").text = _D65.illuminant
        SubElement(tristimulus, "Observer").text = "2_Degree"
        if key == "measured":
            measurement = SubElement(specification, "MeasurementSpec")
            SubElement(measurement, "WavelengthRange", {"StartWL": "400", "Increment": "10"})
    indent(root)
    written: bytes = tostring(root, encoding="utf-8")
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + written + b"\n"
