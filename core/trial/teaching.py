"""Which boxes teach most: those by which what is foreseen of a piece's own stacks becomes surest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.optics.medium import Pass
from core.trial.joint import READING, Learnt, as_differences, hand_moves, model_error

Stack = tuple[Pass, ...]

MOST_OFFERED = 600
"""How many boxes are weighed against each other."""


@dataclass(frozen=True, slots=True)
class Chosen:
    """Boxes in the order of what they teach, and the mean CIEDE2000 within which 80 of 100 of the piece's stacks are
    foreseen, before any of them and after each."""

    stacks: tuple[Stack, ...]
    bands: tuple[float, ...]


def offered(stacks: Sequence[Stack]) -> list[Stack]:
    """What may be asked in a box for a piece with these stacks: each of their sticks alone, at every pressure that it
    is used at, they themselves, and what they begin with; each once."""
    pressed = [pass_ for stack in stacks for pass_ in stack]
    alone = [(Pass(pass_.stick, pass_.pressure),) for pass_ in pressed]
    begun = [stack[:count] for stack in stacks for count in range(2, len(stack))]
    return list(dict.fromkeys([*alone, *stacks, *begun]))[:MOST_OFFERED]


def teach_most(learnt: Learnt, offers: Sequence[Stack], stacks: Sequence[Stack], count: int) -> Chosen:
    """So many of the offers, one after the other that by which the summed variance of what is foreseen of `stacks`
    falls most (Bayesian I-optimality, greedy), given what was learnt before.

    Source: Atkinson, Donev & Tobias 2007, Optimum Experimental Designs.
    """
    offers = [stack for stack in offers if learnt.space.teaches(stack)]
    wanted = [stack for stack in stacks if learnt.space.teaches(stack)]
    if not wanted or not offers:
        return Chosen(tuple(offers[:count]), ())
    asked, noise = _slopes(learnt, offers)
    aims, _ = _slopes(learnt, wanted)
    n, m = len(offers), len(wanted)
    spread = learnt.covariance
    between = asked.reshape(3 * n, -1) @ spread
    among = between @ asked.reshape(3 * n, -1).T
    towards = between @ aims.reshape(3 * m, -1).T
    left = np.einsum("tip,pq,tjq->tij", aims, spread, aims, optimize=True)
    taken: list[int] = []
    untried = learnt.untried(aims)
    bands = [float(learnt.bands_of(left, untried).mean())]
    for _ in range(min(count, n)):
        own = among.reshape(n, 3, n, 3)[np.arange(n), :, np.arange(n)] + noise
        told = towards.reshape(n, 3, 3 * m)
        gain = (told * np.linalg.solve(own, told)).sum(axis=(1, 2))
        gain[taken] = -1
        best = int(np.argmax(gain))
        rows = slice(3 * best, 3 * best + 3)
        mine = np.linalg.solve(own[best], np.concatenate([among[rows], towards[rows]], axis=1))
        seen = among[:, rows].copy()
        aimed = towards[rows].reshape(3, m, 3)
        left = left - np.einsum("kti,ktj->tij", aimed, mine[:, 3 * n :].reshape(3, m, 3))
        among = among - seen @ mine[:, : 3 * n]
        towards = towards - seen @ mine[:, 3 * n :]
        taken.append(best)
        bands.append(float(learnt.bands_of(left, untried).mean()))
    return Chosen(tuple(offers[i] for i in taken), tuple(bands))


def _slopes(learnt: Learnt, stacks: Sequence[Stack]) -> tuple[Floats, Floats]:
    """Slopes (g, 3, size) in CIEDE2000 and the covariances (g, 3, 3) of what a box of each would be off by."""
    arrays = learnt.space.stacks(stacks)
    seen, slopes = learnt.space.slopes(arrays, learnt.point)
    unit = as_differences(seen)
    hand = hand_moves(learnt.space, arrays, slopes) * unit[:, :, None] * unit[:, None, :]
    return slopes * unit[:, :, None], READING**2 / 3 * np.eye(3) + model_error(learnt.space.medium) + hand
