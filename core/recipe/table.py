"""All stacks of up to two passes, with what they cost, what can be reached and how they may end."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, xyz_to_lab
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, STEADY, Box, Hand, Pass
from core.optics.spectra import N_BANDS, WEIGHTS, reflectance_to_lab
from core.optics.stack import HANDS
from core.recipe.cost import LAYER_COST, action_costs
from core.recipe.doubts import Doubts
from core.recipe.end import End
from core.recipe.grounds import Grounds
from core.recipe.pool import Pool
from core.recipe.rules import Rules

_CHUNK, _PART, _SEEN_AT_ONCE = 16, 1024, 8192
"""How many states, stacks and colours are worked out at once: what the processor's caches hold. Measured."""
_WEIGHTS32 = WEIGHTS.astype(np.float32)

Path = tuple[int, ...]


_LOOKED_AT, _OUTERMOST, _DEEPENED, _ROOM_FOR_TWO = 2000, 12, 2, 0.3
"""To tell what can be reached, the darkest and the lightest few stacks that leave some tooth, and that leave this much,
are deepened so often."""


class Found(NamedTuple):
    """One stack: indices of its actions in the box, its CIELAB (single precision) and its cost. stack: all of its
    passes, if there are others than those actions."""

    path: Path
    lab: tuple[float, float, float]
    cost: float
    stack: tuple[Pass, ...] = ()


@dataclass(frozen=True, slots=True)
class Ended:
    """Stacks of one kind that end alike: paths (n, depth) of what the search lays, its colour, and that of the end."""

    paths: NDArray[np.intp]
    labs: Floats
    pool: Pool


class Table:
    """All stacks of one and of two passes that the rules allow, whatever the targets will be.

    Worth keeping: it depends on the sticks, the paper and the rules alone.
    """

    def __init__(self, box: Box, rules: Rules) -> None:
        self.box, self.rules = box, rules
        self.stick_of = np.array([action.stick for action in box.actions], dtype=np.intp)
        self.costs = (action_costs(box) + rules.surcharge[self.stick_of]).astype(np.float32)
        blank, bare = box.blank()
        # States are kept as what the box goes on from: a pass more costs one step, never the whole stack again.
        roots, self.deposits = box.expand(blank, bare)
        self.roots = roots[0]
        self.first_labs = self.labs_of(self.roots)
        first_cost = np.where(rules.first, self.costs, np.inf).astype(np.float32)
        self.ones = Pool(self.first_labs, first_cost)
        self.openings = np.flatnonzero(rules.first)
        deposits = self.deposits[self.openings]
        follow = rules.follow[self.stick_of[self.openings]]
        labs = self.over(self.roots[self.openings], deposits, follow)
        penalties = np.where(
            self.may_follow(self.openings, deposits), first_cost[self.openings, None] + self.costs, np.inf
        )
        self.twos = Pool(labs.reshape(-1, 3), penalties.reshape(-1).astype(np.float32))
        self._ended: dict[End, tuple[Ended, ...]] = {}

    @cached_property
    def doubts(self) -> Doubts:
        """What is not known of the sticks."""
        return Doubts(self.box)

    def may_follow(self, last: NDArray[np.intp], deposits: Floats) -> NDArray[np.bool_]:
        """(g, len(actions)): which actions may come after states made by the actions `last` (g,)."""
        allowed = self.rules.follow[self.stick_of[last]][:, self.stick_of] & self.rules.later
        return allowed & (self.box.tooth_left_at(deposits) >= self.rules.least_tooth)[:, None]

    def deepen(self, paths: NDArray[np.intp]) -> Pool:
        """Every allowed action over the stacks of some paths (g, depth); path g starts at position g·len(actions)."""
        roots, deposits = self.run(paths)
        return Pool(self.over(roots, deposits).reshape(-1, 3), self.penalties_after(paths, deposits).reshape(-1))

    def penalties_after(self, paths: NDArray[np.intp], deposits: Floats) -> NDArray[np.float32]:
        """Costs (g, len(actions)) of the passes, with each action after these paths; inf where it must not follow."""
        allowed = self.may_follow(paths[:, -1], deposits)
        if self.box.once_a_stick:
            used = self.stick_of[paths][:, :, None] == self.stick_of
            allowed &= ~used.any(axis=1)
        costs = self.costs[paths].sum(axis=1)[:, None] + self.costs
        return np.where(allowed, costs, np.inf).astype(np.float32)

    def over(
        self, roots: NDArray[np.float32], deposits: Floats, follow: NDArray[np.bool_] | None = None
    ) -> NDArray[np.float32]:
        """CIELAB (g, len(actions), 3) of every action over every state.

        follow (g, n): the sticks that may go over each; others need not be worked out, and are NaN then.
        """
        labs = np.full((len(roots), len(self.box.actions), 3), np.nan, dtype=np.float32)
        # The box works out all actions of a stick over all states of one deposit in a single product of matrices. So
        # states are sorted by deposit first, then by how many sticks may follow, that few are worked out in vain.
        every = np.unique(self.stick_of)
        wanted = np.ones((len(roots), len(self.box.sticks)), dtype=bool) if follow is None else follow
        _, group = np.unique(np.round(deposits, 9), return_inverse=True)
        order = np.lexsort((wanted.sum(axis=1), group))
        alike = np.split(order, np.flatnonzero(np.diff(group[order])) + 1)
        for chunk in [members[i : i + _CHUNK] for members in alike for i in range(0, len(members), _CHUNK)]:
            sticks = every[wanted[chunk][:, every].any(axis=0)]
            actions = np.flatnonzero(np.isin(self.stick_of, sticks))
            after, _ = self.box.expand(roots.take(chunk, axis=0), float(deposits[chunk[0]]), sticks)
            labs[chunk[:, None], actions] = self.labs_of(after)
        return labs

    def advance(
        self, roots: NDArray[np.float32], deposits: Floats, actions: NDArray[np.intp]
    ) -> tuple[NDArray[np.float32], Floats]:
        """As the box does it, in parts that the processor's caches can hold."""
        parts = [slice(i, i + _PART) for i in range(0, max(len(roots), 1), _PART)]
        done = [self.box.advance(roots[part], deposits[part], actions[part]) for part in parts]
        return np.concatenate([part[0] for part in done]), np.concatenate([part[1] for part in done])

    def labs_of(self, roots: NDArray[np.float32]) -> NDArray[np.float32]:
        """CIELAB (…, 3) of the search's roots."""
        # Single precision halves what goes through the caches; what is shown is worked out anew in double.
        flat = roots.reshape(-1, roots.shape[-1])
        labs = np.empty((len(flat), 3), dtype=np.float32)
        for i in range(0, len(flat), _SEEN_AT_ONCE):
            part = slice(i, i + _SEEN_AT_ONCE)
            labs[part] = xyz_to_lab(self.box.seen(flat[part]).astype(np.float32, copy=False) @ _WEIGHTS32)
        return labs.reshape(*roots.shape[:-1], 3)

    def run(self, paths: NDArray[np.intp]) -> tuple[NDArray[np.float32], Floats]:
        """Roots and deposits of paths (g, depth), all of one depth."""
        roots, deposits = self.roots.take(paths[:, 0], axis=0), self.deposits[paths[:, 0]]
        for column in paths[:, 1:].T:
            roots, deposits = self.advance(roots, deposits, column)
        return roots, deposits

    def tolerances(self, paths: NDArray[np.intp]) -> Floats:
        """Mean CIEDE2000 (g,) by which a hand's variation moves the colours of paths (g, depth)."""

        def seen(hand: Hand) -> Floats:
            blank, bare = self.box.blank()
            roots, deposits = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
            for column in paths.T:
                roots, deposits = self.box.advance(roots, deposits, column, hand)
            return self.labs_of(roots).astype(float)

        planned, *moved = map(seen, (STEADY, *HANDS))
        return np.asarray(np.mean(ciede2000(planned, np.array(moved)), axis=0))

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
            and (self.box.tooth_left_at(deposits) >= self.rules.least_tooth).all()
        )

    def passes(self, path: Path) -> tuple[Pass, ...]:
        """A path as passes."""
        actions = [self.box.actions[i] for i in path]
        return tuple(
            Pass(self.box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique) for a in actions
        )

    def stack(self, found: Found) -> tuple[Pass, ...]:
        """All passes of a stack."""
        return found.stack or self.passes(found.path)

    def sticks(self, found: Found) -> frozenset[int]:
        """The sticks of the box (indices) that a stack holds."""
        if not found.stack:
            return frozenset(self.stick_of[list(found.path)].tolist())
        used = {pass_.stick for pass_ in found.stack}
        return frozenset(i for i, stick in enumerate(self.box.sticks) if stick.code in used)

    def lightness_reach(self) -> tuple[float, float]:
        """Darkest and lightest L* of stacks of up to four passes, the bare paper included: of all stacks of two, and of
        what deepens the darkest and lightens the lightest of them most."""
        return self._reach

    @cached_property
    def _reach(self) -> tuple[float, float]:
        paper = float(xyz_to_lab(self.box.support.reflectance() @ WEIGHTS)[0])
        ends = []
        for which in (0, -1):
            held = [float(pool.lightness[which]) for pool in (self.ones, self.twos) if len(pool)]
            pool, paths = self.twos, self.openings[:, None]
            for _ in range(_DEEPENED):
                paths = self._outermost(pool, paths, which)
                pool = self.deepen(paths) if len(paths) else self.ones
                if not len(paths) or not len(pool):
                    break
                held.append(float(pool.lightness[which]))
            ends.append(held)
        return min(ends[0]), max([*ends[1], paper])

    def _outermost(self, pool: Pool, below: NDArray[np.intp], which: int) -> NDArray[np.intp]:
        """The darkest (0) or the lightest (−1) few stacks of a pool that leave tooth for more, as paths. below (g, …):
        what its stacks are laid over, one block of actions each."""
        row, action = np.divmod(pool.positions[:: 1 if which == 0 else -1][:_LOOKED_AT], len(self.box.actions))
        paths = np.column_stack([below[row], action])
        left = self.box.tooth_left_at(self.run(paths)[1])
        some = [np.flatnonzero(left >= least)[:_OUTERMOST] for least in (self.rules.least_tooth, _ROOM_FOR_TWO)]
        return np.asarray(paths[np.unique(np.concatenate(some))])

    def ended(self, end: End) -> tuple[Ended, ...]:
        """The stacks of one and of two passes after this end, worked out by the exact model, and kept."""
        if end not in self._ended:
            singles = self.openings[:, None]
            self._ended[end] = tuple(self._ended_by(end, paths) for paths in (singles, self.grounds.paths))
        return self._ended[end]

    def _ended_by(self, end: End, paths: NDArray[np.intp]) -> Ended:
        box = self.box
        if end.stick and end.stick not in box.sticks:
            # Put last, it leaves the actions of the others where they are.
            box = get_medium(end.stick.medium).prepare((*box.sticks, end.stick), box.support)
        laid = np.array([action.technique == "lay" for action in box.actions])
        # An end that is a pass of its own goes over any stack; one that changes how the last pass is done only where
        # that was plainly laid, over enough below it.
        paths = paths if end.added else paths[laid[paths[:, -1]] & (paths.shape[1] > end.over)]
        costs = self.costs[paths].sum(axis=1) + (LAYER_COST if end.added else 0.0)
        roots, deposits = self.run(paths)
        if end.added and end.added.technique == "wet":
            costs[box.tooth_left_at(deposits) < self.rules.least_tooth] = np.inf
        if end.added:
            seen = box.reflectance(box.apply(box.pile(paths), end.added)) if len(paths) else np.empty((0, N_BANDS))
        else:
            # One call an action instead of one a stack: what lies below differs, what is done on top does not.
            seen = np.empty((len(paths), N_BANDS))
            below = box.pile(paths[:, :-1])
            for action in np.unique(paths[:, -1]):
                rows = np.flatnonzero(paths[:, -1] == action)
                (pass_,) = self.passes((int(action),))
                seen[rows] = box.reflectance(box.apply(box.rows(below, rows), replace(pass_, technique=end.last)))
        pool = Pool(reflectance_to_lab(seen).astype(np.float32), costs.astype(np.float32))
        return Ended(paths, self.labs_of(roots).astype(float), pool)

    @cached_property
    def grounds(self) -> Grounds:
        """The stacks of two passes as grounds for a third."""
        return Grounds(self)
