"""Oil pastel: thick, greasy passes that drag along what lies on top and mix with it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.characterise import characterise, inside, outside
from core.optics.film import across, covered, film
from core.optics.medium import MAX_REPEATS, PRESSURES, STEADY, Ground, Hand, Pass, actions_of, check_pass
from core.optics.pencil import SCATTER_BY_OPACITY, rise
from core.optics.spectra import N_BANDS
from core.optics.stick import Stick
from core.optics.support import Support

# Assumptions, all of them named and explained in docs/model.md.
MASS_BY_PRESSURE = (0.30, 0.60, 1.0)
COVERAGE = 0.96
DRAGGED = 0.75
"""The part of the top film that a new pass takes up and mixes with."""
CAPACITY_TIMES = 1.4
"""How much more paste than pencil a tooth holds."""
SCRAPED = (0.35, 0.60, 0.85)
"""The part of the top film that a blade takes off, by pressure."""


@dataclass(frozen=True, slots=True)
class OilState:
    """ground: square root of the inner reflectance below the top film (31,). k_top, s_top: K and S of the top
    film times its mass (31,). mass: that mass. filled: deposit so far, in full films."""

    ground: Floats
    k_top: Floats
    s_top: Floats
    mass: Any
    filled: Any


class OilPastelBox:
    """Oil pastels on one paper; see `Box`.

    The search's roots hold ground, K and S of the top film one after the other: (…, 93).
    """

    once_a_stick = False

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        self.sticks = sticks
        self.support = support
        self.actions = actions_of(range(len(sticks)))
        self._index = {stick.code: i for i, stick in enumerate(sticks)}
        self._paper = inside(support.reflectance())
        self.k, self.s = characterise(
            sticks, tuple(SCATTER_BY_OPACITY[stick.opacity] * rise(float(stick.lab[0])) for stick in sticks)
        )
        self._give = np.array([stick.fit.strength for stick in sticks])
        self._cover = np.minimum(COVERAGE * np.array([stick.fit.coverage for stick in sticks]), 1.0)
        self._k32, self._s32 = self.k.astype(np.float32), self.s.astype(np.float32)
        self._capacity = CAPACITY_TIMES * support.capacity
        self._masses = np.array(MASS_BY_PRESSURE)
        self._action_table = np.array([(a.stick, a.pressure, a.repeats) for a in self.actions]).reshape(-1, 3)

    def start(self, ground: Ground | None = None) -> OilState:
        below, tooth = (inside(ground.reflectance), ground.tooth) if ground else (self._paper, 1.0)
        nothing = np.zeros_like(below)
        return OilState(np.sqrt(below), nothing, nothing, 0.0, (1 - tooth) * self._capacity)

    def leave(self, state: OilState) -> Ground:
        return Ground(self.reflectance(state), self.tooth_left_at(state.filled))

    def apply(self, state: OilState, pass_: Pass, hand: Hand = STEADY) -> OilState:
        check_pass(pass_, OilPastel.techniques, self._index, tools=OilPastel.tools)
        pressure = PRESSURES.index(pass_.pressure)
        for _ in range(pass_.repeats):
            if pass_.stick in self._index:
                state = self._lay(state, self._index[pass_.stick], pressure, hand)
            else:
                state = _scraped(state, SCRAPED[pressure])
        return state

    def _lay(self, state: OilState, stick: int, pressure: int, hand: Hand) -> OilState:
        coverage = np.minimum(self._cover[stick] * hand.coverage, 1.0)
        mass = self._mass(state.filled, pressure, stick) * hand.thickness
        ground, k_top, s_top = _laid(
            state.ground, state.k_top, state.s_top, mass * self.k[stick], mass * self.s[stick], coverage
        )
        return OilState(ground, k_top, s_top, DRAGGED * state.mass + mass, state.filled + mass)

    def reflectance(self, state: OilState) -> Floats:
        return outside(np.square(_seen(state.ground, state.k_top, state.s_top, COVERAGE)))

    def tooth_left(self, state: OilState) -> float:
        return float(self.tooth_left_at(np.asarray(state.filled)))

    def tooth_left_at(self, filled: Floats) -> Floats:
        return np.asarray(np.maximum(0.0, 1.0 - filled / self._capacity))

    def _mass(self, filled: Any, pressure: Any, stick: Any) -> Floats:
        """Mass of the next pass (numbers or arrays): it shrinks as the tooth fills."""
        tooth = np.maximum(0.0, 1.0 - np.asarray(filled) / self._capacity)
        return np.asarray(self._masses[pressure] * self._give[stick] * np.sqrt(tooth))

    def blank(self) -> tuple[NDArray[np.float32], float]:
        nothing = np.zeros_like(self._paper)
        return np.concatenate([np.sqrt(self._paper), nothing, nothing]).astype(np.float32)[None], 0.0

    def expand(
        self, roots: NDArray[np.float32], filled: float, sticks: NDArray[np.intp] | None = None
    ) -> tuple[NDArray[np.float32], Floats]:
        """As `apply`, for many sticks, pressures and repeats at once."""
        lead = np.arange(len(self.sticks)) if sticks is None else sticks
        group, each = len(roots), len(PRESSURES) * MAX_REPEATS
        out = np.empty((group, len(lead), each, 3 * N_BANDS), dtype=np.float32)
        deposits = np.empty((len(lead), each))
        k, s, coverage = self._k32[lead], self._s32[lead], across(self._cover[lead])
        for pressure in range(len(PRESSURES)):
            now: Floats = np.full(len(lead), filled)
            ground, k_top, s_top = np.split(roots[:, None], 3, axis=2)
            for repeat in range(MAX_REPEATS):
                mass = self._mass(now, pressure, lead)
                thick = across(mass)
                ground, k_top, s_top = _laid(ground, k_top, s_top, thick * k, thick * s, coverage)
                now = now + mass
                at = pressure * MAX_REPEATS + repeat
                for i, part in enumerate((ground, k_top, s_top)):
                    out[:, :, at, i * N_BANDS : (i + 1) * N_BANDS] = part
                deposits[:, at] = now
        return out.reshape(group, -1, 3 * N_BANDS), deposits.reshape(-1)

    def advance(
        self, roots: NDArray[np.float32], filled: Floats, actions: NDArray[np.intp], hand: Hand = STEADY
    ) -> tuple[NDArray[np.float32], Floats]:
        roots, filled = roots.copy(), filled.copy()
        stick, pressure, repeats = self._action_table[actions].T
        for repeat in range(MAX_REPEATS):
            on = repeats > repeat
            mass = self._mass(filled[on], pressure[on], stick[on]) * hand.thickness
            thick, sticks = across(mass), stick[on]
            ground, k_top, s_top = np.split(roots[on], 3, axis=1)
            coverage = across(np.minimum(self._cover[sticks] * hand.coverage, 1.0))
            k_new, s_new = thick * self._k32.take(sticks, axis=0), thick * self._s32.take(sticks, axis=0)
            laid = _laid(ground, k_top, s_top, k_new, s_new, coverage)
            roots[on] = np.concatenate(laid, axis=1)
            filled[on] += mass
        return roots, filled

    def pile(self, paths: NDArray[np.intp]) -> OilState:
        blank, bare = self.blank()
        roots, filled = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
        top = np.zeros(len(paths))
        for actions in paths.T:
            before = filled
            stick, pressure, repeats = self._action_table[actions].T
            for repeat in range(MAX_REPEATS):
                on = repeats > repeat
                mass = np.where(on, self._mass(before, pressure, stick), 0.0)
                top, before = np.where(on, DRAGGED * top + mass, top), before + mass
            roots, filled = self.advance(roots, filled, actions)
        ground, k_top, s_top = np.split(roots.astype(float), 3, axis=1)
        return OilState(ground, k_top, s_top, top[:, None], filled[:, None])

    def rows(self, pile: OilState, which: NDArray[np.intp]) -> OilState:
        return OilState(pile.ground[which], pile.k_top[which], pile.s_top[which], pile.mass[which], pile.filled[which])

    def seen(self, roots: Floats) -> Floats:
        ground, k_top, s_top = (roots[..., i * N_BANDS : (i + 1) * N_BANDS] for i in range(3))
        return outside(np.square(_seen(ground, k_top, s_top, COVERAGE)))


def _seen(ground: Floats, k_top: Floats, s_top: Floats, coverage: Any) -> Floats:
    """Square root of the inner reflectance of a top film over its ground."""
    r0, t = film(k_top, np.maximum(s_top, 1e-7), 1 / np.asarray(coverage, dtype=k_top.dtype))
    return covered(ground, r0, t, coverage)


def _laid(
    ground: Floats, k_top: Floats, s_top: Floats, k_new: Floats, s_new: Floats, coverage: Any
) -> tuple[Floats, Floats, Floats]:
    """A new pass: what it does not drag along stays below, what it drags joins it."""
    below = _seen(ground, (1 - DRAGGED) * k_top, (1 - DRAGGED) * s_top, coverage)
    return below, DRAGGED * k_top + k_new, DRAGGED * s_top + s_new


def _scraped(state: OilState, share: float) -> OilState:
    left = 1 - share
    return OilState(
        state.ground,
        left * state.k_top,
        left * state.s_top,
        left * state.mass,
        np.maximum(0.0, state.filled - share * state.mass),
    )


class OilPastel:
    """Oil pastel."""

    id = "oil_pastel"
    name = "Oil pastel"
    word = "oil pastel"
    techniques: tuple[str, ...] = ("lay",)
    pressures: tuple[str, ...] = PRESSURES
    tools: dict[str, tuple[str, ...]] = {"blade": ("lift",)}
    lies = "paste"
    grain = 0.35
    hides = True
    finishing = False

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> OilPastelBox:
        return OilPastelBox(sticks, support)
