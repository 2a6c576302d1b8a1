"""What cards have shown of a tray on a paper in a hand: is it sound, what became truer, and in words."""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.stick import Stick
from core.optics.support import Support
from core.trial.joint import Learnt, MeasuredBox, finished, learn, learning
from core.trial.teaching import Stack

_DISAGREES = 3.0
"""From how many times what a box may be off by it is said to disagree."""
_MOST_DISAGREE, _WORST_HELD_OUT = 1 / 3, 12.0
_NAMED = 6
_FELT_L, _FELT_AB, _FELT_HAND = 2.5, 2.5, 0.12
"""What must have changed to be worth a word: L*, a* or b* of a usual pass; the logarithm of what a hand leaves."""


@dataclass(frozen=True, slots=True)
class Errors:
    """Medians of CIEDE2000: what was foreseen of the boxes before, what is now, and what is of each from the others."""

    before: float
    after: float
    held_out: float


@dataclass(frozen=True, slots=True, eq=False)
class Calibration:
    """learnt: see core.trial.joint. errors: of the boxes that teach. disagree: which of the boxes given depart from
    all others. left_out: which teach nothing (another medium, or worked in). words: what changed."""

    learnt: Learnt
    errors: Errors | None
    disagree: tuple[int, ...]
    left_out: tuple[int, ...]
    words: tuple[str, ...]


def calibrate(
    sticks: Sequence[Stick],
    support: Support,
    medium: str,
    boxes: Sequence[MeasuredBox],
    numbers: Sequence[int] = (),
) -> Calibration:
    """One fit of all boxes of a tray's medium on a paper, in one hand. numbers: of the last boxes on their card, if it
    is new; however many there were before, these must be such as the sticks can make.

    Raises what `learn` raises, and InputError (`boxes_disagree`) for readings that such sticks cannot make.
    """
    return finished(calibrating(sticks, support, medium, boxes, numbers))


def calibrating(
    sticks: Sequence[Stick], support: Support, medium: str, boxes: Sequence[MeasuredBox], numbers: Sequence[int] = ()
) -> Generator[None, None, Calibration]:
    """As `calibrate`, a little with each of at most core.trial.joint.ROUNDS steps."""
    untried = learn(sticks, support, medium, [])
    learnt = yield from learning(sticks, support, medium, boxes)
    teaching = [i for i, box in enumerate(boxes) if learnt.space.teaches(box.passes)]
    left_out = tuple(i for i in range(len(boxes)) if i not in teaching)
    if not teaching:
        return Calibration(learnt, None, (), left_out, ())
    disagree = tuple(teaching[int(i)] for i in np.flatnonzero(learnt.off > _DISAGREES))
    held_out = float(np.median(learnt.held_out))
    first = len(boxes) - len(numbers) if numbers else 0
    new = [i for i in teaching if i >= first]
    if held_out > _WORST_HELD_OUT or any(
        len(set(disagree) & set(part)) > max(1, _MOST_DISAGREE * len(part)) for part in (teaching, new)
    ):
        by_off = [teaching[i] for i in np.argsort(-learnt.off).tolist()]
        worst = [i for i in by_off if i in new][:_NAMED]
        named = ", ".join(str(number) for number in sorted(numbers[i - first] for i in worst)) if numbers else ""
        raise InputError(
            "boxes_disagree",
            "What lies in this box cannot make what was read.",
            f"{f'Look at boxes {named}: is' if named else 'Is'} it the right card, paper and tray? What was learnt "
            "before is kept.",
            "boxes",
        )
    stacks = [boxes[i].passes for i in teaching]
    measured = np.array([boxes[i].lab for i in teaching])
    before, after = (float(np.median(ciede2000(known.labs(stacks), measured))) for known in (untried, learnt))
    errors = Errors(round(before, 2), round(after, 2), round(held_out, 2))
    used = {pass_.stick for stack in stacks for pass_ in stack}
    return Calibration(learnt, errors, disagree, left_out, tuple(_words(untried, learnt, used)))


def _words(untried: Learnt, learnt: Learnt, used: set[str]) -> list[str]:
    """What changed: of the hand, then of the sticks that changed most first."""
    medium = get_medium(learnt.space.medium)
    said = []
    film = np.log(learnt.support.touch(medium.id).film[: len(medium.pressures)])
    felt = [np.flatnonzero(film * sign > _FELT_HAND).tolist() for sign in (1, -1)]
    for which, much in zip(felt, ("more", "less"), strict=True):
        all_of_them = "Your hand" if len(film) > 1 else "A coat"
        some = f"Your {' and '.join(medium.pressures[i] for i in which)} hand"
        if which:
            said.append(f"{all_of_them if len(which) == len(film) else some} leaves {much} than usual on this paper.")
    usual = medium.pressures[len(medium.pressures) // 2]
    sticks = [stick for stick in learnt.sticks if stick.code in used]
    alone: list[Stack] = [(Pass(stick.code, usual),) for stick in sticks]
    # What all have in common is the hand's and the paper's, not theirs.
    own = learnt.point.copy()
    own[: len(learnt.space.shared)] = 0.0
    before = untried.labs(alone)
    moved = replace(learnt, point=own).labs(alone) - before
    for i in np.argsort(-np.linalg.norm(moved, axis=1)):
        words = _of_change(moved[i])
        if words:
            said.append(f"{sticks[i].code} {sticks[i].name} is {words} than its swatch.")
    return said


def _of_change(moved: Floats) -> str:
    words = []
    if abs(moved[0]) > _FELT_L:
        words.append("weaker" if moved[0] > 0 else "stronger")
    if np.hypot(moved[1], moved[2]) > _FELT_AB:
        if abs(moved[2]) > abs(moved[1]):
            words.append("yellower" if moved[2] > 0 else "bluer")
        else:
            words.append("redder" if moved[1] > 0 else "greener")
    return " and ".join(words)
