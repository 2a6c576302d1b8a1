"""A stack of passes: what lies there after each, and its colour."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.limits import LIMITS
from core.optics.medium import STEADY, Hand, Layered, Pass
from core.optics.spectra import reflectance_to_lab

HANDS = (Hand(thickness=0.85), Hand(thickness=1.15), Hand(coverage=0.9), Hand(coverage=1.1))
"""The variation of a practised hand: film ± 15 %, coverage ± 10 % (assumption)."""


def states_after(
    box: Layered, passes: Sequence[Pass], hand: Hand = STEADY, known: dict[tuple[Pass, ...], Any] | None = None
) -> list[Any]:
    """The states (len(passes) + 1) of the bare paper and after each pass.

    known: states after passes that this hand has laid on this box before; those that are new are added to it.

    Raises InputError naming the pass (`passes[i].…`) that cannot be made.
    """
    if len(passes) > LIMITS.passes:
        raise InputError(
            "too_many_passes", f"{len(passes)} passes are too many.", f"Use at most {LIMITS.passes}.", "passes"
        )
    known = {} if known is None else known
    states = [box.start()]
    for i, pass_ in enumerate(passes):
        laid = tuple(passes[: i + 1])
        if laid not in known:
            try:
                known[laid] = box.apply(states[-1], pass_, hand)
            except InputError as error:
                raise InputError(error.code, error.message, error.hint, f"passes[{i}].{error.field}") from error
        states.append(known[laid])
    return states


def colours_of(box: Layered, states: Sequence[Any]) -> Floats:
    """CIELAB (len(states), 3) of states; where several hands have laid them, of the first."""
    return reflectance_to_lab(np.array([np.atleast_2d(box.reflectance(state))[0] for state in states]))


def colours_after(box: Layered, passes: Sequence[Pass], hand: Hand = STEADY) -> Floats:
    """CIELAB (len(passes) + 1, 3): the bare paper, then the colour after each pass. Raises what `states_after` does."""
    return colours_of(box, states_after(box, passes, hand))


def tooth_left_after(box: Layered, passes: Sequence[Pass]) -> list[float]:
    """How much of the tooth is free (0–1) on the bare paper and after each pass. Raises what `states_after` does."""
    return [box.tooth_left(state) for state in states_after(box, passes)]
