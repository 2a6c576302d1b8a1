"""The choice among the best stacks of every target: forgiving to the hand, and with few sticks for the whole piece."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.recipe.cost import SENSITIVITY_COST, STICK_COST, colour_cost
from core.recipe.search import DEEPEST, shortlist
from core.recipe.table import Found, Path, Table

_LISTED = 64
_KEPT = 48
_BEAM = 16
_WORTHWHILE = 1e-9


def finalists(table: Table, targets: Floats, max_passes: int = DEEPEST) -> list[list[Found]]:
    """The cheapest stacks of each target (m, 3) with the cost of a hand's variation, cheapest first."""
    return _weighed(table, targets, [hits[:_LISTED] for hits in shortlist(table, targets, _LISTED, max_passes)])


def around(table: Table, kept: Sequence[Path], target: Floats, max_passes: int = DEEPEST) -> list[Found]:
    """As `finalists` for one target, of stacks that hold one of these stacks, in its order.

    Passes are put before, between and after it one at a time, by a beam. What is kept need not keep the
    rules itself.
    """
    found: dict[Path, Found] = {}
    beam = [tuple(path) for path in kept]
    while beam:
        found |= {hit.path: hit for hit in _measured(table, beam, target)}
        leaders = sorted(beam, key=lambda path: (found[path].cost, path))[:_BEAM]
        wider = {longer for path in leaders if len(path) < max_passes for longer in _with_one_more(table, path)}
        beam = sorted(wider - found.keys())
        if beam:
            best = _measured(table, beam, target)
            beam = [hit.path for hit in sorted(best, key=lambda hit: (hit.cost, hit.path))[:_LISTED]]
    return _weighed(table, target[None], [sorted(found.values(), key=lambda hit: (hit.cost, hit.path))[:_LISTED]])[0]


def _with_one_more(table: Table, path: Path) -> list[Path]:
    rules, stick_of = table.rules, table.stick_of
    every = np.arange(len(stick_of))
    grown: list[Path] = []
    for place in range(len(path) + 1):
        may = rules.later.copy() if place else rules.first.copy()
        if place:
            may &= rules.follow[stick_of[path[place - 1]], stick_of]
        if place < len(path):
            may &= rules.follow[stick_of, stick_of[path[place]]]
        if table.box.once_a_stick:
            may &= ~np.isin(stick_of, stick_of[list(path)])
        grown += [(*path[:place], int(action), *path[place:]) for action in every[may]]
    return grown


def _measured(table: Table, paths: Sequence[Path], target: Floats) -> list[Found]:
    hits = []
    for same in _by_depth(paths):
        labs = table.labs_of(table.run(same)[0]).astype(float)
        costs = colour_cost(target, labs) + table.costs[same].sum(axis=1)
        for path, (lightness, a, b), cost in zip(same.tolist(), labs, costs, strict=True):
            hits.append(Found(tuple(path), (float(lightness), float(a), float(b)), float(cost)))
    return hits


def _by_depth(paths: Sequence[Path]) -> list[NDArray[np.intp]]:
    depths = sorted({len(path) for path in paths})
    return [np.array([path for path in paths if len(path) == depth], dtype=np.intp) for depth in depths]


def _weighed(table: Table, targets: Floats, lists: Sequence[Sequence[Found]]) -> list[list[Found]]:
    """The lists for these targets (m, 3) with the cost of the hand, cheapest first, cut to _KEPT.

    Of sticks that were tried the expected distance stands for the planned: what is closer than is known counts as
    equally close, and a stack of which more is known is taken before others.
    """
    doubts = table.doubts
    paths = sorted({hit.path for hits in lists for hit in hits})
    moves: dict[Path, float] = {}
    doubted: dict[Path, float] = {}
    for same in _by_depth(paths):
        moves |= {tuple(path): float(t) for path, t in zip(same.tolist(), table.tolerances(same), strict=True)}
        if doubts:
            doubted |= {tuple(path): float(d) for path, d in zip(same.tolist(), doubts.of(same), strict=True)}
    weighed = []
    for target, hits in zip(targets, lists, strict=True):
        costs = np.array([hit.cost + SENSITIVITY_COST * moves[hit.path] for hit in hits])
        if doubted and hits:
            planned = colour_cost(target, np.array([hit.lab for hit in hits]))
            doubt = np.array([doubted[hit.path] for hit in hits])
            costs += np.hypot(planned, doubt) - doubt.min() - planned
        costly = [Found(hit.path, hit.lab, float(cost)) for hit, cost in zip(hits, costs, strict=True)]
        weighed.append(sorted(costly, key=lambda hit: (round(hit.cost, 5), len(hit.path), hit.path))[:_KEPT])
    return weighed


def choose(table: Table, lists: Sequence[Sequence[Found]], at_hand: Collection[int] = ()) -> list[Found | None]:
    """One of each list, so that the sum of their costs and of STICK_COST for every stick used is least.

    at_hand: sticks (indices) that the piece needs anyway and that cost nothing here. Local search: begin
    with everybody's best, then give up one stick at a time, or take one up, as long as it pays.
    """
    filled = [i for i, hits in enumerate(lists) if hits]
    chosen: list[Found | None] = [None] * len(lists)
    if filled:
        piece = _Piece.of(table, [lists[i] for i in filled], at_hand)
        for i, place in zip(filled, piece.best(), strict=True):
            chosen[i] = lists[i][place]
    return chosen


@dataclass(frozen=True, slots=True)
class _Piece:
    """The stacks to choose from. costs (m, most): cheapest first, inf where a list is shorter; needs (m, most, n):
    1 for each stick that a stack needs."""

    costs: Floats
    needs: NDArray[np.float32]

    @staticmethod
    def of(table: Table, lists: Sequence[Sequence[Found]], at_hand: Collection[int]) -> _Piece:
        shape = (len(lists), max(map(len, lists)))
        costs, needs = np.full(shape, np.inf), np.zeros((*shape, len(table.box.sticks)), dtype=np.float32)
        for i, hits in enumerate(lists):
            costs[i, : len(hits)] = [hit.cost for hit in hits]
            for j, hit in enumerate(hits):
                needs[i, j, list(table.sticks(hit))] = 1
        needs[:, :, list(at_hand)] = 0
        return _Piece(costs, needs)

    def picked(self, allowed: NDArray[np.bool_]) -> tuple[Floats, NDArray[np.intp]]:
        """What the piece costs with each of these sets of sticks (s, n), inf if it cannot be, and the places (m, s) of
        the stacks it then takes."""
        lacking = self.needs @ (~allowed).T.astype(np.float32)
        fits = (lacking == 0) & np.isfinite(self.costs)[:, :, None]
        places = fits.argmax(axis=1)
        row = np.arange(len(self.costs))[:, None]
        used = self.needs[row, places].any(axis=0)
        total = self.costs[row, places].sum(axis=0) + STICK_COST * used.sum(axis=1)
        return np.where(fits.any(axis=1).all(axis=0), total, np.inf), places

    def best(self) -> list[int]:
        """The places (m,) of the choice, by a descent that gives up or takes up one stick at a time."""
        allowed = np.asarray(self.needs[:, 0].any(axis=0))
        (cost,), places = self.picked(allowed[None])
        n = len(allowed)
        while True:
            moves = allowed ^ np.eye(n, dtype=bool)
            costs, moved = self.picked(moves)
            best = int(np.argmin(costs))
            if costs[best] >= cost - _WORTHWHILE:
                return [int(place) for place in places[:, 0]]
            allowed, cost, places = moves[best], costs[best], moved[:, best : best + 1]
