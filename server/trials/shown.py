"""Trial cards, what was read from them and what they have taught, as artists see them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.swatch import Swatch
from core.optics.media import facts_of
from core.optics.medium import TOOLS
from core.optics.support import Support
from core.photo.squared import Box
from core.photo.swatch_sheet import papers
from core.trial.calibration import Errors
from core.trial.card import GHOST, GONE, KINDS, SIZES_OF_CARD, Card, instructions
from core.trial.reading import EMPTY, GLARE
from core.trial.space import SHARED
from server.materials.models import Tray
from server.trials import values
from server.trials.models import Calibration, CardPhoto, TrialCard
from server.trials.taught import calibrations_of, card_of, is_learnt, taught_of


def trials(user: User, tray: Tray, medium: str, paper: Support) -> values.Trials:
    """The cards of a tray's sticks of a medium on a paper, the latest first, and what they have taught."""
    cards = TrialCard.objects.filter(tray=tray, medium=medium, paper=paper.id).prefetch_related("photos")
    history = list(calibrations_of(tray, medium, paper.id))
    latest = history[-1] if history else None
    held = sorted({code for card in cards for code in _learnt_of(card)})
    learnt = _learnt_shown(latest, history, held) if latest and latest.boxes else None
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


def _learnt_shown(row: Calibration, history: Sequence[Calibration], sticks: Sequence[str]) -> values.Learnt:
    return values.Learnt(
        boxes=row.boxes,
        made=row.made,
        errors=Errors(**row.errors) if row.errors else None,
        disagree=len(row.disagree),
        words=tuple(row.words),
        sticks=tuple(sticks),
        history=tuple(values.LearntBefore(old.made, old.boxes, round(old.doubt, 1)) for old in history),
    )


def _learnt_of(row: TrialCard) -> set[str]:
    """The codes of the sticks in boxes that are learnt from."""
    cells = card_of(row).cells
    taught = {held["cell"] for photo in row.photos.all() for held in taught_of(photo)}
    return {pass_.stick for cell in taught for pass_ in cells[cell].passes} - TOOLS.keys()


def card_shown(row: TrialCard) -> values.TrialCard:
    """A card with what was read from it."""
    card = card_of(row)
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
    card = card or card_of(photo.card)
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
        learnt=is_learnt(photo, row),
        liked=row["cell"] in photo.liked,
        crossed=crossed,
        lighter=lighter,
    )
