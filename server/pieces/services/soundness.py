"""What a stored document may hold wrongly, since an older version let it pass: named and set aside, so that the rest
opens."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from core.errors import InputError
from core.look.faces import Face, check_face
from core.look.measuring import Sheet, place_on
from core.look.study import Person, Stroke, check_person
from server.pieces.services.migrate import Document

_PASS_KEYS = {"id", "stick", "pressure", "repeats", "technique"}


def person_of(figure: dict[str, Any]) -> Person:
    """What a figure of a document says of its person."""
    return Person(
        face=Face(**figure["face"]) if figure["face"] else None,
        strokes=tuple(map(_stroke, figure["strokes"])),
    )


def check_figures(document: Document) -> None:
    """Raises InputError (`bad_face`, `bad_stroke`; field `document.figures[i]`) for what lies outside the picture."""
    for i, figure in enumerate(document["figures"]):
        try:
            check_person(person_of(figure))
        except InputError as error:
            raise InputError(error.code, error.message, error.hint, f"document.figures[{i}].{error.field}") from error


def check_sheet(sheet: dict[str, Any]) -> None:
    """Raises InputError (`bad_sheet`) for a sheet that cannot be."""
    place_on(Sheet(**sheet), 3, 4)


def sound(document: Document) -> tuple[Document, list[str]]:
    """The document without what cannot be used, and a sentence on each such thing."""
    said: list[str] = []
    figures = [_sound_figure(figure, said) for figure in document["figures"]]
    known = {figure["id"] for figure in figures}
    spots = [_sound_spot(spot, said) for spot in document["spots"] if spot["figure"] in known]
    if len(spots) < len(document["spots"]):
        said.append("Spots of a figure that is no longer there were set aside.")
    sheet = document["sheet"]
    if sheet and _wrong(lambda: check_sheet(sheet)):
        sheet = {"width_mm": 210.0, "height_mm": 297.0, "margin_mm": 10.0} | {
            key: sheet[key] for key in ("fit", "shift_x", "shift_y")
        }
        said.append("The sheet had a size that cannot be; A4 stands in its place.")
    return {**document, "figures": figures, "spots": spots, "sheet": sheet}, said


def _sound_figure(figure: dict[str, Any], said: list[str]) -> dict[str, Any]:
    face = figure["face"]
    if face and _wrong(lambda: check_face(Face(**face))):
        said.append(f"The face of {figure['name']} lay outside the picture and was set aside.")
        face = None
    strokes = [row for row in figure["strokes"] if not _wrong(partial(check_person, Person(None, (_stroke(row),))))]
    if len(strokes) < len(figure["strokes"]):
        said.append(f"Strokes over the skin of {figure['name']} left the picture and were set aside.")
    return {**figure, "face": face, "strokes": strokes}


def _sound_spot(spot: dict[str, Any], said: list[str]) -> dict[str, Any]:
    recipe = spot["recipe"]
    if recipe and not all(row.keys() >= _PASS_KEYS for row in recipe["passes"]):
        said.append(f"The recipe of {spot['name']} lacked something and was set aside.")
        return {**spot, "recipe": None}
    return spot


def _stroke(row: dict[str, Any]) -> Stroke:
    return Stroke(row["add"], row["radius"], tuple((float(x), float(y)) for x, y in row["points"]))


def _wrong(check: Callable[[], None]) -> bool:
    try:
        check()
    except InputError:
        return True
    return False
