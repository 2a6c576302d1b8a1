"""A colour told from a name, for sticks of which nobody has anything else: a guess, and said to be one."""

from __future__ import annotations

import re
import tomllib
import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

from core.colour.spaces import Floats, hex_to_lab, lab_to_hex

_PAPER = np.array([97.0, 0.0, 1.0])
"""What a tint is thinned towards."""
_HUES, _THINGS, _ISH = 0.35, 0.7, 0.25
"""How much a word counts that stands before a hue: blue grey is a grey, but sky blue that of the sky; bluish grey."""
_CHANGES: Mapping[str, tuple[float, float]] = {
    # How far towards paper (or black, if negative), and by what chroma is multiplied.
    "light": (0.4, 1.0),
    "pale": (0.55, 0.95),
    "very": (0.0, 1.0),
    "medium": (0.0, 1.0),
    "middle": (0.0, 1.0),
    "dark": (-0.35, 1.0),
    "deep": (-0.3, 1.1),
    "bright": (0.0, 1.2),
    "vivid": (0.0, 1.25),
    "strong": (0.0, 1.15),
    "hot": (0.0, 1.4),
    "dull": (0.0, 0.6),
    "muted": (0.0, 0.6),
    "soft": (0.25, 0.85),
    "dusty": (0.1, 0.6),
    "pastel": (0.5, 0.9),
    "greyed": (0.0, 0.45),
}
_TEMPERATURES: Mapping[str, tuple[float, float]] = {"warm": (1.0, 4.0), "cool": (-1.0, -5.0), "cold": (-1.5, -6.0)}
"""What is added to a* and b*."""
_GREYS = (92.0, 8.0)
"""L* of a grey that has the number 0, and how much darker each number is."""
_SAME = {"gray": "grey", "golden": "gold", "silvery": "silver", "coffe": "coffee", "violett": "violet"}
_DARKEST = np.array([12.0, 0.0, 0.0])


@dataclass(frozen=True, slots=True)
class Guess:
    """What a name seems to say. hex: sRGB; words: of the name that were understood, in its order."""

    hex: str
    words: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Word:
    lab: Floats
    hue: bool


@cache
def _colours() -> Mapping[str, _Word]:
    """Every word, or phrase of several, that is understood."""
    tables = tomllib.loads((files("core.tray") / "data/colour_words.toml").read_text("utf-8"))
    return {
        phrase: _Word(hex_to_lab(code), group == "hues")
        for group, table in tables.items()
        for phrase, code in table.items()
    }


_LONGEST = 3
"""Words in a phrase."""


def guess(name: str) -> Guess | None:
    """The colour that a name says; None if it says none.

    The longest phrases of it that are known; the last is what it is, those before are mixed into it, then light, dark,
    warm, a tint in per cent and a grey's number change it. Common practice in naming; the figures are assumed.
    """
    nouns: list[tuple[str, _Word]] = []
    tinges: list[Floats] = []
    used: list[str] = []
    changes: list[str] = []
    for phrase in _phrases(_words(name)):
        if phrase in _colours():
            nouns.append((phrase, _colours()[phrase]))
        elif (tinge := _tinge(phrase)) is not None:
            tinges.append(tinge)
        elif phrase in _CHANGES or phrase in _TEMPERATURES:
            changes.append(phrase)
        else:
            continue
        used.append(phrase)
    if not nouns:
        return None
    last, head = nouns[-1]
    lab = head.lab
    for _, word in nouns[:-1]:
        lab = lab + (_THINGS if head.hue and not word.hue else _HUES) * (word.lab - lab)
    for tinge in tinges:
        lab = lab + _ISH * (tinge - lab)
    if last == "grey":
        lab = _grey(lab, _number(name))
    return Guess(lab_to_hex(_changed(lab, changes, _per_cent(name))), tuple(used))


def _phrases(words: Sequence[str]) -> Iterator[str]:
    """The longest runs of words that are known, and each word that is in none."""
    at = 0
    while at < len(words):
        runs = (" ".join(words[at : at + n]) for n in range(min(_LONGEST, len(words) - at), 1, -1))
        phrase = next((run for run in runs if run in _colours()), words[at])
        yield phrase
        at += phrase.count(" ") + 1


def _words(name: str) -> list[str]:
    plain = unicodedata.normalize("NFKD", name.casefold())
    letters = "".join(c for c in plain if not unicodedata.combining(c)).replace("’", "").replace("'", "")
    return [_singular(_SAME.get(word, word)) for word in re.findall(r"[a-z]+", letters)]


def _singular(word: str) -> str:
    """Payne's and hooker's as pigment tables write them."""
    return word[:-1] if word.endswith("s") and word[:-1] in _OWNERS else word


_OWNERS = ("hooker", "payne")


def _tinge(word: str) -> Floats | None:
    """The colour of reddish, yellowish, sandy, rosy."""
    if word.endswith("ish"):
        stem = word[:-3]
    elif word.endswith("y"):
        stem = word[:-1]
    else:
        return None
    doubled = stem[:-1] if stem[-2:-1] == stem[-1:] else stem
    for candidate in (stem, doubled, f"{stem}e", f"{stem}ow"):
        if candidate in _colours():
            return _colours()[candidate].lab
    return None


def _per_cent(name: str) -> float | None:
    held = re.search(r"(\d{1,3})\s*%", name)
    return min(1.0, int(held[1]) / 100) if held else None


def _number(name: str) -> int | None:
    """A grey's number: a digit, or a Roman one, by itself."""
    if held := re.search(r"(?<![\w.])(\d)(?![\w.%])", name):
        return int(held[1])
    roman = re.search(r"(?<![\w.])(VI{0,3}|IV|IX|I{1,3})(?![\w.])", name)
    return ("I", "II", "III", "IV", "V", "VI", "VII", "VIII", "IX").index(roman[1]) + 1 if roman else None


def _grey(lab: Floats, number: int | None) -> Floats:
    return lab if number is None else np.array([_GREYS[0] - _GREYS[1] * number, lab[1], lab[2]])


def _changed(lab: Floats, changes: Sequence[str], tint: float | None) -> Floats:
    times = 1.6 if "very" in changes else 1.0
    for word in changes:
        if word in _TEMPERATURES:
            lab = lab + np.array([0.0, *_TEMPERATURES[word]])
            continue
        towards, chroma = _CHANGES[word]
        end = _PAPER if towards > 0 else _DARKEST
        lab = lab + min(0.9, abs(towards) * times) * (end - lab)
        lab = lab * np.array([1.0, chroma, chroma])
    if tint is not None:
        # A tint of a tenth is still more than a tenth of the way from paper.
        lab = _PAPER + (0.2 + 0.8 * tint) * (lab - _PAPER)
    return lab
