"""Reading requests: JSON that can be kept and said back, or a refusal that names the field."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

from rest_framework import parsers
from rest_framework.exceptions import ParseError, ValidationError

from core.exchange.sound_json import fault_in


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
        if fault := fault_in(value):
            raise ValidationError({fault.path: [fault.said]} if fault.path else [fault.said])
        return value
