"""Scenes, and complexions by name, as JSON files."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass
from functools import cache
from typing import Any, TypeVar

from pydantic import TypeAdapter
from pydantic import ValidationError as Faults

from core.errors import InputError
from core.light.scene import Scene, check_scene
from core.limits import LIMITS
from core.skin.describe import Description

T = TypeVar("T")
MAX_BYTES = 1_000_000
MOST_COMPLEXIONS = 200


@dataclass(frozen=True, slots=True)
class NamedComplexion:
    """A complexion under the name that the artist gave it."""

    name: str
    skin: Description
    note: str = ""


def read_scene(data: bytes) -> Scene:
    """`{"sitters": […], "key": {…}, "around": […], …}`: see core.light.scene.Scene; what is left out is as usual.

    Raises InputError that names the field, and what `check_scene` raises.
    """
    scene = _as(Scene, _json(data, "scene"), "scene")
    check_scene(scene)
    return scene


def write_scene(scene: Scene) -> bytes:
    """The scene as a file that `read_scene` gives back the same."""
    return json.dumps(asdict(scene), ensure_ascii=False, indent=1).encode()


def read_complexions(data: bytes) -> tuple[NamedComplexion, ...]:
    """`{"complexions": [{"name", "skin": {…}, "note"}]}`. Raises InputError that names the field."""
    held = _json(data, "complexions")
    rows = held.get("complexions") if isinstance(held, dict) else None
    if not isinstance(rows, list) or not rows:
        raise InputError(
            "bad_json", "The file holds no complexions.", 'Expected {"complexions": [{…}]}.', "complexions"
        )
    if len(rows) > MOST_COMPLEXIONS:
        raise InputError(
            "too_many", f"The file holds {len(rows)} complexions.", f"Keep it to {MOST_COMPLEXIONS}.", "complexions"
        )
    found = tuple(_as(NamedComplexion, row, f"complexions[{i}]") for i, row in enumerate(rows))
    for i, row in enumerate(found):
        if not 1 <= len(row.name.strip()) <= LIMITS.name or len(row.note) > LIMITS.note:
            raise InputError(
                "bad_field", "A name or a note is empty or too long.",
                f"Use up to {LIMITS.name} and {LIMITS.note} characters.", f"complexions[{i}].name",
            )  # fmt: skip
    return found


def write_complexions(rows: tuple[NamedComplexion, ...]) -> bytes:
    """Complexions as a file that `read_complexions` gives back the same."""
    return json.dumps({"complexions": [asdict(row) for row in rows]}, ensure_ascii=False, indent=1).encode()


@cache
def _adapter(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def _json(data: bytes, field: str) -> Any:
    if len(data) > MAX_BYTES:
        raise InputError("file_too_large", f"The file is over {MAX_BYTES // 1_000_000} MB.", "", field)
    try:
        return json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError) as error:
        raise InputError("bad_json", "The file is not JSON.", "Choose one that Caltin wrote.", field) from error


def _as(kind: type[T], held: Any, field: str) -> T:
    """The value that JSON data stand for; nothing unknown or out of range passes in silence."""
    try:
        value: T = _adapter(kind).validate_python(held)  # type: ignore[arg-type]  # types are hashable
    except Faults as faults:
        first = faults.errors(include_url=False)[0]
        path = ".".join(str(part) for part in first["loc"])
        where = f"{field}.{path}" if path else field
        raise InputError(
            "bad_field", f"{first['msg'][:1].upper()}{first['msg'][1:]}.", "See the docs.", where
        ) from None
    unknown = _unknown(held, asdict(value), field)  # type: ignore[call-overload]  # kinds are dataclasses
    if unknown:
        raise InputError(
            "bad_field", f"There is no field {unknown[-60:]}.", "docs/light.md says what may stand there.", unknown
        )
    return value


def _unknown(held: Any, known: Any, where: str) -> str:
    """The first field that is in the data and in no value; empty if there is none."""
    if isinstance(held, dict) and isinstance(known, dict):
        for key, inner in held.items():
            here = f"{where}.{str(key)[:40]}"
            if key not in known:
                return here
            if found := _unknown(inner, known[key], here):
                return found
    if isinstance(held, list) and isinstance(known, list | tuple):
        for i, (inner, other) in enumerate(zip(held, known, strict=False)):
            if found := _unknown(inner, other, f"{where}[{i}]"):
                return found
    return ""
