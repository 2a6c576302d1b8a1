"""What answers show over weeks: how far off, which way, what is weak, and what comes next."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from core.practice.asked import FELT, GROUPS, GUESSED, KINDS, Group, Kind

DAY = 86400.0
WEEK = 7 * DAY
_SPACED = (0.0, 1.0, 3.0, 7.0, 16.0, 35.0)
"""Days until something comes again: after a wrong answer at once, after each right one later (spacing of repetition;
the steps are common practice)."""
_FEWEST, _RECENT = 3, 30
"""Answers of a week from which a band can be told; of a group, how many of the last tell a prejudice."""
_FEWEST_LEANING = 6
_PART, _SURE = 0.8, 0.95
_NEVER, _WANTED, _RESTS = 1.0, 2.0, 0.5
"""How much is wanted what was never asked, what is due, and what rests (less with every day that it still does)."""
_SIDES: dict[Kind, tuple[str, str]] = {
    "value": ("too light", "too dark"), "hue": ("too warm", "too cool"), "chroma": ("too strong", "too dull"),
    "ramp": ("too light", "too dark"),
}  # fmt: skip
_WHOSE: dict[Group, str] = {
    "darks": "darks", "middles": "middle tones", "lights": "lights", "eye whites": "eye whites",
    "shadow hues": "shadow hues",
}  # fmt: skip
_NUMBERS = ("", "one", "two", "three", "four", "five")


@dataclass(frozen=True, slots=True)
class Answer:
    """at: seconds since whenever, the same for all."""

    kind: Kind
    group: Group
    error: float
    at: float


@dataclass(frozen=True, slots=True)
class Week:
    """start: seconds; off: what answers were off by in the mean, without sign; low, high: within which that mean lies
    in 80 of 100 cases, None where the answers are too few to say."""

    start: float
    count: int
    off: float
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Curve:
    """Of one kind and group; weeks without an answer are left out. leaning: signed mean of the last answers, None where
    they do not surely lean."""

    kind: Kind
    group: Group
    weeks: tuple[Week, ...]
    leaning: float | None


@dataclass(frozen=True, slots=True)
class Prejudice:
    """error: signed mean; said: in a sentence."""

    kind: Kind
    group: Group
    error: float
    said: str


@dataclass(frozen=True, slots=True)
class Due:
    """How much a kind and group wants to be asked, the most first. days: until it is due, negative: since when."""

    kind: Kind
    group: Group
    weight: float
    days: float


def _by_group(answers: Sequence[Answer]) -> dict[tuple[Kind, Group], list[Answer]]:
    found: dict[tuple[Kind, Group], list[Answer]] = defaultdict(list)
    for answer in sorted(answers, key=lambda row: row.at):
        found[answer.kind, answer.group].append(answer)
    return found


def _place(kind: Kind, group: Group) -> tuple[int, int]:
    """In which order kinds and groups are shown."""
    return KINDS.index(kind), GROUPS.index(group)


def curves(answers: Sequence[Answer]) -> tuple[Curve, ...]:
    """Of every kind and group that was answered, week by week from the first answer of all on."""
    if not answers:
        return ()
    began = min(row.at for row in answers)
    held = sorted(_by_group(answers).items(), key=lambda row: _place(*row[0]))
    return tuple(Curve(kind, group, _weeks(rows, began), _leaning(rows)) for (kind, group), rows in held)


def _weeks(rows: Sequence[Answer], began: float) -> tuple[Week, ...]:
    number = np.array([(row.at - began) // WEEK for row in rows])
    off = np.abs([row.error for row in rows])
    found = []
    for week in np.unique(number):
        held = off[number == week]
        mean, low, high = float(held.mean()), None, None
        if len(held) >= _FEWEST:
            # Student's t: of few answers the band is wide, as it should be.
            # Guesses are made to half a step and the like: three alike are not known to be all there is.
            spread = max(float(held.std(ddof=1)), FELT[rows[0].kind] / 2)
            half = float(stdtrit(len(held) - 1, (1 + _PART) / 2)) * spread / np.sqrt(len(held))
            low, high = round(max(0.0, mean - half), 3), round(mean + half, 3)
        found.append(Week(began + week * WEEK, len(held), round(mean, 3), low, high))
    return tuple(found)


def _leaning(rows: Sequence[Answer]) -> float | None:
    """The signed mean of the last answers, where it is surely not nought and large enough to be seen."""
    kind = rows[0].kind
    errors = np.array([row.error for row in rows[-_RECENT:]])
    if kind not in _SIDES or len(errors) < _FEWEST_LEANING:
        return None
    mean, spread = float(errors.mean()), float(errors.std(ddof=1)) / np.sqrt(len(errors))
    sure = abs(mean) > float(stdtrit(len(errors) - 1, (1 + _SURE) / 2)) * spread
    return round(mean, 2) if sure and abs(mean) > FELT[kind] / 2 else None


def prejudices(answers: Sequence[Answer]) -> tuple[Prejudice, ...]:
    """Which way answers surely lean, the strongest against what is felt first."""
    found = []
    for (kind, group), rows in _by_group(answers).items():
        error = _leaning(rows)
        if error is not None:
            found.append(Prejudice(kind, group, error, _said(kind, group, error)))
    return tuple(sorted(found, key=lambda row: -abs(row.error) / FELT[row.kind]))


def _said(kind: Kind, group: Group, error: float) -> str:
    side = _SIDES[kind][0 if error > 0 else 1]
    if kind == "ramp":
        return f"The {_WHOSE[group]} that you lay are {_steps(abs(error))} {side}."
    if kind == "value":
        return f"Your {_WHOSE[group]} are {_steps(abs(error))} {side}."
    return (
        f"You see {_WHOSE[group]} as {side}, by {abs(error):.0f}{'°' if kind == 'hue' else ' of chroma'} in the mean."
    )


def _steps(much: float) -> str:
    """Steps of value in words, to the half."""
    halves = max(1, round(2 * much))
    whole, half = divmod(halves, 2)
    if whole >= len(_NUMBERS):
        return f"{much:.1f} steps"
    if not whole:
        return "half a step"
    return f"{_NUMBERS[whole]}{' and a half' if half else ''} step{'' if halves == 2 else 's'}"


def due(answers: Sequence[Answer], now: float) -> tuple[Due, ...]:
    """What a round should ask: what was wrong comes again at once, what was right later and later; what was never
    asked lies between. now: on the same clock as the answers."""
    held = _by_group(answers)
    found = []
    for kind in GUESSED:
        for group in GROUPS:
            if group == "shadow hues" and kind not in ("hue", "chroma"):
                continue
            rows = held.get((kind, group), [])
            if not rows:
                found.append(Due(kind, group, _NEVER, 0.0))
                continue
            box = 0
            for row in rows:
                box = min(box + 1, len(_SPACED) - 1) if abs(row.error) <= FELT[kind] else 0
            days = _SPACED[box] - (now - rows[-1].at) / DAY
            found.append(Due(kind, group, _WANTED if days <= 0 else _RESTS / (1 + days), round(days, 2)))
    return tuple(sorted(found, key=lambda row: (-row.weight, row.days)))
