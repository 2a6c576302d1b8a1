"""Trial cards: made, read back, corrected, taken back."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import QuerySet
from numpy.typing import ArrayLike

from core.colour.difference import ciede2000
from core.colour.spaces import hex_to_lab, lab_to_hex
from core.errors import InputError, NotFoundError
from core.exchange.card_json import CardFile, write_card_json
from core.exchange.card_sheet import write_card
from core.exchange.pen import FileKind
from core.optics.media import facts_of
from core.optics.medium import TOOLS
from core.optics.support import Support
from core.plan.questions import Lab, Owned
from core.plan.tried import TEACHING_STEPS, Filled, made_card, taught_by, teach_on
from core.trial.card import FIRST_NUMBER, KINDS, NUMBERS
from core.trial.reading import FINE
from core.trial.teaching import Stack
from server.api.jobs import Lane, Step, jobs
from server.api.memo import digest
from server.materials import services as materials
from server.materials.models import Tray
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.trials import values
from server.trials.models import Calibration, CardPhoto, TrialCard
from server.trials.taught import card_of, keep, learn_anew, learn_without, like, photos_of, taught_of, tried_of

MAX_CARDS, MAX_PHOTOS = 60, 12
"""Of a tray, and of a card."""


@dataclass(frozen=True, slots=True)
class OfPiece:
    """What a card is for: a piece's title, its spots with their CIELAB, and what it is planned with, place by place."""

    title: str
    names: tuple[str, ...]
    seen: tuple[Lab, ...]
    planned: tuple[tuple[str, Stack], ...]


def make(user: User, owned: Owned, tray: Tray, paper: Support, piece: OfPiece, asked: values.AskCard) -> TrialCard:
    """A new card for a piece's sticks on its paper. paper: as it is listed. Raises InputError, Underway."""
    cards = TrialCard.objects.filter(tray=tray)
    if cards.count() >= MAX_CARDS:
        raise InputError(
            "too_many_cards", f"This tray has {MAX_CARDS} cards.", "Delete one that is not needed.", "kind"
        )
    medium = owned.setup.medium
    tried = tried_of(tray, medium, paper)
    # A card is of one medium: what is planned of several is asked as it would be planned in this one.
    held = {stick.code for stick in owned.sticks if stick.medium == medium}
    planned = tuple(row for row in piece.planned if all(p.stick in held | TOOLS.keys() for p in row[1]))
    wanted = (asked.kind, asked.size, _next_number(user), asked.boxes)
    ask = (owned, tried, piece.names, piece.seen, *wanted, planned)
    ((card, known),) = jobs.do(digest("trial card", ask), [Step(made_card, ask)])
    return TrialCard.objects.create(
        owner=user,
        tray=tray,
        medium=medium,
        paper=paper.id,
        title=piece.title[:120],
        number=card.number,
        card=write_card_json(CardFile(card, medium, paper.id)).decode(),
        foreseen=[lab_to_hex(lab) for lab in known.labs],
    )


def _next_number(user: User) -> int:
    """In turn, so that a number comes again as late as can be."""
    last = TrialCard.objects.filter(owner=user).last()
    return 0 if last is None else (last.number - FIRST_NUMBER + len(card_of(last).pages())) % NUMBERS


def standing_cards(user: User) -> QuerySet[TrialCard]:
    """The artist's cards, the earliest first, without those whose tray or paper was removed."""
    of_what_stands = TrialCard.objects.filter(owner=user, tray__removed=None)
    return of_what_stands.exclude(paper__in=materials.removed_papers(user)).select_related("tray")


def get_card(user: User, card_id: UUID) -> TrialCard:
    """One of the artist's cards. Raises NotFoundError (`no_card`)."""
    found = standing_cards(user).filter(pk=card_id).first()
    if found is None:
        raise NotFoundError("no_card", "There is no such card.", "It may have been deleted.", "card")
    return found


def get_photo(user: User, photo_id: UUID) -> CardPhoto:
    """One of the artist's photographs of cards. Raises NotFoundError (`no_photo`)."""
    found = CardPhoto.objects.filter(card__in=standing_cards(user), pk=photo_id).select_related("card__tray").first()
    if found is None:
        raise NotFoundError("no_photo", "There is no such photograph.", "It may have been deleted.", "photo")
    return found


def as_sheet(row: TrialCard, kind: FileKind) -> tuple[bytes, str]:
    """A card to print, and what its file is called."""
    card = card_of(row)
    title = f"{row.title}: {KINDS[card.kind].name.lower()}" if row.title else KINDS[card.kind].name
    foreseen = np.array([hex_to_lab(code) for code in row.foreseen])
    return write_card(card, foreseen, title, facts_of(row.medium).caution, kind), f"card-{card.number}"


def put_photo(user: User, row: TrialCard, asked: values.AskPhoto) -> CardPhoto:
    """Read a filled card, and learn from it; where that is refused the photograph is kept with the reason, and none of
    its boxes is learnt from until the artist takes it in.

    Raises NotFoundError (`no_picture`), InputError (see core.trial.reading.read_card), Underway.
    """
    if row.photos.count() >= MAX_PHOTOS:
        raise InputError("too_many_photos", f"This card has {MAX_PHOTOS} photographs.", "Take one back first.", "photo")
    picture = pictures.get_picture(user, asked.picture)
    paper = materials.paper_for(user, row.paper, row.medium)
    # The same photograph read again, by a chart or with other corners, takes the place of its reading before.
    before = row.photos.filter(picture=picture).first()
    tried = tried_of(row.tray, row.medium, paper, without=before)
    filled = Filled(pictures.source_of(picture), card_of(row), tried, asked.page, asked.corners, asked.chart)
    steps: list[Step[Any]] = [Step(teach_on, (filled,))] * TEACHING_STEPS
    *_, found = jobs.do(digest("taught by", filled), [*steps, Step(taught_by, (filled,))], Lane.PICTURES)
    with transaction.atomic():
        if before:
            before.delete()
        photo = CardPhoto.objects.create(
            card=row,
            picture=picture,
            page=found.read.page,
            corners=[list(corner) for corner in found.read.corners],
            places=[asdict(place) for place in found.read.places],
            rows=[asdict(box) | {"off": _off(box.lab, found.foreseen.labs[box.cell])} for box in found.read.boxes],
            said=found.refused[:300] or found.read.said,
            left_out=[box.cell for box in found.read.boxes] if found.refused else [],
        )
        if found.calibrated:
            keep(row, found.calibrated, len(tried.boxes) + len(taught_of(photo)))
    return photo


def _off(lab: ArrayLike, foreseen: ArrayLike) -> float:
    return round(float(ciede2000(np.array(lab), np.array(foreseen))), 2)


def correct(user: User, photo: CardPhoto, asked: values.CorrectBoxes) -> CardPhoto:
    """Learn from a photograph's boxes as the artist says they are. Raises InputError (`no_box`, `boxes_disagree`)."""
    before = photo.left_out, photo.taken_in
    photo.left_out = sorted({number - 1 for number in asked.left_out})
    photo.taken_in = sorted({number - 1 for number in asked.taken_in})
    if asked.exchange:
        _exchange(photo, *(number - 1 for number in asked.exchange))
    if asked.exchange or before != (photo.left_out, photo.taken_in):
        row = photo.card
        learn_anew(row, materials.paper_for(user, row.paper, row.medium), [photo])
    if asked.liked is not None:
        like(photo, [number - 1 for number in asked.liked])
    return photo


def take_back_boxes(tray: Tray, medium: str, paper: Support, stick: str | None) -> None:
    """Leave out every box that holds a stick, or all. Raises InputError (`boxes_disagree`)."""
    changed = []
    for photo in photos_of(tray, medium, paper.id):
        cells = card_of(photo.card).cells
        gone = {
            row["cell"]
            for row in taught_of(photo)
            if stick is None or any(pass_.stick == stick for pass_ in cells[row["cell"]].passes)
        }
        if gone:
            photo.left_out = sorted({*photo.left_out, *gone})
            photo.taken_in = sorted({*photo.taken_in} - gone)
            changed.append(photo)
    if changed:
        learn_anew(changed[0].card, paper, changed)


def _exchange(photo: CardPhoto, one: int, other: int) -> None:
    """What was read of each is the other's."""
    at = {row["cell"]: i for i, row in enumerate(photo.rows)}
    if one not in at or other not in at or one == other:
        raise InputError("no_box", "There are no two such boxes on this photograph.", "Name two.", "exchange")
    first, second = photo.rows[at[one]], photo.rows[at[other]]
    fine = {"verdict": FINE, "said": "", "other": -1}
    labs = [hex_to_lab(photo.card.foreseen[cell]) for cell in (one, other)]
    photo.rows[at[one]] = second | fine | {"cell": one, "off": _off(second["lab"], labs[0])}
    photo.rows[at[other]] = first | fine | {"cell": other, "off": _off(first["lab"], labs[1])}


def take_back(user: User, photo: CardPhoto) -> None:
    """Forget a photograph and what it taught."""
    row = photo.card
    tried = tried_of(row.tray, row.medium, materials.paper_for(user, row.paper, row.medium), without=photo)
    learn_without(row, tried, photo)


def delete(user: User, row: TrialCard) -> None:
    """Forget a card, its photographs and what they taught."""
    tried = tried_of(row.tray, row.medium, materials.paper_for(user, row.paper, row.medium), without=row)
    learn_without(row, tried, row)


def keep_filled(user: User, tray: Tray, title: str, picture: Picture, held: dict[str, Any]) -> TrialCard:
    """A card that was filled and read elsewhere, with what it taught, as tools.make_demo_card keeps one."""
    of = {"tray": tray, "medium": held["medium"], "paper": held["paper"]}
    with transaction.atomic():
        row = TrialCard.objects.create(
            owner=user, title=title, number=held["number"], card=held["card"], foreseen=held["foreseen"], **of
        )
        CardPhoto.objects.create(card=row, picture=picture, **held["photo"])
        Calibration.objects.create(**of, **held["calibration"])
    return row
