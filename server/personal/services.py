"""What an artist owns altogether, across the apps: how much space it takes, and its end."""

from __future__ import annotations

from collections import Counter
from uuid import UUID

from django.contrib.auth.models import User

from server.accounts import services as accounts
from server.materials import services as materials
from server.personal.values import Use
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces.document import history


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
