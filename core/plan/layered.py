"""One figure from end to end: its places, a tray laid out, and plans in layers."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

import numpy as np

from core.errors import InputError
from core.layers.curve import MOST, Curve
from core.layers.doses import NONE, scale_of
from core.layers.draft import Draft
from core.layers.forward import Places
from core.layers.hands import MOST_LAYERS, hands_for
from core.layers.natural import Spot, areas_of
from core.layers.plan import Expected, Layer, Plan, Plans, recommended
from core.layers.school import Wishes, frame_for
from core.layers.search import Search
from core.limits import LIMITS
from core.optics.media import facts_of
from core.optics.stick import AS_DECLARED
from core.plan.setup import LaidOutTray

_JUDGING_HANDS, _JUDGING_SEED = 24, 11


class Planning:
    """The work on one figure's plans; `run` may be left at any time, and there are plans after its first step."""

    def __init__(self, laid_out: LaidOutTray, spots: Sequence[Spot], at_hand: Collection[str] = ()) -> None:
        """spots: the places, with what was read there. at_hand: codes of sticks that the piece needs anyway.

        Raises InputError (`no_spots`, `too_many_spots`).
        """
        if not spots:
            raise InputError("no_spots", "There is no spot to plan for.", "Set at least one on the figure.", "spots")
        if len(spots) > LIMITS.spots:
            raise InputError(
                "too_many_spots", f"{len(spots)} spots are too many.", f"Use at most {LIMITS.spots}.", "spots"
            )
        self._laid_out, self._areas = laid_out, areas_of(spots)
        setup, box = laid_out.setup, laid_out.box
        seen = np.array([spot.lab for spot in spots], dtype=float)
        aims = laid_out.aims(seen)
        wishes = Wishes(setup.black, setup.reserve, laid_out.index(setup.must_use), setup.max_sticks, setup.max_passes)
        frame = frame_for(box, laid_out.method, [spot.role for spot in spots], aims, wishes)
        scale = scale_of(setup.medium)
        self._search = Search(box.coarse(), scale, aims, frame, self._areas.masks, frozenset(laid_out.index(at_hand)))
        self._curve = Curve(self._search)
        self._judged = Places(box, scale, laid_out.judged(seen), hands_for(len(spots), _JUDGING_HANDS, _JUDGING_SEED))

    def run(self, most: int = MOST) -> Iterator[None]:
        """Works the plans out, a little with each step. Raises InputError (`bad_layers`, `nothing_to_lay`)."""
        if not 1 <= most <= MOST_LAYERS - 1:
            raise InputError("bad_layers", f"{most} layers are out of range.", f"Use 1 to {MOST_LAYERS - 1}.", "layers")
        yield from self._curve.steps(most)

    def plans(self) -> Plans:
        """The plans as they are now. Raises InputError (`nothing_to_lay`) if the rules allow none."""
        found: dict[int, Plan] = {}
        best = np.inf
        for _, (_, draft) in sorted(self._curve.best.items()):
            settled = self._search.settled(draft)
            plan = self._read(settled) if self._search.lawful(settled) else None
            # A layer more must not make it worse; and one that lies nowhere is none.
            if plan and plan.expected.by_hand < best:
                best = plan.expected.by_hand
                found[len(plan.layers)] = plan
        if not found and self._laid_out.setup.must_use:
            codes = ", ".join(self._laid_out.setup.must_use)
            raise InputError(
                "must_use_breaks_rules",
                f"No plan was found that keeps the rules of “{self._laid_out.method.name}” and holds {codes[:80]}.",
                "Do not ask for it here, choose another method, or allow more sticks.",
                "must_use",
            )
        if not found:
            raise InputError(
                "nothing_to_lay",
                "Bare paper comes nearer to every spot than any layer that the rules allow.",
                "Choose another method or another rule for black, or add sticks.",
                "method",
            )
        return Plans(found, recommended(found), facts_of(self._laid_out.setup.medium).untried)

    def _read(self, draft: Draft) -> Plan | None:
        box, scale, areas = self._laid_out.box, self._search.scale, self._areas
        layers = []
        for stick, doses in zip(draft.sticks, draft.doses, strict=True):
            if (doses == NONE).all():
                continue
            levels = tuple(None if dose == NONE else scale.doses[dose - 1] for dose in doses)
            layers.append(
                Layer(box.sticks[stick].code, scale.doses[int(doses.max()) - 1], levels, areas.called(doses != NONE))
            )
        if not layers:
            return None
        return Plan(tuple(layers), self._expected(draft))

    def _expected(self, draft: Draft) -> Expected:
        state = self._judged.start()
        for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
            state = self._judged.lay(state, slot, stick, doses)
        errors = self._judged.errors(state)
        planned, by_hand = float(errors[0].mean()), float(errors[1:].mean())
        used = [self._laid_out.box.sticks[stick] for stick in draft.sticks]
        untried = sum(stick.fit == AS_DECLARED for stick in used) / max(1, len(used))
        off = facts_of(self._laid_out.setup.medium).untried * untried
        return Expected(round(planned, 2), round(by_hand, 2), round(float(np.hypot(by_hand, off)), 1))


def plan_figure(laid_out: LaidOutTray, spots: Sequence[Spot], at_hand: Collection[str] = (), most: int = MOST) -> Plans:
    """The plans of one figure, worked out to the end. Raises what `Planning` and its methods raise."""
    work = Planning(laid_out, spots, at_hand)
    for _ in work.run(most):
        pass
    return work.plans()


def figures_of(laid_out: LaidOutTray, figures: Sequence[Sequence[Spot]], most: int = MOST) -> list[Plans]:
    """The plans of several figures: each after the first is glad of the sticks that those before it use."""
    found: list[Plans] = []
    for spots in figures:
        at_hand = {code for plans in found for code in plans.of(plans.recommended).sticks}
        found.append(plan_figure(laid_out, spots, at_hand, most))
    return found
