"""What a trial card is about: the stacks that a piece asks for, and those that any skin does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from core.colour.spaces import Floats
from core.optics.media import get_medium
from core.optics.spectra import reflectance_to_lab
from core.plan.setup import LaidOutTray, table_for
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
_HANDS, _FEW_BOXES = {"marker": 4}, 24
"""For how many other hands a card of few boxes is made too: where they change so much of what is foreseen that other
stacks will be planned than those by which they were chosen. Measured; large cards and other media gain nothing."""


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
    it is planned with. Raises what core.plan.solve.chosen raises.
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
    otherwise = partial(by_other_hands, laid_out, wanted, known, count)
    return Asked(box.sticks, once, known, laid_out.kit, count, planned, otherwise)


def by_other_hands(laid_out: LaidOutTray, wanted: Sequence[Wanted], known: Learnt, count: int) -> tuple[Stack, ...]:
    """The stacks that would be planned if paper and hand were otherwise than assumed, for a card of so many boxes; none
    once a box was measured."""
    medium = laid_out.setup.medium
    unknown = not len(known.off) and count <= _FEW_BOXES
    found: dict[Stack, None] = {}
    for support in known.hands(_HANDS.get(medium, 0)) if unknown else []:
        box = get_medium(medium).prepare(laid_out.box.sticks, support)
        other = replace(laid_out, box=box, table=table_for(box, laid_out.method, laid_out.setup.black))
        found |= dict.fromkeys(stack for stack in chosen(other, wanted) if stack)
    return tuple(found)
