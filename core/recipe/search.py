"""The search: all stacks of up to two passes, and deeper ones by asking of a last pass what must lie under it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.recipe.pool import Pool, distance_from
from core.recipe.table import Found, Path, Table

DEEPEST = 4
_ALL_THREES = 600_000
"""Up to so many stacks of three are all worked out."""
_APPENDED_TO, _DEEPENED = 6, 100
"""How many stacks of three of each target get a fourth pass, and how many of those are worked out."""

_EXCHANGES, _MOST_EXCHANGED, _FEWEST_EXCHANGED = 2600, 16, 4
"""Where the order of passes matters, so many stacks of each target are changed by one action: the more, the fewer
actions there are, since each is tried in each place."""

PathsAt = Callable[[NDArray[np.intp]], NDArray[np.intp]]
"""Paths (n, depth) by their positions (n,) in a pool."""


def search(table: Table, targets: Floats, max_passes: int = DEEPEST) -> list[Found | None]:
    """The cheapest stack for each target (m, 3) in CIELAB, of at most `max_passes` passes.

    Deterministic. None where the rules allow no stack at all. The cost is
    ΔE00 (k_L = 0.5) + the costs of the passes; see core/recipe/cost.py.
    """
    return [found[0] if found else None for found in shortlist(table, targets, 1, max_passes)]


def shortlist(table: Table, targets: Floats, count: int, max_passes: int = DEEPEST) -> list[list[Found]]:
    """The cheapest stacks for each target (m, 3), at most `count` of each depth, cheapest first. See `search`."""
    wanted = np.asarray(targets, dtype=float).reshape(-1, 3)
    found: list[list[Found]] = [[] for _ in wanted]
    n_actions = len(table.box.actions)
    nears = [distance_from(target) for target in wanted]

    def harvest(pool: Pool, paths_at: PathsAt) -> None:
        for held, target, near in zip(found, wanted, nears, strict=True):
            positions, labs, costs = pool.best(target, count, near)
            paths = map(tuple, paths_at(positions).tolist())
            held += map(Found, paths, map(tuple, labs.tolist()), costs.tolist())

    harvest(table.ones, lambda at: at[:, None])
    if max_passes > 1:
        harvest(table.twos, lambda at: np.column_stack([table.openings[at // n_actions], at % n_actions]))
    if max_passes > 2 and len(wanted) and len(table.twos):
        so_far = np.array([min([hit.cost for hit in held], default=0.0) for held in found])
        harvest(*_threes(table, wanted, so_far))
        if max_passes > 3:
            leaders = [_worth_deepening(table, held) for held in found]
            if any(len(paths) for paths in leaders):
                harvest(*_fours(table, wanted, leaders))
    if table.box.drags and len(wanted):
        count = int(np.clip(_EXCHANGES // n_actions, _FEWEST_EXCHANGED, _MOST_EXCHANGED))
        rounds = 2 if count == _MOST_EXCHANGED else 1
        for depth in [depth for depth in (3, 4) if depth <= max_passes] * rounds:
            if some := _leaders(found, depth, count):
                harvest(*_exchanged(table, some))
        found = [list({hit.path: hit for hit in held}.values()) for held in found]
    # Rounded: single precision must not decide between equal stacks, or machines would give different recipes.
    return [sorted(held, key=lambda hit: (round(hit.cost, 5), len(hit.path), hit.path)) for held in found]


def _leaders(found: Sequence[Sequence[Found]], depth: int, count: int) -> list[Path]:
    """The best few stacks of so many passes of every target."""
    some = (sorted((hit.cost, hit.path) for hit in held if len(hit.path) == depth)[:count] for held in found)
    return sorted({path for held in some for _, path in held})


def _exchanged(table: Table, leaders: Sequence[Path]) -> tuple[Pool, PathsAt]:
    """Stacks of one depth with another action in the place of one of theirs, worked out.

    Where passes drag along what lies beneath, what a last pass does depends on the order below, and the learnt effects
    miss some of the best stacks; but these lie an exchange away.
    """
    every = np.arange(len(table.box.actions))
    swapped = [
        (*path[:i], int(action), *path[i + 1 :])
        for path in leaders
        for i in range(len(path))
        for action in every[_may_stand(table, path, i)]
    ]
    paths = np.unique(np.array(swapped, dtype=np.intp).reshape(len(swapped), -1), axis=0)
    firm = np.ones(len(paths), dtype=bool)
    for depth in range(1, paths.shape[1]):
        _, deposits = table.run(paths[:, :depth])
        firm &= table.box.tooth_left_at(deposits) >= table.rules.least_tooth
    paths = paths[firm]
    roots, _ = table.run(paths)
    return Pool(table.labs_of(roots), table.costs[paths].sum(axis=1).astype(np.float32)), lambda at: paths[at]


def _may_stand(table: Table, path: Path, i: int) -> NDArray[np.bool_]:
    """Which actions may stand at one place of a stack."""
    rules, stick_of = table.rules, table.stick_of
    may = (rules.later if i else rules.first).copy()
    if i:
        may &= rules.follow[stick_of[path[i - 1]], stick_of]
    if i + 1 < len(path):
        may &= rules.follow[stick_of, stick_of[path[i + 1]]]
    may[path[i]] = False
    return may


def _worth_deepening(table: Table, held: Sequence[Found]) -> list[Path]:
    """The best stacks of three of one target, if one more pass could pay for itself."""
    threes = sorted((hit.cost, hit.path) for hit in held if len(hit.path) == 3)
    # Four passes cost at least four of the cheapest actions: where the best known costs less, they cannot beat it.
    pays = min(hit.cost for hit in held) > 4 * float(table.costs.min()) if threes else False
    return [path for _, path in threes[:_APPENDED_TO]] if pays else []


def _fours(table: Table, targets: Floats, leaders: Sequence[Sequence[Path]]) -> tuple[Pool, PathsAt]:
    """Stacks of four passes: what is expected to serve a target best of all that can follow its leaders, worked out."""
    paths = np.array([path for held in leaders for path in held], dtype=np.intp)
    roots, deposits = table.run(paths)
    penalties = table.penalties_after(paths, deposits)
    # Working all of them out would take dozens of times as long; the learnt effects tell which are worth it.
    expected = table.grounds.effects.expected(table.labs_of(roots).astype(float), table.box.tooth_left_at(deposits))
    picked = []
    ends = np.cumsum([len(held) for held in leaders])
    for target, held, end in zip(targets, leaders, ends, strict=True):
        rows = slice(end - len(held), end)
        rough = distance_from(target)(expected[rows].reshape(-1, 3).astype(np.float32)) + penalties[rows].ravel()
        best = np.argpartition(rough, _DEEPENED)[:_DEEPENED] if len(rough) > _DEEPENED else np.arange(len(rough))
        picked.append(best + rows.start * len(table.box.actions))
    row, action = np.divmod(np.unique(np.concatenate(picked)), len(table.box.actions))
    after, _ = table.advance(roots.take(row, axis=0), deposits[row], action)
    whole = np.column_stack([paths[row], action])
    return Pool(table.labs_of(after), penalties[row, action]), lambda at: whole[at]


def _threes(table: Table, targets: Floats, so_far: Floats) -> tuple[Pool, PathsAt]:
    """Stacks of three passes, all of a small tray or those that may end near a target, and their paths by position."""
    n_actions = len(table.box.actions)
    if len(table.twos) * n_actions <= _ALL_THREES:
        blocks, second = np.divmod(np.sort(table.twos.positions), n_actions)
        twos = np.column_stack([table.openings[blocks], second])
        return table.deepen(twos), lambda at: np.column_stack([twos[at // n_actions], at % n_actions])
    pool, paths = table.grounds.stacks(targets, so_far)
    return pool, lambda at: paths[at]
