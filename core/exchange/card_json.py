"""A trial card as JSON, so that its photograph can be read back: what each box asks for."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass
from typing import Any

from core.errors import InputError
from core.optics.media import get_medium
from core.optics.medium import MAX_REPEATS, PRESSURES, Pass
from core.trial.card import FIRST_NUMBER, KINDS, MOST_BOXES, NUMBERS, Card, Cell

_MAX_BYTES = 1_000_000
_MOST_PASSES = 16


@dataclass(frozen=True, slots=True)
class CardFile:
    """A card, and the medium and paper it is for."""

    card: Card
    medium: str
    paper: str


def write_card_json(held: CardFile) -> bytes:
    """`{"card": …, "medium", "paper"}`."""
    return json.dumps(asdict(held), ensure_ascii=False, indent=1).encode()


def read_card_json(data: bytes) -> CardFile:
    """What `write_card_json` has written. Raises InputError (`bad_card`) that names what is wrong."""
    if len(data) > _MAX_BYTES:
        raise _wrong("it is too large")
    try:
        held = json.loads(data)
        card = held["card"]
        cells = tuple(_cell(i, row) for i, row in enumerate(card["cells"]))
        bands = None if card["bands"] is None else (float(card["bands"][0]), float(card["bands"][1]))
        found = Card(str(card["kind"]), str(card["size"]), int(card["number"]), cells, bands)
        read = CardFile(found, str(held["medium"]), str(held["paper"]))
    except (ValueError, KeyError, TypeError, IndexError, RecursionError) as error:
        raise _wrong(f"{type(error).__name__} in it") from error
    if found.kind not in KINDS or not FIRST_NUMBER <= found.number < FIRST_NUMBER + NUMBERS:
        raise _wrong("its kind or number is none of a card")
    if not 1 <= len(cells) <= MOST_BOXES:
        raise _wrong(f"it has {len(cells)} boxes")
    get_medium(read.medium)
    found.pages()
    return read


def _cell(number: int, row: dict[str, Any]) -> Cell:
    passes = tuple(
        Pass(str(p["stick"])[:80], str(p["pressure"]), int(p["repeats"]), str(p["technique"])) for p in row["passes"]
    )
    possible = 1 <= len(passes) <= _MOST_PASSES
    if not possible or any(p.pressure not in PRESSURES or not 1 <= p.repeats <= MAX_REPEATS for p in passes):
        raise ValueError(f"box {number + 1}")
    return Cell(passes, str(row["says"])[:120], int(row["bare"]))


def _wrong(what: str) -> InputError:
    return InputError("bad_card", f"This is no card that can be read: {what}.", "Use the file written with it.", "card")
