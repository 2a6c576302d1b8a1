"""A bundle taken in: see docs/piece-format.md.

Taking in only adds: a tray or a paper that is there already, to the last stick, is used; everything else is new.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import IO, Any, TypeVar

from django.contrib.auth.models import User
from django.db import transaction
from rest_framework.exceptions import ValidationError

from core.errors import InputError
from core.exchange.bundle import Bundle, bad
from core.exchange.card_json import CardFile
from core.exchange.scene_json import NamedComplexion, read_complexions
from core.look.picture import MAX_BYTES
from core.optics.stick import Tray as CoreTray
from server.api.values import decode, encode
from server.imagined import services as imagined
from server.materials import carried as materials
from server.materials.models import Tray
from server.personal.taking_out import COMPLEXIONS, PAPERS, PRACTICE
from server.personal.values import BundleTaken, TakenPiece
from server.pictures import services as pictures
from server.pieces.piece import carried as pieces
from server.practice import carried as practice
from server.trials import carried as trials

T = TypeVar("T")
_PIECE = re.compile(r"pieces/(\d{4})/piece\.json")
_HISTORY = re.compile(r"pieces/\d{4}/history\.json")
_TRAY = re.compile(r"trays/([0-9a-f-]{36})\.json")
_METHOD = re.compile(r"methods/([0-9a-f-]{36})\.toml")
_CARD = re.compile(r"cards/(\d{4})\.json")
_PICTURE = re.compile(r"pictures/([0-9a-f-]{36})\.([a-z0-9]{1,8})")
_FILES = ("caltin.json", COMPLEXIONS, PAPERS, PRACTICE)


@dataclass(slots=True)
class _Read:
    """Everything of a bundle but its pictures, checked."""

    papers: tuple[materials.CarriedPaper, ...] = ()
    methods: dict[str, str] = field(default_factory=dict)
    trays: dict[str, CoreTray] = field(default_factory=dict)
    cards: list[tuple[trials.CarriedCard, CardFile]] = field(default_factory=list)
    complexions: tuple[NamedComplexion, ...] = ()
    pieces: dict[str, tuple[pieces.CarriedPiece, pieces.CarriedHistory | None]] = field(default_factory=dict)
    practice: tuple[practice.CarriedAnswer, ...] = ()


def take_in(user: User, source: IO[bytes], size: int) -> BundleTaken:
    """Take in what is in a bundle, all or nothing. Raises InputError and ConflictError that name the part."""
    bundle = Bundle(source, size)
    read = _read(bundle)
    # Pictures first, outside the lock for writing: until something names them they are swept up if it comes to nothing.
    shown, said = _keep_pictures(user, bundle, _named(read))
    with transaction.atomic():
        taken, of = _keep(user, read, shown)
    return BundleTaken(**taken, said=(*said, *_strangers(bundle), *trials.learn(user, of)))


def _read(bundle: Bundle) -> _Read:
    read = _Read()
    if PAPERS in bundle:
        read.papers = _part(PAPERS, lambda: materials.papers_in(bundle, PAPERS))
    for name in bundle.names("methods/"):
        if found := _METHOD.fullmatch(name):
            read.methods[found[1]] = materials.method_in(bundle, name)
    for name in _in_order(bundle):
        read.trays[name[len("trays/") : -len(".json")]] = materials.tray_in(bundle, name)
    for name in filter(_CARD.fullmatch, bundle.names("cards/")):
        card = _part(name, lambda name=name: decode(trials.CarriedCard, bundle.json(name)))  # type: ignore[misc]
        read.cards.append((card, trials.checked(card, name)))
        if str(card.tray) not in read.trays:
            raise bad(f"{name} is of a tray that is not in it")
    if COMPLEXIONS in bundle:
        read.complexions = read_complexions(bundle.data(COMPLEXIONS))
    for name in filter(_PIECE.fullmatch, bundle.names("pieces/")):
        read.pieces[name.split("/")[1]] = _piece(bundle, name)
    if PRACTICE in bundle:
        read.practice = _part(PRACTICE, lambda: practice.practice_in(bundle, PRACTICE)).answers
    if not (read.papers or read.methods or read.trays or read.complexions or read.pieces or read.practice):
        raise bad("there is nothing in it")
    return read


def _in_order(bundle: Bundle) -> list[str]:
    """The parts that are trays, in the order in which their artist had them."""
    told = bundle.head.get("trays")
    order = [f"trays/{name}.json" for name in told if isinstance(name, str)] if isinstance(told, list) else []
    held = list(filter(_TRAY.fullmatch, bundle.names("trays/")))
    return [*(name for name in dict.fromkeys(order) if name in held), *(name for name in held if name not in order)]


def _piece(bundle: Bundle, name: str) -> tuple[pieces.CarriedPiece, pieces.CarriedHistory | None]:
    piece = _part(name, lambda: pieces.piece_in(bundle.json(name), name))
    beside = name.replace("piece.json", "history.json")
    past = _part(beside, lambda: pieces.history_in(bundle.json(beside), beside)) if beside in bundle else None
    return piece, past


def _part(name: str, make: Callable[[], T]) -> T:
    """What is wrong with a part, as a refusal that names it and the field."""
    try:
        return make()
    except ValidationError as error:
        path, said = _first(error.detail)
        raise bad(f"{name}, {path}: {said}") from None


def _first(detail: Any, path: str = "") -> tuple[str, str]:
    """Path and words of the first of some faults."""
    if isinstance(detail, dict) and detail:
        key, inner = next(iter(detail.items()))
        step = f"[{key}]" if isinstance(key, int) else f".{str(key)[:40]}"
        return _first(inner, f"{path}{step}")
    if isinstance(detail, list) and detail:
        return _first(detail[0], path)
    return path.lstrip(".") or "all of it", str(detail).rstrip(".")


def _named(read: _Read) -> set[str]:
    """The pictures that something in the bundle names."""
    names = {str(photo.picture) for card, _ in read.cards for photo in card.photos}
    for piece, past in read.pieces.values():
        names |= set(pieces.pictures_in(piece, past))
    return names


def _keep_pictures(user: User, bundle: Bundle, named: set[str]) -> tuple[dict[str, str], list[str]]:
    """The ids here of the pictures that are named. Raises InputError (`bad_bundle`, `no_space`)."""
    files: dict[str, str] = {}
    for name in bundle.names("pictures/"):
        if (found := _PICTURE.fullmatch(name)) and found[1] in files:
            raise bad(f"{files[found[1]]} and {name} have one name")
        if found:
            files[found[1]] = name
    missing = sorted(named - files.keys())
    shown = {}
    for name in sorted(named & files.keys()):
        try:
            shown[name] = str(pictures.store_picture(user, bundle.data(files[name], MAX_BYTES)).pk)
        except InputError as error:
            raise InputError(error.code, f"{files[name]}: {error.message}", error.hint, "file") from error
    return shown, [f"The picture {name[:8]}… is not in the file; what it shows is kept without it." for name in missing]


def _keep(user: User, read: _Read, shown: Mapping[str, str]) -> tuple[dict[str, Any], list[trials.Of]]:
    """All of it, under one lock; and what there is to learn from."""
    ids, new_papers, new_trays, of = dict[str, str](), 0, [], list[trials.Of]()
    for paper in read.papers:
        ids[str(paper.id)], fresh = materials.keep_carried_paper(user, paper)
        new_papers += fresh
    new_methods = 0
    for name, file in read.methods.items():
        ids[name], fresh = materials.keep_carried_method(user, file)
        new_methods += fresh
    trays: dict[str, Tray] = {}
    for name, held in read.trays.items():
        trays[name], fresh = materials.keep_carried(user, held)
        ids[name] = str(trays[name].pk)
        new_trays += [held.name] if fresh else []
    new_cards = 0
    for card, found in read.cards:
        if any(str(photo.picture) not in shown for photo in card.photos):
            card = decode(trials.CarriedCard, encode(trials.CarriedCard, card) | {"photos": _with(card, shown)})
        fresh = trials.keep_carried(user, card, found, trays[str(card.tray)], ids, shown)
        new_cards += fresh
        if fresh and card.photos:
            of.append((trays[str(card.tray)].pk, card.medium, ids.get(card.paper, card.paper)))
    complexions = imagined.take_rows(user, read.complexions)
    numbers, made = {}, []
    for number, (piece, past) in read.pieces.items():
        row, taught = pieces.keep_carried(user, piece, past, ids, shown)
        numbers[number] = str(row.pk)
        made.append(TakenPiece(row.pk, row.title))
        for source, places in taught:
            if str(places.tray) in trays:
                tray = trays[str(places.tray)]
                trials.keep_taught(places, source, tray, ids)
                of.append((tray.pk, places.medium, ids.get(places.paper, places.paper)))
    practised = practice.keep_carried(user, read.practice, numbers)
    taken = {
        "pieces": tuple(made), "trays": tuple(new_trays), "papers": new_papers, "methods": new_methods,
        "cards": new_cards, "complexions": complexions, "practised": practised,
    }  # fmt: skip
    return taken, of


def _with(card: trials.CarriedCard, shown: Mapping[str, str]) -> list[Any]:
    """The photographs of a card that are in the bundle."""
    return [encode(trials.CarriedPhoto, photo) for photo in card.photos if str(photo.picture) in shown]


def _strangers(bundle: Bundle) -> Iterator[str]:
    """Parts that nothing was made of."""
    known = (_PIECE, _HISTORY, _METHOD, _TRAY, _CARD, _PICTURE)
    strange = [name for name in bundle.names() if name not in _FILES and not any(one.fullmatch(name) for one in known)]
    for name in strange[:5]:
        yield f"{name[:60]} was not understood and left where it is."
    if len(strange) > 5:
        yield f"So were {len(strange) - 5} more."
