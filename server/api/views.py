"""The application page, the letters of pages without it, and the answer to unknown API addresses."""

from __future__ import annotations

import re
from functools import cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie

from server.api import errors


def unknown_endpoint(request: HttpRequest, *_: str) -> HttpResponse:
    """404 in the envelope for anything under /api that is not an endpoint."""
    return errors.not_found(request)


_FACE = re.compile(r"@font-face\s*\{[^}]*\}")


@cache
def _faces() -> str:
    """The rules for the application's own letters, taken out of its built style sheets."""
    found = [_FACE.findall(sheet.read_text()) for sheet in sorted(settings.WEB_DIST.glob("assets/*.css"))]
    return "\n".join(face for faces in found for face in faces)


def letters(_: HttpRequest) -> HttpResponse:
    """A style sheet with the application's letters, for pages that are not the application; empty until it is built."""
    return HttpResponse(_faces(), content_type="text/css", headers={"Cache-Control": "no-cache"})


def entrance(request: HttpRequest, token: str) -> HttpResponse:
    """The page of a one-time link. Its button spends it; looking does not: mail scanners look too."""
    page = application(request)
    page.headers["Cache-Control"] = "no-store"
    return page


@ensure_csrf_cookie
def application(request: HttpRequest) -> HttpResponse:
    """The built front end; it finds its own way from the address."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(
            "The front end is not built yet: run ./caltin build.", status=503, content_type="text/plain"
        )
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})
