"""A stack of passes: its colour after each, and how far a hand's variation moves it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.medium import MAX_PASSES, STEADY, Hand, Layered, Pass
from core.optics.spectra import reflectance_to_lab

HANDS = (Hand(thickness=0.85), Hand(thickness=1.15), Hand(coverage=0.9), Hand(coverage=1.1))
"""The variation of a practised hand: film ± 15 %, coverage ± 10 % (assumption)."""


def colours_after(box: Layered, passes: Sequence[Pass], hand: Hand = STEADY) -> Floats:
    """CIELAB (len(passes) + 1, 3): the bare paper, then the colour after each pass.

    Raises InputError naming the pass (`passes[i].…`) that cannot be made.
    """
    return _run(box, passes, hand)[0]


def room_after(box: Layered, passes: Sequence[Pass]) -> list[float]:
    """How much of the tooth is free (0–1) on the bare paper and after each pass."""
    return _run(box, passes, STEADY)[1]


def _run(box: Layered, passes: Sequence[Pass], hand: Hand) -> tuple[Floats, list[float]]:
    if len(passes) > MAX_PASSES:
        raise InputError(
            "too_many_passes", f"{len(passes)} passes are too many.", f"Use at most {MAX_PASSES}.", "passes"
        )
    state = box.start()
    seen, rooms = [box.reflectance(state)], [box.room(state)]
    for i, pass_ in enumerate(passes):
        try:
            state = box.apply(state, pass_, hand)
        except InputError as error:
            raise InputError(error.code, error.message, error.hint, f"passes[{i}].{error.field}") from error
        seen.append(box.reflectance(state))
        rooms.append(box.room(state))
    return reflectance_to_lab(np.array(seen)), rooms


def tolerance(box: Layered, passes: Sequence[Pass], hands: Iterable[Hand] = HANDS) -> float:
    """Mean CIEDE2000 by which a hand's variation moves the final colour."""
    if not passes:
        return 0.0
    planned = colours_after(box, passes)[-1]
    return float(np.mean([ciede2000(planned, colours_after(box, passes, hand)[-1]) for hand in hands]))
