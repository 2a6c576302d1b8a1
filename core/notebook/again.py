"""The sticks of an earlier plan, looked for in the tray of today."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import linear_sum_assignment

from core.colour.difference import ciede2000
from core.colour.words import closeness
from core.optics.stick import Stick

_FARTHEST = 10.0
"""ΔE00 of swatches beyond which a stick does not do another's work."""


@dataclass(frozen=True, slots=True)
class Again:
    """was: a stick of the earlier plan; now: the one that does its work, None if none comes near; close: how near its
    swatch is, in words."""

    was: Stick
    now: Stick | None
    close: str


def again(used: Sequence[Stick], tray: Sequence[Stick]) -> list[Again]:
    """The stick of a tray for each of those used, each taken once, so that all of them together are nearest (linear
    assignment; by ciede2000 of the swatches). One that is the same stick is always itself."""
    if not used or not tray:
        return [Again(stick, None, "") for stick in used]
    off = ciede2000(np.array([stick.lab for stick in used])[:, None], np.array([stick.lab for stick in tray])[None])
    same = np.array([[one.code == other.code and one.hex == other.hex for other in tray] for one in used])
    # The same stick is itself even where two swatches are alike, and what is too far is as good as nothing.
    cost = np.where(same, -_FARTHEST, np.minimum(off, 10 * _FARTHEST))
    taken = dict(zip(*linear_sum_assignment(cost), strict=True))
    found = []
    for i, stick in enumerate(used):
        j = taken.get(i)
        near = j is not None and off[i, j] <= _FARTHEST
        found.append(
            Again(stick, tray[j], closeness(float(off[i, j]))) if near and j is not None else Again(stick, None, "")
        )
    return found
