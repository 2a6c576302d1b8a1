"""Small helpers for views."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request
from rest_framework.serializers import Serializer


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
