"""What can be done with accounts."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.contrib.auth import SESSION_KEY, login, update_session_auth_hash
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone

from core.errors import InputError, NotFoundError
from server.accounts.models import EntryLink

LINK_LIFETIME = timedelta(hours=12)
_BEGAN, _DEVICE = "began", "device"
"""Keys in a session."""
_SYSTEMS = (("Android", "Android"), ("iPhone", "iPhone"), ("iPad", "iPad"), ("Windows", "Windows"), ("Mac OS", "Mac"),
            ("CrOS", "ChromeOS"), ("Linux", "Linux"))  # fmt: skip


@dataclass(frozen=True, slots=True)
class SignedIn:
    """One browser in which the artist is signed in. id: a digest, since the session's own key would let anybody in.
    device: what kind of machine it seems to be. here: whether it is the one that asks."""

    id: str
    began: datetime | None
    device: str
    here: bool


def get_or_create_artist(name: str) -> User:
    """The account with this name, made without a password if there is none."""
    user, made = User.objects.get_or_create(username=name)
    if made:
        user.set_unusable_password()
        user.save()
    return user


def make_link(user: User) -> str:
    """The token of a fresh one-time link."""
    token = secrets.token_urlsafe(32)
    EntryLink.objects.create(digest=digest_of(token), user=user, expires=timezone.now() + LINK_LIFETIME)
    return token


def use_link(token: str) -> User:
    """The artist a token signs in, and the end of that token. Raises InputError (`link_spent`)."""
    link = EntryLink.objects.select_related("user").filter(digest=digest_of(token), expires__gt=timezone.now()).first()
    # Of two simultaneous uses only the one that deletes the row gets in.
    if link is None or EntryLink.objects.filter(pk=link.pk).delete()[0] == 0 or not link.user.is_active:
        raise InputError(
            "link_spent",
            "This sign-in link was used already or is too old.",
            "Ask whoever runs Caltin for a new one: ./caltin link NAME.",
            "token",
        )
    return link.user


def sign_in(request: HttpRequest, user: User) -> None:
    """Sign an artist in, in this browser."""
    login(request, user)
    agent = request.headers.get("User-Agent", "")
    request.session[_DEVICE] = next((name for mark, name in _SYSTEMS if mark in agent), "")
    request.session[_BEGAN] = timezone.now().isoformat()


def sessions_of(user: User, present_key: str | None) -> list[SignedIn]:
    """Where the artist is signed in, the latest first. present_key: of the session that asks."""
    found = []
    for session, held in _live_sessions(user):
        began = held.get(_BEGAN)
        found.append(
            SignedIn(
                id=digest_of(session.session_key)[:32],
                began=datetime.fromisoformat(began) if began else None,
                device=held.get(_DEVICE, ""),
                here=session.session_key == present_key,
            )
        )
    return sorted(found, key=lambda row: row.began.timestamp() if row.began else 0.0, reverse=True)


def end_session(user: User, session_id: str) -> None:
    """Sign the artist out in one browser. Raises NotFoundError (`no_session`)."""
    for session, _ in _live_sessions(user):
        if digest_of(session.session_key)[:32] == session_id:
            session.delete()
            return
    raise NotFoundError("no_session", "You are no longer signed in there.", "Nothing needs to be done.", "session")


def end_sessions(user: User, but: str | None = None) -> None:
    """Sign the artist out everywhere, but in the session with this key."""
    for session, _ in _live_sessions(user):
        if session.session_key != but:
            session.delete()


def _live_sessions(user: User) -> Iterator[tuple[Session, dict[str, str]]]:
    # Django does not say whose a session is but inside it; there are a few for every artist.
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        held = session.get_decoded()
        if held.get(SESSION_KEY) == str(user.pk):
            yield session, held


def set_password(request: HttpRequest, user: User, password: str) -> None:
    """Set a password and sign out everywhere else. Raises InputError (`weak_password`) with the first reason."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise InputError("weak_password", error.messages[0], "Choose another password.", "password") from error
    user.set_password(password)
    with transaction.atomic():
        user.save()
        end_sessions(user, but=request.session.session_key)
        update_session_auth_hash(request, user)


def delete_account(user: User, name: str) -> None:
    """Delete an artist with everything that is theirs. name: typed by hand, so that nobody does it by mistake.

    Raises InputError (`not_the_name`).
    """
    if name != user.get_username():
        raise InputError(
            "not_the_name", "That is not the name of this account, so nothing was deleted.", "Type it exactly.", "name"
        )
    with transaction.atomic():
        end_sessions(user)
        user.delete()


def sweep() -> int:
    """Delete links and sessions that are too old to be used; how many that were."""
    links, _ = EntryLink.objects.filter(expires__lte=timezone.now()).delete()
    sessions, _ = Session.objects.filter(expire_date__lte=timezone.now()).delete()
    return links + sessions


def digest_of(token: str) -> str:
    """What is kept of a token."""
    return hashlib.sha256(token.encode()).hexdigest()
