"""What may turn out otherwise than assumed when a tray meets a paper: by how much, and what each of it does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import exp
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, Pass, check_pass
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Stick, solid_reflectance
from core.optics.support import Support
from core.optics.touch import Touch

_EPS = 0.02


@dataclass(frozen=True, slots=True)
class Knob:
    """One thing that may differ: a factor of Touch or Fit. at: which of several; spread: of its natural logarithm, in
    units that the medium usually shows (assumption)."""

    field: str
    spread: float
    at: int = -1


def _three(field: str, *spreads: float) -> tuple[Knob, ...]:
    return tuple(Knob(field, spread, at) for at, spread in enumerate(spreads))


_PAPER = Knob("paper", 0.6)
"""The one that is no factor: L* of the bare paper, in its own units."""
_DRY = (
    *_three("film", 0.30, 0.25, 0.25),
    *_three("coverage", 0.7, 0.6, 0.6),
    Knob("capacity", 0.4),
    Knob("slips", 0.3),
    Knob("scatter", 0.5),
    Knob("rise", 0.4),
    _PAPER,
)
SHARED: dict[str, tuple[Knob, ...]] = {
    "pencil": _DRY,
    "pastel": (*_DRY, Knob("dragged", 0.8)),
    "oil_pastel": (*_DRY, Knob("dragged", 0.8)),
    "marker": (
        Knob("film", 0.15, 0),
        *_three("later", 0.35, 0.5),
        Knob("saturation", 1.2),
        Knob("floor", 0.35),
        Knob("wets", 0.2),
        Knob("soaks", 0.5),
        _PAPER,
    ),
}
"""What all sticks of a medium share, in one hand on one paper."""
_DRY_OWN = (Knob("strength", 0.22), Knob("scatter", 0.30), Knob("coverage", 0.30), *_three("tint", *[0.16] * 4))
OWN: dict[str, tuple[Knob, ...]] = {
    "pencil": _DRY_OWN,
    "pastel": _DRY_OWN,
    # Untried oil pastels are off by more than other sticks.
    "oil_pastel": tuple(replace(knob, spread=1.4 * knob.spread) for knob in _DRY_OWN),
    "marker": (Knob("strength", 0.14), *_three("tint", *[0.17] * 4), Knob("later", 0.21)),
}
"""What is each stick's own."""


def turned(held: Any, knobs: Sequence[Knob], logs: Floats) -> Any:
    """A Touch or Fit with factors exp(logs) on those of its fields."""
    changed: dict[str, Any] = {}
    for knob, log in zip(knobs, logs, strict=True):
        if knob is _PAPER:
            continue
        before = changed.get(knob.field, getattr(held, knob.field))
        factor = exp(log)
        changed[knob.field] = (
            before * factor
            if knob.at < 0
            else tuple(part * factor if i == knob.at else part for i, part in enumerate(before))
        )
    return replace(held, **changed)


@dataclass(frozen=True, slots=True, eq=False)
class Stacks:
    """Stacks of single strokes: indices of sticks (g, m), −1 for none, and of pressures (g, m)."""

    sticks: NDArray[np.intp]
    pressures: NDArray[np.intp]

    def strokes(self, count: int) -> NDArray[np.intp]:
        """How many strokes of each of so many sticks each has (g, count)."""
        return np.asarray((self.sticks[:, :, None] == np.arange(count)).sum(axis=1))


class Space:
    """A tray of one medium on one paper with everything that trial boxes may say of it.

    A point of the space is a vector: first what is shared, then what is each stick's own, as logarithms of factors on
    what `sticks` and `support` hold. Raises InputError (`nothing_to_learn`) for a medium that is not learnt.
    """

    def __init__(self, sticks: Sequence[Stick], support: Support, medium: str, shared: bool = True) -> None:
        """shared: whether it has what is shared at all."""
        if medium not in SHARED:
            raise InputError(
                "nothing_to_learn",
                f"Trial boxes say nothing of {get_medium(medium).name.lower()}.",
                f"Use {', '.join(SHARED)}.",
                "medium",
            )
        self.medium, self.support = medium, support
        self.shared, self.own = SHARED[medium] if shared else (), OWN[medium]
        given = tuple(stick for stick in sticks if stick.medium == medium)
        # Their swatches are made into spectra once.
        spectra = solid_reflectance(given)
        self.sticks = tuple(replace(s, spectrum=tuple(row)) for s, row in zip(given, spectra.tolist(), strict=True))
        self._given = given
        self._at = {stick.code: i for i, stick in enumerate(given)}
        self.size = len(self.shared) + len(given) * len(self.own)

    def spreads(self) -> Floats:
        """Standard deviations (size,) that are usual."""
        own = [knob.spread for knob in self.own] * len(self.sticks)
        return np.array([knob.spread for knob in self.shared] + own)

    def own_of(self, point: Floats) -> Floats:
        """(n, k): what is each stick's own."""
        return point[len(self.shared) :].reshape(len(self.sticks), len(self.own))

    def own_knob(self, stick: int, field: str) -> int:
        """Where a stick's own one lies."""
        names = [knob.field for knob in self.own]
        return len(self.shared) + stick * len(self.own) + names.index(field)

    def teaches(self, passes: Sequence[Pass]) -> bool:
        """Whether a stack can be learnt from: plain passes of these sticks, nothing worked in or rubbed."""
        return bool(passes) and all(p.stick in self._at and p.technique == "lay" for p in passes)

    def stacks(self, stacks: Sequence[Sequence[Pass]]) -> Stacks:
        """Those that teach, as arrays. Raises InputError for passes that cannot be made."""
        medium = get_medium(self.medium)
        rows = []
        for passes in stacks:
            for pass_ in passes:
                check_pass(pass_, medium.techniques, self._at, medium.pressures)
            rows.append([(self._at[p.stick], PRESSURES.index(p.pressure)) for p in passes for _ in range(p.repeats)])
        deepest = max((len(row) for row in rows), default=0)
        filled = np.array([row + [(-1, 0)] * (deepest - len(row)) for row in rows], dtype=np.intp)
        return Stacks(*np.moveaxis(filled.reshape(len(rows), deepest, 2), -1, 0))

    def support_at(self, point: Floats) -> Support:
        """The paper, with how it is laid on."""
        if not self.shared:
            return self.support
        logs = point[: len(self.shared)]
        touch: Touch = turned(self.support.touch(self.medium), self.shared, logs)
        lightness, a, b = self.support.lab
        lab = (float(min(lightness + logs[self.shared.index(_PAPER)], 100.0)), a, b)
        return replace(self.support, lab=lab, touches=tuple({**dict(self.support.touches), self.medium: touch}.items()))

    def sticks_at(self, point: Floats) -> tuple[Stick, ...]:
        """The sticks, as they were given but for their fits."""
        fits = [turned(s.fit, self.own, logs) for s, logs in zip(self._given, self.own_of(point), strict=True)]
        return tuple(replace(stick, fit=fit) for stick, fit in zip(self._given, fits, strict=True))

    def labs(self, stacks: Stacks, point: Floats) -> Floats:
        """CIELAB (g, 3)."""
        return self._seen(stacks, self._fits(self.own_of(point)), self.support_at(point))

    def slopes(self, stacks: Stacks, point: Floats) -> tuple[Floats, Floats]:
        """CIELAB (g, 3) and its derivatives (g, 3, size), by differences.

        A stick's own touch only stacks that hold it, so they are tried in one box with every stick in it as it is and
        with each of its own turned a little.
        """
        n, k, shared = len(self.sticks), len(self.own), len(self.shared)
        own = self.own_of(point)
        nudged = (own[:, None] + _EPS * np.eye(k)).reshape(n * k, k)
        holders, which = np.nonzero(stacks.strokes(n))
        rows = [stacks.sticks]
        for knob in range(k):
            held = stacks.sticks[holders]
            rows.append(np.where(held == which[:, None], n + which[:, None] * k + knob, held))
        pressures = np.concatenate([stacks.pressures, *[stacks.pressures[holders]] * k])
        many = Stacks(np.concatenate(rows), pressures)
        sticks = (*self._fits(own), *self._fits(nudged, np.repeat(np.arange(n), k)))
        seen = self._seen(many, sticks, self.support_at(point))
        base, moved = seen[: len(stacks.sticks)], seen[len(stacks.sticks) :].reshape(k, len(holders), 3)
        slopes = np.zeros((len(base), 3, self.size))
        for knob in range(k):
            slopes[holders, :, shared + which * k + knob] = (moved[knob] - base[holders]) / _EPS
        for knob in range(shared):
            other = point.copy()
            other[knob] += _EPS
            slopes[:, :, knob] = (self._seen(stacks, sticks[:n], self.support_at(other)) - base) / _EPS
        return base, slopes

    def _fits(self, own: Floats, which: Sequence[int] | NDArray[np.intp] | None = None) -> tuple[Stick, ...]:
        which = range(len(self.sticks)) if which is None else which
        return tuple(
            replace(self.sticks[i], code=str(number), fit=turned(self.sticks[i].fit, self.own, logs))
            for number, (i, logs) in enumerate(zip(which, own, strict=True))
        )

    def _seen(self, stacks: Stacks, sticks: tuple[Stick, ...], support: Support) -> Floats:
        box = get_medium(self.medium).prepare(sticks, support)
        return reflectance_to_lab(box.stacks(stacks.sticks, stacks.pressures))
