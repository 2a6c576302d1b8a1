"""What layers give at every pixel of a picture, in whatever amounts: the model for maps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, xyz_to_lab
from core.layers.doses import HEAVY, NONE, Dose, Scale
from core.layers.forward import worsening
from core.optics.medium import MAX_REPEATS, Box, Laid, Pass
from core.optics.spectra import COARSE_WEIGHTS
from core.recipe.cost import CHOOSING_K_L
from core.recipe.pool import forms_at

_AT_ONCE = 2048
FORBIDDEN = 1e3
"""What breaking a rule costs."""
_TOLD_APART = 64
"""How many pressures from none to all are told apart where a picture is foreseen."""
_LIGHTEST, _HARD = 0.02, 0.75
"""Pressures below the first are none, and those above the second heavy."""
_LIES = 0.1
"""From this pressure on a layer counts as lying there: less is the fading edge of another place's."""
SURPLUS = 1.0
"""What it costs, in ΔE, that a layer lies where as many lie as are to, if that is no wish of the artist's: what must
not be at all keeps layers from being exchanged for each other, and leaves skin farther off than one too many on a few
of a hundred parts of it. Measured."""
_WEIGHTS32 = COARSE_WEIGHTS.astype(np.float32)

Amounts = NDArray[np.float32]
Flags = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class FieldLayer:
    """A layer as far as its field goes. box: of its medium, at every third band (`Box.coarse`), the same for layers
    that follow each other in one medium; scale: its doses. stick: index in the box. technique: how it is laid. hardest:
    pressure (index) that it may be laid with; everywhere: whether it must lie everywhere; out_of_lights: by how much L*
    it may be darker than the lights, 0 for any; in_lights: whether it may lie there at all. not_over: the layers
    (numbers) that it must not lie over; begins: whether it may lie first in the light, and in the shade; first_hardest:
    with which pressure (index) at most, if it lies first. before: how many coats of the stick lie there already, for
    ink. breathes: whether it may lie, once and lightly, where skin is kept free. planned: its dose at each place of the
    figure; held: the same if a hand has set it, so that it stays. end: what works on all that its medium has laid
    there; then it is no stick's layer.
    """

    box: Box
    scale: Scale
    stick: int
    hardest: int
    technique: str = "lay"
    everywhere: bool = False
    out_of_lights: float = 0.0
    in_lights: bool = True
    not_over: frozenset[int] = frozenset()
    begins: tuple[bool, bool] = (True, True)
    first_hardest: int = HEAVY
    before: int = 0
    breathes: bool = False
    planned: tuple[int, ...] = ()
    end: Pass | None = None
    held: tuple[int, ...] | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Skin:
    """Pixels of skin. labs (p, 3): CIELAB as seen; lights, shade, free (p,): whether they are among the lights, lie out
    of the light, and are kept free."""

    labs: NDArray[np.float32]
    lights: Flags
    shade: Flags
    free: Flags

    def __getitem__(self, which: Any) -> Skin:
        """Some of them."""
        return Skin(self.labs[which], self.lights[which], self.shade[which], self.free[which])

    @staticmethod
    def of(labs: NDArray[np.float32]) -> Skin:
        """Colours of which nothing else is known."""
        nowhere = np.zeros(len(labs), dtype=bool)
        return Skin(labs, nowhere, nowhere, nowhere)


@dataclass(slots=True)
class _Laid:
    """What lies at some pixels, as the box of the medium in hand keeps it. begun (p, …): the roots on which that medium
    began; masses (p,): what each of its layers has left, of which sticks."""

    roots: Any
    filled: Floats
    begun: Any
    masses: tuple[Floats, ...] = ()
    sticks: tuple[int, ...] = ()


class Pixels:
    """The layers of one figure. most: how many are to lie over each other, and surplus: what each
    more than that costs, in ΔE."""

    def __init__(self, layers: Sequence[FieldLayer], most: int = 0, surplus: float = FORBIDDEN) -> None:
        self.layers, self.most, self.surplus = tuple(layers), most or len(layers), surplus
        self.strokes = [strokes_of(layer.scale) for layer in self.layers]
        self._ends = np.array([layer.end is not None for layer in layers], dtype=bool)
        self._apart = np.array([[i in b.not_over or j in a.not_over for i, a in enumerate(layers)]
                                for j, b in enumerate(layers)], dtype=bool)  # fmt: skip
        self._begins = np.array([layer.begins for layer in layers], dtype=bool).reshape(len(layers), 2)
        self._pressed = np.array([not layer.end and layer.scale.hard.max() == HEAVY for layer in layers], dtype=bool)

    def amounts_of(self, doses: NDArray[np.intp]) -> Amounts:
        """(p, layers, strokes) of doses (p, layers)."""
        return np.stack([strokes[its] for strokes, its in zip(self.strokes, doses.T, strict=True)], axis=1)

    def seen(self, amounts: Amounts) -> Floats:
        """CIELAB (p, 3) of amounts (p, layers, strokes): worked out once for all that no hand could tell apart."""
        steps = np.rint(amounts * _TOLD_APART).astype(np.uint8).reshape(len(amounts), -1)
        names = steps @ np.random.default_rng(1).integers(1, 2**62, steps.shape[1], dtype=np.uint64)
        _, first, which = np.unique(names, return_index=True, return_inverse=True)
        each = steps[first].reshape(len(first), *amounts.shape[1:]).astype(np.float32) / np.float32(_TOLD_APART)
        return self._seen_each(each)[which]

    def _seen_each(self, amounts: Amounts) -> Floats:
        labs = []
        for i in range(0, len(amounts), _AT_ONCE):
            laid = self._start(len(amounts[i : i + _AT_ONCE]))
            for layer in range(amounts.shape[1]):
                laid = self._lay(self._found(laid, layer), layer, amounts[i : i + _AT_ONCE, layer])
            labs.append(self._labs(laid, amounts.shape[1]))
        return np.concatenate(labs) if labs else np.empty((0, 3))

    def _start(self, count: int) -> _Laid:
        roots, bare = self.layers[0].box.blank()
        begun = np.repeat(roots, count, axis=0)
        return _Laid(begun, np.full(count, float(bare)), begun)

    def _found(self, laid: _Laid, layer: int) -> _Laid:
        """What lies there as a layer finds it: in the terms of its own medium."""
        box, below = self.layers[layer].box, self.layers[max(0, layer - 1)].box
        if box is below:
            return laid
        begun, filled = box.over(*below.left(laid.roots, laid.filled))
        return _Laid(begun, filled, begun)

    def _lay(self, laid: _Laid, layer: int, amounts: Amounts) -> _Laid:
        """What lies there after one layer of amounts (p, strokes)."""
        roots, filled, held = laid.roots, laid.filled, self.layers[layer]
        if held.end:
            return self._worked(laid, layer, amounts[:, 0])
        for number, amount in enumerate(amounts.T, held.before):
            on = np.flatnonzero(amount > _LIGHTEST)
            if not len(on):
                continue
            once = np.ones(len(on), dtype=np.intp)
            if len(on) == len(amount):
                roots, filled = held.box.strokes(roots, filled, held.stick, amount, once, held.technique, before=number)
                continue
            some = held.box.strokes(roots[on], filled[on], held.stick, amount[on], once, held.technique, before=number)
            roots, filled = roots.copy(), filled.copy()
            roots[on], filled[on] = some
        return self._after(laid, roots, filled, held.stick)

    def _dosed(self, laid: _Laid, layer: int, dose: int) -> _Laid:
        """What lies there after one dose of a layer everywhere."""
        count, held = len(laid.filled), self.layers[layer]
        if held.end:
            return self._worked(laid, layer, np.full(count, float(dose != NONE), dtype=np.float32))
        if dose == NONE:
            return self._after(laid, laid.roots, laid.filled, held.stick)
        how_hard, times = np.full(count, held.scale.pressure[dose]), np.full(count, held.scale.times[dose])
        done = held.box.strokes(
            laid.roots, laid.filled, held.stick, how_hard, times, held.technique, before=held.before
        )
        return self._after(laid, *done, held.stick)

    def _after(self, laid: _Laid, roots: Any, filled: Floats, stick: int) -> _Laid:
        if not self._ends.any():
            return _Laid(roots, filled, laid.begun)
        return _Laid(roots, filled, laid.begun, (*laid.masses, filled - laid.filled), (*laid.sticks, stick))

    def _worked(self, laid: _Laid, layer: int, amount: NDArray[np.float32]) -> _Laid:
        """What lies there after all of it was worked, so far as each pixel (p,) is: 0–1."""
        on, held = np.flatnonzero(amount > _LIGHTEST), self.layers[layer]
        if not len(on) or not laid.masses:
            return laid
        assert held.end  # asked before
        masses, sticks = np.stack(laid.masses, axis=1)[on], np.array(laid.sticks, dtype=np.intp)
        all_there = Laid(laid.roots[on], laid.filled[on], laid.begun[on], masses, sticks)
        done, share = held.box.worked(all_there, held.end), amount[on]
        roots, filled = laid.roots.copy(), laid.filled.copy()
        roots[on] += share[:, None] * (done[0] - roots[on])
        filled[on] += share * (done[1] - filled[on])
        return _Laid(roots, filled, laid.begun, laid.masses, laid.sticks)

    def _labs(self, laid: _Laid, layers: int) -> NDArray[np.float32]:
        """CIELAB (p, 3) after so many layers."""
        box = self.layers[max(0, layers - 1)].box
        return np.asarray(xyz_to_lab(box.seen(laid.roots).astype(np.float32, copy=False) @ _WEIGHTS32))

    def costs(self, skin: Skin, amounts: Amounts, layer: int, doses: NDArray[np.intp]) -> NDArray[np.float32]:
        """(p, len(doses)): what each dose of a layer costs at pixels of skin, the other layers being as they are in
        amounts (p, layers, strokes)."""
        costs = np.empty((len(skin.labs), len(doses)), dtype=np.float32)
        forms = _forms(skin.labs)
        for i in range(0, len(skin.labs), _AT_ONCE):
            part = slice(i, i + _AT_ONCE)
            here = amounts[part]
            start = self._start(len(here))
            for below in range(layer):
                start = self._lay(self._found(start, below), below, here[:, below])
            start = self._found(start, layer)
            lies = (here > _LIES).any(axis=2) & ~self._ends
            lies[:, layer] = False
            later = (here[:, layer + 1 :][:, ~self._ends[layer + 1 :]] > _LIGHTEST).any(axis=(1, 2))
            heavy_below = (here[:, :layer][:, self._pressed[:layer]] > _HARD).any(axis=(1, 2))
            full = (lies.sum(axis=1) >= self.most) & (self.layers[layer].end is None)
            unfit, gap = self._unfit(lies, skin.shade[part], layer), self._gap(lies, skin.shade[part], layer)
            for column, dose in enumerate(doses):
                laid = self._dosed(start, layer, int(dose))
                for above in range(layer + 1, len(self.layers)):
                    laid = self._lay(self._found(laid, above), above, here[:, above])
                cost = _apart(self._labs(laid, len(self.layers)), skin.labs[part], forms[part])
                wrong = np.zeros(len(here), dtype=bool)
                if self._pressed[layer] and self.rising:
                    hard = self.layers[layer].scale.hard[dose] == HEAVY
                    wrong = (later & hard) | (heavy_below & (dose != NONE))
                wrong |= self.may_not(layer, skin[part], int(dose))
                wrong |= gap if dose == NONE else unfit
                if self.layers[layer].scale.hard[dose] > self.layers[layer].first_hardest:
                    wrong |= ~lies[:, :layer].any(axis=1)
                costs[part, column] = cost + FORBIDDEN * wrong + self.surplus * (full & (dose != NONE))
        return costs

    def _unfit(self, lies: Flags, shade: Flags, layer: int) -> Flags:
        """(p,): where a layer may not be laid because of those that lie there (p, layers), however many."""
        if self._ends[layer]:
            return np.zeros(len(lies), dtype=bool)
        first = ~lies[:, :layer].any(axis=1) & ~self._begins[layer][shade.astype(np.intp)]
        return np.asarray(first | lies[:, self._apart[layer]].any(axis=1))

    def _gap(self, lies: Flags, shade: Flags, layer: int) -> Flags:
        """(p,): where a layer may not be left out, because the next of those that lie there (p, layers) may not be the
        first."""
        above = lies[:, layer:]
        next_ = layer + above.argmax(axis=1)
        unfit = ~self._begins[next_, shade.astype(np.intp)]
        return np.asarray(above.any(axis=1) & ~lies[:, :layer].any(axis=1) & unfit)

    def stacked(self, skin: Skin, choices: Sequence[Amounts]) -> NDArray[np.float32]:
        """(stacks, p): what each stack costs in colour at pixels of skin, with one choice of amounts (k, p, strokes)
        of every layer: all of them, those of the last layer changing soonest."""
        costs = np.empty((math.prod(map(len, choices)), len(skin.labs)), dtype=np.float32)
        forms = _forms(skin.labs)
        for i in range(0, len(skin.labs), _AT_ONCE):
            part = slice(i, i + _AT_ONCE)
            laid = [self._start(len(skin.labs[part]))]
            for layer, its in enumerate(choices):
                found = [self._found(each, layer) for each in laid]
                laid = [self._lay(each, layer, amounts[part]) for each in found for amounts in its]
            for row, each in zip(costs, laid, strict=True):
                row[part] = _apart(self._labs(each, len(choices)), skin.labs[part], forms[part])
        return costs

    def breaking(self, doses: NDArray[np.intp], shade: Flags) -> Flags:
        """(…): whether, in doses (…, layers) on skin in the shade or not (…), something comes after heavy pressure
        although that is for the last, or lies first, over others or over too many, and may not."""
        lies = (doses != NONE) & ~self._ends
        wrong = np.asarray(lies.sum(axis=-1) > self.most)
        for a, b in np.argwhere(np.triu(self._apart)):
            wrong |= lies[..., a] & lies[..., b]
        first = lies.argmax(axis=-1)
        hard = np.stack(
            [layer.scale.hard[its] for layer, its in zip(self.layers, np.moveaxis(doses, -1, 0), strict=True)]
        )
        begun = np.take_along_axis(hard, first[None], axis=0)[0]
        too_hard = begun > np.array([layer.first_hardest for layer in self.layers])[first]
        wrong |= lies.any(axis=-1) & (~self._begins[first, shade.astype(np.intp)] | too_hard)
        if self.rising:
            later = np.zeros_like(wrong)
            for layer in reversed(range(len(self.layers))):
                wrong |= self._pressed[layer] & later & (self.layers[layer].scale.hard[doses[..., layer]] == HEAVY)
                later |= ~self._ends[layer] & (doses[..., layer] != NONE)
        return np.asarray(wrong)

    @property
    def rising(self) -> bool:
        """Whether heavy pressure is for where nothing comes after."""
        return any(layer.hardest < HEAVY for layer, is_ in zip(self.layers, self._pressed, strict=True) if is_)

    def may_not(self, layer: int, skin: Skin, dose: int) -> Flags:
        """(p,): where a dose of a layer breaks a rule, whatever else lies there."""
        held = self.layers[layer]
        if dose == NONE:
            return ~skin.free if held.everywhere else np.zeros(len(skin.labs), dtype=bool)
        wrong = skin.free if dose > 1 or not held.breathes else np.zeros(len(skin.labs), dtype=bool)
        if not held.in_lights:
            wrong = wrong | skin.lights
        if held.out_of_lights:
            wrong = wrong | (skin.lights & (skin.labs[:, 0] > held.box.sticks[held.stick].lab[0] + held.out_of_lights))
        return wrong

    def allowed(self, layer: int, free: bool = False) -> NDArray[np.intp]:
        """The doses (indices) that a layer may have. free: whether any skin is kept free."""
        held = self.layers[layer]
        fits = held.scale.hard <= held.hardest
        fits[NONE] = free or not held.everywhere
        return np.flatnonzero(fits)


def _forms(labs: NDArray[np.float32]) -> NDArray[np.float32]:
    """(p, 3, 3): as `forms_at`, with lightness counting as it is reported."""
    forms = forms_at(labs)
    forms[:, 0, 0] *= CHOOSING_K_L
    return forms.astype(np.float32)


def _apart(labs: NDArray[np.float32], wanted: NDArray[np.float32], forms: NDArray[np.float32]) -> NDArray[np.float32]:
    off = np.einsum("pi,pij->pj", labs - wanted, forms)
    return worsening(np.sqrt(np.einsum("pj,pj->p", off, off)))


def distances(labs: NDArray[np.float32], wanted: NDArray[np.float32]) -> NDArray[np.float32]:
    """(p,): what colours (p, 3) cost where others (p, 3) are wanted, CIELAB, as `Pixels.costs` counts it."""
    return _apart(labs, wanted, _forms(wanted))


def end_scale(dose: Dose) -> Scale:
    """The scale of what works on others: done, or not."""
    fixed = np.array([0, 1])
    return Scale((dose,), fixed.astype(float), fixed, np.array([-1, 0]), (1,), (1,), (1,))


def strokes_of(scale: Scale) -> Amounts:
    """(D + 1, strokes): how hard each stroke of every dose is."""
    return np.where(np.arange(MAX_REPEATS) < scale.times[:, None], scale.pressure[:, None], 0.0).astype(np.float32)
