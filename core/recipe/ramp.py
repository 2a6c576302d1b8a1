"""The ramp of a complexion: its sticks from dark to light, the gaps between them, and what would bridge these."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, lab_to_lch
from core.colour.swatch import Swatch
from core.colour.words import hue_word
from core.optics.medium import PRESSURES, Box, Pass
from core.optics.stack import colours_after
from core.optics.texture import surface

WIDE_VALUE, WIDE_HUE_DEG, COLOURED_C = 2.0, 35.0, 12.0
"""Neighbours farther apart than this do not blend (common practice, no published source)."""
HOT_C, HOT_ABOVE_L = 40.0, 45.0
_CALMED, _ENOUGH = 0.85, 0.70
"""A complement should take at least 15 % of the chroma, and best 30 %."""
_OPPOSITE_DEG = 45.0
_SKIN_HUES_DEG, _SKIN_C, _PALE_L, _DARK_L = (10.0, 95.0), 8.0, 88.0, 28.0


@dataclass(frozen=True, slots=True)
class Rung:
    """One stick, as it looks laid full on this paper. grain: as in Recipe."""

    stick: str
    name: str
    swatch: Swatch
    grain: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Bridge:
    """What would lie between two neighbours: one stick, or a mixed pass of both. owned: whether it is in the tray."""

    passes: tuple[Pass, ...]
    swatch: Swatch
    words: str


@dataclass(frozen=True, slots=True)
class Gap:
    """Between rung i and i + 1: steps of Munsell value, degrees of hue, chroma. words: empty if it blends."""

    value: float
    hue_deg: float
    chroma: float
    words: str
    bridge: Bridge | None


@dataclass(frozen=True, slots=True)
class Calming:
    """A hot stick and the complement that calms it; chroma before and after one middling pass of that."""

    stick: str
    complement: str
    before: float
    after: float
    words: str


@dataclass(frozen=True, slots=True)
class Ramp:
    """gaps: one fewer than rungs."""

    rungs: tuple[Rung, ...]
    gaps: tuple[Gap, ...]
    calmings: tuple[Calming, ...]


def ramp(box: Box, codes: Sequence[str]) -> Ramp:
    """The ramp of these sticks of a box. A bridge is looked for among all its sticks, else as a mixed pass."""
    laid = {stick.code: _laid(box, stick.code) for stick in box.sticks if not stick.colourless}
    names = {stick.code: stick.name for stick in box.sticks}
    on_it = [code for code in dict.fromkeys(codes) if code in laid and _is_skin(laid[code])]
    order = sorted(on_it, key=lambda code: (laid[code][0], code))
    rungs = [Rung(c, names[c], Swatch.of(laid[c]), surface(box, _full(box, c))) for c in order]
    gaps = [_gap(box, laid, names, one, other) for one, other in pairwise(order)]
    calmings = [calm for code in order if (calm := _calming(box, laid, names, code))]
    return Ramp(tuple(rungs), tuple(gaps), tuple(calmings))


def _is_skin(lab: Floats) -> bool:
    """Whether a stick is a step of skin rather than a cool note or a grey; the palest and the darkest always are."""
    lightness, chroma, hue_deg = (float(v) for v in lab_to_lch(lab))
    low, high = _SKIN_HUES_DEG
    return not _DARK_L < lightness < _PALE_L or (chroma >= _SKIN_C and low <= hue_deg <= high)


def _full(box: Box, code: str) -> tuple[Pass, ...]:
    heaviest = max(action.pressure for action in box.actions)
    return (Pass(code, PRESSURES[heaviest], 1),)


def _laid(box: Box, code: str) -> Floats:
    return np.asarray(colours_after(box, _full(box, code))[-1])


def _apart(one: Floats, other: Floats) -> tuple[float, float, float]:
    """Value steps, degrees of hue (0 where one is nearly grey) and chroma between two colours."""
    (_, c_1, h_1), (_, c_2, h_2) = lab_to_lch(np.array([one, other]))
    turned = abs((float(h_2 - h_1) + 180) % 360 - 180) if min(c_1, c_2) >= COLOURED_C else 0.0
    return abs(Swatch.of(other).value - Swatch.of(one).value), turned, abs(float(c_2 - c_1))


def _wide(apart: tuple[float, float, float]) -> bool:
    return apart[0] > WIDE_VALUE or apart[1] > WIDE_HUE_DEG


def _gap(box: Box, laid: dict[str, Floats], names: dict[str, str], one: str, other: str) -> Gap:
    apart = _apart(laid[one], laid[other])
    rounded = (round(apart[0], 2), round(apart[1], 1), round(apart[2], 1))
    if not _wide(apart):
        return Gap(*rounded, "", None)
    far = f"{apart[0]:.1f} value steps" if apart[0] > WIDE_VALUE else "far apart in hue"
    bridge = _bridge(box, laid, names, one, other)
    helped = f": {bridge.words}" if bridge else ", and nothing in this tray lies between."
    return Gap(*rounded, f"{names[one]} and {names[other]} are {far} and will not blend{helped}", bridge)


def _bridge(box: Box, laid: dict[str, Floats], names: dict[str, str], one: str, other: str) -> Bridge | None:
    def widest(lab: Floats) -> float:
        steps = [_apart(laid[one], lab), _apart(lab, laid[other])]
        return max(max(step[0] / WIDE_VALUE, step[1] / WIDE_HUE_DEG) for step in steps)

    whole = _apart(laid[one], laid[other])
    now = max(whole[0] / WIDE_VALUE, whole[1] / WIDE_HUE_DEG)
    middle = (laid[one] + laid[other]) / 2
    between = [
        (float(ciede2000(middle, lab)), code)
        for code, lab in laid.items()
        if code not in (one, other) and _is_skin(lab) and widest(lab) < 0.8 * now
    ]
    if between:
        code = min(between)[1]
        return Bridge(_full(box, code), Swatch.of(laid[code]), f"put {names[code]} between them.")
    mixed = []
    for under in sorted({action.pressure for action in box.actions}):
        for passes in ((_full(box, one)[0], _full(box, other)[0]), (_full(box, other)[0], _full(box, one)[0])):
            softer = replace(passes[1], pressure=PRESSURES[under])
            lab = np.asarray(colours_after(box, (passes[0], softer))[-1])
            mixed.append((widest(lab), under, (passes[0], softer), lab))
    best = min(mixed, key=lambda row: row[:2])
    if best[0] >= 0.9 * now:
        return None
    first, second = best[2]
    words = f"lay {names[first.stick]}, then {names[second.stick]} over it, {second.pressure}, where they meet."
    return Bridge(best[2], Swatch.of(best[3]), words)


def _calming(box: Box, laid: dict[str, Floats], names: dict[str, str], code: str) -> Calming | None:
    """The complement that comes nearest to taking 30 % of a hot colour's chroma, at the least cost in value."""
    lightness, chroma, hue_deg = (float(v) for v in lab_to_lch(laid[code]))
    if chroma < HOT_C or lightness < HOT_ABOVE_L:
        return None
    base, pressures = _full(box, code)[0], sorted({action.pressure for action in box.actions})
    best: tuple[float, str, str, float] | None = None
    for other, lab in laid.items():
        _, other_chroma, other_hue = (float(v) for v in lab_to_lch(lab))
        if other_chroma < COLOURED_C or abs((other_hue - hue_deg) % 360 - 180) > _OPPOSITE_DEG:
            continue
        for pressure in (PRESSURES[i] for i in pressures[:2]):
            after = np.asarray(colours_after(box, (base, Pass(other, pressure)))[-1])
            left = float(lab_to_lch(after)[1])
            cost = abs(float(after[0]) - lightness) / 10 + 10 * abs(left / chroma - _ENOUGH)
            if left < _CALMED * chroma and (best is None or (cost, other) < best[:2]):
                best = (cost, other, pressure, left)
    if best is None:
        return None
    _, other, pressure, left = best
    words = (
        f"{names[code]} is hot (chroma {chroma:.0f}): one {pressure} pass of {names[other]}, "
        f"{hue_word(float(lab_to_lch(laid[other])[2]))}, calms it to {left:.0f}."
    )
    return Calming(code, other, round(chroma, 1), round(left, 1), words)
