"""How a plan ends: burnished by area, rubbed together, or with its last coat worked in wet, as layers of their own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from core.colour.spaces import Floats
from core.layers.doses import scale_of
from core.layers.forward import Places, worsening
from core.layers.frame import Flags
from core.layers.hands import hands_for
from core.layers.natural import Areas
from core.layers.plan import Layer
from core.look.roles import SHADOW_ROLES
from core.plan.laying import ONCE, Laying
from core.plan.setup import LaidOutTray
from core.recipe.finish import burnishers

_OWN_ABOVE_L = 12.0
"""By how much a stick may be lighter than the lightest shade and still burnish it without lifting it."""

Layers = tuple[Layer, ...]


@dataclass(frozen=True, slots=True)
class _Ending:
    """One way to end a layer's places: a stick, or a tool."""

    stick: str
    technique: str


class Finishing:
    """The ends of one figure's plans, as the set-up wants them."""

    def __init__(self, laid_out: LaidOutTray, areas: Areas, judged: Floats) -> None:
        """judged (m, 3): what the places are judged by, CIELAB."""
        self._laid_out, self._areas, self._judged = laid_out, areas, np.asarray(judged)
        self._laying = Laying(laid_out)
        self._steady = Places(laid_out.box, scale_of(laid_out.setup.medium), judged, hands_for(len(judged), 0))
        roles = [spot.role for spot in areas.spots]
        self._shade = np.array([role in SHADOW_ROLES for role in roles], dtype=bool)
        self._open = np.array([not (laid_out.setup.reserve and role == "highlight") for role in roles], dtype=bool)

    @property
    def wanted(self) -> bool:
        """Whether plans end in any way at all."""
        return self._laid_out.setup.finish != "layer"

    @property
    def takes_a_pass(self) -> bool:
        """Whether the end is a pass more at every place."""
        return self._laid_out.setup.finish in ("burnish", "smudge")

    def ended(self, layers: Layers) -> Layers:
        """The layers with what ends them; the same if nothing can."""
        finish = self._laid_out.setup.finish
        tried: list[Layers] = []
        if not layers:
            return layers
        if finish == "burnish":
            tried = [self._burnished(layers)]
        elif finish == "smudge":
            rubbed = self._over(layers, _Ending("stump", "smudge"), self._may_end(layers))
            # The last stick may also stay crisp on top of what was rubbed.
            beneath = self._may_end(layers[:-1]) & self._may_end(layers)
            crisp = (*self._over(layers[:-1], _Ending("stump", "smudge"), beneath), layers[-1])
            tried = [rubbed, crisp]
        elif finish == "wet" and len(layers) > 1:
            levels = tuple(replace(dose, flicked=False) if dose else None for dose in layers[-1].levels)
            wet = (*layers[:-1], replace(layers[-1], levels=levels, technique="wet"))
            # What the wet coat washes out may be laid once more.
            again = [self._laid_again(wet, layer) for layer in wet[:-1]]
            tried = [wet, *again]
            for stick in self._blenders():
                tried.append(self._over(layers, _Ending(stick, "wet"), self._may_end(layers)))
        return min(tried, key=self.steady_cost) if tried else layers

    def moved_by(self, layers: Layers) -> Floats:
        """(m, 3): by how much the end moves the colour of each place, CIELAB."""
        return self.moved(layers, self.ended(layers))

    def moved(self, laid: Layers, ended: Layers) -> Floats:
        """(m, 3): by how much these layers with their end differ from those without, CIELAB."""
        return np.asarray(self._labs(ended) - self._labs(laid))

    def errors(self, layers: Layers, places: Places) -> Floats:
        """(h, m): CIEDE2000 of every place under every hand. places: those of the judge."""
        return self._laying.errors(layers, places)

    def steady_cost(self, layers: Layers) -> float:
        """What these layers cost by the colours that a steady hand gives with them."""
        return float(worsening(self.errors(layers, self._steady)[0]).sum())

    def _labs(self, layers: Layers) -> Floats:
        """(m, 3): what the layers give under a steady hand, CIELAB."""
        return self._laying.labs(layers, self._steady)

    def _may_end(self, layers: Layers) -> Flags:
        """(m,): where something lies that an end can work on, and one pass more is allowed."""
        laid = np.zeros(len(self._judged), dtype=np.intp)
        for layer in layers:
            laid += [level is not None for level in layer.levels]
        return np.asarray(self._open & (laid > 0) & (laid < self._laid_out.setup.max_passes))

    def _laid_again(self, layers: Layers, under: Layer) -> Layers:
        """The layers with one coat more of an under-layer, where the last of them may have washed it out."""
        may, last = self._may_end(layers), layers[-1]
        levels = tuple(
            ONCE["wet"] if here and dose and over else None
            for here, dose, over in zip(may, under.levels, last.levels, strict=True)
        )
        where = np.array([level is not None for level in levels])
        if not where.any():
            return layers
        more = Layer(under.stick, ONCE["wet"], levels, self._areas.called(where))
        return (*layers, more)

    def _over(self, layers: Layers, ending: _Ending, where: Flags) -> Layers:
        """The layers with one more over some places."""
        if not where.any():
            return layers
        dose = ONCE[ending.technique]
        levels = tuple(dose if here else None for here in where)
        return (*layers, Layer(ending.stick, dose, levels, self._areas.called(where), ending.technique))

    def _burnished(self, layers: Layers) -> Layers:
        """Lights with a pale stick, shades with one of their own, since white would lift them; a blender does both."""
        where = self._may_end(layers)
        lit, shade = where & ~self._shade, where & self._shade
        in_light = self._allowed(layers, [stick.code for stick in burnishers(self._laid_out.box.sticks)])
        blenders = self._blenders()
        done = self._best_over(layers, [blenders, in_light], [where, lit] if blenders else [lit, lit])
        if blenders and done[-1].stick in blenders:
            return done
        return self._best_over(done, [self._of_the_shade(layers)], [shade])

    def _best_over(self, layers: Layers, lists: Sequence[Sequence[str]], areas: Sequence[Flags]) -> Layers:
        tried = [
            self._over(layers, _Ending(stick, "burnish"), where)
            for codes, where in zip(lists, areas, strict=True)
            for stick in codes
        ]
        return min(tried, key=self.steady_cost) if tried else layers

    def _blenders(self) -> list[str]:
        return [stick.code for stick in self._laid_out.box.sticks if stick.colourless][:1]

    def _of_the_shade(self, layers: Layers) -> list[str]:
        """The sticks of the plan that are dark enough to burnish its shade; the darkest of it if none is."""
        by_code = {stick.code: stick for stick in self._laid_out.box.sticks}
        its = list(dict.fromkeys(layer.stick for layer in layers if layer.stick in by_code))
        if not self._shade.any():
            return []
        limit = float(self._judged[self._shade, 0].max()) + _OWN_ABOVE_L
        dark = [code for code in its if by_code[code].lab[0] <= limit and not by_code[code].colourless]
        return dark or sorted(its, key=lambda code: by_code[code].lab[0])[:1]

    def _allowed(self, layers: Layers, codes: Sequence[str]) -> list[str]:
        """Those of the sticks that the plan may use: its own only, once it has as many as the set-up allows."""
        its, most = {layer.stick for layer in layers}, self._laid_out.setup.max_sticks
        return [code for code in codes if not most or len(its | {code}) <= most or code in self._blenders()]
