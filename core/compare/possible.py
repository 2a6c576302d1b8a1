"""A tray as it may turn out to be: what is known of its sticks, and what they might be as well."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from core.colour.spaces import Floats
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.stick import Stick
from core.optics.support import Support
from core.plan.setup import LaidOutTray
from core.trial.joint import Learnt, spread_of

_SEED = 3
_A_PART_OF_MEDIAN = 1 / 1.54
"""Standard deviation along each of three axes of what is off by 1 in the median (χ with three degrees of freedom)."""


@dataclass(frozen=True, slots=True, eq=False)
class Possible:
    """A tray as it may be, and by how much all readings of a photograph may then be off together, CIELAB (3,)."""

    laid_out: LaidOutTray
    off: Floats


def possible(laid_out: LaidOutTray, learnt: Learnt, doubt: float, count: int = 8) -> tuple[Possible, ...]:
    """The tray with its sticks and paper as boxes have shown them, and so many others that are as possible: drawn, in
    pairs to both sides, from what is known of them (antithetic sampling, Hammersley & Morton 1956).

    doubt: ΔE00 by which readings are off in the median, all alike: it is one lamp and one camera. Only the boxes of
    what is returned are its own; tables of stacks are as they were.
    """
    spread = spread_of(learnt.covariance)
    rng = np.random.default_rng(_SEED)
    found = [(learnt.point, np.zeros(3))]
    for _ in range((count + 1) // 2):
        moved, off = spread @ rng.standard_normal(len(spread)), rng.normal(0, doubt * _A_PART_OF_MEDIAN, 3)
        found += [(learnt.point + moved, off), (learnt.point - moved, -off)]
    return tuple(
        Possible(_with(laid_out, learnt.space.sticks_at(point), learnt.space.support_at(point)), off)
        for point, off in found[: count + 1]
    )


def _with(laid_out: LaidOutTray, sticks: Sequence[Stick], support: Support) -> LaidOutTray:
    known = {stick.code: stick for stick in sticks}
    kit = Kit(tuple(known.get(stick.code, stick) for stick in laid_out.kit.sticks), support, laid_out.kit.usual)
    its = tuple(known.get(stick.code, stick) for stick in laid_out.box.sticks)
    return replace(laid_out, kit=kit, box=get_medium(laid_out.setup.medium).prepare(its, support))
