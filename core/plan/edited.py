"""Layers as an artist has changed them: what is to be expected of them now, and what else could become of them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

import numpy as np

from core.errors import InputError
from core.layers.doses import NONE, scale_of
from core.layers.draft import Draft
from core.layers.forward import Places
from core.layers.hands import MOST_LAYERS, hands_for
from core.layers.natural import Spot, areas_of
from core.layers.plan import Expected, Layer, Plan
from core.layers.school import Wishes, frame_for
from core.layers.search import Search
from core.layers.settled import settled
from core.optics.medium import Ground
from core.plan.beneath import beneath_of, first_of_others
from core.plan.drafted import check_layers, draft_of, expected_of, layers_of, of_medium
from core.plan.finishing import Finishing
from core.plan.layered import JUDGING_HANDS, JUDGING_SEED
from core.plan.setup import LaidOutTray
from core.plan.walked import Walk

_MOST_OFFERS = 12


@dataclass(frozen=True, slots=True)
class Swap:
    """Another stick for a layer, and what is to be expected of the plan with it, its doses chosen anew."""

    stick: str
    layers: tuple[Layer, ...]
    expected: Expected


class Edited:
    """The layers of one figure as they are."""

    def __init__(
        self, laid_out: LaidOutTray, spots: Sequence[Spot], layers: Sequence[Layer], locked: Collection[str] = ()
    ) -> None:
        """locked: ids of layers that must stay as they are. Raises what `check_layers` and `draft_of` raise."""
        check_layers(laid_out, layers)
        self._laid_out, self._spots, self._areas = laid_out, spots, areas_of(spots)
        self._layers, self._laid = tuple(layers), of_medium(laid_out, layers)
        self._beneath = beneath_of(laid_out, first_of_others(laid_out, layers), len(spots))
        self._locked_ids = frozenset(locked)
        self._locked = frozenset(i for i, layer in enumerate(self._laid) if layer.id in locked)
        seen = np.array([spot.lab for spot in spots], dtype=float).reshape(-1, 3)
        self._aims, judged = laid_out.apart(seen), laid_out.judged(seen)
        self._finishing = Finishing(laid_out, self._areas, judged)
        scale = scale_of(laid_out.setup.medium)
        self._judged = Places(laid_out.box, scale, judged, hands_for(len(spots), JUDGING_HANDS, JUDGING_SEED))
        self._draft = draft_of(laid_out, self._laid)
        begun = (*self._beneath.layers, *self._laid)
        if len(begun) == len(layers):
            self._aimed = self._aims
        else:
            moved = self._finishing.moved(begun, tuple(layers))
            self._aimed = laid_out.aims(self._aims - moved)

    def _search(self, places: Sequence[int], locked: frozenset[int]) -> Search:
        laid_out, setup = self._laid_out, self._laid_out.setup
        aims, spots = self._aimed[list(places)], [self._spots[place] for place in places]
        bed, passes = self._beneath.bed, np.maximum(1, setup.max_passes - self._beneath.passes[list(places)])
        wishes = Wishes(setup.black, setup.reserve, (), 0, passes)
        frame = frame_for(laid_out.box, laid_out.method, [spot.role for spot in spots], aims, wishes)
        masks = self._areas.masks if len(spots) == len(self._spots) else np.zeros((0, len(spots)), dtype=bool)
        at_hand = frozenset(self._draft.sticks)
        if bed:
            bed = Ground(bed.reflectance[list(places)], bed.tooth[list(places)])
        scale = scale_of(setup.medium)
        return Search(laid_out.box.coarse(), scale, aims, frame, masks, at_hand, locked=locked, bed=bed)

    def _whole(self) -> Search:
        return self._search(range(len(self._spots)), self._locked)

    def plan(self) -> Plan:
        """The layers as they are, with what is to be expected of them and their areas in words."""
        return self._plan(self._draft)

    def _plan(self, draft: Draft) -> Plan:
        layers = self._with_ends(layers_of(self._laid_out, draft, self._areas, self._laid))
        return Plan(layers, expected_of(self._laid_out, layers, self._finishing.errors(layers, self._judged)))

    def _with_ends(self, laid: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """These layers with all others, tools and other media, where they were: before the first of those that came
        after them."""
        out = list(laid)
        for number, layer in enumerate(self._layers):
            if layer not in self._laid:
                later = {other.id for other in self._layers[number + 1 :]}
                at = next((i for i, other in enumerate(out) if other.id in later), len(out))
                out.insert(at, layer)
        return tuple(out)

    def areas(self) -> tuple[str, ...]:
        """Where each of the layers lies, in words, one that lies nowhere among them."""
        return tuple(
            self._areas.called(np.array([level is not None for level in layer.levels], dtype=bool))
            for layer in self._layers
        )

    def walked(self) -> Walk:
        """The layers one after the other."""
        return Walk(self._laid_out, self._areas, self._layers, self._judged)

    def keeps_the_rules(self) -> bool:
        """Whether the layers are as the method wants them."""
        return self._whole().lawful(self._draft)

    def fitted(self) -> Plan:
        """The same sticks in the same order, the doses of what is not locked chosen anew. Raises InputError
        (`all_locked`)."""
        search = self._whole()
        if not search.open(self._draft):
            raise _all_locked()
        wanted = np.array([spot.lab[0] for spot in self._spots])
        return self._plan(settled(search, search.polish(self._draft), wanted))

    def other_sticks(self, layer_id: str) -> list[Swap]:
        """What other sticks would make of the whole face in a layer, the best first. Raises InputError
        (`no_such_layer`, `all_locked`)."""
        below = [i for i, layer in enumerate(self._beneath.layers) if layer.id == layer_id]
        if below:
            return self._other_sticks_beneath(below[0])
        numbers = [i for i, layer in enumerate(self._laid) if layer.id == layer_id]
        if not numbers:
            raise InputError(
                "no_such_layer",
                "There is no such layer, or nothing lies in it.",
                "Choose one that lays something.",
                "layer",
            )
        number = numbers[0]
        if number in self._locked:
            raise _all_locked()
        search = self._whole()
        rest = self._draft.without(number)
        swaps = []
        for entry in search.entries(rest, range(number, number + 1)):
            if entry.stick == self._draft.sticks[number]:
                continue
            swapped = search.with_best_of(rest, [entry])
            if len(swapped) == len(self._draft) and swapped.doses[number].any():
                # It is still the same layer.
                slots = list(swapped.slots)
                slots[number] = self._draft.slots[number]
                plan = self._plan(replace(swapped, slots=tuple(slots)))
                swaps.append(Swap(self._laid_out.box.sticks[entry.stick].code, plan.layers, plan.expected))
            if len(swaps) == _MOST_OFFERS:
                break
        return sorted(swaps, key=lambda swap: (swap.expected.by_hand, swap.stick))

    def _other_sticks_beneath(self, number: int) -> list[Swap]:
        """The same layers with another stick of its medium in one that lies beneath."""
        if self._layers[number].id in self._locked_ids:
            raise _all_locked()
        medium = self._laid_out.kit.medium_of(self._layers[number].stick)
        used, tried = {layer.stick for layer in self._layers}, []
        for stick in self._laid_out.box_of(medium).sticks:
            if stick.code not in used and not stick.colourless:
                layers = list(self._layers)
                layers[number] = replace(layers[number], stick=stick.code)
                tried.append((self._finishing.steady_cost(tuple(layers)), stick.code, tuple(layers)))
        swaps = []
        for _, code, swapped in sorted(tried)[:_MOST_OFFERS]:
            expected = expected_of(self._laid_out, swapped, self._finishing.errors(swapped, self._judged))
            swaps.append(Swap(code, swapped, expected))
        return sorted(swaps, key=lambda swap: (swap.expected.by_hand, swap.stick))

    def with_accent(self, place: int) -> Plan:
        """With one layer more, over this place alone: what brings it nearest. Raises InputError (`no_better_accent`,
        `too_many_layers`)."""
        if len(self._draft) >= MOST_LAYERS - 2:
            raise InputError("too_many_layers", "There are too many layers.", "Take one away first.", "layers")
        alone = self._search([place], frozenset(self._draft.slots))
        here = replace(self._draft, doses=self._draft.doses[:, [place]])
        longer = alone.grown(here)
        if longer is None or alone.total(longer) >= alone.total(here) - 1e-6:
            raise InputError(
                "no_better_accent",
                "Nothing laid over this place alone brings it nearer.",
                "Change a layer that lies there, or its pressure.",
                "spot",
            )
        (at,) = (j for j, slot in enumerate(longer.slots) if slot not in self._draft.slots)
        doses = np.insert(self._draft.doses, at, NONE, axis=0)
        doses[at, place] = longer.doses[at, 0]
        return self._plan(replace(longer, doses=doses))


def _all_locked() -> InputError:
    return InputError("all_locked", "This is locked, so nothing was changed.", "Unlock it first.", "layers")
