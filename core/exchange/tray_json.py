"""A tray as JSON: `{"name", "per_row", "sticks": [{"code", "name", …}]}` with the fields of the CSV, some as lists."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any

from core.errors import InputError
from core.exchange.json_files import rows_of
from core.exchange.tray_csv import KEPT, OPTIONAL, REQUIRED, tray_of
from core.optics.stick import Tray
from core.tray.editing import MAX_STICKS, MOST_PER_ROW

_LISTS: Mapping[str, str] = {"pigments": "+", "feel": "+", "sets": "+", "spectrum": " "}


def read_tray_json(data: bytes, name: str = "My tray", may_be_empty: bool = False) -> Tray:
    """The tray in a JSON file. Raises InputError naming the row, from 1, and the field."""
    held, rows = rows_of(data, "sticks", MAX_STICKS, least=0 if may_be_empty else 1)
    title, per_row = held.get("name", name), held.get("per_row", 0)
    if not isinstance(title, str) or isinstance(per_row, bool) or not isinstance(per_row, int):
        raise InputError("bad_field", "The tray has no proper name or per_row.", "Give a text and a number.", "tray")
    if not 0 <= per_row <= MOST_PER_ROW:
        raise InputError("bad_field", f"per_row is {per_row}.", f"Use 0 to {MOST_PER_ROW}.", "per_row")
    if not rows:
        return Tray(title[:80] or name, per_row=per_row)
    texts = [(number, {key: _text(key, cell) for key, cell in row.items()}) for number, row in enumerate(rows, 1)]
    with_kept = any(set(KEPT) & row.keys() for row in rows)
    return replace(tray_of(title[:80] or name, texts, with_kept), per_row=per_row)


def _text(key: str, cell: Any) -> str:
    if key not in _LISTS or not isinstance(cell, list):
        return str(cell)
    pairs = ("=".join(map(str, part)) if isinstance(part, list) else str(part) for part in cell)
    return _LISTS[key].join(pairs)


def write_tray_json(tray: Tray) -> bytes:
    """The tray as a JSON file that `read_tray_json` gives back the same."""
    rows = []
    for i, stick in enumerate(tray.sticks):
        row = {field: getattr(stick, field) for field in (*REQUIRED, *OPTIONAL, "spectrum")}
        rows.append(row | (asdict(tray.kept[i]) if tray.kept else {}))
    text = json.dumps({"name": tray.name, "per_row": tray.per_row, "sticks": rows}, ensure_ascii=False, indent=1)
    return text.encode()
