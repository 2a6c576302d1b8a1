"""From a school and its box to the limits of a plan."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, lab_to_lch
from core.layers.frame import Flags, Frame
from core.look.roles import SHADOW_ROLES
from core.method.method import Method
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, Box
from core.recipe.cost import LAYER_COST, action_costs
from core.recipe.rules import BLACK_COST, LEAST_TOOTH, free, is_black, stick_labs

PALE_L = 85.0
"""From here on a stick is pale enough to be breathed over a reserved light."""
_NEAR_WHITE_L, _NEAR_WHITE_C = 88.0, 16.0
_PART_A_LAYER = 0.5
"""Over so much of a figure a layer lies (assumption)."""


@dataclass(frozen=True, slots=True)
class Wishes:
    """What an artist asks of a plan besides the school. black: a policy; reserve: highlights stay paper; must: sticks
    (indices) that must be in it; most_sticks: how many there may be, 0 for any; most_passes: over one place, or over
    each (m,)."""

    black: str = "last"
    reserve: bool = False
    must: Collection[int] = ()
    most_sticks: int = 0
    most_passes: int | NDArray[np.intp] = 4


def frame_for(box: Box, method: Method, roles: Sequence[str], targets: Floats, wishes: Wishes) -> Frame:
    """The limits of a plan for places with these light roles and targets (m, 3)."""
    labs, m, n = stick_labs(box), len(roles), len(box.sticks)
    lit = np.array([role not in SHADOW_ROLES for role in roles], dtype=bool)
    lights = np.array([role in ("highlight", "light") for role in roles], dtype=bool)
    breath = np.array([wishes.reserve and role == "highlight" for role in roles], dtype=bool)
    black = np.array([is_black(stick) for stick in box.sticks], dtype=bool)

    may_lie = np.ones((m, n), dtype=bool)
    if method.darks_out_of_lights:
        may_lie &= ~lights[:, None] | (labs[None, :, 0] >= np.asarray(targets)[:, None, 0] - method.darks_out_of_lights)
    if wishes.black == "avoid":
        may_lie[:, black] = False
    if wishes.black == "last" and not black.all():
        # Over the warm colours of lit skin it turns dead.
        may_lie &= ~(lights[:, None] & black)
    if breath.any():
        own = np.minimum(PALE_L, np.asarray(targets)[:, 0])
        may_lie &= ~breath[:, None] | (labs[None, :, 0] >= own[:, None])
    follow = free(box).follow & method.may_lie_over(labs[:, 0], method.layers_slack_l or method.slack_l)
    if wishes.black == "last":
        follow[black, :] = False
    price = max(1.0, _PART_A_LAYER * m) * _stick_prices(box)
    # Once, whatever it lies over: that is only what nothing else makes dark enough, and deep skin has much of it.
    price += (BLACK_COST if wishes.black == "last" else 0.0) * black
    must = np.isin(np.arange(n), list(wishes.must))
    return Frame(
        may_lie=may_lie,
        may_begin=_may_begin(box, method, roles, lit) | breath[:, None],
        follow=follow,
        begins=method.begins_with_a_base,
        rising=get_medium(method.medium).lies == "film",
        first_hardest=max(PRESSURES.index(word) for word in method.first_pressures),
        breath=breath,
        most_passes=np.broadcast_to(wishes.most_passes, m),
        least_tooth=LEAST_TOOTH,
        price=price,
        must=must,
        most_sticks=wishes.most_sticks or n,
    )


def _stick_prices(box: Box) -> Floats:
    """(n,): what fading and wear of each stick cost in a recipe's pass."""
    prices = np.zeros(len(box.sticks))
    for action, cost in zip(box.actions, action_costs(box), strict=True):
        prices[action.stick] = cost - LAYER_COST
    return prices


def _may_begin(box: Box, method: Method, roles: Sequence[str], lit: Flags) -> Flags:
    """(m, n): which sticks the school begins with at each place; all where the tray holds none of that kind."""
    labs = stick_labs(box)
    chroma = lab_to_lch(labs)[:, 1]
    laid = np.isin(np.arange(len(box.sticks)), [action.stick for action in box.actions])
    low, high = method.first_lightness
    usual = laid & (labs[:, 0] >= low) & (labs[:, 0] <= high) & (chroma <= method.first_chroma)
    if not usual.any() and laid.any():
        # A tray without any such stick still gets the nearest that it has.
        off = np.maximum(low - labs[:, 0], labs[:, 0] - high).clip(0) + (chroma - method.first_chroma).clip(0)
        usual = laid & np.isclose(off, off[laid].min())
    rows = []
    for role, in_light in zip(roles, lit, strict=True):
        if method.first_in_light_alone and not in_light:
            rows.append(laid)
            continue
        hued = usual & [method.lies_under(stick, role) for stick in box.sticks]
        rows.append(hued if hued.any() else usual)
    return np.array(rows, dtype=bool).reshape(len(roles), len(box.sticks))
