"""What usually holds at a place of face and figure, and whether a reading agrees."""

from __future__ import annotations

import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

from core.colour.spaces import lab_to_lch
from core.look.roles import PLACES
from core.skin.complexion import typology_angle
from core.skin.measured import place_offset

_RED_PLACES = ("knuckles", "elbow", "knee", "finger tip")
"""Red by practice; nobody measured them."""
_LIT_ROLES = ("highlight", "light")
_EVENLY_LIT = ("light", "middle")
_CLEARLY = 0.3
_TELLS = 1.0
"""The smallest difference in L*, a* or b* that is worth a word."""
_SPREADS = 2.5
"""By how many standard deviations of what people differ by a reading may be unusual without a word."""
_FEWEST_BESIDE = 2
_LIGHT_HUE_DEG = 4.0
"""What the hue of a reading changes by as the light does across a face (standard deviation, assumed)."""


@dataclass(frozen=True, slots=True)
class SeenSpot:
    """A spot of one figure with what was read there: CIELAB and Munsell value."""

    place: str
    role: str
    lab: tuple[float, float, float]
    value: float


@dataclass(frozen=True, slots=True)
class PlaceNote:
    """What usually holds at a place; empty for `other`. source: `measured` on people or `practice` of the trade."""

    text: str
    source: str


@cache
def notes() -> dict[str, PlaceNote]:
    """What holds at every place. Raises ValueError if the data names other places than PLACES."""
    rows = tomllib.loads(files("core.look").joinpath("data/places.toml").read_text("utf-8"))
    if set(rows) != set(PLACES):
        raise ValueError(f"places.toml and PLACES differ: {set(rows) ^ set(PLACES)}")
    return {place: PlaceNote(row["note"], row["source"]) for place, row in rows.items()}


def measured_note(place: str, angle_deg: float) -> str:
    """How a place differs from forehead and cheek at a depth (typology angle), with what people differ by; empty where
    nobody measured."""
    usual = place_offset(place, angle_deg)
    if usual is None:
        return ""
    lightness, a, b = (float(v) for v in usual.lab)
    differs = [
        f"{abs(value):.0f} {unit}{more if value > 0 else less}"
        for value, unit, more, less in (
            (lightness, "L* ", "lighter", "darker"), (a, "", "redder", "less red"), (b, "", "yellower", "less yellow"),
        )
        if abs(value) >= _TELLS
    ]  # fmt: skip
    said = ", ".join(differs) or "no different"
    spread = "/".join(f"{value:.0f}" for value in usual.spread)
    return f"{said} (± {spread} in L*, a*, b*; {usual.people} people)"


def doubt(spot: SeenSpot, others: Sequence[SeenSpot], lit_from_above: bool = True) -> str:
    """A gentle sentence if the reading contradicts what usually holds; empty if not.

    others: the figure's other spots. The rules are common practice of the trade (no published source), but for places
    that were measured on people.
    """
    for rule in (_eye_or_tooth, _lips, _nostril, _chin_shadow, _reflected, _iris, _role, _measured, _redder):
        said = rule(spot, others, lit_from_above)
        if said:
            return said
    return ""


def _mean_value(others: Sequence[SeenSpot], *places: str) -> float | None:
    found = [o.value for o in others if o.place in places]
    return float(np.mean(found)) if found else None


def _eye_or_tooth(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    if spot.place not in ("eye white", "teeth"):
        return ""
    lights = [o.value for o in others if o.role in _LIT_ROLES]
    if spot.value > 9.0 or (lights and spot.value > max(lights) + 0.5):
        usual = "an eye white usually is" if spot.place == "eye white" else "teeth usually are"
        return f"Lighter than {usual}: this may be a catchlight. Read beside it."
    return ""


def _lips(spot: SeenSpot, others: Sequence[SeenSpot], lit_from_above: bool) -> str:
    lower = _mean_value(others, "lower lip")
    if spot.place == "upper lip" and lit_from_above and lower is not None and spot.value > lower + _CLEARLY:
        return "Lighter than the lower lip, though light from above usually leaves it darker. Is the light from below?"
    return ""


def _nostril(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    beside = _mean_value(others, "nose side", "nose tip", "nose bridge")
    if spot.place == "nostril" and beside is not None and spot.value > beside:
        return "Lighter than the nose around it; a nostril is usually its darkest. Has the spot slipped to its rim?"
    return ""


def _chin_shadow(spot: SeenSpot, others: Sequence[SeenSpot], lit_from_above: bool) -> str:
    face = _mean_value(others, "chin", "cheek", "jaw")
    if spot.place == "under the chin" and lit_from_above and face is not None and spot.value > face + _CLEARLY:
        return "Lighter than the chin and cheeks, though it usually lies in the head's shadow."
    return ""


def _reflected(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    lights = [o.value for o in others if o.role in _LIT_ROLES]
    if spot.role == "reflected light" and lights and spot.value > min(lights):
        return "As light as the lights; reflected light stays darker than any of them."
    return ""


def _iris(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    white = _mean_value(others, "eye white")
    if spot.place == "iris" and white is not None and spot.value > white:
        return "Lighter than the eye white: this may be the catchlight."
    return ""


def _role(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    shadows = [o.value for o in others if o.role in ("shadow", "deep accent")]
    if spot.role in _LIT_ROLES and shadows and spot.value < min(shadows):
        return f"Called {spot.role}, but darker than every shadow of this figure."
    if spot.role == "deep accent" and others and spot.value > max(o.value for o in others):
        return "Called deep accent, but the lightest spot of this figure."
    return ""


def _measured(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    """Hue alone: how light and how strong a colour is depends on how the place is turned to the light."""
    even = [other for other in others if other.role in _EVENLY_LIT]
    if spot.role not in _EVENLY_LIT or len(even) < _FEWEST_BESIDE:
        return ""
    angle = typology_angle(np.mean([other.lab for other in even], axis=0))
    usual = place_offset(spot.place, angle)
    beside = [(np.array(o.lab), found) for o in even if (found := place_offset(o.place, angle))]
    if usual is None or len(beside) < _FEWEST_BESIDE:
        return ""
    expected = np.mean([lab - found.lab for lab, found in beside], axis=0) + usual.lab
    spread = np.hypot(usual.spread, np.mean([found.spread for _, found in beside], axis=0) / np.sqrt(len(beside)))
    _, chroma, hue = lab_to_lch(expected)
    across = np.array([-np.sin(np.radians(hue)), np.cos(np.radians(hue))])
    by_people = np.degrees(np.hypot(*(across * spread[1:])) / max(chroma, 1.0))
    off = (float(lab_to_lch(spot.lab)[2]) - float(hue) + 180) % 360 - 180
    within = _SPREADS * float(np.hypot(by_people, _LIGHT_HUE_DEG))
    if abs(off) <= within:
        return ""
    word = "Yellower" if off > 0 else "Redder"
    return (
        f"{word} than this place is on measured people beside the rest of this figure, by {abs(off):.0f}° of hue "
        f"(usual: within {within:.0f}°). Does another light fall on it?"
    )


def _redder(spot: SeenSpot, others: Sequence[SeenSpot], _: bool) -> str:
    if spot.place not in _RED_PLACES:
        return ""
    rest = [o.lab for o in others if o.place not in (*_RED_PLACES, "upper lip", "lower lip", "other")]
    if len(rest) < 3:
        return ""
    hue = float(lab_to_lch(spot.lab)[2])
    usual = float(lab_to_lch(np.mean(rest, axis=0))[2])
    if (hue - usual + 180) % 360 - 180 > 12:
        return "Yellower than the rest of the figure; blood usually makes this place redder."
    return ""
