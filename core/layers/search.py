"""The search for layers: put one in, take one out, exchange a stick, choose anew how much of each lies where."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.doses import NONE, Scale
from core.layers.draft import Draft
from core.layers.forward import Doses, Places, State
from core.layers.frame import Flags, Frame
from core.layers.hands import hands_for
from core.layers.law import Law
from core.optics.medium import Box, Ground

PLACE_COST = 0.04
"""What each layer over each place costs: time, tooth, and one more thing to go wrong."""
SCATTER_COST = 0.12
"""What each place costs where a layer departs from a natural area: it must be looked for."""
NEW_STICK_COST = 0.15
"""What each stick costs that the piece needs at all."""
_HANDS, _FEW_HANDS = 7, 3
_TRIED, _TRIED_PER_LAYER, _POLISHED_PER_LAYER = 6, 5, 2
_FEW_LAYERS, _FEW_STICKS, _TRIED_OF_FEW = 3, 8, 8
"""Plans of so few layers from so small a tray are searched more thoroughly, since that costs little."""
_WORTHWHILE = 1e-4
_PROMISING, _NEAR = 1.15, 1.05
"""How many times as much a changed plan may cost before its other layers are chosen anew, and after that before its
doses are begun anew. Measured."""
_DISTURBED, _AT_A_PLACE = 3, 2
"""From how many disturbed doses those of a changed plan are begun anew, and in how many layers at a place."""
_MISSING = 1e3
"""What a stick costs that must be in the plan and is not."""
_NEVER = np.inf


@dataclass(frozen=True, slots=True)
class _Entry:
    """A stick that may be put in before layer j, and what the plan would cost by the quick stand-in."""

    cost: float
    j: int
    stick: int


class Search:
    """Plans for the places of one figure."""

    def __init__(
        self,
        box: Box,
        scale: Scale,
        targets: Floats,
        frame: Frame,
        areas: Flags,
        at_hand: frozenset[int] = frozenset(),
        hands: int = _HANDS,
        locked: frozenset[int] = frozenset(),
        bed: Ground | None = None,
    ) -> None:
        """areas (v, m): the natural areas; none if areas do not count. at_hand: sticks (indices) that the piece needs
        anyway. hands: how many besides the steady one. locked: slots of layers that stay as they are. bed: what another
        medium has left at each place."""
        self.box, self.scale, self.frame, self.bed = box, scale, frame, bed
        self.steady = Places(box, scale, targets, hands_for(len(targets), 0), bed)
        self.places = Places(box, scale, targets, hands_for(len(targets), hands), bed)
        self.m = self.places.count
        self._areas = areas.astype(float)
        self.at_hand, self.locked = at_hand, locked
        self.law = Law(frame, scale, self.m, locked)
        self.usable = np.unique([action.stick for action in box.actions])

    def empty(self) -> Draft:
        """No layer at all."""
        return Draft((), (), np.zeros((0, self.m), dtype=np.intp))

    def open(self, draft: Draft) -> list[int]:
        """The layers (indices) of a plan that may change."""
        return [j for j, slot in enumerate(draft.slots) if slot not in self.locked]

    def total(self, draft: Draft) -> float:
        """What a plan costs: all places in the mean of the hands, its layers, its areas and its sticks."""
        state = self.after(draft)
        return float(self.places.costs(state).sum()) + self.besides(draft)

    def after(self, draft: Draft) -> State:
        """What lies there after all layers."""
        state = self.places.start()
        for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
            state = self.places.lay(state, slot, stick, doses)
        return state

    def lightness(self, state: State) -> Floats:
        """(k, h, m): L* under every hand, for states of k times all rows."""
        return np.asarray(self.places.labs(state)[:, 0].reshape(-1, len(self.places.hands), self.m), dtype=float)

    def besides(self, draft: Draft) -> float:
        """What a plan costs besides the colours it gives."""
        laid = draft.doses != NONE
        used = {stick for stick, row in zip(draft.sticks, laid, strict=True) if row.any()}
        missing = np.count_nonzero(self.frame.must) - np.count_nonzero(self.frame.must[list(used)])
        scattered = sum(self._scatter(row) for row in laid)
        return float(PLACE_COST * laid.sum() + scattered + self._of_sticks(draft.sticks) + _MISSING * missing)

    def _scatter(self, laid: Flags) -> float:
        if not len(self._areas):
            return 0.0
        return SCATTER_COST * float(np.abs(self._areas - laid).sum(axis=1).min())

    def _of_sticks(self, sticks: tuple[int, ...]) -> float:
        new = set(sticks) - self.at_hand
        return NEW_STICK_COST * len(new) + float(sum(self.frame.price[stick] for stick in sticks))

    def polish(self, draft: Draft, sweeps: int = 2) -> Draft:
        """The same layers, each place's dose of each of them chosen anew in turn."""
        for _ in range(sweeps):
            state, before = self.places.start(), draft.doses
            for j in range(len(draft)):
                if draft.slots[j] in self.locked:
                    state = self.places.lay(state, draft.slots[j], draft.sticks[j], draft.doses[j])
                    continue
                each, costs = self.options(draft, j, state)
                draft = draft.laid(j, self.chosen(costs, bool(self.frame.must[draft.sticks[j]])))
                state = each.at(draft.doses[j][self.places.place] * self.places.rows + np.arange(self.places.rows))
            if (draft.doses == before).all():
                break
        return draft

    def begun_anew(self, draft: Draft, starts: Sequence[Doses]) -> Draft:
        """The same layers with the doses that are best at each place, of those it has and of those to which these
        starts (n, m) lead."""
        m, count = self.m, len(starts)
        wide = Search(
            self.box, self.scale, np.tile(self.places.targets, (count, 1)), self.frame.times(count),
            np.zeros((0, m * count), dtype=bool), hands=_FEW_HANDS, bed=_repeated(self.bed, count),
        )  # fmt: skip
        led = wide.polish(replace(draft, doses=np.concatenate(starts, axis=1)), 2)
        tried = [draft.doses, *np.split(led.doses, count, axis=1)]
        costs = np.array([self._of_each(replace(draft, doses=doses)) for doses in tried])
        costs[1:][~wide.lawful_at(led).reshape(count, m)] = _NEVER
        best = costs.argmin(axis=0)
        mixed = np.stack(tried)[best, :, np.arange(m)].T
        return self.polish(replace(draft, doses=mixed), 1)

    def _of_each(self, draft: Draft) -> Floats:
        """(m,): what every place costs, the layers over it among it."""
        state = self.after(draft)
        return np.asarray(self.places.costs(state)[0] + PLACE_COST * (draft.doses != NONE).sum(axis=0))

    def options(self, draft: Draft, j: int, state: State) -> tuple[State, Floats]:
        """The states after every dose of layer j, and what each costs at each place (D + 1, m); inf for what must not
        be. state: what lies there before the layer."""
        each, _, costs = self.foreseen(draft, j, state)
        return each, costs

    def foreseen(self, draft: Draft, j: int, state: State) -> tuple[State, State, Floats]:
        """As `options`, with the states after all later layers too, as they are."""
        each = self.places.each_dose(state, draft.slots[j], draft.sticks[j])
        doses = len(self.scale.doses) + 1
        allowed = self.law.may_lie(draft, j)[np.minimum(np.arange(doses), 1)]
        allowed &= self.law.may_be_so_hard(draft, j)
        after = each
        tooth = self.box.tooth_left_at(self.places.steady_filled(state))[0]
        allowed[1:] &= tooth >= self.frame.least_tooth
        alone = allowed.copy()
        for slot, stick, laid in zip(draft.slots[j + 1 :], draft.sticks[j + 1 :], draft.doses[j + 1 :], strict=True):
            short = self.box.tooth_left_at(self.places.steady_filled(after)) < self.frame.least_tooth
            allowed &= ~(short & (laid != NONE))
            after = self.places.lay(after, slot, stick, laid)
        costs = self.places.costs(after)
        costs[1:] += PLACE_COST
        # Where the later layers would find no tooth whatever is done here, they give way when their turn comes.
        allowed |= ~allowed.any(axis=0) & alone
        stuck = ~allowed.any(axis=0)
        allowed[draft.doses[j][stuck], stuck] = True
        costs[~allowed] = _NEVER
        return each, after, costs

    def lawful(self, draft: Draft) -> bool:
        """Whether a plan keeps every limit of the frame; what is locked is as the artist wants it."""
        used = {stick for stick, row in zip(draft.sticks, draft.doses, strict=True) if (row != NONE).any()}
        most = max(self.frame.most_sticks, len(self.at_hand), len(self.locked))
        if len(self.at_hand.union(draft.sticks)) > most or not set(np.flatnonzero(self.frame.must)) <= used:
            return False
        return bool(self.lawful_at(draft).all())

    def lawful_at(self, draft: Draft) -> Flags:
        """(m,): at which places a plan's layers that are not locked keep the limits of the frame."""
        state, kept = self.steady.start(), np.ones(self.m, dtype=bool)
        for j, doses in enumerate(draft.doses):
            if draft.slots[j] not in self.locked:
                short = self.box.tooth_left_at(state.filled) < self.frame.least_tooth
                kept &= self.law.allowed(draft, j, doses) & ~(short & (doses != NONE))
            state = self.steady.lay(state, draft.slots[j], draft.sticks[j], doses)
        return kept

    def chosen(self, costs: Floats, somewhere: bool = False) -> Doses:
        """The doses (m,) of one layer by what each costs (D + 1, m), and by how natural their area is.

        somewhere: it must lie at one place at least.
        """
        breath = costs.copy()
        breath[2:, self.frame.breath] = _NEVER
        best = breath[1:].argmin(axis=0) + 1
        off, on = breath[0], breath[best, np.arange(self.m)]
        if not len(self._areas):
            return np.where(on < off, best, NONE)
        if somewhere and not (on < off).any() and np.isfinite(on).any():
            off = off.copy()
            off[int(np.argmin(np.where(np.isfinite(on), on - np.minimum(off, _MISSING), _NEVER)))] = _MISSING
        area = self._areas[int(np.argmin(_by_area(self._areas, off[:, None], on[:, None])))]
        lies = np.where(area > 0, on <= off + SCATTER_COST, on + SCATTER_COST < off)
        return np.where(lies, best, NONE)

    def entries(self, draft: Draft, places: Iterator[int] | range | None = None) -> list[_Entry]:
        """Sticks that may be put in, the most promising first. places: before which layers; before all by default."""
        found: list[_Entry] = []
        states = [self.steady.start()]
        for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
            states.append(self.steady.lay(states[-1], slot, stick, doses))
        off = self.steady.costs(states[-1])[0]
        for j in range(len(draft) + 1) if places is None else places:
            found += self._entries_at(draft, j, states[j], off)
        return sorted(found, key=lambda entry: (round(entry.cost, 6), entry.j, entry.stick))

    def _entries_at(self, draft: Draft, j: int, state: State, off: Floats) -> list[_Entry]:
        sticks = self._that_fit(draft, j)
        if not len(sticks):
            return []
        after = self._laid_once(state, sticks)
        for slot, stick, doses in zip(draft.slots[j:], draft.sticks[j:], draft.doses[j:], strict=True):
            after = self.steady.lay(after, slot, stick, doses)
        on = (self.steady.costs(after) + PLACE_COST).reshape(-1, len(sticks), self.m).min(axis=0).T
        tooth = self.box.tooth_left_at(state.filled)
        _, lie = self.law.may_be_put_in(draft, j)
        on[~lie[:, sticks] | (tooth < self.frame.least_tooth)[:, None]] = _NEVER
        out = off.copy()
        if self.frame.begins and j == 0:
            out[~self.frame.breath] = 1e3
        costs_of = _by_area(self._areas, out[:, None], on).min(axis=0)
        needed = self.frame.must & ~np.isin(np.arange(len(self.frame.must)), draft.sticks)
        more = [self._of_sticks((*draft.sticks, int(stick))) - _MISSING * bool(needed[stick]) for stick in sticks]
        return [_Entry(float(c + m), j, int(k)) for c, m, k in zip(costs_of, more, sticks, strict=True)]

    def _laid_once(self, state: State, sticks: NDArray[np.intp]) -> State:
        """The states after each of the screened doses of each stick, at every place: (doses · sticks · m)."""
        start, stick = state.times(len(sticks)), np.repeat(sticks, self.m)
        after = []
        for dose in self.scale.tried:
            how_hard = np.full(len(stick), self.scale.pressure[dose])
            times = np.full(len(stick), self.scale.times[dose])
            after.append(State(*self.box.strokes(start.roots, start.filled, stick, how_hard, times)))
        return State.joined(after)

    def _that_fit(self, draft: Draft, j: int) -> NDArray[np.intp]:
        """The sticks (indices) that may be a layer before layer j."""
        frame = self.frame
        fits = np.zeros(len(self.box.sticks), dtype=bool)
        fits[self.usable] = True
        if self.box.once_a_stick:
            fits[list(draft.sticks)] = False
        needed = self.at_hand.union(draft.sticks)
        if len(needed) >= frame.most_sticks:
            fits &= np.isin(np.arange(len(fits)), list(needed))
        if frame.begins and j == 0:
            fits &= frame.may_begin.any(axis=0)
        if frame.begins and j > 0 and not len(draft):
            fits[:] = False
        return np.flatnonzero(fits)

    def grown(self, draft: Draft, tried: int = _TRIED) -> Draft | None:
        """The plan with the best layer more; None if there is none."""
        likely = self._put_in(draft, self.entries(draft)[:tried])
        return likely[0][1] if likely else None

    def with_best_of(self, draft: Draft, entries: list[_Entry]) -> Draft:
        """The plan with the best of these put in."""
        likely = self._put_in(draft, entries)
        return likely[0][1] if likely else draft

    def _put_in(self, draft: Draft, entries: list[_Entry]) -> list[tuple[float, Draft]]:
        """What the plans cost that these make, their doses chosen, and the plans; the cheapest first."""
        found: list[tuple[float, Draft]] = []
        states = [self.places.start()]
        for q in range(max((entry.j for entry in entries), default=0)):
            states.append(self.places.lay(states[-1], draft.slots[q], draft.sticks[q], draft.doses[q]))
        for entry in entries:
            longer = draft.with_one(entry.j, entry.stick)
            _, costs = self.options(longer, entry.j, states[entry.j])
            doses = self.chosen(costs, bool(self.frame.must[entry.stick]))
            longer = longer.laid(entry.j, doses)
            colours = costs[doses, np.arange(self.m)].sum() - PLACE_COST * (doses != NONE).sum()
            found.append((float(colours) + self.besides(longer), longer))
        return sorted(found, key=lambda each: round(each[0], 4))

    def thorough(self, layers: int) -> bool:
        """Whether plans of so many layers are few enough to be looked at more closely."""
        return layers <= _FEW_LAYERS and self.from_few

    @property
    def from_few(self) -> bool:
        """Whether the tray is small."""
        return len(self.usable) <= _FEW_STICKS and not self.bed

    def exchanged(self, draft: Draft) -> Draft:
        """The plan with other sticks in its layers, or the same in another order, as far as one exchange each pays."""
        cost, few = self.total(draft), self.thorough(len(draft))
        tried, polished = (_TRIED_OF_FEW, _TRIED_OF_FEW) if few else (_TRIED_PER_LAYER, _POLISHED_PER_LAYER)
        for j in self.open(draft):
            rest, now = draft.without(j), (j, draft.sticks[j])
            entries = [entry for entry in self.entries(rest) if (entry.j, entry.stick) != now]
            likely = [each for each in self._put_in(rest, entries[:tried]) if few or each[0] < _PROMISING * cost]
            changed = min((self.polish(other, 1) for _, other in likely[:polished]), key=self.total, default=draft)
            if changed is not draft and not self.locked and self.total(changed) < _NEAR * cost:
                changed = self.begun_anew(changed, self.disturbed(changed, _DISTURBED))
            if self.total(changed) < cost - _WORTHWHILE and self.lawful(changed):
                draft, cost = changed, self.total(changed)
        return draft

    def disturbed(self, draft: Draft, count: int) -> list[Doses]:
        """The doses of a plan with any others in some layers at each place, so many times."""
        rng, (n, m) = np.random.default_rng(len(draft)), draft.doses.shape
        found = []
        for _ in range(count):
            doses = draft.doses.copy()
            for _ in range(_AT_A_PLACE):
                doses[rng.integers(n, size=m), np.arange(m)] = rng.integers(len(self.scale.doses) + 1, size=m)
            found.append(doses)
        return found

    def paired(self, draft: Draft) -> Draft:
        """The same layers, the doses of every two of them chosen anew together."""
        for a, b in itertools.combinations(self.open(draft), 2):
            draft = self._together(draft, a, b)
        return draft

    def _together(self, draft: Draft, a: int, b: int) -> Draft:
        """The plan with the doses of layers a < b that are best together at each place, whatever the areas."""
        tried = []
        for dose in range(len(self.scale.doses) + 1):
            with_a = draft.laid(a, np.full(self.m, dose))
            state = self.places.start()
            for q in range(b):
                state = self.places.lay(state, with_a.slots[q], with_a.sticks[q], with_a.doses[q])
            allowed = self.law.allowed(with_a, a, np.full(self.m, dose))
            _, costs = self.options(with_a, b, state)
            costs = costs + PLACE_COST * (dose != NONE)
            costs[:, ~allowed] = _NEVER
            tried.append(costs)
        every = np.array(tried)
        best = every.reshape(-1, self.m).argmin(axis=0)
        first, second = np.divmod(best, every.shape[1])
        other = draft.laid(a, first).laid(b, second)
        return other if self.lawful(other) and self.total(other) < self.total(draft) - _WORTHWHILE else draft

    def shrunk(self, draft: Draft, tried: int = 3) -> Draft:
        """The plan with the layer fewer that is least missed; the same if all are locked."""
        every = sorted((self.total(draft.without(j)), j) for j in self.open(draft))
        if not every:
            return draft
        shorter = [self.polish(draft.without(j), 1) for _, j in every[:tried]]
        return min(shorter, key=self.total)


def _repeated(bed: Ground | None, count: int) -> Ground | None:
    return bed and Ground(np.tile(bed.reflectance, (count, 1)), np.tile(bed.tooth, count))


def _by_area(areas: Floats, off: Floats, on: Floats) -> Floats:
    """(v, k): what k layers cost in every natural area (v, m), if each place (m, k) may depart from it at a price."""
    if not len(areas):
        return np.asarray(np.minimum(off, on).sum(axis=0, keepdims=True))
    inside = np.minimum(np.minimum(on, off + SCATTER_COST), 1e4)
    outside = np.minimum(np.minimum(off, on + SCATTER_COST), 1e4)
    return np.asarray(areas @ (inside - outside) + outside.sum(axis=0))
