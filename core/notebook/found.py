"""Entries found by words, by what they are about, and by colour."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from core.colour.difference import ciede2000

Kind = Literal["complexion", "plan", "recipe", "comparison", "card", "note", "stick"]
KINDS: tuple[Kind, ...] = get_args(Kind)

Lab = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Entry:
    """kind: what it is; title, text: as it is read; words: what it is found by besides; lab: CIELAB that it is about,
    if any; at: when it was made or changed last, in seconds. piece, step, figure: where it is from, if from a piece."""

    kind: Kind
    title: str
    text: str
    words: tuple[str, ...]
    at: float
    lab: Lab | None = None
    sticks: tuple[str, ...] = ()
    piece: str = ""
    step: str = ""
    figure: str = ""


@dataclass(frozen=True, slots=True)
class Hit:
    """An entry that was found. off: ΔE00 from the colour that was asked for, None if none was."""

    entry: Entry
    off: float | None


def found(
    entries: Iterable[Entry], text: str = "", kinds: Sequence[Kind] = (), lab: Lab | None = None, most: int = 200
) -> list[Hit]:
    """Entries that hold every word of a text, of these kinds (all if none is named): the latest first; with a colour
    the nearest first, and only what has one. What is in quotation marks is one word."""
    words = (_plain(word) for pair in re.findall(r'"([^"]*)"|(\S+)', text) for word in pair)
    wanted = [word for word in words if word]
    held = [
        entry
        for entry in entries
        if (not kinds or entry.kind in kinds) and (lab is None or entry.lab is not None) and _holds(entry, wanted)
    ]
    if lab is None:
        return [Hit(entry, None) for entry in sorted(held, key=lambda entry: entry.at, reverse=True)[:most]]
    off = ciede2000(np.array([entry.lab for entry in held]).reshape(-1, 3), np.array(lab))
    order = np.argsort(off, kind="stable")[:most]
    return [Hit(held[int(i)], round(float(off[int(i)]), 2)) for i in order]


def _holds(entry: Entry, wanted: Sequence[str]) -> bool:
    """Whether every word begins some word of the entry; of several words, whether they stand in it so."""
    if not wanted:
        return True
    whole = f" {_plain(' '.join((entry.kind, entry.title, entry.text, *entry.words)))}"
    return all(f" {word}" in whole for word in wanted)


def _plain(text: str) -> str:
    """Small letters without marks, words apart by single blanks."""
    bare = "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
    return " ".join(re.findall(r"\w+(?:\.\w+)*", bare))
