"""What an artist owns altogether, across the apps: how much space it takes, all of it to take away, and its end."""

from __future__ import annotations

import json
import zipfile
from collections import Counter
from collections.abc import Iterator
from typing import Any
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.utils import timezone

from server.accounts import services as accounts
from server.api.values import encode
from server.imagined import services as imagined
from server.materials import services as materials
from server.personal.values import Use
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces.document import history
from server.pieces.work.services import work_of
from server.pieces.work.values import Work
from server.practice import services as practice
from server.trials import shown as cards

EXPORT_FORMAT = 1


_CHUNK = 2**20


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


def export(user: User) -> Iterator[bytes]:
    """Everything the artist has as a zip archive, piece by piece as it is made.

    account.json says what is in it; pieces/ has every state of every piece, pictures/ the pictures as they were put in.
    """
    pipe = _Pipe()
    with zipfile.ZipFile(pipe, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, made in _texts(user):
            archive.writestr(name, json.dumps(made, indent=1, ensure_ascii=False, default=str))
            yield pipe.take()
        for picture in Picture.objects.filter(owner=user).order_by("made"):
            yield from _picture(archive, pipe, picture)
    yield pipe.take()


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


def _texts(user: User) -> Iterator[tuple[str, Any]]:
    yield (
        "account.json",
        {
            "caltin_export": EXPORT_FORMAT,
            "version": settings.VERSION,
            "made": timezone.now().isoformat(timespec="seconds"),
            "name": user.get_username(),
        },
    )
    yield "trays.json", [materials.all_of(tray) for tray in materials.trays_of(user)]
    yield "cards.json", cards.everything_of(user)
    yield "complexions.json", json.loads(imagined.file_of(user))
    yield "practice.json", practice.everything_of(user)
    yield "papers.json", list(user.papers.values("id", "name", "lab", "tooth", "coats", "media"))
    for piece in user.pieces.order_by("made"):
        told = {key: getattr(piece, key) for key in ("id", "title", "made", "changed", "position")}
        yield (
            f"pieces/{piece.pk}.json",
            told
            | {
                "work": encode(Work, work_of(piece)),
                "states": list(history.states_of(piece)),
                "comparisons": list(piece.comparisons.values()),
            },
        )


def _picture(archive: zipfile.ZipFile, pipe: _Pipe, picture: Picture) -> Iterator[bytes]:
    file = pictures.file_of(picture.digest)
    name = f"pictures/{picture.pk}.{pictures.kind_of(file)}"
    try:
        with file.open("rb") as data, archive.open(name, "w", force_zip64=True) as out:
            while chunk := data.read(_CHUNK):
                out.write(chunk)
                yield pipe.take()
    except FileNotFoundError:
        # Deleted meanwhile, since nothing names it: the rest is what counts.
        return


class _Pipe:
    """Takes what is written to it, and gives it away; it cannot go back, so a zip archive is written straight on."""

    def __init__(self) -> None:
        self._held: list[bytes] = []

    def write(self, data: bytes) -> int:
        self._held.append(bytes(data))
        return len(data)

    def flush(self) -> None:
        """Nothing waits anywhere else."""

    def close(self) -> None:
        """Nothing is held open."""

    def take(self) -> bytes:
        """What has come since the last time."""
        data = b"".join(self._held)
        self._held.clear()
        return data
