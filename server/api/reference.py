"""The OpenAPI description as a page and as the file itself, for scripts and those who write them."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import yaml
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

FILE = Path(__file__).with_name("schema.yaml")
_METHODS = ("get", "post", "put", "patch", "delete")
_SCHEMA = "#/components/schemas/"


@dataclass(frozen=True, slots=True)
class Said:
    """A field or a parameter: what it is called, its kind in words, a schema that it names, and what it means."""

    name: str
    kind: str
    schema: str
    required: bool
    meaning: str


@dataclass(frozen=True, slots=True)
class Operation:
    """One thing that can be asked for."""

    id: str
    method: str
    path: str
    meaning: str
    parameters: tuple[Said, ...]
    body: Said | None
    example: str
    answers: tuple[Said, ...]


@dataclass(frozen=True, slots=True)
class Schema:
    name: str
    meaning: str
    fields: tuple[Said, ...]
    kind: str


@dataclass(frozen=True, slots=True)
class Reference:
    """All of the description. groups: operations by what they are about."""

    title: str
    version: str
    groups: tuple[tuple[str, tuple[Operation, ...]], ...]
    schemas: tuple[Schema, ...]


@cache
def reference() -> Reference:
    """Read from the file that ships with the application."""
    held = yaml.load(FILE.read_bytes(), Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))
    groups: dict[str, list[Operation]] = {}
    for path, methods in held["paths"].items():
        for method in _METHODS:
            if method in methods:
                row = methods[method]
                groups.setdefault(row.get("tags", ["other"])[0], []).append(_operation(method, path, row))
    schemas = tuple(_schema(name, row) for name, row in held["components"]["schemas"].items())
    info = held["info"]
    return Reference(
        info["title"], info["version"], tuple((name, tuple(rows)) for name, rows in sorted(groups.items())), schemas
    )


def _operation(method: str, path: str, row: dict[str, Any]) -> Operation:
    content = next(iter(row.get("requestBody", {}).get("content", {}).items()), None)
    body, example = None, ""
    if content:
        kind, held = content
        body = _said(kind, held["schema"], True)
        shown = next(iter(held.get("examples", {}).values()), None)
        example = json.dumps(shown["value"], indent=1, ensure_ascii=False) if shown and kind.endswith("json") else ""
    return Operation(
        row["operationId"],
        method.upper(),
        path,
        row.get("description", ""),
        tuple(
            _said(held["name"], held["schema"], held.get("required", False), held.get("description", ""))
            for held in row.get("parameters", ())
        ),
        body,
        example,
        tuple(_answers(row["responses"])),
    )


def _answers(responses: dict[str, Any]) -> Iterator[Said]:
    """What it answers if all goes well."""
    for status, row in responses.items():
        if status.startswith("2"):
            kinds = row.get("content", {})
            if not kinds:
                yield Said(status, "nothing" if "$ref" not in row else row["$ref"].rpartition("/")[2], "", True, "")
            for kind, held in kinds.items():
                yield _said(f"{status} {kind}", held["schema"], True)


def _schema(name: str, row: dict[str, Any]) -> Schema:
    required = set(row.get("required", ()))
    fields = tuple(
        _said(field, held, field in required, held.get("description", ""))
        for field, held in row.get("properties", {}).items()
    )
    return Schema(name, row.get("description", ""), fields, "" if fields else _kind(row)[0])


def _said(name: str, schema: dict[str, Any], required: bool, meaning: str = "") -> Said:
    return Said(name, *_kind(schema), required, meaning)


def _kind(schema: dict[str, Any]) -> tuple[str, str]:
    """A schema in a few words, and the one that it names."""
    if "$ref" in schema:
        return "", schema["$ref"].removeprefix(_SCHEMA)
    for key in ("anyOf", "oneOf", "allOf"):
        if key in schema:
            found = [_kind(one) for one in schema[key]]
            named = next((name for _, name in found if name), "")
            return " or ".join(words for words, _ in found if words), named
    if "enum" in schema:
        return ", ".join(map(str, schema["enum"])), ""
    if "const" in schema:
        return str(schema["const"]), ""
    kind = schema.get("type", "anything")
    kind = " or ".join(kind) if isinstance(kind, list) else str(kind)
    if "items" in schema:
        words, named = _kind(schema["items"])
        return f"list of {words}".rstrip(), named
    if isinstance(schema.get("additionalProperties"), dict):
        words, named = _kind(schema["additionalProperties"])
        return f"by name: {words}".rstrip(), named
    limits = [f"{said} {schema[key]}" for key, said in _LIMITS.items() if key in schema]
    return " ".join([kind, *([f"({', '.join(limits)})"] if limits else [])]), ""


_LIMITS = {
    "minimum": "from", "maximum": "to", "minLength": "at least", "maxLength": "at most", "format": "as",
    "default": "usually",
}  # fmt: skip


@require_safe
def page(request: HttpRequest) -> HttpResponse:
    """All that can be asked for, readable without script."""
    answer = render(request, "api/reference.html", {"of": reference()})
    answer.headers["Cache-Control"] = "private, max-age=3600"
    return answer


@require_safe
def file(request: HttpRequest) -> HttpResponse:
    """The description as OpenAPI 3.1."""
    return HttpResponse(FILE.read_bytes(), content_type="application/yaml")
