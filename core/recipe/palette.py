"""The few sticks that serve all targets best."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.recipe.pool import Pool, distance_from
from core.recipe.search import Table

_WORST = 12.0
_STARTS = 10


def choose_palette(table: Table, targets: Floats, size: int, seed: int = 1) -> tuple[int, ...]:
    """Indices of the `size` sticks that give the targets (m, 3) the least total cost.

    Counts stacks of one and two passes: a pair table, then greedy choice and swaps from ten starts,
    the random ones drawn from `seed`. A target farther off than 12 counts as 12.
    """
    n = len(table.box.sticks)
    if size >= n:
        return tuple(range(n))
    pairs = np.array([_pair_costs(table, target) for target in np.asarray(targets, dtype=float).reshape(-1, 3)])
    rng = np.random.default_rng(seed)
    starts: list[list[int]] = [[]] + [list(rng.choice(n, size, replace=False)) for _ in range(_STARTS)]
    tried = [_swap(pairs, _grow(pairs, start, size)) for start in starts]
    best = min(tried, key=lambda sticks: (round(_score(pairs, sticks), 6), sticks))
    return tuple(sorted(best))


def _pair_costs(table: Table, target: Floats) -> NDArray[np.float32]:
    """(n, n): the least rough cost of the target with stick i under stick j, or i alone on the diagonal."""
    n, n_actions = len(table.box.sticks), len(table.box.actions)
    best = np.full((n, n), _WORST, dtype=np.float32)
    near = distance_from(target)

    def lower(pool: Pool, under: NDArray[np.intp], top: NDArray[np.intp]) -> None:
        if len(pool):
            np.minimum.at(best, (under, top), near(pool.labs) + pool.penalties)

    ones = table.stick_of[table.ones.positions]
    lower(table.ones, ones, ones)
    blocks, actions = np.divmod(table.twos.positions, n_actions)
    lower(table.twos, table.stick_of[table.openings[blocks, 0]], table.stick_of[actions])
    return best


def _score(pairs: NDArray[np.float32], sticks: list[int]) -> float:
    return float(pairs[:, sticks][:, :, sticks].min(axis=(1, 2)).sum())


def _grow(pairs: NDArray[np.float32], sticks: list[int], size: int) -> list[int]:
    while len(sticks) < size:
        others = [j for j in range(pairs.shape[1]) if j not in sticks]
        sticks = [*sticks, min(others, key=lambda j: _score(pairs, [*sticks, j]))]
    return sticks


def _swap(pairs: NDArray[np.float32], sticks: list[int]) -> list[int]:
    score, improved = _score(pairs, sticks), True
    while improved:
        improved = False
        for place in range(len(sticks)):
            for j in range(pairs.shape[1]):
                if j in sticks:
                    continue
                trial = [*sticks[:place], j, *sticks[place + 1 :]]
                trial_score = _score(pairs, trial)
                if trial_score < score - 1e-6:
                    sticks, score, improved = trial, trial_score, True
    return sorted(int(j) for j in sticks)
