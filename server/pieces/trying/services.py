"""Trial cards of a piece: for its tray's sticks on its paper, so that its plans become true."""

from __future__ import annotations

from dataclasses import replace
from uuid import UUID

from django.contrib.auth.models import User

from core.optics.support import Support
from server.materials import services as materials
from server.materials.models import Tray
from server.pieces.document import history
from server.pieces.document.schema import Document
from server.pieces.look.readings import readings_of
from server.pieces.mix.laid_out import owned_by, tray_of
from server.pieces.mix.outcomes import labs_of, seen_colours
from server.trials import services as cards
from server.trials import shown
from server.trials.values import AskCard, PieceOnIt, TakeBack, TrialCard, Trials


def trials(user: User, piece_id: UUID) -> Trials:
    """Its cards, and what they have taught. Raises NotFoundError, InputError (`no_tray_chosen`)."""
    document = history.open_piece(user, piece_id).document
    tray, paper = _of(user, document)
    others = tuple(
        PieceOnIt(opened.piece.pk, opened.piece.title)
        for opened in history.open_all(user)
        if opened.piece.pk != piece_id and opened.document.layers and _same_sticks(opened.document, document)
    )
    return replace(shown.trials(user, tray, document.setup.medium, paper), pieces=others)


def _same_sticks(one: Document, other: Document) -> bool:
    """Whether both are drawn with the same medium of the same tray on the same paper."""
    return one.tray == other.tray and all(
        getattr(one.setup, name) == getattr(other.setup, name) for name in ("medium", "paper")
    )


def make(user: User, piece_id: UUID, asked: AskCard) -> TrialCard:
    """A new card for it. Raises NotFoundError, InputError, Underway."""
    opened = history.open_piece(user, piece_id)
    document = opened.drawn().document
    tray, paper = _of(user, document)
    spots, seen = seen_colours(document, readings_of(user, document))
    of_piece = cards.OfPiece(
        title=opened.piece.title,
        names=tuple(spot.name for spot in spots),
        seen=labs_of(seen),
        planned=tuple(
            (spot.name, tuple(pass_.bare for pass_ in passes))
            for spot in document.spots
            if (passes := document.passes_of(spot))
        ),
    )
    return shown.card_shown(cards.make(user, owned_by(user, document), tray, paper, of_piece, asked))


def take_back(user: User, piece_id: UUID, asked: TakeBack) -> Trials:
    """Leave out all boxes that hold a stick, or all there are. Raises as `trials` does."""
    document = history.open_piece(user, piece_id).document
    tray, paper = _of(user, document)
    cards.take_back_boxes(tray, document.setup.medium, paper, asked.stick)
    return trials(user, piece_id)


def _of(user: User, document: Document) -> tuple[Tray, Support]:
    tray_of(user, document)
    assert document.tray is not None  # or tray_of had said so
    tray = materials.get_tray(user, document.tray)
    return tray, materials.paper_for(user, document.setup.paper, document.setup.medium)
