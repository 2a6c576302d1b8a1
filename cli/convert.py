"""python -m cli convert IN OUT: a file in another format."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from core.errors import InputError
from core.exchange.formats import FORMATS, FileFormat, get_format
from core.exchange.list_file import tray_in
from core.optics.stick import Tray

Read = Callable[[str, str], bytes]
_KEYS = {"sticks": "tray", "spots": "spots", "passes": "passes", "card": "card", "complexions": "complexions"}
_ENDINGS = {".toml": "method"}
"""What a JSON file holds, by a key of its."""


def add_command(convert: argparse.ArgumentParser, read: Read) -> None:
    """The command itself. read: the bytes of a file, by its name and the option that names it."""
    convert.add_argument("source", metavar="IN")
    convert.add_argument("target", metavar="OUT", help="its ending says the format")
    convert.add_argument("--medium", default="", help="of sticks that do not say theirs")
    convert.add_argument("--json", action="store_true", help="on one line")
    convert.set_defaults(run=lambda options: _convert(options, read))


def _convert(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    data, source, target = read(options.source, "IN"), Path(options.source), Path(options.target)
    holds = _held(data, source.name)
    came, goes = get_format(holds, source.name), get_format(holds, target.name)
    if came.read is None or goes.write is None:
        raise InputError("one_way", f"{goes.name} is only read.", f"Use {_endings(holds)}.", "OUT")
    held = tray_in(data, source.stem, options.medium) if options.medium else came.read(data, source.stem)
    try:
        target.write_bytes(goes.write(held))
    except OSError as error:
        raise InputError("no_file", f"{target} cannot be written.", "Check the path.", "OUT") from error
    return {
        "holds": holds,
        "from": came.id,
        "to": goes.id,
        "count": len(held.sticks) if isinstance(held, Tray) else len(held) if isinstance(held, tuple) else 1,
        "whole": goes.whole,
    }


def _held(data: bytes, name: str) -> str:
    """What a file holds: of JSON by its keys, of everything else sticks."""
    suffix = Path(name).suffix.lower()
    if suffix != ".json":
        return _ENDINGS.get(suffix, "tray")
    try:
        keys = json.loads(data.decode("utf-8-sig"))
    except (ValueError, RecursionError) as error:
        raise InputError("bad_json", f"{name[-40:]} is not JSON.", "Look at the file.", "IN") from error
    found = (holds for key, holds in _KEYS.items() if isinstance(keys, dict) and key in keys)
    return next(found, "scene")


def _endings(holds: str) -> str:
    rows: list[FileFormat] = [row for row in FORMATS.values() if row.holds == holds and row.write]
    return ", ".join(row.suffixes[0] for row in rows)
