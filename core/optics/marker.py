"""Alcohol marker: dyes that soak into the paper, and tell the less the more of them is there."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, lab_to_xyz
from core.errors import InputError
from core.optics.medium import MAX_REPEATS, STEADY, Ground, Hand, Laid, Pass, actions_of, check_pass
from core.optics.spectra import COARSE, upsample
from core.optics.stick import Stick, solid_reflectance
from core.optics.support import WHITE_PAPER, Support
from core.optics.touch import tinted

# Assumptions, all of them named and explained in docs/model.md.
FLOOR = 0.02
COATS = np.array([0.0, 1.0, 1.45, 1.70, 1.82, 1.88])
"""Dye of one, two … coats of the same marker, in first coats."""
FLICKED = 0.5
"""The part of a patch that a loose, flicked coat covers."""
PUSHED, PUSHED_BY_BLENDER = 0.28, 0.45
"""The part of the ink already there that a marker, or a colourless blender, worked in wet pushes away."""
_FAINTEST = 1e-4


@dataclass(frozen=True, slots=True)
class MarkerState:
    """What lies in the paper at one place.

    ground: reflectance above the floor (31,) of what it was laid on. ink: the dye so far (31,), see `Saturation`.
    coats: how many of each stick (n,). soaked: coats of anything. tooth: free part of the tooth, which ink leaves
    alone.
    """

    ground: Floats
    ink: Floats
    coats: tuple[int, ...]
    soaked: Any
    tooth: Any


@dataclass(frozen=True, slots=True)
class Saturation:
    """How dye in scattering fibres darkens them: a part (1 + x/m)^−m of the light is left of x of it.

    x adds up over coats. m → ∞ is a clear filter (Beer–Lambert); the smaller m, the more light has left the fibres
    again before it met the next coat. With one coat a sheet looks as declared whatever m is.
    """

    m: float

    def left(self, ink: Any) -> Floats:
        """Part of the light that is left of this dye (any shape)."""
        return np.asarray((1 + ink / self.m) ** -self.m)

    def ink(self, left: Any) -> Floats:
        """The dye (any shape) of which this part of the light is left."""
        return np.asarray(self.m * (left ** (-1 / self.m) - 1))

    def coated(self, ink: Any, added: Any, covered: Any) -> Floats:
        """The dye after a coat that covers a part of the patch, 0–1: an even one that looks the same; all broadcast."""
        if np.all(np.asarray(covered) >= 1):
            return np.asarray(ink + added)
        return self.ink((1 - covered) * self.left(ink) + covered * self.left(ink + added))


class MarkerBox:
    """Markers on one paper; see `Box`. Dry coats add up as dye, whatever their order."""

    once_a_stick = True
    drags = False

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        self.sticks = sticks
        self.support = support
        self._index = {stick.code: i for i, stick in enumerate(sticks)}
        touch, fits = support.touch("marker"), tuple(stick.fit for stick in sticks)
        self._floor = FLOOR * touch.floor
        self._light = _above(self._floor, support.reflectance())
        self._paper = Saturation(support.saturation * touch.saturation)
        strength = np.array([fit.strength for fit in fits]) * touch.film[0]
        self.dye = self._paper.ink(declared(sticks, self._floor)) * strength[:, None] * tinted(fits)
        self._cover = np.minimum([fit.coverage for fit in fits], 1.0)
        self._soaks = support.coats * touch.soaks
        self._wets = touch.wets
        # A blender adds nothing, so the search leaves it to the artist.
        coloured = np.array([i for i, stick in enumerate(sticks) if not stick.colourless], dtype=np.intp)
        self._coloured = coloured if len(coloured) else np.arange(len(sticks))
        self.actions = actions_of(map(int, self._coloured), len(Marker.pressures))
        steps = np.append(np.diff(COATS), 0.0)
        steps[1:] *= [touch.later[0], *[touch.later[1]] * (len(steps) - 2)]
        self._steps = steps * np.where(
            np.arange(len(steps)) > 0, np.array([[fit.later] for fit in fits]).reshape(-1, 1), 1.0
        )
        """What one coat after the other adds of each stick, in first coats (n, 6)."""
        self._push = np.array([PUSHED_BY_BLENDER if stick.colourless else PUSHED for stick in sticks])
        self._action_table = np.array([(a.stick, a.repeats) for a in self.actions]).reshape(-1, 2)

    def coarse(self) -> MarkerBox:
        other = copy(self)
        other._light, other.dye = self._light[COARSE], self.dye[:, COARSE]
        return other

    def start(self, ground: Ground | None = None) -> MarkerState:
        light = _above(self._floor, ground.reflectance) if ground else self._light
        tooth = ground.tooth if ground else 1.0
        return MarkerState(light, np.zeros_like(light), (0,) * len(self.sticks), 0, tooth)

    def leave(self, state: MarkerState) -> Ground:
        return Ground(self.reflectance(state), state.tooth)

    def apply(self, state: MarkerState, pass_: Pass, hand: Hand = STEADY) -> MarkerState:
        check_pass(pass_, Marker.techniques, self._index, Marker.pressures)
        stick = self._index[pass_.stick]
        for repeat in range(pass_.repeats):
            pushed = self._push[stick] if pass_.technique == "wet" and repeat == 0 else 0.0
            part = FLICKED if pass_.technique == "flick" else 1.0
            state = self._coat(state, stick, pushed, part, hand)
        return state

    def reflectance(self, state: MarkerState) -> Floats:
        return np.asarray(self._floor + state.ground * self._paper.left(state.ink))

    def tooth_left(self, state: MarkerState) -> float:
        return float(np.ravel(self.tooth_left_at(np.asarray(state.soaked, dtype=float)))[0])

    def tooth_left_at(self, filled: Floats) -> Floats:
        return np.asarray(np.clip(1.0 - filled / self._soaks, 0.0, 1.0))

    def _coat(self, state: MarkerState, stick: int, pushed: float, part: float, hand: Hand) -> MarkerState:
        count = state.coats[stick]
        added = self._step(stick, count, state.soaked) * hand.thickness * self.dye[stick] - pushed * state.ink
        return MarkerState(
            ground=state.ground,
            ink=self._paper.coated(state.ink, added, np.minimum(part * hand.coverage * self._cover[stick], 1.0)),
            coats=(*state.coats[:stick], count + 1, *state.coats[stick + 1 :]),
            soaked=state.soaked + part,
            tooth=state.tooth,
        )

    def _step(self, stick: Any, count: Any, soaked: Any) -> Floats:
        """What the next coat of a stick adds, in first coats, on so many of its own and of any; all broadcast."""
        soaked = np.asarray(soaked, dtype=float)
        wetted = np.where((soaked > 0) & (np.asarray(count) == 0), self._wets, 1.0)
        at = np.minimum(count, self._steps.shape[1] - 1)
        return np.asarray(self._steps[stick, at] * wetted * np.sqrt(self.tooth_left_at(soaked)))

    def stacks(self, sticks: NDArray[np.intp], pressures: NDArray[np.intp]) -> Floats:
        ink: Floats = np.zeros((len(sticks), len(self._light)))
        soaked = np.zeros(len(sticks))
        for number, stick in enumerate(sticks.T):
            on = stick >= 0
            count = (sticks[:, :number] == stick[:, None]).sum(axis=1)
            amount = np.where(on, self._step(stick, count, soaked), 0.0)
            ink = self._paper.coated(ink, amount[:, None] * self.dye[stick], self._cover[stick, None])
            soaked = soaked + on
        return np.asarray(self._floor + self._light * self._paper.left(ink))

    def blank(self) -> tuple[NDArray[np.float32], float]:
        return np.zeros((1, len(self._light)), dtype=np.float32), 0.0

    def over(self, reflectance: Floats, tooth: Floats) -> tuple[NDArray[np.float32], Floats]:
        raise InputError("cannot_lie_over", "Marker does not hold over other media.", "Lay it first.", "stick")

    def left(self, roots: Floats, filled: Floats) -> tuple[Floats, Floats]:
        return self.seen(roots), np.ones_like(filled)

    def looking(self, reflectance: Floats, roots: Floats, filled: Floats) -> tuple[NDArray[np.float32], Floats]:
        bands = slice(None) if len(self._light) == reflectance.shape[-1] else COARSE
        left = np.minimum(_above(self._floor, reflectance[..., bands]) / self._light, 1.0)
        return self._paper.ink(left).astype(np.float32), filled

    def expand(
        self, roots: NDArray[np.float32], filled: float, sticks: NDArray[np.intp] | None = None
    ) -> tuple[NDArray[np.float32], Floats]:
        """The search's roots are the dye itself, so that coats are sums."""
        lead = self._coloured if sticks is None else sticks
        out = np.empty((len(roots), len(lead), MAX_REPEATS, roots.shape[1]), dtype=np.float32)
        ink: Floats = roots[:, None]
        for repeat in range(MAX_REPEATS):
            added = self._added(lead, np.full(len(lead), filled + repeat), repeat)
            ink = self._paper.coated(ink, added, self._covered(lead, STEADY))
            out[:, :, repeat] = ink
        return out.reshape(len(roots), -1, roots.shape[1]), np.tile(filled + 1.0 + np.arange(MAX_REPEATS), len(lead))

    def _added(self, sticks: NDArray[np.intp], soaked: Floats, repeat: int) -> NDArray[np.float32]:
        """The dye (len(sticks), 31) of the next coat of each, so many of it being there."""
        return np.asarray(self._step(sticks, repeat, soaked)[:, None] * self.dye[sticks], dtype=np.float32)

    def _covered(self, sticks: NDArray[np.intp], hand: Hand) -> NDArray[np.float32]:
        return np.asarray(np.minimum(self._cover[sticks, None] * hand.coverage, 1.0), dtype=np.float32)

    def advance(
        self, roots: NDArray[np.float32], filled: Floats, actions: NDArray[np.intp], hand: Hand = STEADY
    ) -> tuple[NDArray[np.float32], Floats]:
        stick, repeats = self._action_table[actions].T
        ink, covered = roots, self._covered(stick, hand)
        for repeat in range(MAX_REPEATS):
            on = (repeats > repeat).astype(np.float32)[:, None]
            added = self._added(stick, filled + repeat, repeat) * np.float32(hand.thickness) * on
            ink = self._paper.coated(ink, added, covered).astype(np.float32, copy=False)
        return ink, filled + repeats

    def strokes(
        self,
        roots: NDArray[np.float32],
        filled: Floats,
        stick: Any,
        pressure: Floats,
        times: NDArray[np.intp],
        technique: str = "lay",
        hand: Hand = STEADY,
        before: Any = 0,
    ) -> tuple[NDArray[np.float32], Floats]:
        """A coat that covers a part of the patch is a flicked one; each coat counts as one more of its stick."""
        ink, filled = roots.copy(), filled.copy()
        for number in range(int(times.max(initial=0))):
            on = np.flatnonzero(times > number)
            its, which = hand.of(on), stick[on] if np.ndim(stick) else stick
            coats = (before[on] if np.ndim(before) else before) + number
            amount = self._step(which, coats, filled[on]) * its.thickness
            added = (amount[:, None] * self.dye[which]).astype(np.float32)
            if technique == "wet" and number == 0 and (np.ndim(before) or before == 0):
                added -= np.float32(self._push[which, None]) * ink[on]
            part = np.minimum(pressure[on] * self._cover[which] * its.coverage, 1.0)
            ink[on] = self._paper.coated(ink[on], added, part[:, None].astype(np.float32))
            filled[on] += pressure[on]
        return ink, filled

    def worked(self, laid: Laid, pass_: Pass, hand: Hand = STEADY) -> tuple[NDArray[np.float32], Floats]:
        raise InputError("bad_technique", "Ink cannot be rubbed or burnished.", "Work it in wet.", "technique")

    def pile(self, paths: NDArray[np.intp]) -> MarkerState:
        blank, bare = self.blank()
        roots, soaked = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
        for actions in paths.T:
            roots, soaked = self.advance(roots, soaked, actions)
        return MarkerState(self._light, roots.astype(float), (0,) * len(self.sticks), soaked[:, None], 1.0)

    def rows(self, pile: MarkerState, which: NDArray[np.intp]) -> MarkerState:
        return replace(pile, ink=pile.ink[which], soaked=pile.soaked[which])

    def seen(self, roots: Floats) -> Floats:
        light = self._light.astype(roots.dtype)
        return np.asarray(roots.dtype.type(self._floor) + light * self._paper.left(roots))


class Marker:
    """Alcohol marker: coats laid dry on dry, flicked loosely, or worked in wet."""

    id = "marker"
    name = "Alcohol marker"
    word = "marker"
    techniques: tuple[str, ...] = ("lay", "wet", "flick")
    pressures: tuple[str, ...] = ("light",)
    tools: dict[str, tuple[str, ...]] = {}
    lies = "ink"
    grain = 0.2
    hides = False
    finishing = False

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> MarkerBox:
        return MarkerBox(sticks, support)


def _above(floor: float, reflectance: Floats) -> Floats:
    return np.asarray(np.maximum(reflectance - floor, _FAINTEST))


def declared(sticks: tuple[Stick, ...], floor: float = FLOOR) -> Floats:
    """The part (n, 31) of white paper's light above the floor that one coat of each leaves, by its solid swatch."""
    white = _above(floor, upsample(lab_to_xyz(WHITE_PAPER)))
    return np.minimum(_above(floor, solid_reflectance(sticks)) / white, 1.0)
