"""Which of the artist's own sticks does which job, laid alone; sticks of one family before others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after

_WAYS = (("light", 2), ("medium", 1), ("medium", 2), ("heavy", 1))
"""How a stick may be laid for its job: how hard and how often."""
_FAMILY_DEG, _STRANGER = 25.0, 2.0
"""How far from each other in hue sticks of a family are, and by how much ΔE00 one of another family must be better."""


@dataclass(frozen=True, slots=True)
class JobStick:
    """A stick for a job: its code, the CIELAB that it lays by itself, how far that is off, and whether it is of the
    family that serves most jobs."""

    code: str
    lab: tuple[float, float, float]
    off: float
    of_family: bool


def sticks_for(kit: Kit, medium: str, wanted: Sequence[Sequence[float]]) -> tuple[JobStick, ...]:
    """A stick of a medium for each wanted colour (j, 3), CIELAB; none where the kit holds no stick of it.

    The family is the sector of hue that lets all jobs together be done best, strangers counting as 2 ΔE00 farther off:
    sticks of one ramp lie together better than the nearest of each colour (common practice).
    """
    codes = [stick.code for stick in kit.sticks if stick.medium == medium]
    if not codes or not len(wanted):
        return ()
    laid = np.array([[colours_after(kit, [Pass(code, *way)])[-1] for way in _WAYS] for code in codes])
    targets = np.asarray(wanted, dtype=float)
    off = ciede2000(laid[None], targets[:, None, None])
    way = off.argmin(axis=2)
    best = np.take_along_axis(off, way[..., None], axis=2)[..., 0]
    hue = np.degrees(np.arctan2(laid[:, 2, 2], laid[:, 2, 1]))
    strange = np.abs((hue[:, None] - hue[None] + 180) % 360 - 180) > _FAMILY_DEG
    cost = best[None] + _STRANGER * strange[:, None]
    family = int(cost.min(axis=2).sum(axis=1).argmin())
    chosen = cost[family].argmin(axis=1)
    return tuple(
        JobStick(
            codes[stick],
            _lab(laid[stick, way[job, stick]]),
            float(best[job, stick]),
            bool(not strange[family, stick]),
        )
        for job, stick in enumerate(chosen)
    )


def _lab(lab: Floats) -> tuple[float, float, float]:
    lightness, a, b = (float(v) for v in lab)
    return lightness, a, b
