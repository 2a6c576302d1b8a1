"""Readings, recipes and the work sheet of a piece: everything that is worked out, never typed."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from core.bench import Bench, Setup, lay_out, narrowed
from core.colour.spaces import Floats
from core.colour.temperature import hue_spread, temperature, temperature_word
from core.errors import CaltinError, InputError
from core.look.reading import read_spot
from core.method.manner import manner
from core.method.order import Task, WorkSheet, work_sheet
from core.optics.medium import Layered, Pass
from core.optics.support import Support
from core.plan import Listed, Wanted, chosen, listed
from core.recipe.cautions import sentences
from core.recipe.reach import FITS, beyond
from core.recipe.recipe import Recipe, work_out
from core.recipe.why import why
from server.materials import services as materials
from server.materials.models import Tray
from server.pieces.services.kept import Kept
from server.pieces.services.looking import check_balance, in_place, region_of
from server.pieces.services.migrate import Document
from server.pieces.services.pictures import decoded, get_picture

BenchKey = tuple[str, str, Setup, Support | None]

_benches: Kept[BenchKey, Bench] = Kept(8)
_narrowed: Kept[tuple[BenchKey, int, tuple[str, ...], bytes], Bench] = Kept(16)
_lists: Kept[tuple[object, ...], Listed] = Kept(1200)

MODEL = 3
Spot = dict[str, Any]
_WHERE = ("x", "y", "radius", "outline")


def bench_for(user: User, document: Document) -> Bench:
    """Tray, paper and method of the document, laid out.

    Raises InputError (`no_tray_chosen`, or what core.bench raises) or NotFoundError.
    """
    return keyed_bench(user, document)[0]


def keyed_bench(user: User, document: Document) -> tuple[Bench, BenchKey]:
    """As `bench_for`, with what it depends on."""
    tray = _tray(user, document)
    setup = setup_of(document)
    own = materials.own_paper(user, setup.paper)
    free = replace(
        setup, max_sticks=0, max_passes=1, fit=FITS[0], kept=(), one_shadow=False, finish="layer", reserve=False
    )
    key = (str(tray.pk), tray.changed.isoformat(), free, own)
    bench = _benches.get(key, lambda: lay_out(materials.as_core(tray), free, own))
    return replace(bench, setup=setup), key


def setup_of(document: Document) -> Setup:
    """The set-up of a document."""
    held = document["setup"]
    return Setup(**{**held, "kept": tuple(held["kept"]), "banned": tuple(held["banned"])})


def seen_colours(document: Document) -> tuple[list[Spot], Floats]:
    """The spots that have a reading, and their CIELAB (m, 3)."""
    read = [spot for spot in document["spots"] if spot["reading"]]
    return read, np.array([spot["reading"]["swatch"]["lab"] for spot in read]).reshape(-1, 3)


def targets_of(bench: Bench, document: Document) -> dict[str, list[float]]:
    """What the recipe of each spot with a reading is judged by, by spot id."""
    read, seen = seen_colours(document)
    labs = bench.judged(seen)
    return {spot["id"]: [round(float(v), 3) for v in lab] for spot, lab in zip(read, labs, strict=True)}


def _tray(user: User, document: Document) -> Tray:
    if not document["tray"]:
        raise InputError(
            "no_tray_chosen", "No tray is chosen for this piece.", "Choose the pencils you own first.", "tray"
        )
    return materials.get_tray(user, document["tray"])


def complete(user: User, document: Document, before: Document) -> Document:
    """The document with every reading and every outcome true to it.

    What has not changed since `before` is carried over. Raises InputError for a spot outside the
    picture, NotFoundError for a picture or tray that is not the artist's.
    """
    if document["picture"] and document["picture"] != before["picture"]:
        get_picture(user, document["picture"])
    if document["tray"] and document["tray"] != before["tray"]:
        materials.get_tray(user, document["tray"])
    if document["balance"] != before["balance"] or document["picture"] != before["picture"]:
        check_balance(user, document)
    held = {spot["id"]: spot for spot in before["spots"]}
    same_picture = document["picture"] == before["picture"]
    spots = []
    for i, spot in enumerate(document["spots"]):
        old = held.get(spot["id"])
        unmoved = old is not None and same_picture and all(old[key] == spot[key] for key in _WHERE)
        reading = old["reading"] if unmoved and old else _read(user, document, spot, i)
        recipe = spot["recipe"]
        if recipe is not None:
            was = (old or {}).get("recipe") or {}
            recipe = {
                "passes": [with_id(p) for p in recipe["passes"]],
                "outcome": was.get("outcome"),
                "key": was.get("key", ""),
            }
        spots.append({**in_place(spot), "reading": reading, "recipe": recipe})
    return refresh(user, {**document, "spots": spots})


def refresh(user: User, document: Document) -> Document:
    """The document with the outcome of every recipe that no longer fits its tray, paper, passes or target."""
    try:
        bench = bench_for(user, document) if any(spot["recipe"] for spot in document["spots"]) else None
        stamp = str(_tray(user, document).changed) if bench else ""
        targets = targets_of(bench, document) if bench else {}
        trouble = ""
    except CaltinError as error:
        bench, stamp, targets, trouble = None, "", {}, error.message
    spots = []
    for spot in document["spots"]:
        recipe = spot["recipe"]
        if recipe is not None:
            target = targets.get(spot["id"])
            key = _key(document, spot, target, stamp or trouble)
            if recipe.get("key") != key:
                recipe = {**recipe, "key": key, "outcome": _outcome(bench, spot, target, trouble)}
        spots.append({**spot, "recipe": recipe})
    return {**document, "spots": spots}


def solved(user: User, document: Document, spot_ids: Sequence[str]) -> Document:
    """The document with fresh recipes for these spots, or for all if none are named. What is locked stays.

    Raises InputError (`nothing_to_mix`, `all_locked`) if there is no spot to mix.
    """
    found = prepared(user, document, spot_ids)
    mixed = {spot["id"] for spot in found.spots}
    others = [s["recipe"] for s in document["spots"] if s["recipe"] and s["id"] not in mixed]
    in_use = {row["stick"] for recipe in others for row in recipe["passes"]}
    fresh = {}
    for spot, stack in zip(found.spots, chosen(found.bench, found.wanted, in_use, found.lists), strict=True):
        fresh[spot["id"]] = {"passes": _with_locks(stack, _locked(spot)), "key": "", "outcome": None}
    spots = [{**s, "recipe": fresh.get(s["id"], s["recipe"])} for s in document["spots"]]
    return refresh(user, {**document, "spots": spots})


def _with_locks(passes: Sequence[Pass], held: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Passes as they are kept; those that were locked keep their ids, ticks and notes, and stay locked."""
    rows, waiting = [], list(held)
    for pass_ in passes:
        kept = waiting.pop(0) if waiting and pass_of(waiting[0]) == pass_ else None
        rows.append(kept or with_id(asdict(pass_) | {"locked": False}))
    return rows


@dataclass(frozen=True, slots=True)
class Prepared:
    """Spots to be mixed, what each is to become, and the best stacks for it."""

    bench: Bench
    spots: list[Spot]
    wanted: list[Wanted]
    lists: list[Listed]


def prepared(user: User, document: Document, spot_ids: Sequence[str]) -> Prepared:
    """The best stacks of these spots (all if none are named), from memory as far as they are at hand.

    Raises InputError (`nothing_to_mix`, `all_locked`, or what the core raises).
    """
    bench, key = keyed_bench(user, document)
    read, seen = seen_colours(document)
    asked = [s for s in read if not spot_ids or s["id"] in spot_ids]
    if not asked:
        raise InputError(
            "nothing_to_mix", "There is no spot to mix for yet.", "Put in a picture and mark spots first.", "spots"
        )
    spots = [s for s in asked if not s["locked"]]
    if not spots:
        raise InputError(
            "all_locked", "Every one of these recipes is locked, so nothing was changed.", "Unlock one first.", "spots"
        )
    aims, judged = bench.aims(seen), bench.judged(seen)
    few = narrow(bench, key, aims)
    wanted = [
        Wanted.of(aim, s["role"], [pass_of(row) for row in _locked(s)], target)
        for s, aim, target in zip(read, aims, judged, strict=True)
        if s in spots
    ]
    sticks = tuple(stick.code for stick in few.box.sticks)
    lists = _lists.get_many(
        [
            (key, sticks, few.setup.max_passes, few.setup.finish, few.setup.reserve, row.role, row.target, row.kept)
            for row in wanted
        ],
        lambda missing: listed(few, [wanted[i] for i in missing]),
    )
    return Prepared(few, spots, wanted, lists)


def _locked(spot: Spot) -> list[dict[str, Any]]:
    return [row for row in spot["recipe"]["passes"] if row["locked"]] if spot["recipe"] else []


def narrow(bench: Bench, key: BenchKey, targets: Floats) -> Bench:
    """The bench with no more sticks than the set-up allows. Raises what core.bench.narrowed raises."""
    setup = bench.setup
    if not 0 < setup.max_sticks < len(bench.box.sticks):
        return narrowed(bench, targets)
    few = _narrowed.get((key, setup.max_sticks, setup.kept, targets.tobytes()), lambda: narrowed(bench, targets))
    return replace(few, setup=setup)


def predicted(
    user: User, document: Document, target: Sequence[float], role: str, passes: Sequence[dict[str, Any]]
) -> dict[str, Any]:
    """The outcome of passes that are being tried out; nothing is stored. Raises InputError naming the pass."""
    kit = bench_for(user, document).kit
    return as_json(work_out(kit, [pass_of(p) for p in passes], target, role), kit)


def sheet(user: User, document: Document) -> dict[str, Any]:
    """The work sheet: pick-ups in working order, the proven minimum, and what to beware of."""
    bench = bench_for(user, document)
    tasks, ids = [], {}
    for spot in document["spots"]:
        passes = spot["recipe"]["passes"] if spot["recipe"] else []
        tasks.append(Task(spot["id"], spot["role"], tuple(pass_of(p) for p in passes)))
        ids.update({(spot["id"], i): p["id"] for i, p in enumerate(passes)})
    lightness = {stick.code: float(stick.lab[0]) for stick in bench.kit.sticks}
    sign = 1.0 if bench.method.order == "dark_to_light" else -1.0
    return _sheet_json(work_sheet(tasks, bench.method, lambda code: sign * lightness.get(code, 50.0)), ids, bench)


def _sheet_json(made: WorkSheet, ids: dict[tuple[str, int], str], bench: Bench) -> dict[str, Any]:
    medium_of = {stick.code: stick.medium for stick in bench.kit.sticks}
    used = dict.fromkeys((bench.setup.medium, *(medium_of[p.stick] for p in made.pick_ups if p.stick in medium_of)))
    return {
        "pick_ups": [
            {
                "stick": pick_up.stick,
                "stage": pick_up.stage,
                "jobs": [
                    {"spot": job.spot, "pass_id": ids[job.spot, job.index], "index": job.index}
                    | asdict(job.pass_)
                    | {"manner": manner(job.pass_, medium_of.get(job.pass_.stick))}
                    for job in pick_up.jobs
                ],
            }
            for pick_up in made.pick_ups
        ],
        "fewest": made.fewest,
        "cautions": [sentences()[f"sheet_{medium}"] for medium in used],
    }


def temperatures(document: Document) -> dict[str, dict[str, Any]]:
    """Warm or cool of every spot against its own figure, by spot id."""
    said: dict[str, dict[str, Any]] = {}
    for figure in document["figures"]:
        spots = [s for s in document["spots"] if s["figure"] == figure["id"] and s["reading"]]
        if not spots:
            continue
        labs = np.array([s["reading"]["swatch"]["lab"] for s in spots])
        average, spread = labs.mean(axis=0), hue_spread(labs)
        for spot, lab in zip(spots, labs, strict=True):
            degrees = float(temperature(lab, average))
            said[spot["id"]] = {"degrees": round(degrees, 1), "words": temperature_word(degrees, spread)}
    return said


def reach(user: User, document: Document) -> dict[str, float] | None:
    """Darkest and lightest Munsell value of tray and paper; None as long as no tray is chosen.

    Raises what `bench_for` raises for a tray.
    """
    if not document["tray"]:
        return None
    darkest, lightest = bench_for(user, document).reach()
    return {"darkest": darkest, "lightest": lightest}


def out_of_reach(document: Document, held: dict[str, float] | None) -> dict[str, str]:
    """Why spots cannot be reached, by spot id; held: what `reach` gave."""
    if held is None:
        return {}
    return {
        spot["id"]: beyond(
            spot["reading"]["swatch"]["value"],
            held["darkest"],
            held["lightest"],
            ((spot["recipe"] or {}).get("outcome") or {}).get("delta_e"),
        )
        for spot in document["spots"]
        if spot["reading"]
    }


def as_json(recipe: Recipe, kit: Layered) -> dict[str, Any]:
    """A recipe as it is kept and sent."""
    said = asdict(recipe)
    said["steps"] = [{key: step[key] for key in ("after", "room", "effect")} for step in said["steps"]]
    return {**said, "why": why(recipe, kit), "trouble": ""}


def _read(user: User, document: Document, spot: Spot, index: int) -> dict[str, Any] | None:
    if not document["picture"]:
        return None
    picture = decoded(get_picture(user, document["picture"]).digest)
    try:
        return asdict(read_spot(picture, region_of(spot)))
    except InputError as error:
        raise InputError(error.code, error.message, error.hint, f"document.spots[{index}].{error.field}") from error


def _outcome(bench: Bench | None, spot: Spot, target: list[float] | None, trouble: str) -> dict[str, Any]:
    passes = [pass_of(p) for p in spot["recipe"]["passes"]]
    if not spot["reading"]:
        trouble = trouble or "This spot has no reading yet."
    if bench is not None and target is not None and not trouble:
        try:
            return as_json(work_out(bench.kit, passes, target, spot["role"]), bench.kit)
        except InputError as error:
            trouble = f"{error.message} {error.hint}"
    return {"trouble": trouble}


def pass_of(row: dict[str, Any]) -> Pass:
    """A pass as the computation knows it."""
    return Pass(row["stick"], row["pressure"], row["repeats"], row["technique"])


def with_id(row: dict[str, Any]) -> dict[str, Any]:
    """A pass with an id of its own."""
    return {**row, "id": row.get("id") or uuid.uuid4().hex[:12]}


def _key(document: Document, spot: Spot, target: list[float] | None, stamp: str) -> str:
    """Changes whenever the outcome of the spot's recipe could; MODEL grows with what an outcome holds."""
    passes = [asdict(pass_of(p)) for p in spot["recipe"]["passes"]]
    setup = document["setup"]
    parts = [MODEL, document["tray"], stamp, setup["medium"], setup["paper"], target, spot["role"], passes]
    return hashlib.sha256(json.dumps(parts, sort_keys=True, default=str).encode()).hexdigest()[:24]
