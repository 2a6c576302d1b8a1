"""Alcohol marker: dyes that soak into the paper and add up as filters."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, lab_to_xyz
from core.optics.medium import MAX_REPEATS, STEADY, Ground, Hand, Pass, actions_of, check_pass
from core.optics.spectra import upsample
from core.optics.stick import Stick, solid_reflectance
from core.optics.support import WHITE_PAPER, Support

# Assumptions, all of them named and explained in docs/model.md.
FLOOR = 0.02
COATS = np.array([0.0, 1.0, 1.45, 1.70, 1.82, 1.88])
"""Strength of one, two … coats of the same marker; of one darker than DEEP_L the later coats add two thirds."""
DEEP_L, DEEP_SHARE = 55.0, 2 / 3
PUSHED, PUSHED_BY_BLENDER = 0.28, 0.45
"""The part of the ink already there that a marker, or a colourless blender, worked in wet pushes away."""
_FAINTEST = 1e-4


@dataclass(frozen=True, slots=True)
class MarkerState:
    """What lies in the paper at one place.

    light: reflectance above the floor (31,). ink: its absorbance so far (31,). coats: how many of each
    stick (n,). soaked: coats of anything. tooth: free part of the tooth, which ink leaves alone.
    """

    light: Floats
    ink: Floats
    coats: tuple[int, ...]
    soaked: Any
    tooth: Any


class MarkerBox:
    """Markers on one paper; see `Box`. Dry coats add up as absorbances (Beer–Lambert), whatever their order."""

    once_a_stick = True

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        self.sticks = sticks
        self.support = support
        self._index = {stick.code: i for i, stick in enumerate(sticks)}
        self._light = _above_floor(support.reflectance())
        self.absorbance = absorbances(sticks)
        self._cover = np.minimum([stick.fit.coverage for stick in sticks], 1.0)
        # A blender adds nothing, so the search leaves it to the artist.
        coloured = np.array([i for i, stick in enumerate(sticks) if not stick.colourless], dtype=np.intp)
        self._coloured = coloured if len(coloured) else np.arange(len(sticks))
        self.actions = actions_of(map(int, self._coloured), len(Marker.pressures))
        deep = np.array([float(stick.lab[0]) < DEEP_L for stick in sticks])
        shares = np.where(deep, DEEP_SHARE, 1.0)[:, None]
        self._steps = np.diff(COATS) * np.concatenate([np.ones_like(shares), np.repeat(shares, 4, axis=1)], axis=1)
        self._action_table = np.array([(a.stick, a.repeats) for a in self.actions]).reshape(-1, 2)

    def start(self, ground: Ground | None = None) -> MarkerState:
        light = _above_floor(ground.reflectance) if ground else self._light
        tooth = ground.tooth if ground else 1.0
        return MarkerState(light, np.zeros_like(light), (0,) * len(self.sticks), 0, tooth)

    def leave(self, state: MarkerState) -> Ground:
        return Ground(self.reflectance(state), state.tooth)

    def apply(self, state: MarkerState, pass_: Pass, hand: Hand = STEADY) -> MarkerState:
        check_pass(pass_, Marker.techniques, self._index, Marker.pressures)
        stick = self._index[pass_.stick]
        for repeat in range(pass_.repeats):
            pushed = self._pushed(stick) if pass_.technique == "wet" and repeat == 0 else 0.0
            state = self._coat(state, stick, pushed, hand)
        return state

    def reflectance(self, state: MarkerState) -> Floats:
        return FLOOR + state.light

    def tooth_left(self, state: MarkerState) -> float:
        return float(self.tooth_left_at(np.asarray(state.soaked, dtype=float)))

    def tooth_left_at(self, filled: Floats) -> Floats:
        return np.asarray(np.clip(1.0 - filled / self.support.coats, 0.0, 1.0))

    def _pushed(self, stick: int) -> float:
        return PUSHED_BY_BLENDER if self.sticks[stick].colourless else PUSHED

    def _coat(self, state: MarkerState, stick: int, pushed: float, hand: Hand) -> MarkerState:
        count = state.coats[stick]
        step = self._steps[stick, count] if count < self._steps.shape[1] else 0.0
        added = step * self._strength(state.soaked) * hand.thickness * self.absorbance[stick]
        covered = np.minimum(hand.coverage * self._cover[stick], 1.0)
        worked = state.light * np.exp(pushed * state.ink - added)
        return MarkerState(
            light=(1 - covered) * state.light + covered * worked,
            ink=(1 - pushed) * state.ink + added,
            coats=(*state.coats[:stick], count + 1, *state.coats[stick + 1 :]),
            soaked=state.soaked + 1,
            tooth=state.tooth,
        )

    def _strength(self, soaked: NDArray[np.floating] | float) -> NDArray[np.floating]:
        """How much of a coat the paper still takes up, after so many."""
        return np.sqrt(self.tooth_left_at(np.asarray(soaked, dtype=float)))

    def blank(self) -> tuple[NDArray[np.float32], float]:
        return np.log(self._light).astype(np.float32)[None], 0.0

    def expand(
        self, roots: NDArray[np.float32], filled: float, sticks: NDArray[np.intp] | None = None
    ) -> tuple[NDArray[np.float32], Floats]:
        """The search's roots are logarithms of the light, so that coats are sums."""
        lead = self._coloured if sticks is None else sticks
        taken = self._taken(lead, np.full(len(lead), filled))
        after = roots[:, None] - taken.cumsum(axis=1).reshape(1, -1, roots.shape[1]).astype(np.float32)
        return after, np.tile(filled + 1.0 + np.arange(MAX_REPEATS), len(lead))

    def _taken(self, sticks: NDArray[np.intp], soaked: Floats, hand: Hand = STEADY) -> Floats:
        """What each of the next coats takes from the logarithm of the light: (len(sticks), MAX_REPEATS, 31)."""
        strengths = self._steps[sticks, :MAX_REPEATS] * self._strength(soaked[:, None] + np.arange(MAX_REPEATS))
        added = strengths[:, :, None] * self.absorbance[sticks, None] * hand.thickness
        covered = np.minimum(self._cover[sticks, None, None] * hand.coverage, 1.0)
        return np.asarray(added if (covered == 1).all() else -np.log1p(covered * np.expm1(-added)))

    def advance(
        self, roots: NDArray[np.float32], filled: Floats, actions: NDArray[np.intp], hand: Hand = STEADY
    ) -> tuple[NDArray[np.float32], Floats]:
        stick, repeats = self._action_table[actions].T
        taken = self._taken(stick, filled, hand) * (np.arange(MAX_REPEATS) < repeats[:, None])[:, :, None]
        return (roots - taken.sum(axis=1)).astype(np.float32), filled + repeats

    def pile(self, paths: NDArray[np.intp]) -> MarkerState:
        blank, bare = self.blank()
        roots, soaked = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
        for actions in paths.T:
            roots, soaked = self.advance(roots, soaked, actions)
        nothing = (0,) * len(self.sticks)
        return MarkerState(np.exp(roots.astype(float)), self._ink_of(paths), nothing, soaked[:, None], 1.0)

    def _ink_of(self, paths: NDArray[np.intp]) -> Floats:
        """Absorbance (g, 31) of what has been laid, whether it covers the patch or not."""
        soaked, ink = np.zeros(len(paths)), np.zeros((len(paths), self.absorbance.shape[1]))
        for stick, repeats in self._action_table[paths].transpose(1, 2, 0):
            for repeat in range(MAX_REPEATS):
                on = (repeats > repeat).astype(float)
                strength = on * self._steps[stick, repeat] * self._strength(soaked)
                ink += strength[:, None] * self.absorbance[stick]
                soaked = soaked + on
        return ink

    def rows(self, pile: MarkerState, which: NDArray[np.intp]) -> MarkerState:
        return replace(pile, light=pile.light[which], ink=pile.ink[which], soaked=pile.soaked[which])

    def seen(self, roots: Floats) -> Floats:
        return np.asarray(FLOOR + np.exp(roots))


class Marker:
    """Alcohol marker: coats laid dry on dry, or worked in wet."""

    id = "marker"
    name = "Alcohol marker"
    word = "marker"
    techniques: tuple[str, ...] = ("lay", "wet")
    pressures: tuple[str, ...] = ("light",)
    tools: dict[str, tuple[str, ...]] = {}
    lies = "ink"
    grain = 0.2
    hides = False
    finishing = False

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> MarkerBox:
        return MarkerBox(sticks, support)


def _above_floor(reflectance: Floats) -> Floats:
    return np.asarray(np.maximum(reflectance - FLOOR, _FAINTEST))


def absorbances(sticks: tuple[Stick, ...]) -> Floats:
    """Absorbance (n, 31) of one coat of each stick, from its solid swatch on white paper."""
    white = _above_floor(upsample(lab_to_xyz(WHITE_PAPER)))
    declared = np.maximum(-np.log(_above_floor(solid_reflectance(sticks)) / white), 0.0)
    return np.asarray(declared * np.array([stick.fit.strength for stick in sticks])[:, None])
