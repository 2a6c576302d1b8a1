"""What a trial card is about: the stacks that a piece asks for, and those that any skin does."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from core.colour.spaces import Floats
from core.optics.spectra import reflectance_to_lab
from core.plan.setup import LaidOutTray
from core.plan.solve import Wanted, chosen
from core.skin.reflectance import skin_reflectance
from core.trial.card import Asked
from core.trial.joint import Learnt, learn
from core.trial.teaching import Stack

_ENOUGH = 48
"""From how many stacks a piece has enough of its own."""
_MELANIN = (0.02, 0.04, 0.08, 0.15, 0.25)
_BLOOD, _LIGHTS = 0.02, ((1.0, "base"), (0.68, "half-tone"), (0.42, "shadow"))
"""Skins from very light to deep (volume fractions of the study's middle), each in light and shade."""


def usual_skins() -> tuple[list[str], Floats]:
    """Names and CIELAB (n, 3) of base, half-tone and shadow of skins of all depths."""
    names, labs = [], []
    for i, melanin in enumerate(_MELANIN):
        for light, name in _LIGHTS:
            names.append(f"skin {i + 1}, {name}")
            labs.append(reflectance_to_lab(light * skin_reflectance((melanin, _BLOOD, 0.8))))
    return names, np.array(labs)


def asked_of(
    laid_out: LaidOutTray,
    names: Sequence[str],
    seen: Floats,
    count: int,
    learnt: Learnt | None = None,
    own: Sequence[tuple[str, Stack]] = (),
) -> Asked:
    """What a card of at most so many boxes is made from, for a piece with these spots: CIELAB (m, 3) as seen.

    A piece with few is topped up with the usual skins. learnt: from earlier cards on this paper; own: the stacks that
    it is planned with. Raises what
    core.plan.solve.chosen raises.
    """
    box, medium = laid_out.box, laid_out.setup.medium
    aims = laid_out.aims(seen) if len(seen) else np.zeros((0, 3))
    wanted, said = [Wanted.of(aim) for aim in aims], list(names)
    if len(wanted) < _ENOUGH:
        more, labs = usual_skins()
        wanted += [Wanted.of(aim) for aim in laid_out.aims(labs)]
        said += more
    stacks = [(name, stack) for name, stack in zip(said, chosen(laid_out, wanted), strict=True) if stack]
    known = learnt or learn(box.sticks, box.support, medium, [])
    first = {stack: name for name, stack in reversed([*own, *stacks])}
    once = tuple((name, stack) for stack, name in reversed(first.items()))
    planned = tuple((name, tuple(stack)) for name, stack in own)
    return Asked(box.sticks, once, known, laid_out.kit, count, planned)
