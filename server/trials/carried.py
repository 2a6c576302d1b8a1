"""Trial cards and what was read from them as parts of a bundle: see docs/piece-format.md."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from annotated_types import Interval, Len, MaxLen
from django.contrib.auth.models import User
from pydantic import StringConstraints

from core.errors import CaltinError, InputError
from core.exchange.bundle import bad
from core.exchange.card_json import CardFile, read_card_json, write_card_json
from core.limits import Choice
from core.optics.support import supports
from core.trial.card import MOST_BOXES
from core.trial.joint import MeasuredBox
from server.api.values import decode, encode, value
from server.materials import services as materials
from server.materials.models import Tray
from server.trials.models import CardPhoto, TaughtPlaces, TrialCard
from server.trials.services import MAX_CARDS, MAX_PHOTOS, standing_cards
from server.trials.taught import learn_anew
from server.trials.values import Corners

log = logging.getLogger(__name__)

Bounded = Annotated[float, Interval(ge=-1000, le=1000)]
CarriedLab = tuple[Bounded, Bounded, Bounded]
Cell = Annotated[int, Interval(ge=0, lt=MOST_BOXES)]
Cells = Annotated[tuple[Cell, ...], MaxLen(MOST_BOXES)]
Hex = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
MOST_PLACES = 400
"""Of a drawing, that teach."""


@value
class CarriedBox:
    """What was read of a box: see core.trial.reading.BoxRead. off: ΔE00 from what was foreseen."""

    cell: Cell
    lab: CarriedLab
    spread: Bounded
    doubt: Bounded
    verdict: Literal["fine", "empty", "glare", "edge", "exchanged"]
    said: Annotated[str, MaxLen(300)]
    other: Annotated[int, Interval(ge=-1, lt=MOST_BOXES)]
    off: Bounded


@value
class CarriedFrame:
    """Where a box lies within its card's marks, in parts."""

    left: Bounded
    top: Bounded
    right: Bounded
    bottom: Bounded


@value
class CarriedPhoto:
    """A photograph of a filled card. picture: by its name in the bundle; rows and places: in the same order."""

    picture: UUID
    page: Annotated[int, Interval(ge=0, le=MOST_BOXES)]
    corners: Corners
    places: Annotated[tuple[CarriedFrame, ...], MaxLen(MOST_BOXES)]
    rows: Annotated[tuple[CarriedBox, ...], MaxLen(MOST_BOXES)]
    said: Annotated[str, MaxLen(300)]
    left_out: Cells
    taken_in: Cells
    liked: Cells
    made: datetime


@value
class CarriedCard:
    """A trial card. tray, paper: by their names in the bundle, or a paper that everybody has; card: as
    core.exchange.card_json writes it."""

    tray: UUID
    medium: Choice
    paper: Annotated[str, MaxLen(60)]
    title: Annotated[str, MaxLen(160)]
    card: dict[str, Any]
    foreseen: Annotated[tuple[Hex, ...], MaxLen(MOST_BOXES)]
    made: datetime
    photos: Annotated[tuple[CarriedPhoto, ...], MaxLen(MAX_PHOTOS)]


@value
class CarriedTaught:
    """Places of a drawing that teach: see core.trial.joint.MeasuredBox."""

    tray: UUID
    medium: Choice
    paper: Annotated[str, MaxLen(60)]
    boxes: Annotated[tuple[MeasuredBox, ...], Len(1, MOST_PLACES)]
    made: datetime


Of = tuple[UUID, str, str]
"""Tray, medium and paper of which something is learnt."""


def cards_of(user: User, trays: Iterable[Tray]) -> list[TrialCard]:
    """Of these trays, the earliest first."""
    return list(standing_cards(user).filter(tray__in=list(trays)).prefetch_related("photos__picture"))


def card_out(row: TrialCard, ids: Mapping[str, str], pictures: Mapping[str, str]) -> CarriedCard:
    """A card. ids, pictures: what the bundle calls trays, papers and pictures, by their own ids."""
    held = json.loads(row.card)
    paper = ids.get(row.paper, row.paper)
    return CarriedCard(
        tray=UUID(ids[str(row.tray_id)]),
        medium=row.medium,
        paper=paper,
        title=row.title,
        card=held | {"paper": paper},
        foreseen=tuple(row.foreseen),
        made=row.made,
        photos=tuple(_photo_out(photo, pictures) for photo in row.photos.all() if str(photo.picture_id) in pictures),
    )


def _photo_out(photo: CardPhoto, pictures: Mapping[str, str]) -> CarriedPhoto:
    fields = ("page", "corners", "places", "rows", "said", "left_out", "taken_in", "liked", "made")
    held = {field: getattr(photo, field) for field in fields}
    return decode(CarriedPhoto, held | {"picture": pictures[str(photo.picture_id)]})


def checked(held: CarriedCard, name: str) -> CardFile:
    """The card itself. Raises InputError that names the part where it is none, or its photographs are of another."""
    try:
        found = read_card_json(json.dumps(held.card).encode())
    except InputError as error:
        raise bad(f"{name}: {error.message.rstrip('.')}") from error
    cells = len(found.card.cells)
    if len(held.foreseen) != cells or any(not -1 <= cell.bare < cells for cell in found.card.cells):
        raise bad(f"{name}: it foresees other boxes than it has")
    if found.medium != held.medium or found.paper != held.paper:
        raise bad(f"{name}: its card is of another medium or paper")
    for number, photo in enumerate(held.photos, start=1):
        named = {row.cell for row in photo.rows}.union(photo.left_out, photo.taken_in, photo.liked)
        if len(photo.rows) != len(photo.places) or any(cell >= cells for cell in named):
            raise bad(f"{name}: its photograph {number} has boxes that the card has not")
        if len({row.cell for row in photo.rows}) < len(photo.rows) or any(row.other >= cells for row in photo.rows):
            raise bad(f"{name}: its photograph {number} has a box twice")
    return found


def keep_carried(
    user: User, held: CarriedCard, found: CardFile, tray: Tray, ids: Mapping[str, str], pictures: Mapping[str, str]
) -> bool:
    """Keep a card, unless the tray has it; whether it is new. ids, pictures: what things of the bundle are called here.
    Raises InputError (`too_many_cards`)."""
    paper = ids.get(held.paper, held.paper)
    card = write_card_json(CardFile(found.card, found.medium, paper)).decode()
    of = {"tray": tray, "medium": held.medium, "paper": paper}
    if TrialCard.objects.filter(**of, card=card, made=held.made).exists():
        return False
    if TrialCard.objects.filter(tray=tray).count() >= MAX_CARDS:
        raise InputError(
            "too_many_cards", f"{tray.name} would have more than {MAX_CARDS} cards.", "Delete some first.", "file"
        )
    row = TrialCard.objects.create(
        owner=user, title=held.title, number=found.card.number, card=card, foreseen=list(held.foreseen), **of
    )
    TrialCard.objects.filter(pk=row.pk).update(made=held.made)
    for photo in held.photos:
        fields = {key: part for key, part in encode(CarriedPhoto, photo).items() if key not in ("picture", "made")}
        made = CardPhoto.objects.create(card=row, picture_id=pictures[str(photo.picture)], **fields)
        CardPhoto.objects.filter(pk=made.pk).update(made=photo.made)
    return True


def taught_out(source: UUID, ids: Mapping[str, str]) -> CarriedTaught | None:
    """What a drawing has taught, if it has and its tray and paper are in the bundle."""
    row = TaughtPlaces.objects.filter(source=source).first()
    if row is None or str(row.tray_id) not in ids or not (row.paper in ids or row.paper in supports()):
        return None
    boxes = decode(tuple[MeasuredBox, ...], row.boxes)
    return CarriedTaught(UUID(ids[str(row.tray_id)]), row.medium, ids.get(row.paper, row.paper), boxes, row.made)


def keep_taught(held: CarriedTaught, source: UUID, tray: Tray, ids: Mapping[str, str]) -> None:
    """Keep what a drawing has taught; nothing is learnt from it yet."""
    row = TaughtPlaces.objects.create(
        tray=tray, medium=held.medium, paper=ids.get(held.paper, held.paper), source=source,
        boxes=encode(tuple[MeasuredBox, ...], held.boxes),
    )  # fmt: skip
    TaughtPlaces.objects.filter(pk=row.pk).update(made=held.made)


def learn(user: User, of: Sequence[Of]) -> list[str]:
    """Learn from what was taken in, tray by tray; a sentence on each of which nothing could be learnt."""
    said = []
    for tray_id, medium, paper_id in dict.fromkeys(of):
        tray = materials.get_tray(user, tray_id)
        row = TrialCard(tray=tray, medium=medium, paper=paper_id)
        try:
            learn_anew(row, materials.paper_for(user, paper_id, medium))
        except CaltinError as error:
            said.append(f"What cards say of {tray.name} is kept, but nothing was learnt from it: {error.message}")
        except (LookupError, TypeError, ValueError, ArithmeticError):
            log.exception("cards of tray %s", tray_id)
            said.append(f"What cards say of {tray.name} is kept, but nobody can learn from it.")
    return said
