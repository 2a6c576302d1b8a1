"""What a school and a tray permit: which layers may lie where, over and under which others, and how hard."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.layers.doses import HEAVY, NONE, Scale
from core.layers.draft import Draft
from core.layers.forward import Doses
from core.layers.frame import Flags, Frame


@dataclass(frozen=True, slots=True)
class Law:
    """The frame's rules for m places. locked: slots of layers that are as the artist wants them, whatever the rules."""

    frame: Frame
    scale: Scale
    m: int
    locked: frozenset[int]

    def allowed(self, draft: Draft, j: int, doses: Doses) -> Flags:
        """(m,): whether layer j may have these doses (m,)."""
        places = np.arange(self.m)
        allowed = self.may_lie(draft, j)[np.minimum(doses, 1), places] & self.may_be_so_hard(draft, j)[doses, places]
        return np.asarray(allowed & ~(self.frame.breath & (doses > 1)))

    def may_lie(self, draft: Draft, j: int) -> Flags:
        """(2, m): whether layer j may be left out at each place, and whether it may be laid there."""
        rest = draft.without(j)
        leave_out, lie = self.may_be_put_in(rest, j)
        return np.array([leave_out, lie[:, draft.sticks[j]]])

    def may_be_put_in(self, draft: Draft, j: int) -> tuple[Flags, Flags]:
        """Whether each place may do without a layer before layer j (m,), and may have each stick in it (m, n)."""
        frame, laid = self.frame, draft.doses != NONE
        before, after = laid[:j], laid[j:]
        begun, goes_on = before.any(axis=0), after.any(axis=0)
        leave_out = np.ones(self.m, dtype=bool)
        if len(after):
            next_ = after.argmax(axis=0)
            following = np.array(draft.sticks[j:], dtype=np.intp)[next_]
            leave_out = begun | ~goes_on | frame.may_begin[np.arange(self.m), following]
            leave_out |= self._are_locked(draft.slots[j:])[next_]
        lie = frame.may_lie & (begun[:, None] | frame.may_begin)
        for stick, row in zip(draft.sticks[:j], before, strict=True):
            lie[row] &= frame.follow[stick]
        for stick, row in zip(draft.sticks[j:], after, strict=True):
            lie[row] &= frame.follow[:, stick]
        lie[(laid.sum(axis=0) >= frame.most_passes) | (frame.breath & (begun | goes_on))] = False
        if frame.begins and j == 0:
            leave_out = leave_out & frame.breath
        return leave_out, lie

    def may_be_so_hard(self, draft: Draft, j: int) -> Flags:
        """(D + 1, m): no harder first than the school begins, heavy only where nothing comes after, and nothing where
        something heavy lies."""
        allowed = np.ones((len(self.scale.doses) + 1, self.m), dtype=bool)
        begun = (draft.doses[:j] != NONE).any(axis=0)
        too_hard = self.scale.hard > self.frame.first_hardest
        allowed[np.ix_(too_hard, ~begun)] = False
        later = draft.doses[j + 1 :]
        if len(later):
            next_ = (later != NONE).argmax(axis=0)
            following = later[next_, np.arange(self.m)]
            allowed[NONE] = begun | ~too_hard[following] | self._are_locked(draft.slots[j + 1 :])[next_]
        if self.frame.rising:
            heavy = self.scale.hard == HEAVY
            under = (heavy[draft.doses[:j]]).any(axis=0)
            over = (draft.doses[j + 1 :] != NONE).any(axis=0)
            allowed[1:, under] = False
            allowed[np.ix_(heavy, over)] = False
            if not self.frame.may_be_heavy(j, len(draft)):
                allowed[heavy] = False
        return allowed

    def _are_locked(self, slots: Sequence[int]) -> Flags:
        return np.array([slot in self.locked for slot in slots], dtype=bool)
