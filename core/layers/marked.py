"""Places that are laid evenly in maps: of each layer one dose, so that a place's recipe is what its maps have there."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.pixels import FORBIDDEN, Pixels, Skin, distances
from core.look.reading import Disc

_SWEEPS = 3
_AROUND = 2
"""How many pixels around a place are asked what lies there."""
_SPARK_MM = 1.0
"""How far out a light reaches at most on the sheet that is no place for a hand's dose (assumption)."""
_OTHER, _ISLAND = 0.1, 1.0
"""What it costs, in ΔE, that a place has another dose of a layer than most of the skin around it, and one that lies
nowhere beside it: an island in a layer is seen until all are laid. Measured: at half of that little comes nearer, at
twice much is farther off."""

Doses = NDArray[np.intp]
Flags = NDArray[np.bool_]


@dataclass(frozen=True, slots=True, eq=False)
class Marked:
    """Places of a figure. labels (h, w): the number of the place in which a pixel lies, −1 for none; wide (h, w): the
    same as large as a hand lays at least; skin: their colours, and what lies in which light."""

    labels: NDArray[np.intp]
    wide: NDArray[np.intp]
    skin: Skin

    def part(self, rows: slice, columns: slice) -> Marked:
        """Of a part of the ground."""
        return Marked(self.labels[rows, columns], self.wide[rows, columns], self.skin)


def stacks_for(
    pixels: Pixels, skin: Skin, sets: Sequence[Doses], prices: Sequence[Floats], around: Doses, planned: Doses
) -> Doses:
    """Doses (k, layers) for places of these colours: of every layer one of its set, those that come nearest.

    prices: of every layer, what each of its set costs at each place besides (k, doses). around, planned (k, layers):
    the doses of the skin around each place, and those with which it was planned: from both stacks are looked for, the
    doses of every two layers chosen anew in turn. A layer whose set is empty stays as it is.
    """
    first, other = (_settled(pixels, skin, sets, prices, begun) for begun in (around, planned))
    return np.where((other[0] < first[0])[:, None], other[1], first[1])


def dosed_at(
    levels: NDArray[np.uint8], mask: Flags, px_per_mm: float, places: Sequence[tuple[Disc, str]]
) -> list[tuple[int, ...]]:
    """What maps have at places, each with its light role: the number of the dose of each layer, 0 for none; nothing
    where maps lay none. levels (n, h, w), mask (h, w): of whose skin."""
    found = []
    for disc, role in places:
        box = tuple(slice(max(0, at - _AROUND), at + _AROUND + 1) for at in pixel_at(mask.shape, disc.x, disc.y))
        laid, here = laid_by_maps(mask, px_per_mm, disc, role), mask[box]
        found.append(tuple(int(np.bincount(level[box][here]).argmax()) for level in levels) if laid else ())
    return found


def laid_by_maps(mask: Flags, px_per_mm: float, disc: Disc, role: str) -> bool:
    """Whether a place is laid with the skin around it: not one in an eye or whatever else is no skin, and no moisture
    light, which a hand leaves out or sets last. mask (h, w): of whose skin; px_per_mm: of it, on the sheet."""
    spark = role == "highlight" and disc.radius * max(mask.shape) < _SPARK_MM * px_per_mm
    return bool(mask[pixel_at(mask.shape, disc.x, disc.y)]) and not spark


def pixel_at(shape: tuple[int, ...], x: float, y: float) -> tuple[int, int]:
    """The row and the column of a place, in parts of a picture (h, w), in it."""
    h, w = shape
    return min(h - 1, int(y * h)), min(w - 1, int(x * w))


def prices_of(sets: Sequence[Doses], around: Doses, beside: Sequence[Flags], islands: Sequence[Flags]) -> list[Floats]:
    """What each dose of every layer's set costs at each place (k, doses). around (k, layers): what most of the skin
    around has; beside, islands: of every layer, which of its set lie beside each place, and may lie there nowhere
    else."""
    found = []
    for its, most, there, alone in zip(sets, around.T, beside, islands, strict=True):
        other = np.where(there, _OTHER, np.where(alone, _ISLAND, np.inf))
        found.append(np.where(its == most[:, None], 0.0, other))
    return found


def _settled(
    pixels: Pixels, skin: Skin, sets: Sequence[Doses], prices: Sequence[Floats], begun: Doses
) -> tuple[Floats, Doses]:
    doses = begun.copy()
    cost = _costs(pixels, skin, sets, prices, doses[:, None])[:, 0]
    open_ = [layer for layer, its in enumerate(sets) if len(its)]
    every = np.arange(len(doses))
    for _ in range(_SWEEPS):
        before = cost
        for pair in itertools.combinations(open_, min(2, len(open_))):
            stacks = np.array(list(itertools.product(*(sets[layer] for layer in pair))), dtype=np.intp)
            tried = np.repeat(doses[:, None], len(stacks), axis=1)
            tried[:, :, list(pair)] = stacks
            costs = _costs(pixels, skin, sets, prices, tried)
            best = costs.argmin(axis=1)
            better = costs[every, best] < cost
            doses[better], cost = tried[every, best][better], np.where(better, costs[every, best], cost)
        if (cost == before).all():
            break
    return cost, doses


def _costs(pixels: Pixels, skin: Skin, sets: Sequence[Doses], prices: Sequence[Floats], doses: Doses) -> Floats:
    """(k, s): what stacks of doses (k, s, layers) cost at the places."""
    k, s, layers = doses.shape
    rows, each = skin[np.repeat(np.arange(k), s)], doses.reshape(-1, layers)
    seen = pixels.seen(pixels.amounts_of(each)).astype(np.float32)
    wrong = pixels.breaking(each, rows.shade)
    for layer in range(layers):
        for dose in np.unique(each[:, layer]):
            wrong |= (each[:, layer] == dose) & pixels.may_not(layer, rows, int(dose))
    costs = (distances(seen, rows.labs) + FORBIDDEN * wrong).reshape(k, s).astype(float)
    for layer, (its, price) in enumerate(zip(sets, prices, strict=True)):
        if len(its):
            costs += np.take_along_axis(price, np.searchsorted(its, doses[:, :, layer]), axis=1)
    return costs
