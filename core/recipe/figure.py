"""A figure's skin as a painter thinks of it: its base, how light and shadow depart from it, and its undertones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from core.colour.temperature import temperature
from core.optics.medium import TOOLS, Layered
from core.recipe.recipe import Recipe
from core.recipe.why import undertones

_BASE_ROLES = ("middle", "light", "half-shadow")
_PARTS = (
    ("highlight", ("highlight",)),
    ("light", ("light",)),
    ("half-shadow", ("half-shadow",)),
    ("shadow", ("shadow", "deep accent")),
    ("reflected light", ("reflected light",)),
)
_FELT_DEG, _FELT_C, _FELT_V = 4.0, 4.0, 0.3


@dataclass(frozen=True, slots=True)
class Mixed:
    """A spot of the figure with its recipe."""

    spot: str
    place: str
    role: str
    recipe: Recipe


@dataclass(frozen=True, slots=True)
class Departure:
    """How one part of the light departs from the base. adds, drops: codes of sticks."""

    part: str
    spot: str
    words: str
    adds: tuple[str, ...]
    drops: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Undertone:
    """A stick that lies beneath and is meant to shine through."""

    spot: str
    place: str
    role: str
    stick: str
    hue: str


@dataclass(frozen=True, slots=True)
class FigurePlan:
    """base: id of the spot whose recipe is the base, empty if nothing is mixed. sticks: those of its ramp."""

    base: str
    departures: tuple[Departure, ...]
    undertones: tuple[Undertone, ...]
    sticks: tuple[str, ...]


def figure_plan(mixed: Sequence[Mixed], kit: Layered) -> FigurePlan:
    """The plan of one figure from its mixed spots."""
    laid = [row for row in mixed if row.recipe.steps]
    beneath = {id(row): undertones(row.recipe, kit) for row in laid}
    tones = [
        Undertone(row.spot, row.place, row.role, row.recipe.steps[i].pass_.stick, hue)
        for row in laid
        for i, hue in beneath[id(row)].items()
    ]
    sticks = dict.fromkeys(
        step.pass_.stick
        for row in laid
        for i, step in enumerate(row.recipe.steps)
        if i not in beneath[id(row)] and step.pass_.stick not in TOOLS
    )
    base = next((found for role in _BASE_ROLES if (found := _typical(laid, (role,)))), _typical(laid, ()))
    if base is None:
        return FigurePlan("", (), (), ())
    departures = [
        _departure(part, row, base)
        for part, roles in _PARTS
        if (row := _typical(laid, roles)) is not None and row is not base
    ]
    return FigurePlan(base.spot, tuple(departures), tuple(tones), tuple(sticks))


def _typical(rows: Sequence[Mixed], roles: Sequence[str]) -> Mixed | None:
    """The spot in the middle of these roles' values; of all spots if no roles are given."""
    fitting = sorted(
        (row for row in rows if not roles or row.role in roles), key=lambda row: (row.recipe.target.value, row.spot)
    )
    return fitting[len(fitting) // 2] if fitting else None


def _departure(part: str, row: Mixed, base: Mixed) -> Departure:
    here, there = row.recipe.result, base.recipe.result
    said = []
    steps = here.value - there.value
    if abs(steps) >= _FELT_V:
        said.append(f"{abs(steps):.1f} value steps {'lighter' if steps > 0 else 'darker'}")
    turned = float(temperature(here.lab, there.lab))
    if abs(turned) >= _FELT_DEG:
        said.append("warmer" if turned > 0 else "cooler")
    if abs(here.chroma - there.chroma) >= _FELT_C:
        said.append("stronger" if here.chroma > there.chroma else "calmer")
    mine, theirs = _sticks(row), _sticks(base)
    return Departure(
        part,
        row.spot,
        ", ".join(said) or "nearly the base itself",
        tuple(code for code in mine if code not in theirs),
        tuple(code for code in theirs if code not in mine),
    )


def _sticks(row: Mixed) -> tuple[str, ...]:
    return tuple(dict.fromkeys(step.pass_.stick for step in row.recipe.steps if step.pass_.stick not in TOOLS))
