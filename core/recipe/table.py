"""All stacks of up to two passes, and what must lie under a last pass so that it ends at a colour."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, xyz_to_lab
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, STEADY, Box, Hand, Pass
from core.optics.spectra import N_BANDS, WEIGHTS, reflectance_to_lab
from core.optics.stack import HANDS
from core.recipe.cost import LAYER_COST, action_costs
from core.recipe.doubts import Doubts
from core.recipe.end import End
from core.recipe.ground_effects import GroundEffects, inverted
from core.recipe.pool import Pool, forms_at
from core.recipe.rules import Rules

_CHUNK, _PART, _SEEN_AT_ONCE = 16, 1024, 8192
"""How many states, stacks and colours are worked out at once: what the processor's caches hold. Measured."""
_FEW_ACTIONS = 400
"""A tray with no more than these is small: more is followed up there, since it costs little."""
_QUERIES, _USUAL_TARGETS = 60_000, 24
"""How many questions to the trees of colours a search of a usual piece may cost: one a target, action and class. The
more actions, the fewer classes of tooth, so that the time stays about the same."""
_FEWEST_CLASSES, _MOST_CLASSES, _CLASSES_OF_FEW = 2, 8, 16
_NEIGHBOURS_BY_PAIRS = 1_200_000
_FEWEST_NEIGHBOURS, _MOST_NEIGHBOURS = 4, 40
"""Grounds looked at around each that is wanted. Grounds grow with the square of the actions, and lie the denser."""
_MOST_GROUNDS, _SPREAD_GROUNDS = 60_000, 20_000
"""More grounds than the first are thinned out to about the second."""
_FOLLOWED_UP, _FOLLOWED_UP_OF_FEW, _WORTH = 4.0, 8.0, 1.5
"""By how much a third pass may seem to cost more than the best known and still be corrected, and at last worked out."""
_LEARNT_FROM = 32
"""From how many stacks, of each depth, the effect of the actions is learnt."""
_ROUGHLY = 1.0
"""A ground up to twice as far away as the nearest will do: it is corrected afterwards, and found much sooner."""
_SCALE = np.array([1.6, 1.0, 1.0])
"""A step of lightness against one of a or b, among grounds."""
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
    def grounds(self) -> _Grounds:
        """The stacks of two passes as grounds for a third."""
        return _Grounds(self)


@dataclass(frozen=True, slots=True)
class _Class:
    """Grounds that leave about as much tooth: their indices, a tree of their colours, what the actions do to them."""

    members: NDArray[np.intp]
    tree: cKDTree
    matrix: Floats
    inverse: Floats
    offset: Floats


class _Grounds:
    """What must lie under a last pass, so that it ends at a target.

    What each action does to the colour beneath is learnt from stacks of two and three passes. Turned round, it names
    the ground that is wanted, and the nearest of the stacks of two are candidates. They are then worked out exactly,
    so that the approximation only decides who is looked at.
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
        self.penalties = table.twos.penalties[order]
        tooth = table.box.tooth_left_at(self.deposits)
        # Where no tooth is left a pass changes nothing, and its effect could not be turned round.
        usable = np.flatnonzero(tooth >= max(table.rules.least_tooth, 1e-6))
        by_tooth = usable[np.argsort(tooth[usable], kind="stable")]
        self.effects = self._learnt(by_tooth)
        self.classes = []
        classes = _CLASSES_OF_FEW
        if n_actions > _FEW_ACTIONS:
            classes = int(np.clip(_QUERIES // (_USUAL_TARGETS * n_actions), _FEWEST_CLASSES, _MOST_CLASSES))
        # Equally many grounds a class: within one the effect of an action is taken as the same for all.
        for members in np.array_split(by_tooth, classes):
            if len(members):
                matrix, offset = self.effects.at(float(np.median(tooth[members])))
                tree = cKDTree(self.labs[members] * _SCALE)
                self.classes.append(_Class(members, tree, matrix, inverted(matrix), offset))

    def _learnt(self, by_tooth: NDArray[np.intp]) -> GroundEffects:
        """What each action changes, of stacks of one pass and of two."""
        table = self.table
        first = table.openings[_spaced(len(table.openings))]
        some = by_tooth[_spaced(len(by_tooth))]
        before = np.concatenate([table.first_labs[first].astype(float), self.labs[some]])
        roots = np.concatenate([table.roots[first], self.roots[some]])
        deposits = np.concatenate([table.deposits[first], self.deposits[some]])
        tooth, after = table.box.tooth_left_at(deposits), table.over(roots, deposits).astype(float)
        return GroundEffects(before, tooth, after)

    def under(self, targets: Floats, so_far: Floats) -> NDArray[np.intp]:
        """Pairs (n, 2) of a ground (index into `paths`) and a last action (index) that may end near a target.

        so_far (m,): the least cost known for each target; what will probably cost much more is not followed up.
        """
        near = [self._under(part, targets, so_far) for part in self.classes]
        return np.concatenate(near) if near else np.empty((0, 2), dtype=np.intp)

    def _under(self, part: _Class, targets: Floats, so_far: Floats) -> NDArray[np.intp]:
        table, n_actions = self.table, len(self.table.box.actions)
        most = int(np.clip(_NEIGHBOURS_BY_PAIRS // n_actions**2, _FEWEST_NEIGHBOURS, _MOST_NEIGHBOURS))
        corrections, patience = (2, _FOLLOWED_UP_OF_FEW) if n_actions <= _FEW_ACTIONS else (1, _FOLLOWED_UP)
        which, action = np.divmod(np.arange(len(targets) * n_actions), n_actions)
        base = targets.take(which, axis=0)
        seen = np.einsum("aji,tj->tai", part.matrix, targets).reshape(-1, 3) + part.offset.take(action, axis=0)
        # `seen` is what a target would become under an action, were the target itself the ground. What that misses of
        # the target, carried back through the action, is how the ground must differ from it: a step of Newton's.
        forms, pairs = forms_at(targets), []

        def promising(labs: Floats, slack: float = patience) -> NDArray[np.intp]:
            moved = np.einsum("nj,njk->nk", labs - targets.take(which, axis=0), forms.take(which, axis=0))
            costs = np.sqrt(np.einsum("nj,nj->n", moved, moved)) + self.penalties[ground] + table.costs[action]
            return np.flatnonzero(costs < so_far[which] + slack)

        for turn in range(corrections):
            wanted = base + np.einsum(
                "nij,nj->ni", part.inverse.take(action, axis=0), targets.take(which, axis=0) - seen
            )
            _, near = part.tree.query(wanted * _SCALE, eps=_ROUGHLY)
            ground = part.members[near]
            if turn == 0:
                # Foreseen linearly, most pairs are hopeless already: they are dropped before the exact model is asked.
                kept = promising(
                    np.einsum("nji,nj->ni", part.matrix.take(action, axis=0), self.labs.take(ground, axis=0))
                    + part.offset.take(action, axis=0)
                )
                which, action, ground = which[kept], action[kept], ground[kept]
            # The next correction starts from what the exact model says of the ground found, not from the linear guess.
            roots, _ = table.advance(self.roots.take(ground, axis=0), self.deposits[ground], action)
            seen = table.labs_of(roots).astype(float)
            kept = promising(seen)
            which, action, ground, seen = which[kept], action[kept], ground[kept], seen[kept]
            base = self.labs.take(ground, axis=0)
            pairs.append(np.column_stack([ground, action]))
        wanted = base + np.einsum("nij,nj->ni", part.inverse.take(action, axis=0), targets.take(which, axis=0) - seen)
        # Around the corrected ground several are followed up: a cheaper or a nearer one may stand beside the nearest.
        # Each is foreseen by its distance from the one worked out, and only what seems worth it is kept.
        count = min(most, len(part.members))
        _, near = part.tree.query(wanted * _SCALE, count)
        ground = part.members[near.reshape(-1, count)]
        moved = np.einsum(
            "nkj,nji->nki", self.labs.take(ground, axis=0) - base[:, None], part.matrix.take(action, axis=0)
        )
        seen, ground = (seen[:, None] + moved).reshape(-1, 3), ground.ravel()
        which, action = np.repeat(which, count), np.repeat(action, count)
        kept = promising(seen, _WORTH)
        pairs.append(np.column_stack([ground[kept], action[kept]]))
        return np.concatenate(pairs)

    def stacks(self, targets: Floats, so_far: Floats) -> tuple[Pool, NDArray[np.intp]]:
        """Stacks of three passes that may end near any of the targets, worked out, and their paths; see `under`."""
        table, n_actions = self.table, len(self.table.box.actions)
        # One number a pair: what several targets or classes ask for is worked out once.
        keys = np.unique(self.under(targets, so_far) @ [n_actions, 1])
        ground, action = np.divmod(keys, n_actions)
        before = self.paths[ground]
        stick, sticks = table.stick_of[action], table.stick_of[before]
        allowed = table.rules.follow[sticks[:, 1], stick] & table.rules.later[action]
        if table.box.once_a_stick:
            allowed &= sticks[:, 0] != stick
        ground, action, before = ground[allowed], action[allowed], before[allowed]
        roots, _ = table.advance(self.roots.take(ground, axis=0), self.deposits[ground], action)
        penalties = self.penalties[ground] + table.costs[action]
        return Pool(table.labs_of(roots), penalties), np.column_stack([before, action])


def _spread_out(twos: Pool) -> NDArray[np.intp]:
    """All the stacks; of very many, about _SPREAD_GROUNDS, each the cheapest of a small cell of colour."""
    if len(twos) <= _MOST_GROUNDS:
        return np.arange(len(twos))
    # A cell is about as large as the choosing difference hardly feels (lightness counts double there), and gets one
    # number, so that sorting by cost and keeping the first of each number gives the cheapest of every cell.
    cells = np.floor(twos.labs / [0.8, 1.6, 1.6]).astype(np.int64) @ np.array([1_000_000, 1000, 1])
    by_cost = np.argsort(twos.penalties)
    _, first = np.unique(cells[by_cost], return_index=True)
    return np.sort(by_cost[first])[:: max(1, len(first) // _SPREAD_GROUNDS)]


def _spaced(count: int) -> NDArray[np.intp]:
    """At most _LEARNT_FROM places among so many, evenly spaced."""
    return np.linspace(0, count - 1, min(_LEARNT_FROM, count)).astype(np.intp)
