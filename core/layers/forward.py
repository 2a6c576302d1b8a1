"""What layers give at a few places under many hands at once: the model, in batches."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, xyz_to_lab
from core.layers.doses import MOST_STROKES, Scale
from core.layers.hands import Hands
from core.optics.medium import Box, Ground, Hand
from core.optics.spectra import COARSE_WEIGHTS, WEIGHTS
from core.recipe.cost import CHOOSING_K_L
from core.recipe.pool import forms_at

PLANNING_K_L = 0.7
"""Value before hue, and yet: a hand's slips move values most, and at the 0.5 of choosing nothing else would count."""
_WORSENS = 0.05
"""A place that is far off is worse than several that are a little off."""
_AT_ONCE = 4096
_KNOWN = 64
"""Of how many layers it is kept what hands make of them."""
_WEIGHTS32 = {len(weights): weights.astype(np.float32) for weights in (WEIGHTS, COARSE_WEIGHTS)}

Doses = NDArray[np.intp]


@dataclass(frozen=True, slots=True)
class State:
    """What lies at r rows: roots (r, …) and deposits (r,), as the box keeps them; see core.optics.medium.Box."""

    roots: NDArray[np.float32]
    filled: Floats

    def at(self, rows: NDArray[np.intp]) -> State:
        """Some of these rows."""
        return State(self.roots[rows], self.filled[rows])

    def times(self, count: int) -> State:
        """These rows so many times, one after the other."""
        return State(np.tile(self.roots, (count, *[1] * (self.roots.ndim - 1))), np.tile(self.filled, count))

    @staticmethod
    def joined(parts: list[State]) -> State:
        """The rows of several, one after the other."""
        return State(np.concatenate([part.roots for part in parts]), np.concatenate([part.filled for part in parts]))


@dataclass(frozen=True, slots=True, eq=False)
class _Made:
    """What hands make of the doses of a layer: at which rows, how hard, and how many strokes, most first."""

    on: NDArray[np.intp]
    pressure: Floats
    strokes: NDArray[np.intp]
    hand: Hand


def worsening(distance: Floats) -> Floats:
    """What a distance in ΔE00 costs."""
    return distance + _WORSENS * distance * distance


class Places:
    """Places with their targets (m, 3) in CIELAB, each under all hands: rows in the order of hands, then of places."""

    def __init__(self, box: Box, scale: Scale, targets: Floats, hands: Hands, bed: Ground | None = None) -> None:
        """bed: what another medium has left at each place, reflectance (m, 31) and tooth (m,); else bare paper."""
        self.box, self.scale, self.hands, self.bed = box, scale, hands, bed
        self.targets = np.asarray(targets, dtype=float).reshape(-1, 3)
        self.count, self.rows = len(self.targets), len(hands) * len(self.targets)
        self.place = np.tile(np.arange(self.count), len(hands))
        self._hand = np.repeat(np.arange(len(hands)), self.count)
        forms = forms_at(self.targets)
        forms[:, 0, 0] *= CHOOSING_K_L / PLANNING_K_L
        self._known: dict[tuple[int, bytes, int], _Made] = {}
        self._forms, self._origin = forms.astype(np.float32), self.targets.astype(np.float32)

    def start(self) -> State:
        """The bare paper at every row, or what another medium has left there."""
        if self.bed:
            return State(*self.box.over(self.bed.reflectance[self.place], self.bed.tooth[self.place]))
        roots, bare = self.box.blank()
        return State(np.repeat(roots, self.rows, axis=0), np.full(self.rows, float(bare)))

    def beginnings(self, most: int) -> list[tuple[State, NDArray[np.intp]]]:
        """What is there to begin with, in so many kinds at most: one row for each, and the places (indices) of it."""
        every = np.arange(self.count)
        begun = self.start().at(every)
        if not self.bed:
            return [(begun.at(every[:1]), every)]
        lightness = self.labs(begun)[:, 0]
        edges = np.unique(np.quantile(lightness, np.linspace(0, 1, most + 1)[1:-1]))
        kinds = np.searchsorted(edges, lightness, side="right")
        found = [np.flatnonzero(kinds == kind) for kind in np.unique(kinds)]
        return [
            (State(begun.roots[its].mean(axis=0, keepdims=True), begun.filled[its].mean(keepdims=True)), its)
            for its in found
        ]

    def lay(
        self, state: State, slot: int, stick: int, doses: Doses, technique: str = "lay", before: Doses | int = 0
    ) -> State:
        """The state after one layer. doses: one for each place (m,), or for each row of k times all rows (k · rows,).

        slot: which column of the hands' is the layer's. before: how many coats of this stick lie there already, which
        ink remembers; one number, or one for each place (m,).
        """
        if not doses.any():
            return state
        made = self._made(slot, doses, len(state.filled) // self.rows)
        if isinstance(before, np.ndarray):
            before = before[self.place[made.on % self.rows]]
        roots, filled = state.roots.take(made.on, axis=0), state.filled.take(made.on)
        roots, filled = self.box.strokes(
            roots, filled, stick, made.pressure, made.strokes, technique, hand=made.hand, before=before
        )
        laid = State(state.roots.copy(), state.filled.copy())
        laid.roots[made.on], laid.filled[made.on] = roots, filled
        return laid

    def _made(self, slot: int, doses: Doses, times: int) -> _Made:
        """What the hands make of doses, for states of so many times all rows. A search asks for the same ones again and
        again."""
        key = slot, doses.tobytes(), times
        made = self._known.get(key)
        if made is None:
            by_row = np.tile(doses[self.place], times) if len(doses) == self.count else doses
            on = np.flatnonzero(by_row)
            row, dose = on % self.rows, by_row[on]
            hand = self._hand[row]
            strokes = np.maximum(self.scale.times[dose] + self.hands.slips[hand, slot, self.place[row]], 1)
            # Rows with more strokes first, as boxes would sort them otherwise.
            order = np.argsort(-strokes, kind="stable")
            hand = hand[order]
            made = _Made(
                on[order], self.scale.pressure[dose[order]], strokes[order],
                Hand(self.hands.film[hand, slot], self.hands.cover[hand, slot]),
            )  # fmt: skip
            if len(self._known) >= _KNOWN:
                self._known.clear()
            self._known[key] = made
        return made

    def each_dose(self, state: State, slot: int, stick: int) -> State:
        """The states (D + 1) · rows after every dose of a layer, none first, at every row."""
        slips = self.hands.slips[self._hand, slot, self.place]
        pressures = np.unique(self.scale.pressure[1:])
        times, places = len(pressures), np.arange(self.rows)
        hand = Hand(*(np.tile(part[self._hand, slot], times) for part in (self.hands.film, self.hands.cover)))
        # Strokes of one pressure are laid once and looked at after each.
        how_hard, once = np.repeat(pressures, self.rows), np.ones(times * self.rows, dtype=np.intp)
        after = [state.times(times)]
        for number in range(MOST_STROKES):
            laid = self.box.strokes(after[-1].roots, after[-1].filled, stick, how_hard, once, hand=hand, before=number)
            after.append(State(*laid))
        roots = np.stack([each.roots for each in after]).reshape(MOST_STROKES + 1, times, *state.roots.shape)
        filled = np.stack([each.filled for each in after]).reshape(MOST_STROKES + 1, times, -1)
        found = [state]
        for dose in range(1, len(self.scale.doses) + 1):
            pressure = int(np.searchsorted(pressures, self.scale.pressure[dose]))
            strokes = np.maximum(self.scale.times[dose] + slips, 1)
            found.append(State(roots[strokes, pressure, places], filled[strokes, pressure, places]))
        return State.joined(found)

    def hand_at(self, rows: NDArray[np.intp], slot: int) -> Hand:
        """The hands' of one layer, in columns, at some rows."""
        hand = self._hand[rows]
        return Hand(self.hands.film[hand, slot][:, None], self.hands.cover[hand, slot][:, None])

    def labs(self, state: State) -> NDArray[np.float32]:
        """CIELAB (rows, 3)."""
        seen = self.box.seen(state.roots).astype(np.float32, copy=False)
        return np.asarray(xyz_to_lab(seen @ _WEIGHTS32[seen.shape[1]]))

    def costs(self, state: State) -> Floats:
        """(k, m): what every place costs in the mean of the hands, for states of k times all rows.

        The distance is CIEDE2000 with its weights frozen at the target: a tenth of the time, and near enough to choose.
        """
        off = self.labs(state).reshape(-1, self.count, 3) - self._origin
        moved = np.matmul(off.transpose(1, 0, 2), self._forms)
        distance = np.sqrt(np.square(moved).sum(axis=2)).T.reshape(-1, len(self.hands), self.count)
        return np.asarray(worsening(distance).mean(axis=1), dtype=float)

    def costs_of_labs(self, labs: NDArray[np.float32], places: Any = slice(None)) -> NDArray[np.float32]:
        """(m, n): what colours (n, 3) would cost at every place, or at these (indices)."""
        forms = self._forms[places]
        costs = np.empty((len(forms), len(labs)), dtype=np.float32)
        every = np.ascontiguousarray(forms.transpose(1, 0, 2)).reshape(3, -1)
        origin = np.einsum("mi,mij->mj", self._origin[places], forms).ravel()
        for i in range(0, len(labs), _AT_ONCE):
            off = labs[i : i + _AT_ONCE] @ every
            off -= origin
            off *= off
            distance = np.sqrt(off[:, 0::3] + off[:, 1::3] + off[:, 2::3])
            costs[:, i : i + _AT_ONCE] = worsening(distance).T
        return costs

    def errors(self, state: State) -> Floats:
        """(h, m): CIEDE2000 of every place under every hand, the steady one first."""
        labs = self.labs(state).reshape(len(self.hands), self.count, 3).astype(float)
        return ciede2000(self.targets, labs)

    def steady_filled(self, state: State) -> Floats:
        """(k, m): deposits under the steady hand, for states of k times all rows."""
        return np.asarray(state.filled.reshape(-1, len(self.hands), self.count)[:, 0])
