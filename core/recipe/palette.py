"""The few sticks that serve all targets best."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.errors import InputError
from core.recipe.pool import Pool, distance_from
from core.recipe.table import Table

_WORST = 12.0
_STARTS = 10
_SAME = 1e-6

Pairs = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Palette:
    """sticks: indices; cost: mean cost of a target, by stacks of one and two passes; losses: what the mean
    would rise by without each of the sticks."""

    sticks: tuple[int, ...]
    cost: float
    losses: tuple[float, ...]


def pair_costs(table: Table, targets: Floats, worst: float = _WORST) -> Pairs:
    """(m, n, n): the least rough cost of each target (m, 3) with stick i under stick j, or i alone on the diagonal.

    A target farther off than `worst` counts as that.
    """
    return np.array([_pair_costs(table, target, worst) for target in np.asarray(targets, dtype=float).reshape(-1, 3)])


def _pair_costs(table: Table, target: Floats, worst: float) -> Pairs:
    n, n_actions = len(table.box.sticks), len(table.box.actions)
    best = np.full((n, n), worst, dtype=np.float32)
    near = distance_from(target)

    def lower(pool: Pool, under: NDArray[np.intp], top: NDArray[np.intp]) -> None:
        if len(pool):
            np.minimum.at(best, (under, top), near(pool.labs) + pool.penalties)

    ones = table.stick_of[table.ones.positions]
    lower(table.ones, ones, ones)
    blocks, actions = np.divmod(table.twos.positions, n_actions)
    lower(table.twos, table.stick_of[table.openings[blocks]], table.stick_of[actions])
    return best


def choose_palette(
    table: Table, targets: Floats, size: int, must: Sequence[int] = (), seed: int = 1, pairs: Pairs | None = None
) -> tuple[int, ...]:
    """Indices of the `size` sticks, those in `must` among them, that give the targets (m, 3) the least total cost.

    Greedy choice and swaps from ten starts, the random ones drawn from `seed`, over the costs of stacks of
    one and two passes (`pairs`, worked out if not given). Raises InputError (`too_many_must_use`).
    """
    n = len(table.box.sticks)
    if len(must) > size:
        raise InputError(
            "too_many_must_use",
            f"{len(must)} must be in, but the palette is to hold {size}.",
            "Let it hold more, or keep fewer.",
            "sticks",
        )
    if size >= n:
        return tuple(range(n))
    costs = _Costs.of(pair_costs(table, targets) if pairs is None else pairs)
    rng = np.random.default_rng(seed)
    others = [j for j in range(n) if j not in must]
    free = size - len(must)
    starts = [list(must)] + [[*must, *map(int, rng.choice(others, free, replace=False))] for _ in range(_STARTS)]
    tried = [_swap(costs, _grow(costs, start, size), must) for start in starts]
    best = min(tried, key=lambda sticks: (round(costs.score(sticks), 6), sticks))
    return tuple(sorted(best))


def smallest_palette(
    table: Table,
    targets: Floats,
    within: float,
    must: Sequence[int] = (),
    most: int = 20,
    pairs: Pairs | None = None,
) -> tuple[int, ...]:
    """The fewest sticks with which no target costs more than `within` above what the whole tray gives it.

    At most `most`; if those do not suffice, the best of that many.
    """
    pairs = pair_costs(table, targets) if pairs is None else pairs
    costs, floor = _Costs.of(pairs), pairs.min(axis=(1, 2))
    chosen: tuple[int, ...] = ()
    for size in range(max(2, len(must)), min(most, len(table.box.sticks)) + 1):
        chosen = choose_palette(table, targets, size, must, pairs=pairs)
        if (costs.each(list(chosen)) - floor).max(initial=0.0) <= within:
            break
    return chosen


def weighed(pairs: Pairs, sticks: Collection[int]) -> Palette:
    """A palette with what each of its sticks is worth."""
    held, m, costs = sorted(sticks), max(1, len(pairs)), _Costs.of(pairs)
    whole = costs.score(held) / m
    without = [costs.score([j for j in held if j != i]) / m if len(held) > 1 else _WORST for i in held]
    return Palette(tuple(held), whole, tuple(round(float(other - whole), 3) for other in without))


def best_with(pairs: Pairs, sticks: Collection[int]) -> Floats:
    """Least cost (m,) of each target with these sticks."""
    return _Costs.of(pairs).each(sorted(sticks))


def additions(pairs: Pairs, sticks: Collection[int], candidates: Collection[int], count: int) -> dict[int, float]:
    """Which of the candidates to put beside these, one after the other, and by how much each lowers the mean cost then:
    what does the same as one before it brings nothing more."""
    held, m, costs = sorted(sticks), max(1, len(pairs)), _Costs.of(pairs)
    found: dict[int, float] = {}
    now = costs.score(held) / m if held else float(pairs.max(initial=0.0))
    while len(found) < count and (left := [j for j in sorted(candidates) if j not in held]):
        scores = costs.with_each(held)[left] / m
        best = int(np.argmin(scores))
        found[left[best]] = now - float(scores[best])
        held, now = [*held, left[best]], float(scores[best])
    return found


@dataclass(frozen=True, slots=True)
class _Costs:
    """What sticks cost together, whichever of two lies below. both (n, m, n): the least of each target with
    stick i and stick j; alone (m, n): with one stick."""

    both: Pairs
    alone: Pairs

    @staticmethod
    def of(pairs: Pairs) -> _Costs:
        """From what `pair_costs` gives."""
        either = np.minimum(pairs, pairs.transpose(0, 2, 1))
        return _Costs(np.ascontiguousarray(either.transpose(1, 0, 2)), np.einsum("mjj->mj", pairs))

    def each(self, sticks: list[int]) -> Floats:
        """Least cost (m,) of each target with these sticks."""
        return np.asarray(self.both[sticks][:, :, sticks].min(axis=(0, 2)))

    def score(self, sticks: list[int]) -> float:
        """The sum of those."""
        return float(self.each(sticks).sum())

    def with_each(self, rest: list[int]) -> Floats:
        """Scores (n,) of these sticks with each stick of the tray beside them."""
        best = self.alone
        if rest:
            best = np.minimum(best, self.both[rest].min(axis=0))
            best = np.minimum(best, self.each(rest)[:, None])
        return np.asarray(best.sum(axis=0), dtype=float)


def _grow(costs: _Costs, sticks: list[int], size: int) -> list[int]:
    while len(sticks) < size:
        scores = costs.with_each(sticks)
        scores[sticks] = np.inf
        sticks = [*sticks, int(np.argmin(scores))]
    return sticks


def _swap(costs: _Costs, sticks: list[int], must: Sequence[int]) -> list[int]:
    """Exchange one stick for another as long as that pays."""
    score, improved = costs.score(sticks), True
    while improved:
        improved = False
        for stick in sticks:
            if stick in must:
                continue
            rest = [j for j in sticks if j != stick]
            scores = costs.with_each(rest)
            scores[sticks] = np.inf
            best = int(np.argmin(scores))
            if scores[best] < score - _SAME:
                sticks, score, improved = [*rest, best], float(scores[best]), True
    return sorted(int(j) for j in sticks)
