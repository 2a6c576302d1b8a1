"""Trial cards of a piece: for its tray's sticks on its paper, so that its plans become true."""

from __future__ import annotations

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
from server.trials.values import AskCard, TrialCard, Trials


def trials(user: User, piece_id: UUID) -> Trials:
    """Its cards, and what they have taught. Raises NotFoundError, InputError (`no_tray_chosen`)."""
    document = history.open_piece(user, piece_id).document
    tray, paper = _of(user, document)
    return cards.trials(user, tray, document.setup.medium, paper)


def make(user: User, piece_id: UUID, asked: AskCard) -> TrialCard:
    """A new card for it. Raises NotFoundError, InputError, Underway."""
    opened = history.open_piece(user, piece_id)
    document = opened.document
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
    return cards.card_shown(cards.make(user, owned_by(user, document), tray, paper, of_piece, asked))


def _of(user: User, document: Document) -> tuple[Tray, Support]:
    tray_of(user, document)
    assert document.tray is not None  # or tray_of had said so
    tray = materials.get_tray(user, document.tray)
    return tray, materials.paper_for(user, document.setup.paper, document.setup.medium)
