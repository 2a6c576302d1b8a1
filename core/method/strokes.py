"""How the hand moves for a layer: one verb, a few words, and what to do before and at its borders.

Common practice, no published source.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from core.look.roles import SHADOW_ROLES
from core.optics.media import get_medium

Kind = Literal["circles", "cross", "flick", "side", "even", "dab", "drag", "rub", "press", "lift"]
_SMALL = 2
"""Up to so many places a layer is drawn with the tip."""


@dataclass(frozen=True, slots=True)
class Stroke:
    """kind: what it looks like; words: the same as a verb with how; first: what to do before, empty for nothing; end:
    what to do at the borders."""

    kind: Kind
    words: str
    first: str
    end: str


def stroke_of(
    medium_id: str,
    technique: str,
    pressure: str,
    flicked: bool,
    roles: Collection[str],
    everywhere: bool,
    over_ink: bool = False,
) -> Stroke:
    """The stroke of a layer. medium_id: of its stick, or of what its tool works on; roles: of the places it lies on;
    everywhere: whether it lies on all of the figure; over_ink: whether fresh ink lies beneath."""
    end = _end(roles, everywhere)
    if technique == "burnish":
        return Stroke("press", "Press in small circles", "Blow off loose crumbs.", "Until no grain is left.")
    if technique == "smudge":
        return Stroke("rub", "Rub it together", "Wipe the stump clean.", end)
    if technique == "lift":
        return Stroke("lift", "Dab colour off", "Knead the putty clean.", end)
    lies = get_medium(medium_id).lies
    if lies == "ink":
        return _ink(technique, flicked, end, over_ink)
    if lies == "crumbs":
        if pressure == "heavy":
            return Stroke("drag", "Drag and press", "", end)
        return Stroke("side", "Drag its side", "", end)
    if lies == "paste":
        return Stroke(*(("drag", "Drag and press") if pressure == "heavy" else ("dab", "Dab side by side")), "", end)
    if lies == "body":
        return Stroke("dab", "Dab it on thickly", "Shake it first.", end)
    return _pencil(pressure, len(roles), end)


def _ink(technique: str, flicked: bool, end: str, over_ink: bool) -> Stroke:
    dry = "Let what lies there dry." if over_ink else ""
    if technique == "wet":
        return Stroke("even", "Work it in wet", "At once, while the last coat is wet.", end)
    if flicked:
        return Stroke("flick", "Flick outward, lifting the tip", dry, "Leave half of the paper, or of the coat, free.")
    return Stroke("even", "Even strokes, edge to wet edge", dry, end)


def _pencil(pressure: str, places: int, end: str) -> Stroke:
    if places <= _SMALL:
        return Stroke("flick", "Short strokes with the tip", "Sharpen.", end)
    if pressure == "light":
        return Stroke("side", "The side of the lead", "Leave it blunt.", end)
    if pressure == "medium":
        return Stroke("circles", "Small circles", "Sharpen.", end)
    return Stroke("cross", "Cross the strokes, then press", "Sharpen.", end)


def _end(roles: Collection[str], everywhere: bool) -> str:
    if everywhere:
        return "Over all of the skin, in one go."
    shade = sum(role in SHADOW_ROLES for role in roles)
    if roles and shade == len(roles):
        return "Ease the hand where the light begins."
    if not shade:
        return "Ease the hand where the shade begins."
    return "Ease the hand at its edges, so that it joins what lies beside it."
