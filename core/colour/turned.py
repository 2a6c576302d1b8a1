"""In which way one colour differs from another, in words."""

from __future__ import annotations

import numpy as np

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats, lab_to_lch

_TELLS_HUE, _GREY = 3.0, 8.0
"""From which length in a*b* a turn of hue is told, and from which chroma (assumed)."""
_YELLOWS = 75.0
"""Up to which hue angle, from red on, the way on is called more yellow, though it leads away from red."""
_TELLS_VALUE, _TELLS_CHROMA = 0.2, 4.0
_MUCH = 4.0
"""How many times that is much."""


def turned(before: Floats, after: Floats) -> tuple[float, str] | None:
    """How far a hue turns, as a length in a*b*, and to which side in a word; None if none could tell."""
    chroma = float(min(lab_to_lch(before)[1], lab_to_lch(after)[1]))
    if chroma < _GREY:
        return None
    turn = float((lab_to_lch(after)[2] - lab_to_lch(before)[2] + 180) % 360 - 180)
    length = abs(np.deg2rad(turn)) * chroma
    if length < _TELLS_HUE:
        return None
    if turn > 0 and 0 < float(lab_to_lch(before)[2]) < _YELLOWS:
        return length, "more yellow"
    along = np.deg2rad(float(lab_to_lch(before)[2]) + np.sign(turn) * 90)
    a, b = float(np.cos(along)), float(np.sin(along))
    if abs(a) > abs(b):
        return length, "redder" if a > 0 else "greener"
    return length, "more yellow" if b > 0 else "cooler"


SHIFTS = ("lighter", "darker", "stronger", "greyer", "warmer", "cooler")
"""In which ways a colour may be like another one, but a little …"""
_STEP_L, _STEP_C, _STEP_DEG = 4.0, 1.22, 9.0
_WARMEST_DEG = 55.0
"""The hue that others are warmer towards: orange, as painters say (common practice)."""


def shifted(lab: Floats, way: str) -> Floats:
    """CIELAB (3,) a visible step away: `lighter`, `darker`, `stronger`, `greyer`, `warmer` or `cooler`. Raises KeyError
    for another word."""
    lightness, chroma, hue = (float(part) for part in lab_to_lch(lab))
    apart = (_WARMEST_DEG - hue + 180) % 360 - 180
    turn = float(np.sign(apart) or 1.0) * min(_STEP_DEG, abs(apart)) if way == "warmer" else 0.0
    turn = -float(np.sign(apart) or 1.0) * _STEP_DEG if way == "cooler" else turn
    factor = {"stronger": _STEP_C, "greyer": 1 / _STEP_C}.get(way, 1.0)
    lift = {"lighter": _STEP_L, "darker": -_STEP_L, "stronger": 0.0, "greyer": 0.0, "warmer": 0.0, "cooler": 0.0}[way]
    h = np.deg2rad(hue + turn)
    c = chroma * factor
    return np.array([np.clip(lightness + lift, 0.0, 100.0), c * np.cos(h), c * np.sin(h)])


def compared(one: Floats, other: Floats) -> str:
    """What another colour is beside one, the largest difference first: `darker and a little redder`; empty if none
    could tell them apart in value, chroma or hue."""
    told = []
    value = float(lab_to_value(other) - lab_to_value(one))
    if abs(value) >= _TELLS_VALUE:
        told.append((abs(value) / _TELLS_VALUE, "lighter" if value > 0 else "darker"))
    chroma = float(lab_to_lch(other)[1] - lab_to_lch(one)[1])
    if abs(chroma) >= _TELLS_CHROMA:
        told.append((abs(chroma) / _TELLS_CHROMA, "stronger" if chroma > 0 else "greyer"))
    if turn := turned(one, other):
        told.append((turn[0] / _TELLS_HUE, turn[1]))
    words = [word if size >= _MUCH else f"a little {word}" for size, word in sorted(told, reverse=True)[:2]]
    return " and ".join(words)
