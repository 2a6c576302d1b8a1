"""A piece as it is shown, and the writes that keep it true."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Any, TypeVar
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from rest_framework.exceptions import ValidationError

from core.errors import CaltinError
from core.light.scene import check_scene
from core.look.measuring import Measured
from core.plan.questions import Owned
from core.plan.setup import check_setup
from server.api.memo import SingleFlightCache, digest
from server.api.values import decode, encode, value
from server.materials import schools
from server.materials import services as materials
from server.pictures.models import Picture
from server.pictures.services import get_picture
from server.pieces.document import history
from server.pieces.document.history import Opened, open_piece
from server.pieces.document.migrate import migrate, work_in
from server.pieces.document.parts import Parts, changed, changes, parts_of
from server.pieces.document.schema import Document, Imagined, Seat, check_references, empty_document, settled
from server.pieces.document.soundness import check_figures, check_format
from server.pieces.layers import services as layering
from server.pieces.layers.values import PlanLayers, TakeLayers
from server.pieces.look import services as looking
from server.pieces.look.readings import Readings, Temperature, check_spots, readings_of, temperatures
from server.pieces.look.seated import seated
from server.pieces.mix import services as mixing
from server.pieces.mix.laid_out import owned_by, reach
from server.pieces.mix.outcomes import NO_OUTCOMES, out_of_reach, outcomes_of
from server.pieces.piece.keys import keys_of
from server.pieces.piece.values import (
    ChangePiece,
    Found,
    Imagine,
    PictureInPiece,
    Piece,
    PieceChange,
    PieceRow,
    PieceVersion,
    Solve,
    SpotFound,
    WritePiece,
)
from server.pieces.work.services import note_work, ticked, work_of
from server.pieces.work.values import Change, WorkChanges

log = logging.getLogger(__name__)
T = TypeVar("T")
_NOTHING: dict[str, Any] = {}
_founds: SingleFlightCache[str, dict[str, Any]] = SingleFlightCache(100)
"""What was sent last of all that was worked out about a piece, by its key: only what differs is sent again."""


@value
class _Holder:
    """A document where the paths of its faults are to begin with its name."""

    document: Document


@dataclass(frozen=True, slots=True)
class _Parts:
    """Works out the parts of a piece one by one; what cannot be is named in `troubles`, and the rest is there."""

    piece_id: UUID
    troubles: list[str]

    def part(self, what: str, make: Callable[[], T], otherwise: T) -> T:
        try:
            return make()
        except CaltinError as error:
            self.troubles.append(f"{error.message} {error.hint}")
        except Exception:
            # Whatever it was: a piece that does not open would take the artist's work hostage.
            log.exception("piece %s: %s", self.piece_id, what)
            self.troubles.append(f"The {what} of this piece cannot be worked out. Everything you did is still there.")
        return otherwise


def shown(user: User, opened: Opened) -> Piece:
    """A piece with everything that is worked out about it."""
    piece, document = opened.piece, opened.document
    parts = _Parts(piece.pk, list(opened.set_aside))
    readings = parts.part("readings", lambda: readings_of(user, document), Readings())
    owned = _owned(user, document)
    drawn = opened.drawn()
    outcomes = parts.part("recipes", lambda: outcomes_of(user, drawn.document, readings, owned), NO_OUTCOMES)
    warmth = parts.part("warmth of the spots", lambda: temperatures(document, readings), dict[str, Temperature]())
    held = parts.part("reach", lambda: reach(user, document, owned), None)
    beyond = parts.part("reach", lambda: out_of_reach(document, readings, outcomes, held), dict[str, str]())
    picture = Picture.objects.filter(owner=user, pk=document.picture).first() if document.picture else None
    found = Found(
        spots={
            spot.id: SpotFound(
                readings.get(spot.id), warmth.get(spot.id), beyond.get(spot.id, ""), outcomes.by_spot.get(spot.id)
            )
            for spot in document.spots
        },
        reach=held,
        placement=parts.part("place on the sheet", lambda: looking.placement(picture, document), None),
        measured=tuple(parts.part("measures", lambda: looking.measured(picture, document), list[Measured]())),
    )
    said = encode(Found, found)
    keys = keys_of(user, document, drawn, outcomes, digest("found", said), owned)
    _founds.put(keys.found, said)
    return Piece(
        id=piece.pk,
        title=piece.title,
        version=piece.version,
        changed=piece.changed,
        can_undo=opened.can_undo,
        can_redo=opened.can_redo,
        document=document,
        work=work_of(piece),
        found=found,
        keys=keys,
        troubles=tuple(dict.fromkeys(parts.troubles)),
        picture=_picture(picture) if picture else None,
    )


def _owned(user: User, document: Document) -> Owned | None:
    """What the piece is made with; None where that cannot be told, which every part says in its own way."""
    try:
        return owned_by(user, document)
    except CaltinError:
        return None


def _picture(picture: Picture) -> PictureInPiece:
    return PictureInPiece(picture.pk, picture.width, picture.height, picture.profile)


def rows(user: User) -> list[PieceRow]:
    """All pieces in short."""
    said, done = [], ticked(user)
    for opened in history.open_all(user):
        piece, document = opened.piece, opened.document
        passes = document.pass_ids()
        said.append(
            PieceRow(
                id=piece.pk,
                title=piece.title,
                changed=piece.changed,
                picture=document.picture,
                figures=tuple(figure.name for figure in document.figures),
                spots=len(document.spots),
                steps=len(passes),
                done=sum(pass_id in done.get(piece.pk, ()) for pass_id in passes),
            )
        )
    return said


def create(user: User, title: str, key: str = "") -> Opened:
    """A new, empty piece, made with what is at hand; with a key that made one before, that."""
    return history.new_piece(user, title, usual_document(user), key)


def usual_document(user: User) -> Document:
    """An empty document with tray, paper and manner of the piece that was worked on last, or with the latest tray."""
    trays = list(user.trays.values_list("pk", flat=True))
    document = replace(empty_document(), tray=trays[-1] if trays else None)
    last = user.pieces.order_by("-changed").first()
    if last is not None:
        before = history.open_piece(user, last.pk).document
        if before.tray in trays:
            setup = replace(before.setup, must_use=(), banned=())
            document = replace(document, tray=before.tray, setup=setup)
    return document


def sent(data: Any) -> tuple[WritePiece, dict[str, Change]]:
    """A new state as it was sent, with ticks and notes if it is of a version that held them in the document.

    A page that was open while the server was brought up to date, and a draft it kept, speak an older schema. Raises
    ValidationError, ConflictError (`newer_document`).
    """
    work: dict[str, Change] = {}
    # What is no document of any version stays as it is: what is wrong with it is said below.
    with suppress(KeyError, TypeError, ValueError, AttributeError):
        held = data["document"]
        data = data | {"document": migrate(held)}
        done, notes = work_in(held).values()
        rows = {key: {"state": done.get(key), "note": notes.get(key)} for key in [*done, *notes]}
        work = decode(WorkChanges, {"passes": rows}).passes if rows else {}
    return decode(WritePiece, data), work


def change(user: User, piece_id: UUID, asked: ChangePiece) -> PieceChange:
    """Store some parts of what the artist did; what has changed beyond them.

    Raises ValidationError, and what `write` raises.
    """
    if repeated := history.written(user, asked.key):
        return _whole(user, repeated)
    before = open_piece(user, piece_id)
    if before.piece.version != asked.version:
        raise history.StaleVersionError(before)
    try:
        sent = changed(encode(Document, before.document), asked.changes)
    except ValueError as error:
        raise ValidationError({"changes": [f"{str(error)[:1].upper()}{str(error)[1:]}."]}) from error
    title = before.piece.title if asked.title is None else asked.title
    document = decode(_Holder, {"document": sent}).document
    after = _stored(user, before, asked.version, title, document, asked.key)
    return _difference(shown(user, after), parts_of(sent), asked.known)


def step(user: User, piece_id: UUID, asked: PieceVersion, by: int) -> PieceChange:
    """Undo (by −1) or redo (by +1); what has changed. Raises what core.history.step raises."""
    if repeated := history.written(user, asked.key):
        return _whole(user, repeated)
    before = open_piece(user, piece_id)
    after = history.step(user, piece_id, asked.version, by, asked.key)
    return _after(user, before, after, asked.known)


def solve(user: User, piece_id: UUID, asked: Solve) -> PieceChange:
    """Store fresh recipes for these spots (all if none are named); what has changed."""
    if repeated := history.written(user, asked.key):
        return _whole(user, repeated)
    return _written_anew(user, piece_id, asked, lambda document: mixing.solved(user, document, asked.spots))


def plan_layers(user: User, piece_id: UUID, asked: PlanLayers) -> PieceChange:
    """Store figures planned in layers; what has changed."""
    if repeated := history.written(user, asked.key):
        return _whole(user, repeated)
    return _written_anew(
        user, piece_id, asked, lambda document: layering.planned(user, document, asked.figures, asked.layers)
    )


def take_layers(user: User, piece_id: UUID, asked: TakeLayers) -> PieceChange:
    """Store layers for a figure; what has changed."""
    if repeated := history.written(user, asked.key):
        return _whole(user, repeated)

    def take(document: Document) -> Document:
        check_references(replace(document, layers=asked.layers))
        return layering.taken(user, document, asked.figure, asked.layers)

    return _written_anew(user, piece_id, asked, take)


def imagine(user: User, piece_id: UUID, asked: Imagine) -> PieceChange:
    """Store who sits in an imagined light, with the sheet that is drawn of them and the spots that are proposed; what
    has changed. Raises InputError (see core.light.scene.check_scene), core.light.model.ModelError."""
    if repeated := history.written(user, asked.key):
        return _whole(user, repeated)
    seats = tuple(Seat(seat.figure or uuid4().hex[:12], replace(seat.sitter, name=seat.name)) for seat in asked.seats)
    light = asked.key_light, asked.around, asked.exposure, asked.settled, asked.sheen, asked.bleeding
    held = Imagined(seats, *light)
    check_scene(held.scene())
    return _written_anew(user, piece_id, asked, lambda document: seated(user, document, held, asked.drawn, asked.spots))


def _written_anew(
    user: User, piece_id: UUID, asked: Solve | PlanLayers | TakeLayers | Imagine, make: Callable[[Document], Document]
) -> PieceChange:
    """Store what is made of the document as the sender knows it. Raises StaleVersionError."""
    before = open_piece(user, piece_id)
    if before.piece.version != asked.version:
        raise history.StaleVersionError(before)
    after = history.write(user, before, asked.version, before.piece.title, make(before.document), asked.key)
    return _after(user, before, after, asked.known)


def _after(user: User, before: Opened, after: Opened, known: str) -> PieceChange:
    return _difference(shown(user, after), parts_of(encode(Document, before.document)), known)


def _whole(user: User, now: Opened) -> PieceChange:
    """For a sender of whom nothing is known but that the write was done."""
    return _difference(shown(user, now), {}, "")


def _difference(after: Piece, sent: Parts, known: str) -> PieceChange:
    """What the sender of these parts lacks of `after`, who knows what is kept under the key `known`, if anything."""
    held, now = _founds.peek(known) or _NOTHING, _founds.peek(after.keys.found) or encode(Found, after.found)
    known_spots = held.get("spots", _NOTHING)
    spots = {
        key: {field: part for field, part in row.items() if known_spots.get(key, _NOTHING).get(field, _NOTHING) != part}
        for key, row in now["spots"].items()
    }
    return PieceChange(
        version=after.version,
        title=after.title,
        changed=after.changed,
        can_undo=after.can_undo,
        can_redo=after.can_redo,
        keys=after.keys,
        troubles=after.troubles,
        picture=after.picture,
        document=changes(sent, parts_of(encode(Document, after.document))),
        spots={key: row for key, row in spots.items() if row},
        reach=after.found.reach,
        placement=after.found.placement,
        measured=None if held.get("measured") == now["measured"] else after.found.measured,
    )


def whole(user: User, opened: Opened) -> Any:
    """A piece as JSON data, whose receiver will know what was worked out about it."""
    return encode(Piece, shown(user, opened))


def write(
    user: User,
    piece_id: UUID,
    version: int,
    title: str,
    document: Document,
    key: str = "",
    work: dict[str, Change] | None = None,
) -> Opened:
    """Store what the artist did.

    Raises InputError for what could never be answered, NotFoundError (also for a picture or tray that is not the
    artist's), StaleVersionError.
    """
    if repeated := history.written(user, key):
        return repeated
    opened = _stored(user, open_piece(user, piece_id), version, title, document, key)
    if work:
        note_work(user, piece_id, work)
    return opened


def _stored(user: User, before: Opened, version: int, title: str, document: Document, key: str) -> Opened:
    """Store a document that was made from `before`. Raises what `write` raises."""
    document = settled(document)
    _check(user, document, before.document)
    return history.write(user, before, version, title, document, key)


def _check(user: User, document: Document, before: Document) -> None:
    """What was there before stops no writing: what is wrong with it says so itself."""
    check_references(document)
    if document.setup != before.setup:
        setup = document.setup
        check_setup(setup, materials.own_paper(user, setup.paper), schools.own_method(user, setup.method))
    check_format(document.format)
    check_figures(document)
    same_picture = document.picture == before.picture
    if document.picture and not same_picture:
        get_picture(user, document.picture)
    if document.tray and document.tray != before.tray:
        materials.get_tray(user, document.tray)
    if document.balance != before.balance or not same_picture:
        looking.check_balance(user, document)
    if document.imagined and document.imagined != before.imagined:
        check_scene(document.imagined.scene())
    unmoved = {spot.id: spot.region for spot in before.spots} if same_picture else {}
    check_spots(document, {spot.id for spot in document.spots if unmoved.get(spot.id) == spot.region})
