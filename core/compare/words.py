"""What a correction does, and what is left where none helps, in words."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from core.colour.spaces import Floats, lab_to_lch
from core.colour.temperature import temperature
from core.compare.judged import steps_in_words
from core.layers.natural import Spot

_FELT_L, _PLAINLY_L, _FELT_DEG, _FELT_C = 1.5, 6.0, 3.0, 1.5
"""What a correction must move to be called by it: lightness, lightness whatever else moves, hue, chroma."""
_WORKED_AGAIN = {
    "pencil": "Lift it with a putty rubber as far as it comes off, or touch it with opaque white.",
    "pastel": "Brush it off or lift it, then lay it anew.",
    "oil_pastel": "Scrape the top off with a blunt blade, then lay it anew.",
    "marker": "Leave it, or go over it in pencil.",
}
_DUST = (
    "Do not blow: dust of some pigments harms. Wipe it up damp, and keep to the maker's safety sheet and local rules."
)
_BLADE = "Scrape away from the hand that holds the sheet, and keep to the maker's safety sheet for what comes off."


def left_to_do(why: str, medium: str) -> tuple[str, str]:
    """What is left to do, and what to beware of in that."""
    rest = _WORKED_AGAIN.get(medium, "Leave it.")
    caution = {"pastel": _DUST, "oil_pastel": _BLADE}.get(medium, "")
    return {
        "burnished": (f"Already burnished: hardly anything holds there. {rest}", caution),
        "full": (f"The paper is full there. {rest}", caution),
        "lighter": (
            "Too dark, and nothing here covers it: lift it, touch it with white, or leave it.",
            caution,
        ),
        "no_stick": ("Nothing in this tray brings it nearer: leave it, or add what would.", ""),
    }[why]


_PARTS = (
    ("the lights", ("highlight", "light")),
    ("the middles", ("middle",)),
    ("the half-tones", ("half-shadow",)),
    ("the shade", ("half-shadow", "shadow", "deep accent", "reflected light")),
    ("the darks", ("shadow", "deep accent")),
)
_ALL_OF_THEM, _SOME = 0.75, 2


def _part(spots: Sequence[Spot]) -> str:
    """Which part of the skin these places are, in two words."""
    if len(spots) <= _SOME:
        return " and ".join(spot.name for spot in spots)
    for words, roles in _PARTS:
        if sum(spot.role in roles for spot in spots) >= _ALL_OF_THEM * len(spots):
            return words
    return "the skin"


def title_of(before: Floats, after: Floats, steps: float, spots: Sequence[Spot]) -> str:
    """What a layer does to its places, in words."""
    moved, part = after.mean(axis=0) - before.mean(axis=0), _part(spots)
    turned = float(np.mean(temperature(after, before)))
    chroma = float((lab_to_lch(after)[:, 1] - lab_to_lch(before)[:, 1]).mean())
    much = abs(moved[0]) >= min(_PLAINLY_L, 0.5 * max(abs(chroma), abs(turned)))
    if abs(moved[0]) >= _FELT_L and much:
        return f"{'Bring up' if moved[0] > 0 else 'Deepen'} {part}, {steps_in_words(steps)}"
    if abs(turned) >= _FELT_DEG and abs(turned) >= abs(chroma):
        if abs(moved[1]) > abs(moved[2]):
            # Red is cooler than orange, but nobody calls it so who takes up a red.
            return f"{'Redden' if moved[1] > 0 else 'Take red out of'} {part}"
        return f"{'Warm' if turned > 0 else 'Cool'} {part}"
    if abs(chroma) >= _FELT_C:
        return f"{'Strengthen' if chroma > 0 else 'Calm'} {part}"
    return f"Even out {part}"
