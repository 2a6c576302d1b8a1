"""What a stored document may hold wrongly, since an older version let it pass: named and set aside, so that the rest
opens."""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import asdict, replace
from functools import partial
from typing import Any

from pydantic import ValidationError as Faults

from core.errors import InputError
from core.look.faces import check_face
from core.look.measuring import Format, place_on
from core.look.study import Person, check_person
from server.api.values import adapter_of
from server.pieces.document.migrate import Raw, migrate
from server.pieces.document.schema import Document, Figure

_ROUNDS = 3
_LISTS = ("spots", "marks", "surroundings", "layers")


def check_figures(document: Document) -> None:
    """Raises InputError (`bad_face`, `bad_stroke`; field `document.figures[i]`) for what lies outside the picture."""
    for i, figure in enumerate(document.figures):
        try:
            check_person(figure.person)
        except InputError as error:
            raise InputError(error.code, error.message, error.hint, f"document.figures[{i}].{error.field}") from error


def check_format(paper: Format) -> None:
    """Raises InputError (`bad_format`) for a sheet that cannot be."""
    place_on(paper, 3, 4)


def read(stored: Raw) -> tuple[Document, list[str]]:
    """A stored document of whatever version without what cannot be used, and a sentence on each such thing.

    Raises ValueError, KeyError, TypeError or AttributeError for what is no document at all.
    """
    raw, said = migrate(stored), list[str]()
    for _ in range(_ROUNDS):
        try:
            return _usable(adapter_of(Document).validate_python(raw), said)
        except Faults as faults:
            raw = _without(raw, [fault["loc"] for fault in faults.errors(include_url=False)], said)
    raise ValueError("nothing is left of this document")


def _without(raw: Raw, places: list[tuple[int | str, ...]], said: list[str]) -> Raw:
    """The document without what lies at these places, or without the part of it that cannot stand alone."""
    raw = copy.deepcopy(raw)
    gone: list[Any] = []
    for part, *rest in dict.fromkeys(places):
        match part, rest:
            case "figures", [int(i), "face", *_]:
                raw["figures"][i]["face"] = None
                said.append(f"The face of {raw['figures'][i]['name']} lay outside the picture and was set aside.")
            case "spots", [int(i), "family", *_]:
                raw["spots"][i]["family"] = None
            case "figures", [int(i), "strokes", int(j), *_]:
                gone.append(raw["figures"][i]["strokes"][j])
            case "spots", [int(i), "recipe", *_]:
                raw["spots"][i]["recipe"] = None
                said.append(f"The recipe of {raw['spots'][i]['name']} lacked something and was set aside.")
            case "spots", [int(i), "outline", *_]:
                raw["spots"][i]["outline"] = None
                said.append(f"The outline of {raw['spots'][i]['name']} was wrong and was set aside.")
            case (("spots" | "marks" | "surroundings" | "layers"), [int(i), *_]):
                gone.append(raw[part][i])
            case "setup", [str(choice), *_]:
                del raw["setup"][choice]
                said.append(f"The choice of {choice.replace('_', ' ')} was none; the usual one stands in its place.")
            case "maps", [str(choice), *_]:
                del raw["maps"][choice]
                said.append("How maps are drawn was none; the usual way stands in its place.")
            case "format", _:
                raw["format"] = asdict(Format())
                said.append(_A4)
            case (("tray" | "picture" | "balance" | "light" | "grid" | "cross" | "unit" | "imagined"), _):
                raw[str(part)] = None
                said.append(f"The {part} was none and was set aside.")
            case _ if part in raw and part not in Document.__slots__:  # type: ignore[attr-defined]  # a dataclass
                del raw[str(part)]
    for part, holder in [*((part, raw) for part in _LISTS), *(("strokes", figure) for figure in raw["figures"])]:
        left = [row for row in holder[part] if not any(row is other for other in gone)]
        if len(left) < len(holder[part]):
            said.append(f"Some {part} could not be read and were set aside.")
        holder[part] = left
    return raw


_A4 = "The sheet had a size that cannot be; A4 stands in its place."


def _usable(document: Document, said: list[str]) -> tuple[Document, list[str]]:
    figures = tuple(_usable_figure(figure, said) for figure in document.figures)
    known = {figure.id for figure in figures}
    spots = tuple(spot for spot in document.spots if spot.figure in known)
    if len(spots) < len(document.spots):
        said.append("Spots of a figure that is no longer there were set aside.")
    paper = document.format
    if _wrong(lambda: check_format(paper)):
        paper = Format(fit=paper.fit, shift_x=paper.shift_x, shift_y=paper.shift_y)
        said.append(_A4)
    no_faces = tuple(face for face in document.no_faces if not _wrong(partial(check_face, face)))
    return replace(document, figures=figures, spots=spots, format=paper, no_faces=no_faces), said


def _usable_figure(figure: Figure, said: list[str]) -> Figure:
    face = figure.face
    if face and _wrong(partial(check_face, face)):
        said.append(f"The face of {figure.name} lay outside the picture and was set aside.")
        face = None
    strokes = tuple(row for row in figure.strokes if not _wrong(partial(check_person, Person(None, (row,)))))
    if len(strokes) < len(figure.strokes):
        said.append(f"Strokes over the skin of {figure.name} left the picture and were set aside.")
    return replace(figure, face=face, strokes=strokes)


def _wrong(check: Callable[[], None]) -> bool:
    try:
        check()
    except InputError:
        return True
    return False
