"""Recipes that end burnished: layered for the colour that burnishing will turn into the one that is wanted."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from core.colour.spaces import Floats
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.recipe.cost import colour_cost
from core.recipe.search import Found, Table

FINISHES = ("layer", "burnish")
PALE_ABOVE_L, PALE_BELOW_C = 84.0, 22.0
_MOST_BURNISHERS = 3
_TRIED = 6

Stack = tuple[Pass, ...]


def burnishers(kit: Kit, medium: str) -> tuple[str, ...]:
    """Codes of what may burnish: a colourless blender if there is one, then the palest sticks."""
    sticks = [stick for stick in kit.sticks if stick.medium == medium]
    blenders = [stick.code for stick in sticks if stick.colourless]
    pale = [
        stick
        for stick in sticks
        if not stick.colourless and stick.lab[0] >= PALE_ABOVE_L and np.hypot(*stick.lab[1:]) <= PALE_BELOW_C
    ]
    pale.sort(key=lambda stick: (-stick.lab[0], stick.code))
    return tuple([*blenders[:1], *(stick.code for stick in pale)][:_MOST_BURNISHERS])


def burnished(
    kit: Kit,
    table: Table,
    targets: Floats,
    stacks: Sequence[Stack],
    search: Callable[[Floats], list[list[Found]]],
) -> list[Stack]:
    """Each stack with a last pass that burnishes it, or what comes nearer to its target (m, 3) that way.

    What burnishing does to the stack at hand tells which colour must lie under it; `search` finds stacks
    for that; the best few are worked out burnished. An empty stack stays empty.
    """
    medium = table.box.sticks[0].medium
    finishes = [Pass(code, "heavy", 1, "burnish") for code in burnishers(kit, medium)]
    laid = [i for i, stack in enumerate(stacks) if stack]
    if not finishes or not laid:
        return list(stacks)
    found: list[tuple[float, Stack] | None] = [None] * len(stacks)
    for finish in finishes:
        moved = np.array([_moved(kit, stacks[i], finish) for i in laid])
        for i, hits in zip(laid, search(targets[laid] - moved), strict=True):
            for stack in (stacks[i], *(table.passes(hit.path) for hit in hits[:_TRIED])):
                closed = (*stack, finish)
                tried = (_cost(kit, closed, targets[i]), closed)
                held = found[i]
                if held is None or tried[0] < held[0] - 1e-9:
                    found[i] = tried
    return [stack if row is None else row[1] for row, stack in zip(found, stacks, strict=True)]


def _moved(kit: Kit, stack: Stack, finish: Pass) -> Floats:
    seen = colours_after(kit, (*stack, finish))
    return np.asarray(seen[-1] - seen[-2])


def _cost(kit: Kit, stack: Stack, target: Floats) -> float:
    return float(colour_cost(target, colours_after(kit, stack)[-1]))
