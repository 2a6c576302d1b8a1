"""How much of a layer lies at a place: a few named doses that a hand can lay, and what the hand makes of them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.marker import FLICKED
from core.optics.media import get_medium
from core.optics.medium import HOW_HARD, MAX_REPEATS, PRESSURES

_TRIED = (("light", 1), ("light", 3), ("medium", 2))
_BEGUN = (("light", 1), ("light", 3), ("medium", 3))
_ALSO_TRIED = (("light", 2), ("medium", 2), ("medium", 3))
USUAL_DOSES = 3
"""Of each layer's map, besides none."""
LEAST_MM2 = 30.0
"""The smallest area that a hand lays by itself (assumption)."""
HEAVY = PRESSURES.index("heavy")
NONE = 0
"""The dose that leaves a place free; it comes first in every scale."""
MOST_STROKES = MAX_REPEATS + 1
"""A hand that is to go over three times may go over four times."""


@dataclass(frozen=True, slots=True)
class Dose:
    """How hard and how often. pressure: one of the medium's; repeats: strokes or coats, 1–3. flicked: a loose coat of
    ink that covers half of what lies beneath."""

    pressure: str
    repeats: int
    flicked: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Scale:
    """The doses of a medium, after NONE.

    pressure, times (D + 1,): how hard and how often `Box.strokes` lays each. hard (D + 1,): index of the pressure of
    each among PRESSURES, −1 for none. tried: the few by which sticks are compared before all are tried; begun: those
    by which lists of sticks are compared and with which plans begin; also_tried: other few.
    """

    doses: tuple[Dose, ...]
    pressure: Floats
    times: NDArray[np.intp]
    hard: NDArray[np.intp]
    tried: tuple[int, ...]
    begun: tuple[int, ...]
    also_tried: tuple[int, ...]

    def index(self, dose: Dose | None) -> int:
        """The place of a dose in the scale. Raises ValueError if it is none of the medium's."""
        return NONE if dose is None else self.doses.index(dose) + 1


@cache
def scale_of(medium_id: str) -> Scale:
    """The doses of a medium. Raises InputError (`unknown_medium`)."""
    medium = get_medium(medium_id)
    ink = medium.lies == "ink"
    doses = tuple(Dose(pressure, n) for pressure in medium.pressures for n in range(1, MAX_REPEATS + 1))
    if ink:
        doses = (Dose(doses[0].pressure, 1, flicked=True), *doses)
    hard = np.array([-1, *(PRESSURES.index(dose.pressure) for dose in doses)])
    covered = np.array([0.0, *(FLICKED if dose.flicked else 1.0 for dose in doses)])
    pressure = covered if ink else np.where(hard < 0, 0.0, np.array(HOW_HARD)[hard])
    times = np.array([0, *(dose.repeats for dose in doses)])
    for part in (hard, pressure, times):
        part.flags.writeable = False
    few = (_those(rows, doses, doses[ink:]) for rows in (_TRIED, _BEGUN, _ALSO_TRIED))
    return Scale(doses, pressure, times, hard, *few)


def _those(rows: tuple[tuple[str, int], ...], doses: tuple[Dose, ...], else_: tuple[Dose, ...]) -> tuple[int, ...]:
    """The places of these doses in the scale, or of others where the medium has not got them all."""
    some = tuple(Dose(*row) for row in rows)
    return tuple(doses.index(dose) + 1 for dose in (some if set(some) <= set(doses) else else_))
