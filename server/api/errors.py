"""One envelope for everything that goes wrong: {"errors": [{code, message, hint, field}]}."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from typing import Any

from django.core.exceptions import PermissionDenied, RequestDataTooBig
from django.http import Http404, HttpRequest, JsonResponse
from rest_framework import exceptions, status
from rest_framework.response import Response

from core.errors import CaltinError, ConflictError, NotFoundError

log = logging.getLogger(__name__)

Row = dict[str, str]


def envelope(code: str, message: str, hint: str = "", field: str = "") -> dict[str, list[Row]]:
    """One error in the envelope."""
    return {"errors": [{"code": code, "message": message, "hint": hint, "field": field}]}


class StaleWriteError(ConflictError):
    """A write from an older version. current: the newer state, to be sent back."""

    def __init__(self, current: dict[str, Any]) -> None:
        super().__init__(
            "stale_version",
            "This piece was changed in another window.",
            "Your change is not lost: keep yours, or take the other.",
            "version",
        )
        self.current = current


def handler(error: Exception, context: dict[str, Any]) -> Response:
    """Turns any exception of an API view into a response."""
    if isinstance(error, CaltinError):
        body: dict[str, Any] = envelope(error.code, error.message, error.hint, error.field)
        if isinstance(error, StaleWriteError):
            body["current"] = error.current
        return Response(body, status=_status(error))
    if isinstance(error, exceptions.ValidationError):
        return Response({"errors": list(_invalid(error.detail, ""))}, status=status.HTTP_400_BAD_REQUEST)
    if isinstance(error, Http404 | exceptions.NotFound):
        return Response(envelope("not_found", "There is nothing here.", "Go back to your pieces."), status=404)
    if isinstance(error, RequestDataTooBig):
        return Response(envelope("too_large", "That is more than can be taken at once.", "Send less."), status=413)
    if isinstance(error, exceptions.NotAuthenticated | PermissionDenied | exceptions.PermissionDenied):
        return Response(envelope("sign_in", "You are not signed in.", "Sign in; what you typed is kept."), status=403)
    if isinstance(error, exceptions.Throttled):
        hint = f"Wait {int(getattr(error, 'wait', None) or 1)} seconds and try again."
        return Response(envelope("too_many_tries", "Too many tries in a short time.", hint), status=429)
    if isinstance(error, exceptions.APIException):
        return Response(envelope(str(error.get_codes()), str(error.detail)), status=error.status_code)
    log.exception("unhandled", exc_info=error)
    return Response(_BROKEN, status=500)


_BROKEN = envelope("broken", "Something went wrong on our side.", "Nothing you saved is lost. Try again in a moment.")


def _status(error: CaltinError) -> int:
    if isinstance(error, NotFoundError):
        return status.HTTP_404_NOT_FOUND
    if isinstance(error, ConflictError):
        return status.HTTP_409_CONFLICT
    return status.HTTP_422_UNPROCESSABLE_ENTITY


def _invalid(detail: Any, path: str) -> Iterator[Row]:
    if isinstance(detail, dict):
        for key, inner in detail.items():
            if isinstance(key, int):
                yield from _invalid(inner, f"{path}[{key}]")
            else:
                name = "" if key == "non_field_errors" else str(key)
                yield from _invalid(inner, ".".join(filter(None, (path, name))))
    elif isinstance(detail, list):
        for i, inner in enumerate(detail):
            nested = isinstance(inner, dict | list)
            yield from _invalid(inner, f"{path}[{i}]" if nested else path)
    else:
        yield {
            "code": str(getattr(detail, "code", "invalid")),
            "message": str(detail),
            "hint": "Nothing was changed.",
            "field": path,
        }


def not_found(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """For addresses outside the API views."""
    return JsonResponse(envelope("not_found", "There is nothing here.", "Go back to your pieces."), status=404)


def broken(request: HttpRequest) -> JsonResponse:
    """For failures outside the API views."""
    return JsonResponse(_BROKEN, status=500)


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    """For requests from elsewhere."""
    return JsonResponse(
        envelope("forbidden", "This request did not come from Caltin's own page.", "Load the page again."), status=403
    )
