"""What an artist has, as a bundle to take away: see docs/piece-format.md.

Things are named by what is in them, so that the same things make the same bytes, wherever they are.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import IO
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User

from core.exchange.bundle import EARLIEST, Stamp, as_json, head, written
from core.exchange.tray_bundle import name_of
from server.api.names import file_name
from server.api.values import encode
from server.imagined import services as imagined
from server.materials import carried as materials
from server.materials import services as all_materials
from server.materials.models import OwnMethod, Paper, Tray
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces.document import history as documents
from server.pieces.models import Piece
from server.pieces.piece import carried as pieces
from server.practice import carried as practice
from server.trials import carried as trials
from server.trials.models import TrialCard

COMPLEXIONS, PAPERS, PRACTICE = "complexions.json", "papers.json", "practice.json"


@dataclass(frozen=True, slots=True)
class _Wanted:
    """What goes out. cards_on: only cards on this paper; all if there is none."""

    pieces: Sequence[Piece] = ()
    with_history: bool = False
    trays: Sequence[Tray] = ()
    cards_on: str | None = None
    papers: Sequence[Paper] = ()
    methods: Sequence[OwnMethod] = ()
    complexions: bool = False
    practice: bool = False


def piece_file(user: User, piece_id: UUID, with_history: bool) -> tuple[Iterator[bytes], str]:
    """A piece with all that it is made with, and what to call the file. Raises NotFoundError (`no_piece`)."""
    opened = documents.open_piece(user, piece_id)
    piece, setup = opened.piece, opened.document.setup
    made = piece.made.timetuple()[:6]
    wanted = _Wanted(pieces=[piece], with_history=with_history, cards_on=setup.paper)
    return _written(user, _completed(user, wanted), made), f"{file_name(piece.title, 'piece')}.zip"


def tray_file(user: User, tray_id: UUID) -> tuple[Iterator[bytes], str]:
    """A tray with its cards, and what to call the file. Raises NotFoundError (`no_tray`)."""
    tray = all_materials.get_tray(user, tray_id)
    return _written(user, _completed(user, _Wanted(trays=[tray]))), f"{file_name(tray.name, 'tray')}.zip"


def practice_file(user: User) -> Iterator[bytes]:
    """All that was practised."""
    return _written(user, _Wanted(practice=True))


def everything(user: User) -> Iterator[bytes]:
    """All that the artist has."""
    wanted = _Wanted(
        pieces=list(user.pieces.order_by("changed")), with_history=True, trays=list(all_materials.trays_of(user)),
        papers=list(user.papers.all()), methods=list(user.ownmethods.all()), complexions=True, practice=True,
    )  # fmt: skip
    return _written(user, wanted)


def _completed(user: User, wanted: _Wanted) -> _Wanted:
    """With the trays and papers that the pieces and the cards name."""
    names = {
        name
        for piece in wanted.pieces
        for document in pieces.documents_of(piece, wanted.with_history)
        for name in pieces.named_in(document)
    }
    trays = [tray for tray in all_materials.trays_of(user) if tray in wanted.trays or str(tray.pk) in names]
    names |= {card.paper for card in trials.cards_of(user, trays) if wanted.cards_on in (None, card.paper)}
    papers = [paper for paper in user.papers.all() if str(paper.pk) in names]
    own = [method for method in user.ownmethods.all() if str(method.pk) in names]
    return _Wanted(wanted.pieces, wanted.with_history, trays, wanted.cards_on, papers, own)


def _written(user: User, wanted: _Wanted, made: Stamp = EARLIEST) -> Iterator[bytes]:
    return written(_parts(user, wanted), made)


def _parts(user: User, wanted: _Wanted) -> Iterator[tuple[str, bytes | IO[bytes]]]:
    """Name and content of every part. Each is made when its turn comes: an account may not fit into memory."""
    ids: dict[str, str] = {}
    trays = {tray.pk: materials.tray_out(tray) for tray in wanted.trays}
    for key, data in trays.items():
        ids[str(key)] = _free(name_of(data), ids)
    papers = {paper.pk: materials.paper_out(paper) for paper in wanted.papers}
    for key, paper in papers.items():
        ids[str(key)] = _free(paper.id, ids)
    for method in wanted.methods:
        ids[str(method.pk)] = _free(name_of(materials.method_out(method)), ids)
    cards = [card for card in trials.cards_of(user, wanted.trays) if wanted.cards_on in (None, card.paper)]
    shown = _pictures(user, wanted, cards)
    called = {str(picture.pk): str(UUID(hex=picture.digest[:32])) for picture in shown}
    yield head(settings.VERSION, trays=[ids[str(key)] for key in trays])
    if papers:
        rows = [encode(materials.CarriedPaper, paper) | {"id": ids[str(key)]} for key, paper in papers.items()]
        yield PAPERS, as_json(rows)
    for method in wanted.methods:
        yield f"methods/{ids[str(method.pk)]}.toml", materials.method_out(method)
    for key, data in trays.items():
        yield f"trays/{ids[str(key)]}.json", data
    for number, card in enumerate(cards, start=1):
        yield f"cards/{number:04d}.json", as_json(encode(trials.CarriedCard, trials.card_out(card, ids, called)))
    if wanted.complexions and user.complexions.exists():
        yield COMPLEXIONS, imagined.file_of(user)
    numbers: dict[str, str] = {}
    for number, piece in enumerate(wanted.pieces, start=1):
        numbers[str(piece.pk)] = f"{number:04d}"
        folder = f"pieces/{number:04d}"
        yield f"{folder}/piece.json", as_json(encode(pieces.CarriedPiece, pieces.piece_out(piece, ids, called)))
        if wanted.with_history:
            yield (
                f"{folder}/history.json",
                as_json(encode(pieces.CarriedHistory, pieces.history_out(piece, ids, called))),
            )
    if wanted.practice:
        told = practice.practice_out(user, numbers)
        if told.answers:
            yield PRACTICE, as_json(encode(practice.CarriedPractice, told))
    yield from _files(shown, called)


def _free(name: UUID, ids: Mapping[str, str]) -> str:
    """A name that nothing else has: two boxes may hold the same."""
    while str(name) in ids.values():
        name = UUID(int=(name.int + 1) % 2**128)
    return str(name)


def _pictures(user: User, wanted: _Wanted, cards: Sequence[TrialCard]) -> list[Picture]:
    """All that what goes out names and is still there, in an order that is the same everywhere."""
    names: set[str] = {str(photo.picture_id) for card in cards for photo in card.photos.all()}
    for piece in wanted.pieces:
        names |= {str(row.picture_id) for row in piece.comparisons.all()}
        for document in pieces.documents_of(piece, wanted.with_history):
            names |= set(pieces.named_in(document))
    rows = Picture.objects.filter(owner=user).order_by("digest")
    return [row for row in rows if str(row.pk) in names and pictures.file_of(row.digest).exists()]


def _files(shown: Iterable[Picture], called: Mapping[str, str]) -> Iterator[tuple[str, IO[bytes]]]:
    for picture in shown:
        file = pictures.file_of(picture.digest)
        try:
            opened = file.open("rb")
        except FileNotFoundError:
            continue  # deleted meanwhile: the rest is what counts
        yield f"pictures/{called[str(picture.pk)]}.{pictures.kind_of(file)}", opened
