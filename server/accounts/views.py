"""Signing in and out."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import authenticate, logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.errors import InputError
from server.accounts import services
from server.accounts.serializers import (
    ArtistSerializer,
    LinkSerializer,
    PasswordSerializer,
    SignedInSerializer,
    SignInSerializer,
)
from server.accounts.throttles import SignInByArtist, SignInByPlace
from server.api.requests import artist, valid


# Nobody is signed in yet, so the session itself does not ask whether the request comes from Caltin's own page.
@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """Who is signed in."""

    permission_classes = [AllowAny]

    def get_throttles(self) -> list[Any]:
        return [SignInByPlace(), SignInByArtist()] if self.request.method == "POST" else []

    @extend_schema(responses=ArtistSerializer)
    def get(self, request: Request) -> Response:
        return _artist(request)

    @extend_schema(request=SignInSerializer, responses=ArtistSerializer)
    def post(self, request: Request) -> Response:
        given = valid(SignInSerializer, request)
        user = authenticate(request, username=given["name"], password=given["password"])
        if user is None:
            raise InputError("wrong_sign_in", "Name and password do not belong together.", "Check both and try again.")
        services.sign_in(request._request, user)
        return _artist(request)

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        logout(request)
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class LinkView(APIView):
    """Signing in by a one-time link: what the button on its page does."""

    permission_classes = [AllowAny]
    throttle_classes = [SignInByPlace]

    @extend_schema(request=LinkSerializer, responses=ArtistSerializer)
    def post(self, request: Request) -> Response:
        services.sign_in(request._request, services.use_link(valid(LinkSerializer, request)["token"]))
        return _artist(request)


class PasswordView(APIView):
    """One's own password."""

    @extend_schema(request=PasswordSerializer, responses={204: None})
    def put(self, request: Request) -> Response:
        services.set_password(request._request, artist(request), valid(PasswordSerializer, request)["password"])
        return Response(status=204)


class SessionsView(APIView):
    """Where the artist is signed in."""

    @extend_schema(responses=SignedInSerializer(many=True))
    def get(self, request: Request) -> Response:
        found = services.sessions_of(artist(request), request.session.session_key)
        return Response(SignedInSerializer(found, many=True).data)


class OneSessionView(APIView):
    """One browser in which the artist is signed in."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, session_id: str) -> Response:
        services.end_session(artist(request), session_id)
        return Response(status=204)


def _artist(request: Request) -> Response:
    name = request._request.user.get_username() if request._request.user.is_authenticated else None
    return Response(ArtistSerializer({"name": name}).data)
