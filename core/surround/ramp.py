"""A ramp of few sticks for a region: one over all of it, one for its shade, its own darker one or the complement."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from typing import Any, Literal, get_args

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, lab_to_lch
from core.errors import InputError
from core.layers.doses import HEAVY, Dose, Scale, scale_of
from core.optics.medium import Box
from core.optics.spectra import reflectance_to_lab
from core.surround.region import PARTS, Tones

Shade = Literal["darker", "complement"]
SHADES: tuple[Shade, ...] = get_args(Shade)
"""How a region is shaded: by a darker stick of its own hue, or by one of the opposite hue instead of black."""

_BASES = 8
"""How many sticks are tried as the one over all of the region."""
_OPPOSITE_DEG, _OWN_DEG, _COLOURED = 120.0, 70.0, 10.0
"""Hue between sticks from which one is the other's complement, and up to which it is its own; chroma a stick must have
to have a hue (common practice; the figures are assumed)."""
_DARKER_L = 4.0
_SHARED, _ONE_MORE = 1.2, 0.8
"""ΔE00 that a stick of the skin's plan is preferred by, and that another layer must bring in the mean."""
MOST_LAYERS = 5
_TIE: tuple[tuple[bool, bool, bool], ...] = (
    (True, True, True), (False, True, True), (True, True, False), (False, False, True), (True, False, False)
)  # fmt: skip
"""Over which parts one more layer may go."""


@dataclass(frozen=True, slots=True)
class RampLayer:
    """One stick over some parts of a region: its dose in light, middle and shade, None where it is left out."""

    stick: str
    doses: tuple[Dose | None, Dose | None, Dose | None]


@dataclass(frozen=True, slots=True)
class PlannedRamp:
    """labs (3): what light, middle and shade will be; off: ΔE00 from what is wanted in the mean; shared: how many of
    its sticks the skin's plan has too."""

    layers: tuple[RampLayer, ...]
    labs: tuple[tuple[float, float, float], ...]
    off: float
    shared: int


WHERE: dict[tuple[bool, bool, bool], str] = {
    (True, True, True): "over all of it",
    (False, True, True): "from the middle into the shade",
    (True, True, False): "all but the shade",
    (False, False, True): "into the shade",
    (True, False, False): "over the lights",
    (False, True, False): "over the middle",
    (True, False, True): "over lights and shade",
    (False, False, False): "nowhere",
}
"""In words, by whether a layer lies in light, middle and shade."""


@dataclass
class _State:
    """What lies in the three parts. roots (3, …), filled (3,). hard (3,): how hard the last layer of each was laid, an
    index of PRESSURES."""

    roots: Any
    filled: Floats
    labs: Floats
    hard: NDArray[np.intp]
    layers: tuple[RampLayer, ...]
    cost: float


def planned(
    box: Box, medium: str, wanted: Tones, shade: Shade, skin: Collection[str] = (), banned: Collection[str] = ()
) -> PlannedRamp:
    """The ramp of few sticks that comes nearest; sticks of the skin's plan are preferred, since they tie all together.

    medium: of the box. Raises InputError (`no_such_shade` where no two of its sticks shade each other so).
    """
    scale = scale_of(medium)
    usable = [i for i, stick in enumerate(box.sticks) if stick.code not in banned and not stick.colourless]
    search = _Search(box, scale, wanted.labs(), [stick.code in skin for stick in box.sticks], usable)
    best: _State | None = None
    for base in search.bases():
        for state in search.shaded(base, shade):
            if best is None or state.cost < best.cost:
                best = state
    if best is None:
        raise InputError(
            "no_such_shade",
            "No two of these shade each other so.",
            "Shade it otherwise, or lay out more of them.",
            "shade",
        )
    while len(best.layers) < MOST_LAYERS and (more := search.another(best)) is not None:
        best = more
    off = np.asarray(ciede2000(best.labs, search.wanted))
    shared = len({layer.stick for layer in best.layers} & set(skin))
    labs = tuple((float(lab[0]), float(lab[1]), float(lab[2])) for lab in best.labs.round(2))
    return PlannedRamp(best.layers, labs, round(float(off.mean()), 2), shared)


class _Search:
    def __init__(self, box: Box, scale: Scale, wanted: Floats, shared: list[bool], usable: list[int]) -> None:
        self.box, self.scale, self.wanted = box, scale, wanted
        self.liked = np.array(shared)
        self.usable = usable
        self.colours = lab_to_lch(np.array([stick.lab for stick in box.sticks]).reshape(-1, 3))
        roots, filled = box.blank()
        self.blank = roots, float(filled)
        # Pressure never falls from layer to layer, and heavy comes once and last.
        self.hard = scale.hard[1:]
        self.sound = ~((self.hard == HEAVY) & (scale.times[1:] > 1))

    def bases(self) -> list[_State]:
        """Sticks that could lie over all of it, harder in the shade; those that leave the least over come first."""
        found = []
        for stick in self.usable:
            roots, filled, labs = self._laid(*self._at_blank(1), stick)
            # (doses, 3): by how much each dose is off in each part.
            off = np.asarray(ciede2000(labs[0][:, None], self.wanted[None]))
            off[~self.sound | (self.hard == HEAVY)] = np.inf
            light, middle = int(off[:, 0].argmin()), int(off[:, 1].argmin())
            middle = max(light, middle)
            chosen = [light, middle, middle]
            doses = tuple(self.scale.doses[i] for i in chosen)
            # Shade comes over it: what counts there is its hue alone.
            cost = float(off[light, 0] + off[middle, 1]) / 2 - _SHARED * bool(self.liked[stick])
            layer = RampLayer(self.box.sticks[stick].code, (doses[0], doses[1], doses[2]))
            found.append(
                _State(roots[0, chosen], filled[0, chosen], labs[0, chosen], self.hard[chosen], (layer,), cost)
            )
        return sorted(found, key=lambda state: state.cost)[:_BASES]

    def shaded(self, base: _State, shade: Shade) -> Iterator[_State]:
        """The base with each stick that may shade it, at its best dose."""
        code = base.layers[0].stick
        own = next(i for i, stick in enumerate(self.box.sticks) if stick.code == code)
        for stick in self.usable:
            if stick != own and self._may_shade(own, stick, shade):
                yield self._over(base, stick, (False, False, True))

    def _may_shade(self, own: int, stick: int, shade: Shade) -> bool:
        (l_1, c_1, h_1), (l_2, c_2, h_2) = self.colours[own], self.colours[stick]
        turned = abs((h_2 - h_1 + 180) % 360 - 180)
        if shade == "complement":
            return bool(turned >= _OPPOSITE_DEG and min(c_1, c_2) >= _COLOURED)
        return bool(l_2 < l_1 - _DARKER_L and (turned <= _OWN_DEG or c_2 < _COLOURED))

    def another(self, state: _State) -> _State | None:
        """One stick more over some of the parts, if that brings enough."""
        used = {layer.stick for layer in state.layers}
        tried = [
            self._over(state, stick, parts)
            for stick in self.usable
            if self.box.sticks[stick].code not in used
            for parts in _TIE
        ]
        best = min(tried, key=lambda one: one.cost, default=None)
        return best if best and best.cost < state.cost - _ONE_MORE else None

    def _over(self, state: _State, stick: int, parts: tuple[bool, bool, bool]) -> _State:
        """One stick more, at the dose that suits each of these parts, never softer in the darker ones."""
        where = np.flatnonzero(parts)
        roots, filled, labs = self._laid(state.roots[where], state.filled[where], stick)
        off = np.asarray(ciede2000(labs, self.wanted[where][:, None]))
        off = np.where(self.sound & (self.hard >= state.hard[where][:, None]), off, np.inf)
        chosen = np.maximum.accumulate(off.argmin(axis=1))
        rows = np.arange(len(where))
        after = _State(
            np.array(state.roots), np.array(state.filled), np.array(state.labs), state.hard.copy(), state.layers, 0.0
        )
        after.roots[where], after.filled[where] = roots[rows, chosen], filled[rows, chosen]
        after.labs[where], after.hard[where] = labs[rows, chosen], self.hard[chosen]
        doses: list[Dose | None] = [None] * len(PARTS)
        for i, dose in zip(where, chosen, strict=True):
            doses[i] = self.scale.doses[dose]
        layer = RampLayer(self.box.sticks[stick].code, (doses[0], doses[1], doses[2]))
        after.layers = (*state.layers, layer)
        liked = sum(bool(self.liked[self._index(one.stick)]) for one in after.layers)
        after.cost = float(np.asarray(ciede2000(after.labs, self.wanted)).mean()) - _SHARED * liked
        return after

    def _index(self, code: str) -> int:
        return next(i for i, stick in enumerate(self.box.sticks) if stick.code == code)

    def _at_blank(self, count: int) -> tuple[Any, Floats]:
        roots, filled = self.blank
        return np.repeat(np.asarray(roots), count, axis=0), np.full(count, filled)

    def _laid(self, roots: Any, filled: Floats, stick: int) -> tuple[Any, Floats, Floats]:
        """A stick at every dose over g places: roots (g, D, …), deposits (g, D), CIELAB (g, D, 3)."""
        g, doses = len(filled), len(self.scale.doses)
        which: NDArray[np.intp] = np.repeat(np.arange(g), doses)
        pressure, times = np.tile(self.scale.pressure[1:], g), np.tile(self.scale.times[1:], g)
        after, held = self.box.strokes(np.asarray(roots)[which], np.asarray(filled)[which], stick, pressure, times)
        labs = reflectance_to_lab(self.box.seen(after))
        after, held = np.asarray(after), np.asarray(held)
        return after.reshape(g, doses, *after.shape[1:]), held.reshape(g, doses), labs.reshape(g, doses, 3)
