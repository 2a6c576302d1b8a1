"""What layers leave at many places under many hands, whatever they are made with: several media, tools, ends."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats
from core.layers.doses import Dose, scale_of
from core.layers.forward import Places, State
from core.layers.hands import MOST_LAYERS
from core.layers.plan import Layer
from core.optics.media import get_medium
from core.optics.medium import Ground, Laid, Pass
from core.plan.setup import LaidOutTray

WORKED = ("burnish", "smudge")
"""What works on everything that its medium has laid at a place."""
ONCE = {"burnish": Dose("heavy", 1), "smudge": Dose("medium", 1), "wet": Dose("light", 1)}
"""How that is done."""
_KEEPS_THE_TOOTH = ("ink", "body")
"""What lies so leaves of the tooth a part of what it has found free."""

Layers = Sequence[Layer]


@dataclass(frozen=True, slots=True, eq=False)
class Lying:
    """What lies at many places. places: with the box of the medium on top; state: as that box keeps it; coats: of each
    of its sticks (indices) how many strokes lie at each place (m,); worked (m,): where something has worked on it."""

    places: Places
    state: State
    coats: dict[int, NDArray[np.intp]]
    worked: NDArray[np.bool_]


@dataclass(slots=True)
class _Medium:
    """Where the layers of one medium have come to. below: the roots on which they began; masses (rows,): what each of
    them has left, of which sticks; coats (sticks, m): how many strokes of each; tooth (rows,): what was free below."""

    places: Places
    below: State
    tooth: Floats
    masses: list[Floats] = field(default_factory=list)
    sticks: list[int] = field(default_factory=list)
    coats: dict[int, NDArray[np.intp]] = field(default_factory=dict)


class Laying:
    """A tray's layers over the places of one figure."""

    def __init__(self, laid_out: LaidOutTray) -> None:
        self._laid_out = laid_out

    def errors(self, layers: Layers, places: Places) -> Floats:
        """(h, m): CIEDE2000 of every place under every hand. places: with the usual medium's box; its hands count."""
        state, there = self._after(layers, places)
        return there.errors(state)

    def labs(self, layers: Layers, places: Places) -> Floats:
        """(rows, 3): CIELAB of every place under every hand."""
        state, there = self._after(layers, places)
        return there.labs(state).astype(float)

    def left(self, layers: Layers, places: Places) -> Ground:
        """What another medium finds at every row: reflectance (rows, 31) and free tooth (rows,)."""
        state, there = self._after(layers, places)
        return Ground(*there.box.left(state.roots, state.filled))

    def lying(self, layers: Layers, places: Places) -> Lying:
        """What the layers leave, to go on from."""
        state, there = self._after(layers, places)
        worked, coats = np.zeros(places.count, dtype=bool), dict[int, NDArray[np.intp]]()
        medium = there.box.sticks[0].medium
        for layer in layers:
            its = self._laid_out.kit.medium_of(layer.stick)
            if layer.technique in WORKED:
                worked |= np.array([level is not None for level in layer.levels], dtype=bool)
            elif its == medium:
                stick = self._laid_out.index([layer.stick], its)[0]
                times = [level.repeats if level else 0 for level in layer.levels]
                coats[stick] = coats.get(stick, np.zeros(places.count, dtype=np.intp)) + np.array(times, dtype=np.intp)
        return Lying(there, state, coats, worked)

    def _after(self, layers: Layers, places: Places) -> tuple[State, Places]:
        """What the layers leave at every row, and the places with the box that knows it."""
        laid_out, usual = self._laid_out, self._laid_out.setup.medium
        state, medium = places.start(), ""
        held = _Medium(places, state, np.ones(places.rows))
        for slot, layer in enumerate(layers):
            its = laid_out.kit.medium_of(layer.stick) or medium or usual
            if its != medium:
                there = places if its == usual else self._places_in(its, places)
                state, held = _over(held, state, there) if medium else _on_paper(there)
                medium = its
            slot = min(slot, MOST_LAYERS - 1)
            if layer.technique in WORKED:
                state = _worked(layer, slot, held, state)
                continue
            doses = np.array([held.places.scale.index(dose) for dose in layer.levels], dtype=np.intp)
            stick = laid_out.index([layer.stick], its)[0]
            before = held.coats.get(stick, np.zeros(places.count, dtype=np.intp))
            laid = held.places.lay(state, slot, stick, doses, layer.technique, before)
            held.coats[stick] = before + held.places.scale.times[doses]
            held.masses.append(laid.filled - state.filled)
            held.sticks.append(stick)
            state = laid
        return state, held.places

    def _places_in(self, medium: str, places: Places) -> Places:
        return Places(self._laid_out.box_of(medium), scale_of(medium), places.targets, places.hands)


def _on_paper(places: Places) -> tuple[State, _Medium]:
    state = places.start()
    return state, _Medium(places, state, np.ones(places.rows))


def _over(held: _Medium, state: State, places: Places) -> tuple[State, _Medium]:
    """The same rows as another medium finds them."""
    reflectance, tooth = held.places.box.left(state.roots, state.filled)
    medium = held.places.box.sticks[0].medium
    if get_medium(medium).lies in _KEEPS_THE_TOOTH:
        tooth = held.tooth * tooth
    begun = State(*places.box.over(reflectance, tooth))
    return begun, _Medium(places, begun, tooth)


def _worked(layer: Layer, slot: int, held: _Medium, state: State) -> State:
    """The state after what works on all that its medium has laid there."""
    places = held.places
    on = np.flatnonzero(np.array([level is not None for level in layer.levels])[places.place])
    if not len(on):
        return state
    dose = ONCE[layer.technique]
    masses, sticks = np.array(held.masses).reshape(-1, places.rows).T[on], np.array(held.sticks, dtype=np.intp)
    laid = Laid(state.roots[on], state.filled[on], held.below.roots[on], masses, sticks)
    pass_ = Pass(layer.stick, dose.pressure, dose.repeats, layer.technique)
    after = State(state.roots.copy(), state.filled.copy())
    after.roots[on], after.filled[on] = places.box.worked(laid, pass_, places.hand_at(on, slot))
    return after
