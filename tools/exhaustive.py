"""Every stack of up to three passes, one by one: what the search is measured against.

Uses the exact model in double precision and the same cost as the search.
"""

from __future__ import annotations

import numpy as np

from core.colour.spaces import xyz_to_lab
from core.optics.medium import PRESSURES, Box, Pass
from core.optics.spectra import WEIGHTS
from core.optics.stack import colours_after
from core.recipe.cost import CHOOSING_K_L, action_costs, colour_cost

_MOST_S_L = 1.75
Path = tuple[int, ...]


def optimum(box: Box, targets: np.ndarray, max_passes: int = 3) -> list[tuple[float, Path]]:
    """Least cost and its stack for each target (m, 3), without any rules."""
    costs = action_costs(box)
    best: list[tuple[float, Path]] = [(np.inf, ()) for _ in targets]
    blank, bare = box.blank()
    states: list[tuple[Path, np.ndarray, float]] = [((), blank[0], bare)]
    for depth in range(1, max_passes + 1):
        following = []
        for path, root, deposit in states:
            roots, deposits = box.expand(root[None], deposit)
            labs = xyz_to_lab(box.seen(roots[0]).astype(float) @ WEIGHTS)
            _improve(best, targets, labs, costs[list(path)].sum() + costs, path)
            if depth < max_passes:
                following += [((*path, i), roots[0, i], float(deposits[i])) for i in range(len(box.actions))]
        states = following
    # The winners again, in double precision throughout.
    return [(exact_cost(box, path, target), path) for (_, path), target in zip(best, targets, strict=True)]


def exact_cost(box: Box, path: Path, target: np.ndarray) -> float:
    """Cost of one stack by the exact model."""
    actions = [box.actions[i] for i in path]
    passes = [Pass(box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats) for a in actions]
    return float(colour_cost(target, colours_after(box, passes)[-1]) + action_costs(box)[list(path)].sum())


def _improve(
    best: list[tuple[float, Path]], targets: np.ndarray, labs: np.ndarray, costs: np.ndarray, path: Path
) -> None:
    for i, target in enumerate(targets):
        # CIEDE2000 is never less than its lightness term alone, so this leaves out nothing that could win.
        least = np.abs(labs[:, 0] - target[0]) / (CHOOSING_K_L * _MOST_S_L) + costs
        near = np.flatnonzero(least < best[i][0])
        if len(near):
            found = colour_cost(target, labs[near]) + costs[near]
            winner = int(np.argmin(found))
            if found[winner] < best[i][0]:
                best[i] = (float(found[winner]), (*path, int(near[winner])))
