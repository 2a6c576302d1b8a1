"""Plans in layers on the command line: what `plan --layers` says, and what `predict --plan` makes of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from core.colour.spaces import Floats
from core.colour.swatch import Swatch
from core.errors import InputError
from core.exchange.json_files import FileLayer, NamedSpot
from core.layers.curve import MOST
from core.layers.natural import Spot
from core.layers.plan import Plan, Plans
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.plan.layered import figures_of
from core.plan.setup import LaidOutTray
from core.recipe.recipe import Recipe, work_out


def count_of(said: str) -> int:
    """How many layers were asked for, 0 for as many as are worth it. Raises InputError (`bad_layers`)."""
    if said == "auto":
        return 0
    if not said.isascii() or not said.isdigit() or not 1 <= int(said) <= 12:
        raise InputError("bad_layers", f"“{said[:20]}” is no number of layers.", "Use 1 to 12, or auto.", "--layers")
    return int(said)


def planned(
    laid_out: LaidOutTray, spots: Sequence[NamedSpot], seen: Floats, count: int
) -> tuple[list[Recipe], list[dict[str, Any]]]:
    """The recipe of every spot, read off its figure's plan, and what is said of the plans."""
    figures = list(dict.fromkeys(spot.figure for spot in spots))
    numbers = [[i for i, spot in enumerate(spots) if spot.figure == figure] for figure in figures]
    rows = [[_spot(spots[i], seen[i]) for i in held] for held in numbers]
    passes: dict[int, tuple[Pass, ...]] = {}
    said = []
    for figure, held, plans in zip(figures, numbers, figures_of(laid_out, rows, max(count, MOST)), strict=True):
        plan = plans.of(count or plans.recommended)
        passes |= {number: plan.passes_at(place) for place, number in enumerate(held)}
        said.append({"figure": figure} | _said(plans, plan, held, laid_out))
    judged = laid_out.judged(seen)
    return [work_out(laid_out.kit, passes[i], judged[i], spot.role) for i, spot in enumerate(spots)], said


def _spot(spot: NamedSpot, lab: Floats) -> Spot:
    lightness, a, b = (float(v) for v in lab)
    return Spot(spot.name, spot.place, spot.role, (lightness, a, b))


def _said(plans: Plans, plan: Plan, numbers: Sequence[int], laid_out: LaidOutTray) -> dict[str, Any]:
    names = {stick.code: stick.name for stick in laid_out.box.sticks}
    return {
        "recommended": plans.recommended,
        "untried": plans.untried,
        "curve": [{"layers": n} | asdict(each.expected) for n, each in plans.by_count.items()],
        "expected": asdict(plan.expected),
        "layers": [
            {
                "stick": layer.stick,
                "name": names[layer.stick],
                "technique": layer.technique,
                **asdict(layer.most),
                "area": layer.area,
                "levels": [
                    {"spot": numbers[place]} | asdict(dose)
                    for place, dose in enumerate(layer.levels)
                    if dose is not None
                ],
            }
            for layer in plan.layers
        ],
    }


def foreseen(kit: Kit, layers: Sequence[FileLayer]) -> list[dict[str, Any]]:
    """The colour of every spot of a plan after each of the layers over it."""
    spots = sorted({spot for layer in layers for spot in layer.levels})
    said = []
    for spot in spots:
        passes = [layer.levels[spot] for layer in layers if spot in layer.levels]
        after = [asdict(Swatch.of(lab)) for lab in np.asarray(colours_after(kit, passes))[1:]]
        figure = next(layer.figure for layer in layers if spot in layer.levels)
        rows = [asdict(pass_) | {"after": seen} for pass_, seen in zip(passes, after, strict=True)]
        said.append({"spot": spot, "figure": figure, "passes": rows})
    return said
