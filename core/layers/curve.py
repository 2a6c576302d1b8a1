"""Plans of every number of layers: grown, thinned out again, and each never worse than the one with a layer fewer."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from core.layers.combos import Combos, Sticks
from core.layers.draft import Draft
from core.layers.search import NEW_STICK_COST, PLACE_COST, Search

MOST = 8
"""The most layers that are looked for unless more are asked for."""
_COMBINED, _SWEPT_TWICE, _STARTS = 6, 4, 4
"""Up to how many layers sticks are chosen by their stacks, and up to how many with two sweeps of exchanges."""
_ALL_TRIED, _PROMISING_STICKS = 2, 36
"""Up to how many layers every stick is tried, and how many of the most promising afterwards."""
FEWEST = 2
"""From how many layers on plans are improved."""
_SHAKEN, _SHAKES, _SHAKES_OF_FEW, _ANY, _PROMISING, _PROMISING_OF_FEW = (7,), 5, 4, 12, 1.06, 1.8
"""At which numbers of layers the best plan is shaken up, how often, and how far below it a plan is followed up."""


class Curve:
    """The best plans found, by their number of layers."""

    def __init__(self, search: Search, kept: Draft | None = None) -> None:
        """kept: a plan of the layers that are locked in the search, if any are; all others are put around them."""
        self.search = search
        self.best: dict[int, tuple[float, Draft]] = {}
        self._kept = kept
        costs = np.where(np.isin(np.arange(len(search.box.sticks)), list(search.at_hand)), 0.0, NEW_STICK_COST)
        # What must be in comes first.
        costs = np.where(search.frame.must, -1e3, costs + search.frame.price)
        unsteady = len(search.places.hands) > 1
        self._combos = Combos(search.steady, search.frame, PLACE_COST, costs, unsteady, search.at_hand)

    def keep(self, draft: Draft) -> bool:
        """Keeps a plan if it is the best of its number of layers that keeps the rules; whether it was."""
        if not self.search.lawful(draft):
            draft = self.search.polish(draft, 1)
            if not self.search.lawful(draft):
                return False
        cost, n = self.search.total(draft), len(draft)
        better = n not in self.best or cost < self.best[n][0] - 1e-6
        if better:
            self.best[n] = cost, draft
        return better

    def steps(self, most: int = MOST, fewest: int = FEWEST, shaken: tuple[int, ...] = _SHAKEN) -> Iterator[None]:
        """Works it out, a little with each step; after the first there is a plan. fewest: plans of fewer layers than
        that are not improved any more once they are found. shaken: at which numbers of layers the best plan is shaken
        up, besides those of few layers from small trays; none at all if empty."""
        search = self.search
        if self._kept is None:
            yield from self._by_stacks(min(most, _COMBINED))
        else:
            self.keep(self._kept)
        if not self.best and self._kept is None:
            return
        draft = self.best[max(self.best)][1] if self._kept is None else self._kept
        while len(draft) < most:
            longer = search.grown(draft)
            if longer is None:
                break
            draft = search.polish(longer, 1)
            self.keep(draft)
            yield
        if not self.best:
            return
        for count in shaken if self._kept is None else ():
            if count in self.best:
                yield from self._shaken(count, _SHAKES)
        yield from self._down(max(self.best), fewest)
        for count in (3, 2) if shaken else ():
            if count in self.best and search.thorough(count) and self._kept is None:
                yield from self._shaken(count, _SHAKES_OF_FEW)
        yield from self._up(most, fewest)

    def _shaken(self, count: int, tries: int) -> Iterator[None]:
        """Plans of so many layers with two or three of them, taken at random, replaced by the best others."""
        rng, search = np.random.default_rng(count), self.search
        for _ in range(tries):
            cost, draft = self.best[count]
            for _ in range(int(rng.integers(1 if count < 4 else 2, min(4, count)))):
                draft = draft.without(int(rng.integers(len(draft))))
            draft = search.polish(draft, 1)
            # The first of those put in is any good one, or the same would come back.
            some = search.entries(draft)[:_ANY]
            if some:
                draft = search.polish(search.with_best_of(draft, [some[int(rng.integers(len(some)))]]), 1)
            while len(draft) < count and (longer := search.grown(draft)) is not None:
                draft = search.polish(longer, 1)
            near = _PROMISING_OF_FEW if search.thorough(count) else _PROMISING
            if len(draft) == count and search.total(draft) < near * cost:
                draft = self._anew(search.exchanged(draft))
            self.keep(draft)
            yield

    def _by_stacks(self, most: int) -> Iterator[None]:
        """Sticks chosen by the stacks that they make, and each list polished into a plan."""
        search = self.search
        sticks: Sticks = ()
        some = search.usable
        for n in range(1, most + 1):
            found, sticks = self._combos.with_one(sticks, some)
            if not np.isfinite(found):
                break
            sticks = self._combos.exchanged(sticks, some, 2 if n <= _SWEPT_TWICE else 1)
            if n > max(_ALL_TRIED, int(np.count_nonzero(search.frame.must))):
                some = self._combos.promising(some, _PROMISING_STICKS)
            first, *others = self._combos.best_doses(sticks, _STARTS)
            draft = search.polish(Draft(sticks, tuple(range(n)), first), 1)
            self.keep(search.begun_anew(draft, others) if others else draft)
            yield

    def _anew(self, draft: Draft) -> Draft:
        """A plan with its doses begun anew from the best stacks of its sticks; as it is with locked layers in it."""
        if self._kept is not None:
            return draft
        draft = self.search.begun_anew(draft, self._combos.best_doses(draft.sticks, _STARTS))
        return self.search.paired(draft) if self.search.thorough(len(draft)) else draft

    def _down(self, start: int, fewest: int) -> Iterator[None]:
        for n in range(start, fewest - 1, -1):
            if n not in self.best:
                continue
            self.keep(self._anew(self.search.exchanged(self.best[n][1])))
            if n > fewest:
                self.keep(self.search.shrunk(self.best[n][1]))
            yield

    def _up(self, most: int, fewest: int) -> Iterator[None]:
        for n in range(fewest, most):
            if n in self.best:
                longer = self.search.grown(self.best[n][1])
                if longer is not None:
                    self.keep(self.search.polish(longer, 1))
                yield
