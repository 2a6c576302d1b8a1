"""Plans brought in order at the end: pressure that never falls, and one stick over all of some places."""

from __future__ import annotations

import numpy as np

from core.layers.doses import NONE
from core.layers.draft import Draft
from core.layers.frame import Flags
from core.layers.search import Search

_ACCENT = 2
_NEVER = np.inf


def settled(search: Search, draft: Draft) -> Draft:
    """The plan with pressure that never falls from layer to layer: where a later one is softer than any before it,
    the place that minds least is pressed harder. Accents of one or two places do not count."""
    if not search.frame.rising:
        return draft
    state, hardest = search.places.start(), -1
    for j in range(len(draft)):
        doses = draft.doses[j]
        if np.count_nonzero(doses) > _ACCENT and draft.slots[j] not in search.locked:
            own = int(search.scale.hard[doses].max())
            if own < hardest:
                _, costs = search.options(draft, j, state)
                more = costs - np.minimum(costs[doses, np.arange(search.m)], 1e3)
                more[search.scale.hard != hardest] = _NEVER
                dose, place = np.unravel_index(int(np.argmin(more)), more.shape)
                if np.isfinite(costs[dose, place]):
                    doses = doses.copy()
                    doses[place] = dose
                    draft = draft.laid(j, doses)
            hardest = max(hardest, own)
        state = search.places.lay(state, draft.slots[j], draft.sticks[j], draft.doses[j])
    return draft


def shared(search: Search, draft: Draft, places: Flags) -> Draft | None:
    """The plan with one layer over all of these places (m,): as it is if there is such a stick, else with the layer
    widened for which that costs least; None if none may be."""
    over = {stick: np.zeros(search.m, dtype=bool) for stick in draft.sticks}
    for stick, doses in zip(draft.sticks, draft.doses, strict=True):
        over[stick] |= doses != NONE
    if any(held[places].all() for held in over.values()):
        return draft
    state, tried = search.places.start(), []
    for j in range(len(draft)):
        if j in search.open(draft):
            _, costs = search.options(draft, j, state)
            costs[0, places] = _NEVER
            best = costs.argmin(axis=0)
            missing = places & (draft.doses[j] == NONE)
            if np.isfinite(costs[best, np.arange(search.m)][missing]).all():
                tried.append(draft.laid(j, np.where(missing, best, draft.doses[j])))
        state = search.places.lay(state, draft.slots[j], draft.sticks[j], draft.doses[j])
    return min((other for other in tried if search.lawful(other)), key=search.total, default=None)
