"""Soft pastel and pastel pencil: opaque powder that lies in the tooth, scumbled, glazed, or rubbed to a mixture."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from core.colour.spaces import Floats
from core.optics.film import film, over
from core.optics.medium import PRESSURES, Hand
from core.optics.pencil import PencilBox, PencilState
from core.optics.stick import Stick
from core.optics.support import Support

# Assumptions, all of them named and explained in docs/model.md.
GLAZE = 0.35
"""Film of a glaze against that of a scumbled pass."""
SMUDGED_COVERAGE = 0.95
TOOTH_TIMES = 1.6
"""How much more powder than wax a tooth holds."""


class PastelBox(PencilBox):
    """Pastels on one paper; see `Box`. They scatter twice as much as pencils, and cover whatever the tooth."""

    techniques = ("lay", "glaze", "smudge")
    films = (0.50, 0.65, 0.80)
    scatter_times = 2.0
    weak_white = False

    def _grip(self, support: Support) -> tuple[Floats, float]:
        return np.array([0.50, 0.65, 0.80]), TOOTH_TIMES * support.capacity

    def _technique(self, name: str) -> Callable[[PencilState, int, int, Hand], PencilState]:
        return {"glaze": self._glaze, "smudge": self._smudge}.get(name, self._lay)

    def _glaze(self, state: PencilState, stick: int, pressure: int, hand: Hand) -> PencilState:
        return self._lay(state, stick, pressure, Hand(hand.thickness * GLAZE, hand.coverage))

    def _smudge(self, state: PencilState, stick: int, pressure: int, hand: Hand) -> PencilState:
        """Lay, and rub everything that lies there into one even mixture: by mass, and nearly closed."""
        laid = self._lay(state, stick, pressure, hand)
        if laid.mass <= 0:
            return laid
        r0, t = film(laid.k_deposit / laid.mass, laid.s_deposit / laid.mass, laid.mass / SMUDGED_COVERAGE)
        covered = min(SMUDGED_COVERAGE * hand.coverage, 1.0)
        rubbed = (1 - covered) * np.sqrt(self._paper) + covered * np.sqrt(over(self._paper, r0, t))
        return PencilState(rubbed, laid.filled, laid.k_deposit, laid.s_deposit, laid.mass)


class Pastel:
    """Soft or hard pastel and pastel pencil."""

    id = "pastel"
    name = "Soft pastel"
    word = "pastel"
    techniques: tuple[str, ...] = PastelBox.techniques
    pressures: tuple[str, ...] = PRESSURES

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> PastelBox:
        return PastelBox(sticks, support)
