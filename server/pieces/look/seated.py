"""Figures that are described take their seats in a piece: the sheet that is drawn of them, and the spots on it."""

from __future__ import annotations

import math
import uuid
from dataclasses import replace

from django.contrib.auth.models import User

from core.light.families import Target
from core.limits import LIMITS
from core.look.reading import Disc
from server.imagined import services as imagined
from server.pictures.services import store_picture
from server.pieces.document.schema import Document, Figure, Imagined, Light, Spot


def seated(user: User, document: Document, held: Imagined, drawn: bool, spots: bool) -> Document:
    """The document with these figures in this light.

    drawn: a sheet of them becomes the picture. spots: what is proposed takes the place of the spots they have. Raises
    InputError, core.light.model.ModelError.
    """
    if drawn:
        picture = store_picture(user, imagined.sheet(held.scene()))
        held = replace(held, sheet=picture.pk)
        document = replace(document, picture=picture.pk, balance=None)
    seats = {seat.figure: seat.sitter.name for seat in held.seats}
    known = {figure.id: figure for figure in document.figures}
    sitting = [replace(known.get(key, Figure(key, name)), name=name) for key, name in seats.items()]
    others = [figure for figure in document.figures if figure.id not in seats and not _is_blank(document, figure)]
    document = replace(
        document, imagined=held, figures=tuple([*sitting, *others][: LIMITS.figures]), light=arrow_of(held)
    )
    if not spots:
        return document
    kept = [spot for spot in document.spots if spot.figure not in seats]
    return document.with_spots([*kept, *_proposed(held)][: LIMITS.spots])


def _is_blank(document: Document, figure: Figure) -> bool:
    """Whether it is no more than what a new piece begins with."""
    return figure.face is None and not figure.strokes and not document.spots_of(figure.id)


def arrow_of(held: Imagined) -> Light:
    """Where the key comes from in the picture."""
    right, up, _ = held.key.direction
    return Light(round(math.degrees(math.atan2(up, right)) % 360, 1))


def _proposed(held: Imagined) -> list[Spot]:
    said = imagined.proposals(held.scene())
    return [
        _spot(seat.figure, target, disc)
        for seat, row in zip(held.seats, said, strict=True)
        for target, disc in zip(row.proposed, row.discs, strict=True)
    ]


def _spot(figure: str, target: Target, disc: Disc) -> Spot:
    return Spot(
        uuid.uuid4().hex[:12], figure, target.name, target.place, target.role, disc.x, disc.y, disc.radius,
        family=target.family,
    )  # fmt: skip
