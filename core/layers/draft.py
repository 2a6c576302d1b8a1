"""A plan as the search knows it: indices instead of names."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from core.layers.doses import NONE
from core.layers.forward import Doses
from core.layers.hands import MOST_LAYERS


@dataclass(frozen=True, slots=True, eq=False)
class Draft:
    """A plan for m places as the search knows it. sticks, slots (n,): indices, and which column of the hands' is each
    layer's; doses (n, m): indices in the scale."""

    sticks: tuple[int, ...]
    slots: tuple[int, ...]
    doses: Doses

    def __len__(self) -> int:
        return len(self.sticks)

    def without(self, j: int) -> Draft:
        """The same with one layer fewer."""
        return Draft(
            self.sticks[:j] + self.sticks[j + 1 :],
            self.slots[:j] + self.slots[j + 1 :],
            np.delete(self.doses, j, axis=0),
        )

    def with_one(self, j: int, stick: int) -> Draft:
        """The same with a layer put in before layer j; nothing of it lies anywhere yet."""
        slot = next(s for s in range(MOST_LAYERS) if s not in self.slots)
        return Draft(
            (*self.sticks[:j], stick, *self.sticks[j:]),
            (*self.slots[:j], slot, *self.slots[j:]),
            np.insert(self.doses, j, NONE, axis=0),
        )

    def laid(self, j: int, doses: Doses) -> Draft:
        """The same with other doses of a layer."""
        changed = self.doses.copy()
        changed[j] = doses
        return replace(self, doses=changed)
