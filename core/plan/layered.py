"""One figure from end to end: its places, a tray laid out, and plans in layers."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.layers.curve import FEWEST, MOST, Curve
from core.layers.doses import NONE, scale_of
from core.layers.draft import Draft
from core.layers.forward import Places
from core.layers.frame import Flags
from core.layers.hands import MOST_LAYERS, hands_for
from core.layers.natural import Areas, Spot, areas_of
from core.layers.plan import Expected, Layer, Plan, Plans, recommended
from core.layers.school import Wishes, frame_for
from core.layers.search import Search
from core.layers.settled import settled, shared
from core.limits import LIMITS
from core.look.roles import SHADOW_ROLES
from core.optics.media import facts_of, get_medium
from core.optics.medium import MAX_REPEATS
from core.optics.stick import AS_DECLARED
from core.plan.finishing import WORKED, Finishing
from core.plan.setup import LaidOutTray

JUDGING_HANDS, JUDGING_SEED = 24, 11
_FEW, _FEW_FROM, _HARDLY_WORSE = 4, 6, 1.06
"""Up to how many layers the rest of the skin is regarded too (with more it is served anyway: measured), from how many
layers down such plans are looked for, and how much worse they may be at the places."""
_TYPICAL, _FITTED = 5, 3
"""How many layers a plan has by which it is told what its end does to it, and how often doses are fitted to that."""


Lab = tuple[float, float, float]


class Planning:
    """The work on one figure's plans; `run` may be left at any time, and there are plans after its first step."""

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

        Raises InputError (`no_spots`, `too_many_spots`, or what `draft_of` raises).
        """
        if not spots:
            raise InputError("no_spots", "There is no spot to plan for.", "Set at least one on the figure.", "spots")
        if len(spots) > LIMITS.spots:
            raise InputError(
                "too_many_spots", f"{len(spots)} spots are too many.", f"Use at most {LIMITS.spots}.", "spots"
            )
        self._laid_out, self._spots, self._areas = laid_out, spots, areas_of(spots)
        seen = np.array([spot.lab for spot in spots], dtype=float)
        self._aims, judged = laid_out.aims(seen), laid_out.judged(seen)
        self._at_hand = frozenset(laid_out.index(at_hand))
        dark = [laid_out.setup.one_shadow and spot.role in SHADOW_ROLES for spot in spots]
        self._shadows = np.array(dark, dtype=bool)
        self._finishing = Finishing(laid_out, self._areas, judged)
        scale = scale_of(laid_out.setup.medium)
        self._judged = Places(laid_out.box, scale, judged, hands_for(len(spots), JUDGING_HANDS, JUDGING_SEED))
        self._held = laid_of(kept)
        self._kept = draft_of(laid_out, self._held) if self._held else None
        self._curves = [self._curve_for(self._aims)]
        self._wider = self._curve_with(skin) if skin and not self._kept and not self._finishing.wanted else None
        self._fitted: list[tuple[Search, Draft]] = []

    def _curve_for(self, aims: Floats) -> Curve:
        """The search for layers that give these colours (m, 3) before anything ends them."""
        setup, box = self._laid_out.setup, self._laid_out.box
        passes = max(1, setup.max_passes - self._finishing.takes_a_pass)
        must = self._laid_out.index(setup.must_use)
        wishes = Wishes(setup.black, setup.reserve, must, setup.max_sticks, passes)
        frame = frame_for(box, self._laid_out.method, [spot.role for spot in self._spots], aims, wishes)
        scale = scale_of(setup.medium)
        locked = frozenset(self._kept.slots if self._kept else ())
        search = Search(box.coarse(), scale, aims, frame, self._areas.masks, self._at_hand, locked=locked)
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
        (first,) = self._curves
        yield from first.steps(most, _FEW + 1 if self._wider else FEWEST)
        if self._wider:
            yield from self._wider.steps(min(most, _FEW_FROM), shaken=(_FEW,))
        if self._finishing.wanted and first.best:
            # What the end does to the best plan tells which colours the layers beneath it must give.
            draft = first.best[min(first.best, key=lambda n: abs(n - _TYPICAL))][1]
            again = self._curve_for(self._before(draft))
            self._curves.append(again)
            yield from again.steps(most)
            for curve in self._curves:
                for _, draft in curve.best.values():
                    self._fitted += self._fitted_to_its_end(draft)
                    yield

    def _before(self, draft: Draft) -> Floats:
        """The colours (m, 3) that layers must give, if their end moves them as it does these."""
        return self._laid_out.aims(self._aims - self._finishing.moved_by(self._layers(draft)))

    def _fitted_to_its_end(self, draft: Draft) -> Iterator[tuple[Search, Draft]]:
        """The same layers, their doses chosen anew for what the end makes of them."""
        for _ in range(_FITTED):
            search = self._curve_for(self._before(draft)).search
            draft = search.polish(draft, 1)
            if not self._layers(draft):
                return
            yield search, draft

    def _found_wider(self) -> list[Draft]:
        """The plans of few layers that regard the rest of the skin, at the places alone."""
        found = [draft for _, draft in self._wider.best.values()] if self._wider else []
        return [replace(draft, doses=draft.doses[:, : len(self._spots)]) for draft in found if len(draft) <= _FEW]

    def plans(self) -> Plans:
        """The plans as they are now. Raises InputError (`nothing_to_lay`) if the rules allow none."""
        every: dict[int, list[Plan]] = {}
        wider: dict[int, Plan] = {}
        tried = [(curve.search, draft) for curve in self._curves for _, draft in curve.best.values()]
        cut = [(self._curves[0].search, draft) for draft in self._found_wider()]
        for search, draft in (*tried, *self._fitted, *cut):
            done = settled(search, draft)
            if self._shadows.any():
                done = shared(search, done, self._shadows) or done
            layers = self._layers(done)
            if layers and search.lawful(done) and self._shares_a_shadow(layers):
                plan = self._ended(done, layers)
                every.setdefault(len(plan.layers), []).append(plan)
                if any(draft is other for _, other in cut):
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
        return Plans(found, recommended(found), facts_of(self._laid_out.setup.medium).untried)

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
                f"No stick may lie over all shadows in “{self._laid_out.method.name}” with this tray.",
                "Do not ask for one stick in all shadows, or choose another method.",
                "one_shadow",
            )
        if self._laid_out.setup.must_use:
            codes = ", ".join(self._laid_out.setup.must_use)
            return InputError(
                "must_use_breaks_rules",
                f"No plan was found that keeps the rules of “{self._laid_out.method.name}” and holds {codes[:80]}.",
                "Do not ask for it here, choose another method, or allow more sticks.",
                "must_use",
            )
        return InputError(
            "nothing_to_lay",
            "Bare paper comes nearer to every spot than any layer that the rules allow.",
            "Choose another method or another rule for black, or add sticks.",
            "method",
        )

    def _layers(self, draft: Draft) -> tuple[Layer, ...]:
        return layers_of(self._laid_out, draft, self._areas, self._held)

    def _ended(self, draft: Draft, layers: tuple[Layer, ...]) -> Plan:
        if self._finishing.wanted:
            layers = self._finishing.ended(layers)
            return Plan(layers, expected_of(self._laid_out, layers, self._finishing.errors(layers, self._judged)))
        state = self._judged.start()
        for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
            state = self._judged.lay(state, slot, stick, doses)
        return Plan(layers, expected_of(self._laid_out, layers, self._judged.errors(state)))


def layers_of(laid_out: LaidOutTray, draft: Draft, areas: Areas, held: Sequence[Layer] = ()) -> tuple[Layer, ...]:
    """A draft's layers by name; one that lies nowhere is none. held: those of which the draft was made, which have the
    first slots; they stay what they are."""
    scale = scale_of(laid_out.setup.medium)
    layers = []
    for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
        if (doses == NONE).all():
            continue
        levels = tuple(None if dose == NONE else scale.doses[dose - 1] for dose in doses)
        code, most = laid_out.box.sticks[stick].code, scale.doses[int(doses.max()) - 1]
        layer = Layer(code, most, levels, areas.called(doses != NONE))
        if slot < len(held):
            layer = replace(layer, technique=held[slot].technique, id=held[slot].id)
        layers.append(layer)
    return tuple(layers)


def draft_of(laid_out: LaidOutTray, layers: Sequence[Layer]) -> Draft:
    """Layers that lay something down, as the search knows them. Raises InputError (`layer_without_its_stick`,
    `bad_dose`, `too_many_layers`)."""
    if len(layers) >= MOST_LAYERS:
        raise InputError(
            "too_many_layers", f"{len(layers)} layers are too many.", f"Use at most {MOST_LAYERS - 1}.", "layers"
        )
    index = {stick.code: i for i, stick in enumerate(laid_out.box.sticks)}
    scale, rows = scale_of(laid_out.setup.medium), []
    for number, layer in enumerate(layers):
        if layer.stick not in index:
            raise _without_its_stick(number, layer)
        try:
            rows.append([scale.index(dose) for dose in layer.levels])
        except ValueError as error:
            raise InputError(
                "bad_dose",
                f"Layer {number + 1} is laid in a way that this medium does not know.",
                f"Use {', '.join(sorted({dose.pressure for dose in scale.doses}))}, once to {MAX_REPEATS} times.",
                f"layers[{number}].levels",
            ) from error
    doses = np.array(rows, dtype=np.intp).reshape(len(layers), -1)
    return Draft(tuple(index[layer.stick] for layer in layers), tuple(range(len(layers))), doses)


def check_layers(laid_out: LaidOutTray, layers: Sequence[Layer]) -> None:
    """Raises InputError (`bad_technique`, `layer_without_its_stick`; field `layers[i]…`) for the first layer that
    cannot be made as it says, such as one that was changed by hand."""
    medium, codes = get_medium(laid_out.setup.medium), {stick.code for stick in laid_out.box.sticks}
    for number, layer in enumerate(layers):
        if layer.stick not in codes and layer.stick not in medium.tools:
            raise _without_its_stick(number, layer)
        fitting = medium.techniques if layer.stick in codes else medium.tools[layer.stick]
        if layer.technique not in fitting:
            raise InputError(
                "bad_technique",
                f"Layer {number + 1} cannot be done that way with {layer.stick[:40]}.",
                f"Use {', '.join(fitting)}. The layers are as they were.",
                f"layers[{number}].technique",
            )
        if layer.technique != "lay" and any(dose.flicked for dose in layer.levels if dose):
            raise InputError(
                "bad_technique",
                f"Layer {number + 1} cannot be flicked and worked in at once.",
                "Lay it, or do not flick it. The layers are as they were.",
                f"layers[{number}].technique",
            )


def _without_its_stick(number: int, layer: Layer) -> InputError:
    return InputError(
        "layer_without_its_stick",
        f"Layer {number + 1} needs {layer.stick[:40]}, which is not in the tray, or is banned.",
        "The layers are as they were: choose another stick for it, or allow this one.",
        f"layers[{number}].stick",
    )


def laid_of(layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """Those of the layers that lay something down."""
    return tuple(layer for layer in layers if layer.technique not in WORKED)


def expected_of(laid_out: LaidOutTray, layers: Sequence[Layer], errors: Floats) -> Expected:
    """What is to be expected of layers with these errors (h, m) under each hand, the steady one first."""
    planned, by_hand = float(errors[0].mean()), float(errors[1:].mean())
    by_code = {stick.code: stick for stick in laid_out.box.sticks}
    used = [by_code[layer.stick] for layer in layers if layer.stick in by_code]
    untried = sum(stick.fit == AS_DECLARED for stick in used) / max(1, len(used))
    off = facts_of(laid_out.setup.medium).untried * untried
    return Expected(round(planned, 2), round(by_hand, 2), round(float(np.hypot(by_hand, off)), 1))


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
