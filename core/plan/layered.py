"""One figure from end to end: its places, a tray laid out, and plans in layers."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.layers.curve import EXCHANGED, FEWEST, MOST, Curve
from core.layers.doses import scale_of
from core.layers.draft import Draft
from core.layers.forward import Places
from core.layers.frame import Flags
from core.layers.hands import MOST_LAYERS, hands_for
from core.layers.natural import Spot, areas_of
from core.layers.plan import Layer, Plan, Plans, recommended
from core.layers.school import Wishes, frame_for
from core.layers.search import Search
from core.layers.settled import settled, shared
from core.limits import LIMITS
from core.look.roles import SHADOW_ROLES
from core.optics.media import facts_of
from core.optics.touch import AS_DECLARED
from core.plan.beneath import MOST as DEEPEST_BENEATH
from core.plan.beneath import Beneath, beneath_of, first_of_others, ways_beneath
from core.plan.drafted import check_layers, draft_of, expected_of, laid_of, layers_of, of_medium
from core.plan.finishing import Finishing
from core.plan.setup import LaidOutTray

JUDGING_HANDS, JUDGING_SEED = 24, 11
_FEW, _HARDLY_WORSE = 4, 1.06
"""Up to how many layers the rest of the skin is regarded too (with more it is served anyway: measured), and how much
worse such plans may be at the places."""
_PROBED = 3
"""With how many layers over it what lies beneath is tried."""
_TYPICAL, _FITTED = 5, 3
"""How many layers a plan has by which it is told what its end does to it, and how often doses are fitted to that."""


Lab = tuple[float, float, float]


class Planning:
    """The work on one figure's plans; `run` may be left at any time, and there are plans after its first step, or after
    the first few where another medium lies beneath."""

    def __init__(
        self,
        laid_out: LaidOutTray,
        spots: Sequence[Spot],
        at_hand: Collection[str] = (),
        kept: Sequence[Layer] = (),
        skin: Sequence[Lab] = (),
    ) -> None:
        """spots: the places, with what was read there. at_hand: codes of sticks that the piece needs anyway. kept:
        layers that are locked: they stay as they are, and all others are put around them. skin: colours of which the
        rest of the figure's skin consists, CIELAB; plans of few layers are looked for with regard to them too.

        Raises InputError (`no_spots`, `too_many_spots`, or what `check_layers` raises).
        """
        if not spots:
            raise InputError("no_spots", "There is no spot to plan for.", "Set at least one on the figure.", "spots")
        if len(spots) > LIMITS.spots:
            raise InputError(
                "too_many_spots", f"{len(spots)} spots are too many.", f"Use at most {LIMITS.spots}.", "spots"
            )
        check_layers(laid_out, kept)
        self._laid_out, self._spots, self._areas = laid_out, spots, areas_of(spots)
        self._seen = np.array([spot.lab for spot in spots], dtype=float)
        self._aims, judged = laid_out.apart(self._seen), laid_out.judged(self._seen)
        self._codes_at_hand = frozenset(at_hand)
        self._at_hand = frozenset(laid_out.index(at_hand))
        dark = [laid_out.setup.one_shadow and spot.role in SHADOW_ROLES for spot in spots]
        self._shadows = np.array(dark, dtype=bool)
        self._finishing = Finishing(laid_out, self._areas, judged)
        scale = scale_of(laid_out.setup.medium)
        self._judged = Places(laid_out.box, scale, judged, hands_for(len(spots), JUDGING_HANDS, JUDGING_SEED))
        self._held = of_medium(laid_out, kept)
        self._kept = draft_of(laid_out, self._held) if self._held else None
        below = first_of_others(laid_out, laid_of(kept))
        self._above = tuple(layer for layer in laid_of(kept) if layer not in (*below, *self._held))
        self._curves: list[tuple[Curve, Beneath]] = []
        if below or not laid_out.setup.under:
            beneath = beneath_of(laid_out, below, len(spots))
            self._curves.append((self._curve_for(self._aims, beneath), beneath))
        alone = not self._finishing.wanted and not below and not laid_out.setup.under
        self._wider = self._curve_with(skin) if skin and not self._kept and alone else None
        self._fitted: list[tuple[Search, Draft, Beneath]] = []
        self._last: Plans | None = None

    def _curve_for(self, aims: Floats, beneath: Beneath) -> Curve:
        """The search for layers that give these colours (m, 3) before anything ends them."""
        setup, box = self._laid_out.setup, self._laid_out.box
        passes = np.maximum(1, setup.max_passes - self._finishing.takes_a_pass - beneath.passes)
        must = self._laid_out.index(setup.must_use)
        sticks = max(1, setup.max_sticks - len(beneath.sticks)) if setup.max_sticks else 0
        wishes = Wishes(setup.black, setup.reserve, must, sticks, passes)
        frame = frame_for(box, self._laid_out.method, [spot.role for spot in self._spots], aims, wishes)
        scale = scale_of(setup.medium)
        locked = frozenset(self._kept.slots if self._kept else ())
        search = Search(
            box.coarse(), scale, aims, frame, self._areas.masks, self._at_hand, locked=locked, bed=beneath.bed
        )
        return Curve(search, self._kept)

    def _curve_with(self, skin: Sequence[Lab]) -> Curve:
        """The search for layers over the places and this skin together: a colour of it is where the place is that is
        most like it."""
        setup, box = self._laid_out.setup, self._laid_out.box
        seen, others = np.array([spot.lab for spot in self._spots]), np.array(skin)
        like = np.linalg.norm(others[:, None] - seen, axis=2).argmin(axis=1)
        more = [replace(self._spots[i], name="", lab=lab) for i, lab in zip(like, skin, strict=True)]
        every = (*self._spots, *more)
        aims = np.concatenate([self._aims, self._laid_out.aims(others)])
        must = self._laid_out.index(setup.must_use)
        wishes = Wishes(setup.black, setup.reserve, must, setup.max_sticks, setup.max_passes)
        frame = frame_for(box, self._laid_out.method, [spot.role for spot in every], aims, wishes)
        masks = areas_of(every).masks
        return Curve(Search(box.coarse(), scale_of(setup.medium), aims, frame, masks, self._at_hand))

    def run(self, most: int = MOST) -> Iterator[None]:
        """Works the plans out, a little with each step. Raises InputError (`bad_layers`, `nothing_to_lay`)."""
        if not 1 <= most <= MOST_LAYERS - 1:
            raise InputError("bad_layers", f"{most} layers are out of range.", f"Use 1 to {MOST_LAYERS - 1}.", "layers")
        if not self._curves:
            yield from self._begun_beneath()
        for curve, beneath in self._curves:
            yield from curve.steps(max(1, most - len(beneath.layers)), _FEW + 1 if self._wider else FEWEST)
        if self._wider:
            yield from self._wider.steps(min(most, _FEW), closely=False)
        if self._finishing.wanted:
            for curve, beneath in self._curves[:]:
                yield from self._ended_anew(curve, beneath, most)
        self._last = self._as_found()
        if self._last.recommended > EXCHANGED:
            # Few figures are worth so many layers: these are looked at as closely as those of fewer.
            for curve, beneath in self._curves:
                if curve.best:
                    yield from curve.down_to(self._last.recommended - len(beneath.layers))
            self._last = self._as_found()

    def _begun_beneath(self) -> Iterator[None]:
        """What lies beneath: of all ways with so many layers, that on which the first layers over it come nearest."""
        free = self._laid_out.setup.max_passes - self._finishing.takes_a_pass - 1
        found: list[tuple[float, int, Curve, Beneath]] = []
        ways = ways_beneath(self._laid_out, self._areas, self._aims, self._codes_at_hand, min(free, DEEPEST_BENEATH))
        for number, beneath in enumerate(ways if free > 0 else ()):
            curve = self._curve_for(self._aims, beneath)
            draft: Draft | None = curve.search.empty()
            cost = np.inf
            for _ in range(_PROBED):
                draft = curve.search.grown(draft, tried=2) if draft is not None else None
                if draft is not None:
                    draft = curve.search.polish(draft, 1)
                    cost = min(cost, curve.search.total(draft) + beneath.cost)
            found.append((cost, number, curve, beneath))
            yield
        best = {len(each[3].layers): each for each in sorted(found, key=lambda each: each[:2], reverse=True)}
        self._curves = [(curve, beneath) for _, _, curve, beneath in best.values()]
        if not best:
            nothing = beneath_of(self._laid_out, (), len(self._spots))
            self._curves = [(self._curve_for(self._aims, nothing), nothing)]

    @property
    def begun(self) -> bool:
        """Whether there may be plans already."""
        return any(len(draft) for curve, _ in self._curves for _, draft in curve.best.values())

    def _ended_anew(self, curve: Curve, beneath: Beneath, most: int) -> Iterator[None]:
        """What the end does to the best plan tells which colours the layers beneath it must give."""
        best = {n: draft for n, (_, draft) in curve.best.items() if len(draft)}
        if not best:
            return
        draft = best[min(best, key=lambda n: abs(n - _TYPICAL))]
        again = self._curve_for(self._before(draft, beneath), beneath)
        self._curves.append((again, beneath))
        yield from again.steps(max(1, most - len(beneath.layers)))
        for each in (curve, again):
            for _, draft in each.best.values():
                self._fitted += self._fitted_to_its_end(draft, beneath)
                yield

    def _before(self, draft: Draft, beneath: Beneath) -> Floats:
        """The colours (m, 3) that layers must give, if their end moves them as it does these."""
        return self._laid_out.aims(self._aims - self._finishing.moved_by(self._layers(draft, beneath)))

    def _fitted_to_its_end(self, draft: Draft, beneath: Beneath) -> Iterator[tuple[Search, Draft, Beneath]]:
        """The same layers, their doses chosen anew for what the end makes of them."""
        for _ in range(_FITTED):
            search = self._curve_for(self._before(draft, beneath), beneath).search
            draft = search.polish(draft, 1)
            if not self._layers(draft, beneath):
                return
            yield search, draft, beneath

    def _found_wider(self) -> list[Draft]:
        """The plans of few layers that regard the rest of the skin, at the places alone."""
        found = [draft for _, draft in self._wider.best.values()] if self._wider else []
        return [replace(draft, doses=draft.doses[:, : len(self._spots)]) for draft in found if len(draft) <= _FEW]

    def plans(self) -> Plans:
        """The plans as they are now. Raises InputError (`nothing_to_lay`) if the rules allow none."""
        return self._last or self._as_found()

    def _as_found(self) -> Plans:
        every: dict[int, list[Plan]] = {}
        wider: dict[int, Plan] = {}
        tried = [(curve.search, draft, beneath) for curve, beneath in self._curves for _, draft in curve.best.values()]
        cut = [(self._curves[0][0].search, draft, self._curves[0][1]) for draft in self._found_wider()]
        for search, draft, beneath in (*tried, *self._fitted, *cut):
            done = settled(search, draft, self._seen[:, 0])
            layers = self._layers(done, beneath)
            if self._shadows.any() and not self._shares_a_shadow(layers):
                done = shared(search, done, self._shadows) or done
                layers = self._layers(done, beneath)
            if layers and search.lawful(done) and self._shares_a_shadow(layers):
                plan = self._ended(layers)
                every.setdefault(len(plan.layers), []).append(plan)
                if any(draft is other for _, other, _ in cut):
                    wider[len(plan.layers)] = plan
        found: dict[int, Plan] = {}
        best = np.inf
        for count, plans in sorted(every.items()):
            plan = min(plans, key=lambda plan: plan.expected.by_hand)
            other = wider.get(count)
            if other and other.expected.by_hand < _HARDLY_WORSE * plan.expected.by_hand:
                plan = other
            # A layer more must not make it worse.
            if plan.expected.by_hand < best:
                best = plan.expected.by_hand
                found[count] = plan
        if not found:
            raise self._nothing()
        all_tried = all(stick.fit != AS_DECLARED for stick in self._laid_out.box.sticks)
        untried = 0.0 if all_tried else facts_of(self._laid_out.setup.medium).untried
        return Plans(found, recommended(found), untried)

    def _shares_a_shadow(self, layers: tuple[Layer, ...]) -> bool:
        """Whether one stick lies over all shadows, if that is wanted."""
        over: dict[str, Flags] = {}
        for layer in layers:
            laid = np.array([level is not None for level in layer.levels], dtype=bool)
            over[layer.stick] = over.get(layer.stick, np.zeros_like(laid)) | laid
        return not self._shadows.any() or any(laid[self._shadows].all() for laid in over.values())

    def _nothing(self) -> InputError:
        if self._kept:
            return InputError(
                "locked_layers_allow_nothing",
                f"No plan was found that keeps the locked layers and the rules of “{self._laid_out.method.name}”.",
                "The layers are as they were: unlock one, or choose another method.",
                "layers",
            )
        if self._shadows.any():
            return InputError(
                "no_shared_shadow",
                f"Nothing may lie over all shadows in “{self._laid_out.method.name}” with this tray.",
                "Do not ask for one thing in all shadows, or choose another method.",
                "one_shadow",
            )
        if self._laid_out.setup.must_use:
            codes = ", ".join(self._laid_out.setup.must_use)
            return InputError(
                "must_use_breaks_rules",
                f"No plan was found that keeps the rules of “{self._laid_out.method.name}” and holds {codes[:80]}.",
                "Do not ask for it here, choose another method, or allow more of them.",
                "must_use",
            )
        return InputError(
            "nothing_to_lay",
            "Bare paper comes nearer to every spot than any layer that the rules allow.",
            "Choose another method or another rule for black, or put in more.",
            "method",
        )

    def _layers(self, draft: Draft, beneath: Beneath) -> tuple[Layer, ...]:
        """The layers of a draft with all that lies beneath and above; none if it has none."""
        mine = layers_of(self._laid_out, draft, self._areas, self._held)
        return (*beneath.layers, *mine, *self._above) if mine else ()

    def _ended(self, layers: tuple[Layer, ...]) -> Plan:
        if not self._above:
            layers = self._finishing.ended(layers)
        return Plan(layers, expected_of(self._laid_out, layers, self._finishing.errors(layers, self._judged)))


def plan_figure(
    laid_out: LaidOutTray,
    spots: Sequence[Spot],
    at_hand: Collection[str] = (),
    most: int = MOST,
    skin: Sequence[Lab] = (),
) -> Plans:
    """The plans of one figure, worked out to the end. Raises what `Planning` and its methods raise."""
    work = Planning(laid_out, spots, at_hand, skin=skin)
    for _ in work.run(most):
        pass
    return work.plans()


def figures_of(
    laid_out: LaidOutTray,
    figures: Sequence[Sequence[Spot]],
    most: int = MOST,
    skins: Sequence[Sequence[Lab]] = (),
) -> list[Plans]:
    """The plans of several figures: each after the first is glad of the sticks that those before it use. skins: of
    each, see `Planning`."""
    found: list[Plans] = []
    for number, spots in enumerate(figures):
        at_hand = {code for plans in found for code in plans.of(plans.recommended).sticks}
        found.append(plan_figure(laid_out, spots, at_hand, most, skins[number] if skins else ()))
    return found
