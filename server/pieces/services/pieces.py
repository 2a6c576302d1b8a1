"""A piece as it is shown, and the writes that keep it true."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.contrib.auth.models import User

from core.bench import check_setup
from core.look import measuring
from server.materials import services as materials
from server.pieces.models import Picture, Piece
from server.pieces.services import history, looking, recipes
from server.pieces.services.history import Document, document_of, get_piece


def shown(user: User, piece: Piece) -> dict[str, Any]:
    """A piece with everything that is worked out about it."""
    document = recipes.refresh(user, document_of(piece))
    temperatures = recipes.temperatures(document)
    can_undo, can_redo = history.can_step(piece)
    reach = recipes.reach(user, document)
    beyond = recipes.out_of_reach(document, reach)
    spots = [
        {**spot, "temperature": temperatures.get(spot["id"]), "beyond": beyond.get(spot["id"], "")}
        for spot in document["spots"]
    ]
    picture = Picture.objects.filter(owner=user, pk=document["picture"]).first() if document["picture"] else None
    return {
        "id": piece.pk,
        "title": piece.title,
        "version": piece.version,
        "changed": piece.changed,
        "can_undo": can_undo,
        "can_redo": can_redo,
        "document": {**document, "spots": spots},
        "picture": picture,
        "reach": reach,
        "look_key": looking.look_key(document),
        "placement": looking.placement(picture, document),
        "measured": looking.measured(picture, document),
    }


def rows(user: User) -> list[dict[str, Any]]:
    """All pieces in short."""
    said = []
    for piece in history.pieces_of(user):
        document = document_of(piece)
        passes = [p["id"] for spot in document["spots"] if spot["recipe"] for p in spot["recipe"]["passes"]]
        said.append(
            {
                "id": piece.pk,
                "title": piece.title,
                "changed": piece.changed,
                "picture": document["picture"],
                "figures": [figure["name"] for figure in document["figures"]],
                "spots": len(document["spots"]),
                "steps": len(passes),
                "done": sum(pass_id in document["work"]["done"] for pass_id in passes),
            }
        )
    return said


def create(user: User, title: str) -> Piece:
    """A new, empty piece, with the artist's only tray if there is just one."""
    document = history.empty_document()
    trays = list(user.trays.values_list("pk", flat=True)[:2])
    if len(trays) == 1:
        document["tray"] = str(trays[0])
    return history.new_piece(user, title, document)


def write(user: User, piece_id: UUID, version: int, title: str, document: Document) -> Piece:
    """Store what the artist did, with readings and outcomes worked out anew where they must be."""
    piece = get_piece(user, piece_id)
    setup = recipes.setup_of(document)
    # A paper that is gone since stops no writing: its recipes say so themselves.
    if setup != recipes.setup_of(document_of(piece)):
        check_setup(setup, materials.own_paper(user, setup.paper))
    measuring.place_on(measuring.Sheet(**document["sheet"]), 3, 4)
    return history.write(piece, version, title, recipes.complete(user, document, document_of(piece)))


def solve(user: User, piece_id: UUID, version: int, spots: list[str]) -> Piece:
    """Store fresh recipes for these spots (all if none are named)."""
    piece = get_piece(user, piece_id)
    if piece.version != version:
        raise history.StaleVersionError(piece)
    return history.write(piece, version, piece.title, recipes.solved(user, document_of(piece), spots))


def step(user: User, piece_id: UUID, version: int, by: int) -> Piece:
    """Undo or redo."""
    return history.step(get_piece(user, piece_id), version, by)


def delete(user: User, piece_id: UUID) -> None:
    """Delete a piece with its history."""
    get_piece(user, piece_id).delete()
