"""Oil pastel: thick, greasy passes that drag along what lies on top and mix with it."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.characterise import characterise, inside, outside
from core.optics.dry import SCATTER_BY_OPACITY, rise
from core.optics.film import across, laid_over
from core.optics.medium import (
    FADES,
    MAX_REPEATS,
    PRESSURES,
    STEADY,
    Ground,
    Hand,
    Laid,
    Pass,
    actions_of,
    between,
    check_pass,
)
from core.optics.spectra import COARSE
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import of_odds

# Assumptions, all of them named and explained in docs/model.md.
MASS_BY_PRESSURE = (0.30, 0.60, 1.0)
SOFTNESS = 1.5
"""How much more of the surface paste touches than wax: what a pass leaves bare is a pencil's part to this power."""
CLOSED = 0.985
"""The most that passes cover."""
SCATTER_TIMES = 3.0
"""How much more than wax a paste scatters, full of chalk as it is."""
DRAGGED = 0.9
"""The part of the top film that a new pass takes up and mixes with."""
CAPACITY_TIMES = 0.7
"""How much paste a tooth holds, against wax: four or five thick passes fill it."""
SLIPS = 0.25
"""How the part of the surface that a pass touches shrinks with the tooth that is left: its power."""
MELTED = 0.99
"""How much of the surface the top film covers once it is rubbed."""
SCRAPED = (0.35, 0.60, 0.85)
"""The part of the top film that a blade takes off, by pressure."""


@dataclass(frozen=True, slots=True)
class OilState:
    """ground: square root of the inner reflectance below the top film (31,). k_top, s_top: K and S of the top
    film times its mass (31,). cover: the part of the surface that film covers, 0–1. mass: its mass. filled: deposit so
    far, in full films."""

    ground: Floats
    k_top: Floats
    s_top: Floats
    cover: Any
    mass: Any
    filled: Any


Parts = tuple[Floats, Floats, Floats, Any]
"""Ground, K and S of the top film, its cover."""


class OilPastelBox:
    """Oil pastels on one paper; see `Box`.

    The search's roots hold ground, K and S of the top film and its cover one after the other: (…, 94).
    """

    once_a_stick = False
    drags = True

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        self.sticks = sticks
        self.support = support
        self.actions = actions_of(range(len(sticks)))
        self._index = {stick.code: i for i, stick in enumerate(sticks)}
        self._paper = inside(support.reflectance())
        touch = support.touch("oil_pastel")
        self.k, self.s = characterise(
            sticks,
            tuple(_scatter(stick) * touch.scatters(float(stick.lab[0])) for stick in sticks),
        )
        self._give = np.array([stick.fit.strength for stick in sticks])
        self._reach = np.array([stick.fit.coverage for stick in sticks])
        self._coverage = of_odds(1 - (1 - np.array(support.coverage)) ** SOFTNESS, np.array(touch.coverage))
        self._covers = of_odds(self._coverage, self._reach[:, None])
        self._drags, self._slips = float(of_odds(DRAGGED, touch.dragged)), SLIPS * touch.slips
        self._k32, self._s32 = self.k.astype(np.float32), self.s.astype(np.float32)
        self._capacity = CAPACITY_TIMES * support.capacity * touch.capacity
        self._masses = np.array(MASS_BY_PRESSURE) * touch.film
        self._action_table = np.array([(a.stick, a.pressure, a.repeats) for a in self.actions]).reshape(-1, 3)

    def coarse(self) -> OilPastelBox:
        other = copy(self)
        other._paper = self._paper[COARSE]
        other._k32, other._s32 = self._k32[:, COARSE], self._s32[:, COARSE]
        return other

    def start(self, ground: Ground | None = None) -> OilState:
        below, tooth = (inside(ground.reflectance), ground.tooth) if ground else (self._paper, 1.0)
        nothing = np.zeros_like(below)
        return OilState(np.sqrt(below), nothing, nothing, 0.0, 0.0, (1 - tooth) * self._capacity)

    def leave(self, state: OilState) -> Ground:
        return Ground(self.reflectance(state), self.tooth_left_at(state.filled))

    def apply(self, state: OilState, pass_: Pass, hand: Hand = STEADY) -> OilState:
        check_pass(pass_, OilPastel.techniques, self._index, tools=OilPastel.tools)
        pressure = PRESSURES.index(pass_.pressure)
        for _ in range(pass_.repeats):
            if pass_.stick in self._index:
                state = self._lay(state, self._index[pass_.stick], pressure, hand)
            elif pass_.technique == "smudge":
                state = replace(state, cover=_melted(np.asarray(state.cover, dtype=float), hand))
            else:
                state = _scraped(state, SCRAPED[pressure])
        return state

    def _lay(self, state: OilState, stick: int, pressure: int, hand: Hand) -> OilState:
        mass, coverage = self._deposit(state.filled, pressure, stick, hand)
        parts = state.ground, state.k_top, state.s_top, state.cover
        top = self._added(parts, mass * self.k[stick], mass * self.s[stick], coverage)
        return OilState(*top, self._drags * state.mass + mass, state.filled + mass)

    def _added(self, parts: Parts, k_new: Floats, s_new: Floats, coverage: Any) -> Parts:
        """A new pass: what it does not drag along stays below, what it drags joins it."""
        ground, k_top, s_top, cover = parts
        below = _seen(ground, (1 - self._drags) * k_top, (1 - self._drags) * s_top, cover)
        closed = np.minimum(1 - (1 - cover) * (1 - coverage), CLOSED)
        return below, self._drags * k_top + k_new, self._drags * s_top + s_new, closed

    def stacks(self, sticks: NDArray[np.intp], pressures: NDArray[np.intp]) -> Floats:
        count, nothing = len(sticks), np.zeros((len(sticks), len(self._paper)))
        parts, filled = (
            (np.repeat(np.sqrt(self._paper)[None], count, axis=0), nothing, nothing, np.zeros((count, 1))),
            np.zeros(count),
        )
        for stick, pressure in zip(sticks.T, pressures.T, strict=True):
            on = stick >= 0
            mass, coverage = self._deposit(filled, pressure, stick)
            laid = self._added(parts, mass[:, None] * self.k[stick], mass[:, None] * self.s[stick], coverage[:, None])
            ground, k_top, s_top, cover = (
                np.where(on[:, None], new, old) for new, old in zip(laid, parts, strict=True)
            )
            parts, filled = (ground, k_top, s_top, cover), filled + np.where(on, mass, 0.0)
        return outside(np.square(_seen(*parts)))

    def reflectance(self, state: OilState) -> Floats:
        return outside(np.square(_seen(state.ground, state.k_top, state.s_top, state.cover)))

    def tooth_left(self, state: OilState) -> float:
        return float(np.ravel(self.tooth_left_at(np.asarray(state.filled)))[0])

    def tooth_left_at(self, filled: Floats) -> Floats:
        return np.asarray(np.maximum(0.0, 1.0 - filled / self._capacity))

    def _deposit(self, filled: Any, pressure: Any, stick: Any, hand: Hand = STEADY) -> tuple[Floats, Floats]:
        """Mass and coverage of the next pass of a named pressure (numbers or arrays)."""
        return self._slipping(filled, self._masses[pressure], self._covers[stick, pressure], stick, hand)

    def _slipping(self, filled: Any, mass: Any, coverage: Any, stick: Any, hand: Hand) -> tuple[Floats, Floats]:
        """What is left of a pass on what lies there already: less as the tooth fills and the paste slips."""
        tooth = np.maximum(0.0, 1.0 - np.asarray(filled) / self._capacity)
        touched = coverage * tooth**self._slips * hand.coverage
        return mass * self._give[stick] * tooth * hand.thickness, np.minimum(touched, CLOSED)

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
        roots, filled = roots.copy(), filled.copy()
        for number in range(int(times.max(initial=0))):
            on = np.flatnonzero(times > number)
            its = stick[on] if np.ndim(stick) else stick
            covers = of_odds(between(pressure[on], self._coverage, FADES), self._reach[its])
            pressed = between(pressure[on], self._masses, 1.0), covers
            mass, coverage = self._slipping(filled[on], *pressed, its, hand.of(on))
            thick = mass.astype(np.float32)[:, None]
            new = thick * self._k32[its], thick * self._s32[its]
            roots[on] = np.concatenate(
                self._added(_split(roots[on]), *new, coverage.astype(np.float32)[:, None]), axis=1
            )
            filled[on] += mass
        return roots, filled

    def blank(self) -> tuple[NDArray[np.float32], float]:
        nothing = np.zeros(2 * len(self._paper) + 1)
        return np.concatenate([np.sqrt(self._paper), nothing]).astype(np.float32)[None], 0.0

    def over(self, reflectance: Floats, tooth: Floats) -> tuple[NDArray[np.float32], Floats]:
        bands = slice(None) if len(self._paper) == reflectance.shape[-1] else COARSE
        below = np.sqrt(inside(reflectance[..., bands]))
        nothing = np.zeros((len(below), 2 * len(self._paper) + 1))
        return np.concatenate([below, nothing], axis=1).astype(np.float32), (1 - tooth) * self._capacity

    def looking(self, reflectance: Floats, roots: Floats, filled: Floats) -> tuple[NDArray[np.float32], Floats]:
        return self.over(reflectance, self.tooth_left_at(filled))

    def left(self, roots: Floats, filled: Floats) -> tuple[Floats, Floats]:
        return self.seen(roots), self.tooth_left_at(filled)

    def expand(
        self, roots: NDArray[np.float32], filled: float, sticks: NDArray[np.intp] | None = None
    ) -> tuple[NDArray[np.float32], Floats]:
        """As `apply`, for many sticks, pressures and repeats at once."""
        lead = np.arange(len(self.sticks)) if sticks is None else sticks
        group, each = len(roots), len(PRESSURES) * MAX_REPEATS
        out = np.empty((group, len(lead), each, roots.shape[1]), dtype=np.float32)
        deposits = np.empty((len(lead), each))
        k, s = self._k32[lead], self._s32[lead]
        for pressure in range(len(PRESSURES)):
            now: Floats = np.full(len(lead), filled)
            parts = _split(roots[:, None])
            for repeat in range(MAX_REPEATS):
                mass, coverage = self._deposit(now, pressure, lead)
                thick = across(mass)
                parts = self._added(parts, thick * k, thick * s, coverage.astype(np.float32)[:, None])
                now = now + mass
                at = pressure * MAX_REPEATS + repeat
                for part, where in zip(parts, _split(out[:, :, at]), strict=True):
                    where[...] = part
                deposits[:, at] = now
        return out.reshape(group, -1, roots.shape[1]), deposits.reshape(-1)

    def advance(
        self, roots: NDArray[np.float32], filled: Floats, actions: NDArray[np.intp], hand: Hand = STEADY
    ) -> tuple[NDArray[np.float32], Floats]:
        roots, filled = roots.copy(), filled.copy()
        stick, pressure, repeats = self._action_table[actions].T
        for repeat in range(MAX_REPEATS):
            on = repeats > repeat
            sticks = stick[on]
            mass, coverage = self._deposit(filled[on], pressure[on], sticks, hand)
            thick = across(mass)
            k_new, s_new = thick * self._k32.take(sticks, axis=0), thick * self._s32.take(sticks, axis=0)
            laid = self._added(_split(roots[on]), k_new, s_new, coverage.astype(np.float32)[:, None])
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
                mass = np.where(on, self._deposit(before, pressure, stick)[0], 0.0)
                top, before = np.where(on, self._drags * top + mass, top), before + mass
            roots, filled = self.advance(roots, filled, actions)
        return OilState(*_split(roots.astype(float)), top[:, None], filled[:, None])

    def worked(self, laid: Laid, pass_: Pass, hand: Hand = STEADY) -> tuple[NDArray[np.float32], Floats]:
        check_pass(pass_, OilPastel.techniques, self._index, tools=OilPastel.tools)
        roots = laid.roots.copy()
        roots[:, -1:] = _melted(roots[:, -1:], hand)
        return roots, laid.filled

    def rows(self, pile: OilState, which: NDArray[np.intp]) -> OilState:
        return OilState(
            pile.ground[which],
            pile.k_top[which],
            pile.s_top[which],
            pile.cover[which],
            pile.mass[which],
            pile.filled[which],
        )

    def seen(self, roots: Floats) -> Floats:
        return outside(np.square(_seen(*_split(roots))))


def _split(roots: Floats) -> Parts:
    n = roots.shape[-1] // 3
    return roots[..., :n], roots[..., n : 2 * n], roots[..., 2 * n : 3 * n], roots[..., 3 * n :]


def _seen(ground: Floats, k_top: Floats, s_top: Floats, cover: Any) -> Floats:
    """Square root of the inner reflectance of a top film over its ground."""
    part = np.maximum(np.asarray(cover, dtype=k_top.dtype), 1e-6)
    over = np.sqrt(laid_over(np.square(ground), k_top / part, np.maximum(s_top, 1e-7) / part))
    over -= ground
    over *= np.asarray(cover, dtype=k_top.dtype)
    over += ground
    return over


def _scatter(stick: Stick) -> float:
    return SCATTER_TIMES * SCATTER_BY_OPACITY[stick.opacity] * rise(float(stick.lab[0]))


def _melted(cover: Floats, hand: Hand) -> Floats:
    """How much of the surface a top film covers once it is rubbed into the grain; none of it where nothing lies."""
    return np.asarray(np.where(cover > 0, np.maximum(cover, np.minimum(MELTED * hand.coverage, 1.0)), cover))


def _scraped(state: OilState, share: float) -> OilState:
    left = 1 - share
    return OilState(
        state.ground,
        left * state.k_top,
        left * state.s_top,
        state.cover,
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
    tools: dict[str, tuple[str, ...]] = {"stump": ("smudge",), "blade": ("lift",)}
    lies = "paste"
    grain = 0.35
    hides = True
    finishing = False

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> OilPastelBox:
        return OilPastelBox(sticks, support)
