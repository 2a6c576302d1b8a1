"""Sticks that are easily taken for each other: by their colour, or by a name that differs in one word or number."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.difference import ciede2000
from core.optics.stick import Stick

_EQUAL = 2.0
"""ΔE00 up to which two swatches are hardly told apart side by side on paper (assumed)."""
_MOST = 3


@dataclass(frozen=True, slots=True)
class Alike:
    """Codes of other sticks of the same medium, the nearest first: equal in colour, and with a name that is nearly
    this one but another colour."""

    equal: tuple[str, ...] = ()
    mistaken: tuple[str, ...] = ()


def alike(sticks: Sequence[Stick]) -> tuple[Alike, ...]:
    """What each stick is easily taken for, a few at most."""
    if not sticks:
        return ()
    labs = np.array([stick.lab for stick in sticks])
    off = ciede2000(labs[:, None], labs[None])
    media = np.array([stick.medium for stick in sticks])
    off[media[:, None] != media[None]] = np.inf
    np.fill_diagonal(off, np.inf)
    names = [_words(stick.name) for stick in sticks]
    found = []
    for i in range(len(sticks)):
        near = [int(j) for j in np.argsort(off[i]) if np.isfinite(off[i, j])]
        equal = [sticks[j].code for j in near if off[i, j] <= _EQUAL]
        mistaken = [sticks[j].code for j in near if off[i, j] > _EQUAL and _one_apart(names[i], names[j])]
        found.append(Alike(tuple(equal[:_MOST]), tuple(mistaken[:_MOST])))
    return tuple(found)


def _words(name: str) -> tuple[str, ...]:
    return tuple(re.findall(r"[^\W_]+|\d+", name.casefold()))


def _one_apart(one: tuple[str, ...], other: tuple[str, ...]) -> bool:
    """Whether two names differ in one of several words, or in one word that only the longer has."""
    if len(one) == len(other):
        return len(one) > 1 and sum(a != b for a, b in zip(one, other, strict=True)) <= 1
    short, long = sorted((one, other), key=len)
    return len(long) == len(short) + 1 and any(long[:i] + long[i + 1 :] == short for i in range(len(long)))
