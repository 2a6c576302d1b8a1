"""JSON data that no file and no answer could hold again: lone surrogates, infinities, bottomless nesting."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

DEEPEST = 30
"""A document of a piece is seven deep."""
_LONGEST_KEY = 40


@dataclass(frozen=True, slots=True)
class Fault:
    """What is wrong, and where: a path such as `spots[2].name`, empty for all of it."""

    path: str
    said: str


def fault_in(value: Any) -> Fault | None:
    """The first thing that is wrong in JSON data; without recursion, however deep they are."""
    waiting: list[tuple[Any, str, int]] = [(value, "", 0)]
    while waiting:
        here, path, depth = waiting.pop()
        if depth > DEEPEST:
            return Fault(path, "This is nested too deeply.")
        if isinstance(here, str) and not _can_be_written(here):
            return Fault(path, "This text holds half a character, which cannot be kept.")
        if isinstance(here, float) and not math.isfinite(here):
            return Fault(path, "This is no finite number.")
        if isinstance(here, list):
            waiting += [(inner, f"{path}[{i}]", depth + 1) for i, inner in enumerate(here)]
        if isinstance(here, dict):
            for key, inner in here.items():
                if not _can_be_written(key):
                    return Fault(path, "A key here holds half a character, which cannot be kept.")
                # Cut, since a long key would be written again for everything below it.
                waiting.append((inner, f"{path}.{key[:_LONGEST_KEY]}".lstrip("."), depth + 1))
    return None


def _can_be_written(text: str) -> bool:
    try:
        text.encode()
    except UnicodeEncodeError:
        return False
    return True
