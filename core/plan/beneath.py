"""Layers of another medium beneath those of the usual one, such as marker under pencil."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.curve import Curve
from core.layers.doses import NONE, scale_of
from core.layers.draft import Draft
from core.layers.forward import Places
from core.layers.hands import hands_for
from core.layers.natural import Areas
from core.layers.plan import Layer
from core.layers.school import Wishes, frame_for
from core.layers.search import Search
from core.method.method import get_method
from core.optics.medium import Ground
from core.plan.drafted import layers_of
from core.plan.laying import Laying
from core.plan.setup import LaidOutTray, usual_setup

MOST = 3
"""The most layers that are planned beneath."""
_TOWARDS_PAPER = (0.0, 0.3, 0.6)
"""How far from the colours wanted towards the paper's those are that layers beneath are planned for: what comes over
them can darken, and hardly lighten."""


@dataclass(frozen=True, slots=True, eq=False)
class Beneath:
    """layers: the first of a plan. bed: what they leave at each place, reflectance (m, 31) and tooth (m,); None if
    there are none. passes (m,): how many lie there. cost: what they cost besides the colours they give."""

    layers: tuple[Layer, ...]
    bed: Ground | None
    passes: NDArray[np.intp]
    cost: float = 0.0

    @property
    def sticks(self) -> frozenset[str]:
        """Their codes."""
        return frozenset(layer.stick for layer in self.layers)


def beneath_of(laid_out: LaidOutTray, layers: Sequence[Layer], places: int, cost: float = 0.0) -> Beneath:
    """What these layers of other media leave at so many places, by a steady hand."""
    passes = np.zeros(places, dtype=np.intp)
    if not layers:
        return Beneath((), None, passes, cost)
    for layer in layers:
        passes += [level is not None for level in layer.levels]
    scale = scale_of(laid_out.setup.medium)
    steady = Places(laid_out.box, scale, np.zeros((places, 3)), hands_for(places, 0))
    return Beneath(tuple(layers), Laying(laid_out).left(layers, steady), passes, cost)


def first_of_others(laid_out: LaidOutTray, layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """Those of other media with which these layers begin."""
    usual = ("", laid_out.setup.medium)
    mine = (i for i, layer in enumerate(layers) if laid_out.kit.medium_of(layer.stick) in usual)
    return tuple(layers[: next(mine, len(layers))])


def ways_beneath(
    laid_out: LaidOutTray, areas: Areas, aims: Floats, at_hand: Collection[str] = (), passes: int = MOST
) -> Iterator[Beneath]:
    """Layers of the medium beneath that come near colours (m, 3) on the way from those wanted to the paper's; none
    where highlights are kept free. passes: how many may lie over a place."""
    setup, medium = laid_out.setup, laid_out.setup.under
    assert laid_out.under is not None
    method, box = get_method(usual_setup(medium).method, medium), laid_out.under.coarse()
    roles = [spot.role for spot in areas.spots]
    free = np.array([setup.reserve and role == "highlight" for role in roles], dtype=bool)
    must = laid_out.index(setup.must_use, medium)
    wishes = Wishes(setup.black, False, must, max(0, setup.max_sticks - 1), passes)
    for part in _TOWARDS_PAPER:
        wanted = aims + part * (np.array(laid_out.box.support.lab) - aims)
        frame = frame_for(box, method, roles, wanted, wishes)
        known = frozenset(laid_out.index(at_hand, medium))
        search = Search(box, scale_of(medium), wanted, frame, areas.masks, known)
        curve = Curve(search)
        for _ in curve.steps(MOST, closely=False):
            pass
        for _, draft in curve.best.values():
            kept = Draft(draft.sticks, draft.slots, np.where(free, NONE, draft.doses))
            layers = layers_of(laid_out, kept, areas, medium=medium)
            if layers:
                yield beneath_of(laid_out, layers, len(roles), search.besides(kept))
