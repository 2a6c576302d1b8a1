"""Recipes with passes that the search does not lay itself: what ends them, and what is to stay as it is."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.kit import Kit
from core.optics.medium import TOOLS, Pass
from core.optics.stack import colours_of, states_after
from core.optics.stick import Stick
from core.recipe.cost import LAYER_COST, SENSITIVITY_COST, colour_cost
from core.recipe.rules import LEAST_ROOM
from core.recipe.search import End, Found, Table

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
_NEED_ROOM = ("lay", "glaze", "wet")

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
        return (End(last="smudge"), End(Pass("stump", "medium", 1, "smudge")))
    if finish == "wet":
        blended = (End(Pass(stick.code, technique="wet"), stick) for stick in _blenders(sticks))
        return (End(last="wet", over=1), *blended)
    return ()


def dressed(
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
    out: list[list[_Dressed]] = [[] for _ in targets]

    def take(i: int, way: Way, hits: Sequence[Found], aimed: Floats) -> None:
        for hit in hits:
            end = _end(kit, way(table.passes(hit.path)), kept[i] if kept else ())
            if end:
                stack, lab = end
                more = LAYER_COST * (len(stack) - len(hit.path))
                cost = hit.cost + more + float(colour_cost(targets[i], lab) - colour_cost(aimed, hit.lab))
                out[i].append(_Dressed(way, hit, Found(hit.path, lab, cost, stack)))

    def aim(i: int, way: Way) -> Floats | None:
        held = min((row for row in out[i] if row.way is way), key=_cost, default=None)
        return targets[i] - (np.array(held.found.lab) - np.array(held.plain.lab)) if held else None

    def search_again(way: Way, which: Iterable[int]) -> None:
        aims = {i: aimed for i in which if (aimed := aim(i, way)) is not None}
        if aims:
            for i, hits in zip(aims, search(list(aims), np.array(list(aims.values()))), strict=True):
                take(i, way, hits[:_TRIED], aims[i])

    for way in ways:
        if isinstance(way, End):
            for i, rows in enumerate(_nearest_ended(table, targets, way)):
                suited = set(fits(i, [row.plain for row in rows]))
                held = kept[i] if kept else ()
                out[i] += [row for row in rows if row.plain in suited and _holds(row.found.stack, held)]
        for i, hits in enumerate(lists):
            take(i, way, hits[:1], targets[i])
        if not isinstance(way, End):
            search_again(way, range(len(targets)))
    for _ in range(_MORE_ROUNDS):
        leading = {i: min(rows, key=_cost) for i, rows in enumerate(out) if rows}
        for way in ways:
            search_again(way, [i for i, row in leading.items() if row.way is way and _far(row, targets[i])])
    ranked = [{row.found.stack: row.found for row in sorted(rows, key=_cost, reverse=True)} for rows in out]
    return [sorted(held.values(), key=lambda hit: (round(hit.cost, 5), hit.path))[:_KEPT] for held in ranked]


@dataclass(frozen=True, slots=True)
class _Dressed:
    """A stack as the search gave it, and after a way of going on."""

    way: Way
    plain: Found
    found: Found


def _nearest_ended(table: Table, targets: Floats, end: End) -> list[list[_Dressed]]:
    """For each target the stacks of one and two passes that end nearest to it."""
    found: list[list[_Dressed]] = [[] for _ in targets]
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
                held.append(_Dressed(end, plain, Found(path, tuple(lab), cost + hand[i], end(table.passes(path)))))
    return found


def _cost(row: _Dressed) -> float:
    return row.found.cost


def _far(row: _Dressed, target: Floats) -> bool:
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
        needs_room = pass_.technique in _NEED_ROOM and pass_ not in kept
        if needs_room and over_its_own and kit.room(state) < LEAST_ROOM:
            return None
    lightness, a, b = (float(v) for v in colours_of(kit, states[-1:])[0])
    return stack, (lightness, a, b)
