"""What makes one recipe better than another."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.optics.medium import Box

CHOOSING_K_L = 0.5
"""Value before hue: a step of lightness counts double while choosing."""
LAYER_COST = 0.25
"""Each pass must earn this much, since it costs time and tooth."""
LOW_STICK_COST = 0.15
"""A stick that is nearly used up is spared when another does as well."""
LIKED_GAIN = 0.1
"""A stick that is in a trial box which the artist likes is taken before another that does as well."""
SENSITIVITY_COST = 0.25
"""What each unit of CIEDE2000 costs by which a hand's variation moves the result."""
STICK_COST = 0.15
"""What each stick costs that the piece needs at all: it must be found, sharpened and picked up."""
FADING_COST = {"III": 0.5, "IV": 0.8, "V": 1.2}
"""A stick that fades is spared when another does as well; by its ASTM grade."""


def action_costs(box: Box) -> Floats:
    """What each of the box's actions costs besides the colour it gives: (len(actions),)."""
    by_stick = np.array(
        [
            FADING_COST.get(stick.lightfastness, 0.0)
            + (LOW_STICK_COST if stick.condition == "low" else 0.0)
            - (LIKED_GAIN if stick.fit.liked else 0.0)
            for stick in box.sticks
        ]
    )
    return np.array([LAYER_COST + by_stick[action.stick] for action in box.actions])


def colour_cost(target: ArrayLike, lab: ArrayLike) -> Floats:
    """CIEDE2000 weighted for choosing, of CIELAB arrays (…, 3)."""
    return ciede2000(target, lab, k_l=CHOOSING_K_L)
