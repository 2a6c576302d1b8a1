"""Recipes with passes that the search does not lay itself: what ends them, and what is to stay as it is."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import TOOLS, Pass
from core.optics.stack import colours_of, states_after
from core.optics.stick import Stick
from core.recipe.cost import LAYER_COST, SENSITIVITY_COST, colour_cost
from core.recipe.end import End
from core.recipe.rules import LEAST_TOOTH
from core.recipe.table import Found, Table

FINISHES = {
    "layer": "only layered",
    "burnish": "burnished at the end",
    "smudge": "rubbed together at the end",
    "wet": "last coat worked in wet",
}
PALE_ABOVE_L, PALE_BELOW_C = 84.0, 22.0
_MOST_BURNISHERS = 3
_TRIED, _LISTED, _KEPT = 8, 24, 24
_MORE_ROUNDS, _NEAR_ENOUGH = 2, 1.0
_NEED_TOOTH = ("lay", "glaze", "wet")

Stack = tuple[Pass, ...]
Way = Callable[[Stack], Stack]
"""What becomes of a stack, such as one more pass over it."""
Search = Callable[[Sequence[int], Floats], list[list[Found]]]
"""The best stacks for some targets (their indices), aimed at these colours instead."""


def burnishers(sticks: Sequence[Stick]) -> tuple[Stick, ...]:
    """What may burnish: a colourless blender if there is one, then the palest sticks."""
    pale = [
        stick
        for stick in sticks
        if not stick.colourless and stick.lab[0] >= PALE_ABOVE_L and np.hypot(*stick.lab[1:]) <= PALE_BELOW_C
    ]
    pale.sort(key=lambda stick: (-stick.lab[0], stick.code))
    return (*_blenders(sticks), *pale)[:_MOST_BURNISHERS]


def _blenders(sticks: Sequence[Stick]) -> tuple[Stick, ...]:
    return tuple(stick for stick in sticks if stick.colourless)[:1]


def ways_to_finish(sticks: Sequence[Stick], finish: str) -> tuple[End, ...]:
    """How recipes may end so with these sticks; none if they are only layered, or if nothing can do it."""
    if finish == "burnish":
        return tuple(End(Pass(stick.code, "heavy", 1, "burnish"), stick) for stick in burnishers(sticks))
    if finish == "smudge":
        rubbed = End(Pass("stump", "medium", 1, "smudge"))
        laid_and_rubbed = "smudge" in get_medium(sticks[0].medium).techniques if sticks else False
        return (End(last="smudge"), rubbed) if laid_and_rubbed else (rubbed,)
    if finish == "wet":
        blended = (End(Pass(stick.code, technique="wet"), stick) for stick in _blenders(sticks))
        return (End(last="wet", over=1), *blended)
    return ()


def apply_endings(
    kit: Kit,
    table: Table,
    targets: Floats,
    lists: Sequence[Sequence[Found]],
    ways: Sequence[Way],
    search: Search,
    kept: Sequence[Stack] = (),
    fits: Callable[[int, list[Found]], list[Found]] = lambda _, hits: hits,
) -> list[list[Found]]:
    """The best stacks for each target (m, 3) after one of these ways, cheapest first; none where none can be.

    For an end all stacks of two are known. Else, and where they do not come near, what a way does to the best stack
    at hand tells which colour it must be given; `search` finds stacks for that, and the best few are worked out.
    kept: passes that must survive as they are, by target; fits: which of the known stacks suit it.
    """
    tried = _Tried(kit, table, targets, search, kept or [()] * len(targets))
    for way in ways:
        if isinstance(way, End):
            for i, rows in enumerate(_nearest_ended(table, targets, way)):
                tried.add(i, rows, fits(i, [row.plain for row in rows]))
        for i, hits in enumerate(lists):
            tried.work_out(i, way, hits[:1], targets[i])
        if not isinstance(way, End):
            tried.search(way, range(len(targets)))
    for _ in range(_MORE_ROUNDS):
        far = [(i, best) for i in range(len(targets)) if (best := tried.best(i)) and _far(best, targets[i])]
        for way in ways:
            tried.search(way, [i for i, best in far if best.way is way])
    return [tried.ranked(i) for i in range(len(targets))]


@dataclass(frozen=True, slots=True)
class _Finished:
    """A stack as the search gave it, and after a way of going on."""

    way: Way
    plain: Found
    found: Found


class _Tried:
    """What has been tried for each target."""

    def __init__(self, kit: Kit, table: Table, targets: Floats, search: Search, kept: Sequence[Stack]) -> None:
        self._kit, self._table, self._targets, self._search, self._kept = kit, table, targets, search, kept
        self._rows: list[list[_Finished]] = [[] for _ in targets]

    def add(self, i: int, rows: Sequence[_Finished], suited: Sequence[Found]) -> None:
        """Rows that are known for a target, as far as their plain stack is suited."""
        self._rows[i] += [row for row in rows if row.plain in suited and _holds(row.found.stack, self._kept[i])]

    def work_out(self, i: int, way: Way, hits: Sequence[Found], aimed: Floats) -> None:
        """Some stacks for a target, found for another colour, after a way of going on."""
        for hit in hits:
            end = _end(self._kit, way(self._table.passes(hit.path)), self._kept[i])
            if end:
                stack, lab = end
                more = LAYER_COST * (len(stack) - len(hit.path))
                cost = hit.cost + more + float(colour_cost(self._targets[i], lab) - colour_cost(aimed, hit.lab))
                self._rows[i].append(_Finished(way, hit, Found(hit.path, lab, cost, stack)))

    def search(self, way: Way, which: Iterable[int]) -> None:
        """Better stacks for some targets, by what the way did to the best that there is."""
        best = {i: row for i in which if (row := self.best(i, way))}
        aims = {i: self._targets[i] - (np.array(row.found.lab) - np.array(row.plain.lab)) for i, row in best.items()}
        if aims:
            for i, hits in zip(aims, self._search(list(aims), np.array(list(aims.values()))), strict=True):
                self.work_out(i, way, hits[:_TRIED], aims[i])

    def best(self, i: int, way: Way | None = None) -> _Finished | None:
        """The cheapest for a target, of one way if need be."""
        return min((row for row in self._rows[i] if way is None or row.way is way), key=_cost, default=None)

    def ranked(self, i: int) -> list[Found]:
        """All for a target, each stack once, cheapest first."""
        by_stack = {row.found.stack: row.found for row in sorted(self._rows[i], key=_cost, reverse=True)}
        return sorted(by_stack.values(), key=lambda hit: (round(hit.cost, 5), hit.path))[:_KEPT]


def _nearest_ended(table: Table, targets: Floats, end: End) -> list[list[_Finished]]:
    """For each target the stacks of one and two passes that end nearest to it."""
    found: list[list[_Finished]] = [[] for _ in targets]
    for ended in table.ended(end):
        nearest = [ended.pool.best(target, _LISTED) for target in targets]
        some = np.unique(np.concatenate([at for at, _, _ in nearest]))
        if not len(some):
            continue
        hand = dict(zip(some.tolist(), (SENSITIVITY_COST * table.tolerances(ended.paths[some])).tolist(), strict=True))
        for held, (at, labs, costs) in zip(found, nearest, strict=True):
            for i, lab, cost in zip(at.tolist(), labs.tolist(), costs.tolist(), strict=True):
                path = tuple(ended.paths[i].tolist())
                plain = Found(path, tuple(ended.labs[i].tolist()), cost)
                held.append(_Finished(end, plain, Found(path, tuple(lab), cost + hand[i], end(table.passes(path)))))
    return found


def _cost(row: _Finished) -> float:
    return row.found.cost


def _far(row: _Finished, target: Floats) -> bool:
    return float(colour_cost(target, row.found.lab)) > _NEAR_ENOUGH


def _holds(stack: Stack, kept: Stack) -> bool:
    """Whether a stack holds these passes in their order."""
    rest = iter(stack)
    return all(pass_ in rest for pass_ in kept)


def _on_bare_paper(first: Pass) -> bool:
    """Whether a first pass would work on what is not there yet."""
    return first.technique == "burnish" or first.stick in TOOLS


def _end(kit: Kit, stack: Stack, kept: Stack) -> tuple[Stack, tuple[float, float, float]] | None:
    """A stack and its colour; None if it cannot be made, makes no sense, or has lost a kept pass."""
    if not _holds(stack, kept) or (stack and _on_bare_paper(stack[0])):
        return None
    try:
        states = states_after(kit, stack)
    except InputError:
        return None
    medium_of = {stick.code: stick.medium for stick in kit.sticks}
    for (below, pass_), state in zip(itertools.pairwise(stack), states[1:], strict=False):
        over_its_own = medium_of.get(below.stick) == medium_of.get(pass_.stick)
        needs_tooth = pass_.technique in _NEED_TOOTH and pass_ not in kept
        if needs_tooth and over_its_own and kit.tooth_left(state) < LEAST_TOOTH:
            return None
    lightness, a, b = (float(v) for v in colours_of(kit, states[-1:])[0])
    return stack, (lightness, a, b)
