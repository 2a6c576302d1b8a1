"""Small helpers for views."""

from __future__ import annotations

from django.contrib.auth.models import User
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request


def artist(request: Request) -> User:
    """The signed-in artist. Raises NotAuthenticated."""
    if not isinstance(request.user, User):
        raise NotAuthenticated
    return request.user
