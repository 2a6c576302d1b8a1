"""Plans brought in order at the end: values in their order, pressure that never falls, and one stick over all of some
places."""

from __future__ import annotations

import numpy as np

from core.colour.spaces import Floats
from core.layers.doses import NONE
from core.layers.draft import Draft
from core.layers.frame import Flags
from core.layers.search import SCATTER_COST, Search

_ACCENT = 2
_TOLD_APART, _CLEARLY = 2.5, 0.6
"""From what difference in L* on two places must keep their order, and by how much at least. A quarter of a step of
Munsell value is 2.5 (a convention); the other was measured, as are these:"""
_OUT_OF_ORDER, _SWEEPS = 2.0, 2
"""What each L* costs that two places lack of it, and how often all layers are gone through for that."""
_NEVER = np.inf


def settled(search: Search, draft: Draft, wanted: Floats) -> Draft:
    """The plan with its places in the order of the L* wanted (m,), as far as that costs little, and with pressure that
    never falls."""
    done = _rising(search, _in_order(search, draft, wanted))
    return done if search.lawful(done) else _rising(search, draft)


def _in_order(search: Search, draft: Draft, wanted: Floats) -> Draft:
    """The plan with doses that keep the order of values: what lies out of a tray's reach comes out all but alike, and
    the search sees no harm in a deep shadow that ends a little lighter than the next."""
    lighter = wanted[:, None] - wanted
    lighter = np.sign(lighter) * (np.abs(lighter) > _TOLD_APART)
    now, every = search.lightness(search.after(draft))[0].T, np.arange(search.m)
    if not _lacking(lighter, now[:, None], now).any():
        return draft
    for _ in range(_SWEEPS):
        state, before = search.places.start(), draft.doses
        for j, doses in enumerate(draft.doses.copy()):
            if draft.slots[j] in search.locked:
                state = search.places.lay(state, draft.slots[j], draft.sticks[j], doses)
                continue
            each, after, costs = search.foreseen(draft, j, state)
            light = search.lightness(after)
            now = light[doses, :, every]
            for place in np.argsort(-_lacking(lighter, now[:, None], now)[:, 0], kind="stable"):
                lacks = _lacking(lighter[[place]], light[None, :, :, place], now)[0]
                if lacks[doses[place]] > 0:
                    moved = (np.arange(len(costs)) == NONE) != (doses[place] == NONE)
                    all_in = costs[:, place] + _OUT_OF_ORDER * lacks + SCATTER_COST * moved
                    doses[place] = int(all_in.argmin())
                    now[place] = light[doses[place], :, place]
            draft = draft.laid(j, doses)
            state = each.at(doses[search.places.place] * search.places.rows + np.arange(search.places.rows))
        if (draft.doses == before).all():
            break
    return draft


def _lacking(lighter: Floats, light: Floats, now: Floats) -> Floats:
    """(p, k): by how much p places, each in k ways of L* under every hand (p, k, h), fail to be told apart from all
    others (m, h). lighter (p, m): 1 where a place must be the lighter one, −1 the darker one, 0 either."""
    apart = lighter[:, None, :, None] * (light[:, :, None] - now)
    lacks = np.maximum(_CLEARLY - apart, 0.0).mean(axis=-1)
    return np.asarray((lacks * (lighter != 0)[:, None]).sum(axis=-1))


def _rising(search: Search, draft: Draft) -> Draft:
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
