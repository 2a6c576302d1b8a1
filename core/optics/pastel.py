"""Soft pastel and pastel pencil: opaque powder that lies in the tooth, scumbled, glazed, or rubbed to a mixture."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from core.colour.spaces import Floats
from core.optics.film import k_over_s, reflectivity
from core.optics.medium import PRESSURES, Hand
from core.optics.pencil import SCATTER_BY_OPACITY, DryState, PencilBox, Step, rise
from core.optics.stick import Stick
from core.optics.support import Support

# Assumptions, all of them named and explained in docs/model.md.
SCATTER_TIMES = 2.0
GLAZE = 0.35
"""Film of a glaze against that of a scumbled pass."""
SMUDGED_COVERAGE = 0.95
TOOTH_TIMES = 0.8
"""How much powder a tooth holds against wax: a pass of powder is thick, and four or five fill the tooth."""


class PastelBox(PencilBox):
    """Pastels on one paper; see `Box`. They scatter twice as much as pencils, and cover whatever the tooth."""

    medium = "pastel"
    techniques = ("lay", "glaze", "smudge")
    tools = {"stump": ("smudge",), "putty": ("lift",)}
    films = (0.50, 0.65, 0.80)
    laying = {"lay": 1.0, "glaze": GLAZE}
    lifted = {"putty": (0.25, 0.45, 0.65)}
    rubbed_coverage = SMUDGED_COVERAGE
    hard_binders = ("hard",)

    def _grip(self, support: Support) -> tuple[Floats, float]:
        return np.array([0.50, 0.65, 0.80]), TOOTH_TIMES * support.capacity

    def _scatter(self, stick: Stick) -> float:
        return SCATTER_TIMES * SCATTER_BY_OPACITY[stick.opacity] * rise(float(stick.lab[0]))

    def _mixed_by(self) -> Floats:
        """The logarithm of reflectance: grains that stay grains mix towards the geometric mean of what each
        reflects, and so never beyond the richer part (assumption; K, as of wax, would give tints of dark earths that
        are more chromatic than the earth)."""
        return np.asarray(np.log(reflectivity(self.k, self.s)))

    def _k_of_mixture(self, mixed: Floats, s: Floats) -> Floats:
        return np.asarray(k_over_s(np.exp(mixed)) * s)

    def _technique(self, name: str) -> Step:
        return {"glaze": self._glaze, "smudge": self._smudge}.get(name, self._lay)

    def _glaze(self, state: DryState, stick: int, pressure: int, hand: Hand) -> DryState:
        return self._lay(state, stick, pressure, replace(hand, thickness=hand.thickness * GLAZE))

    def _smudge(self, state: DryState, stick: int, pressure: int, hand: Hand) -> DryState:
        """Lay, and rub everything that lies there into one even mixture: by mass, and nearly closed."""
        laid = self._lay(state, stick, pressure, hand)
        return self._merged(laid, np.minimum(SMUDGED_COVERAGE * hand.coverage, 1.0))


class Pastel:
    """Soft or hard pastel and pastel pencil."""

    id = "pastel"
    name = "Soft pastel"
    word = "pastel"
    techniques: tuple[str, ...] = PastelBox.techniques
    pressures: tuple[str, ...] = PRESSURES
    tools: dict[str, tuple[str, ...]] = PastelBox.tools
    lies = "crumbs"
    grain = 1.0
    hides = True
    finishing = False

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> PastelBox:
        return PastelBox(sticks, support)
