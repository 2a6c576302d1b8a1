"""Spots and passes as JSON files."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

from core.errors import InputError
from core.limits import LIMITS
from core.look.reading import Disc, check_region
from core.look.roles import ROLES
from core.optics.medium import Pass

MAX_BYTES = 1_000_000
MOST_LAYERS = 64


@dataclass(frozen=True, slots=True)
class NamedSpot:
    """A spot as a file names it."""

    name: str
    figure: str
    place: str
    role: str
    disc: Disc


def read_spots(data: bytes) -> tuple[NamedSpot, ...]:
    """`{"spots":[{"name","figure","place","role","x","y","radius"}]}`. Raises InputError naming the spot and field."""
    rows = _rows(data, "spots", LIMITS.spots)
    spots = []
    for i, row in enumerate(rows):
        where = f"spots[{i}]"
        role = _text(row, "role", where, "middle")
        if role not in ROLES:
            raise InputError(
                "bad_role", f"“{role[:40]}” is not a light role.", f"Use {', '.join(ROLES)}.", f"{where}.role"
            )
        disc = Disc(*(_number(row, key, where) for key in ("x", "y", "radius")))
        try:
            check_region(disc)
        except InputError as error:
            raise InputError(error.code, error.message, error.hint, f"{where}.{error.field}") from error
        name = _text(row, "name", where, f"spot {i + 1}")
        spots.append(NamedSpot(name, _text(row, "figure", where, ""), _text(row, "place", where, ""), role, disc))
    return tuple(spots)


def read_passes(data: bytes) -> tuple[Pass, ...]:
    """`{"passes":[{"stick","pressure","repeats","technique"}]}`. Raises InputError naming the pass and field."""
    passes = []
    for i, row in enumerate(_rows(data, "passes", LIMITS.passes)):
        where = f"passes[{i}]"
        repeats = _number(row, "repeats", where, 1)
        if repeats != int(repeats):
            raise InputError("bad_repeats", f"{repeats:g} is not a whole number.", "Use 1 to 3.", f"{where}.repeats")
        passes.append(
            Pass(
                stick=_text(row, "stick", where),
                pressure=_text(row, "pressure", where, "light"),
                repeats=int(repeats),
                technique=_text(row, "technique", where, "lay"),
            )
        )
    return tuple(passes)


@dataclass(frozen=True, slots=True)
class FileLayer:
    """A layer as a file of a plan has it. levels: by the number of the spot, the pass that it is there."""

    figure: str
    levels: dict[int, Pass]


def read_plan(data: bytes) -> tuple[FileLayer, ...]:
    """What `plan --layers` writes: `{"figures":[{"figure","layers":[{"stick","technique","levels":[{"spot","pressure",
    "repeats","flicked"}]}]}]}`, layers in working order. Raises InputError naming the layer and field."""
    layers = []
    for i, figure in enumerate(_rows(data, "figures", LIMITS.figures)):
        whose = _text(figure, "figure", f"figures[{i}]", "")
        rows = figure.get("layers")
        if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows) or len(rows) > MOST_LAYERS:
            raise InputError(
                "bad_field", "layers is not a list of layers.", f"Give at most {MOST_LAYERS}.", f"figures[{i}].layers"
            )
        for j, row in enumerate(rows):
            layers.append(FileLayer(whose, _levels(row, f"figures[{i}].layers[{j}]")))
    return tuple(layers)


def _levels(row: dict[str, Any], where: str) -> dict[int, Pass]:
    found = row.get("levels")
    if not isinstance(found, list) or not all(isinstance(level, dict) for level in found) or len(found) > LIMITS.spots:
        raise InputError("bad_field", "levels is not a list.", f"Give at most {LIMITS.spots}.", f"{where}.levels")
    stick, technique = _text(row, "stick", where), _text(row, "technique", where, "lay")
    levels = {}
    for k, level in enumerate(found):
        here = f"{where}.levels[{k}]"
        spot, repeats = _number(level, "spot", here), _number(level, "repeats", here, 1)
        if spot != int(spot) or not 0 <= spot < LIMITS.spots:
            raise InputError("bad_field", f"There is no spot {spot:g}.", "Count spots from 0.", f"{here}.spot")
        if repeats != int(repeats):
            raise InputError("bad_repeats", f"{repeats:g} is no whole number.", "Use 1 to 3.", f"{here}.repeats")
        flicked = level.get("flicked", False)
        if not isinstance(flicked, bool):
            raise InputError("bad_field", "flicked is neither true nor false.", "Use one of them.", f"{here}.flicked")
        levels[int(spot)] = Pass(
            stick, _text(level, "pressure", here, "light"), int(repeats), "flick" if flicked else technique
        )
    return levels


def write_spots(spots: Sequence[NamedSpot]) -> bytes:
    """Spots as a file that `read_spots` gives back the same."""
    rows = [
        {"name": spot.name, "figure": spot.figure, "place": spot.place, "role": spot.role} | asdict(spot.disc)
        for spot in spots
    ]
    return _written("spots", rows)


def write_passes(passes: Sequence[Pass]) -> bytes:
    """Passes as a file that `read_passes` gives back the same."""
    return _written("passes", [asdict(pass_) for pass_ in passes])


def _written(key: str, rows: list[dict[str, Any]]) -> bytes:
    return json.dumps({key: rows}, ensure_ascii=False, indent=1).encode()


def _rows(data: bytes, key: str, most: int) -> list[dict[str, Any]]:
    return rows_of(data, key, most)[1]


def rows_of(data: bytes, key: str, most: int, least: int = 1) -> tuple[dict[str, Any], list[dict[str, Any]]]:
    """All that a JSON file holds, and its list of objects under a key. Raises InputError (`file_too_large`, `bad_json`,
    `nothing_given`, `too_many`)."""
    if len(data) > MAX_BYTES:
        raise InputError("file_too_large", f"The {key} file is over {MAX_BYTES // 1_000_000} MB.", "", key)
    try:
        parsed = json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError) as error:
        raise InputError("bad_json", f"The {key} file is not JSON.", f'Expected {{"{key}": […]}}.', key) from error
    rows = parsed.get(key) if isinstance(parsed, dict) else None
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        raise InputError("bad_json", f"The {key} file has no list “{key}”.", f'Expected {{"{key}": [{{…}}]}}.', key)
    if len(rows) < least:
        raise InputError("nothing_given", f"The {key} file holds no {key}.", "Give at least one.", key)
    if len(rows) > most:
        raise InputError("too_many", f"The {key} file holds {len(rows)} {key}.", f"Keep it to {most}.", key)
    return parsed, rows


def _text(row: dict[str, Any], key: str, where: str, default: str | None = None) -> str:
    found = row.get(key, default)
    if not isinstance(found, str) or len(found) > 80:
        raise InputError("bad_field", f"{key} is not a short text.", "Expected up to 80 characters.", f"{where}.{key}")
    return found


def _number(row: dict[str, Any], key: str, where: str, default: float | None = None) -> float:
    found = row.get(key, default)
    if isinstance(found, bool) or not isinstance(found, int | float):
        raise InputError("bad_field", f"{key} is not a number.", "Expected a number.", f"{where}.{key}")
    return float(found)
