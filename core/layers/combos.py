"""Which few sticks, in which order: every stack that they make at three doses, tried at every place."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.doses import NONE
from core.layers.forward import Doses, Places, State
from core.layers.frame import Flags, Frame
from core.optics.medium import Hand

_DEPTH, _DEEPEST = 3, 4
"""The most layers of a stack by which lists of sticks are compared, and of one with which a plan begins."""
_SWAY = 0.3
"""What a hand's slips amount to in the logarithm of film, a stroke more or less among them (assumption)."""
_STEADY = np.ones((1, 3))
_UNSTEADY = np.exp(_SWAY * np.array([[1, 1, 1], [1, -1, -1], [-1, 1, -1], [-1, -1, 1]]))
"""Four hands, each heavy in some layers and light in others: all pairs of three layers meet in all four ways."""
_SHORTLISTED = 8
"""How many sticks, the best under a steady hand, are tried under those four."""
_KINDS = 4
"""How many kinds of what lies beneath are told apart."""
_NEVER = 1e4
_WORTHWHILE = 1e-6

Sticks = tuple[int, ...]
Indices = NDArray[np.intp]


@dataclass(frozen=True, slots=True)
class _Tried:
    """Stacks of so many layers at most, each in some doses (indices)."""

    depth: int
    doses: tuple[int, ...]


@dataclass(frozen=True, slots=True, eq=False)
class _Layered:
    """A list of sticks that may differ in one layer: `sticks` of all the others, and k candidates for layer `at`."""

    sticks: Sticks
    at: int
    candidates: Indices

    def __len__(self) -> int:
        return len(self.sticks) + 1

    @property
    def others(self) -> Indices:
        """The numbers of the layers that are the same for all candidates."""
        return np.delete(np.arange(len(self)), self.at)


class Combos:
    """Lists of sticks in the order of their layers, judged by the best stack that each place can have of them.

    Areas do not count here, and few hands stand for all: what is found is where the search for a plan begins.
    """

    def __init__(
        self,
        places: Places,
        frame: Frame,
        place_cost: float,
        stick_costs: Floats,
        doses: tuple[int, ...],
        unsteady: bool = True,
        at_hand: frozenset[int] = frozenset(),
    ) -> None:
        """places: under the steady hand alone. stick_costs (n,): what using a stick at all costs. doses: by which
        (indices) lists are compared. unsteady: whether hands count at all. at_hand: sticks (indices) that the piece
        needs anyway."""
        self.places, self.frame = places, frame
        self._at_hand = at_hand
        self._films = _UNSTEADY if unsteady else _STEADY
        self.box, self.scale = places.box, places.scale
        self._beginnings = places.beginnings(_KINDS)
        self._back = np.argsort(np.concatenate([its for _, its in self._beginnings]), kind="stable")
        self._place_cost, self._stick_costs = place_cost, stick_costs
        self._few = _Tried(_DEPTH, doses)
        self._seen_at = np.full(len(stick_costs), np.inf)
        self._compared: dict[Sticks, float] = {}

    def cost(self, sticks: Sticks) -> float:
        """What the best stacks of these cost at all places together, and the sticks."""
        return float(self._best_with(sticks).sum() + self._stick_costs[list(sticks)].sum())

    def best_doses(self, sticks: Sticks, count: int, among: tuple[int, ...]) -> list[Doses]:
        """The doses (n, m) of the best stacks of every place, of the second best and so on, each of other layers.
        among: the doses (indices) that are tried."""
        costs, used = self._costs(
            _Layered(sticks[1:], 0, np.array(sticks[:1])), self._films, False, _Tried(_DEEPEST, among)
        )
        _, kind = np.unique(used != NONE, axis=0, return_inverse=True)
        found = np.empty((count, self.places.count), dtype=np.intp)
        for place, row in enumerate(costs[:, 0]):
            order = np.argsort(row, kind="stable")
            _, first = np.unique(kind[order], return_index=True)
            best = order[np.sort(first)[:count]]
            found[:, place] = best[np.minimum(np.arange(count), len(best) - 1)]
        return [used[rows].T for rows in found]

    def with_one(
        self, sticks: Sticks, candidates: Indices, places: Iterable[int] | None = None
    ) -> tuple[float, Sticks]:
        """The best list with one of the candidates more, and its cost. places: before which layers; any by default."""
        best: tuple[float, Sticks] = (np.inf, sticks)
        steady, unsteady = (self._best_with(sticks, films) for films in (_STEADY, self._films))
        rest = self._stick_costs[list(sticks)].sum()
        for at in range(len(sticks) + 1) if places is None else sorted(set(places)):
            fitting = every = self._that_fit(sticks, at, candidates)
            for films, without in ((_STEADY, steady), (self._films, unsteady)):
                if not len(fitting):
                    break
                each, _ = self._costs(_Layered(sticks, at, fitting), films)
                used = each.min(axis=2)
                least = used if self.frame.begins and at == 0 else np.minimum(used, without[:, None])
                total = least.sum(axis=0) + self._stick_costs[fitting] + rest
                # What must be in must lie somewhere: where that costs least.
                total += np.where(self.frame.must[fitting], (used - least).min(axis=0), 0.0)
                order = np.argsort(total, kind="stable")
                if fitting is every:
                    np.minimum.at(self._seen_at, fitting, total)
                    fitting = fitting[order[:_SHORTLISTED]]
                else:
                    for cost, stick in zip(total.tolist(), fitting.tolist(), strict=True):
                        longer = (*sticks[:at], stick, *sticks[at:])
                        self._compared[longer] = cost
                        best = min(best, (cost, longer))
        return best

    def runners_up(self, best: Sticks, count: int, within: float) -> list[Sticks]:
        """Lists of as many sticks as the best that were compared with it and cost so many times as much at most: so
        many of them, the cheapest first."""
        most = within * self.cost(best)
        found = [(cost, sticks) for sticks, cost in self._compared.items() if len(sticks) == len(best) and cost <= most]
        return [sticks for _, sticks in sorted(found) if sticks != best][:count]

    def unlike(self, best: Sticks, count: int, shared: int) -> list[Sticks]:
        """The best list and others of as many sticks that were compared with it, the cheapest first: so many at most,
        of which no two share more than so many sticks besides those that must be in."""
        must = set(np.flatnonzero(self.frame.must).tolist())
        found = [best]
        for _, sticks in sorted((cost, each) for each, cost in self._compared.items() if len(each) == len(best)):
            if len(found) >= count:
                break
            if all(len(set(sticks) & set(other) - must) <= shared for other in found):
                found.append(sticks)
        return found

    def promising(self, candidates: Indices, count: int) -> Indices:
        """Those of the candidates that have come cheapest since this was last asked, at most so many."""
        order = np.argsort(self._seen_at[candidates], kind="stable")[:count]
        self._seen_at[:] = np.inf
        return np.sort(candidates[order])

    def exchanged(self, sticks: Sticks, candidates: Indices, sweeps: int = 2) -> Sticks:
        """The list with other sticks, in their places or last of all, as long as one exchange pays."""
        cost = self.cost(sticks)
        for _ in range(sweeps):
            before = sticks
            for j in range(len(sticks)):
                found, other = self.with_one(sticks[:j] + sticks[j + 1 :], candidates, (j, len(sticks) - 1))
                if found < cost - _WORTHWHILE:
                    sticks, cost = other, found
            if sticks == before:
                break
        return sticks

    def _best_with(self, sticks: Sticks, films: Floats | None = None) -> Floats:
        """(m,): the least that each place costs with these."""
        if not sticks:
            return np.full(self.places.count, _NEVER)
        layered = _Layered(sticks[1:], 0, np.array(sticks[:1]))
        costs, _ = self._costs(layered, self._films if films is None else films, must=False)
        return np.asarray(costs[:, 0].min(axis=1))

    def _that_fit(self, sticks: Sticks, at: int, candidates: Indices) -> Indices:
        fits = ~np.isin(candidates, sticks)
        if len(self._at_hand.union(sticks)) >= self.frame.most_sticks:
            fits &= np.isin(candidates, list(self._at_hand))
        if self.frame.begins and at == 0:
            fits &= self.frame.may_begin[:, candidates].any(axis=0)
        if self.frame.begins and at > 0 and not sticks:
            fits[:] = False
        return np.asarray(candidates[fits])

    def _costs(
        self, layered: _Layered, films: Floats, must: bool = True, tried: _Tried | None = None
    ) -> tuple[Floats, Indices]:
        """What every stack costs at every place (m, k, r), and the dose of each of its layers (r, n), as an index.

        films (h, 3): factors on film of each of h hands, by layer. must: only stacks with a candidate in them. tried:
        which stacks; few by default.
        """
        hands, many, parts = len(films), len(layered.candidates), []
        for begun, places in self._beginnings:
            state, used, firm = self._stacks(layered, films, must, tried or self._few, begun)
            part = self.places.costs_of_labs(self.places.labs(state), places).reshape(len(places), many, hands, -1)
            part = part.mean(axis=2) if hands > 1 else part[:, :, 0]
            part[:, ~firm.reshape(many, hands, -1).all(axis=1)] = _NEVER
            parts.append(part)
        costs = parts[0] if len(parts) == 1 else np.concatenate(parts)[self._back]
        laid = used != NONE
        costs += self._place_cost * laid.sum(axis=1, dtype=np.float32)
        costs[:, self._clashes(layered, laid)] = _NEVER
        for place, one in enumerate(self._misplaced(layered, laid)):
            if one is not None:
                costs[place][one] = _NEVER
        return costs, used

    def _clashes(self, layered: _Layered, laid: Flags) -> Flags:
        """(k, r): stacks in which a stick must not come after another."""
        follow, others, its = self.frame.follow, layered.others, laid[:, layered.at]
        sticks = np.array(layered.sticks, dtype=np.intp)
        apart = laid[:, others]
        among = np.triu(~follow[np.ix_(sticks, sticks)], 1)
        wrong = ((apart @ among) & apart).any(axis=1)
        before = np.arange(len(sticks)) < layered.at
        cannot = np.where(before, ~follow[np.ix_(sticks, layered.candidates)].T, ~follow[layered.candidates][:, sticks])
        return np.asarray(wrong | (its & (cannot @ apart.T)))

    def _misplaced(self, layered: _Layered, laid: Flags) -> Iterable[Flags | None]:
        """For each place (k, r): stacks with a stick that must not lie there, or not first; None where all may."""
        frame, others, its = self.frame, layered.others, laid[:, layered.at]
        sticks = np.array(layered.sticks, dtype=np.intp)
        first = np.where(laid.any(axis=1), laid.argmax(axis=1), -1)
        for may_lie, may_begin in zip(frame.may_lie, frame.may_begin, strict=True):
            if may_lie.all() and may_begin.all():
                yield None
                continue
            wrong = (laid[:, others] & ~may_lie[sticks]).any(axis=1)
            begins = np.isin(first, others[~may_begin[sticks]])
            mine = ~may_lie[layered.candidates][:, None] & its
            yield wrong | begins | mine | (~may_begin[layered.candidates][:, None] & (first == layered.at))

    def _stacks(
        self, layered: _Layered, films: Floats, must: bool, tried: _Tried, begun: State
    ) -> tuple[State, Indices, Flags]:
        """All stacks on what is there to begin with (one row): states (k · h · r), doses (r, n), and whether each layer
        found tooth (k · h, r).

        Every layer multiplies what is there: without it, and with each of its doses.
        """
        many, hands = len(layered.candidates), len(films)
        roots = np.broadcast_to(begun.roots[None], (many * hands, 1, begun.roots.shape[1]))
        filled = np.full((many * hands, 1), float(begun.filled[0]))
        used, firm = np.zeros((1, len(layered)), dtype=np.intp), np.ones((many * hands, 1), dtype=bool)
        film = np.tile(films, (many, 1))
        rest = iter(layered.sticks)
        for number in range(len(layered)):
            mine = number == layered.at
            sticks = np.repeat(layered.candidates, hands) if mine else np.full(many * hands, next(rest))
            # A place is kept for the candidate as long as it is still to come.
            open_ = np.count_nonzero(used, axis=1) < tried.depth - (must and number < layered.at)
            below, deposits, free = roots[:, open_], filled[:, open_], firm[:, open_]
            free = free & (self.box.tooth_left_at(deposits) >= self.frame.least_tooth)
            shape = deposits.shape
            which, hand = np.repeat(sticks, shape[1]), Hand(np.repeat(film[:, number % 3], shape[1]))
            parts: list[tuple[Any, Any, Any, Any]] = []
            laid, more = self._in_each_dose(State(below.reshape(len(which), -1), deposits.ravel()), which, hand, tried)
            for dose, its, fills in zip(tried.doses, laid, more, strict=True):
                longer = used[open_].copy()
                longer[:, number] = dose
                parts.append((its.reshape(*shape, -1), fills.reshape(shape), longer, free))
            if not (mine and must) and not (number == 0 and self.frame.begins):
                parts.append((roots, filled, used, firm))
            roots, filled, firm = (np.concatenate([part[i] for part in parts], axis=1) for i in (0, 1, 3))
            used = np.concatenate([part[2] for part in parts])
        return State(roots.reshape(-1, roots.shape[-1]), filled.ravel()), used, firm

    def _in_each_dose(self, state: State, sticks: Indices, hand: Hand, tried: _Tried) -> tuple[Any, Any]:
        """Roots (d, g, …) and deposits (d, g) after a layer of these sticks (g,) in each dose that is tried."""
        # All at once, and more strokes first, as boxes would sort them otherwise.
        doses = np.array(tried.doses)
        order = np.argsort(-self.scale.times[doses], kind="stable")
        dose = np.repeat(doses[order], len(sticks))
        every, count = state.times(len(doses)), len(doses)
        roots, filled = self.box.strokes(
            every.roots, every.filled, np.tile(sticks, count), self.scale.pressure[dose], self.scale.times[dose],
            hand=Hand(np.tile(hand.thickness, count), hand.coverage),
        )  # fmt: skip
        back = np.argsort(order)
        return roots.reshape(count, *state.roots.shape)[back], filled.reshape(count, -1)[back]
