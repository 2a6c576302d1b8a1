"""python -m cli plan|predict|light|tray|card|read-card|convert …: JSON out.

Wrong input ends with status 2 and one line.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from dataclasses import asdict, fields, replace
from pathlib import Path
from typing import Any, NoReturn

import numpy as np

from cli.card import add_commands as add_cards
from cli.convert import add_command as add_convert
from cli.layers import MOST_FORECAST, Reference, count_of, foreseen, mapped, planned, recipes_of, save
from cli.light import add_commands as add_light
from cli.light import scene_of, spots_of
from cli.tray import add_commands
from core.colour.spaces import Floats
from core.colour.swatch import Swatch
from core.errors import CaltinError, InputError
from core.exchange.json_files import NamedSpot, read_passes, read_plan, read_spots
from core.exchange.method_toml import read_method
from core.exchange.tray_csv import read_tray
from core.layers.doses import LEAST_MM2, USUAL_DOSES
from core.light.sheet import SheetMasks
from core.look.picture import MAX_BYTES, read_picture
from core.look.reading import read_spot
from core.look.views import enlarged, scaled
from core.optics.medium import Layered
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.mapped import HEAD_MM, check_maps
from core.plan.setup import LaidOutTray, Setup, lay_out, lay_out_kit, usual_setup
from core.plan.solve import mix
from core.recipe.figure import Mixed, figure_plan
from core.recipe.forecast import Palette, forecast
from core.recipe.palette import choose_palette, pair_costs, weighed
from core.recipe.ramp import ramp
from core.recipe.recipe import Recipe
from core.recipe.why import why


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise InputError("usage", message[:1].upper() + message[1:] + ".", "See --help.")


def main(arguments: list[str]) -> int:
    """Runs one command; returns the exit status."""
    try:
        options = _parser().parse_args(arguments)
        answer = options.run(options)
    except CaltinError as error:
        print(f"caltin: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    json.dump(answer, sys.stdout, indent=None if options.json else 2, ensure_ascii=False)
    print()
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="caltin")
    commands = parser.add_subparsers(required=True, metavar="plan|predict|light|tray|card|read-card|convert")
    plan = commands.add_parser("plan", help="recipes for the spots of a reference")
    aim = plan.add_mutually_exclusive_group(required=True)
    aim.add_argument("--reference", metavar="FILE", help="JPEG, PNG, WebP, TIFF or HEIC")
    aim.add_argument("--scene", metavar="FILE.json", help="an imagined light instead of reference and spots")
    plan.add_argument("--spots", metavar="FILE.json", help="of the reference")
    plan.add_argument("--tray", required=True, metavar="FILE.csv")
    _add_choices(plan)
    plan.add_argument("--layers", metavar="N|auto", help="plan figures in so many layers, or in as many as pay")
    plan.add_argument("--maps", metavar="DIR", help="write a map of every layer, and the picture after it")
    plan.add_argument("--doses", type=int, default=USUAL_DOSES, metavar="N", help="of a map, besides none")
    plan.add_argument("--least-area", type=float, default=LEAST_MM2, metavar="MM2", help="the smallest of a map")
    plan.add_argument("--areas", choices=("drawn", "named"), default="drawn", help="of maps: as they serve, or by name")
    plan.add_argument("--head", type=float, default=HEAD_MM, metavar="MM", help="how high a head is on the sheet")
    plan.add_argument("--palette", type=int, default=0, metavar="N", help="add the best N sticks for these spots")
    plan.add_argument("--ramp", action="store_true", help="add each figure's sticks from dark to light")
    plan.add_argument("--forecast", metavar="OUT.png", help="write the skin as these recipes will make it")
    plan.add_argument("--json", action="store_true", help="on one line")
    plan.set_defaults(run=_plan)
    predict = commands.add_parser("predict", help="the colour after each pass")
    predict.add_argument("--medium", default="pencil")
    predict.add_argument("--paper", metavar="ID", help="the medium's usual one, if not given")
    predict.add_argument("--tray", required=True, metavar="FILE.csv")
    what = predict.add_mutually_exclusive_group(required=True)
    what.add_argument("--passes", metavar="FILE.json")
    what.add_argument("--plan", metavar="FILE.json", help="what plan --layers has written")
    predict.add_argument("--json", action="store_true", help="on one line")
    predict.set_defaults(run=_predict)
    add_commands(commands.add_parser("tray", help="lists of sticks"), _read)
    add_cards(commands, _read)
    add_light(commands, _read)
    add_convert(commands.add_parser("convert", help="a file in another format"), _read)
    return parser


_SHORT = {"max_sticks": "--sticks", "max_passes": "--passes", "banned": "--ban"}
"""Options that are called otherwise than the choice."""


def _add_choices(parser: argparse.ArgumentParser) -> None:
    """An option for every choice of a set-up; what is not given is as usual for the medium."""
    for field in fields(Setup):
        name = _SHORT.get(field.name, f"--{field.name.replace('_', '-')}")
        more: dict[str, Any] = {"dest": field.name, "help": field.metadata["says"]}
        if isinstance(field.default, bool):
            more |= {"action": "store_true", "default": None}
        elif isinstance(field.default, tuple):
            more |= {"action": "append", "metavar": "CODE"}
        elif isinstance(field.default, int):
            more |= {"type": int, "metavar": "N"}
        parser.add_argument(name, **more)
    parser.set_defaults(medium=Setup().medium)


def _read(name: str, field: str, most: int = 4_000_000) -> bytes:
    try:
        with Path(name).open("rb") as file:
            return file.read(most + 1)
    except OSError as error:
        raise InputError(
            "no_file", f"{name} cannot be read ({error.strerror}).", "Check the path.", f"--{field}"
        ) from error


def _tray(name: str) -> Tray:
    return read_tray(_read(name, "tray"), Path(name).stem)


def _plan(options: argparse.Namespace) -> dict[str, Any]:
    given = {field.name: getattr(options, field.name) for field in fields(Setup)}
    given = {name: tuple(held) if isinstance(held, list) else held for name, held in given.items() if held is not None}
    own = None
    if (given.get("method") or "").endswith(".toml"):
        own = read_method(_read(given["method"], "method"), "own")
        given["method"] = own.id
    setup = replace(usual_setup(options.medium), **given)
    check_maps(setup.medium, options.doses, options.least_area)
    tray = _tray(options.tray)
    if bool(options.reference) != bool(options.spots):
        raise InputError("usage", "--reference and --spots belong together.", "See --help.", "--spots")
    laid_out = lay_out(tray, setup, own_method=own)
    spots, readings, reference = _aims(options)
    picture = reference.picture
    seen = np.array([reading["lab"] for reading in readings])
    figures: dict[str, Any] = {}
    if options.layers:
        drawn = reference if options.maps or options.forecast else None
        chosen = planned(laid_out, spots, seen, count_of(options.layers), drawn)
        if drawn:
            chosen = mapped(laid_out, drawn, chosen, options)
        recipes = recipes_of(laid_out, spots, seen, chosen)
        figures = {"figures": [figure.said(laid_out) for figure in chosen]}
    else:
        recipes = mix(laid_out, seen, [spot.role for spot in spots])
    darkest, lightest = laid_out.reach()
    return (
        figures
        | {
            "setup": asdict(setup),
            "reference": {"width": picture.width, "height": picture.height, "profile": picture.profile},
            "reach": {"darkest_value": darkest, "lightest_value": lightest},
            "spots": [
                {
                    "name": spot.name,
                    "figure": spot.figure,
                    "place": spot.place,
                    "role": spot.role,
                    "reading": reading,
                    **_recipe(recipe, laid_out.kit),
                }
                for spot, reading, recipe in zip(spots, readings, recipes, strict=True)
            ],
        }
        | _extras(options, laid_out, reference, spots, seen, recipes)
    )


def _aims(options: argparse.Namespace) -> tuple[Sequence[NamedSpot], list[dict[str, Any]], Reference]:
    """The spots, what is read of each, and what they are on."""
    if options.scene:
        scene = scene_of(options.scene, _read)
        spots, labs, picture = spots_of(scene)
        return spots, [asdict(Swatch.of(lab)) for lab in labs], Reference(picture, SheetMasks(scene))
    read = read_spots(_read(options.spots, "spots"))
    picture = read_picture(_read(options.reference, "reference", MAX_BYTES))
    readings = [read_spot(picture, spot.disc) for spot in read]
    said = [asdict(one.swatch) | {"spread": one.spread, "pixels": one.pixels} for one in readings]
    return read, said, Reference(picture)


def _extras(
    options: argparse.Namespace,
    laid_out: LaidOutTray,
    reference: Reference,
    spots: Sequence[NamedSpot],
    seen: Floats,
    recipes: Sequence[Recipe],
) -> dict[str, Any]:
    """The palette, the ramps and the forecast that were asked for."""
    said: dict[str, Any] = {}
    figures = list(dict.fromkeys(spot.figure for spot in spots))
    if options.palette:
        sticks = laid_out.box.sticks
        if not 2 <= options.palette <= len(sticks):
            raise InputError(
                "bad_palette",
                f"A palette of {options.palette} is out of range.",
                f"Use 2 to {len(sticks)}.",
                "--palette",
            )
        aims = laid_out.aims(seen)
        pairs = pair_costs(laid_out.table, aims)
        best = weighed(pairs, choose_palette(laid_out.table, aims, options.palette, pairs=pairs))
        said["palette"] = {
            "sticks": [sticks[i].code for i in best.sticks],
            "mean_cost": round(best.cost, 3),
            "losses": list(best.losses),
        }
    if options.ramp:
        said["ramps"] = [
            {"figure": figure}
            | asdict(
                ramp(
                    laid_out.box,
                    figure_plan(
                        [
                            Mixed(spot.name, spot.place, spot.role, recipe)
                            for spot, recipe in zip(spots, recipes, strict=True)
                            if spot.figure == figure
                        ],
                        laid_out.kit,
                    ).sticks,
                )
            )
            for figure in figures
        ]
    if options.forecast and not options.layers:
        small = scaled(reference.picture, MOST_FORECAST)
        owners = reference.studied(len(figures)).coloured
        results = np.array([recipe.result.lab for recipe in recipes])
        mine = [np.array([spot.figure == figure for spot in spots]) for figure in figures]
        palettes = [Palette(seen[own], results[own]) for own in mine]
        save(forecast(small, enlarged(owners, small), palettes), options.forecast, "--forecast")
        said["forecast"] = options.forecast
    return said


def _recipe(recipe: Recipe, kit: Layered) -> dict[str, Any]:
    return {
        "target": asdict(recipe.target),
        "why": why(recipe, kit),
        "recipe": [
            asdict(step.pass_) | {"effect": step.effect, "after": asdict(step.after), "tooth_left": step.tooth_left}
            for step in recipe.steps
        ],
        "prediction": asdict(recipe.result),
        "delta_e": recipe.delta_e,
        "delta_v": recipe.delta_v,
        "tolerance": recipe.tolerance,
        "cautions": [asdict(caution) for caution in recipe.cautions],
    }


def _predict(options: argparse.Namespace) -> dict[str, Any]:
    usual = usual_setup(options.medium)
    kit = lay_out_kit(_tray(options.tray), replace(usual, paper=options.paper or usual.paper))
    if options.plan:
        return {"spots": foreseen(kit, read_plan(_read(options.plan, "plan")))}
    passes = read_passes(_read(options.passes, "passes"))
    seen = [asdict(Swatch.of(lab)) for lab in colours_after(kit, passes)]
    return {"paper": seen[0], "passes": [asdict(p) | {"after": s} for p, s in zip(passes, seen[1:], strict=True)]}


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
