"""Questions about layers that take a while: plain values in and out, so that another process can answer them.

Each process keeps the searches that it works on, so that a question may be answered a part at a time.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import islice
from threading import Lock

from core.layers.curve import MOST
from core.layers.natural import Spot
from core.layers.plan import Expected, Layer, Plan, Plans
from core.plan.edited import Edited, Swap
from core.plan.layered import Planning
from core.plan.questions import Owned
from core.plan.walked import Doing, Ending, Hole, ends_of

PARTS = 8
"""Parts of the work on the plans of one figure."""
_STEPS_A_PART = 5


@dataclass(frozen=True, slots=True)
class FigureTask:
    """The plans of a figure are asked for. kept: its locked layers; at_hand: codes of sticks that the piece needs
    anyway; most: layers; skin: colours of which its skin consists, CIELAB."""

    owned: Owned
    spots: tuple[Spot, ...]
    kept: tuple[Layer, ...] = ()
    at_hand: tuple[str, ...] = ()
    most: int = MOST
    skin: tuple[tuple[float, float, float], ...] = ()


class _Work:
    """Plans on their way."""

    def __init__(self, task: FigureTask) -> None:
        self.planning = Planning(task.owned.laid_out(), task.spots, task.at_hand, task.kept, task.skin)
        self._steps: Iterator[None] = self.planning.run(task.most)
        self._done, self._turn = 0, Lock()

    def go_on(self, part: int) -> None:
        """Works until so many parts, counted from 0, are done; to the end with the last."""
        upto = (part + 1) * _STEPS_A_PART if part + 1 < PARTS else None
        with self._turn:
            steps = self._steps if upto is None else islice(self._steps, max(0, upto - self._done))
            for _ in steps:
                self._done += 1


@lru_cache(maxsize=4)
def _work(task: FigureTask) -> _Work:
    return _Work(task)


def first_plans(task: FigureTask) -> Plans:
    """The first plans that are there. Raises InputError, see core.plan.layered.Planning."""
    work = _Work(task)
    for number, _ in enumerate(work.planning.run(task.most), 1):
        if number >= _FIRST_STEPS and work.planning.begun:
            break
    return work.planning.plans()


_FIRST_STEPS = 4


def plans_part(task: FigureTask, part: int) -> Plans | None:
    """The plans after the last part of the work, None after those before. Raises InputError with the last."""
    work = _work(task)
    try:
        work.go_on(part)
        return work.planning.plans() if part + 1 == PARTS else None
    except Exception:
        # What broke off would say next time that it has come to its end.
        _work.cache_clear()
        raise


@dataclass(frozen=True, slots=True)
class LayersTask:
    """Layers of a figure as they are. locked: ids of those that must stay."""

    owned: Owned
    spots: tuple[Spot, ...]
    layers: tuple[Layer, ...]
    locked: tuple[str, ...] = ()

    def edited(self) -> Edited:
        """What can be asked about them. Raises what core.plan.layered.draft_of raises."""
        return Edited(self.owned.laid_out(), self.spots, self.layers, self.locked)


@dataclass(frozen=True, slots=True)
class Judged:
    """areas, doings: where each of the layers lies, in words, and what it is for, in their order. holes: the drill core
    of the face. endings: of each place. keeps_the_rules: whether all is as the method wants it."""

    areas: tuple[str, ...]
    doings: tuple[Doing, ...]
    holes: tuple[Hole, ...]
    endings: tuple[Ending, ...]
    expected: Expected
    keeps_the_rules: bool


def judged(task: LayersTask) -> Judged:
    """What is to be expected of layers as they are."""
    edited = task.edited()
    walk, expected = edited.walked(), edited.plan().expected
    return Judged(edited.areas(), walk.doings(), walk.holes(), walk.endings(), expected, edited.keeps_the_rules())


def gives(owned: Owned, spots: tuple[Spot, ...], plans: tuple[tuple[Layer, ...], ...]) -> tuple[tuple[str, ...], ...]:
    """The colours, sRGB hex, that each of these plans gives at the places."""
    return ends_of(owned.laid_out(), spots, plans)


def fitted(task: LayersTask) -> Plan:
    """See core.plan.edited.Edited.fitted."""
    return task.edited().fitted()


def with_accent(task: LayersTask, place: int) -> Plan:
    """See core.plan.edited.Edited.with_accent."""
    return task.edited().with_accent(place)


def other_sticks(task: LayersTask, layer_id: str) -> list[Swap]:
    """See core.plan.edited.Edited.other_sticks."""
    return task.edited().other_sticks(layer_id)
