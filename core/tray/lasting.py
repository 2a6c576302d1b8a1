"""How long the sticks of a box last: what plans still ask of each, and which runs out first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from core.optics.medium import HOW_HARD, PRESSURES
from core.optics.stick import Kept, Stick

_CLOSES_CM2: Mapping[str, float] = {"pencil": 1500.0, "marker": 2500.0, "pastel": 3000.0, "oil_pastel": 2000.0}
_CLOSES_USUALLY = 2000.0
"""Square centimetres that a whole stick closes, laid once and heavy (assumption; a pencil: 10 µm of wax over them is a
good centimetre of lead a hundred square centimetres)."""
_LEFT: Mapping[str, float] = {"good": 1.0, "low": 0.25}
"""What is left of a stick in this condition, as a part of a new one (assumption)."""
_ENOUGH = 8.0
"""Of how many times what is asked for one need not be told."""


@dataclass(frozen=True, slots=True)
class Asked:
    """What a layer still asks of a stick. cm2: over how much paper; doses: how hard (a name) and how often at places
    spread over it, None where it does not lie."""

    code: str
    cm2: float
    doses: tuple[tuple[str, int] | None, ...]


@dataclass(frozen=True, slots=True)
class Lasts:
    """cm2: that plans still ask of a stick, as if closed once and heavy; times: how often what there is of it would do
    that; words: what that means."""

    code: str
    cm2: float
    times: float
    words: str


def closed_cm2(asked: Asked) -> float:
    """Square centimetres closed once and heavy that would use as much: by the mean over its places, as much of a stick
    stays on paper as it is pressed (core.optics.medium.HOW_HARD, an assumption)."""
    laid = [HOW_HARD[PRESSURES.index(dose[0])] * dose[1] if dose else 0.0 for dose in asked.doses]
    return asked.cm2 * sum(laid) / max(1, len(laid))


def lasting(sticks: Sequence[Stick], kept: Sequence[Kept], asked: Sequence[Asked]) -> list[Lasts]:
    """The sticks that plans ask for, those that run out first before the others; those that are not in the box, or used
    up, before all."""
    need: dict[str, float] = {}
    for one in asked:
        need[one.code] = need.get(one.code, 0.0) + closed_cm2(one)
    stock = {
        stick.code: known.count * _LEFT.get(stick.condition, 0.0) * _CLOSES_CM2.get(stick.medium, _CLOSES_USUALLY)
        for stick, known in zip(sticks, kept, strict=True)
    }
    found = []
    for code, cm2 in need.items():
        if code in stock and cm2 > 0:
            times = stock[code] / cm2
            found.append(Lasts(code, round(cm2, 1), round(times, 1), _words(times, stock[code])))
    return sorted(found, key=lambda row: row.times)


def _words(times: float, stock: float) -> str:
    if stock == 0:
        return "none left"
    if times < 1:
        return "not enough for what is planned"
    if times < 2:
        return "just enough for what is planned"
    return "enough" if times > _ENOUGH else f"enough for {times:.0f} times as much"
