"""What a piece's layers have at its spots by their maps: what a hand lays that goes by them.

A document holds the layers as they were planned. Its maps are made for all skin, in a few doses of each layer, and what
they have at the spots is noted beside it as soon as they are there; from then on recipes are read off that.
"""

from __future__ import annotations

import logging
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from uuid import UUID

from django.db import DatabaseError, transaction
from pydantic import ValidationError

from core.limits import Identifier
from server.api.memo import digest
from server.api.values import adapter_of, encode, value
from server.pieces.document.schema import Document, Level
from server.pieces.models import ReadOff

log = logging.getLogger(__name__)

KEPT = 200
"""Of one piece, so that an undo finds them again."""


@value
class LayerRead:
    """What a layer's map has. levels: at the spots of the figure, by id, None where it is not laid; most: the most
    anywhere, None if it is laid nowhere."""

    levels: dict[Identifier, Level | None]
    most: Level | None


@value
class FigureRead:
    """What the maps of a figure have, by the id of the layer."""

    layers: dict[Identifier, LayerRead]


@dataclass(frozen=True, slots=True)
class Drawn:
    """What a hand lays that goes by the maps. document: with what its layers have at the spots by them, or as they were
    planned where there are none; most: how hard and how often at most, of layers of which there are maps, by id."""

    document: Document
    most: Mapping[str, Level] = field(default_factory=dict)


def as_drawn(piece_id: UUID, document: Document) -> Drawn:
    """What a hand lays that goes by the maps of a document of this piece. What a map has nowhere but between the spots
    stays there as it was planned."""
    if not document.layers or not document.picture:
        return Drawn(document)
    keys = {_key(document, figure.id) for figure in document.figures}
    found = [read for row in ReadOff.objects.filter(piece=piece_id, key__in=keys) if (read := _held(row))]
    held: dict[str, dict[str, Level | None]] = {}
    most: dict[str, Level] = {}
    for layer_id, layer in (pair for figure in found for pair in figure.layers.items()):
        if any(layer.levels.values()):
            held.setdefault(layer_id, {}).update(layer.levels)
        if layer.most:
            most[layer_id] = max(layer.most, most.get(layer_id, layer.most), key=Level.much)
    layers = tuple(replace(row, levels=row.levels | held.get(row.id, {})) for row in document.layers)
    return Drawn(replace(document, layers=layers), most)


def _held(row: ReadOff) -> FigureRead | None:
    try:
        return adapter_of(FigureRead).validate_python(row.held)  # type: ignore[no-any-return]
    except ValidationError:
        log.warning("what the maps of piece %s have cannot be read; recipes are as planned", row.piece_id)
        return None


def note(piece_id: UUID, document: Document, figure_id: str, read: FigureRead) -> bool:
    """Keep what the maps of a figure have; whether that is anything new. On a full disk it is not kept, and recipes
    stay as they were planned."""
    key, held = _key(document, figure_id), encode(FigureRead, read)
    mine = ReadOff.objects.filter(piece=piece_id)
    if mine.filter(key=key).values_list("held", flat=True).first() == held:
        return False
    try:
        with transaction.atomic():
            ReadOff.objects.update_or_create(piece_id=piece_id, key=key, defaults={"held": held})
            old = mine.order_by("-made", "-pk").values_list("pk", flat=True)[KEPT:]
            ReadOff.objects.filter(pk__in=list(old)).delete()
    except DatabaseError as error:
        log.warning("what the maps of piece %s have could not be kept (%s)", piece_id, error)
        return False
    return True


def _key(document: Document, figure_id: str) -> str:
    """Of the plan of a figure: its spots, what lies over them, and how its maps are wanted."""
    spots = document.spots_of(figure_id)
    rows = [
        (layer.id, layer.stick, layer.technique, layer.locked, [layer.levels.get(spot.id) for spot in spots])
        for layer in document.layers
    ]
    where = [(spot.id, spot.x, spot.y, spot.radius) for spot in spots]
    return digest("read off", figure_id, document.picture, document.maps, where, rows)
