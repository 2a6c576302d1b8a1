"""Opaque white pen, gouache and fine liner: a closed film of body colour on whatever lies there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.dry import DryState
from core.optics.medium import PRESSURES, Ground
from core.optics.pencil import PencilBox
from core.optics.stick import Stick
from core.optics.support import Support

# Assumptions, all of them named and explained in docs/model.md.
SCATTER = {"transparent": 0.6, "semi": 3.0, "opaque": 6.0}
"""S of a full film: a liner's ink, a white pen, gouache."""
COVERAGE = (0.94, 0.96, 0.97)
CAPACITY = 8.0
TOOTH_LOST = 0.3
"""The part of the tooth that a full film of body colour closes."""


class OpaqueBox(PencilBox):
    """Pens and gouache on one paper; see `Box`. The tooth neither holds them nor wears them out."""

    medium = "opaque"
    techniques = ("lay",)
    tools = {}
    films = (0.4, 0.7, 1.0)
    hard_binders = ()

    def _grip(self, support: Support) -> tuple[Floats, float]:
        return np.array(COVERAGE), CAPACITY

    def _scatter(self, stick: Stick) -> float:
        return SCATTER[stick.opacity]

    def start(self, ground: Ground | None = None) -> DryState:
        return replace(super().start(ground), filled=0.0)

    def over(self, reflectance: Floats, tooth: Floats) -> tuple[NDArray[np.float32], Floats]:
        return super().over(reflectance, np.ones_like(tooth))

    def left(self, roots: Floats, filled: Floats) -> tuple[Floats, Floats]:
        return self.seen(roots), np.maximum(0.0, 1 - TOOTH_LOST * filled)

    def leave(self, state: DryState) -> Ground:
        return Ground(self.reflectance(state), state.tooth * np.maximum(0.0, 1 - TOOTH_LOST * state.mass))


class Opaque:
    """Opaque white pen, gouache and fine liner."""

    id = "opaque"
    name = "Opaque white, gouache and liner"
    word = "pen or gouache"
    techniques: tuple[str, ...] = OpaqueBox.techniques
    pressures: tuple[str, ...] = PRESSURES
    tools: dict[str, tuple[str, ...]] = OpaqueBox.tools
    lies = "body"
    grain = 0.15
    hides = True
    finishing = True

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> OpaqueBox:
        return OpaqueBox(sticks, support)
