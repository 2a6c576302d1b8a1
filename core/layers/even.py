"""Maps for areas that are given: each laid evenly, in one dose of every layer."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.layers.doses import NONE, USUAL_DOSES
from core.layers.fields import Fields, Maps, best_few, restored
from core.layers.pixels import distances

_SAMPLE = 60
"""How many pixels stand for an area."""
_SWEEPS, _FREE_SWEEPS = 8, 4
"""How often the doses of all layers are chosen anew, and how many times thereof each layer's few may change."""
_STARTS, _DISTURBED, _FINALISTS = 7, 0.3, 4
"""From how many doses they are chosen, which part of the best is disturbed for that, and how many of what comes of them
are looked at with faded edges."""

_Doses = NDArray[np.intp]


def evenly(fields: Fields, labels: NDArray[np.intp], count: int = USUAL_DOSES) -> Maps:
    """Maps in which every one of some areas has one dose of each layer: so many doses besides none.

    labels (h, w): the number of each pixel's area, −1 where there is no skin. Of what is found from several starts that
    is taken which comes nearest once a hand has faded the edges.
    """
    areas = _Areas(fields, labels, count)
    rng = np.random.default_rng(areas.count)
    found = [areas.settled(areas.begun())]
    for _ in range(_STARTS - 1):
        found.append(areas.settled(areas.disturbed(min(found, key=lambda each: each[0])[1], rng)))
    distinct = {doses.tobytes(): (cost, doses) for cost, doses in found}
    finalists = sorted(distinct.values(), key=lambda each: each[0])[:_FINALISTS]
    return min((areas.laid(doses) for _, doses in finalists), key=areas.cost)


class _Areas:
    """Some areas and the layers over them. count: how many there are."""

    def __init__(self, fields: Fields, labels: NDArray[np.intp], few: int) -> None:
        self._fields, self._few, mask = fields, few, fields.ground.mask
        self._owner, self._skin = labels[mask], fields.ground.skin
        self._sizes = np.bincount(self._owner)
        self.count = len(self._sizes)
        of_each = (np.flatnonzero(self._owner == area) for area in range(self.count))
        some = np.concatenate([where[:: max(1, len(where) // _SAMPLE)] for where in of_each])
        self._its, self._some = self._owner[some], self._skin[some]
        self._stands_for = self._sizes / np.maximum(np.bincount(self._its, minlength=self.count), 1)
        self._held = {number: its for number in range(len(fields.layers)) if (its := self._held_in(number)) is not None}

    def _held_in(self, layer: int) -> _Doses | None:
        """(areas,): the doses of a layer that stays as a hand has set it: those of most of each area."""
        held, owner = self._fields.layers[layer].held, self._fields.ground.owner
        if held is None or owner is None:
            return None
        its = np.array(held, dtype=np.intp)[owner[self._fields.ground.mask]]
        counts = np.zeros((self.count, its.max(initial=0) + 1), dtype=np.intp)
        np.add.at(counts, (self._owner, its), 1)
        return np.asarray(counts.argmax(axis=1))

    def begun(self) -> _Doses:
        """(areas, layers): the doses that serve the mean colour of each area best."""
        sums = [np.bincount(self._owner, self._skin.labs[:, i], self.count) for i in range(3)]
        means = np.stack(sums, axis=1) / np.maximum(self._sizes, 1)[:, None]
        return self._fields.dosed_by_colour(means.astype(np.float32))

    def disturbed(self, doses: _Doses, rng: np.random.Generator) -> _Doses:
        """These doses, some of them any others."""
        other = doses.copy()
        for layer in range(doses.shape[1]):
            on = rng.random(len(doses)) < _DISTURBED
            other[on, layer] = rng.choice(self._allowed(layer), np.count_nonzero(on))
        return other

    def _allowed(self, layer: int) -> _Doses:
        return self._fields.pixels.allowed(layer, bool(self._skin.free.any()))

    def settled(self, doses: _Doses) -> tuple[float, _Doses]:
        """What comes of these doses if those of one layer after the other are chosen anew, and what that costs."""
        pixels, doses, cost = self._fields.pixels, doses.copy(), np.inf
        for layer, its in self._held.items():
            doses[:, layer] = its
        sets = [np.arange(len(layer.scale.doses) + 1) for layer in self._fields.layers]
        for sweep in range(_SWEEPS):
            before = doses.copy()
            for layer in range(doses.shape[1]):
                if layer in self._held:
                    continue
                some = self._allowed(layer) if sweep < _FREE_SWEEPS else sets[layer]
                each = pixels.costs(self._some, pixels.amounts_of(doses)[self._its], layer, some)
                sums = np.stack([np.bincount(self._its, column, self.count) for column in each.T], axis=1)
                of_area = (sums * self._stands_for[:, None]).astype(np.float32)
                chosen = best_few(of_area, self._few, some[0] == NONE)
                sets[layer], of_area = some[chosen], of_area[:, chosen]
                doses[:, layer] = sets[layer][of_area.argmin(axis=1)]
                cost = float(of_area.min(axis=1).sum())
            if (doses == before).all() and sweep >= _FREE_SWEEPS:
                break
        return cost, doses

    def laid(self, doses: _Doses) -> Maps:
        """The maps of these doses."""
        ground, layers = self._fields.ground, self._fields.layers
        levels, named = np.zeros((len(layers), *ground.mask.shape), dtype=np.uint8), []
        for number, its in enumerate(doses.T):
            used = np.unique(its[its != NONE])
            levels[number][ground.mask] = (np.searchsorted(used, its) + 1)[self._owner] * (its != NONE)[self._owner]
            named.append([layers[number].scale.doses[dose - 1] for dose in used])
        return restored(ground, [layer.scale for layer in layers], levels, named)

    def cost(self, maps: Maps) -> float:
        """What is seen of maps costs, with their edges as a hand fades them."""
        return float(distances(self._fields.after(maps).astype(np.float32), self._skin.labs).mean())
