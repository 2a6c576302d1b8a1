"""Small helpers for views."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.http import HttpResponse
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request
from rest_framework.serializers import FileField, Serializer

from core.errors import InputError
from core.exchange.pen import FILE_KINDS, MEDIA_TYPES, FileKind

T = TypeVar("T")


def artist(request: Request) -> User:
    """The signed-in artist. Raises NotAuthenticated."""
    if not isinstance(request.user, User):
        raise NotAuthenticated
    return request.user


def valid(form: type[Serializer[Any]], request: Request) -> dict[str, Any]:
    """What was sent, as the form reads it. Raises ValidationError."""
    filled = form(data=request.data)
    filled.is_valid(raise_exception=True)
    return dict(filled.validated_data)


class UploadSerializer(Serializer[Any]):
    """A form with one file."""

    file = FileField(allow_empty_file=True)


def uploaded(request: Request, most: int) -> bytes:
    """The file of a form, no more than one byte beyond what may be read. Raises ValidationError."""
    held: bytes = valid(UploadSerializer, request)["file"].read(most + 1)
    return held


def number(request: Request, name: str, usual: int) -> int:
    """A whole number of up to three digits from the address. Raises InputError (`bad_…`)."""
    text = request.query_params.get(name, str(usual))
    if not (text.isascii() and text.isdigit() and len(text) < 4):
        raise InputError(f"bad_{name}", f"“{text[:20]}” is not a whole number.", "Use digits.", name)
    return int(text)


def one_of(request: Request, name: str, choices: Sequence[T], usual: T) -> T:
    """One of some words or whole numbers from the address. Raises InputError (`bad_…`)."""
    text = request.query_params.get(name, str(usual))
    for choice in choices:
        if text == str(choice):
            return choice
    raise InputError(f"bad_{name}", f"“{text[:20]}” is none of them.", f"Use {', '.join(map(str, choices))}.", name)


def fraction(request: Request, name: str, usual: float) -> float:
    """A number from 0 to 1 from the address. Raises InputError (`bad_…`)."""
    text = request.query_params.get(name, str(usual))
    try:
        found = float(text)
    except ValueError:
        found = -1.0
    if not 0 <= found <= 1:
        raise InputError(f"bad_{name}", f"“{text[:20]}” is out of range.", "Use a number from 0 to 1.", name)
    return found


def picture_file(request: Request, key: str, make: Callable[[], bytes], media_type: str = "image/jpeg") -> HttpResponse:
    """A picture for the artist alone, or 304 where the browser holds the one with this key. `make` is only asked for
    the former; who may see it must have been checked before."""
    etag = quote_etag(key)
    held: HttpResponse | None = get_conditional_response(request._request, etag=etag)
    unchanged = held is not None and held.status_code == 304
    answer = held if held is not None and unchanged else HttpResponse(make(), content_type=media_type)
    answer.headers["ETag"] = etag
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer


KIND = OpenApiParameter("kind", str, enum=FILE_KINDS, default=FILE_KINDS[0])
"""Of a sheet, in an address."""
SHEETS: dict[tuple[int, str], OpenApiTypes] = {(200, kind): OpenApiTypes.BINARY for kind in MEDIA_TYPES.values()}
"""What a sheet is answered with."""


def kind_of(request: Request) -> FileKind:
    """The kind of sheet that is asked for. Raises InputError (`bad_kind`)."""
    return one_of(request, "kind", FILE_KINDS, FILE_KINDS[0])


def sheet_file(data: bytes, kind: FileKind, name: str) -> HttpResponse:
    """A sheet or a picture: a PDF is shown by the browser, everything else is saved."""
    held = HttpResponse(data, content_type=MEDIA_TYPES[kind])
    held.headers["Content-Disposition"] = f'{"inline" if kind == "pdf" else "attachment"}; filename="{name}.{kind}"'
    return held
