"""The search: all stacks of up to two passes, and deeper ones by asking of a last pass what must lie under it."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, xyz_to_lab
from core.optics.medium import PRESSURES, STEADY, Box, Hand, Pass
from core.optics.spectra import WEIGHTS
from core.optics.stack import HANDS
from core.recipe.cost import action_costs
from core.recipe.pool import Pool
from core.recipe.rules import Rules

DEEPEST = 4
_CHUNK = 48
_PART = 4096
_WORKERS = ThreadPoolExecutor(os.cpu_count())
"""NumPy lets go of the interpreter while it works, so that parts of an array are worked out side by side."""
_ALL_THREES = 600_000
_QUERIES = 60_000
_FEWEST_CLASSES, _MOST_CLASSES = 2, 8
_NEIGHBOURS_BY_PAIRS = 1_200_000
_FEW_ACTIONS = 400
_FEWEST_NEIGHBOURS, _MOST_NEIGHBOURS = 2, 40
_MOST_GROUNDS, _SPREAD_GROUNDS = 60_000, 20_000
_USUAL_TARGETS = 24
_DAMPING = 0.002
_SCALE = np.array([1.6, 1.0, 1.0])
_APPENDED_TO = 6
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
        self.first_labs = self.labs_of(self.roots)
        first_cost = np.where(rules.first, self.costs, np.inf).astype(np.float32)
        self.ones = Pool(self.first_labs, first_cost)
        self.openings = np.flatnonzero(rules.first)
        self.over_first = self._over(self.roots[self.openings], self.deposits[self.openings])
        penalties = np.where(
            self.may_follow(self.openings, self.deposits[self.openings]),
            first_cost[self.openings, None] + self.costs,
            np.inf,
        )
        self.twos = Pool(self.over_first.reshape(-1, 3), penalties.reshape(-1).astype(np.float32))

    def may_follow(self, last: NDArray[np.intp], deposits: Floats) -> NDArray[np.bool_]:
        """(g, len(actions)): which actions may come after states made by the actions `last` (g,)."""
        allowed = self.rules.follow[self.stick_of[last]][:, self.stick_of] & self.rules.later
        return allowed & (self.box.room_at(deposits) >= self.rules.least_room)[:, None]

    def deepen(self, paths: NDArray[np.intp]) -> Pool:
        """Every allowed action over the stacks of some paths (g, depth); path g starts at position g·len(actions)."""
        roots, deposits = self.run(paths)
        allowed = self.may_follow(paths[:, -1], deposits)
        if self.box.once_a_stick:
            used = self.stick_of[paths][:, :, None] == self.stick_of
            allowed &= ~used.any(axis=1)
        penalties = np.where(allowed, self.costs[paths].sum(axis=1)[:, None] + self.costs, np.inf)
        return Pool(self._over(roots, deposits).reshape(-1, 3), penalties.reshape(-1).astype(np.float32))

    def _over(self, roots: NDArray[np.float32], deposits: Floats) -> NDArray[np.float32]:
        """CIELAB (g, len(actions), 3) of every action over every state."""
        labs = np.empty((len(roots), len(self.box.actions), 3), dtype=np.float32)
        _, group = np.unique(np.round(deposits, 9), return_inverse=True)
        order = np.argsort(group, kind="stable")
        alike = np.split(order, np.flatnonzero(np.diff(group[order])) + 1)
        chunks = [members[i : i + _CHUNK] for members in alike for i in range(0, len(members), _CHUNK)]

        def expand(chunk: NDArray[np.intp]) -> None:
            labs[chunk] = self.labs_of(self.box.expand(roots[chunk], float(deposits[chunk[0]]))[0])

        list(_WORKERS.map(expand, chunks))
        return labs

    def advance(
        self, roots: NDArray[np.float32], deposits: Floats, actions: NDArray[np.intp], hand: Hand = STEADY
    ) -> tuple[NDArray[np.float32], Floats]:
        """As the box does it, in parts side by side."""
        parts = [slice(i, i + _PART) for i in range(0, max(len(roots), 1), _PART)]
        done = list(_WORKERS.map(lambda p: self.box.advance(roots[p], deposits[p], actions[p], hand), parts))
        return np.concatenate([part[0] for part in done]), np.concatenate([part[1] for part in done])

    def labs_of(self, roots: NDArray[np.float32]) -> NDArray[np.float32]:
        """CIELAB (…, 3) of the search's roots."""
        return np.asarray(xyz_to_lab(self.box.seen(roots).astype(np.float32, copy=False) @ _WEIGHTS32))

    def run(self, paths: NDArray[np.intp], hand: Hand = STEADY) -> tuple[NDArray[np.float32], Floats]:
        """Roots and deposits of paths (g, depth), all of one depth, as this hand lays them."""
        if hand == STEADY:
            roots, deposits = self.roots[paths[:, 0]], self.deposits[paths[:, 0]]
            paths = paths[:, 1:]
        else:
            blank, bare = self.box.blank()
            roots, deposits = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
        for column in paths.T:
            roots, deposits = self.advance(roots, deposits, column, hand)
        return roots, deposits

    def tolerances(self, paths: NDArray[np.intp]) -> Floats:
        """Mean CIEDE2000 (g,) by which a hand's variation moves the colours of paths (g, depth)."""
        planned = self.labs_of(self.run(paths)[0]).astype(float)
        moved = [ciede2000(planned, self.labs_of(self.run(paths, hand)[0]).astype(float)) for hand in HANDS]
        return np.asarray(np.mean(moved, axis=0))

    def allows(self, path: Path) -> bool:
        """Whether the rules allow a stack."""
        sticks = self.stick_of[list(path)]
        if not self.rules.first[path[0]] or not self.rules.later[list(path[1:])].all():
            return False
        if self.box.once_a_stick and len(set(sticks.tolist())) < len(sticks):
            return False
        deposits = np.array([self.run(np.array([path[:n]]))[1][0] for n in range(1, len(path))])
        return bool(
            self.rules.follow[sticks[:-1], sticks[1:]].all()
            and (self.box.room_at(deposits) >= self.rules.least_room).all()
        )

    def passes(self, path: Path) -> tuple[Pass, ...]:
        """A path as passes."""
        actions = [self.box.actions[i] for i in path]
        return tuple(
            Pass(self.box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique) for a in actions
        )

    def lightness_reach(self) -> tuple[float, float]:
        """Darkest and lightest L* of all stacks of up to two passes, the bare paper included."""
        paper = float(xyz_to_lab(self.box.support.reflectance() @ WEIGHTS)[0])
        held = [pool.labs[[0, -1], 0] for pool in (self.ones, self.twos) if len(pool)]
        return min(float(lab[0]) for lab in held), max([float(lab[1]) for lab in held] + [paper])

    @cached_property
    def grounds(self) -> _Grounds:
        """The stacks of two passes as grounds for a third."""
        return _Grounds(self)


class _Grounds:
    """What must lie under a last pass, so that it ends at a target.

    What each action does to the colour beneath is learnt from the stacks of two passes: linear in CIELAB,
    with coefficients that depend on the room left (least squares). Turned round, it names the ground that
    is wanted, and the nearest of the stacks of two are candidates. They are then worked out exactly, so
    that the approximation only decides who is looked at.
    """

    def __init__(self, table: Table) -> None:
        self.table = table
        n_actions = len(table.box.actions)
        blocks, second = np.divmod(table.twos.positions, n_actions)
        first = table.openings[blocks]
        order = _spread_out(table.twos)
        self.paths = np.stack([first, second], axis=1)[order]
        self.roots, self.deposits = table.run(self.paths)
        self.labs = table.labs_of(self.roots).astype(float)
        room = table.box.room_at(self.deposits)
        self.penalties = table.twos.penalties[order]
        fit_room = np.sqrt(table.box.room_at(table.deposits[table.openings]))
        coefficients = _fitted(table.first_labs[table.openings], fit_room, table.over_first)
        usable = np.flatnonzero(room >= max(table.rules.least_room, 1e-6))
        self.classes = []
        classes = int(np.clip(_QUERIES // (_USUAL_TARGETS * n_actions), _FEWEST_CLASSES, _MOST_CLASSES))
        for members in np.array_split(usable[np.argsort(room[usable], kind="stable")], classes):
            if len(members):
                middle = float(np.sqrt(np.median(room[members])))
                points = self.labs[members] * _SCALE
                local = coefficients[:, :4] + middle * coefficients[:, 4:]
                matrix, offset = local[:, :3], local[:, 3]
                self.classes.append((members, cKDTree(points), matrix, _inverted(matrix), offset))

    def under(self, targets: Floats) -> NDArray[np.intp]:
        """Pairs (n, 2) of a ground (index into `paths`) and a last action (index) that may end near a target."""
        n_actions = len(self.table.box.actions)
        every = np.tile(np.arange(n_actions), len(targets))
        wish = np.repeat(targets, n_actions, axis=0)
        last = int(np.clip(_NEIGHBOURS_BY_PAIRS // n_actions**2, _FEWEST_NEIGHBOURS, _MOST_NEIGHBOURS))
        rounds = (1, 1, last) if n_actions <= _FEW_ACTIONS else (1, last)
        pairs = []
        for members, tree, matrix, inverse, offset in self.classes:
            missed = (targets[:, None] - offset - np.einsum("aji,tj->tai", matrix, targets)).reshape(-1, 3)
            base = wish
            for number, count in enumerate(rounds, start=1):
                wanted = base + np.einsum("aij,taj->tai", inverse, missed.reshape(-1, n_actions, 3)).reshape(-1, 3)
                count = min(count, len(members))
                _, near = tree.query(wanted * _SCALE, count, workers=-1)
                ground = members[near.reshape(len(every), -1)]
                pairs.append(np.column_stack([ground.ravel(), np.repeat(every, count)]))
                if number < len(rounds):
                    nearest = ground[:, 0]
                    roots, _ = self.table.advance(self.roots[nearest], self.deposits[nearest], every)
                    base, missed = self.labs[nearest], wish - self.table.labs_of(roots)
        return np.concatenate(pairs) if pairs else np.empty((0, 2), dtype=np.intp)

    def stacks(self, targets: Floats) -> tuple[Pool, NDArray[np.intp]]:
        """Stacks of three passes that may end near any of the targets, worked out, and their paths (n, 3)."""
        table, n_actions = self.table, len(self.table.box.actions)
        keys = np.unique(self.under(targets) @ [n_actions, 1])
        ground, action = np.divmod(keys, n_actions)
        before = self.paths[ground]
        stick, sticks = table.stick_of[action], table.stick_of[before]
        allowed = table.rules.follow[sticks[:, 1], stick] & table.rules.later[action]
        if table.box.once_a_stick:
            allowed &= sticks[:, 0] != stick
        ground, action, before = ground[allowed], action[allowed], before[allowed]
        roots, _ = table.advance(self.roots[ground], self.deposits[ground], action)
        penalties = self.penalties[ground] + table.costs[action]
        return Pool(table.labs_of(roots), penalties), np.column_stack([before, action])


def _spread_out(twos: Pool) -> NDArray[np.intp]:
    """All the stacks; of very many, about _SPREAD_GROUNDS, each the cheapest of a small cell of colour."""
    if len(twos) <= _MOST_GROUNDS:
        return np.arange(len(twos))
    cells = np.floor(twos.labs / [0.8, 1.6, 1.6]).astype(np.int64) @ np.array([1_000_000, 1000, 1])
    by_cost = np.argsort(twos.penalties, kind="stable")
    _, first = np.unique(cells[by_cost], return_index=True)
    return np.sort(by_cost[first])[:: max(1, len(first) // _SPREAD_GROUNDS)]


def _fitted(grounds: Floats, room: Floats, after: NDArray[np.float32]) -> Floats:
    """Coefficients (actions, 8, 3) of the colour after each action: (L, a, b, 1) and those times √room."""
    plain = np.column_stack([grounds, np.ones(len(grounds))])
    features = np.column_stack([plain, plain * room[:, None]]).astype(float)
    found, *_ = np.linalg.lstsq(features, after.reshape(len(grounds), -1).astype(float), rcond=1e-6)
    return np.asarray(found.reshape(8, -1, 3).transpose(1, 0, 2))


def _inverted(matrix: Floats) -> Floats:
    """(actions, 3, 3) by which what was missed above tells how to move the ground; damped least squares."""
    return np.linalg.solve(matrix @ matrix.transpose(0, 2, 1) + _DAMPING * np.eye(3), matrix)


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

    least = float(table.costs.min(initial=0.0))

    def harvest(pool: Pool, paths_at: Callable[[NDArray[np.intp]], NDArray[np.intp]], keep: int) -> NDArray[np.intp]:
        """Notes the best of each target; returns the paths of the best `keep` of every target, each once, as far
        as one more pass could pay for itself."""
        seen = []
        for target, held in zip(wanted, found, strict=True):
            positions, labs, costs = pool.best(target, max(count, keep))
            paths = paths_at(positions)
            best = min([*costs[:1], *(hit.cost for hit in held)], default=0.0)
            if best > (paths.shape[1] + 1) * least:
                seen.append(paths[:keep])
            for path, lab, cost in zip(paths[:count], labs, costs, strict=False):
                lightness, a, b = (float(v) for v in lab)
                held.append(Found(tuple(map(int, path)), (lightness, a, b), float(cost)))
        return np.unique(np.concatenate(seen), axis=0) if seen else np.empty((0, 1), dtype=np.intp)

    harvest(table.ones, lambda at: at[:, None], 0)
    n_actions = len(table.box.actions)
    if max_passes > 1:

        def twos(at: NDArray[np.intp]) -> NDArray[np.intp]:
            return np.stack([table.openings[at // n_actions], at % n_actions], axis=1)

        harvest(table.twos, twos, 0)
    if max_passes > 2 and len(wanted) and len(table.twos):
        beam = harvest(*_threes(table, wanted), _APPENDED_TO)
        if max_passes > 3 and len(beam):
            fours = table.deepen(beam)
            harvest(fours, lambda at: np.column_stack([beam[at // n_actions], at % n_actions]), 0)
    return [sorted(held, key=lambda hit: (round(hit.cost, 5), len(hit.path), hit.path)) for held in found]


def _threes(table: Table, targets: Floats) -> tuple[Pool, Callable[[NDArray[np.intp]], NDArray[np.intp]]]:
    """Stacks of three passes, all of a small tray or those that may end near a target, and their paths by position."""
    n_actions = len(table.box.actions)
    if len(table.twos) * n_actions <= _ALL_THREES:
        blocks, second = np.divmod(np.sort(table.twos.positions), n_actions)
        twos = np.column_stack([table.openings[blocks], second])
        return table.deepen(twos), lambda at: np.column_stack([twos[at // n_actions], at % n_actions])
    pool, paths = table.grounds.stacks(targets)
    return pool, lambda at: paths[at]
