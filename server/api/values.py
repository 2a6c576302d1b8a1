"""Typed values at the edge: decoded from JSON with the path of every fault, sent as JSON, described in the schema."""

from __future__ import annotations

import dataclasses
from functools import cache
from typing import Any, Literal, TypeVar, dataclass_transform, get_args, get_origin

from drf_spectacular.extensions import OpenApiSerializerExtension
from drf_spectacular.openapi import AutoSchema
from drf_spectacular.plumbing import ResolvedComponent
from pydantic import ConfigDict, TypeAdapter
from pydantic import ValidationError as Faults
from pydantic.json_schema import GenerateJsonSchema
from rest_framework.exceptions import ErrorDetail, ValidationError
from rest_framework.request import Request
from rest_framework.response import Response

T = TypeVar("T")
Direction = Literal["request", "response"]

_MOST_FAULTS = 20
_SAID = {
    "missing": "This field is required.",
    "missing_argument": "This field is required.",
    "unexpected_keyword_argument": "There is no such field.",
    "predicate_failed": "Use letters, digits and hyphens.",
}


@dataclass_transform(frozen_default=True)
def value(kind: type[T]) -> type[T]:
    """A frozen value that comes in or goes out; keys that it or anything in it does not know are refused."""
    made = dataclasses.dataclass(frozen=True, slots=True)(kind)
    made.__pydantic_config__ = ConfigDict(  # type: ignore[attr-defined]
        extra="forbid", allow_inf_nan=False, json_schema_serialization_defaults_required=True
    )
    return made


@cache
def adapter_of(kind: Any) -> TypeAdapter[Any]:
    """What decodes and encodes values of a type."""
    return TypeAdapter(kind)


def decode(kind: type[T], data: Any) -> T:
    """The value that JSON data stand for. Raises ValidationError with the path of everything that is wrong."""
    try:
        return adapter_of(kind).validate_python(data)  # type: ignore[no-any-return, arg-type]  # types are hashable
    except Faults as faults:
        raise ValidationError(_by_path(faults)) from None


def encode(kind: Any, held: Any) -> Any:
    """A value as JSON data."""
    return adapter_of(kind).dump_python(held, mode="json")


def asked(kind: type[T], request: Request) -> T:
    """What a request asks for. Raises ValidationError."""
    return decode(kind, request.data)


def answer(kind: Any, held: Any, status: int = 200) -> Response:
    """An answer that holds a value."""
    return Response(encode(kind, held), status=status)


def _by_path(faults: Faults) -> dict[str, Any]:
    """The faults as a tree of their paths, as the framework's own refusals are."""
    tree: dict[Any, Any] = {}
    for fault in faults.errors(include_url=False, include_input=False)[:_MOST_FAULTS]:
        *above, last = fault["loc"] or ("non_field_errors",)
        branch = tree
        for key in above:
            branch = branch.setdefault(key, {})
            if not isinstance(branch, dict):
                break
        else:
            said = _SAID.get(fault["type"], f"{fault['msg']}.")
            branch.setdefault(last, [ErrorDetail(said, code=fault["type"])])
    return tree


class _Plain(GenerateJsonSchema):
    """Without titles that only repeat the names; tuples of like things are arrays of a fixed length."""

    def field_title_should_be_set(self, schema: Any) -> bool:
        return False

    def tuple_schema(self, schema: Any) -> Any:
        made = super().tuple_schema(schema)
        first, *others = made.get("prefixItems", [None])
        if first is not None and all(item == first for item in others):
            del made["prefixItems"]
            made["items"] = first
        return made


class ValueExtension(OpenApiSerializerExtension):  # type: ignore[no-untyped-call]  # registers itself
    """How values, and lists of them, stand in the schema."""

    @classmethod
    def _matches(cls, target: Any) -> bool:
        listed = get_args(target) if get_origin(target) is list else (target,)
        return all(isinstance(kind, type) and dataclasses.is_dataclass(kind) for kind in listed)

    def get_name(self, auto_schema: AutoSchema, direction: Direction) -> str:
        (item,) = get_args(self.target) or (None,)
        return f"{item.__name__}List" if item else str(self.target.__name__)

    def get_identity(self, auto_schema: AutoSchema, direction: Direction) -> str:
        return self.get_name(auto_schema, direction) + _suffix(direction)

    def map_serializer(self, auto_schema: AutoSchema, direction: Direction) -> Any:
        schema = adapter_of(self.target).json_schema(
            ref_template=f"#/components/schemas/{{model}}{_suffix(direction)}",
            schema_generator=_Plain,
            mode="validation" if direction == "request" else "serialization",
        )
        for name, part in schema.pop("$defs", {}).items():
            identity = name + _suffix(direction)
            component = ResolvedComponent(identity, ResolvedComponent.SCHEMA, object=identity)  # type: ignore[no-untyped-call]
            component.schema = _plain(part)
            auto_schema.registry.register_on_missing(component)
        return _plain(schema)


def _suffix(direction: Direction) -> str:
    return "Request" if direction == "request" else ""


def _plain(schema: dict[str, Any]) -> dict[str, Any]:
    return {key: part for key, part in schema.items() if key != "title"}
