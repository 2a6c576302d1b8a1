"""What is worth knowing around the recipes: other answers, ramps, palettes, neighbours, and the drawing foreseen.

Nothing here is stored.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from PIL import Image

from core.bench import Bench, lay_out
from core.colour.spaces import SRGB
from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.look import views
from core.look.reading import Disc, read_spot
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.optics.texture import tooth_tile
from core.plan import replacement
from core.recipe.answers import answers
from core.recipe.context import beside
from core.recipe.figure import Mixed, figure_plan
from core.recipe.forecast import Palette, forecast
from core.recipe.palette import Pairs, choose_palette, gains, pair_costs, smallest_palette, weighed
from core.recipe.ramp import ramp
from core.recipe.recipe import Recipe, work_out
from server.materials import services as materials
from server.pieces.services import looking, recipes
from server.pieces.services.kept import Kept
from server.pieces.services.migrate import Document
from server.pieces.services.pictures import LONGEST_SHOWN, decoded, get_picture, small_of

WITHIN = (0.5, 1.0, 2.0, 3.0)
"""Choices of how much farther off a colour may be with fewer sticks."""
FEWEST, MOST = 2, 20
_MOST_FROM_RANGES = 100
_MID_GREY_L = 50.0

_forecasts: Kept[tuple[object, ...], bytes] = Kept(24)
Ranges = dict[str, tuple[str, Stick]]
"""Sticks of ranges by code, with the name of their range."""

_wide: Kept[tuple[object, ...], tuple[Bench, Pairs, Ranges]] = Kept(4)


def other_answers(user: User, document: Document, spot_id: str) -> list[dict[str, Any]]:
    """The answers for a spot, each with its passes and outcome. Raises InputError, NotFoundError (`no_spot`)."""
    found = recipes.prepared(user, {**document, "spots": [_unlocked(spot) for spot in document["spots"]]}, [spot_id])
    if not found.spots:
        raise NotFoundError("no_spot", "There is no such spot.", "Choose another.", "spot")
    bench, wanted = found.bench, found.wanted[0]
    used = {
        row["stick"]
        for spot in document["spots"]
        if spot["recipe"] and spot["id"] != spot_id
        for row in spot["recipe"]["passes"]
    }
    target = np.array(wanted.target)
    said = answers(bench.table, target, bench.setup.max_passes, bench.index(used), found.lists[0])
    rows = []
    for answer in said:
        passes = bench.table.stack(answer.found)
        outcome = recipes.as_json(work_out(bench.kit, passes, wanted.judged or wanted.target, wanted.role), bench.kit)
        rows.append({"kind": answer.kind, **_as_recipe(passes, outcome)})
    return rows


def _unlocked(spot: dict[str, Any]) -> dict[str, Any]:
    recipe = spot["recipe"]
    free = recipe and {**recipe, "passes": [{**row, "locked": False} for row in recipe["passes"]]}
    return {**spot, "locked": False, "recipe": free}


def figures(user: User, document: Document) -> dict[str, Any]:
    """Each figure's base, departures, undertones and ramp, and the stages of the method."""
    bench = recipes.bench_for(user, document)
    targets = recipes.targets_of(bench, document)
    rows = []
    for figure in document["figures"]:
        mixed = [
            Mixed(spot["id"], spot["place"], spot["role"], recipe)
            for spot in document["spots"]
            if spot["figure"] == figure["id"] and (recipe := _worked_out(bench, spot, targets))
        ]
        plan = figure_plan(mixed, bench.kit)
        rows.append({"id": figure["id"], **asdict(plan), "ramp": asdict(ramp(bench.box, plan.sticks))})
    return {"figures": rows, "stages": [list(stage) for stage in bench.method.stage_names()]}


def _worked_out(bench: Bench, spot: dict[str, Any], targets: dict[str, list[float]]) -> Recipe | None:
    if not spot["recipe"] or spot["id"] not in targets:
        return None
    try:
        passes = [recipes.pass_of(row) for row in spot["recipe"]["passes"]]
        return work_out(bench.kit, passes, targets[spot["id"]], spot["role"])
    except InputError:
        return None


def palette(user: User, document: Document, size: int | None, within: float | None) -> dict[str, Any]:
    """The best palette of a size, or the smallest within a tolerance; what each stick is worth; what to buy.

    Raises InputError (`nothing_to_mix`, `bad_palette`, or what the core raises).
    """
    bench, key = recipes.keyed_bench(user, document)
    _, seen = recipes.seen_colours(document)
    if not len(seen):
        raise InputError(
            "nothing_to_mix", "There is no spot to mix for yet.", "Put in a picture and mark spots first.", "spots"
        )
    setup, owned = bench.setup, bench.box.sticks
    if size is not None and not FEWEST <= size <= min(MOST, len(owned)):
        raise InputError(
            "bad_palette",
            f"A palette of {size} is out of range; the tray holds {len(owned)} that may be used.",
            f"Use {FEWEST} to {min(MOST, len(owned))}.",
            "size",
        )
    aims = bench.aims(seen)

    def widen() -> tuple[Bench, Pairs, Ranges]:
        more = _not_owned(document, user)
        made = _with_more(user, document, bench, more)
        return made, pair_costs(made.table, aims), more

    wide, pairs, more = _wide.get((key, aims.tobytes()), widen)
    mine = [i for i, stick in enumerate(wide.box.sticks) if stick.code not in more]
    own_pairs = pairs[:, mine][:, :, mine]
    held = [wide.box.sticks[i].code for i in mine]
    must = [held.index(code) for code in setup.kept if code in held]
    if size is not None:
        chosen = choose_palette(bench.table, aims, size, must, pairs=own_pairs)
    else:
        chosen = smallest_palette(bench.table, aims, within or WITHIN[1], must, pairs=own_pairs)
    best = weighed(own_pairs, chosen)
    buying = gains(pairs, [mine[i] for i in chosen])
    codes = [held[i] for i in best.sticks]
    return {
        "sticks": [{"code": code, "loss": loss} for code, loss in zip(codes, best.losses, strict=True)],
        "mean": round(best.cost, 2),
        "mean_of_all": round(float(own_pairs.min(axis=(1, 2)).mean()), 2),
        "buy": [
            _to_buy(wide.box.sticks[i], gain, more[wide.box.sticks[i].code])
            for i, gain in list(buying.items())
            if wide.box.sticks[i].code in more and gain > 0.01
        ][:3],
    }


def _not_owned(document: Document, user: User) -> Ranges:
    """Sticks of the ranges that are not in the tray."""
    medium = document["setup"]["medium"]
    held = {stick.code for stick in materials.as_core(materials.get_tray(user, document["tray"])).sticks}
    found: Ranges = {}
    for range_ in materials.ranges().values():
        for stick in range_.usable(medium):
            if stick.code not in held and not stick.colourless:
                found.setdefault(stick.code, (stick.range, stick))
    return dict(list(found.items())[:_MOST_FROM_RANGES])


def _with_more(user: User, document: Document, bench: Bench, more: Ranges) -> Bench:
    tray = materials.as_core(materials.get_tray(user, document["tray"]))
    wider = replace(tray, sticks=(*tray.sticks, *(stick for _, stick in more.values())))
    setup = replace(bench.setup, max_sticks=0, kept=())
    return lay_out(wider, setup, materials.own_paper(user, setup.paper))


def _to_buy(stick: Stick, gain: float, found: tuple[str, Stick]) -> dict[str, Any]:
    return {
        "code": stick.code,
        "name": stick.name,
        "range": found[0],
        "gain": round(gain, 2),
        "swatch": asdict(Swatch.of(stick.lab)),
    }


def missing(user: User, document: Document, code: str) -> dict[str, Any]:
    """The best mix in the place of a stick of the tray or of a range. Raises NotFoundError (`no_stick`)."""
    bench = recipes.bench_for(user, document)
    tray = materials.as_core(materials.get_tray(user, document["tray"]))
    everywhere = [*tray.sticks, *(s for range_ in materials.ranges().values() for s in range_.sticks)]
    stick = next((s for s in everywhere if s.code == code), None)
    if stick is None:
        raise NotFoundError("no_stick", "There is no such stick.", "Choose another.", "code")
    recipe = replacement(bench, stick)
    return _as_recipe([step.pass_ for step in recipe.steps], recipes.as_json(recipe, bench.kit))


def _as_recipe(passes: Sequence[Pass], outcome: dict[str, Any]) -> dict[str, Any]:
    return {"passes": [recipes.with_id(asdict(pass_) | {"locked": False}) for pass_ in passes], "outcome": outcome}


def context(user: User, document: Document, spot_id: str) -> list[dict[str, Any]]:
    """A spot's colour on paper white, on mid grey, and beside the surroundings of the piece, with a word on each."""
    spot = next((s for s in document["spots"] if s["id"] == spot_id and s["reading"]), None)
    if spot is None:
        raise NotFoundError("no_spot", "There is no such spot.", "Choose another.", "spot")
    outcome = (spot["recipe"] or {}).get("outcome") or {}
    own = (outcome.get("result") or spot["reading"]["swatch"])["lab"]
    paper = outcome["paper"]["lab"] if outcome.get("paper") else [96.0, 0.0, 1.5]
    around = [("paper", "on the bare paper", paper), ("grey", "on mid grey", [_MID_GREY_L, 0.0, 0.0])]
    if document["surroundings"]:
        pixels = decoded(get_picture(user, document["picture"]).digest)
        for place in document["surroundings"]:
            disc = Disc(place["x"], place["y"], place["radius"])
            around.append((place["id"], f"beside {place['name']}", list(read_spot(pixels, disc).swatch.lab)))
    own_swatch = asdict(Swatch.of(own))
    return [
        {"id": key, "name": name, "swatch": asdict(Swatch.of(lab)), "own": own_swatch, "words": beside(own, lab)}
        for key, name, lab in around
    ]


def foreseen(user: User, document: Document, stage: int | None, grained: bool, muted: bool, in_values: bool) -> bytes:
    """The reference in nothing but the recipes' colours, as JPEG; up to a stage of the method if one is named.

    Raises InputError (`nothing_mixed`, `bad_stage`).
    """
    bench = recipes.bench_for(user, document)
    stages = len(bench.method.stage_names())
    if stage is not None and not 0 <= stage < stages:
        raise InputError("bad_stage", f"There is no stage {stage}.", f"Use 0 to {stages - 1}.", "stage")
    known = recipes.refresh(user, document)
    laid = [
        [spot["id"], spot["figure"], (spot["recipe"] or {}).get("key")] for spot in known["spots"] if spot["recipe"]
    ]
    if not laid or not document["picture"]:
        raise InputError("nothing_mixed", "Nothing is mixed yet.", "Mix the spots first.", "spots")
    picture = get_picture(user, document["picture"])
    key = (picture.digest, looking.look_key(document), str(laid), bench.setup, stage, grained, muted, in_values)

    def draw() -> bytes:
        small = small_of(picture.digest, LONGEST_SHOWN)
        owners = views.enlarged(looking.study_of(picture, document).owners, small)
        palettes = [_palette(bench, known, figure["id"], stage) for figure in document["figures"]]
        tooth = tooth_tile(bench.box.support) if grained else None
        pixels = forecast(small, owners, palettes, muted, tooth, bench.box.support.tooth, stage is None)
        if in_values:
            pixels = np.repeat(views.values(views.Small(pixels, SRGB), views.MOST_STEPS)[..., :1], 3, axis=-1)
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, "JPEG", quality=90, subsampling=0)
        return out.getvalue()

    return _forecasts.get(key, draw)


def _palette(bench: Bench, document: Document, figure: str, stage: int | None) -> Palette | None:
    targets, results = [], []
    for spot in document["spots"]:
        if spot["figure"] != figure or not spot["reading"] or not spot["recipe"]:
            continue
        passes = [
            recipes.pass_of(row)
            for i, row in enumerate(spot["recipe"]["passes"])
            if stage is None or bench.method.stage(spot["role"], i) <= stage
        ]
        try:
            results.append(colours_after(bench.kit, passes)[-1])
        except InputError:
            continue
        targets.append(spot["reading"]["swatch"]["lab"])
    return Palette(np.array(targets), np.array(results)) if targets else None
