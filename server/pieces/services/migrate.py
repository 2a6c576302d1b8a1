"""Documents of older versions in the present schema: one pure function for each step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from core.errors import ConflictError

SCHEMA = 4
"""The number of the present schema. It grows with every change of what a document holds, together with a step below and
a folder of the version before in tests/folders."""

Document = dict[str, Any]


def migrate(held: Document) -> Document:
    """The document in the present schema, unchanged in everything else.

    Raises ConflictError (`newer_document`) for one that a newer version wrote.
    """
    number = schema_of(held)
    if number > SCHEMA:
        raise ConflictError(
            "newer_document",
            "This was written by a newer version of Caltin.",
            "Load the page again; if that does not help, the server must be brought up to date.",
            "document.schema",
        )
    for step in _STEPS[number - 1 :]:
        held = step(held)
    return held


def schema_of(held: Document) -> int:
    """The number of the schema that a document is in; before 4 it was not written down, and the keys tell.

    Raises ValueError for what can be no such number.
    """
    if "schema" in held:
        number = held["schema"]
        if type(number) is not int or number < 1:
            raise ValueError(f"{number!r} is the number of no schema")
        return number
    if "surroundings" in held:
        return 3
    return 2 if "sheet" in held else 1


def _with_look(held: Document) -> Document:
    """1 (0.1) → 2 (0.2, 0.3): balance, light, sheet, measures; faces and strokes of figures; outlines of spots."""
    return {
        **held,
        "balance": None, "light": None, "grid": None, "cross": None, "marks": [], "unit": None,
        "sheet": {
            "width_mm": 210.0, "height_mm": 297.0, "margin_mm": 10.0, "fit": "whole", "shift_x": 0.5, "shift_y": 0.5,
        },
        "figures": [{"face": None, "strokes": [], **figure} for figure in held["figures"]],
        "spots": [{"outline": None, **spot} for spot in held["spots"]],
    }  # fmt: skip


def _with_wishes(held: Document) -> Document:
    """2 → 3 (0.4): what is kept, banned and locked, how colours are fitted and recipes end, the surroundings."""
    setup = {
        "fit": "clip", "kept": [], "banned": [], "one_shadow": False, "finish": "layer", "reserve": False,
        **held["setup"],
    }  # fmt: skip
    return {
        **held,
        "setup": setup,
        "surroundings": held.get("surroundings", []),
        "spots": [_with_locks(spot) for spot in held["spots"]],
    }


def _with_locks(spot: dict[str, Any]) -> dict[str, Any]:
    recipe = spot["recipe"]
    if recipe:
        recipe = {**recipe, "passes": [{"locked": False, **row} for row in recipe["passes"]]}
    return {"locked": False, **spot, "recipe": recipe}


def _with_number(held: Document) -> Document:
    """3 → 4 (0.5): the number itself. Within 0.4 wishes came one after the other, so that some may still be missing."""
    return {**_with_wishes(held), "schema": 4}


_STEPS: tuple[Callable[[Document], Document], ...] = (_with_look, _with_wishes, _with_number)
