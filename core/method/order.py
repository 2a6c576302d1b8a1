"""The work sheet: every pass of the piece, with as few changes of stick as the method allows."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from core.method.method import Method
from core.optics.medium import Pass

_BEAM = 64

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


@dataclass(frozen=True, slots=True)
class _Node:
    positions: Positions
    sticks: tuple[str, ...]


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
        sticks = _shortest([[job.pass_.stick for job in queue] for queue in queues], last, preference)
        fewest += _bound([[job.pass_.stick for job in queue] for queue in queues], (0,) * len(queues)) - (
            stage != stages[0]
        )
        for stick in sticks:
            jobs = [job for queue in queues for job in _take(queue, stick)]
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


def _advance(queues: list[list[str]], positions: Positions, stick: str) -> Positions:
    moved = []
    for queue, position in zip(queues, positions, strict=True):
        while position < len(queue) and queue[position] == stick:
            position += 1
        moved.append(position)
    return tuple(moved)


def _bound(queues: list[list[str]], positions: Positions) -> int:
    """No order needs fewer pick-ups: each stick as often as one recipe alone asks for it."""
    needed: dict[str, int] = {}
    for queue, position in zip(queues, positions, strict=True):
        runs: dict[str, int] = {}
        for i in range(position, len(queue)):
            if i == position or queue[i] != queue[i - 1]:
                runs[queue[i]] = runs.get(queue[i], 0) + 1
        for stick, count in runs.items():
            needed[stick] = max(needed.get(stick, 0), count)
    return sum(needed.values())


def _shortest(queues: list[list[str]], last: str, preference: Callable[[str], float]) -> tuple[str, ...]:
    """Sticks in the order to pick them up: a shortest common supersequence, by beam search."""
    start = (0,) * len(queues)
    nodes = [_Node(_advance(queues, start, last), (last,) if last else ())]
    while True:
        done = [node for node in nodes if all(p == len(q) for p, q in zip(node.positions, queues, strict=True))]
        if done:
            return done[0].sticks
        following: dict[Positions, _Node] = {}
        for node in nodes:
            nexts = {queue[p] for queue, p in zip(queues, node.positions, strict=True) if p < len(queue)}
            for stick in sorted(nexts, key=lambda code: (preference(code), code)):
                positions = _advance(queues, node.positions, stick)
                following.setdefault(positions, _Node(positions, (*node.sticks, stick)))
        nodes = sorted(following.values(), key=lambda node: (_bound(queues, node.positions), -sum(node.positions)))[
            :_BEAM
        ]
