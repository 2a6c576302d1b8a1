"""The search: all stacks of up to two passes, then a beam of the best ones goes deeper."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, xyz_to_lab
from core.optics.medium import PRESSURES, Box, Pass
from core.optics.spectra import WEIGHTS
from core.recipe.cost import action_costs
from core.recipe.pool import Pool
from core.recipe.rules import Rules

DEEPEST = 4
_EXPANSIONS = 500_000
_NARROWEST, _WIDEST = 16, 1000
_CHUNK = 48
_TIE = 1e-6
_MOST_DEPOSITS = 150
_WEIGHTS32 = WEIGHTS.astype(np.float32)

Path = tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Found:
    """One stack: indices of its actions in the box, its CIELAB (single precision) and its cost."""

    path: Path
    lab: tuple[float, float, float]
    cost: float


class Table:
    """All stacks of one and of two passes that the rules allow, whatever the targets will be.

    Worth keeping: it depends on the sticks, the paper and the rules alone.
    """

    def __init__(self, box: Box, rules: Rules) -> None:
        self.box, self.rules = box, rules
        self.stick_of = np.array([action.stick for action in box.actions], dtype=np.intp)
        self.costs = (action_costs(box) + rules.surcharge[self.stick_of]).astype(np.float32)
        blank, bare = box.blank()
        roots, self.deposits = box.expand(blank, bare)
        self.roots = roots[0]
        first_cost = np.where(rules.first, self.costs, np.inf).astype(np.float32)
        self.ones = Pool(self._labs(self.roots), first_cost)
        actions = np.flatnonzero(rules.first)
        self.openings = actions[:, None]
        self.twos = self.deepen(actions, self.roots[actions], self.deposits[actions], first_cost[actions])

    def deepen(
        self, last: NDArray[np.intp], roots: NDArray[np.float32], deposits: Floats, costs: NDArray[np.float32]
    ) -> Pool:
        """Every allowed action over every state; the block of state g starts at position g·len(actions).

        last (g,): the action that made the state; roots (g, 31), deposits (g,), costs (g,).
        """
        n_actions = len(self.box.actions)
        labs = np.empty((len(last), n_actions, 3), dtype=np.float32)
        _, group = np.unique(_alike(deposits), return_inverse=True)
        order = np.argsort(group, kind="stable")
        for members in np.split(order, np.flatnonzero(np.diff(group[order])) + 1):
            for start in range(0, len(members), _CHUNK):
                chunk = members[start : start + _CHUNK]
                if len(chunk):
                    out, _ = self.box.expand(roots[chunk], float(deposits[chunk[0]]))
                    labs[chunk] = self._labs(out)
        allowed = self.rules.follow[self.stick_of[last]][:, self.stick_of] & self.rules.later
        allowed &= (self.box.room_at(deposits) >= self.rules.least_room)[:, None]
        penalties = np.where(allowed, costs[:, None] + self.costs, np.inf).astype(np.float32)
        return Pool(labs.reshape(-1, 3), penalties.reshape(-1))

    def _labs(self, roots: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(xyz_to_lab(self.box.seen(roots).astype(np.float32, copy=False) @ _WEIGHTS32))

    def passes(self, path: Path) -> tuple[Pass, ...]:
        """A path as passes."""
        actions = [self.box.actions[i] for i in path]
        return tuple(Pass(self.box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats) for a in actions)

    def lightness_reach(self) -> tuple[float, float]:
        """Darkest and lightest L* of all stacks of up to two passes, the bare paper included."""
        paper = float(xyz_to_lab(self.box.support.reflectance() @ WEIGHTS)[0])
        held = [pool.labs[[0, -1], 0] for pool in (self.ones, self.twos) if len(pool)]
        return min(float(lab[0]) for lab in held), max([float(lab[1]) for lab in held] + [paper])


def _alike(deposits: Floats) -> Floats:
    """The deposits themselves, or where there are very many of them, those of the nearest of a row of steps:
    few enough to be expanded in groups, while the beam's own colours stay exact."""
    rounded = np.round(deposits, 9)
    if len(np.unique(rounded)) <= _MOST_DEPOSITS:
        return rounded
    step = max(float(np.ptp(deposits)) / _MOST_DEPOSITS, 1e-9)
    return np.asarray(np.round(deposits / step))


def search(table: Table, targets: Floats, max_passes: int = DEEPEST) -> list[Found | None]:
    """The cheapest stack for each target (m, 3) in CIELAB, of at most `max_passes` passes.

    Deterministic. None where the rules allow no stack at all. The cost is
    ΔE00 (k_L = 0.5) + the costs of the passes; see core/recipe/cost.py.
    """
    wanted = np.asarray(targets, dtype=float).reshape(-1, 3)
    n_actions = len(table.box.actions)
    width = int(np.clip(_EXPANSIONS // max(1, n_actions * len(wanted)), _NARROWEST, _WIDEST))
    best: list[Found | None] = [None] * len(wanted)

    def harvest(pool: Pool, parents: NDArray[np.intp]) -> list[Path]:
        """Notes the best of each target and returns the beam: the union of everybody's best."""
        beam: set[Path] = set()
        for i, target in enumerate(wanted):
            positions, labs, costs = pool.best(target, width)
            blocks, actions = np.divmod(positions, n_actions)
            paths = [(*map(int, parents[block]), int(action)) for block, action in zip(blocks, actions, strict=True)]
            beam.update(paths)
            held = best[i]
            if paths and (held is None or costs[0] < held.cost - _TIE):
                lightness, a, b = (float(v) for v in labs[0])
                best[i] = Found(paths[0], (lightness, a, b), float(costs[0]))
        return sorted(beam)

    harvest(table.ones, np.empty((1, 0), dtype=np.intp))
    beam = harvest(table.twos, table.openings) if max_passes > 1 else []
    for _ in range(3, max_passes + 1):
        if not beam:
            break
        paths = np.array(beam, dtype=np.intp)
        roots, deposits = table.roots[paths[:, 0]], table.deposits[paths[:, 0]]
        for column in paths.T[1:]:
            roots, deposits = table.box.advance(roots, deposits, column)
        beam = harvest(table.deepen(paths[:, -1], roots, deposits, table.costs[paths].sum(axis=1)), paths)
    return best
