"""A plan followed from the bare paper to its end: what each layer does to the face, and what it would be without it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats, lab_to_lch
from core.colour.swatch import Swatch
from core.colour.turned import turned
from core.colour.words import closeness
from core.layers.doses import scale_of
from core.layers.forward import Places
from core.layers.frame import Flags
from core.layers.hands import hands_for
from core.layers.natural import Areas, Spot
from core.layers.plan import Layer
from core.look.roles import SHADOW_ROLES
from core.plan.drafted import untried_of
from core.plan.laying import WORKED, Laying
from core.plan.setup import LaidOutTray

_FEW_HANDS = (10.0, 90.0)
"""The percentiles of the hands between which a place is promised to end."""
_OF_THREE = 3.0**-0.5
"""The part of an uncertainty in ΔE that falls on one of three dimensions, if all are alike."""
_TELLS = 2.0
"""From which change of lightness or chroma on, of hue as a length in a*b*, and below which chroma hue is not named."""
_HOLES = (("light", ("highlight", "light")), ("half", ("middle", "half-shadow")), ("shade", SHADOW_ROLES))


@dataclass(frozen=True, slots=True)
class Hole:
    """One hole of the drill core: name: light, half or shade; place: its name; colours: sRGB hex on the bare paper and
    after each layer; thick: how much of each layer lies there, 1 for one heavy stroke."""

    name: str
    place: str
    colours: tuple[str, ...]
    thick: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Doing:
    """What one layer is for. why: what it does, a sentence; without: how the face ends without it, a sentence."""

    why: str
    without: str


@dataclass(frozen=True, slots=True)
class Ending:
    """Where a place ends, as a Munsell value. low, high: between what few hands fall short of or exceed, what is not
    known of untried sticks included; hex: the colour planned."""

    value: float
    low: float
    high: float
    hex: str


class Walk:
    """One figure's layers, one after the other. judge: its places under hands, the steady one first."""

    def __init__(self, laid_out: LaidOutTray, areas: Areas, layers: Sequence[Layer], judge: Places) -> None:
        self._laid_out, self._areas, self._judge = laid_out, areas, judge
        self._layers, self._laying = tuple(layers), Laying(laid_out)
        self._steady = Places(judge.box, judge.scale, judge.targets, hands_for(judge.count, 0))
        self._after = np.stack([self._labs(self._layers[:k]) for k in range(len(layers) + 1)])
        self._shade = np.array([spot.role in SHADOW_ROLES for spot in areas.spots], dtype=bool)

    def _labs(self, layers: Sequence[Layer]) -> Floats:
        if not layers:
            start = self._steady.start()
            return self._steady.labs(start).astype(float)
        return self._laying.labs(layers, self._steady)

    def endings(self) -> tuple[Ending, ...]:
        """Where each place ends."""
        count = self._judge.count
        labs = self._laying.labs(self._layers, self._judge).reshape(-1, count, 3)[1:]
        lightness = np.percentile(labs[..., 0], _FEW_HANDS, axis=0)
        unsure = untried_of(self._laid_out, self._layers) * _OF_THREE
        middle = self._after[-1, :, 0]
        low = middle - np.hypot(np.maximum(0.0, middle - lightness[0]), unsure)
        high = middle + np.hypot(np.maximum(0.0, lightness[1] - middle), unsure)
        values = [
            np.round(lab_to_value(np.stack([np.clip(row, 0, 100), 0 * row, 0 * row], axis=-1)), 2).tolist()
            for row in (middle, low, high)
        ]
        hexes = [swatch.hex for swatch in Swatch.of_all(self._after[-1])]
        return tuple(Ending(*row) for row in zip(*values, hexes, strict=True))

    def holes(self) -> tuple[Hole, ...]:
        """The drill core of the face, from its lights to its shade; a light that no place has is no hole."""
        found = []
        for name, roles in _HOLES:
            held = [i for i, spot in enumerate(self._areas.spots) if spot.role in roles]
            if name == "shade":
                held = [i for i in held if self._areas.spots[i].role != "half-shadow"]
            if held:
                held.sort(key=lambda i: self._areas.spots[i].lab[0])
                found.append(self._hole(name, held[len(held) // 2]))
        return tuple(found)

    def _hole(self, name: str, place: int) -> Hole:
        colours = tuple(swatch.hex for swatch in Swatch.of_all(self._after[:, place]))
        thick = tuple(round(self._thickness(layer, place), 2) for layer in self._layers)
        return Hole(name, _name(self._areas.spots[place]), colours, thick)

    def _thickness(self, layer: Layer, place: int) -> float:
        dose = layer.levels[place]
        if dose is None or layer.technique in WORKED:
            return 0.0
        scale = scale_of(self._laid_out.kit.medium_of(layer.stick) or self._laid_out.setup.medium)
        number = scale.index(dose)
        return float(scale.pressure[number] * scale.times[number])

    def doings(self) -> tuple[Doing, ...]:
        """What each layer is for, in their order."""
        return tuple(self._doing(number) for number in range(len(self._layers)))

    def _doing(self, number: int) -> Doing:
        layer = self._layers[number]
        where = np.array([level is not None for level in layer.levels], dtype=bool)
        if not where.any():
            return Doing("It lies nowhere yet.", "")
        before, after = self._after[number, where].mean(axis=0), self._after[number + 1, where].mean(axis=0)
        side = self._side(where)
        if layer.technique == "burnish":
            why = f"Presses the layers into the grain{side}: closer, deeper, smoother."
        elif layer.technique == "smudge":
            why = f"Rubs the layers together{side}, so that no grain is left between them."
        elif not any(level for row in self._layers[:number] for level in row.levels):
            why = f"Lays the first colour{side}, a {Swatch.of(after).words}; everything after it counts on that."
        else:
            moved = _moved(before, after)
            why = (
                f"{_capital(_listed(moved))}{side}." if moved else f"Closes the grain{side}; the colour hardly changes."
            )
        return Doing(why, self._without(number, where))

    def _without(self, number: int, where: Flags) -> str:
        rest = self._labs([layer for i, layer in enumerate(self._layers) if i != number])
        wanted = self._judge.targets
        off, held = (ciede2000(wanted, labs) for labs in (rest, self._after[-1]))
        if float(off[where].mean()) <= float(held[where].mean()) + 0.2:
            return "Without it the face ends as near: it could be left out."
        fault = _fault(wanted[where].mean(axis=0), rest[where].mean(axis=0))
        ends = f"ends too {fault}" if fault else "changes"
        return f"Without it this part {ends}: {closeness(float(off[where].mean()))}."

    def _side(self, where: Flags) -> str:
        shade, several = self._shade, np.count_nonzero(where) > 1
        if where.all():
            return " everywhere"
        if not several:
            return f" at {_name(self._areas.spots[int(np.flatnonzero(where)[0])])} alone"
        if (where & ~shade).sum() == 0:
            return ", only in the shade"
        if (where & shade).sum() == 0:
            return ", only in the light"
        return ""


def ends_of(
    laid_out: LaidOutTray, spots: Sequence[Spot], plans: Sequence[Sequence[Layer]]
) -> tuple[tuple[str, ...], ...]:
    """The colours, sRGB hex, that each of these plans gives at the places in a steady hand."""
    wanted = np.array([spot.lab for spot in spots], dtype=float).reshape(-1, 3)
    places = Places(laid_out.box, scale_of(laid_out.setup.medium), wanted, hands_for(len(spots), 0))
    laying = Laying(laid_out)
    return tuple(tuple(swatch.hex for swatch in Swatch.of_all(laying.labs(plan, places))) for plan in plans)


def _name(spot: Spot) -> str:
    return spot.name or spot.place


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _listed(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}" if words else ""


def _moved(before: Floats, after: Floats) -> list[str]:
    """What a change of colour does, in verbs, the largest first."""
    first, last = lab_to_lch(before), lab_to_lch(after)
    deeper, stronger = float(after[0] - before[0]), float(last[1] - first[1])
    found = []
    if abs(deeper) >= _TELLS:
        found.append((abs(deeper), "lightens it" if deeper > 0 else "deepens it"))
    if abs(stronger) >= _TELLS:
        found.append((abs(stronger), "brings out its colour" if stronger > 0 else "takes the heat out of the colour"))
    turn = turned(before, after)
    if turn:
        found.append((turn[0], f"makes it {turn[1]}"))
    return [words for _, words in sorted(found, reverse=True)[:2]]


def _fault(wanted: Floats, got: Floats) -> str:
    """In which way a colour misses another, in a word or two; empty if in none that could be named."""
    lightness = float(got[0] - wanted[0])
    chroma = float(lab_to_lch(got)[1] - lab_to_lch(wanted)[1])
    turn = turned(wanted, got)
    sizes = [(abs(lightness), "light" if lightness > 0 else "dark"), (abs(chroma), "strong" if chroma > 0 else "grey")]
    if turn:
        word = {"redder": "red", "greener": "green", "more yellow": "yellow", "cooler": "cool"}[turn[1]]
        sizes.append((turn[0], word))
    told = [word for size, word in sorted(sizes, reverse=True) if size >= _TELLS]
    return " and too ".join(told[:2])
