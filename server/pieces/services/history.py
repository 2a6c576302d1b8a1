"""Pieces and their versions: writes that cannot overwrite each other, undo and redo."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F, QuerySet
from django.utils import timezone

from core.errors import ConflictError, InputError, NotFoundError
from server.pieces.models import Piece, Revision

MAX_PIECES = 500
MAX_FIGURES = 12
KEPT_REVISIONS = 200

Document = dict[str, Any]


class StaleVersionError(ConflictError):
    """The piece has moved on since the version a write started from. piece: as it is now."""

    def __init__(self, piece: Piece) -> None:
        super().__init__("stale_version", "The piece was changed elsewhere.", "", "version")
        self.piece = piece


def empty_document() -> Document:
    """What a new piece holds."""
    return {
        "setup": {
            "medium": "pencil", "paper": "medium-white", "method": "darks_first", "black": "last",
            "max_sticks": 0, "max_passes": 4, "fit": "clip", "kept": [], "banned": [], "one_shadow": False,
            "finish": "layer", "reserve": False,
        },
        "tray": None,
        "picture": None,
        "balance": None,
        "light": None,
        "sheet": {
            "width_mm": 210.0, "height_mm": 297.0, "margin_mm": 10.0, "fit": "whole", "shift_x": 0.5, "shift_y": 0.5,
        },
        "grid": None,
        "cross": None,
        "marks": [],
        "unit": None,
        "figures": [{"id": "figure-1", "name": "Figure 1", "face": None, "strokes": []}],
        "spots": [],
        "surroundings": [],
        "work": {"done": {}, "notes": {}},
    }  # fmt: skip


def pieces_of(user: User) -> QuerySet[Piece]:
    """The artist's pieces, the latest first."""
    return Piece.objects.filter(owner=user)


def get_piece(user: User, piece_id: UUID) -> Piece:
    """Raises NotFoundError (`no_piece`), also for somebody else's."""
    piece = pieces_of(user).filter(pk=piece_id).first()
    if piece is None:
        raise NotFoundError("no_piece", "There is no such piece.", "Go back to your pieces.", "piece")
    return piece


def document_of(piece: Piece) -> Document:
    """The document as it stands."""
    return _of_today(piece.revisions.get(position=piece.position).document)


def _of_today(held: Document) -> Document:
    """A document that may have been written by an older version, with everything that a document has now."""
    usual = empty_document()
    spots = [{"locked": False, **spot} for spot in held["spots"]]
    for spot in spots:
        if spot["recipe"]:
            passes = [{"locked": False, **row} for row in spot["recipe"]["passes"]]
            spot["recipe"] = {**spot["recipe"], "passes": passes}
    return {**usual, **held, "setup": {**usual["setup"], **held["setup"]}, "spots": spots}


@transaction.atomic
def new_piece(user: User, title: str, document: Document) -> Piece:
    """Raises InputError (`too_many_pieces`) over the limit."""
    if pieces_of(user).count() >= MAX_PIECES:
        raise InputError("too_many_pieces", f"You have {MAX_PIECES} pieces.", "Delete one first.")
    piece = Piece.objects.create(owner=user, title=title)
    Revision.objects.create(piece=piece, position=0, document=document)
    return piece


@transaction.atomic
def write(piece: Piece, version: int, title: str, document: Document) -> Piece:
    """Store a new state that was made from `version`. Raises StaleVersionError if that is not the latest.

    A state equal to the present one makes no new step in the history.
    """
    same = document == document_of(piece)
    position = piece.position if same else piece.position + 1
    _claim(piece, version, title=title, position=position)
    if not same:
        piece.revisions.filter(position__gte=position).delete()
        Revision.objects.create(piece=piece, position=position, document=document)
        piece.revisions.filter(position__lt=position - KEPT_REVISIONS).delete()
    return _fresh(piece)


@transaction.atomic
def step(piece: Piece, version: int, by: int) -> Piece:
    """Undo (by −1) or redo (by +1). Raises ConflictError (`nothing_there`) at the end of the history."""
    if not piece.revisions.filter(position=piece.position + by).exists():
        raise ConflictError("nothing_there", "There is nothing more to " + ("undo." if by < 0 else "redo."))
    _claim(piece, version, position=piece.position + by)
    return _fresh(piece)


def can_step(piece: Piece) -> tuple[bool, bool]:
    """Whether there is anything to undo, and to redo."""
    positions = set(piece.revisions.values_list("position", flat=True))
    return piece.position - 1 in positions, piece.position + 1 in positions


def _claim(piece: Piece, version: int, **changes: Any) -> None:
    moved = Piece.objects.filter(pk=piece.pk, version=version, position=piece.position).update(
        version=F("version") + 1, changed=timezone.now(), **changes
    )
    if not moved:
        raise StaleVersionError(_fresh(piece))


def _fresh(piece: Piece) -> Piece:
    return Piece.objects.get(pk=piece.pk)
