"""Plans in layers on the command line: what `plan --layers` says, and what `predict --plan` makes of it."""

from __future__ import annotations

import argparse
import contextlib
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.colour.swatch import Swatch
from core.errors import InputError
from core.exchange.json_files import FileLayer, NamedSpot
from core.layers.curve import MOST
from core.layers.even import evenly
from core.layers.fields import Fields, Maps
from core.layers.natural import Spot
from core.layers.plan import Plan, Plans
from core.look.picture import Picture
from core.look.reading import Disc
from core.look.study import WORKING_SIZE, Known, Person, Study, study
from core.look.views import Pixels, as_it_is, faded, scaled
from core.optics.kit import Kit
from core.optics.medium import TOOLS
from core.optics.stack import colours_after
from core.plan.edited import Edited
from core.plan.layered import figures_of
from core.plan.mapped import (
    after_picture,
    enlarged_to,
    free_from,
    ground_of,
    head_scale,
    map_picture,
    maps_of,
    read_off,
    skin_colours,
    with_places,
)
from core.plan.named import named_areas
from core.plan.setup import LaidOutTray
from core.recipe.recipe import Asked, Recipe, made


@dataclass(frozen=True, slots=True, eq=False)
class Reference:
    """A picture, and what is known of it beforehand."""

    picture: Picture
    known: Known | None = None

    def studied(self, figures: int) -> Study:
        """What it shows of so many figures."""
        return study(scaled(self.picture, WORKING_SIZE), None, [Person() for _ in range(figures)], (), self.known)


MOST_FORECAST = 1800
"""Longer side of a forecast in pixels."""


def count_of(said: str) -> int:
    """How many layers were asked for, 0 for as many as are worth it. Raises InputError (`bad_layers`)."""
    if said == "auto":
        return 0
    if not said.isascii() or not said.isdigit() or not 1 <= int(said) <= 12:
        raise InputError("bad_layers", f"“{said[:20]}” is no number of layers.", "Use 1 to 12, or auto.", "--layers")
    return int(said)


@dataclass(frozen=True, slots=True)
class Chosen:
    """The plan of a figure, of those there are, and its places: numbers: of its spots; spots, discs: what they are to
    be, and where they are. maps: what is said of its maps, if it has any."""

    name: str
    plans: Plans
    plan: Plan
    numbers: tuple[int, ...]
    spots: tuple[Spot, ...]
    discs: tuple[Disc, ...]
    maps: dict[str, Any] | None = None

    def said(self, laid_out: LaidOutTray) -> dict[str, Any]:
        """The figure as JSON data."""
        about = {"figure": self.name} | _said(self.plans, self.plan, self.numbers, laid_out)
        return about if self.maps is None else about | {"maps": self.maps}


def planned(
    laid_out: LaidOutTray, spots: Sequence[NamedSpot], seen: Floats, count: int, reference: Reference | None = None
) -> list[Chosen]:
    """The plan of each figure.

    reference: whose skin is regarded besides the spots, if any is.
    """
    figures = list(dict.fromkeys(spot.figure for spot in spots))
    numbers = [tuple(i for i, spot in enumerate(spots) if spot.figure == figure) for figure in figures]
    rows = [tuple(_spot(spots[i], seen[i]) for i in held) for held in numbers]
    every = figures_of(laid_out, rows, count or MOST, _skins(reference, len(figures)) if reference else ())
    return [
        Chosen(figure, plans, plans.of(count or plans.recommended), held, its, tuple(spots[i].disc for i in held))
        for figure, held, its, plans in zip(figures, numbers, rows, every, strict=True)
    ]


def recipes_of(
    laid_out: LaidOutTray, spots: Sequence[NamedSpot], seen: Floats, figures: Sequence[Chosen]
) -> list[Recipe]:
    """The recipe of every spot, read off its figure's plan."""
    passes = {number: held.plan.passes_at(place) for held in figures for place, number in enumerate(held.numbers)}
    judged = laid_out.judged(seen)
    return made(laid_out.kit, [Asked(passes[i], judged[i], spot.role) for i, spot in enumerate(spots)])


def _skins(reference: Reference, figures: int) -> list[tuple[tuple[float, float, float], ...]]:
    """Of which colours the skin of each figure consists."""
    seen = reference.studied(figures)
    skins: list[tuple[tuple[float, float, float], ...]] = []
    for figure in range(figures):
        try:
            skins.append(skin_colours(ground_of(seen, figure, 1.0)))
        except InputError:
            skins.append(())
    return skins


def _spot(spot: NamedSpot, lab: Floats) -> Spot:
    lightness, a, b = (float(v) for v in lab)
    return Spot(spot.name, spot.place, spot.role, (lightness, a, b))


def _said(plans: Plans, plan: Plan, numbers: Sequence[int], laid_out: LaidOutTray) -> dict[str, Any]:
    names = TOOLS | {stick.code: stick.name for stick in laid_out.box.sticks}
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


def mapped(
    laid_out: LaidOutTray, reference: Reference, figures: Sequence[Chosen], options: argparse.Namespace
) -> list[Chosen]:
    """Maps of every layer and the pictures after them, written as files; the figures with what is said of their maps,
    their layers as those have them at the places."""
    seen = reference.studied(len(figures))
    large = scaled(reference.picture, MOST_FORECAST)
    forecast, said = faded(large), []
    for figure, held in enumerate(figures):
        free = free_from(held.spots, laid_out.setup.reserve)
        ground = ground_of(seen, figure, head_scale(seen, figure, options.head), free)
        places = list(zip(held.discs, held.spots, strict=True))
        ground = with_places(ground, places, options.least_area)
        roles = [spot.role for spot in held.spots]
        fields, steps = maps_of(laid_out, held.plan, ground, options.doses, options.least_area, roles)
        if options.areas == "named":
            labels = named_areas(seen, figure, ground).labels
            steps = evenly(fields, labels, options.doses, options.least_area)
        *_, maps = steps
        off = ciede2000(fields.ground.lab[fields.ground.mask], fields.after(maps))
        row: dict[str, Any] = {"mean": round(float(off.mean()), 2), "p90": round(float(np.percentile(off, 90)), 2)}
        row["doses"] = [[asdict(dose) for dose in doses] for doses in maps.doses]
        if options.maps:
            row["files"] = _write_maps(Path(options.maps), figure, fields, maps, as_it_is(seen.small))
        if options.forecast:
            forecast = after_picture(forecast, *enlarged_to(large, seen, figure, fields, maps), len(maps.levels))
        layers = read_off(held.plan.layers, maps, ground, places)
        said.append(replace(held, plan=Edited(laid_out, held.spots, layers).plan(), maps=row))
    if options.forecast:
        save(forecast, options.forecast, "--forecast")
    return said


def _write_maps(folder: Path, figure: int, fields: Fields, maps: Maps, base: Pixels) -> list[str]:
    names = []
    with contextlib.suppress(OSError):
        # What is in the way is said when the first picture is written.
        folder.mkdir(parents=True, exist_ok=True)
    for number in range(len(maps.levels)):
        for kind, pixels in (
            ("map", map_picture(fields.ground, maps, number)),
            ("after", after_picture(base, fields, maps, number + 1)),
        ):
            names.append(f"figure-{figure + 1}-layer-{number + 1}-{kind}.png")
            save(pixels, str(folder / names[-1]), "--maps")
    return names


def save(pixels: Pixels, name: str, field: str) -> None:
    """Writes a PNG. Raises InputError (`no_file`)."""
    try:
        Image.fromarray(pixels).save(name, "PNG")
    except (OSError, ValueError) as error:
        raise InputError("no_file", f"{name} cannot be written.", "Check the path.", field) from error
