"""A piece as it is shown, and the writes that keep it true."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any, TypeVar
from uuid import UUID

from django.contrib.auth.models import User

from core.bench import check_setup
from core.errors import CaltinError
from core.look.measuring import Measured
from server.materials import services as materials
from server.pieces.models import Picture
from server.pieces.services import history, looking, recipes
from server.pieces.services.history import Opened, open_piece
from server.pieces.services.migrate import Document
from server.pieces.services.soundness import check_figures, check_sheet

log = logging.getLogger(__name__)
T = TypeVar("T")


def shown(user: User, opened: Opened) -> dict[str, Any]:
    """A piece with everything that is worked out about it. What cannot be worked out is named; the rest is there."""
    piece, troubles = opened.piece, list(opened.set_aside)

    def part(what: str, make: Callable[[], T], otherwise: T) -> T:
        try:
            return make()
        except CaltinError as error:
            troubles.append(f"{error.message} {error.hint}")
        except Exception:
            # Whatever it was: a piece that does not open would take the artist's work hostage.
            log.exception("piece %s: %s", piece.pk, what)
            troubles.append(f"The {what} of this piece cannot be worked out. Everything you did is still there.")
        return otherwise

    document = part("recipes", lambda: recipes.refresh(user, opened.document), opened.document)
    nothing: dict[str, Any] = {}
    unmeasured: list[Measured] = []
    temperatures = part("warmth of the spots", lambda: recipes.temperatures(document), nothing)
    reach = part("reach", lambda: recipes.reach(user, document), None)
    beyond = part("reach", lambda: dict(recipes.out_of_reach(document, reach)), nothing)
    picture = Picture.objects.filter(owner=user, pk=document["picture"]).first() if document["picture"] else None
    spots = [
        {**spot, "temperature": temperatures.get(spot["id"]), "beyond": beyond.get(spot["id"], "")}
        for spot in document["spots"]
    ]
    return {
        "id": piece.pk,
        "title": piece.title,
        "version": piece.version,
        "changed": piece.changed,
        "can_undo": opened.can_undo,
        "can_redo": opened.can_redo,
        "document": {**document, "spots": spots},
        "picture": picture,
        "reach": reach,
        "look_key": looking.look_key(document),
        "placement": part("place on the sheet", lambda: looking.placement(picture, document), None),
        "measured": part("measures", lambda: looking.measured(picture, document), unmeasured),
        "troubles": troubles,
    }


def rows(user: User) -> list[dict[str, Any]]:
    """All pieces in short."""
    said = []
    for opened in history.open_all(user):
        piece, document = opened.piece, opened.document
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


def create(user: User, title: str) -> Opened:
    """A new, empty piece, with the artist's only tray if there is just one."""
    document = history.empty_document()
    trays = list(user.trays.values_list("pk", flat=True)[:2])
    if len(trays) == 1:
        document["tray"] = str(trays[0])
    return history.new_piece(user, title, document)


def write(user: User, piece_id: UUID, version: int, title: str, document: Document) -> Opened:
    """Store what the artist did, with readings and outcomes worked out anew where they must be.

    Raises InputError for what could never be answered, NotFoundError, StaleVersionError.
    """
    before = open_piece(user, piece_id)
    setup = recipes.setup_of(document)
    # A paper that is gone since stops no writing: its recipes say so themselves.
    if setup != recipes.setup_of(before.document):
        check_setup(setup, materials.own_paper(user, setup.paper))
    check_sheet(document["sheet"])
    check_figures(document)
    return history.write(user, before, version, title, recipes.complete(user, document, before.document))


def solve(user: User, piece_id: UUID, version: int, spots: list[str]) -> Opened:
    """Store fresh recipes for these spots (all if none are named)."""
    before = open_piece(user, piece_id)
    if before.piece.version != version:
        raise history.StaleVersionError(before)
    return history.write(user, before, version, before.piece.title, recipes.solved(user, before.document, spots))
