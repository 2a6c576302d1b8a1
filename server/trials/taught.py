"""What trial cards have taught of an artist's sticks on a paper: learnt, kept, and taken back."""

from __future__ import annotations

import logging
from collections.abc import Callable, Collection, Sequence
from dataclasses import asdict, replace
from typing import Any, TypeVar
from uuid import UUID

import numpy as np
from django.db import transaction
from django.db.models import QuerySet

from core.errors import CaltinError, InputError, NotFoundError
from core.exchange.card_json import read_card_json
from core.optics.medium import TOOLS
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import Fit, Touch
from core.plan.questions import Lab
from core.plan.tried import Calibrated, Tried, calibrated
from core.recipe.recipe import MODEL
from core.trial.card import Card
from core.trial.joint import MAX_BOXES, MeasuredBox
from core.trial.reading import EMPTY, FINE
from server.api.jobs import Lane, Step, jobs
from server.api.memo import digest
from server.api.values import decode, encode
from server.materials import services as materials
from server.materials.models import Tray
from server.trials.models import Calibration, CardPhoto, TaughtPlaces, TrialCard

log = logging.getLogger(__name__)
_HISTORY = 20
_MOST_WORDS = 12

T = TypeVar("T")
Learning = TrialCard | Calibration | TaughtPlaces
"""Whatever says of which tray, medium and paper something is learnt."""


def calibrated_sticks(tray_id: UUID, sticks: tuple[Stick, ...], paper: Support) -> tuple[tuple[Stick, ...], Support]:
    """The sticks and the paper with what trial cards have shown of them; as they are where nothing was tried."""
    every = Calibration.objects.filter(tray=tray_id, paper=paper.id)
    # Only the last of each medium is read whole: what was learnt before is long.
    last = dict(every.values_list("medium", "pk"))
    latest = {row.medium: row for row in every.filter(pk__in=last.values()) if row.boxes}
    if not latest:
        return sticks, paper
    touches = tuple((medium, decode(Touch, row.touch)) for medium, row in sorted(latest.items()))
    labs = np.mean([row.lab for row in latest.values()], axis=0).tolist()
    tried = tuple(_with_fit(stick, latest.get(stick.medium)) for stick in sticks)
    return tried, replace(paper, lab=(labs[0], labs[1], labs[2]), touches=touches)


def calibrations_of(tray: Tray, medium: str, paper: str) -> QuerySet[Calibration]:
    """The earliest first."""
    return Calibration.objects.filter(tray=tray, medium=medium, paper=paper)


def _with_fit(stick: Stick, shown: Calibration | None) -> Stick:
    """A stick as cards have shown it, unless it has got another colour since: then they say nothing of it."""
    if shown is None or stick.code not in shown.fits or shown.colours.get(stick.code) != stick.hex:
        return stick
    return replace(stick, fit=replace(decode(Fit, shown.fits[stick.code]), liked=stick.code in shown.liked))


def tried_of(
    tray: Tray,
    medium: str,
    paper: Support,
    changed: Sequence[CardPhoto] = (),
    without: TrialCard | CardPhoto | TaughtPlaces | None = None,
) -> Tried:
    """The usable sticks as their lists say, and every box that is learnt from.

    changed: photographs as they will be; without: a card, a photograph or a drawing that will be gone.
    """
    sticks = materials.as_core(tray).usable(medium)
    held = {stick.code for stick in sticks}
    boxes: list[MeasuredBox] = []
    anew = {photo.pk: photo for photo in changed}
    for photo in photos_of(tray, medium, paper.id):
        if without and without.pk in (photo.pk, photo.card_id):
            continue
        photo = anew.get(photo.pk, photo)
        card = card_of(photo.card)
        for row in taught_of(photo):
            passes = card.cells[row["cell"]].passes
            if all(pass_.stick in held for pass_ in passes):
                boxes.append(MeasuredBox(passes, _lab(row["lab"]), row["doubt"]))
    for places in TaughtPlaces.objects.filter(tray=tray, medium=medium, paper=paper.id):
        if not (without and without.pk == places.pk and isinstance(without, TaughtPlaces)):
            rows = decode(tuple[MeasuredBox, ...], places.boxes)
            boxes += [box for box in rows if all(pass_.stick in held for pass_ in box.passes)]
    return Tried(sticks, paper, medium, tuple(boxes[-MAX_BOXES:]))


def photos_of(tray: Tray, medium: str, paper: str) -> QuerySet[CardPhoto]:
    """Of all cards of a tray's medium on a paper, the earliest first."""
    found = CardPhoto.objects.filter(card__tray=tray, card__medium=medium, card__paper=paper)
    return found.select_related("card")


def taught_of(photo: CardPhoto) -> list[dict[str, Any]]:
    return [row for row in photo.rows if is_learnt(photo, row)]


def is_learnt(photo: CardPhoto, row: dict[str, Any]) -> bool:
    doubted = row["verdict"] != FINE
    if doubted:
        return row["verdict"] != EMPTY and row["cell"] in photo.taken_in
    return row["cell"] not in photo.left_out


def _lab(row: list[float]) -> Lab:
    return row[0], row[1], row[2]


def card_of(row: TrialCard) -> Card:
    return read_card_json(row.card.encode()).card


def waited(function: Callable[..., T], *arguments: Any) -> T:
    """Of a second or two, however long it takes: a write is not asked for again."""
    return jobs.wait(digest(function.__name__, arguments), Step(function, arguments), Lane.PICTURES)


def learn_without(row: Learning, tried: Tried, gone: TrialCard | CardPhoto | TaughtPlaces) -> None:
    """What is left teaches alone; if it does not agree, nothing is known."""
    try:
        found = waited(calibrated, tried)
    except InputError:
        tried = replace(tried, boxes=())
        found = waited(calibrated, tried)
    with transaction.atomic():
        keep(row, found, len(tried.boxes))
        gone.delete()


def learn_anew(of: Learning, paper: Support, changed: Sequence[CardPhoto] = ()) -> None:
    """From all boxes, some photographs' as they will be. Raises InputError (`boxes_disagree`): nothing changes."""
    tried = tried_of(of.tray, of.medium, paper, changed)
    found = waited(calibrated, tried)
    with transaction.atomic():
        for photo in changed:
            photo.save(update_fields=["left_out", "taken_in", "rows", "liked"])
        keep(of, found, len(tried.boxes))


def learn_places(tray: Tray, medium: str, paper: Support, source: UUID, boxes: Sequence[MeasuredBox]) -> Calibrated:
    """From places of a drawing, besides all boxes of cards. Raises InputError (`boxes_disagree`): nothing changes."""
    encoded = encode(tuple[MeasuredBox, ...], tuple(boxes))
    places = TaughtPlaces(tray=tray, medium=medium, paper=paper.id, source=source, boxes=encoded)
    before = TaughtPlaces.objects.filter(source=source).first()
    tried = tried_of(tray, medium, paper, without=before)
    tried = replace(tried, boxes=(*tried.boxes, *boxes)[-MAX_BOXES:])
    found = waited(calibrated, tried)
    with transaction.atomic():
        if before:
            before.delete()
        places.save()
        keep(places, found, len(tried.boxes))
    return found


def forget_places(source: UUID) -> None:
    """What a drawing has taught; nothing if it has taught nothing."""
    places = TaughtPlaces.objects.filter(source=source).select_related("tray__owner").first()
    if places is None:
        return
    try:
        paper = materials.paper_for(places.tray.owner, places.paper, places.medium)
    except NotFoundError:
        # Its paper is gone, and what is known of it with it.
        places.delete()
        return
    learn_without(places, tried_of(places.tray, places.medium, paper, without=places), places)


def has_taught(source: UUID) -> bool:
    """Whether a drawing's places are learnt from."""
    return TaughtPlaces.objects.filter(source=source).exists()


def like(photo: CardPhoto, cells: Sequence[int]) -> None:
    """The boxes of a photograph that the artist likes, all of them: nothing is learnt from that, and plans prefer their
    sticks."""
    photo.liked = sorted({row["cell"] for row in photo.rows} & set(cells))
    of = photo.card
    with transaction.atomic():
        photo.save(update_fields=["liked"])
        if latest := calibrations_of(of.tray, of.medium, of.paper).last():
            latest.liked = _liked(of)
            latest.save(update_fields=["liked"])


def _liked(of: Learning) -> list[str]:
    """Codes of the sticks in boxes that the artist likes."""
    found = set()
    for photo in photos_of(of.tray, of.medium, of.paper):
        cells = card_of(photo.card).cells
        found |= {pass_.stick for cell in photo.liked for pass_ in cells[cell].passes}
    return sorted(found - TOOLS.keys())


def relearn() -> int:
    """What was learnt by another model than this one's, from the same boxes anew. Returns how much of it there was."""
    latest = {(row.tray_id, row.medium, row.paper): row for row in Calibration.objects.select_related("tray__owner")}
    _learn_first(latest.keys())
    old = [row for row in latest.values() if row.boxes and row.model != MODEL]
    for row in old:
        try:
            tried = tried_of(row.tray, row.medium, _paper_of(row))
            keep(row, calibrated(tried), len(tried.boxes))
        except (CaltinError, LookupError, TypeError, ValueError, ArithmeticError) as error:
            # Its paper is gone, its boxes agree with this model no more, or nobody can read them: all else must go on.
            log.warning("what cards say of tray %s cannot be learnt anew: %s", row.tray_id, error)
            row.boxes = 0
            row.save(update_fields=["boxes"])
    return len(old)


def _paper_of(row: Learning) -> Support:
    """Also one that was removed: what it has shown is put back with it. Raises NotFoundError."""
    return materials.paper_for(row.tray.owner, row.paper, row.medium, removed_too=True)


def _learn_first(known: Collection[tuple[UUID, str, str]]) -> None:
    """From cards of which nothing was learnt yet, since the server ended while they were taken in."""
    read = CardPhoto.objects.select_related("card__tray__owner")
    unlearnt = {(one.card.tray_id, one.card.medium, one.card.paper): one.card for one in read if taught_of(one)}
    for key, card in unlearnt.items():
        if key not in known:
            try:
                tried = tried_of(card.tray, card.medium, _paper_of(card))
                keep(card, calibrated(tried), len(tried.boxes))
            except CaltinError as error:
                log.warning("what cards say of tray %s cannot be learnt: %s", card.tray_id, error)


def keep(row: Learning, found: Calibrated, boxes: int) -> None:
    """The latest, and some before it."""
    held = calibrations_of(row.tray, row.medium, row.paper)
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
        liked=_liked(row),
        model=MODEL,
    )
    old = list(held.order_by("-made").values_list("pk", flat=True)[_HISTORY:])
    Calibration.objects.filter(pk__in=old).delete()
