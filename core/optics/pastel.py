"""Soft pastel and pastel pencil: opaque powder that lies in the tooth, scumbled, glazed, or rubbed to a mixture.

A stick takes powder along from what lies on top: it joins what is laid.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.dry import SCATTER_BY_OPACITY, DryState, Step, rise
from core.optics.film import k_over_s, laid_over, reflectivity
from core.optics.medium import PRESSURES, Hand
from core.optics.pencil import PencilBox
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import of_odds

# Assumptions, all of them named and explained in docs/model.md.
SCATTER_TIMES = 2.0
GLAZE = 0.35
"""Film of a glaze against that of a scumbled pass."""
SMUDGED_COVERAGE = 0.95
TOOTH_TIMES = 0.9
"""How much powder a tooth holds against wax: a pass of powder is thick, and four or five fill the tooth."""
DRAGGED = 0.15
"""The part of the top film that a new pass takes along."""
DRAGGED_SCATTER = SCATTER_TIMES * SCATTER_BY_OPACITY["semi"]
"""What a full film of what was taken along scatters, of whatever stick it is."""
_DARKEST_SEEN, _THINNEST = 1e-3, 1e-6


@dataclass(frozen=True, slots=True)
class Powders:
    """K and S (n, 31) per full film of some sticks."""

    k: Floats
    s: Floats

    def __getitem__(self, which: slice) -> Powders:
        return Powders(self.k[which], self.s[which])

    def bands(self, which: slice) -> Powders:
        return Powders(self.k[:, which], self.s[:, which])

    def take(self, which: int | NDArray[np.intp]) -> Powders:
        return Powders(self.k.take(which, axis=0), self.s.take(which, axis=0))


class PastelBox(PencilBox):
    """Pastels on one paper; see `Box`. They scatter twice as much as pencils, and cover whatever the tooth.

    Roots hold the mass of the film on top as one more column: (…, 32).
    """

    medium = "pastel"
    techniques = ("lay", "glaze", "smudge")
    tools = {"stump": ("smudge",), "putty": ("lift",)}
    films = (0.50, 0.65, 0.80)
    laying = {"lay": 1.0, "glaze": GLAZE}
    lifted = {"putty": (0.25, 0.45, 0.65)}
    rubbed_coverage = SMUDGED_COVERAGE
    hard_binders = ("hard",)

    def __init__(self, sticks: tuple[Stick, ...], support: Support) -> None:
        super().__init__(sticks, support)
        self._drags = float(of_odds(DRAGGED, self._touch.dragged))
        self._taken_s = DRAGGED_SCATTER * self._touch.scatter

    def _made_up(self, k: Floats, s: Floats) -> Powders:
        return Powders(k, s)

    def _kept(self, root: Floats, top: Any) -> Floats:
        return np.concatenate([root, np.broadcast_to(top, (*root.shape[:-1], 1))], axis=-1)

    def _over(self, roots: Floats, bodies: Any, thickness: Any, coverage: Any) -> Floats:
        """What is taken along has the colour that is seen there: powder hides what lies beneath it (assumption)."""
        root, top = roots[..., :-1], roots[..., -1:]
        # Shares of what the top film holds for every place, in single precision if roots are.
        taken = (self._drags * self._taken_s) * top
        seen = np.maximum(np.square(root), _DARKEST_SEEN)
        k = np.square(1 - seen)
        k /= seen
        k *= taken / 2
        k = k + bodies.k * thickness
        s = bodies.s * thickness + taken
        covers = coverage if np.ndim(coverage) == 0 else coverage[..., :1]
        thick = thickness if np.ndim(thickness) == 0 else thickness[..., :1]
        over = np.sqrt(laid_over(seen, k, np.maximum(s, _THINNEST)))
        over -= root
        over *= coverage
        over += root
        return self._kept(over, top + covers * (thick - (1 - self._drags) * top))

    def _stroke(self, roots: NDArray[np.float32], stick: Any, thickness: Floats, coverage: Floats) -> None:
        thick, covers = thickness.astype(np.float32)[:, None], coverage.astype(np.float32)[:, None]
        roots[...] = self._over(roots, self._bodies.take(stick), thick, covers)

    def seen(self, roots: Floats) -> Floats:
        return super().seen(roots[..., :-1])

    def _grip(self, support: Support) -> tuple[Floats, float]:
        return np.array([0.50, 0.70, 0.88]), TOOTH_TIMES * support.capacity

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
