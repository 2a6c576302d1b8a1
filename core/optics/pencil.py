"""Coloured pencil: translucent films that catch on the tooth of the paper until it is full."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, hex_to_xyz, lab_to_xyz
from core.optics.film import absorption_for, film, over
from core.optics.medium import MAX_REPEATS, PRESSURES, STEADY, Hand, Pass, actions_of, check_pass
from core.optics.spectra import upsample
from core.optics.stick import Stick
from core.optics.support import WHITE_PAPER, Support

# Assumptions, all of them named and explained in docs/model.md.
SURFACE = 0.015
DARKEST_INSIDE = 0.004
SCATTER_BY_OPACITY = {"transparent": 0.12, "semi": 0.5, "opaque": 1.6}
WHITE_SCATTER = 0.3
WHITE_ABOVE_L, WHITE_BELOW_C = 95.0, 5.0
FILM_BY_PRESSURE = (0.22, 0.50, 1.0)
BURNISHED_COVERAGE = 0.985
BURNISHER_DEPOSIT = 0.5
BURNISHER_ON_TOP = 0.22


@dataclass(frozen=True, slots=True)
class PencilState:
    """What lies on the paper at one place.

    root: square root of the inner reflectance (31,). filled: deposit so far, in full films.
    k_deposit, s_deposit: K and S of everything laid, times its mass (31,); for burnishing.
    """

    root: Floats
    filled: float
    k_deposit: Floats
    s_deposit: Floats
    mass: float


class PencilBox:
    """Pencils on one paper; see `Box`."""

    once_a_stick = False
    techniques: tuple[str, ...] = ("lay", "burnish")
    films: tuple[float, ...] = FILM_BY_PRESSURE
    """Thickness of a pass by pressure, in full films."""
    scatter_times = 1.0
    weak_white = True

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        self.sticks = sticks
        self.support = support
        self.actions = actions_of(range(len(sticks)))
        self._index = {stick.code: i for i, stick in enumerate(sticks)}
        paper = inside(support.reflectance())
        self._paper = paper
        self.k, self.s = characterise(sticks, self.scatter_times, self.weak_white)
        self._films, self._coverage, self.capacity = np.array(self.films), *self._grip(support)
        self._action_table = np.array([(a.stick, a.pressure, a.repeats) for a in self.actions]).reshape(-1, 3)
        self._k32, self._s32 = self.k.astype(np.float32), self.s.astype(np.float32)

    def _grip(self, support: Support) -> tuple[Floats, float]:
        """Coverage of a pass by pressure, and the deposit that fills the paper."""
        return np.array(support.coverage), support.capacity

    def start(self) -> PencilState:
        nothing = np.zeros_like(self._paper)
        return PencilState(np.sqrt(self._paper), 0.0, nothing, nothing, 0.0)

    def apply(self, state: PencilState, pass_: Pass, hand: Hand = STEADY) -> PencilState:
        check_pass(pass_, self.techniques, self._index)
        stick = self._index[pass_.stick]
        step = self._technique(pass_.technique)
        for _ in range(pass_.repeats):
            state = step(state, stick, PRESSURES.index(pass_.pressure), hand)
        return state

    def _technique(self, name: str) -> Callable[[PencilState, int, int, Hand], PencilState]:
        return self._burnish if name == "burnish" else self._lay

    def reflectance(self, state: PencilState) -> Floats:
        return self.seen(state.root)

    def room(self, state: PencilState) -> float:
        return max(0.0, 1.0 - float(state.filled) / self.capacity)

    def _lay(self, state: PencilState, stick: int, pressure: int, hand: Hand) -> PencilState:
        thickness, coverage = self._deposit(state.filled, pressure)
        thickness, coverage = thickness * hand.thickness, min(coverage * hand.coverage, BURNISHED_COVERAGE)
        r0, t = film(self.k[stick], self.s[stick], thickness)
        return self._laid(state, stick, thickness, coverage, r0, t)

    def _laid(
        self, state: PencilState, stick: int, thickness: float, coverage: float, r0: Floats, t: Floats
    ) -> PencilState:
        mass = thickness * coverage
        return PencilState(
            root=(1 - coverage) * state.root + coverage * np.sqrt(over(state.root**2, r0, t)),
            filled=state.filled + mass,
            k_deposit=state.k_deposit + mass * self.k[stick],
            s_deposit=state.s_deposit + mass * self.s[stick],
            mass=state.mass + mass,
        )

    def _burnish(self, state: PencilState, stick: int, pressure: int, hand: Hand) -> PencilState:
        """Heavy rubbing: all deposits become one mixture that closes the tooth; a part of the
        burnishing stick stays on top, and nothing holds on it afterwards."""
        mass = BURNISHER_DEPOSIT * FILM_BY_PRESSURE[pressure] * hand.thickness
        below = (1 - BURNISHER_ON_TOP) * mass
        k_all = state.k_deposit + below * self.k[stick]
        s_all = state.s_deposit + below * self.s[stick]
        total = state.mass + below
        r0, t = film(k_all / total, s_all / total, total / BURNISHED_COVERAGE)
        bare = np.sqrt(self._paper)
        merged = (1 - BURNISHED_COVERAGE) * bare + BURNISHED_COVERAGE * np.sqrt(over(self._paper, r0, t))
        thickness = BURNISHER_ON_TOP * mass
        r0, t = film(self.k[stick], self.s[stick], thickness)
        closed = PencilState(merged, self.capacity, k_all, s_all, total)
        return replace(self._laid(closed, stick, thickness, BURNISHED_COVERAGE, r0, t), filled=self.capacity)

    def _deposit(self, filled: Any, pressure: Any) -> tuple[Any, Any]:
        """Film thickness and coverage of the next pass (numbers or arrays): both shrink as the tooth fills."""
        shrink = np.maximum(0.0, 1.0 - filled / self.capacity) ** 0.5
        return self._films[pressure] * shrink, self._coverage[pressure] * shrink

    def blank(self) -> tuple[NDArray[np.float32], float]:
        return np.sqrt(self._paper).astype(np.float32)[None], 0.0

    def expand(self, roots: NDArray[np.float32], filled: float) -> tuple[NDArray[np.float32], Floats]:
        """As `lay`, in single precision, for all pencils, pressures and repeats at once."""
        group, sticks = len(roots), len(self.sticks)
        out = np.empty((group, sticks, len(PRESSURES) * MAX_REPEATS, roots.shape[1]), dtype=np.float32)
        deposits = np.empty(len(PRESSURES) * MAX_REPEATS)
        for pressure in range(len(PRESSURES)):
            now = filled
            root: Floats = np.broadcast_to(roots[:, None], (group, sticks, roots.shape[1]))
            for repeat in range(MAX_REPEATS):
                thickness, coverage = self._deposit(now, pressure)
                r0, t = film(self._k32, self._s32, np.float32(thickness))
                ground = np.square(root)
                root = np.float32(1 - coverage) * root + np.float32(coverage) * np.sqrt(over(ground, r0, t))
                now += thickness * coverage
                out[:, :, pressure * MAX_REPEATS + repeat] = root
                deposits[pressure * MAX_REPEATS + repeat] = now
        return out.reshape(group, -1, roots.shape[1]), np.tile(deposits, sticks)

    def advance(
        self, roots: NDArray[np.float32], filled: Floats, actions: NDArray[np.intp]
    ) -> tuple[NDArray[np.float32], Floats]:
        roots, filled = roots.copy(), filled.copy()
        stick, pressure, repeats = self._action_table[actions].T
        for repeat in range(MAX_REPEATS):
            on = repeats > repeat
            thickness, coverage = self._deposit(filled[on], pressure[on])
            r0, t = film(self._k32[stick[on]], self._s32[stick[on]], thickness[:, None].astype(np.float32))
            c = coverage[:, None].astype(np.float32)
            roots[on] = (1 - c) * roots[on] + c * np.sqrt(over(np.square(roots[on]), r0, t))
            filled[on] += thickness * coverage
        return roots, filled

    def seen(self, roots: Floats) -> Floats:
        return np.asarray(SURFACE + (1 - SURFACE) * np.square(roots))


class Pencil:
    """Coloured pencil, wax- or oil-bound."""

    id = "pencil"
    name = "Coloured pencil"
    word = "pencil"
    techniques: tuple[str, ...] = PencilBox.techniques
    pressures: tuple[str, ...] = PRESSURES

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> PencilBox:
        return PencilBox(sticks, support)


def inside(reflectance: Floats) -> Floats:
    """Reflectance below the surface, of reflectance seen from outside."""
    return np.asarray(np.maximum((reflectance - SURFACE) / (1 - SURFACE), DARKEST_INSIDE))


def characterise(
    sticks: tuple[Stick, ...], scatter_times: float = 1.0, weak_white: bool = True
) -> tuple[Floats, Floats]:
    """K and S (n, 31) per full film of each stick, from its solid swatch on white paper.

    Pale sticks carry white and so scatter more; a white pencil is nevertheless weak (weak_white).
    """
    labs = np.array([stick.lab for stick in sticks])
    solid = inside(upsample(np.array([hex_to_xyz(stick.hex) for stick in sticks])))
    scatter = np.array([SCATTER_BY_OPACITY[stick.opacity] for stick in sticks])
    scatter = scatter * (0.5 + 1.3 * (labs[:, 0] / 100) ** 2)
    if weak_white:
        white = (labs[:, 0] > WHITE_ABOVE_L) & (np.hypot(labs[:, 1], labs[:, 2]) < WHITE_BELOW_C)
        scatter = np.where(white, WHITE_SCATTER, scatter)
    s = np.broadcast_to(scatter_times * scatter[:, None], solid.shape).copy()
    paper = inside(upsample(lab_to_xyz(WHITE_PAPER)))
    return absorption_for(solid, np.broadcast_to(paper, solid.shape), s), s
