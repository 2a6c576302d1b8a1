"""What can be done with accounts."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.utils import timezone

from core.errors import InputError
from server.accounts.models import EntryLink

LINK_LIFETIME = timedelta(hours=12)


def get_or_create_artist(name: str) -> User:
    """The account with this name, made without a password if there is none."""
    user, made = User.objects.get_or_create(username=name)
    if made:
        user.set_unusable_password()
        user.save()
    return user


def make_link(user: User) -> str:
    """The token of a fresh one-time link; expired ones are swept away."""
    EntryLink.objects.filter(expires__lt=timezone.now()).delete()
    token = secrets.token_urlsafe(32)
    EntryLink.objects.create(digest=_digest(token), user=user, expires=timezone.now() + LINK_LIFETIME)
    return token


def use_link(token: str) -> User | None:
    """The artist a token signs in, and the end of that token; None if it is spent, too old or wrong."""
    link = EntryLink.objects.select_related("user").filter(digest=_digest(token), expires__gt=timezone.now()).first()
    # Of two simultaneous uses only the one that deletes the row gets in.
    if link is None or EntryLink.objects.filter(pk=link.pk).delete()[0] == 0:
        return None
    return link.user if link.user.is_active else None


def set_password(user: User, password: str) -> None:
    """Raises InputError (`weak_password`) with the first reason."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise InputError("weak_password", error.messages[0], "Choose another password.", "password") from error
    user.set_password(password)
    user.save()


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
