"""What lies dry on the tooth of a paper, place by place: laid in films, burnished, rubbed, lifted off again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from core.colour.spaces import Floats
from core.optics.characterise import characterise, inside, outside
from core.optics.film import Films, covered, film
from core.optics.medium import PRESSURES, STEADY, Ground, Hand, Pass, actions_of, check_pass
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


@dataclass(frozen=True, slots=True)
class DryState:
    """What lies on the paper at one place.

    root: square root of the inner reflectance (31,), with what else the medium keeps (see `DryBox._kept`). filled:
    deposit so far, in full films, whatever medium left it. k_deposit, s_deposit: K (or what the medium mixes by, see
    `DryBox.mixes`) and S of what this medium laid, times its mass (31,). ground: inner reflectance of what it was
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


class DryBox:
    """Sticks on one paper, as a hand works with them at one place or at many; see `Box`.

    What it says where nothing is overridden holds for coloured pencil.
    """

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

    def seen(self, roots: Floats) -> Floats:
        return outside(np.square(roots))


def rise(lightness: float) -> float:
    """How scattering grows with the white that pale sticks carry (assumption)."""
    return float(0.5 + 1.3 * (lightness / 100) ** 2)
