"""What the school, the set-up and the material allow a plan to be."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats

Flags = NDArray[np.bool_]
_HEAVY_LAYERS = 2


@dataclass(frozen=True, slots=True, eq=False)
class Frame:
    """Limits of a plan for m places with n sticks.

    may_lie (m, n): which sticks may be laid where. may_begin (m, n): which may be laid there first. follow (n, n): may
    j lie over i? begins: whether the first layer is a base over everything but `breath`. rising: whether pressure must
    not fall from layer to layer, and is heavy only where nothing comes after it, in one of the last two layers.
    first_hardest: the hardest pressure (index) of what lies first at a place. breath
    (m,): places that get one light stroke at most, last of all. most_passes (m,): the most layers over each place.
    least_tooth: what each layer must find free, 0–1. price (n,): what a layer of each stick costs besides. must (n,):
    sticks that must be in it. most_sticks: how many there may be.
    """

    may_lie: Flags
    may_begin: Flags
    follow: Flags
    begins: bool
    rising: bool
    first_hardest: int
    breath: Flags
    most_passes: NDArray[np.intp]
    least_tooth: float
    price: Floats
    must: Flags
    most_sticks: int

    def times(self, count: int) -> Frame:
        """The same for these places so many times, one after the other."""
        return replace(
            self,
            may_lie=np.tile(self.may_lie, (count, 1)),
            may_begin=np.tile(self.may_begin, (count, 1)),
            breath=np.tile(self.breath, count),
            most_passes=np.tile(self.most_passes, count),
        )

    def may_be_heavy(self, j: int, layers: int) -> bool:
        """Whether layer j of so many may be heavy anywhere."""
        return not self.rising or j >= layers - _HEAVY_LAYERS
