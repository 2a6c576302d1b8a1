"""Trial cards: made, read back, taken back; and what they have taught of an artist's sticks on a paper."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from typing import Any, TypeVar
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from numpy.typing import ArrayLike

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import hex_to_lab, lab_to_hex
from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.exchange.card_json import CardFile, read_card_json, write_card_json
from core.exchange.card_pdf import write_card
from core.optics.media import facts_of
from core.optics.medium import TOOLS
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import Fit, Touch
from core.photo.squared import Box
from core.photo.swatch_sheet import papers
from core.plan.questions import Lab, Owned
from core.plan.tried import Calibrated, Tried, calibrated, made_card, taught_by
from core.trial.calibration import Errors
from core.trial.card import FIRST_NUMBER, GHOST, GONE, KINDS, NUMBERS, SIZES_OF_CARD, Card, instructions
from core.trial.joint import MAX_BOXES, MeasuredBox
from core.trial.reading import EMPTY, FINE, GLARE
from core.trial.space import SHARED
from core.trial.teaching import Stack
from server.api.jobs import Lane, Step, jobs
from server.api.memo import digest
from server.api.values import decode, encode
from server.materials import services as materials
from server.materials.models import Tray
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.trials import values
from server.trials.models import Calibration, CardPhoto, TrialCard

MAX_CARDS, MAX_PHOTOS = 60, 12
"""Of a tray, and of a card."""
_HISTORY = 20
_MOST_WORDS = 12

T = TypeVar("T")


def _wait(function: Callable[..., T], *arguments: Any) -> T:
    """Of a second or two, however long it takes: a write is not asked for again."""
    return jobs.wait(digest(function.__name__, arguments), Step(function, arguments), Lane.PICTURES)


def calibrated_sticks(tray_id: UUID, sticks: tuple[Stick, ...], paper: Support) -> tuple[tuple[Stick, ...], Support]:
    """The sticks and the paper with what trial cards have shown of them; as they are where nothing was tried."""
    latest: dict[str, Calibration] = {}
    for row in Calibration.objects.filter(tray=tray_id, paper=paper.id):
        latest[row.medium] = row
    latest = {medium: row for medium, row in latest.items() if row.boxes}
    if not latest:
        return sticks, paper
    touches = tuple((medium, decode(Touch, row.touch)) for medium, row in sorted(latest.items()))
    labs = np.mean([row.lab for row in latest.values()], axis=0).tolist()
    tried = tuple(_with_fit(stick, latest.get(stick.medium)) for stick in sticks)
    return tried, replace(paper, lab=(labs[0], labs[1], labs[2]), touches=touches)


def _with_fit(stick: Stick, shown: Calibration | None) -> Stick:
    """A stick as cards have shown it, unless it has got another colour since: then they say nothing of it."""
    if shown is None or stick.code not in shown.fits or shown.colours.get(stick.code) != stick.hex:
        return stick
    return replace(stick, fit=decode(Fit, shown.fits[stick.code]))


def _tried(
    tray: Tray,
    medium: str,
    paper: Support,
    changed: CardPhoto | None = None,
    without: TrialCard | CardPhoto | None = None,
) -> Tried:
    """The usable sticks as their lists say, and every box that is learnt from.

    changed: a photograph as it will be; without: a card or a photograph that will be gone.
    """
    sticks = materials.as_core(tray).usable(medium)
    held = {stick.code for stick in sticks}
    boxes: list[MeasuredBox] = []
    photos = CardPhoto.objects.filter(card__tray=tray, card__medium=medium, card__paper=paper.id).select_related("card")
    for photo in photos:
        if without and without.pk in (photo.pk, photo.card_id):
            continue
        photo = changed if changed and photo.pk == changed.pk else photo
        card = _card(photo.card)
        for row in _taught(photo):
            passes = card.cells[row["cell"]].passes
            if all(pass_.stick in held for pass_ in passes):
                boxes.append(MeasuredBox(passes, _lab(row["lab"]), row["doubt"]))
    return Tried(sticks, paper, medium, tuple(boxes[-MAX_BOXES:]))


def _taught(photo: CardPhoto) -> list[dict[str, Any]]:
    return [row for row in photo.rows if _is_learnt(photo, row)]


def _is_learnt(photo: CardPhoto, row: dict[str, Any]) -> bool:
    doubted = row["verdict"] != FINE
    if doubted:
        return row["verdict"] != EMPTY and row["cell"] in photo.taken_in
    return row["cell"] not in photo.left_out


def _lab(row: list[float]) -> Lab:
    return row[0], row[1], row[2]


def _card(row: TrialCard) -> Card:
    return read_card_json(row.card.encode()).card


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
    tried = _tried(tray, medium, paper)
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
    return 0 if last is None else (last.number - FIRST_NUMBER + len(_card(last).pages())) % NUMBERS


def get_card(user: User, card_id: UUID) -> TrialCard:
    """One of the artist's cards. Raises NotFoundError (`no_card`)."""
    found = TrialCard.objects.filter(owner=user, pk=card_id).select_related("tray").first()
    if found is None:
        raise NotFoundError("no_card", "There is no such card.", "It may have been deleted.", "card")
    return found


def get_photo(user: User, photo_id: UUID) -> CardPhoto:
    """One of the artist's photographs of cards. Raises NotFoundError (`no_photo`)."""
    found = CardPhoto.objects.filter(card__owner=user, pk=photo_id).select_related("card__tray").first()
    if found is None:
        raise NotFoundError("no_photo", "There is no such photograph.", "It may have been deleted.", "photo")
    return found


def as_pdf(row: TrialCard) -> tuple[bytes, str]:
    """A card to print, and what its file is called."""
    card = _card(row)
    title = f"{row.title}: {KINDS[card.kind].name.lower()}" if row.title else KINDS[card.kind].name
    foreseen = np.array([hex_to_lab(code) for code in row.foreseen])
    return write_card(card, foreseen, title, facts_of(row.medium).caution), f"card-{card.number}.pdf"


def put_photo(user: User, row: TrialCard, asked: values.AskPhoto) -> CardPhoto:
    """Read a filled card, and learn from it; where that is refused the photograph is kept with the reason, and none of
    its boxes is learnt from until the artist takes it in.

    Raises NotFoundError (`no_picture`), InputError (see core.trial.reading.read_card).
    """
    if row.photos.count() >= MAX_PHOTOS:
        raise InputError("too_many_photos", f"This card has {MAX_PHOTOS} photographs.", "Take one back first.", "photo")
    picture = pictures.get_picture(user, asked.picture)
    paper = materials.paper_for(user, row.paper, row.medium)
    tried = _tried(row.tray, row.medium, paper)
    source = pictures.source_of(picture)
    found = _wait(taught_by, source, _card(row), tried, asked.page, asked.corners, asked.chart)
    with transaction.atomic():
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
            _keep(row, found.calibrated, len(tried.boxes) + len(_taught(photo)))
    return photo


def _off(lab: ArrayLike, foreseen: ArrayLike) -> float:
    return round(float(ciede2000(np.array(lab), np.array(foreseen))), 2)


def correct(user: User, photo: CardPhoto, asked: values.CorrectBoxes) -> CardPhoto:
    """Learn from a photograph's boxes as the artist says they are. Raises InputError (`no_box`, `boxes_disagree`)."""
    photo.left_out = sorted({number - 1 for number in asked.left_out})
    photo.taken_in = sorted({number - 1 for number in asked.taken_in})
    if asked.exchange:
        _exchange(photo, *(number - 1 for number in asked.exchange))
    _learn_anew(user, photo.card, photo)
    return photo


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
    tried = _tried(row.tray, row.medium, materials.paper_for(user, row.paper, row.medium), without=photo)
    _learn_without(row, tried, photo)


def delete(user: User, row: TrialCard) -> None:
    """Forget a card, its photographs and what they taught."""
    tried = _tried(row.tray, row.medium, materials.paper_for(user, row.paper, row.medium), without=row)
    _learn_without(row, tried, row)


def _learn_without(row: TrialCard, tried: Tried, gone: TrialCard | CardPhoto) -> None:
    """What is left teaches alone; if it does not agree, nothing is known."""
    try:
        found = _wait(calibrated, tried)
    except InputError:
        tried = replace(tried, boxes=())
        found = _wait(calibrated, tried)
    with transaction.atomic():
        _keep(row, found, len(tried.boxes))
        gone.delete()


def _learn_anew(user: User, row: TrialCard, changed: CardPhoto) -> None:
    tried = _tried(row.tray, row.medium, materials.paper_for(user, row.paper, row.medium), changed)
    found = _wait(calibrated, tried)
    with transaction.atomic():
        changed.save(update_fields=["left_out", "taken_in", "rows"])
        _keep(row, found, len(tried.boxes))


def _keep(row: TrialCard, found: Calibrated, boxes: int) -> None:
    """The latest, and some before it."""
    held = Calibration.objects.filter(tray=row.tray, medium=row.medium, paper=row.paper)
    Calibration.objects.create(
        tray=row.tray,
        medium=row.medium,
        paper=row.paper,
        boxes=boxes,
        fits={stick.code: encode(Fit, stick.fit) for stick in found.sticks},
        colours={stick.code: stick.hex for stick in found.sticks},
        lab=list(found.lab),
        touch=encode(Touch, found.touch),
        doubt=found.doubt,
        errors=None if found.errors is None else asdict(found.errors),
        disagree=list(found.disagree),
        words=list(found.words[:_MOST_WORDS]),
    )
    old = list(held.order_by("-made").values_list("pk", flat=True)[_HISTORY:])
    Calibration.objects.filter(pk__in=old).delete()


def trials(user: User, tray: Tray, medium: str, paper: Support) -> values.Trials:
    """The cards of a tray's sticks of a medium on a paper, the latest first, and what they have taught."""
    cards = TrialCard.objects.filter(tray=tray, medium=medium, paper=paper.id).prefetch_related("photos")
    latest = Calibration.objects.filter(tray=tray, medium=medium, paper=paper.id).last()
    learnt = _learnt_shown(latest) if latest and latest.boxes else None
    facts = facts_of(medium)
    return values.Trials(
        medium=medium,
        paper=paper.name,
        untried=facts.untried,
        doubt=round(latest.doubt, 1) if latest and learnt else facts.untried,
        caution=facts.caution,
        kinds=tuple(values.CardKind(key, kind.name, kind.says) for key, kind in KINDS.items())
        if medium in SHARED
        else (),
        sizes=papers(),
        counts=SIZES_OF_CARD,
        cards=tuple(card_shown(row) for row in reversed(cards)),
        learnt=learnt,
    )


def _learnt_shown(row: Calibration) -> values.Learnt:
    return values.Learnt(
        boxes=row.boxes,
        made=row.made,
        errors=Errors(**row.errors) if row.errors else None,
        disagree=len(row.disagree),
        words=tuple(row.words),
    )


def card_shown(row: TrialCard) -> values.TrialCard:
    """A card with what was read from it."""
    card = _card(row)
    return values.TrialCard(
        id=row.pk,
        number=card.number,
        kind=card.kind,
        name=KINDS[card.kind].name,
        title=row.title,
        size=card.size,
        pages=len(card.pages()),
        bands=None if card.bands is None else (round(card.bands[0], 1), round(card.bands[1], 1)),
        made=row.made,
        boxes=tuple(
            values.CardBox(
                number=i + 1,
                lines=tuple(instructions(cell.passes)),
                sticks=tuple(dict.fromkeys(pass_.stick for pass_ in cell.passes)),
                says=cell.says,
                foreseen=row.foreseen[i],
                bare=cell.bare + 1,
            )
            for i, cell in enumerate(card.cells)
        ),
        photos=tuple(photo_shown(photo, card) for photo in row.photos.all()),
    )


def photo_shown(photo: CardPhoto, card: Card | None = None) -> values.PhotoSeen:
    """What was read from a photograph, box by box."""
    card = card or _card(photo.card)
    read = {row["cell"]: row for row in photo.rows}
    return values.PhotoSeen(
        id=photo.pk,
        picture=photo.picture_id,
        page=photo.page,
        corners=tuple((x, y) for x, y in photo.corners),
        said=photo.said,
        made=photo.made,
        boxes=tuple(
            _box_shown(photo, row, Box(**place), read.get(card.cells[row["cell"]].bare))
            for row, place in zip(photo.rows, photo.places, strict=True)
        ),
    )


def _box_shown(photo: CardPhoto, row: dict[str, Any], place: Box, bare: dict[str, Any] | None) -> values.BoxSeen:
    crossed, lighter = "", 0.0
    if bare and not {row["verdict"], bare["verdict"]} & {EMPTY, GLARE}:
        moved = float(ciede2000(np.array(row["lab"]), np.array(bare["lab"])))
        crossed = "gone" if moved < GONE else "ghost" if moved < GHOST else "shows"
        lighter = round(float(lab_to_value(np.array(row["lab"])) - lab_to_value(np.array(bare["lab"]))), 2)
    return values.BoxSeen(
        number=row["cell"] + 1,
        place=place,
        seen=Swatch.of(row["lab"]),
        off=row["off"],
        doubt=row["doubt"],
        verdict=row["verdict"],
        said=row["said"],
        other=row["other"] + 1,
        learnt=_is_learnt(photo, row),
        crossed=crossed,
        lighter=lighter,
    )


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


def everything_of(user: User) -> list[dict[str, Any]]:
    """All cards with what was read from them, to take away."""
    cards = TrialCard.objects.filter(owner=user).prefetch_related("photos")
    return [encode(values.TrialCard, card_shown(row)) for row in cards]
