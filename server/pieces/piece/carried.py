"""Pieces as parts of a bundle, with their history and their comparisons: see docs/piece-format.md."""

from __future__ import annotations

import copy
from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from annotated_types import Interval, MaxLen
from django.contrib.auth.models import User

from core.compare.corrections import MOST
from core.errors import InputError
from core.exchange.bundle import bad
from core.light.scene import check_scene
from core.limits import LIMITS, Code, Fraction, Identifier, Point
from server.api.values import decode, encode, value
from server.pictures.models import Picture
from server.pieces.comparing.services import MAX_COMPARISONS
from server.pieces.comparing.values import MOST_BESIDE, Corners
from server.pieces.document.history import KEPT_REVISIONS, MAX_PIECES, open_piece
from server.pieces.document.migrate import Raw, migrate
from server.pieces.document.schema import Document, Level, check_references
from server.pieces.document.soundness import check_figures, check_format, read
from server.pieces.models import Comparison, Piece, Revision, Tick
from server.pieces.piece.values import Title
from server.pieces.work.services import MOST as MOST_TICKS
from server.pieces.work.values import Note, State
from server.trials.carried import Bounded, CarriedLab, CarriedTaught, taught_out

Said = Annotated[str, MaxLen(600)]


@value
class CarriedTick:
    """What was done of a layer or a pass, and noted."""

    pass_id: Identifier
    state: State | None
    note: Note
    at: datetime | None


@value
class CarriedPlace:
    """What was read at a spot: see core.compare.reading.PlaceRead. wanted: CIELAB that was wanted there then."""

    lab: CarriedLab
    spread: Bounded
    doubt: Bounded
    trouble: Annotated[str, MaxLen(20)]
    x: Bounded
    y: Bounded
    wanted: CarriedLab


@value
class CarriedSwatch:
    """A swatch beside the drawing: where, of which stick, what it is known as, and by how much that may be off."""

    x: Fraction
    y: Fraction
    stick: Code
    lab: CarriedLab
    error: Bounded


@value
class CarriedCorrection:
    """A correction that is on the sheet."""

    id: Identifier
    number: Annotated[int, Interval(ge=0, le=MOST)]
    stick: Code
    title: Said
    area: Said
    levels: Annotated[dict[Identifier, Level], MaxLen(LIMITS.spots)]


@value
class CarriedComparison:
    """A photograph of the drawing, and how it was read; picture: by its name in the bundle. taught: if the sticks have
    learnt from it."""

    picture: UUID
    number: Annotated[int, Interval(ge=1, le=10_000)]
    corners: Corners
    frame: Corners
    chart: Corners | None
    beside: Annotated[tuple[CarriedSwatch, ...], MaxLen(MOST_BESIDE)]
    moved: Annotated[dict[Identifier, Point], MaxLen(LIMITS.spots)]
    places: Annotated[dict[Identifier, CarriedPlace], MaxLen(LIMITS.spots)]
    edges: Annotated[tuple[Bounded | None, ...], MaxLen(LIMITS.figures)]
    said: Annotated[tuple[Said, ...], MaxLen(40)]
    bare: bool
    usual: Bounded
    mean: Bounded
    taken: Annotated[tuple[CarriedCorrection, ...], MaxLen(MOST)]
    note: Note
    made: datetime
    taught: CarriedTaught | None


@value
class CarriedPiece:
    """A piece. document: its tray, pictures and own paper by their names in the bundle; ticks: in the order in which
    they were made; comparisons: the earliest first."""

    title: Title
    made: datetime
    document: Document
    ticks: Annotated[tuple[CarriedTick, ...], MaxLen(MOST_TICKS)]
    comparisons: Annotated[tuple[CarriedComparison, ...], MaxLen(MAX_COMPARISONS)]


@value
class CarriedState:
    made: datetime
    document: Document


@value
class CarriedHistory:
    """All states of a piece, the oldest first. at: the one where it stands, from 0."""

    at: Annotated[int, Interval(ge=0, le=KEPT_REVISIONS * 2)]
    states: Annotated[tuple[CarriedState, ...], MaxLen(KEPT_REVISIONS * 2)]


def documents_of(piece: Piece, with_history: bool) -> Iterator[Raw]:
    """Its present document, and every other it has had, brought to the present schema but not looked through."""
    yield encode(Document, open_piece(piece.owner, piece.pk).document)
    if with_history:
        for revision in Revision.objects.filter(piece=piece).iterator(chunk_size=50):
            try:
                document = migrate(revision.document)
            except (KeyError, TypeError, ValueError, AttributeError):
                continue  # no document at all
            if isinstance(document, dict):
                yield document


def _readable(stored: Raw) -> Document | None:
    """A stored document without what cannot be used; None if nothing is left."""
    try:
        return read(stored)[0]
    except (KeyError, TypeError, ValueError, AttributeError):
        return None


def named_in(document: Raw) -> Iterator[str]:
    """What a document names beyond itself: its tray, its pictures, its paper, its method."""
    imagined, setup = document.get("imagined") or {}, document.get("setup") or {}
    names = (
        document.get("tray"), document.get("picture"), imagined.get("sheet"), setup.get("paper"), setup.get("method")
    )  # fmt: skip
    return (str(name) for name in names if name)


def renamed(document: Raw, ids: Mapping[str, str], pictures: Mapping[str, str]) -> Raw:
    """The document with other names for what it names; a tray or a picture that has none is named no more. pictures:
    apart, so that no picture is ever looked for under the name of something else."""
    made = copy.deepcopy(document)
    made["tray"] = ids.get(str(made["tray"])) if made.get("tray") else None
    made["picture"] = pictures.get(str(made["picture"])) if made.get("picture") else None
    if made.get("imagined") and made["imagined"].get("sheet"):
        made["imagined"]["sheet"] = pictures.get(str(made["imagined"]["sheet"]))
    for key in ("paper", "method"):
        if key in made["setup"]:
            made["setup"][key] = ids.get(made["setup"][key], made["setup"][key])
    return made


def piece_out(piece: Piece, ids: Mapping[str, str], pictures: Mapping[str, str]) -> CarriedPiece:
    """A piece as it is now. ids, pictures: what the bundle calls trays, papers, methods and pictures, by their own
    ids."""
    document = renamed(encode(Document, open_piece(piece.owner, piece.pk).document), ids, pictures)
    ticks = Tick.objects.filter(piece=piece).order_by("pk")
    return CarriedPiece(
        piece.title,
        piece.made,
        decode(Document, document),
        tuple(CarriedTick(row.pass_id, row.state or None, row.note, row.at) for row in ticks),  # type: ignore[arg-type]
        tuple(
            _comparison_out(row, ids, pictures)
            for row in piece.comparisons.select_related("picture")
            if str(row.picture_id) in pictures
        ),
    )


def _comparison_out(row: Comparison, ids: Mapping[str, str], pictures: Mapping[str, str]) -> CarriedComparison:
    fields = (
        "number", "corners", "frame", "chart", "beside", "moved", "places", "edges", "said", "bare", "usual", "mean",
        "taken", "note", "made",
    )  # fmt: skip
    held = {field: getattr(row, field) for field in fields}
    return decode(
        CarriedComparison, held | {"picture": pictures[str(row.picture_id)], "taught": taught_out(row.pk, ids)}
    )


def history_out(piece: Piece, ids: Mapping[str, str], pictures: Mapping[str, str]) -> CarriedHistory:
    """Its states; one that nobody can read is left out."""
    states: list[CarriedState] = []
    at = 0
    for revision in Revision.objects.filter(piece=piece).order_by("position"):
        document = _readable(revision.document)
        if document is None:
            continue
        if revision.position <= piece.position:
            at = len(states)
        states.append(CarriedState(revision.made, decode(Document, renamed(encode(Document, document), ids, pictures))))
    return CarriedHistory(at, tuple(states))


def piece_in(held: Any, name: str) -> CarriedPiece:
    """A piece of a bundle, its document brought up to date. Raises ValidationError, InputError, ConflictError
    (`newer_document`)."""
    try:
        held = held | {"document": migrate(held["document"])}
    except (KeyError, TypeError, ValueError, AttributeError):
        raise bad(f"{name} holds no document of a piece") from None
    piece = decode(CarriedPiece, held)
    _check(piece.document, name)
    numbers = [row.number for row in piece.comparisons]
    if len(set(numbers)) < len(numbers) or len({row.pass_id for row in piece.ticks}) < len(piece.ticks):
        raise bad(f"{name}: two comparisons or two ticks are the same")
    return piece


def history_in(held: Any, name: str) -> CarriedHistory:
    """The history of a piece. Raises as `piece_in` does."""
    try:
        states = [row | {"document": migrate(row["document"])} for row in held["states"]]
    except (KeyError, TypeError, ValueError, AttributeError):
        raise bad(f"{name} holds no states of a piece") from None
    history = decode(CarriedHistory, held | {"states": states})
    if history.at >= len(history.states):
        raise bad(f"{name} has no state {history.at}")
    for number, state in enumerate(history.states):
        _check(state.document, f"{name}, states[{number}]")
    return history


def _check(document: Document, name: str) -> None:
    try:
        check_references(document)
        check_format(document.format)
        check_figures(document)
        if document.imagined:
            check_scene(document.imagined.scene())
    except InputError as error:
        raise bad(f"{name}, {error.field}: {error.message}") from error


def keep_carried(
    user: User,
    held: CarriedPiece,
    history: CarriedHistory | None,
    ids: Mapping[str, str],
    pictures: Mapping[str, str],
) -> tuple[Piece, list[tuple[UUID, CarriedTaught]]]:
    """A new piece, and what its drawings have taught by their ids here. ids, pictures: what things of the bundle are
    called here.

    Raises InputError (`too_many_pieces`).
    """
    if Piece.objects.filter(owner=user).count() >= MAX_PIECES:
        raise InputError("too_many_pieces", f"You have {MAX_PIECES} pieces.", "Delete one first.", "file")
    states = history.states if history else (CarriedState(held.made, held.document),)
    at = history.at if history else 0
    piece = Piece.objects.create(owner=user, title=held.title, position=at)
    for position, state in enumerate(states):
        document = renamed(encode(Document, state.document), ids, pictures)
        revision = Revision.objects.create(
            piece=piece, position=position, document=document, picture_id=document["picture"]
        )
        Revision.objects.filter(pk=revision.pk).update(made=state.made)
    Tick.objects.bulk_create(
        Tick(piece=piece, pass_id=row.pass_id, state=row.state or "", note=row.note, at=row.at) for row in held.ticks
    )
    taught = []
    for row in held.comparisons:
        if str(row.picture) not in pictures:
            continue  # nothing can be seen of it
        fields = {
            key: part
            for key, part in encode(CarriedComparison, row).items()
            if key not in ("picture", "made", "taught")
        }
        made = Comparison.objects.create(piece=piece, picture_id=pictures[str(row.picture)], **fields)
        Comparison.objects.filter(pk=made.pk).update(made=row.made)
        if row.taught:
            taught.append((made.pk, row.taught))
    Piece.objects.filter(pk=piece.pk).update(made=held.made)
    used = {pictures[name] for name in pictures_in(held, history) if name in pictures}
    Picture.objects.filter(owner=user, pk__in=used).update(unnamed_since=None)
    return piece, taught


def pictures_in(held: CarriedPiece, history: CarriedHistory | None) -> Iterator[str]:
    """What a piece of a bundle calls the pictures that it names."""
    for document in (held.document, *(state.document for state in (history.states if history else ()))):
        yield from (str(name) for name in (document.picture, document.imagined and document.imagined.sheet) if name)
    yield from (str(row.picture) for row in held.comparisons)
