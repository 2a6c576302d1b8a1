"""What a recipe may be: limits that prune the search while it runs."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.optics.medium import Box
from core.optics.stick import Stick

BLACK_BELOW_L, BLACK_BELOW_C = 26.0, 6.0
BLACK_POLICIES = ("avoid", "last", "free")
BLACK_COST = 0.5
"""Where black may only come last, it must earn more than another stick."""
LEAST_TOOTH = 0.12
"""Where the paper holds less than this, a further pass slips; no recipe counts on it."""


@dataclass(frozen=True, slots=True)
class Rules:
    """first (A,): actions that may begin a recipe; later (A,): those that may come after others.
    follow (n, n): may stick j go over stick i? surcharge (n,): what each stick costs besides.
    least_tooth: how much tooth (0–1) a further pass must find."""

    first: NDArray[np.bool_]
    follow: NDArray[np.bool_]
    later: NDArray[np.bool_]
    surcharge: Floats
    least_tooth: float = 0.0


def stick_labs(box: Box) -> Floats:
    """CIELAB (n, 3) of the solid swatches."""
    return np.array([stick.lab for stick in box.sticks]).reshape(-1, 3)


def is_black(stick: Stick) -> bool:
    """Near-black without a hue of its own."""
    lightness, a, b = stick.lab
    return bool(lightness < BLACK_BELOW_L and np.hypot(a, b) < BLACK_BELOW_C)


def free(box: Box) -> Rules:
    """No limits but those of the material."""
    n = len(box.sticks)
    follow = ~np.eye(n, dtype=bool) if box.once_a_stick else np.ones((n, n), dtype=bool)
    every = np.ones(len(box.actions), dtype=bool)
    return Rules(every, follow, every, np.zeros(n))


def with_black(rules: Rules, box: Box, policy: str) -> Rules:
    """The same rules, with black never used, used only as the last pass, or free."""
    if policy == "free":
        return rules
    black = np.array([is_black(stick) for stick in box.sticks], dtype=bool)
    first, follow = rules.first.copy(), rules.follow.copy()
    if policy == "avoid":
        first &= ~black[[action.stick for action in box.actions]]
        follow[:, black] = False
    else:
        follow[black, :] = False
    return replace(rules, first=first, follow=follow, surcharge=rules.surcharge + BLACK_COST * black)
