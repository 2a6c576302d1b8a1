"""A method as a TOML file, as the schools that ship are written: see core.method.method.Method."""

from __future__ import annotations

import dataclasses
import json
import math
import tomllib
from typing import Any

from core.errors import InputError
from core.limits import LIMITS
from core.method.method import Method, wrong_with
from core.rows import from_row

MAX_BYTES = 20_000
_LONGEST_EXPLANATION, _MOST_PARTS = 800, 40
_NOT_SAID = ("id", "usual")
"""What a file does not say: its name is given by whoever keeps it, and it is nobody's usual one."""


def read_method(data: bytes, method_id: str) -> Method:
    """The method of a file. Raises InputError (`bad_method`, `bad_row`) that names the key."""
    if len(data) > MAX_BYTES:
        raise _bad(f"it is over {MAX_BYTES // 1000} kB")
    try:
        row = tomllib.loads(data.decode("utf-8-sig"))
    except (ValueError, RecursionError) as error:
        raise _bad(f"it is not TOML ({str(error)[:80]})") from None
    for key in _NOT_SAID:
        row.pop(key, None)
    method = from_row(Method, row, "The method", id=method_id)
    if not 1 <= len(method.name.strip()) <= LIMITS.name or len(method.explanation) > _LONGEST_EXPLANATION:
        raise _bad(f"its name has up to {LIMITS.name} letters and its explanation up to {_LONGEST_EXPLANATION}")
    numbers, parts = _counted(dataclasses.asdict(method))
    if parts > _MOST_PARTS or not all(math.isfinite(n) and abs(n) <= 1000 for n in numbers):
        raise _bad("it holds too much, or a number that cannot be")
    for said, hint in wrong_with(method):
        raise InputError("bad_method", said, hint, "method")
    return method


def _counted(held: Any) -> tuple[list[float], int]:
    """All numbers in it, and how many things its lists hold."""
    if isinstance(held, dict | list | tuple):
        found = [_counted(part) for part in (held.values() if isinstance(held, dict) else held)]
        own = 0 if isinstance(held, dict) else len(held)
        return [n for numbers, _ in found for n in numbers], own + sum(count for _, count in found)
    return [float(held)] if isinstance(held, int | float) else [], 0


def _bad(why: str) -> InputError:
    return InputError("bad_method", f"This is no method that can be read: {why}.", "Look at the file.", "method")


def write_method(method: Method) -> bytes:
    """The method as a file that `read_method` gives back the same; what is as usual is left out."""
    rows = []
    for field in dataclasses.fields(method):
        held = getattr(method, field.name)
        if field.name not in _NOT_SAID and (field.default is dataclasses.MISSING or held != field.default):
            # JSON's texts, numbers, lists and truths are TOML's.
            rows.append(f"{field.name} = {json.dumps(held, ensure_ascii=False)}")
    return ("\n".join(rows) + "\n").encode()
