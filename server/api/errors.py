"""One envelope for everything that goes wrong: {"errors": [{code, message, hint, field}]}."""

from __future__ import annotations

import logging
import sys
from collections.abc import Iterator
from typing import Any

from django.core.exceptions import DisallowedHost, PermissionDenied, RequestDataTooBig, SuspiciousOperation
from django.http import Http404, HttpRequest, JsonResponse, UnreadablePostError
from rest_framework import exceptions, status
from rest_framework.response import Response

from core.errors import CaltinError, ConflictError, NotFoundError
from server.api.jobs import Underway
from server.api.storage import StorageError, storage_error

log = logging.getLogger(__name__)

Row = dict[str, str]

STATUSES = {
    400: "The request is malformed; nothing was changed.",
    403: "Nobody is signed in, or the request came from elsewhere.",
    404: "There is nothing here, or it belongs to somebody else.",
    405: "This cannot be done here.",
    406: "There is no answer of the kind that was asked for.",
    409: "It was changed elsewhere meanwhile; `current` is the newer state, where there is one.",
    413: "That is more than can be taken at once.",
    414: "The address is too long.",
    415: "This kind of content is not taken here.",
    422: "What was asked for cannot be; nothing was changed.",
    429: "Too many tries in a short time.",
    431: "The headers are too long.",
    500: "Something went wrong on our side; nothing saved is lost.",
    503: "Nothing can be kept at the moment; reading goes on.",
    507: "The disk is full and nothing can be kept; reading goes on.",
}
"""Every status with which a request is refused; all of them carry the envelope."""

_LONGEST_SAID, _LONGEST_PATH = 300, 120
"""Characters of what came in that are said back: enough to find it, whatever its size."""


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
    if isinstance(error, Underway):
        return Response(
            {"underway": {"job": error.key, "done": error.done, "total": error.total}}, status=status.HTTP_202_ACCEPTED
        )
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
    if isinstance(error, SuspiciousOperation | UnreadablePostError):
        return Response(_MALFORMED, status=400)
    if isinstance(error, exceptions.NotAuthenticated | PermissionDenied | exceptions.PermissionDenied):
        return Response(envelope("sign_in", "You are not signed in.", "Sign in; what you typed is kept."), status=403)
    if isinstance(error, exceptions.Throttled):
        hint = f"Wait {int(getattr(error, 'wait', None) or 1)} seconds and try again."
        return Response(envelope("too_many_tries", "Too many tries in a short time.", hint), status=429)
    if isinstance(error, exceptions.APIException):
        return Response(envelope(str(error.get_codes()), str(error.detail)), status=error.status_code)
    body, status_ = _failure(error)
    return Response(body, status=status_)


def _failure(error: BaseException) -> tuple[dict[str, list[Row]], int]:
    """What is said of a failure that nobody expected: the folder's trouble if it is that, else our own."""
    storage = storage_error(error)
    if storage is not None:
        log.warning("%s (%s)", storage.message, error)
        return envelope(storage.code, storage.message, storage.hint), storage.status
    log.error("unhandled", exc_info=error)
    return _BROKEN, 500


_MALFORMED = envelope("malformed", "This request cannot be read.", "Nothing was changed.")
_BROKEN = envelope("broken", "Something went wrong on our side.", "Nothing you saved is lost. Try again in a moment.")


def _status(error: CaltinError) -> int:
    if isinstance(error, StorageError):
        return error.status
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
            "message": _short(str(detail), _LONGEST_SAID),
            "hint": "Nothing was changed.",
            "field": _short(path, _LONGEST_PATH),
        }


def _short(text: str, most: int) -> str:
    # A lone half of a surrogate pair can be read from JSON but not be written.
    text = text.encode("utf-8", "replace").decode()
    return text if len(text) <= most else f"{text[: most - 1]}…"


def bad_request(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """For requests that are refused before any view sees them, such as those for a foreign host."""
    if isinstance(exception, DisallowedHost):
        hint = "Use its usual address; whoever runs it can allow others with CALTIN_HOSTS."
        return JsonResponse(envelope("foreign_host", "Caltin is not known under this address.", hint), status=400)
    return JsonResponse(_MALFORMED, status=400)


def not_found(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """For addresses outside the API views."""
    return JsonResponse(envelope("not_found", "There is nothing here.", "Go back to your pieces."), status=404)


def broken(request: HttpRequest) -> JsonResponse:
    """For failures outside the API views."""
    error = sys.exc_info()[1]
    body, status_ = _failure(error) if error else (_BROKEN, 500)
    return JsonResponse(body, status=status_)


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    """For requests from elsewhere."""
    return JsonResponse(
        envelope("forbidden", "This request did not come from Caltin's own page.", "Load the page again."), status=403
    )
