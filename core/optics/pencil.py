"""Coloured pencil: translucent films that catch on the tooth of the paper until it is full."""

from __future__ import annotations

from collections.abc import Callable
from copy import copy
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.characterise import characterise, inside, outside
from core.optics.film import Films, across, cover, covered, film
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
SCATTER_BY_OPACITY = {"transparent": 0.12, "semi": 0.5, "opaque": 1.6}
WHITE_SCATTER = 0.3
WHITE_ABOVE_L, WHITE_BELOW_C = 95.0, 5.0
FILM_BY_PRESSURE = (0.22, 0.50, 1.0)
SLIPS = 0.5
"""How passes shrink with the tooth that is left: its power."""
HARD_FILM = 0.75
"""What a hard lead leaves, against a soft one."""
BURNISHED_COVERAGE = 0.985
BURNISHER_DEPOSIT = 0.5
BURNISHER_ON_TOP = 0.22
HARD_BURNISHED_COVERAGE, HARD_BURNISH_CLOSES = 0.95, 0.6
RUBBED_COVERAGE = 0.90
RUBS_FROM, RUBS_FULLY = 0.3, 1.2
"""A stump moves nothing below the first deposit, and makes one even mixture from the second on (full films)."""
LIFTED = {"putty": (0.15, 0.30, 0.45), "blade": (0.35, 0.60, 0.80)}
LIFTED_FROM_WAX = 0.4
"""What putty still lifts where burnishing has closed the tooth."""
STAIN = 0.08
"""The part of every pass that stays in the fibres and cannot be lifted."""
_STEPS = 1000
"""How finely pressure is told apart in `strokes`."""
_LEVELS = np.linspace(0.0, 1.0, _STEPS + 1)
_PLACES_AT_ONCE = 1024
"""How many places are worked out at once: what the processor's caches hold. Measured."""
_PER_FILM, _THICKEST = 256, 2
"""How finely thickness is told apart there, steps a full film, and the thickest film that a hand lays at once."""


@dataclass(frozen=True, slots=True)
class DryState:
    """What lies on the paper at one place.

    root: square root of the inner reflectance (31,), with what else the medium keeps (see `PencilBox._kept`). filled:
    deposit so far, in full films, whatever medium left it. k_deposit, s_deposit: K (or what the medium mixes by, see
    `PencilBox.mixes`) and S of what this medium laid, times its mass (31,). ground: inner reflectance of what it was
    laid on (31,). stain: the root, with what can no longer be lifted. tooth: free part of the tooth at the start.
    """

    root: Floats
    filled: Any
    k_deposit: Floats
    s_deposit: Floats
    mass: Any
    ground: Floats
    stain: Floats
    tooth: Any


Step = Callable[[DryState, int, int, Hand], DryState]


class PencilBox:
    """Pencils on one paper; see `Box`."""

    once_a_stick = False
    drags = False
    medium = "pencil"
    techniques: tuple[str, ...] = ("lay", "burnish")
    tools: dict[str, tuple[str, ...]] = {"stump": ("smudge",), "putty": ("lift",), "blade": ("lift",)}
    films: tuple[float, ...] = FILM_BY_PRESSURE
    """Thickness of a pass by pressure, in full films."""
    laying: dict[str, float] = {"lay": 1.0}
    """The techniques that the search uses, with the part of a film that each lays."""
    lifted = LIFTED
    rubbed_coverage = RUBBED_COVERAGE
    hard_binders: tuple[str, ...] = ("oil", "hard")

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        self.sticks = sticks
        self.support = support
        self._index = {stick.code: i for i, stick in enumerate(sticks)}
        self._paper = inside(support.reflectance())
        self._touch = support.touch(self.medium)
        scatter = (self._scatter(stick) * self._touch.scatters(float(stick.lab[0])) for stick in sticks)
        self.k, self.s = characterise(sticks, tuple(scatter))
        self.mixes = self._mixed_by()
        self._hard = np.array([any(word in stick.binder for word in self.hard_binders) for stick in sticks], dtype=bool)
        self._give = np.where(self._hard, HARD_FILM, 1.0) * [stick.fit.strength for stick in sticks]
        self._reach = np.array([stick.fit.coverage for stick in sticks])
        coverage, capacity = self._grip(support)
        self._films = np.array(self.films) * self._touch.film
        self._coverage = of_odds(coverage, np.array(self._touch.coverage))
        self._covers = of_odds(self._coverage, self._reach[:, None])
        self.capacity, self._slips = capacity * self._touch.capacity, SLIPS * self._touch.slips
        # A colourless stick adds nothing, so the search leaves it to the artist.
        self._colourless = [stick.colourless for stick in sticks]
        coloured = np.flatnonzero(~np.array(self._colourless, dtype=bool))
        self._lead = coloured if len(coloured) else np.arange(len(sticks))
        self.actions = actions_of(map(int, self._lead), techniques=tuple(self.laying))
        self._exact = self._made_up(self.k, self.s)

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

    def _grip(self, support: Support) -> tuple[Floats, float]:
        """Coverage of a pass by pressure, and the deposit that fills the paper."""
        return np.array(support.coverage), support.capacity

    def _scatter(self, stick: Stick) -> float:
        """S of a full film. Pale sticks carry white and so scatter more; a white pencil is nevertheless weak."""
        lightness, a, b = stick.lab
        if lightness > WHITE_ABOVE_L and np.hypot(a, b) < WHITE_BELOW_C:
            return WHITE_SCATTER
        return SCATTER_BY_OPACITY[stick.opacity] * rise(lightness)

    def _mixed_by(self) -> Floats:
        """(n, 31): what is averaged by mass when sticks are worked into one mixture; of wax K itself."""
        return self.k

    def _k_of_mixture(self, mixed: Floats, s: Floats) -> Floats:
        """K of a mixture, of that average and of its S."""
        return mixed

    def _made_up(self, k: Floats, s: Floats) -> Any:
        """The sticks, made ready for `_over`."""
        return Films.of(k, s)

    def _over(self, roots: Floats, bodies: Any, thickness: Any, coverage: Any) -> Floats:
        """Roots as they are kept, with one more film of one stick or of one for each; the arguments broadcast."""
        r0, t = bodies.at(thickness)
        return covered(roots, r0, t, coverage)

    def _kept(self, root: Floats, top: Any) -> Floats:
        """The square root of reflectance (…, 31) with what else the medium keeps of a place; top: the mass of the film
        on top, a number or (…, 1). Wax stays where it lies, so nothing is kept of it."""
        return root

    def coarse(self) -> PencilBox:
        other = copy(self)
        other.__dict__.pop("_film_table", None)
        other._paper = self._paper[COARSE]
        other.k, other.s, other.mixes = self.k[:, COARSE], self.s[:, COARSE], self.mixes[:, COARSE]
        other._exact, other._bodies = self._exact.bands(COARSE), self._bodies.bands(COARSE)
        return other

    def start(self, ground: Ground | None = None) -> DryState:
        below, tooth = (inside(ground.reflectance), ground.tooth) if ground else (self._paper, 1.0)
        nothing, root = np.zeros_like(below), self._kept(np.sqrt(below), 0.0)
        return DryState(root, (1 - tooth) * self.capacity, nothing, nothing, 0.0, below, root, tooth)

    def leave(self, state: DryState) -> Ground:
        return Ground(self.reflectance(state), self.tooth_left_at(state.filled))

    def apply(self, state: DryState, pass_: Pass, hand: Hand = STEADY) -> DryState:
        check_pass(pass_, self.techniques, self._index, tools=self.tools)
        pressure = PRESSURES.index(pass_.pressure)
        stick = self._index.get(pass_.stick)
        for _ in range(pass_.repeats):
            if stick is not None:
                state = self._technique(pass_.technique)(state, stick, pressure, hand)
            elif pass_.technique == "lift":
                state = self._lift(state, pass_.stick, pressure)
            else:
                state = self._rub(state, hand)
        return state

    def _technique(self, name: str) -> Step:
        return self._burnish if name == "burnish" else self._lay

    def reflectance(self, state: DryState) -> Floats:
        return self.seen(state.root)

    def tooth_left(self, state: DryState) -> float:
        return float(np.ravel(self.tooth_left_at(np.asarray(state.filled)))[0])

    def tooth_left_at(self, filled: Floats) -> Floats:
        return np.asarray(np.maximum(0.0, 1.0 - filled / self.capacity))

    def _lay(self, state: DryState, stick: int, pressure: int, hand: Hand) -> DryState:
        if self._colourless[stick]:
            return state
        thickness, coverage = self._deposit(state.filled, pressure, stick)
        return self._laid(
            state, stick, thickness * hand.thickness, np.minimum(coverage * hand.coverage, BURNISHED_COVERAGE)
        )

    def _laid(self, state: DryState, stick: int, thickness: Any, coverage: Any) -> DryState:
        mass = thickness * coverage
        root = self._over(state.root, self._exact.take(stick), thickness, coverage)
        return replace(
            state,
            root=root,
            filled=state.filled + mass,
            k_deposit=state.k_deposit + mass * self.mixes[stick],
            s_deposit=state.s_deposit + mass * self.s[stick],
            mass=state.mass + mass,
            stain=state.stain + STAIN * (root - state.root),
        )

    def _burnish(self, state: DryState, stick: int, pressure: int, hand: Hand) -> DryState:
        """Heavy rubbing: all deposits become one mixture that closes the tooth; a part of the
        burnishing stick stays on top, and hardly anything holds on it afterwards. A colourless stick
        merges only; a hard one merges less well and leaves some tooth."""
        colourless, hard = self._colourless[stick], self._hard[stick]
        mass = 0.0 if colourless else BURNISHER_DEPOSIT * FILM_BY_PRESSURE[pressure] * hand.thickness
        below, on_top = (1 - BURNISHER_ON_TOP) * mass, BURNISHER_ON_TOP * mass
        closed = self._merged(
            replace(
                state,
                k_deposit=state.k_deposit + below * self.mixes[stick],
                s_deposit=state.s_deposit + below * self.s[stick],
                mass=state.mass + below,
            ),
            HARD_BURNISHED_COVERAGE if hard else BURNISHED_COVERAGE,
        )
        left = (1 - HARD_BURNISH_CLOSES) * np.maximum(0.0, self.capacity - state.filled) if hard else 0.0
        burnished = self._laid(closed, stick, on_top, BURNISHED_COVERAGE) if not colourless else closed
        return replace(burnished, filled=self.capacity - left)

    def _merged(self, state: DryState, coverage: Any) -> DryState:
        """All that this medium laid, as one even mixture over what it was laid on."""
        if np.all(state.mass <= 0):
            return state
        # Where nothing lies there is nothing to work on.
        some = np.asarray(state.mass) > 0
        mass = np.where(some, state.mass, 1.0)
        s = np.where(some, state.s_deposit / mass, 1.0)
        r0, t = film(self._k_of_mixture(state.k_deposit / mass, s), s, mass / coverage)
        even = self._kept(covered(np.sqrt(state.ground), r0, t, coverage), state.mass)
        root = np.where(some, even, state.root)
        return replace(state, root=root)

    def _rub(self, state: DryState, hand: Hand) -> DryState:
        """A stump evens out what lies there, the more of it the better."""
        even = self._merged(state, np.minimum(self.rubbed_coverage * hand.coverage, 1.0)).root
        share = np.clip((state.mass - RUBS_FROM) / (RUBS_FULLY - RUBS_FROM), 0.0, 1.0)
        return replace(state, root=(1 - share) * state.root + share * even)

    def _lift(self, state: DryState, tool: str, pressure: int) -> DryState:
        """A part of what this medium laid comes off, down to the stain it has left in the fibres."""
        share: Any = self.lifted[tool][pressure]
        if tool == "putty":
            share = share * np.where(state.filled >= self.capacity, LIFTED_FROM_WAX, 1.0)
        return replace(
            state,
            root=(1 - share) * state.root + share * state.stain,
            filled=state.filled - share * np.minimum(state.mass, state.filled),
            k_deposit=(1 - share) * state.k_deposit,
            s_deposit=(1 - share) * state.s_deposit,
            mass=(1 - share) * state.mass,
        )

    def _deposit(self, filled: Any, pressure: Any, stick: Any) -> tuple[Floats, Floats]:
        """Film thickness and coverage of the next pass (numbers or arrays): both shrink as the tooth fills."""
        shrink = self._room(filled)
        thickness = self._films[pressure] * self._give[stick] * shrink
        return thickness, np.minimum(self._covers[stick, pressure] * shrink, BURNISHED_COVERAGE)

    def _room(self, filled: Any) -> Any:
        """What a pass still leaves on so much, against the first."""
        return np.maximum(0.0, 1.0 - filled / self.capacity) ** self._slips

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

    def seen(self, roots: Floats) -> Floats:
        return outside(np.square(roots))


def _some(factors: Any, which: Any) -> Any:
    """Those of some places, if there is one for each."""
    return factors[which] if isinstance(factors, np.ndarray) and factors.ndim else factors


def rise(lightness: float) -> float:
    """How scattering grows with the white that pale sticks carry (assumption)."""
    return float(0.5 + 1.3 * (lightness / 100) ** 2)


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
