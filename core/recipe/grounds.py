"""What must lie under a last pass so that it ends at a colour."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from core.colour.spaces import Floats
from core.recipe.ground_effects import GroundEffects, inverted
from core.recipe.pool import Pool, forms_at

if TYPE_CHECKING:
    from core.recipe.table import Table

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


@dataclass(frozen=True, slots=True)
class _Class:
    """Grounds that leave about as much tooth: their indices, a tree of their colours, what the actions do to them."""

    members: NDArray[np.intp]
    tree: cKDTree
    matrix: Floats
    inverse: Floats
    offset: Floats


class Grounds:
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
