"""A document as a flat table of its parts, so that only what changed is sent, and what two have changed is merged.

The path of a part is `spots/spot-1/name`, `setup/finish` or `light`. A list of things with ids is the list of its ids
under its own name (`spots`), which says what is there and in which order. The browser does the same (parts.ts); both
are tested on tests/parts.json.
"""

from __future__ import annotations

from typing import Any

from server.pieces.document.migrate import Raw

LISTS = ("marks", "figures", "spots", "surroundings", "layers")
GROUPS = ("setup", "format", "maps")
Parts = dict[str, Any]


def parts_of(document: Raw) -> Parts:
    """The parts of a document as JSON data."""
    parts: Parts = {}
    for name, held in document.items():
        if name in LISTS:
            parts[name] = [row["id"] for row in held]
            for row in held:
                parts |= {f"{name}/{row['id']}/{field}": part for field, part in row.items() if field != "id"}
        elif name in GROUPS:
            parts |= {f"{name}/{field}": part for field, part in held.items()}
        else:
            parts[name] = held
    return parts


def document_from(parts: Parts) -> Raw:
    """The document that has these parts; parts of things that are in no list are left out.

    Raises ValueError for paths that no document has.
    """
    document: Raw = {name: {} for name in GROUPS}
    rows: dict[str, dict[str, Raw]] = {name: {key: {"id": key} for key in _ids(name, parts)} for name in LISTS}
    for path, part in parts.items():
        name, *rest = path.split("/")
        match rest:
            case [] if name in LISTS:
                continue
            case [] if name not in GROUPS:
                document[name] = part
            case [field] if name in GROUPS:
                document[name][field] = part
            case [key, field] if name in LISTS:
                if key in rows[name]:
                    rows[name][key][field] = part
            case _:
                raise ValueError(f"no document has the part {path[:80]!r}")
    return document | {name: list(held.values()) for name, held in rows.items()}


def _ids(name: str, parts: Parts) -> list[str]:
    ids = parts.get(name, [])
    if not isinstance(ids, list) or not all(isinstance(key, str) for key in ids) or len(set(ids)) < len(ids):
        raise ValueError(f"{name} is no list of ids")
    return ids


def changes(before: Parts, after: Parts) -> Parts:
    """The parts of `after` that differ from those of `before`. What is gone is missing from the list of its kind."""
    missing = object()
    return {path: part for path, part in after.items() if before.get(path, missing) != part}


def changed(document: Raw, some: Parts) -> Raw:
    """The document with these parts instead. Raises ValueError for what no document has."""
    return document_from(parts_of(document) | some)
