"""Writes docs/piece-format.schema.json: the JSON Schema of everything in a bundle but its pictures.

python -m tools.make_bundle_schema
"""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Annotated, Any

import django
from annotated_types import MaxLen
from pydantic import TypeAdapter

TARGET = Path(__file__).parents[1] / "docs/piece-format.schema.json"


def schema() -> dict[str, Any]:
    """A bundle as an object of its JSON parts by their names. Django must have been set up."""
    from core.exchange.bundle import FORMAT
    from core.exchange.scene_json import MOST_COMPLEXIONS, NamedComplexion
    from core.exchange.tray_csv import OPTIONAL, REQUIRED
    from core.optics.stick import Kept
    from core.tray.editing import MAX_LENGTH, MAX_STICKS
    from server.api.values import adapter_of
    from server.materials.carried import CarriedPaper
    from server.pieces.piece.carried import CarriedHistory, CarriedPiece
    from server.practice.carried import CarriedPractice
    from server.trials.carried import CarriedCard

    parts: dict[str, Any] = {
        "piece": CarriedPiece, "history": CarriedHistory, "card": CarriedCard, "practice": CarriedPractice,
        "papers": tuple[CarriedPaper, ...], "kept": Kept,
        "complexions": Annotated[tuple[NamedComplexion, ...], MaxLen(MOST_COMPLEXIONS)],
    }  # fmt: skip
    named: list[tuple[str, Any, TypeAdapter[Any]]] = [
        (key, "serialization", adapter_of(kind)) for key, kind in parts.items()
    ]
    made, shared = TypeAdapter.json_schemas(named, ref_template="#/$defs/{model}")  # type: ignore[arg-type]
    of = {key: part for (key, _), part in made.items()}
    text = {"type": "string", "maxLength": MAX_LENGTH}
    lists = {"pigments": {"type": "array", "items": text}, "spectrum": {"type": "array", "items": {"type": "number"}}}
    stick = {
        "type": "object",
        "properties": dict.fromkeys((*REQUIRED, *OPTIONAL), text) | lists | shared["$defs"]["Kept"]["properties"],
        "required": list(REQUIRED),
        "additionalProperties": False,
    }
    tray = {
        "type": "object",
        "properties": {
            "name": text,
            "per_row": {"type": "integer", "minimum": 0},
            "sticks": {"type": "array", "items": stick, "maxItems": MAX_STICKS},
        },
        "required": ["name", "sticks"],
        "additionalProperties": False,
    }
    head = {
        "type": "object",
        "properties": {
            "caltin_bundle": {"type": "integer", "minimum": 1, "maximum": FORMAT},
            "version": {"type": "string"},
            "trays": {"type": "array", "items": {"type": "string", "format": "uuid"}},
        },
        "required": ["caltin_bundle", "version"],
    }
    complexions = {
        "type": "object",
        "properties": {"complexions": of["complexions"]},
        "required": ["complexions"],
        "additionalProperties": False,
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "What is in a Caltin bundle, by the name of the part",
        "type": "object",
        "properties": {
            "caltin.json": head,
            "papers.json": of["papers"],
            "complexions.json": complexions,
            "practice.json": of["practice"],
        },
        "patternProperties": {
            r"^trays/[0-9a-f-]{36}\.json$": tray,
            r"^cards/\d{4}\.json$": of["card"],
            r"^pieces/\d{4}/piece\.json$": of["piece"],
            r"^pieces/\d{4}/history\.json$": of["history"],
        },
        "required": ["caltin.json"],
        "additionalProperties": False,
        "$defs": shared["$defs"],
    }


def text() -> str:
    """The schema as it is kept."""
    return json.dumps(schema(), indent=1, ensure_ascii=False, sort_keys=True) + "\n"


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    django.setup()
    TARGET.write_text(text())
