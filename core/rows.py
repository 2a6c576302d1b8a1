"""Rows of data files as frozen values: nothing unknown, misspelt or missing passes in silence."""

from __future__ import annotations

import dataclasses
import difflib
import tomllib
from collections.abc import Mapping
from importlib.resources import files
from typing import Any, TypeVar, get_args, get_origin, get_type_hints

from core.errors import InputError

T = TypeVar("T")


def toml(package: str, path: str) -> dict[str, Any]:
    """The table in a data file of a package."""
    return tomllib.loads(files(package).joinpath(path).read_text("utf-8"))


def from_row(kind: type[T], row: Mapping[str, Any], where: str, **more: Any) -> T:
    """The dataclass that a row of a data file stands for; lists become tuples.

    more: fields that the row itself does not hold. Raises InputError (`bad_row`) that names `where` and the key: one
    that is unknown (with the nearest known one), one that is missing, or one whose value is of another type.
    """
    hints = get_type_hints(kind)
    fields = {field.name: field for field in dataclasses.fields(kind) if field.name not in more}  # type: ignore[arg-type]
    for key in row:
        if key not in fields:
            near = difflib.get_close_matches(key, fields, 1)
            hint = f"Perhaps “{near[0]}” is meant." if near else f"Known are {', '.join(fields)}."
            raise InputError("bad_row", f"{where} has the unknown key “{key[:40]}”.", hint, key)
    for key, field in fields.items():
        required = field.default is dataclasses.MISSING and field.default_factory is dataclasses.MISSING
        if required and key not in row:
            raise InputError("bad_row", f"{where} lacks the key “{key}”.", "Add it.", key)
    given = {key: _as(hints[key], held, f"{where}, {key}") for key, held in row.items()}
    return kind(**more, **given)


def _as(hint: Any, held: Any, where: str) -> Any:
    if get_origin(hint) is tuple:
        if not isinstance(held, list):
            raise InputError("bad_row", f"{where} is no list.", "Write it in brackets.", where)
        inner = get_args(hint)
        kinds = [inner[0]] * len(held) if inner[-1] is Ellipsis else list(inner)
        if len(kinds) != len(held):
            raise InputError("bad_row", f"{where} holds {len(held)} values.", f"Give {len(kinds)}.", where)
        return tuple(_as(kind, part, where) for kind, part in zip(kinds, held, strict=True))
    number = isinstance(held, int | float) and not isinstance(held, bool)
    if not (number if hint is float else type(held) is hint):
        raise InputError("bad_row", f"{where} is {held!r:.40}.", f"Give a {hint.__name__}.", where)
    return float(held) if hint is float else held
