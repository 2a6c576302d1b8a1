"""How often one may try to sign in: from one place, and as one artist."""

from __future__ import annotations

import hashlib
from threading import Lock

from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView

_counting = Lock()


class SignInByPlace(SimpleRateThrottle):
    """Tries from one address: of the connection itself, or of the last hop before a trusted proxy (NUM_PROXIES)."""

    scope = "sign_in_by_place"

    def get_cache_key(self, request: Request, view: APIView) -> str:
        return f"{self.scope}-{self.get_ident(request)}"

    def allow_request(self, request: Request, view: APIView) -> bool:
        # Read, added to and written again: simultaneous tries must not count as one.
        with _counting:
            return bool(super().allow_request(request, view))


class SignInByArtist(SignInByPlace):
    """Tries as one artist, from wherever they come."""

    scope = "sign_in_by_artist"

    def get_cache_key(self, request: Request, view: APIView) -> str:
        given = request.data.get("name") if isinstance(request.data, dict) else None
        name = given.strip().casefold() if isinstance(given, str) else ""
        return f"{self.scope}-{hashlib.sha256(name.encode()).hexdigest()}"
