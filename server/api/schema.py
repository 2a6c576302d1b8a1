"""The OpenAPI schema beyond what the views say of themselves: every refusal, and an example of everything asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from drf_spectacular.utils import OpenApiExample, extend_schema_serializer

from server.api.errors import STATUSES

EXAMPLE_IDS = {
    "piece_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e01",
    "picture_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e02",
    "tray_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e03",
    "paper_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e04",
    "session_id": "5e9a1c40d27b4f6683b0c1d2e3f40516",
    "range_id": "lantern-16",
    "job_key": "5e9a1c40d27b4f6683b0c1d2e3f40517",
    "card_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e05",
    "photo_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e06",
    "complexion_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e07",
    "comparison_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e08",
    "round_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e09",
    "method_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e11",
    "link_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e10",
    "removed_id": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4e12",
}
"""What stands in the examples for things of one's own, by the name of the parameter."""

EXAMPLE_VERSION = 4
"""The version of the piece in the examples."""

_ALWAYS = (400, 403, 405, 406, 414, 431, 500)
_WITH_BODY = (413, 415, 422)
_WRITES = (503, 507)
_REFUSED = {
    "type": "object",
    "description": "One row for each thing that is wrong.",
    "required": ["errors"],
    "properties": {
        "errors": {
            "type": "array",
            "minItems": 1,
            "items": {
                "type": "object",
                "required": ["code", "message", "hint", "field"],
                "properties": {name: {"type": "string"} for name in ("code", "message", "hint", "field")},
            },
        }
    },
}
_LONG = (
    "/solve", "/prepare", "/to-buy", "/mixed", "/answers", "/palette", "/missing", "/study", "/suggest",
    "/transfer/sheet", "/layers", "/layers/plans", "/layers/fitted", "/layers/accent", "/layers/sticks", "/layers/maps",
    "/layers/pictures", "/plan", "/plan/pages", "comparison_id}/sheet", "/shares", "/cards",
    "{card_id}/photos",
)  # fmt: skip
"""How addresses end behind which work is done as jobs (see server.api.jobs)."""
_UNDERWAY = {
    "type": "object",
    "description": "How far a job is.",
    "required": ["underway"],
    "properties": {
        "underway": {
            "type": "object",
            "required": ["job", "done", "total"],
            "properties": {"job": {"type": "string"}, "done": {"type": "integer"}, "total": {"type": "integer"}},
        }
    },
}
_STALE = {
    "allOf": [{"$ref": "#/components/schemas/Refused"}],
    "properties": {"current": {"$ref": "#/components/schemas/Piece"}},
}


def example(value: Any) -> Callable[[Any], Any]:
    """Gives a serializer of what is asked for an example that can be sent as it stands."""
    return extend_schema_serializer(examples=[OpenApiExample("example", value, request_only=True)])


def with_refusals(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """The schema with every refusal in its envelope, and examples of the ids in addresses."""
    result["components"]["schemas"] |= {"Refused": _REFUSED, "Stale": _STALE, "Underway": _UNDERWAY}
    result["components"]["responses"] = {
        f"Refused{status}": {
            "description": said,
            "content": {
                "application/json": {"schema": {"$ref": f"#/components/schemas/{_schema(status)}"}},
            },
        }
        for status, said in STATUSES.items()
    }
    result["components"]["responses"]["Underway"] = {
        "description": "It takes a while and is not finished; ask the same again.",
        "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Underway"}}},
    }
    for address, operations in result["paths"].items():
        for method, operation in operations.items():
            if address.endswith(_LONG):
                operation["responses"]["202"] = {"$ref": "#/components/responses/Underway"}
            for status in _possible(address, method, operation):
                reference = {"$ref": f"#/components/responses/Refused{status}"}
                operation["responses"].setdefault(str(status), reference)
            for parameter in operation.get("parameters", ()):
                if parameter["name"] in EXAMPLE_IDS:
                    parameter["example"] = EXAMPLE_IDS[parameter["name"]]
    return result


def _schema(status: int) -> str:
    return "Stale" if status == 409 else "Refused"


def _possible(address: str, method: str, operation: dict[str, Any]) -> list[int]:
    writes, body = method != "get", "requestBody" in operation
    found = [*_ALWAYS, *(_WRITES if writes else (503,)), *(_WITH_BODY if body else (422,))]
    # What is named in a body may be gone as well.
    found += [404] if body or "{" in address else []
    found += [409] if writes and address.startswith("/api/pieces/") else []
    found += [429] if "pictures" in address or address.startswith("/api/session") else []
    return sorted(found)
