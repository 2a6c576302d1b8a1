"""Several good answers for one spot: the closest, the one with the fewest colours, the right value with a freer hue."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.recipe.choose import finalists
from core.recipe.cost import STICK_COST
from core.recipe.table import Found, Table

KINDS = ("closest", "fewest colours", "right value, freer hue")
_GOOD_ENOUGH = 3.0
_SAME_VALUE_L = 1.2
_FREE_HUE = 0.3
_FREER_BY = 8.0


@dataclass(frozen=True, slots=True)
class Answer:
    """kind: one of KINDS."""

    kind: str
    found: Found


def answers(
    table: Table, target: Floats, max_passes: int, in_use: Collection[int] = (), hits: Sequence[Found] | None = None
) -> tuple[Answer, ...]:
    """The answers for one target (3,); fewer where one serves for several kinds. Empty if the rules allow nothing.

    in_use: sticks (indices) that the piece uses already. hits: what `finalists` gave, if it is at hand.
    """
    wanted = np.asarray(target, dtype=float)
    hits = finalists(table, wanted[None], max_passes)[0] if hits is None else hits
    if not hits:
        return ()
    off = ciede2000(wanted, np.array([hit.lab for hit in hits]))
    closest = hits[int(np.argmin([d + 0.05 * len(table.stack(hit)) for d, hit in zip(off, hits, strict=True)]))]
    limit = max(float(off.min()) + 1.5, _GOOD_ENOUGH)
    passable = [hit for hit, d in zip(hits, off, strict=True) if d <= limit] or list(hits)
    fewest = min(passable, key=lambda hit: (len(table.sticks(hit)), hit.cost))
    finished = any(hit.stack for hit in hits)
    freer = (_freer_of(table, wanted, in_use, hits) if finished else _freer(table, wanted, in_use)) or fewest
    found, seen = [], set()
    for kind, hit in zip(KINDS, (closest, fewest, freer), strict=True):
        if table.stack(hit) not in seen:
            seen.add(table.stack(hit))
            found.append(Answer(kind, hit))
    return tuple(found)


def _freer_of(table: Table, target: Floats, in_use: Collection[int], hits: Sequence[Found]) -> Found | None:
    """Of stacks with passes that the search does not lay, the one of the right value with the fewest fresh sticks."""
    right = [hit for hit in hits if abs(hit.lab[0] - target[0]) <= _SAME_VALUE_L]
    return min(right, key=lambda hit: (len(table.sticks(hit) - set(in_use)), hit.cost), default=None)


def _freer(table: Table, target: Floats, in_use: Collection[int]) -> Found | None:
    """The right value to about a seventh of a step; hue and chroma count little, sticks that are in use much."""
    n_actions = len(table.box.actions)
    best: Found | None = None
    fresh = np.full(len(table.box.sticks), 2 * STICK_COST)
    fresh[list(in_use)] = 0.0
    for pool, deep in ((table.ones, False), (table.twos, True)):
        low, high = np.searchsorted(pool.labs[:, 0], [target[0] - _SAME_VALUE_L, target[0] + _SAME_VALUE_L])
        labs = pool.labs[low:high].astype(float)
        if not len(labs):
            continue
        off = np.linalg.norm(labs[:, 1:] - target[1:], axis=1)
        blocks, actions = np.divmod(pool.positions[low:high], n_actions)
        last = actions if deep else pool.positions[low:high]
        first = table.openings[blocks] if deep else last
        new = fresh[table.stick_of[first]] + np.where(
            table.stick_of[first] == table.stick_of[last], 0.0, fresh[table.stick_of[last]]
        )
        costs = _FREE_HUE * np.maximum(off - 2.0, 0.0) + pool.penalties[low:high] + new
        costs[off > 2 * _FREER_BY] = np.inf
        at = int(np.argmin(costs))
        if np.isfinite(costs[at]) and (best is None or costs[at] < best.cost):
            path = (int(first[at]), int(last[at])) if deep else (int(last[at]),)
            lightness, a, b = (float(v) for v in labs[at])
            best = Found(path, (lightness, a, b), float(costs[at]))
    return best
