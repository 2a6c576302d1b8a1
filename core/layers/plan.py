"""A plan in layers, as an artist reads it; a place's recipe is read off it."""

from __future__ import annotations

from dataclasses import dataclass

from core.layers.doses import Dose
from core.optics.medium import Pass


@dataclass(frozen=True, slots=True)
class Layer:
    """One stick taken in hand once. most: how hard and how often at most; levels (m,): the dose at each place of the
    figure, None where it lies nowhere near; area: where it lies, in words. id: of a layer that somebody keeps, empty
    for a new one."""

    stick: str
    most: Dose
    levels: tuple[Dose | None, ...]
    area: str
    technique: str = "lay"
    id: str = ""


@dataclass(frozen=True, slots=True)
class Expected:
    """Mean ΔE00 over the places, by what it comes from.

    planned: a steady hand and sticks that do as declared. by_hand: what hands make of it, over some two dozen fixed
    ones. on_paper: with the uncertainty of sticks that nobody has tried here.
    """

    planned: float
    by_hand: float
    on_paper: float


@dataclass(frozen=True, slots=True)
class Plan:
    """The layers of one figure in working order, and what is to be expected of them."""

    layers: tuple[Layer, ...]
    expected: Expected

    def passes_at(self, place: int) -> tuple[Pass, ...]:
        """The recipe of one place: its part of every layer that lies there."""
        laid = [(layer, layer.levels[place]) for layer in self.layers]
        return tuple(
            Pass(layer.stick, dose.pressure, dose.repeats, "flick" if dose.flicked else layer.technique)
            for layer, dose in laid
            if dose is not None
        )

    @property
    def sticks(self) -> tuple[str, ...]:
        """The sticks that it needs, in the order in which they are first taken up."""
        return tuple(dict.fromkeys(layer.stick for layer in self.layers))


@dataclass(frozen=True, slots=True)
class Plans:
    """Plans of one figure by their number of layers, fewest first, and the number that is recommended.

    untried: ΔE00 by which stacks of sticks that nobody has tried are off; 0 if all were tried on this paper.
    """

    by_count: dict[int, Plan]
    recommended: int
    untried: float

    def of(self, layers: int) -> Plan:
        """The plan with so many layers, or the nearest there is."""
        return self.by_count[min(self.by_count, key=lambda n: (abs(n - layers), n))]


def recommended(by_count: dict[int, Plan]) -> int:
    """How many layers are worth it: from there on a layer more brings hardly anything on paper, be it against what the
    hand spoils or at all. Where nobody has tried the sticks, a finer plan is drowned in what is not known of them."""
    counts = sorted(by_count)
    for n in counts:
        here = by_count[n].expected
        hardly = max(_OF_WHAT_IS_SPOILT * (here.by_hand - here.planned), _HARDLY)
        gains = ((here.on_paper - by_count[k].expected.on_paper) / (k - n) for k in counts if k > n)
        if all(gain < hardly for gain in gains):
            return n
    return counts[-1]


_OF_WHAT_IS_SPOILT, _HARDLY = 0.1, 0.16
"""What a layer must bring: this part of what the hand spoils, and so much ΔE00 at least (assumption)."""
