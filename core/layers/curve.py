"""Plans of every number of layers: grown, thinned out again, and each never worse than the one with a layer fewer."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np

from core.layers.combos import Combos, Sticks
from core.layers.draft import Draft
from core.layers.forward import Doses
from core.layers.search import NEW_STICK_COST, PLACE_COST, Search

MOST = 8
"""The most layers that are looked for unless more are asked for."""
_COMBINED, _SWEPT_TWICE, _STARTS = 6, 2, 4
"""Up to how many layers sticks are chosen by their stacks, up to how many with two sweeps of exchanges, and with how
many stacks of theirs plans begin."""
_EXCHANGED = 6
"""Up to how many layers sticks of a plan are exchanged."""
_OF_STACKS, _DISTURBED, _AT_A_PLACE = 4, 4, 2
"""From how many of those and from how many disturbed doses a plan's are begun anew, and in how many layers at a place.
Measured."""
_ALL_TRIED, _PROMISING_STICKS = 2, 36
"""Up to how many layers every stick is tried, and how many of the most promising afterwards."""
_RUNNERS_UP, _FEW_STICKS = (4, 1.2), 3
"""How many lists besides the best become plans, how much more they may cost, and from how many sticks on: what stacks
cost is a hint to what plans of them cost, no more."""
_OF_FEW, _BEST_OF_FEW = 3, 2
"""With how many layers all lists of sticks of a small tray are compared, and how many of them are polished."""
FEWEST = 2
"""From how many layers on plans are improved."""


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
        # What lists compared by these two find together is better than what either finds, and nearly as good as what
        # three find. Measured.
        self._combos = [
            Combos(search.steady, search.frame, PLACE_COST, costs, doses, unsteady, search.at_hand)
            for doses in dict.fromkeys((search.scale.also_tried, search.scale.begun))
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
        that are not improved any more once they are found. closely: whether small trays are searched through."""
        search = self.search
        if self._kept is None:
            for combos in self._combos:
                yield from self._by_stacks(combos, min(most, _COMBINED))
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

    def _by_stacks(self, combos: Combos, most: int) -> Iterator[None]:
        """Sticks chosen by the stacks that they make; of the best list and a few that are nearly as good, that which
        makes the best plan."""
        search = self.search
        sticks: Sticks = ()
        some = search.usable
        for n in range(1, most + 1):
            found, sticks = combos.with_one(sticks, some)
            if not np.isfinite(found):
                break
            sticks = combos.exchanged(sticks, some, 2 if n <= _SWEPT_TWICE else 1)
            if n > max(_ALL_TRIED, int(np.count_nonzero(search.frame.must))):
                some = combos.promising(some, _PROMISING_STICKS)
            lists = [sticks, *(combos.runners_up(sticks, *_RUNNERS_UP) if n >= _FEW_STICKS else ())]
            tried = [self._begun_with(each) for each in lists]
            draft, others = min(tried, key=lambda each: search.total(each[0]))
            self.keep(search.begun_anew(draft, others) if others else draft)
            yield

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
        starts = [*self._starts(draft.sticks, _OF_STACKS), *self._disturbed(draft)]
        draft = self.search.begun_anew(draft, starts)
        return self.search.paired(draft) if self.search.thorough(len(draft)) else draft

    def _disturbed(self, draft: Draft) -> list[Doses]:
        """The doses of a plan with any others in some layers at each place."""
        rng, (n, m) = np.random.default_rng(len(draft)), draft.doses.shape
        found = []
        for _ in range(_DISTURBED):
            doses = draft.doses.copy()
            for _ in range(_AT_A_PLACE):
                doses[rng.integers(n, size=m), np.arange(m)] = rng.integers(len(self.search.scale.doses) + 1, size=m)
            found.append(doses)
        return found

    def _down(self, start: int, fewest: int) -> Iterator[None]:
        for n in range(start, fewest - 1, -1):
            if n not in self.best:
                continue
            draft = self.best[n][1]
            self.keep(self._anew(self.search.exchanged(draft) if n <= _EXCHANGED else draft))
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
