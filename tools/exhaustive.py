"""Every stack of up to three passes, one by one: what the search and the choice are measured against.

The same cost, worked out for all stacks: distance, layers, condition, the hand's variation, and for the whole
piece the sticks that it needs.
"""

from __future__ import annotations

import numpy as np

from core.optics.medium import PRESSURES, Box, Pass
from core.optics.stack import colours_after
from core.recipe.cost import CHOOSING_K_L, SENSITIVITY_COST, STICK_COST, action_costs, colour_cost
from core.recipe.table import Found, Path, Table

_MOST_S_L = 1.75


def exact_cost(box: Box, path: Path, target: np.ndarray) -> float:
    """Cost of one stack by the exact model, without that of the hand."""
    actions = [box.actions[i] for i in path]
    passes = [Pass(box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique) for a in actions]
    return float(colour_cost(target, colours_after(box, passes)[-1]) + action_costs(box)[list(path)].sum())


class Exhaustive:
    """All stacks of a tray without any rules. costs (m, sets): for each target and each set of at most three
    sticks the least cost of a stack that holds just these. masks (sets,): the sets, one bit a stick."""

    def __init__(self, table: Table, targets: np.ndarray, max_passes: int = 3, hand_counts: bool = True) -> None:
        self.table, self.targets = table, targets
        n = len(table.box.sticks)
        alone = [1 << i for i in range(n)]
        every = {a | b | c for a in alone for b in alone for c in alone}
        self.masks = np.array(sorted(every))
        self.costs = np.full((len(targets), len(self.masks)), np.inf)
        self._sensitivity = SENSITIVITY_COST if hand_counts else 0.0
        actions = np.arange(len(table.box.actions))
        self._take(actions[:, None])
        for first in actions:
            if max_passes > 1:
                self._take(np.column_stack([np.full_like(actions, first), actions]))
            if max_passes > 2:
                second, third = (grid.ravel() for grid in np.meshgrid(actions, actions, indexing="ij"))
                self._take(np.column_stack([np.full_like(second, first), second, third]))

    def _take(self, paths: np.ndarray) -> None:
        table = self.table
        labs = table.labs_of(table.run(paths)[0]).astype(float)
        costs = table.costs[paths].sum(axis=1).astype(float)
        if self._sensitivity:
            costs += self._sensitivity * table.tolerances(paths)
        sets = np.searchsorted(self.masks, np.bitwise_or.reduce(1 << table.stick_of[paths], axis=1))
        for best, target in zip(self.costs, self.targets, strict=True):
            # CIEDE2000 is never less than its lightness term alone, so this leaves out nothing that could win.
            least = np.abs(labs[:, 0] - target[0]) / (CHOOSING_K_L * _MOST_S_L) + costs
            near = np.flatnonzero(least < best[sets])
            np.minimum.at(best, sets[near], colour_cost(target, labs[near]) + costs[near])

    def per_spot(self) -> np.ndarray:
        """Least cost (m,) of each target by itself."""
        return np.asarray(self.costs.min(axis=1))

    def of_piece(self) -> float:
        """Least cost of all targets together, by trying every set of sticks."""
        n = len(self.table.box.sticks)
        total = np.zeros(1 << n, dtype=np.float32)
        for row in self.costs:
            within = np.full(1 << n, np.inf, dtype=np.float32)
            within[self.masks] = row
            for bit in range(n):
                halves = within.reshape(-1, 2, 1 << bit)
                np.minimum(halves[:, 1], halves[:, 0], out=halves[:, 1])
            total += within
        for bit in range(n):
            total.reshape(-1, 2, 1 << bit)[:, 1] += STICK_COST
        return float(total.min())


def piece_cost(table: Table, chosen: list[Found | None]) -> float:
    """What a choice costs, with the sticks that it needs."""
    hits = [hit for hit in chosen if hit]
    sticks = {stick for hit in hits for stick in table.sticks(hit)}
    return sum(hit.cost for hit in hits) + STICK_COST * len(sticks)
