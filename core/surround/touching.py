"""What neighbours do to each other: where two areas melt together, how skin looks inside, what raises it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats, lab_to_lch
from core.recipe.context import AS_IT_IS, beside

_BAND = 0.012
"""How far from a border each side is looked at, in parts of the longer side."""
_SHORTEST, _LONG = 0.04, 0.12
"""Borders shorter than this are not spoken of; from this length on a neighbour sets how an area looks."""
_STEPS, _TURNED = 0.5, 9.0
"""Steps of value, and difference of a* and b*, within which two areas cannot be told apart (assumed)."""
_MELTS = 0.4
"""From which part of a border on two areas are said to melt together."""
_INDUCED = 0.2
"""Steps by which a tone seems to move away from a surround that is moved by one (assumed; direction: Chevreul 1839)."""
_FELT, _MOST_MOVED = 0.3, 2.5
"""Steps from which on a figure is worth raising, and by how many a surround is moved at most."""
_DARKEST, _LIGHTEST = 1.0, 9.0


@dataclass(frozen=True, slots=True)
class Area:
    """An area of the picture. name: what it is called; skin: whether it is a figure's; off: steps of value by which the
    skin's lights will be too light (+) or too dark, 0 where nobody knows."""

    name: str
    skin: bool
    off: float = 0.0


@dataclass(frozen=True, slots=True)
class Border:
    """Two areas (numbers from 1) that touch. length: in parts of the longer side; steps: by which the first is lighter;
    apart: in a* and b*; melts: along which part of it they cannot be told apart; said: in a sentence where that is too
    much, else empty."""

    one: int
    other: int
    length: float
    steps: float
    apart: float
    melts: float
    said: str


@dataclass(frozen=True, slots=True)
class Looks:
    """How a figure looks beside a neighbour: see core.recipe.context."""

    skin: int
    neighbour: int
    said: str


def borders(lab: Floats, owner: NDArray[np.uint8], areas: Sequence[Area]) -> list[Border]:
    """Every two areas that touch, the longest border first. lab (h, w, 3): as it will be; owner (h, w): 0 for none."""
    longest = max(owner.shape)
    reach = max(1, round(_BAND * longest))
    near = [_means(lab, owner == number, reach) for number in range(1, len(areas) + 1)]
    found = []
    for one in range(1, len(areas) + 1):
        around = ndimage.binary_dilation(owner == one, iterations=1)
        for other in range(one + 1, len(areas) + 1):
            where = around & (owner == other)
            length = float(where.sum() / longest)
            if length < _SHORTEST:
                continue
            first, second = near[one - 1][where], near[other - 1][where]
            steps = np.asarray(lab_to_value(first)) - np.asarray(lab_to_value(second))
            apart = np.hypot(*(first - second)[:, 1:].T)
            melts = float(((np.abs(steps) < _STEPS) & (apart < _TURNED)).mean())
            row = Border(
                one, other, round(length, 3), round(float(np.median(steps)), 2), round(float(np.median(apart)), 1),
                round(melts, 2), "",
            )  # fmt: skip
            found.append(_said(row, areas, first, second) if melts >= _MELTS else row)
    return sorted(found, key=lambda row: -row.length)


def _means(lab: Floats, mask: NDArray[np.bool_], reach: int) -> Floats:
    """The mean colour (h, w, 3) of an area near each pixel, also a little outside of it."""
    weight = ndimage.uniform_filter(mask.astype(float), 2 * reach + 1)
    sums = [ndimage.uniform_filter(np.where(mask, lab[..., i], 0.0), 2 * reach + 1) for i in range(3)]
    return np.asarray(np.stack(sums, axis=-1) / np.maximum(weight, 1e-9)[..., None])


def _said(row: Border, areas: Sequence[Area], first: Floats, second: Floats) -> Border:
    one, other = areas[row.one - 1], areas[row.other - 1]
    # Skin stays what it is planned to be: its neighbour gives way.
    moving, still, sign = (one, other, 1.0) if not one.skin else (other, one, -1.0)
    much = "most" if row.melts > 0.75 else "more than half" if row.melts > 0.5 else "much"
    darker = sign * row.steps <= 0
    hues = [float(lab_to_lch(np.median(part, axis=0))[2]) for part in (first, second)]
    turned = (hues[0] - hues[1] + 180) % 360 - 180
    hue = "the same hue" if abs(turned) < 10 or row.apart < _TURNED / 2 else "hardly another hue"
    text = (
        f"{_capital(one.name)} and {other.name} melt into each other along {much} of their border: "
        f"{abs(row.steps):.1f} steps apart, and {hue}. Lay {moving.name} a step "
        f"{'darker' if darker else 'lighter'} where it meets {still.name}, or turn its hue."
    )
    return Border(row.one, row.other, row.length, row.steps, row.apart, row.melts, text)


def looks(lab: Floats, owner: NDArray[np.uint8], areas: Sequence[Area], rows: Sequence[Border]) -> list[Looks]:
    """What its neighbours make of each figure's skin in the eye."""
    found = []
    for row in rows:
        for skin, neighbour in ((row.one, row.other), (row.other, row.one)):
            if areas[skin - 1].skin and not areas[neighbour - 1].skin and row.length >= _LONG:
                colours = [np.median(lab[owner == number], axis=0) for number in (skin, neighbour)]
                seems = beside(*colours)
                if seems == AS_IT_IS:
                    continue
                said = f"{areas[skin - 1].name} beside {areas[neighbour - 1].name} {seems}."
                found.append(Looks(skin, neighbour, said))
    return found


def raised(lab: Floats, owner: NDArray[np.uint8], areas: Sequence[Area], rows: Sequence[Border]) -> list[Looks]:
    """Where a surround that is laid darker or lighter does for a figure's lights what more layers would not."""
    found = []
    for number, area in enumerate(areas, start=1):
        beside_it = [row for row in rows if number in (row.one, row.other)]
        others = [row.other if row.one == number else row.one for row in beside_it]
        near = [other for other in others if not areas[other - 1].skin]
        if not area.skin or abs(area.off) < _FELT or not near:
            continue
        neighbour = near[0]
        value = float(lab_to_value(np.median(lab[owner == neighbour], axis=0)))
        # Lights that are too dark are raised by a darker neighbour.
        room = value - _DARKEST if area.off < 0 else _LIGHTEST - value
        moved = min(abs(area.off) / _INDUCED, _MOST_MOVED, room)
        if moved < _STEPS:
            continue
        way, does = ("darker", "raises") if area.off < 0 else ("lighter", "lowers")
        wrong = "dark" if area.off < 0 else "light"
        name = areas[neighbour - 1].name
        said = (
            f"{area.name}: the lights will be {abs(area.off):.1f} steps too {wrong}. Before more layers: {name} some "
            f"{_halves(moved)} {way} beside them; that {does} them in the eye."
        )
        found.append(Looks(number, neighbour, said))
    return found


def _halves(steps: float) -> str:
    halves = max(1, round(2 * steps))
    return "half a step" if halves == 1 else f"{halves / 2:g} step{'' if halves == 2 else 's'}"


def _capital(name: str) -> str:
    return name[:1].upper() + name[1:]
