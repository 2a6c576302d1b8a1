"""What a neighbour does to a skin colour in the eye: shown and said, never folded into the target."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import lab_to_lch
from core.colour.temperature import temperature

_LIGHTER_L, _STRONGER_C, _COLOURED_C, _FELT_DEG = 15.0, 12.0, 12.0, 2.5
AS_IT_IS = "looks as it is here"
_INDUCED = 0.12
"""Part of a neighbour's chroma that a colour seems to take on in the opposite direction (assumption)."""


def beside(colour: ArrayLike, neighbour: ArrayLike) -> str:
    """In words, what CIELAB `neighbour` (3,) makes of `colour` (3,) by simultaneous contrast.

    Source of the direction of each effect: Chevreul 1839, The Principles of Harmony and Contrast of Colours.
    """
    own, other = np.asarray(colour, dtype=float), np.asarray(neighbour, dtype=float)
    (l_1, c_1, _), (l_2, c_2, _) = lab_to_lch(np.array([own, other]))
    said = []
    if l_2 - l_1 > _LIGHTER_L:
        said.append("darker")
    elif l_1 - l_2 > _LIGHTER_L:
        said.append("lighter")
    if c_2 - c_1 > _STRONGER_C:
        said.append("calmer")
    elif c_1 - c_2 > _STRONGER_C and c_2 < _COLOURED_C:
        said.append("stronger")
    if c_2 >= _COLOURED_C:
        induced = own - [0.0, *(_INDUCED * other[1:])]
        turned = float(temperature(induced, own))
        if abs(turned) > _FELT_DEG:
            said.append("warmer" if turned > 0 else "cooler")
    if not said:
        return AS_IT_IS
    return "looks " + (", ".join(said[:-1]) + " and " if said[:-1] else "") + said[-1] + " here than it is"
