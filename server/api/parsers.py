"""Reading requests: JSON that can be kept and said back, or a refusal that names the field."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import IO, Any

from rest_framework import parsers
from rest_framework.exceptions import ParseError, ValidationError

DEEPEST = 30
"""A document of a piece is seven deep."""
_LONGEST_KEY = 40


class SoundJSONParser(parsers.JSONParser):
    """JSON without what no file and no answer could hold again: lone surrogates, infinities, bottomless nesting."""

    strict = False
    """NaN is read, so that it can be refused with its field."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """The value. Raises ParseError for what is no JSON, ValidationError naming the field for the rest."""
        try:
            value = super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("The JSON is nested too deeply.") from None
        found = _unsound(value)
        if found:
            path, message = found
            raise ValidationError({path: [message]} if path else [message])
        return value


def _unsound(value: Any) -> tuple[str, str] | None:
    """Where in a value something is wrong, and what; without recursion, however deep it is."""
    waiting: list[tuple[Any, str, int]] = [(value, "", 0)]
    while waiting:
        here, path, depth = waiting.pop()
        if depth > DEEPEST:
            return path, "This is nested too deeply."
        if isinstance(here, str) and not _can_be_written(here):
            return path, "This text holds half a character, which cannot be kept."
        if isinstance(here, float) and not math.isfinite(here):
            return path, "This is no finite number."
        if isinstance(here, list):
            waiting += [(inner, f"{path}[{i}]", depth + 1) for i, inner in enumerate(here)]
        if isinstance(here, dict):
            for key, inner in here.items():
                if not _can_be_written(key):
                    return path, "A key here holds half a character, which cannot be kept."
                # Cut, since a long key would be written again for everything below it.
                waiting.append((inner, f"{path}.{key[:_LONGEST_KEY]}".lstrip("."), depth + 1))
    return None


def _can_be_written(text: str) -> bool:
    try:
        text.encode()
    except UnicodeEncodeError:
        return False
    return True
