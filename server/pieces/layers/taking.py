"""Layers of one figure taken into a document: joined with those of the others where one stick serves both."""

from __future__ import annotations

import itertools
import uuid
from collections.abc import Sequence
from dataclasses import replace

from core.method.order import shortest_order
from server.pieces.document.schema import Document, PlannedLayer, Spot, settled

Rows = tuple[PlannedLayer, ...]


def with_layers(document: Document, spots: Sequence[Spot], rows: Rows) -> Document:
    """The document with these layers over some spots in the place of what lay there: in an order with as few pick-ups
    as there can be, in which each figure's layers keep theirs. Recipes of the spots' own go."""
    mine = {spot.id for spot in spots}
    others = (
        replace(layer, levels={key: level for key, level in layer.levels.items() if key not in mine})
        for layer in document.layers
    )
    of_others = tuple(layer for layer in others if layer.levels)
    anew = (replace(spot, recipe=None) if spot.id in mine else spot for spot in document.spots)
    return settled(replace(document.with_spots(anew), layers=_joined(of_others, rows)))


def _joined(*queues: Rows) -> Rows:
    order = shortest_order([[in_hand(layer) for layer in queue] for queue in queues], lambda _: 0.0)
    left, joined = [list(queue) for queue in queues], list[PlannedLayer]()
    for hand in order.sticks:
        for together in itertools.zip_longest(*(_taken(queue, hand) for queue in left)):
            joined.append(_as_one([layer for layer in together if layer is not None]))
    ids = [layer.id for layer in joined]
    # A layer over several figures that comes at different points of them now is no longer one.
    return tuple(
        replace(layer, id=uuid.uuid4().hex[:12]) if layer.id in ids[:i] else layer for i, layer in enumerate(joined)
    )


def in_hand(layer: PlannedLayer) -> str:
    """What is in the hand during a layer, and what is done with it."""
    return f"{layer.stick} {layer.technique}"


def _taken(queue: list[PlannedLayer], hand: str) -> Rows:
    """The layers with which a queue begins that are laid with this in hand; they are gone from it."""
    taken = tuple(itertools.takewhile(lambda layer: in_hand(layer) == hand, queue))
    del queue[: len(taken)]
    return taken


def _as_one(layers: Sequence[PlannedLayer]) -> PlannedLayer:
    levels = {key: level for layer in layers for key, level in layer.levels.items()}
    return replace(layers[0], levels=levels, locked=any(layer.locked for layer in layers))


def fewest_pick_ups(document: Document) -> tuple[int, int]:
    """How often a stick is taken in hand for the layers, and a proven lower bound of it for any order in which each
    figure's layers keep theirs."""
    laid = [layer for layer in document.layers if any(layer.levels.values())]
    queues = [
        [in_hand(layer) for layer in laid if any(layer.levels.get(spot.id) for spot in document.spots_of(figure.id))]
        for figure in document.figures
    ]
    return len(list(itertools.groupby(laid, key=in_hand))), shortest_order(queues, lambda _: 0.0).fewest
