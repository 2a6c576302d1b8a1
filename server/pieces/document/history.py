"""Pieces and their versions: reads of one moment, writes that cannot overwrite each other, undo and redo."""

from __future__ import annotations

import logging
import zlib
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import BinaryField, Exists, ExpressionWrapper, F, OuterRef, QuerySet
from django.utils import timezone

from core.errors import ConflictError, InputError, NotFoundError
from server.api.memo import SingleFlightCache
from server.api.removable import remove
from server.api.values import encode
from server.pictures.models import Picture
from server.pictures.services import no_picture
from server.pieces.document.drawn import Drawn, as_drawn
from server.pieces.document.schema import Document, empty_document
from server.pieces.document.soundness import read
from server.pieces.models import Piece, Revision, Written, unpacked

log = logging.getLogger(__name__)

MAX_PIECES = 500
KEPT_REVISIONS = 200
REPEATED_FOR = timedelta(days=30)
"""How long a write can be repeated: a browser keeps what it could not send."""
_documents: SingleFlightCache[bytes, tuple[Document, list[str]]] = SingleFlightCache(100)
"""What stored documents say, by what is stored: the same one is opened again and again."""
UNREADABLE = (
    "What is stored of this state cannot be read. Nothing of it is deleted, and Undo goes back to the state before."
)


@dataclass(frozen=True, slots=True)
class Opened:
    """A piece and its document, both read at one moment. set_aside: a sentence on each thing that the stored document
    holds wrongly and that was left out of this one."""

    piece: Piece
    document: Document
    set_aside: list[str]
    can_undo: bool
    can_redo: bool

    def drawn(self) -> Drawn:
        """What a hand lays that goes by the maps of the piece."""
        return as_drawn(self.piece.pk, self.document)


class StaleVersionError(ConflictError):
    """The piece has moved on since the version a write started from. newer: as it is now."""

    def __init__(self, newer: Opened) -> None:
        super().__init__("stale_version", "The piece was changed elsewhere.", "", "version")
        self.newer = newer


def open_piece(user: User, piece_id: UUID) -> Opened:
    """The piece as it is now. Raises NotFoundError (`no_piece`), also for somebody else's."""
    revision = _standing(user).filter(piece=piece_id).first()
    if revision is None:
        raise _no_piece()
    return _opened(revision)


def _no_piece() -> NotFoundError:
    return NotFoundError("no_piece", "There is no such piece.", "Go back to your pieces.", "piece")


def document_of(user: User, piece_id: UUID) -> Document:
    """The document of a piece as it is now. Raises NotFoundError (`no_piece`), also for somebody else's."""
    return open_piece(user, piece_id).document


def drawn_of(user: User, piece_id: UUID) -> Document:
    """The document of a piece by its maps: what a hand lays that goes by them. Raises NotFoundError (`no_piece`)."""
    return open_piece(user, piece_id).drawn().document


def open_all(user: User) -> Iterator[Opened]:
    """The artist's pieces, the latest first."""
    return map(_opened, _standing(user).order_by("-piece__changed").iterator(chunk_size=50))


def _standing(user: User) -> QuerySet[Revision]:
    """The revisions at which the artist's pieces stand.

    One statement reads one moment: a piece that is deleted or moved on meanwhile is seen whole or not at all.
    """
    beside = Revision.objects.filter(piece=OuterRef("piece"))
    return (
        Revision.objects.filter(piece__owner=user, piece__removed=None, position=F("piece__position"))
        .select_related("piece")
        .defer("document")
        .annotate(
            stored=ExpressionWrapper(F("document"), output_field=BinaryField()),
            can_undo=Exists(beside.filter(position=OuterRef("position") - 1)),
            can_redo=Exists(beside.filter(position=OuterRef("position") + 1)),
        )
    )


def _opened(revision: Any) -> Opened:
    stored = bytes(revision.stored)
    document, set_aside = _documents.get(stored, lambda: _read(stored, revision.piece_id))
    return Opened(revision.piece, document, list(set_aside), revision.can_undo, revision.can_redo)


def _read(stored: bytes, piece_id: UUID) -> tuple[Document, list[str]]:
    try:
        return read(unpacked(stored))
    except (KeyError, TypeError, ValueError, AttributeError, zlib.error):
        log.exception("piece %s holds no document", piece_id)
        return empty_document(), [UNREADABLE]


def written(user: User, key: str) -> Opened | None:
    """The piece as it is now, if a write with this key was done before."""
    row = Written.objects.filter(owner=user, key=key).first() if key else None
    return open_piece(user, row.piece_id) if row else None


def _note(user: User, piece: Piece, key: str) -> None:
    """Remember a write in the transaction that does it."""
    if key:
        Written.objects.create(owner=user, piece=piece, key=key)


def forget_writes(grace: timedelta = REPEATED_FOR) -> None:
    """Forget the keys of old writes."""
    Written.objects.filter(at__lt=timezone.now() - grace).delete()


@transaction.atomic
def new_piece(user: User, title: str, document: Document, key: str = "") -> Opened:
    """A new piece; with a key that made one before, that one. Raises InputError (`too_many_pieces`) over the limit."""
    if before := written(user, key):
        return before
    if Piece.objects.filter(owner=user).count() >= MAX_PIECES:
        raise InputError("too_many_pieces", f"You have {MAX_PIECES} pieces.", "Delete one first.")
    piece = Piece.objects.create(owner=user, title=title)
    Revision.objects.create(
        piece=piece, position=0, document=encode(Document, document), picture=_named(user, document)
    )
    _note(user, piece, key)
    return open_piece(user, piece.pk)


@transaction.atomic
def write(user: User, before: Opened, version: int, title: str, document: Document, key: str = "") -> Opened:
    """Store a new state that was made from `version`, and from `before` as it was then.

    A state equal to the present one makes no new step in the history. Raises StaleVersionError if that is not the
    latest, NotFoundError if the piece is gone.
    """
    piece = before.piece
    same = document == before.document and not before.set_aside
    position = piece.position if same else piece.position + 1
    changed = _claim(user, piece, version, title=title, position=position)
    if not same:
        # A picture that was missing already is no reason to lose anything else.
        picture = _named(user, document, must=document.picture != before.document.picture)
        revisions = Revision.objects.filter(piece=piece)
        revisions.filter(position__gte=position).delete()
        held = encode(Document, document)
        Revision.objects.create(piece=piece, position=position, document=held, picture=picture)
        revisions.filter(position__lt=position - KEPT_REVISIONS).delete()
    _note(user, piece, key)
    # As it was written; what was read anew would say the same.
    now = Piece(
        pk=piece.pk, owner=user, made=piece.made, title=title, version=version + 1, position=position, changed=changed
    )
    if same:
        return replace(before, piece=now)
    return Opened(now, document, [], can_undo=True, can_redo=False)


@transaction.atomic
def step(user: User, piece_id: UUID, version: int, by: int, key: str = "") -> Opened:
    """Undo (by −1) or redo (by +1). Raises ConflictError (`nothing_there`) at the end of the history."""
    if before := written(user, key):
        return before
    now = open_piece(user, piece_id)
    if not (now.can_undo if by < 0 else now.can_redo):
        raise ConflictError("nothing_there", "There is nothing more to " + ("undo." if by < 0 else "redo."))
    _claim(user, now.piece, version, position=now.piece.position + by)
    _note(user, now.piece, key)
    return open_piece(user, piece_id)


@transaction.atomic
def delete(user: User, piece_id: UUID) -> None:
    """Remove a piece with its history; it can be put back for a while. Raises NotFoundError (`no_piece`)."""
    if not remove(Piece, user, pk=piece_id):
        raise _no_piece()


def _named(user: User, document: Document, must: bool = True) -> Picture | None:
    """The picture that a document names, noted as named."""
    if not document.picture:
        return None
    named = Picture.objects.filter(owner=user, pk=document.picture)
    named.filter(unnamed_since__isnull=False).update(unnamed_since=None)
    picture = named.first()
    if picture is None and must:
        raise no_picture()
    return picture


def _claim(user: User, piece: Piece, version: int, **changes: Any) -> datetime:
    """Moves the piece on from a version, and says when. Raises StaleVersionError."""
    now = timezone.now()
    moved = Piece.objects.filter(pk=piece.pk, version=version, position=piece.position).update(
        version=F("version") + 1, changed=now, **changes
    )
    if not moved:
        raise StaleVersionError(open_piece(user, piece.pk))
    return now
