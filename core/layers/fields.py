"""Where and how hard every layer lies over all the skin of a picture, in a few doses that a hand can lay."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import Floats
from core.layers.combos import Combos
from core.layers.doses import LEAST_MM2, NONE, USUAL_DOSES, Dose, Scale
from core.layers.drawable import Flags, blurred, bordered, enlarged, small_areas, without_flecks
from core.layers.forward import Places
from core.layers.frame import Frame
from core.layers.ground import Ground
from core.layers.guide import Guide
from core.layers.hands import hands_for
from core.layers.marked import Marked, prices_of, stacks_for
from core.layers.pixels import FORBIDDEN, Amounts, FieldLayer, Pixels, Skin, strokes_of
from core.optics.medium import MAX_REPEATS

FADE_MM = 1.5
"""How far a hand fades at the edge of an area (assumption)."""
_EVENED_MM = 0.15
"""Over how much of the sheet what a dose costs is evened, before the cheapest is chosen."""
_SWEEPS, _CELL_SWEEPS, _STARTS = 2, 3, 4
_CELL = np.array([2.0, 2.5, 2.5])
"""Skin of one colour, to this in L*, a*, b*, is dosed alike to begin with."""
_SAMPLE = 3000
_EVENINGS = 4
"""How often places are given doses, each time without those that were left with too small an area."""

Levels = NDArray[np.uint8]


@dataclass(frozen=True, slots=True, eq=False)
class Maps:
    """levels (n, h, w): for every layer the number of the dose among its own, 0 for none. doses: those of each layer.
    amounts (n, strokes, h, w): how hard each stroke is laid once the hand has faded the edges."""

    levels: Levels
    doses: tuple[tuple[Dose, ...], ...]
    amounts: Amounts


class Fields:
    """The work on the fields of one figure's layers. most, surplus: see core.layers.pixels.Pixels."""

    def __init__(self, layers: Sequence[FieldLayer], ground: Ground, most: int = 0, surplus: float = FORBIDDEN) -> None:
        self.layers, self.ground, self.pixels = tuple(layers), ground, Pixels(layers, most, surplus)

    def run(self, count: int = USUAL_DOSES, least_mm2: float = LEAST_MM2) -> Iterator[Maps]:
        """The maps, better with each step: in so many doses besides none, no area smaller than that."""
        for maps in self._with_skin().run_on_all(count, least_mm2):
            yield self._on_all(maps)

    def drawable(self, levels: NDArray[np.intp], sets: Sequence[NDArray[np.intp]], least_mm2: float) -> Maps:
        """Maps of these levels, numbers (n, h, w) in the set of doses (indices, none first) of each layer, once areas
        smaller than that went to those around them."""
        part, box = self._with_skin(), self.ground.where()
        work = _Work(part, part.ground, levels[:, *box], list(sets))
        nowhere = np.zeros_like(part.ground.mask)
        for number, layer in enumerate(self.layers):
            if layer.held is None:
                work.without_flecks(number, nowhere, part.ground.least(least_mm2))
        return self._on_all(work.maps())

    def _with_skin(self) -> Fields:
        """The work on the part of the ground that has skin."""
        part = self.ground.part(*self.ground.where())
        return Fields(self.layers, part, self.pixels.most, self.pixels.surplus)

    def _on_all(self, maps: Maps) -> Maps:
        """Maps of the part of the ground that has skin, on all of it."""
        rows, columns = self.ground.where()
        shape = (len(self.layers), *self.ground.mask.shape)
        levels, amounts = np.zeros(shape, dtype=np.uint8), np.zeros((shape[0], MAX_REPEATS, *shape[1:]), np.float32)
        levels[:, rows, columns], amounts[:, :, rows, columns] = maps.levels, maps.amounts
        return Maps(levels, maps.doses, amounts)

    def run_on_all(self, count: int, least_mm2: float) -> Iterator[Maps]:
        """As `run`, whatever of the ground is no skin."""
        half = self.ground.half()
        cells, which = _cells(half.lab[half.mask])
        dosed = self.dosed_by_colour(cells)
        levels = np.zeros((len(self.layers), *half.mask.shape), dtype=np.intp)
        levels[:, half.mask] = dosed[which].T
        sets: list[NDArray[np.intp]] = [np.arange(len(layer.scale.doses) + 1) for layer in self.layers]
        small = _Work(self, half, levels, sets)
        for sweep in range(_SWEEPS):
            small.sweep(count, least_mm2, backwards=bool(sweep % 2), anew=True)
            maps, shape = small.maps(), self.ground.mask.shape
            yield Maps(enlarged(maps.levels, shape), maps.doses, enlarged(maps.amounts, shape))
        whole = _Work(self, self.ground, enlarged(small.levels, self.ground.mask.shape), small.sets)
        whole.sweep(count, least_mm2, backwards=False, anew=False)
        if self.ground.marked:
            whole.lay_evenly(self.ground.marked, least_mm2)
        yield whole.maps()

    def freely(self) -> Floats:
        """CIELAB (pixels, 3) that the layers would give if every pixel had the dose that serves it best."""
        labs = self.ground.lab[self.ground.mask]
        cells, which = _cells(labs)
        doses = self.dosed_by_colour(cells)
        return self.pixels.seen(self.pixels.amounts_of(doses))[which]

    def after(self, maps: Maps, layer: int | None = None) -> Floats:
        """CIELAB (pixels, 3) of the skin after this many layers; after all by default."""
        amounts = (
            maps.amounts[:layer][:, :, self.ground.mask] if layer is not None else maps.amounts[:, :, self.ground.mask]
        )
        return self.pixels.seen(amounts.transpose(2, 0, 1))

    def _starts(self, cells: NDArray[np.float32]) -> list[NDArray[np.intp]]:
        """Doses (layers, cells) to begin with."""
        laying = [number for number, layer in enumerate(self.layers) if not layer.end]
        held = [self.layers[number] for number in laying]
        first, empty = held[0], np.zeros((len(self.layers), len(cells)), dtype=np.intp)
        if any(layer.box is not first.box for layer in held):
            # Stacks of several media are not tried all at once.
            lightest = empty.copy()
            lightest[laying] = np.array([layer.scale.tried[0] for layer in held])[:, None]
            return [empty, lightest]
        places, sticks = Places(first.box, first.scale, cells, hands_for(len(cells), 0)), len(first.box.sticks)
        combos = Combos(places, _anything(len(cells), sticks), 0.0, np.zeros(sticks), places.scale.tried, False)
        starts = []
        for doses in combos.best_doses(tuple(layer.stick for layer in held), _STARTS, places.scale.begun):
            starts.append(empty.copy())
            starts[-1][laying] = doses
        return starts

    def dosed_by_colour(self, cells: NDArray[np.float32]) -> NDArray[np.intp]:
        """(cells, layers): the doses that serve each colour best, each place by itself."""
        skin, n = Skin.of(cells), len(self.layers)
        best, best_cost = np.zeros((len(cells), n), dtype=np.intp), np.full(len(cells), np.inf)
        # From several stacks that come near each colour: the best of what they lead to.
        for start in self._starts(cells):
            doses = start.T.copy()
            for _ in range(_CELL_SWEEPS):
                for layer in range(n):
                    some = self.pixels.allowed(layer)
                    costs = self.pixels.costs(skin, self.pixels.amounts_of(doses), layer, some)
                    doses[:, layer] = some[costs.argmin(axis=1)]
            cost = costs.min(axis=1)
            best = np.where((cost < best_cost)[:, None], doses, best)
            best_cost = np.minimum(cost, best_cost)
        return best


def _anything(places: int, sticks: int) -> Frame:
    """No limits at all."""
    every = np.ones((places, sticks), dtype=bool)
    none, nothing = np.zeros(places, dtype=bool), np.zeros(sticks)
    return Frame(
        may_lie=every, may_begin=every, follow=np.ones((sticks, sticks), dtype=bool), begins=False, rising=False,
        first_hardest=2, breath=none, most_passes=np.full(places, sticks), least_tooth=0.0, price=nothing,
        must=nothing.astype(bool), most_sticks=sticks,
    )  # fmt: skip


def restored(ground: Ground, scales: Sequence[Scale], levels: Levels, doses: Sequence[Sequence[Dose]]) -> Maps:
    """Maps of which only levels (n, h, w) and the doses of each layer were kept. scales: of each layer's medium."""
    rows, columns = ground.where()
    part = ground.part(rows, columns)
    guide = _guide_of(part)
    amounts = np.zeros((len(levels), MAX_REPEATS, *ground.mask.shape), dtype=np.float32)
    for layer, (scale, its) in enumerate(zip(scales, doses, strict=True)):
        strokes = strokes_of(scale)[[NONE, *(scale.index(dose) for dose in its)]]
        amounts[layer][:, rows, columns] = _faded(guide, part, strokes, levels[layer][rows, columns])
    return Maps(levels, tuple(map(tuple, doses)), amounts)


def faded_shares(ground: Ground, labels: NDArray[np.intp], count: int) -> Amounts:
    """(pixels, count): how much of what is laid over each of some areas reaches each pixel of skin, once a hand has
    faded their edges: a guided filter is linear, so what is laid over several adds up. labels (h, w): of which area."""
    rows, columns = ground.where()
    part = ground.part(rows, columns)
    guide, its = _guide_of(part), labels[rows, columns]
    return np.stack([guide.filtered((its == area)[None])[0][part.mask] for area in range(count)], axis=1)


def _guide_of(ground: Ground) -> Guide:
    return Guide(ground.lab, ground.mask, max(1.5, FADE_MM * ground.px_per_mm))


def _faded(guide: Guide, ground: Ground, strokes: Amounts, levels: NDArray[Any]) -> Amounts:
    """(strokes, h, w): the amounts of a layer once a hand has faded the edges of its areas. strokes (k, strokes): of
    each of its doses, none among them; levels (h, w): which of them."""
    hard = strokes[levels].transpose(2, 0, 1)
    return np.clip(guide.filtered(np.where(ground.mask, hard, 0.0)), 0.0, 1.0).astype(np.float32)


class _Work:
    """Maps at one size on their way."""

    def __init__(self, fields: Fields, ground: Ground, levels: NDArray[np.intp], sets: list[NDArray[np.intp]]) -> None:
        """levels (n, h, w): numbers in the sets of doses (indices) of each layer."""
        self.fields, self.ground = fields, ground
        self.levels, self.sets = levels, list(sets)
        self.guide = _guide_of(ground)
        self.skin = ground.skin
        self.amounts = np.stack([self._faded(layer) for layer in range(len(levels))])

    def _faded(self, layer: int) -> Amounts:
        """(strokes, h, w): the amounts of a layer once a hand has faded the edges of its areas."""
        return _faded(self.guide, self.ground, self.fields.pixels.strokes[layer][self.sets[layer]], self.levels[layer])

    def sweep(self, count: int, least_mm2: float, backwards: bool, anew: bool) -> None:
        """The doses and the areas of every layer chosen anew in turn."""
        least = self.ground.least(least_mm2)
        order = range(len(self.levels))
        for layer in reversed(order) if backwards else order:
            held = self.fields.layers[layer].held
            if held is not None and self.ground.owner is not None:
                # As a hand has set it: the others are made for it.
                self.sets[layer] = np.unique([NONE, *held])
                its = np.searchsorted(self.sets[layer], np.array(held))
                self.levels[layer] = np.where(self.ground.mask, its[self.ground.owner], 0)
                self.amounts[layer] = self._faded(layer)
                continue
            some = self.fields.pixels.allowed(layer, bool(self.skin.free.any())) if anew else self.sets[layer]
            pixels = self.amounts[:, :, self.ground.mask].transpose(2, 0, 1)
            costs = self.fields.pixels.costs(self.skin, pixels, layer, some)
            if anew:
                chosen = best_few(costs, count, some[0] == NONE)
                some, costs = some[chosen], costs[:, chosen]
            self.sets[layer] = some
            self.levels[layer] = self._areas(costs, least)
            self.amounts[layer] = self._faded(layer)

    def _areas(self, costs: NDArray[np.float32], least: int) -> NDArray[np.intp]:
        """(h, w): which dose lies where, by what each costs (pixels, k)."""
        mask = self.ground.mask
        even = np.full((costs.shape[1], *mask.shape), 0.0, dtype=np.float32)
        even[:, mask] = costs.T
        even = blurred(even, mask, _EVENED_MM * self.ground.px_per_mm)
        levels = np.where(mask, even.argmin(axis=0), 0)
        levels = bordered(levels, even, mask, self.ground.lab)
        levels = np.where(mask, without_flecks(levels, even, mask, least), 0)
        if self.ground.free is not None:
            # What is kept free is seen from the start, however small it is.
            kept = self.ground.free & mask
            levels[kept] = costs[kept[mask]].argmin(axis=1)
        return levels

    def lay_evenly(self, marked: Marked, least_mm2: float) -> None:
        """Gives each of some places one dose of every layer, among those that the layer has: what lies nowhere beside
        it over so much skin as a hand lays at least. What that leaves of other areas, if it is less, goes to those
        around it."""
        those = np.unique(marked.labels[marked.labels >= 0])
        if not len(those):
            return
        layers, least = self.fields.layers, self.ground.least(least_mm2)
        inside, wide = ([labels == place for place in those] for labels in (marked.labels, marked.wide))
        most = [[np.bincount(level[part]).argmax() for part in inside] for level in self.levels]
        around = np.stack([some[its] for some, its in zip(self.sets, most, strict=True)], axis=1)
        planned = np.stack([self._as_planned(layer, those) for layer in range(len(layers))], axis=1)
        beside = [np.array([self._beside(layer, part) for part in inside]) for layer in range(len(layers))]
        large = np.array([np.count_nonzero(part) >= least for part in wide])
        fixed = [layer.held is not None for layer in layers]
        open_ = [number for number, is_ in enumerate(fixed) if not is_]
        around[:, fixed] = planned[:, fixed]
        sets = [some[:0] if is_ else some for some, is_ in zip(self.sets, fixed, strict=True)]
        islands = [large[:, None] & np.ones_like(there) for there in beside]
        begun, places = self.levels, np.arange(len(those))
        for _ in range(_EVENINGS):
            prices = prices_of(self.sets, around, beside, islands)
            stacks = stacks_for(self.fields.pixels, marked.skin[those], sets, prices, around, planned)
            numbers = [np.searchsorted(some, doses) for some, doses in zip(self.sets, stacks.T, strict=True)]
            self.levels = begun.copy()
            for level, its, there in zip(self.levels, numbers, beside, strict=True):
                alone = np.flatnonzero(~there[places, its])
                for parts, which in ((wide, alone), (inside, places)):
                    for place in which:
                        level[parts[place]] = its[place]
            self.amounts = np.stack([self._faded(layer) for layer in range(len(layers))])
            enough = True
            for layer in open_:
                small = self.without_flecks(layer, marked.labels >= 0, least)
                for place in places:
                    if small[inside[place]].any():
                        # Next time as an island, or with another dose.
                        at = place, numbers[layer][place]
                        islands[layer][at] &= beside[layer][at]
                        beside[layer][at] = enough = False
            if enough:
                break

    def without_flecks(self, layer: int, places: Flags, least: int) -> Flags:
        """Gives areas of fewer pixels than that to those around them, but for those of places (h, w) and what is kept
        free; (h, w): areas of places that are as small."""
        mask, some = self.ground.mask, self.sets[layer]
        free = np.zeros_like(mask) if self.ground.free is None else self.ground.free
        small = small_areas(self.levels[layer], mask, least)
        if not small.any():
            return small
        costs = np.zeros((len(some), *mask.shape), dtype=np.float32)
        pixels = self.amounts[:, :, small].transpose(2, 0, 1)
        costs[:, small] = self.fields.pixels.costs(self.skin[small[mask]], pixels, layer, some).T
        self.levels[layer] = without_flecks(self.levels[layer], costs, mask, least, places | free)
        self.amounts[layer] = self._faded(layer)
        return small_areas(self.levels[layer], mask, least, free)

    def _beside(self, layer: int, part: Flags) -> Flags:
        """Which doses of a layer's set lie in a part of the ground (h, w) or beside it."""
        there = self.levels[layer][ndimage.binary_dilation(part) & self.ground.mask]
        return np.isin(np.arange(len(self.sets[layer])), there)

    def _as_planned(self, layer: int, places: NDArray[np.intp]) -> NDArray[np.intp]:
        """The doses of a layer's set that are next to those planned for some places; as they are if a hand set them."""
        its, some = self.fields.layers[layer], self.sets[layer]
        if not its.planned:
            return np.full(len(places), some[0])
        planned, much = np.array(its.planned)[places], self.fields.pixels.strokes[layer].sum(axis=1)
        near = some[np.abs(much[some] - much[planned][:, None]).argmin(axis=1)]
        return planned if its.held is not None else near

    def maps(self) -> Maps:
        """What has been reached."""
        doses, levels = [], np.zeros(self.levels.shape, dtype=np.uint8)
        for layer, some in enumerate(self.sets):
            named = some[some != NONE]
            # Numbered so that none is 0, whether the layer has it or not.
            number = np.where(some == NONE, 0, np.cumsum(some != NONE))
            levels[layer] = np.where(self.ground.mask, number[self.levels[layer]], 0)
            doses.append(tuple(self.fields.layers[layer].scale.doses[dose - 1] for dose in named))
        return Maps(levels, tuple(doses), self.amounts.copy())


def _cells(labs: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.intp]]:
    """The colours (c, 3) of which skin (p, 3) consists, and which of them each pixel has (p,)."""
    _, which, counts = np.unique(np.round(labs / _CELL).astype(int), axis=0, return_inverse=True, return_counts=True)
    which = which.ravel()
    centres = np.stack([np.bincount(which, labs[:, i]) / counts for i in range(3)], axis=1)
    return centres.astype(np.float32), which


def best_few(costs: NDArray[np.float32], count: int, with_none: bool) -> NDArray[np.intp]:
    """Which columns: so many doses, and none if it is among them, with the least sum of what is cheapest."""
    sample = costs[:: max(1, len(costs) // _SAMPLE)]
    first = 1 if with_none else 0
    others = range(first, costs.shape[1])
    best = min(
        itertools.combinations(others, min(count, len(others))),
        key=lambda some: float(sample[:, [*range(first), *some]].min(axis=1).sum()),
    )
    return np.array([*range(first), *best], dtype=np.intp)
