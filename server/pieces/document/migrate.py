"""Documents of older versions in the present schema: one pure function for each step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from core.errors import ConflictError
from core.surround.region import USUAL_REACH
from server.pieces.document.schema import SCHEMA

Raw = dict[str, Any]
"""A document as it was stored or sent, before it is decoded."""


def migrate(held: Raw) -> Raw:
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


def schema_of(held: Raw) -> int:
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


def _with_look(held: Raw) -> Raw:
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


def _with_wishes(held: Raw) -> Raw:
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


def _with_number(held: Raw) -> Raw:
    """3 → 4 (0.5): the number itself. Within 0.4 wishes came one after the other, so that some may still be missing."""
    return {**_with_wishes(held), "schema": 4}


def _decisions_alone(held: Raw) -> Raw:
    """4 → 5 (0.6): what is worked out and what was done on paper are kept elsewhere; two words get one meaning each."""
    setup = dict(held["setup"])
    setup["must_use"] = setup.pop("kept")
    rest = {key: part for key, part in held.items() if key not in ("sheet", "work")}
    spots = [_without_results(spot) for spot in held["spots"]]
    return {**rest, "schema": 5, "setup": setup, "format": held["sheet"], "spots": spots}


def _without_results(spot: Raw) -> Raw:
    """A spot without its reading, and its recipe without what came of it."""
    recipe = spot["recipe"]
    rest = {key: part for key, part in spot.items() if key not in ("reading", "temperature", "beyond")}
    return {**rest, "recipe": recipe and {"passes": recipe["passes"]}}


def _with_other_eyes(held: Raw) -> Raw:
    """5 → 6 (0.9): finds that are no faces; what is balanced on may be an eye white."""
    balance = held["balance"]
    return {**held, "schema": 6, "no_faces": [], "balance": balance and {"eye_white": False, **balance}}


def _with_layers(held: Raw) -> Raw:
    """6 → 7 (0.10): layers over the spots of figures, and a medium beneath. Recipes stay what they are until they are
    planned anew."""
    return {**held, "schema": 7, "layers": [], "setup": {**held["setup"], "under": ""}}


def _with_imagined_light(held: Raw) -> Raw:
    """7 → 8 (0.16): an imagined light with those who sit in it, and spots that aim for a place in it."""
    spots = [{"family": None, **spot} for spot in held["spots"]]
    return {**held, "schema": 8, "imagined": None, "spots": spots}


def _with_surround(held: Raw) -> Raw:
    """8 → 9 (0.18): places beside the skin become regions with ramps of their own."""
    new = {"kind": "other", "more": [], "reach": USUAL_REACH, "shade": "darker", "layers": []}
    return {**held, "schema": 9, "surroundings": [{**new, **row} for row in held["surroundings"]]}


def _with_maps_wanted(held: Raw) -> Raw:
    """9 → 10 (0.26): how maps are drawn is decided for each piece."""
    return {**held, "schema": 10, "maps": {"areas": "drawn", "doses": 3, "least_mm2": 30.0}}


def work_in(held: Raw) -> dict[str, dict[str, str]]:
    """What was ticked (`done`) and noted (`notes`) by the id of a pass, where a document still holds it."""
    work = held.get("work") or {}
    return {part: dict(work.get(part) or {}) for part in ("done", "notes")}


_STEPS: tuple[Callable[[Raw], Raw], ...] = (
    _with_look,
    _with_wishes,
    _with_number,
    _decisions_alone,
    _with_other_eyes,
    _with_layers,
    _with_imagined_light,
    _with_surround,
    _with_maps_wanted,
)
