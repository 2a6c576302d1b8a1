"""Places that are laid evenly in maps: of each layer one dose, so that a place's recipe is what its maps have there."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.pixels import FORBIDDEN, Pixels, Skin, distances

_SWEEPS, _WORTHWHILE = 3, 1e-6
_AROUND = 2
"""How many pixels around a place are asked what lies there."""
_ISLAND = 0.1
"""What it costs, in ΔE, that a place has another dose of a layer than the skin around it."""

Doses = NDArray[np.intp]


@dataclass(frozen=True, slots=True, eq=False)
class Marked:
    """Places of a figure. labels (h, w): the number of the place in which a pixel lies, −1 for none; skin: their
    colours, and what lies in which light."""

    labels: NDArray[np.intp]
    skin: Skin


def stacks_for(pixels: Pixels, skin: Skin, sets: Sequence[Doses], around: Doses, planned: Doses) -> Doses:
    """Doses (k, layers) for places of these colours: of every layer one of its set, those that come nearest.

    around, planned (k, layers): the doses of the skin around each place, and those with which it was planned: from both
    stacks are looked for, the doses of every two layers chosen anew in turn. A layer whose set is empty stays as it is.
    """
    first, other = (_settled(pixels, skin, sets, around, begun) for begun in (around, planned))
    return np.where((other[0] < first[0])[:, None], other[1], first[1])


def dosed_at(
    levels: NDArray[np.uint8], mask: NDArray[np.bool_], where: Sequence[tuple[float, float]]
) -> list[tuple[int, ...]]:
    """What maps have at places in parts of the picture: the number of the dose of each layer, 0 for none; nothing where
    there is no skin. levels (n, h, w), mask (h, w): of whose skin."""
    h, w = mask.shape
    found = []
    for x, y in where:
        row, column = min(h - 1, int(y * h)), min(w - 1, int(x * w))
        box = tuple(slice(max(0, at - _AROUND), at + _AROUND + 1) for at in (row, column))
        here = mask[box]
        found.append(tuple(int(np.bincount(level[box][here]).argmax()) for level in levels) if here.any() else ())
    return found


def _settled(pixels: Pixels, skin: Skin, sets: Sequence[Doses], around: Doses, begun: Doses) -> tuple[Floats, Doses]:
    doses = begun.copy()
    cost = _costs(pixels, skin, doses[:, None], around)[:, 0]
    open_ = [layer for layer, its in enumerate(sets) if len(its)]
    every = np.arange(len(doses))
    for _ in range(_SWEEPS):
        before = cost
        for pair in itertools.combinations(open_, min(2, len(open_))):
            stacks = np.array(list(itertools.product(*(sets[layer] for layer in pair))), dtype=np.intp)
            tried = np.repeat(doses[:, None], len(stacks), axis=1)
            tried[:, :, list(pair)] = stacks
            costs = _costs(pixels, skin, tried, around)
            best = costs.argmin(axis=1)
            better = costs[every, best] < cost - _WORTHWHILE
            doses[better], cost = tried[every, best][better], np.where(better, costs[every, best], cost)
        if (cost == before).all():
            break
    return cost, doses


def _costs(pixels: Pixels, skin: Skin, doses: Doses, around: Doses) -> Floats:
    """(k, s): what stacks of doses (k, s, layers) cost at the places."""
    k, s, layers = doses.shape
    rows, each = skin[np.repeat(np.arange(k), s)], doses.reshape(-1, layers)
    seen = pixels.seen(pixels.amounts_of(each)).astype(np.float32)
    wrong = pixels.breaking(each, rows.shade)
    for layer in range(layers):
        for dose in np.unique(each[:, layer]):
            wrong |= (each[:, layer] == dose) & pixels.may_not(layer, rows, int(dose))
    islands = (doses != around[:, None]).sum(axis=2)
    return np.asarray((distances(seen, rows.labs) + FORBIDDEN * wrong).reshape(k, s) + _ISLAND * islands)
