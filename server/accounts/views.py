"""Signing in and out."""

from __future__ import annotations

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponseRedirect
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny, IsAuthenticated
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.errors import InputError
from server.accounts import services
from server.accounts.serializers import ArtistSerializer, PasswordSerializer, SignInSerializer


class SessionView(APIView):
    """Who is signed in."""

    permission_classes = [AllowAny]
    throttle_scope = "sign_in"

    def get_throttles(self) -> list[ScopedRateThrottle]:  # type: ignore[override]  # narrower than the base
        return [ScopedRateThrottle()] if self.request.method == "POST" else []

    @extend_schema(responses=ArtistSerializer)
    def get(self, request: Request) -> Response:
        return _artist(request)

    @extend_schema(request=SignInSerializer, responses=ArtistSerializer)
    def post(self, request: Request) -> Response:
        form = SignInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        user = authenticate(request, username=form.validated_data["name"], password=form.validated_data["password"])
        if user is None:
            raise InputError("wrong_sign_in", "Name and password do not belong together.", "Check both and try again.")
        login(request, user)
        return _artist(request)

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        logout(request)
        return Response(status=204)


class PasswordView(APIView):
    """One's own password."""

    permission_classes = [IsAuthenticated]

    @extend_schema(request=PasswordSerializer, responses={204: None})
    def put(self, request: Request) -> Response:
        form = PasswordSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        assert isinstance(request.user, User)
        services.set_password(request.user, form.validated_data["password"])
        update_session_auth_hash(request, request.user)
        return Response(status=204)


def _artist(request: Request) -> Response:
    name = request.user.get_username() if request.user.is_authenticated else None
    return Response(ArtistSerializer({"name": name}).data)


def enter(request: HttpRequest, token: str) -> HttpResponseRedirect:
    """The one-time link."""
    user = services.use_link(token)
    if user is None:
        return HttpResponseRedirect("/sign-in?link=spent")
    login(request, user)
    return HttpResponseRedirect("/")
