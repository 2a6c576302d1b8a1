"""Plans of every number of layers: grown, thinned out again, and each never worse than the one with a layer fewer."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from core.layers.combos import Combos, Sticks
from core.layers.draft import Draft
from core.layers.forward import Doses
from core.layers.search import NEW_STICK_COST, PLACE_COST, Search

MOST = 8
"""The most layers that are looked for unless more are asked for."""
_COMBINED, _SWEPT_TWICE, _STARTS = 5, 2, 4
"""Up to how many layers sticks are chosen by their stacks, up to how many with two sweeps of exchanges, and with how
many stacks of theirs plans begin."""
_ROOTS, _ROOT_LAYERS, _SHARED = 3, 2, 1
"""How many lists of so many sticks are followed up, and how many sticks any two of them may share: what stacks cost is
a hint to what plans of them cost, no more, and lists that begin alike mostly end alike. Measured."""
_FEW, _RUNNERS_UP = (3, 4), (4, 1.2)
"""With how few layers lists that are nearly as good as the best become plans too, how many, and how much more they may
cost. Where no plan has more layers, two ways of comparing lists are followed instead of several lists. Measured."""
EXCHANGED = 6
"""Up to how many layers sticks of a plan are exchanged."""
_MORE_CLOSELY = 3
"""How often sticks of the longest plan are exchanged where one of more layers than that is worth it. Measured."""
_OF_STACKS, _DISTURBED = 4, 4
"""From how many of those and from how many disturbed doses a plan's are begun anew. Measured."""
_PROMISING_STICKS = 36
"""How many sticks are tried for the lists that are followed up."""
_OF_FEW, _BEST_OF_FEW = 3, 2
"""With how many layers all lists of sticks of a small tray are compared, and how many of them are polished."""
FEWEST = 1
"""From how many layers on plans are improved."""


class Curve:
    """The best plans found, by their number of layers."""

    def __init__(self, search: Search, kept: Draft | None = None) -> None:
        """kept: a plan of the layers that are locked in the search, if any are; all others are put around them."""
        self.search = search
        self.best: dict[int, tuple[float, Draft]] = {}
        self._kept = kept
        self._planned: set[Sticks] = set()
        costs = np.where(np.isin(np.arange(len(search.box.sticks)), list(search.at_hand)), 0.0, NEW_STICK_COST)
        # What must be in comes first.
        costs = np.where(search.frame.must, -1e3, costs + search.frame.price)
        unsteady = len(search.places.hands) > 1
        # What lists of few sticks compared by these two find together is better than what either finds.
        self._combos = [
            Combos(search.steady, search.frame, PLACE_COST, costs, doses, unsteady, search.at_hand)
            for doses in dict.fromkeys((search.scale.begun, search.scale.also_tried))
        ]

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

    def steps(self, most: int = MOST, fewest: int = FEWEST, closely: bool = True) -> Iterator[None]:
        """Works it out, a little with each step; after the first there is a plan. fewest: plans of fewer layers than
        that are not improved any more once they are found. closely: whether small trays are searched through, and
        lists of few sticks compared in both ways."""
        search = self.search
        if self._kept is None:
            few = most <= max(_FEW)
            for combos in self._combos[0 if closely else -1 :] if few else self._combos[:1]:
                yield from self._by_stacks(combos, 1 if few else _ROOTS, min(most, _COMBINED), fewest)
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
        yield from self._down(max(self.best), fewest)
        if closely and self._kept is None and most >= _OF_FEW and search.from_few:
            yield from self._by_all_stacks(_OF_FEW)
        yield from self._up(most, fewest)

    def down_to(self, layers: int) -> Iterator[None]:
        """Works plans of so many layers out anew, from the longest down, sticks exchanged in all of them: that takes as
        long as everything before."""
        draft = self.best[max(self.best)][1]
        for _ in range(_MORE_CLOSELY):
            draft = self._anew(self.search.exchanged(draft))
            self.keep(draft)
            yield
        while len(draft) > layers:
            draft = self._anew(self.search.exchanged(self.search.shrunk(draft)))
            self.keep(draft)
            yield

    def _by_stacks(self, combos: Combos, roots: int, most: int, fewest: int) -> Iterator[None]:
        """Sticks chosen by the stacks that they make: one after the other, from so many lists that have little in
        common."""
        some = self.search.usable
        sticks: Sticks = ()
        found: Sticks | None
        roots_of = max(_ROOT_LAYERS, int(np.count_nonzero(self.search.frame.must)))
        for n in range(1, min(most, roots_of) + 1):
            found = self._longer(combos, sticks, some, 2 if n <= _SWEPT_TWICE else 1, fewest)
            if found is None:
                return
            sticks = found
            yield
        some = combos.promising(some, _PROMISING_STICKS)
        for root in combos.unlike(sticks, roots, _SHARED):
            found = root
            while found is not None and len(found) < most:
                found = self._longer(combos, found, some, 1, fewest)
                yield

    def _longer(
        self, combos: Combos, sticks: Sticks, some: NDArray[np.intp], sweeps: int, fewest: int
    ) -> Sticks | None:
        """The list with one of some sticks more, those before it exchanged; None if there is none. The best plan that
        it and others nearly as good make is kept."""
        cost, longer = combos.with_one(sticks, some)
        if not np.isfinite(cost):
            return None
        longer = combos.exchanged(longer, some, sweeps)
        lists = [longer]
        if len(longer) in _FEW and fewest <= len(longer):
            lists += combos.runners_up(longer, *_RUNNERS_UP)
        tried = [self._begun_with(each) for each in lists if each not in self._planned]
        self._planned.update(lists)
        if tried:
            self.keep(self.search.begun_anew(*min(tried, key=lambda each: self.search.total(each[0]))))
        return longer

    def _begun_with(self, sticks: Sticks) -> tuple[Draft, list[Doses]]:
        """A plan of these sticks begun with the best of their stacks, and the doses of other stacks."""
        first, *others = self._starts(sticks, _STARTS)
        return self.search.polish(Draft(sticks, tuple(range(len(sticks))), first), 1), others

    def _by_all_stacks(self, n: int) -> Iterator[None]:
        """As `_by_stacks`, of all lists of so many sticks the few best: from a small tray that costs little."""
        combos, usable = self._combos[0], self.search.usable
        found: list[tuple[float, Sticks]] = []
        for rest in itertools.permutations(usable.tolist(), n - 1):
            found.append(combos.with_one(rest, usable, (n - 1,)))
            yield
        for cost, sticks in sorted(found)[:_BEST_OF_FEW]:
            if np.isfinite(cost):
                draft = Draft(sticks, tuple(range(n)), self._starts(sticks, 1)[0])
                self.keep(self._anew(self.search.polish(draft, 1)))
                yield

    def _starts(self, sticks: Sticks, count: int) -> list[Doses]:
        """So many doses with which a plan of these sticks may begin, the best first."""
        return self._combos[0].best_doses(sticks, count, self.search.scale.begun)

    def _anew(self, draft: Draft) -> Draft:
        """A plan with its doses begun anew, from the best stacks of its sticks and from its own doses, disturbed; as it
        is with locked layers in it."""
        if self._kept is not None:
            return draft
        starts = [*self._starts(draft.sticks, _OF_STACKS), *self.search.disturbed(draft, _DISTURBED)]
        draft = self.search.begun_anew(draft, starts)
        return self.search.paired(draft) if self.search.thorough(len(draft)) else draft

    def _down(self, start: int, fewest: int) -> Iterator[None]:
        for n in range(start, fewest - 1, -1):
            if n not in self.best:
                continue
            draft = self.best[n][1]
            self.keep(self._anew(self.search.exchanged(draft) if n <= EXCHANGED else draft))
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
