"""What an artist owns altogether, across the apps: how much space it takes, what was removed of it, and its end."""

from __future__ import annotations

from collections import Counter
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import QuerySet

from core.errors import InputError, NotFoundError
from server.accounts import services as accounts
from server.api.removable import KEPT_FOR, Removable, removed_of
from server.imagined.models import Complexion
from server.imagined.values import MOST_COMPLEXIONS
from server.materials import schools
from server.materials import services as materials
from server.materials.models import OwnMethod, Paper, Tray
from server.personal.values import Removed, RemovedKind, Use
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces.document import history
from server.pieces.models import Piece


def space(user: User) -> dict[str, int]:
    """How many pictures the artist has, how many bytes they take, and how many they may."""
    return {
        "pictures": Picture.objects.filter(owner=user).count(),
        "used": pictures.space_used(user),
        "most": pictures.MAX_TOTAL_BYTES,
    }


def delete(user: User, name: str) -> None:
    """Delete the artist with everything; the files at once, but for pictures that others have put in too.

    Raises InputError (`not_the_name`).
    """
    accounts.delete_account(user, name)
    pictures.sweep_pictures()


_SHELVES: dict[RemovedKind, tuple[type[Removable], str, int]] = {
    "piece": (Piece, "title", history.MAX_PIECES),
    "tray": (Tray, "name", materials.MAX_TRAYS),
    "paper": (Paper, "name", materials.MAX_PAPERS),
    "method": (OwnMethod, "name", schools.MAX_METHODS),
    "complexion": (Complexion, "name", MOST_COMPLEXIONS),
}
"""Of each kind what is kept, which field is its name, and how many an artist has at most."""


def removed(user: User) -> list[Removed]:
    """What the artist has removed and can put back, the last first."""
    rows = [
        Removed(kind, row.pk, getattr(row, named), row.removed, row.removed + KEPT_FOR)
        for kind, (model, named, _) in _SHELVES.items()
        for row in removed_of(model, user)
        if row.removed
    ]
    return sorted(rows, key=lambda row: row.removed, reverse=True)


@transaction.atomic
def put_back(user: User, removed_id: UUID) -> None:
    """As it was when it was removed. Raises NotFoundError (`not_removed`), InputError (`no_room`) over the limit."""
    kind, row = _removed(user, removed_id)
    model, _, most = _SHELVES[kind]
    if model.objects.filter(owner=user).count() >= most:
        raise InputError("no_room", f"You have {most} already.", "Remove another one first: both are kept.", "removed")
    row.update(removed=None)


@transaction.atomic
def forget(user: User, removed_id: UUID) -> None:
    """Delete for good what was removed. Raises NotFoundError (`not_removed`)."""
    _removed(user, removed_id)[1].delete()
    pictures.note_unnamed(user)


def _removed(user: User, removed_id: UUID) -> tuple[RemovedKind, QuerySet[Any]]:
    """What kind of thing it is, and its row. Raises NotFoundError (`not_removed`)."""
    for kind, (model, _, _) in _SHELVES.items():
        row = removed_of(model, user).filter(pk=removed_id)
        if row.exists():
            return kind, row
    raise NotFoundError(
        "not_removed", "There is nothing to put back.", "It may be back already, or gone for good.", "removed"
    )


def uses(user: User, tray_id: UUID) -> list[Use]:
    """Where each stick of a tray is planned to be used, the piece that was changed last first. Raises NotFoundError."""
    materials.get_tray(user, tray_id)
    found: list[Use] = []
    for opened in sorted(history.open_all(user), key=lambda row: row.piece.changed, reverse=True):
        document = opened.document
        if document.tray != tray_id:
            continue
        times = Counter(layer.stick for layer in document.layers)
        found += [Use(code, opened.piece.pk, opened.piece.title, count) for code, count in sorted(times.items())]
    return found
