"""Maps for areas that are given: each laid evenly, in one dose of every layer."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.doses import LEAST_MM2, NONE, USUAL_DOSES
from core.layers.fields import Fields, Maps, best_few, faded_shares
from core.layers.pixels import FORBIDDEN, distances

_SAMPLE = 16
"""How many pixels stand for an area."""
_REACH = 0.03
"""What less of an area's stroke than this fades into does not count."""
_SWEEPS, _TOGETHER, _FEW_LAYERS = 12, 3, 4
"""How often all doses are chosen anew at most, and those of how many layers that follow each other at once: of one
fewer where there are more than a few layers, since all stacks of them are tried."""
_STARTS, _DISTURBED = (1, 1, 2), 0.3
"""From how many doses they are chosen in each part of the work, and which part of the best is disturbed for that."""
_LEAST_GAIN = 1e-3

_Doses = NDArray[np.intp]
_Found = tuple[float, _Doses]


def evenly(
    fields: Fields, labels: NDArray[np.intp], count: int = USUAL_DOSES, least_mm2: float = LEAST_MM2
) -> Iterator[Maps]:
    """Maps in which every one of some areas has one dose of each layer, better with each step: so many doses besides
    none. labels (h, w): the number of each pixel's area, −1 where there is no skin; least_mm2: what is smaller goes to
    what lies around it.

    The doses are chosen by what comes once a hand has faded the edges of the areas, which is nearer by 5 to 10 % than
    what those come to that would be best if the areas ended sharply.
    """
    areas = _Areas(fields, labels, count)
    rng = np.random.default_rng(areas.count)
    best: _Found | None = None
    for starts in _STARTS:
        before = best
        for _ in range(starts):
            found = areas.settled(areas.begun() if best is None else areas.disturbed(best[1], rng))
            best = found if best is None or found[0] < best[0] else best
        assert best is not None
        if best is not before:
            maps = areas.laid(best[1], least_mm2)
        yield maps


class _Areas:
    """Some areas and the layers over them. count: how many there are."""

    def __init__(self, fields: Fields, labels: NDArray[np.intp], few: int) -> None:
        self._fields, self._few, mask, skin = fields, few, fields.ground.mask, fields.ground.skin
        self._owner = labels[mask]
        self._sizes = np.bincount(self._owner)
        self.count = len(self._sizes)
        of_each = (np.flatnonzero(self._owner == area) for area in range(self.count))
        some = np.concatenate([where[:: max(1, len(where) // _SAMPLE)] for where in of_each])
        its = self._owner[some]
        self._skin, self._means = skin[some], self._mean(skin.labs)
        self._shade = np.bincount(its, self._skin.shade, self.count) * 2 > np.bincount(its, minlength=self.count)
        self._weights = (self._sizes / np.maximum(np.bincount(its, minlength=self.count), 1))[its] / len(self._owner)
        # How much of a stroke over each area (s, areas) reaches each of these pixels.
        self._shares = faded_shares(fields.ground, labels, self.count)[some]
        self._shares[np.abs(self._shares) < _REACH] = 0.0
        self._of, self._rows = np.nonzero(self._shares.T)
        reached = (self._shares != 0).astype(np.intp)
        self._adjoins = reached.T @ reached > 0
        held = {number: self._held_in(number) for number in range(len(fields.layers))}
        self._held = {number: doses for number, doses in held.items() if doses is not None}
        self._wrong = [self._wrong_in(number, its) for number in range(len(fields.layers))]

    def _mean(self, labs: NDArray[np.float32]) -> NDArray[np.float32]:
        """(areas, 3) of pixels (p, 3)."""
        sums = [np.bincount(self._owner, labs[:, i], self.count) for i in range(3)]
        return np.asarray(np.stack(sums, axis=1) / np.maximum(self._sizes, 1)[:, None], dtype=np.float32)

    def _held_in(self, layer: int) -> _Doses | None:
        """(areas,): the doses of a layer that stays as a hand has set it: those of most of each area."""
        held, owner = self._fields.layers[layer].held, self._fields.ground.owner
        if held is None or owner is None:
            return None
        its = np.array(held, dtype=np.intp)[owner[self._fields.ground.mask]]
        return most_of(its, self._owner)

    def _wrong_in(self, layer: int, its: _Doses) -> Floats:
        """(areas, doses): how much of all skin lies where a dose of a layer may not."""
        every = range(len(self._fields.layers[layer].scale.doses) + 1)
        wrong = [self._fields.pixels.may_not(layer, self._skin, dose) for dose in every]
        return np.stack([np.bincount(its, flags * self._weights, self.count) for flags in wrong], axis=1)

    def begun(self) -> _Doses:
        """(areas, layers): the doses that serve the mean colour of each area best."""
        return self._fields.dosed_by_colour(self._means)

    def disturbed(self, doses: _Doses, rng: np.random.Generator) -> _Doses:
        """These doses, some of them any others."""
        other = doses.copy()
        for layer in range(doses.shape[1]):
            on = rng.random(len(doses)) < _DISTURBED
            other[on, layer] = rng.choice(self._allowed(layer), np.count_nonzero(on))
        return other

    def _allowed(self, layer: int) -> _Doses:
        return self._fields.pixels.allowed(layer, bool(self._skin.free.any()))

    def settled(self, doses: _Doses) -> _Found:
        """What comes of these doses if they are chosen anew until that brings nothing more, and what that costs: first
        which few each layer has, then those of several layers at once for areas that do not adjoin."""
        doses, cost = doses.copy(), np.inf
        for layer, its in self._held.items():
            doses[:, layer] = its
        laid = [layer for layer in range(doses.shape[1]) if layer not in self._held]
        run = _TOGETHER if len(laid) <= _FEW_LAYERS else _TOGETHER - 1
        together = [laid[i : i + run] for i in range(max(1, len(laid) - run + 1))]
        for sweep in range(_SWEEPS):
            before = cost
            for layer in laid:
                anew = self._few_of(doses, layer)
                # The first may be more than a few: then any few will do.
                if (its_cost := self._cost(anew)) < cost or not sweep:
                    doses, cost = anew, its_cost
            for some in together:
                doses = self._chosen_together(doses, {layer: np.unique([NONE, *doses[:, layer]]) for layer in some})
            cost = self._cost(doses)
            if cost > before - _LEAST_GAIN:
                break
        return cost, doses

    def _few_of(self, doses: _Doses, layer: int) -> _Doses:
        """Doses of which a layer has those few that serve all areas best."""
        allowed = self._allowed(layer)
        costs, _ = self._costs(doses, {layer: allowed})
        chosen = best_few(costs, self._few, allowed[0] == NONE)
        anew = doses.copy()
        anew[:, layer] = allowed[chosen][costs[:, chosen].argmin(axis=1)]
        return anew

    def _chosen_together(self, doses: _Doses, sets: Mapping[int, _Doses]) -> _Doses:
        """Doses among those of some layers, chosen anew for the areas that gain most and do not adjoin each other."""
        costs, stacks = self._costs(doses, sets)
        layers = list(sets)
        now = (stacks == doses[:, None, layers]).all(axis=2).argmax(axis=1)
        gains = costs[np.arange(self.count), now] - costs.min(axis=1)
        anew, changed = doses.copy(), np.zeros(self.count, dtype=bool)
        for area in np.argsort(-gains, kind="stable"):
            if gains[area] > 0 and not changed[self._adjoins[area]].any():
                anew[area, layers], changed[area] = stacks[costs[area].argmin()], True
        return anew

    def _costs(self, doses: _Doses, sets: Mapping[int, _Doses]) -> tuple[NDArray[np.float32], _Doses]:
        """What every stack (stacks, len(sets)) of doses of some layers costs at each area (areas, stacks), all else
        being as in doses, with all skin into which it fades."""
        choices = []
        for layer, strokes in enumerate(self._fields.pixels.strokes):
            all_there = (self._shares @ strokes[doses[:, layer]])[self._rows]
            if layer not in sets:
                choices.append(_amounts(all_there)[None])
                continue
            share = self._shares[self._rows, self._of, None]
            others = all_there - share * strokes[doses[self._of, layer]]
            choices.append(_amounts(others + share * strokes[sets[layer], None]))
        each = self._fields.pixels.stacked(self._skin[self._rows], choices)
        weights, stacks = self._weights[self._rows], np.array(list(itertools.product(*sets.values())), dtype=np.intp)
        costs = np.stack([np.bincount(self._of, row * weights, self.count) for row in each], axis=1)
        whole = np.repeat(doses[:, None], len(stacks), axis=1)
        whole[:, :, list(sets)] = stacks
        return (costs + self._forbidden(whole)).astype(np.float32), stacks

    def _forbidden(self, doses: _Doses) -> Floats:
        """(areas, …): what doses (areas, …, layers) cost that break a rule."""
        areas = np.arange(self.count).reshape(-1, *[1] * (doses.ndim - 2))
        wrong = sum(its[areas, doses[..., layer]] for layer, its in enumerate(self._wrong))
        breaking = self._fields.pixels.breaking(doses, self._shade[areas]) * (self._sizes / len(self._owner))[areas]
        return np.asarray(FORBIDDEN * (wrong + breaking))

    def _cost(self, doses: _Doses) -> float:
        """What doses (areas, layers) cost."""
        pixels = self._fields.pixels
        amounts = [_amounts(self._shares @ strokes[its]) for strokes, its in zip(pixels.strokes, doses.T, strict=True)]
        seen = pixels.seen(np.stack(amounts, axis=1)).astype(np.float32)
        return float(distances(seen, self._skin.labs) @ self._weights + self._forbidden(doses).sum())

    def laid(self, doses: _Doses, least_mm2: float) -> Maps:
        """The maps of these doses; a dose that no area has any more, once what is small is gone, is given up."""
        mask, doses = self._fields.ground.mask, doses.copy()
        while True:
            sets = [np.unique([NONE, *its]) for its in doses.T]
            levels = np.zeros((len(sets), *mask.shape), dtype=np.intp)
            for level, some, its in zip(levels, sets, doses.T, strict=True):
                level[mask] = np.searchsorted(some, its)[self._owner]
            maps = self._fields.drawable(levels, sets, least_mm2)
            most = [some[most_of(level[mask], self._owner)] for level, some in zip(maps.levels, sets, strict=True)]
            gone = [~np.isin(some, [NONE, *its]) for some, its in zip(sets, most, strict=True)]
            if not any(its.any() for its in gone):
                return maps
            for layer, (some, its) in enumerate(zip(sets, gone, strict=True)):
                on = np.isin(doses[:, layer], some[its])
                doses[on, layer] = most[layer][on]


def most_of(levels: NDArray[Any], owner: NDArray[np.intp]) -> NDArray[np.intp]:
    """(areas,): what most pixels of each area have. levels, owner (p,): of each pixel, and the number of its area."""
    counts = np.zeros((owner.max() + 1, levels.max(initial=0) + 1), dtype=np.intp)
    np.add.at(counts, (owner, levels), 1)
    return np.asarray(counts.argmax(axis=1))


def _amounts(faded: NDArray[np.float32]) -> NDArray[np.float32]:
    return np.clip(faded, 0.0, 1.0)
