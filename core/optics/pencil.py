"""Coloured pencil: translucent films that catch on the tooth of the paper until it is full.

How searches and plans lay very many passes at once, too; other dry media inherit it.
"""

from __future__ import annotations

from copy import copy
from dataclasses import replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.characterise import inside
from core.optics.dry import BURNISHED_COVERAGE, STAIN, DryBox, DryState
from core.optics.film import across, cover
from core.optics.medium import FADES, MAX_REPEATS, PRESSURES, STEADY, Hand, Laid, Pass, between
from core.optics.spectra import COARSE
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import of_odds

_STEPS = 1000
"""How finely pressure is told apart in `strokes`."""
_LEVELS = np.linspace(0.0, 1.0, _STEPS + 1)
_PLACES_AT_ONCE = 1024
"""How many places are worked out at once: what the processor's caches hold. Measured."""
_PER_FILM, _THICKEST = 256, 2
"""How finely thickness is told apart there, steps a full film, and the thickest film that a hand lays at once."""


class PencilBox(DryBox):
    """Pencils on one paper; see `Box`."""

    # What only searches and plans look up is worked out for them alone: trial boxes prepare trays by the hundred.

    @cached_property
    def _bodies(self) -> Any:
        """`_exact` in single precision."""
        return self._made_up(self.k.astype(np.float32), self.s.astype(np.float32))

    @cached_property
    def _film_at(self) -> Floats:
        """(n, steps): the film of each stick by pressure, looked up many million times while layers are planned."""
        return np.asarray(np.outer(self._give, np.where(_LEVELS > 0, between(_LEVELS, self._films, 1.0), 0.0)))

    @cached_property
    def _coverage_at(self) -> Floats:
        """(n, steps): what each stick covers by pressure."""
        covered_at = np.where(_LEVELS > 0, between(_LEVELS, self._coverage, FADES), 0.0)
        return np.asarray(of_odds(covered_at, self._reach[:, None]))

    @cached_property
    def _action_table(self) -> NDArray[np.intp]:
        """(a, 3): stick, pressure and repeats of every action."""
        return np.array([(a.stick, a.pressure, a.repeats) for a in self.actions], dtype=np.intp).reshape(-1, 3)

    @cached_property
    def _part(self) -> Floats:
        """(a,): the part of a film that every action lays."""
        return np.array([self.laying[a.technique] for a in self.actions])

    def coarse(self) -> PencilBox:
        other = copy(self)
        other.__dict__.pop("_film_table", None)
        other._paper = self._paper[COARSE]
        other.k, other.s, other.mixes = self.k[:, COARSE], self.s[:, COARSE], self.mixes[:, COARSE]
        other._exact, other._bodies = self._exact.bands(COARSE), self._bodies.bands(COARSE)
        return other

    def stacks(self, sticks: NDArray[np.intp], pressures: NDArray[np.intp]) -> Floats:
        root = np.repeat(self._kept(np.sqrt(self._paper), 0.0)[None], len(sticks), axis=0)
        filled = np.zeros(len(sticks))
        for stick, pressure in zip(sticks.T, pressures.T, strict=True):
            on = np.flatnonzero(stick >= 0)
            its = stick[on]
            thickness, coverage = self._deposit(filled[on], pressure[on], its)
            root[on] = self._over(root[on], self._exact.take(its), thickness[:, None], coverage[:, None])
            filled[on] += thickness * coverage
        return self.seen(root)

    def blank(self) -> tuple[NDArray[np.float32], float]:
        return self._kept(np.sqrt(self._paper), 0.0).astype(np.float32)[None], 0.0

    def over(self, reflectance: Floats, tooth: Floats) -> tuple[NDArray[np.float32], Floats]:
        bands = slice(None) if len(self._paper) == reflectance.shape[-1] else COARSE
        roots = self._kept(np.sqrt(inside(reflectance[..., bands])), 0.0)
        return roots.astype(np.float32), (1 - tooth) * self.capacity

    def looking(self, reflectance: Floats, roots: Floats, filled: Floats) -> tuple[NDArray[np.float32], Floats]:
        return self.over(reflectance, self.tooth_left_at(filled))

    def left(self, roots: Floats, filled: Floats) -> tuple[Floats, Floats]:
        return self.seen(roots), self.tooth_left_at(filled)

    def expand(
        self, roots: NDArray[np.float32], filled: float, sticks: NDArray[np.intp] | None = None
    ) -> tuple[NDArray[np.float32], Floats]:
        """As `lay`, in single precision, for many pencils, pressures and repeats at once."""
        lead = self._lead if sticks is None else sticks
        hands = [(part, pressure) for part in self.laying.values() for pressure in range(len(PRESSURES))]
        group, each = len(roots), len(hands) * MAX_REPEATS
        bodies = self._bodies.take(lead)
        out = np.empty((group, len(lead), each, roots.shape[1]), dtype=np.float32)
        deposits = np.empty((len(lead), each))
        for number, (part, pressure) in enumerate(hands):
            now: Floats = np.full(len(lead), filled)
            root: Floats = np.broadcast_to(roots[:, None], (group, len(lead), roots.shape[1]))
            for repeat in range(MAX_REPEATS):
                thickness, coverage = self._deposit(now, pressure, lead)
                thickness = thickness * part
                root = self._over(root, bodies, across(thickness), across(coverage))
                now = now + thickness * coverage
                out[:, :, number * MAX_REPEATS + repeat] = root
                deposits[:, number * MAX_REPEATS + repeat] = now
        return out.reshape(group, -1, roots.shape[1]), deposits.reshape(-1)

    def advance(
        self, roots: NDArray[np.float32], filled: Floats, actions: NDArray[np.intp], hand: Hand = STEADY
    ) -> tuple[NDArray[np.float32], Floats]:
        by_repeats = np.argsort(-self._action_table[actions, 2], kind="stable")
        roots, filled = roots.take(by_repeats, axis=0), filled[by_repeats]
        stick, pressure, repeats = self._action_table[actions[by_repeats]].T
        bodies, part = self._bodies.take(stick), hand.thickness * self._part[actions[by_repeats]]
        for repeat in range(MAX_REPEATS):
            on = slice(int(np.count_nonzero(repeats > repeat)))
            thickness, coverage = self._deposit(filled[on], pressure[on], stick[on])
            thickness = thickness * part[on]
            coverage = np.minimum(coverage * hand.coverage, BURNISHED_COVERAGE)
            roots[on] = self._over(roots[on], bodies[on], across(thickness), across(coverage))
            filled[on] += thickness * coverage
        back = np.argsort(by_repeats)
        return roots.take(back, axis=0), filled[back]

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
        if len(filled) > 2 * _PLACES_AT_ONCE:
            parts = [slice(i, i + _PLACES_AT_ONCE) for i in range(0, len(filled), _PLACES_AT_ONCE)]
            done = [
                self.strokes(roots[p], filled[p], _some(stick, p), pressure[p], times[p], technique, hand.of(p))
                for p in parts
            ]
            return np.concatenate([part[0] for part in done]), np.concatenate([part[1] for part in done])
        most = int(times.max(initial=0))
        sorted_ = bool((times[:-1] >= times[1:]).all())
        level = np.rint(pressure * _STEPS).astype(np.intp)
        thick = self._film_at[stick, level] * (self.laying[technique] * hand.thickness)
        touched = self._coverage_at[stick, level] * hand.coverage
        if sorted_:
            roots, filled = roots.copy(), filled.copy()
        else:
            # Places with more strokes first: what goes on is then always a slice.
            order = np.argsort(-times, kind="stable")
            roots, filled, times = roots.take(order, axis=0), filled.take(order), times.take(order)
            thick, touched, stick = thick.take(order), touched.take(order), _some(stick, order)
        for number in range(most):
            on = slice(int(np.count_nonzero(times > number)))
            shrink = self._room(filled[on])
            thickness = thick[on] * shrink
            coverage = np.minimum(touched[on] * shrink, BURNISHED_COVERAGE)
            self._stroke(roots[on], _some(stick, on), thickness, coverage)
            filled[on] += thickness * coverage
        if sorted_:
            return roots, filled
        back = np.empty_like(order)
        back[order] = np.arange(len(order))
        return roots.take(back, axis=0), filled.take(back)

    def _stroke(self, roots: NDArray[np.float32], stick: Any, thickness: Floats, coverage: Floats) -> None:
        """As `_over`, in place, films (g,) of one stick or of one for each: looked up."""
        r0_at, t_squared_at = self._film_table
        at = np.minimum(thickness * _PER_FILM, _PER_FILM * _THICKEST - 1).astype(np.intp)
        at += stick * (_PER_FILM * _THICKEST)
        covers = np.repeat(coverage.astype(np.float32)[:, None], roots.shape[1], axis=1)
        cover(roots, r0_at.take(at, axis=0), t_squared_at.take(at, axis=0), covers)

    @cached_property
    def _film_table(self) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """R0 and squared T of films of every stick, by thickness: (n · _PER_FILM · _THICKEST, 31)."""
        middles = ((np.arange(_PER_FILM * _THICKEST) + 0.5) / _PER_FILM).astype(np.float32)[:, None]
        films = [self._bodies[stick : stick + 1].at(middles) for stick in range(len(self.sticks))]
        return np.concatenate([r0 for r0, _ in films]), np.square(np.concatenate([t for _, t in films]))

    def pile(self, paths: NDArray[np.intp]) -> DryState:
        blank, bare = self.blank()
        roots, filled = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
        masses = np.empty(paths.shape)
        for number, actions in enumerate(paths.T):
            before = filled
            roots, filled = self.advance(roots, before, actions)
            masses[:, number] = filled - before
        return self.laid(roots.astype(float), filled, masses, self._action_table[paths, 0])

    def laid(
        self, roots: Floats, filled: Floats, masses: Floats, sticks: NDArray[np.intp], below: Floats | None = None
    ) -> DryState:
        """What passes have left, as one state with g rows that `apply` can go on with.

        roots (g, 31), filled (g,): as the search keeps them. masses (g, n): what each of n passes left; sticks (g, n)
        or (n,): of which stick. below (g, 31): the roots on which they were laid, those of bare paper by default.
        """
        bare = self._kept(np.sqrt(self._paper), 0.0) if below is None else below
        spread = np.broadcast_to(sticks, masses.shape)
        return DryState(
            root=roots,
            filled=filled[:, None],
            k_deposit=np.einsum("gd,gdb->gb", masses, self.mixes[spread]),
            s_deposit=np.einsum("gd,gdb->gb", masses, self.s[spread]),
            mass=masses.sum(axis=1, keepdims=True),
            ground=np.square(bare[..., : len(self._paper)]),
            stain=bare + STAIN * (roots - bare),
            tooth=1.0,
        )

    def worked(self, laid: Laid, pass_: Pass, hand: Hand = STEADY) -> tuple[NDArray[np.float32], Floats]:
        begun = laid.begun.astype(float)
        state = self.laid(laid.roots.astype(float), laid.filled, laid.masses, laid.sticks, begun)
        done = self.apply(state, pass_, hand)
        return done.root.astype(np.float32), np.broadcast_to(done.filled, (len(laid.filled), 1))[:, 0]

    def rows(self, pile: DryState, which: NDArray[np.intp]) -> DryState:
        return replace(
            pile,
            root=pile.root[which],
            filled=pile.filled[which],
            k_deposit=pile.k_deposit[which],
            s_deposit=pile.s_deposit[which],
            mass=pile.mass[which],
            stain=pile.stain[which],
        )


def _some(factors: Any, which: Any) -> Any:
    """Those of some places, if there is one for each."""
    return factors[which] if isinstance(factors, np.ndarray) and factors.ndim else factors


class Pencil:
    """Coloured pencil, wax- or oil-bound."""

    id = "pencil"
    name = "Coloured pencil"
    word = "pencil"
    techniques: tuple[str, ...] = PencilBox.techniques
    pressures: tuple[str, ...] = PRESSURES
    tools: dict[str, tuple[str, ...]] = PencilBox.tools
    lies = "film"
    grain = 0.8
    hides = True
    finishing = False

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> PencilBox:
        return PencilBox(sticks, support)
