"""What a method allows a plan's layers at the pixels of a picture."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from core.layers.pixels import FORBIDDEN, SURPLUS, FieldLayer, Flags
from core.layers.plan import Plan
from core.layers.school import Wishes, frame_for
from core.look.roles import SHADOW_ROLES
from core.plan.laying import WORKED
from core.plan.setup import LaidOutTray
from core.recipe.search import DEEPEST


class MapRules:
    """What the method allows the layers of a plan at any pixel, and what the plan itself has at its places: that may be
    elsewhere too, as when a hand has set it. most: how many layers are to lie over each other, and surplus: what
    each more than that costs; a wish of the artist's is kept, if a hand has not broken it."""

    def __init__(self, laid_out: LaidOutTray, plan: Plan, roles: Sequence[str]) -> None:
        """roles: of the places, none if they are not known."""
        self._laid_out, self._layers, wishes = laid_out, plan.layers, Wishes(laid_out.setup.black)
        self._frame = frame_for(laid_out.box, laid_out.method, ("light", "shadow"), np.zeros((2, 3)), wishes)
        laying = [layer.technique not in WORKED for layer in plan.layers]
        laid = [
            [is_ and level is not None for level in row.levels] for is_, row in zip(laying, plan.layers, strict=True)
        ]
        self._laid = np.array(laid, dtype=bool).reshape(len(laid), len(laid[0]) if laid else 0)
        self._first = self._laid & (np.cumsum(self._laid, axis=0) == 1)
        # Where nothing is said of its places, each may be in the light or in the shade.
        known, anywhere = len(roles) > 0, np.ones(self._laid.shape[1], dtype=bool)
        self._lights: Flags = np.isin(roles, ("highlight", "light")) if known else anywhere
        self._shade: Flags = np.isin(roles, list(SHADOW_ROLES)) if known else anywhere
        self._lit: Flags = ~self._shade if known else anywhere
        self.surplus = FORBIDDEN if laid_out.setup.max_passes < DEEPEST else SURPLUS
        ended = not all(laying)
        self.most = max(laid_out.setup.max_passes - ended, int(self._laid.sum(axis=0).max(initial=0)))

    def kept_by(self, number: int, layer: FieldLayer) -> FieldLayer:
        """A layer of the usual medium that keeps them."""
        frame, laid, first = self._frame, self._laid[number], self._first[number]
        below = range(number)
        apart = [i for i in below if self._apart(i, layer.stick) and not (self._laid[i] & laid).any()]
        # What lies on another medium may begin as it likes.
        on_other = any(self._index(i) is None for i in below)
        begins = [
            bool(on_other or may_begin or (first & there).any())
            for may_begin, there in zip(frame.may_begin[:, layer.stick], (self._lit, self._shade), strict=True)
        ]
        hardest = [layer.scale.hard[dose] for dose, is_ in zip(layer.planned, first, strict=True) if is_]
        return replace(
            layer,
            out_of_lights=self._laid_out.method.darks_out_of_lights,
            in_lights=bool(frame.may_lie[0, layer.stick] or (laid & self._lights).any()),
            not_over=frozenset(apart),
            begins=(begins[0], begins[1]),
            first_hardest=max([frame.first_hardest, *map(int, hardest)]),
        )

    def _index(self, number: int) -> int | None:
        """The stick of a layer, if it lays one of the usual medium down."""
        layer = self._layers[number]
        found = self._laid_out.index([layer.stick]) if layer.technique not in WORKED else []
        return found[0] if found else None

    def _apart(self, below: int, stick: int) -> bool:
        index = self._index(below)
        return index is not None and not self._frame.follow[index, stick]
