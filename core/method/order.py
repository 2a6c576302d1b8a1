"""The work sheet: every pass of the piece, with as few changes of stick as the method allows."""

from __future__ import annotations

import heapq
import itertools
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.method.method import Method
from core.optics.medium import Pass

_BEAM = 64
_LOOKED_AT = 600
"""How many states are looked at before a beam search has to do."""
_MOST_PAIRED = 10
"""How many queues are looked at in pairs, the longest first."""

Positions = tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Task:
    """The recipe of one spot, as the sheet sees it."""

    spot: str
    role: str
    passes: tuple[Pass, ...]


@dataclass(frozen=True, slots=True)
class Job:
    """One pass of one spot: `index` counts from 0 within its recipe."""

    spot: str
    index: int
    pass_: Pass


@dataclass(frozen=True, slots=True)
class PickUp:
    """A stick taken in hand once, and everything done with it before it is laid down."""

    stick: str
    stage: int
    jobs: tuple[Job, ...]


@dataclass(frozen=True, slots=True)
class WorkSheet:
    """fewest: a proven lower bound of how often any order must pick a stick up."""

    pick_ups: tuple[PickUp, ...]
    fewest: int


def work_sheet(tasks: Sequence[Task], method: Method, preference: Callable[[str], float]) -> WorkSheet:
    """Merge all recipes into one order.

    Within a recipe passes keep their order; a stage of the method is finished before the next begins.
    `preference` breaks ties: of equally good sticks the one with the lowest number comes first.
    """
    stages = sorted({method.stage(t.role, i) for t in tasks for i in range(len(t.passes))})
    pick_ups: list[PickUp] = []
    fewest = 0
    for stage in stages:
        queues = [
            [Job(t.spot, i, p) for i, p in enumerate(t.passes) if method.stage(t.role, i) == stage] for t in tasks
        ]
        queues = [queue for queue in queues if queue]
        last = pick_ups[-1].stick if pick_ups else ""
        found = shortest_order([[job.pass_.stick for job in queue] for queue in queues], preference, last)
        # A stick that a stage ends with may be the one that the next begins with.
        alone = shortest_order([[job.pass_.stick for job in queue] for queue in queues], preference)
        fewest += alone.fewest - (stage != stages[0])
        for stick in (last, *found.sticks) if last else found.sticks:
            jobs = [job for queue in queues for job in _take(queue, stick)]
            if not jobs:
                continue
            if pick_ups and pick_ups[-1].stick == stick:
                pick_ups[-1] = PickUp(stick, pick_ups[-1].stage, (*pick_ups[-1].jobs, *jobs))
            else:
                pick_ups.append(PickUp(stick, stage, tuple(jobs)))
    return WorkSheet(tuple(pick_ups), max(fewest, len({p.stick for t in tasks for p in t.passes})))


def _take(queue: list[Job], stick: str) -> list[Job]:
    taken = []
    while queue and queue[0].pass_.stick == stick:
        taken.append(queue.pop(0))
    return taken


@dataclass(frozen=True, slots=True)
class Order:
    """sticks: in the order to pick them up; fewest: a proven lower bound of how many any order needs."""

    sticks: tuple[str, ...]
    fewest: int


def shortest_order(
    queues: Sequence[Sequence[str]], preference: Callable[[str], float], in_hand: str = "", looked_at: int = _LOOKED_AT
) -> Order:
    """An order of sticks in which each of the queues is found: a shortest common supersequence of them.

    Equal sticks that follow each other in a queue are one pick-up; `in_hand` is at hand already and costs none.
    `preference`: of equally good sticks the one with the lowest number comes first. Found by A* (Hart, Nilsson and
    Raphael 1968): proven as long as no more than `looked_at` states are looked at, beyond that a beam search goes on.
    """
    runs = _runs([_without_first(queue, in_hand) for queue in queues])
    if not runs:
        return Order((), 0)
    rest = _Rest(runs)
    start = rest.start
    # The nearest to the end first, then the preferred; what is left of all ties is settled by the sticks themselves.
    Entry = tuple[int, int, tuple[float, ...], tuple[str, ...], Positions]
    heap: list[Entry] = [(rest.bound(start), 0, (), (), start)]
    known: dict[Positions, int] = {start: 0}
    for _ in range(looked_at):
        _, _, wishes, sticks, positions = heapq.heappop(heap)
        if rest.is_done(positions):
            return Order(sticks, len(sticks))
        for stick in rest.next_sticks(positions):
            moved = rest.after(positions, stick)
            cost = len(sticks) + 1
            if cost < known.get(moved, cost + 1):
                known[moved] = cost
                entry = (cost + rest.bound(moved), -sum(moved), (*wishes, preference(stick)), (*sticks, stick), moved)
                heapq.heappush(heap, entry)
    return Order(_by_beam(rest, preference), heap[0][0])


def _without_first(queue: Sequence[str], stick: str) -> tuple[str, ...]:
    return tuple(itertools.dropwhile(lambda other: other == stick, queue))


def _runs(queues: Sequence[Sequence[str]]) -> list[tuple[str, ...]]:
    """The queues with equal neighbours joined, but for those that are found in another one."""
    joined = {tuple(stick for stick, _ in itertools.groupby(queue)) for queue in queues}
    by_length = sorted(joined - {()}, key=lambda queue: (-len(queue), queue))
    kept: list[tuple[str, ...]] = []
    for queue in by_length:
        if not any(_is_found_in(queue, other) for other in kept):
            kept.append(queue)
    return kept


def _is_found_in(queue: Sequence[str], other: Sequence[str]) -> bool:
    rest = iter(other)
    return all(stick in rest for stick in queue)


class _Rest:
    """What is left to do of some queues, by how far each of them has come."""

    def __init__(self, queues: list[tuple[str, ...]]) -> None:
        self._queues, self.start = queues, (0,) * len(queues)
        self._counts = [[Counter(queue[i:]) for i in range(len(queue) + 1)] for queue in queues]
        some = range(min(len(queues), _MOST_PAIRED))
        self._pairs = {
            pair: _shortest_of_two(queues[pair[0]], queues[pair[1]]) for pair in itertools.combinations(some, 2)
        }

    def is_done(self, positions: Positions) -> bool:
        return all(p == len(queue) for p, queue in zip(positions, self._queues, strict=True))

    def next_sticks(self, positions: Positions) -> list[str]:
        return sorted({queue[p] for queue, p in zip(self._queues, positions, strict=True) if p < len(queue)})

    def after(self, positions: Positions, stick: str) -> Positions:
        return tuple(
            p + (p < len(queue) and queue[p] == stick) for p, queue in zip(positions, self._queues, strict=True)
        )

    def bound(self, positions: Positions) -> int:
        """No order needs fewer: each stick as often as one queue alone asks for it, and what any two need together."""
        needed: dict[str, int] = {}
        for counts, p in zip(self._counts, positions, strict=True):
            for stick, count in counts[p].items():
                needed[stick] = max(needed.get(stick, 0), count)
        two = (int(lengths[positions[i], positions[j]]) for (i, j), lengths in self._pairs.items())
        return max(sum(needed.values()), *two) if self._pairs else sum(needed.values())


def _shortest_of_two(one: Sequence[str], other: Sequence[str]) -> NDArray[np.intp]:
    """(len(one) + 1, len(other) + 1): the length of the shortest order for what is left from each position on."""
    lengths = np.zeros((len(one) + 1, len(other) + 1), dtype=np.intp)
    lengths[:, -1], lengths[-1] = np.arange(len(one), -1, -1), np.arange(len(other), -1, -1)
    for i in range(len(one) - 1, -1, -1):
        for j in range(len(other) - 1, -1, -1):
            same = one[i] == other[j]
            lengths[i, j] = 1 + (lengths[i + 1, j + 1] if same else min(lengths[i + 1, j], lengths[i, j + 1]))
    return lengths


def _by_beam(rest: _Rest, preference: Callable[[str], float]) -> tuple[str, ...]:
    nodes: list[tuple[Positions, tuple[str, ...]]] = [(rest.start, ())]
    while not any(rest.is_done(positions) for positions, _ in nodes):
        following: dict[Positions, tuple[str, ...]] = {}
        for positions, sticks in nodes:
            for stick in sorted(rest.next_sticks(positions), key=lambda code: (preference(code), code)):
                following.setdefault(rest.after(positions, stick), (*sticks, stick))
        nodes = sorted(following.items(), key=lambda node: (rest.bound(node[0]), -sum(node[0])))[:_BEAM]
    return next(sticks for positions, sticks in nodes if rest.is_done(positions))
