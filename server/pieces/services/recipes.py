"""Readings, recipes and the work sheet of a piece: everything that is worked out, never typed."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from core.colour.temperature import hue_spread, temperature, temperature_word
from core.errors import CaltinError, InputError
from core.look.reading import read_spot
from core.method.manner import manner
from core.method.order import Task, WorkSheet, work_sheet
from core.optics.medium import Pass
from core.optics.support import Support
from core.plan import Bench, Setup, lay_out, solve
from core.recipe.cautions import sentences
from core.recipe.reach import beyond
from core.recipe.recipe import Recipe, work_out
from server.materials import services as materials
from server.materials.models import Tray
from server.pieces.services.history import Document
from server.pieces.services.kept import Kept
from server.pieces.services.looking import check_balance, in_place, region_of
from server.pieces.services.pictures import decoded, get_picture

_benches: Kept[tuple[str, str, Setup, Support | None], Bench] = Kept(8)

MODEL = 2
Spot = dict[str, Any]
_WHERE = ("x", "y", "radius", "outline")


def bench_for(user: User, document: Document) -> Bench:
    """Tray, paper and method of the document, laid out.

    Raises InputError (`no_tray_chosen`, or what core.plan raises) or NotFoundError.
    """
    tray = _tray(user, document)
    setup = Setup(**document["setup"])
    own = materials.own_paper(user, setup.paper)
    key = (str(tray.pk), tray.changed.isoformat(), replace(setup, max_sticks=0, max_passes=1), own)
    bench = _benches.get(key, lambda: lay_out(materials.as_core(tray), setup, own))
    return replace(bench, setup=setup)


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
                "passes": [_with_id(p) for p in recipe["passes"]],
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
        trouble = ""
    except CaltinError as error:
        bench, stamp, trouble = None, "", error.message
    spots = []
    for spot in document["spots"]:
        recipe = spot["recipe"]
        if recipe is not None:
            key = _key(document, spot, stamp or trouble)
            if recipe.get("key") != key:
                recipe = {**recipe, "key": key, "outcome": _outcome(bench, spot, trouble)}
        spots.append({**spot, "recipe": recipe})
    return {**document, "spots": spots}


def solved(user: User, document: Document, spot_ids: Sequence[str]) -> Document:
    """The document with fresh recipes for these spots, or for all if none are named.

    Raises InputError (`nothing_to_mix`) if no spot has a reading.
    """
    bench = bench_for(user, document)
    chosen = [s for s in document["spots"] if s["reading"] and (not spot_ids or s["id"] in spot_ids)]
    if not chosen:
        raise InputError(
            "nothing_to_mix", "There is no spot to mix for yet.", "Put in a picture and mark spots first.", "spots"
        )
    targets = np.array([spot["reading"]["swatch"]["lab"] for spot in chosen])
    recipes = solve(bench, targets, [spot["role"] for spot in chosen])
    stamp = str(_tray(user, document).changed)
    found: dict[str, Any] = {}
    for spot, recipe in zip(chosen, recipes, strict=True):
        passes = [_with_id(asdict(step.pass_)) for step in recipe.steps]
        mixed = {**spot, "recipe": {"passes": passes}}
        found[spot["id"]] = {"passes": passes, "outcome": as_json(recipe), "key": _key(document, mixed, stamp)}
    return {**document, "spots": [{**s, "recipe": found.get(s["id"], s["recipe"])} for s in document["spots"]]}


def predicted(
    user: User, document: Document, target: Sequence[float], role: str, passes: Sequence[dict[str, Any]]
) -> dict[str, Any]:
    """The outcome of passes that are being tried out; nothing is stored. Raises InputError naming the pass."""
    return as_json(work_out(bench_for(user, document).kit, [_pass(p) for p in passes], target, role))


def sheet(user: User, document: Document) -> dict[str, Any]:
    """The work sheet: pick-ups in working order, the proven minimum, and what to beware of."""
    bench = bench_for(user, document)
    tasks, ids = [], {}
    for spot in document["spots"]:
        passes = spot["recipe"]["passes"] if spot["recipe"] else []
        tasks.append(Task(spot["id"], spot["role"], tuple(_pass(p) for p in passes)))
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
    """Darkest and lightest Munsell value of tray and paper; None as long as no tray is chosen."""
    try:
        darkest, lightest = bench_for(user, document).reach()
    except CaltinError:
        return None
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


def as_json(recipe: Recipe) -> dict[str, Any]:
    """A recipe as it is kept and sent."""
    said = asdict(recipe)
    said["steps"] = [{key: step[key] for key in ("after", "room", "effect")} for step in said["steps"]]
    return {**said, "trouble": ""}


def _read(user: User, document: Document, spot: Spot, index: int) -> dict[str, Any] | None:
    if not document["picture"]:
        return None
    picture = decoded(get_picture(user, document["picture"]).digest)
    try:
        return asdict(read_spot(picture, region_of(spot)))
    except InputError as error:
        raise InputError(error.code, error.message, error.hint, f"document.spots[{index}].{error.field}") from error


def _outcome(bench: Bench | None, spot: Spot, trouble: str) -> dict[str, Any]:
    passes = [_pass(p) for p in spot["recipe"]["passes"]]
    if not spot["reading"]:
        trouble = trouble or "This spot has no reading yet."
    if bench is not None and not trouble:
        try:
            return as_json(work_out(bench.kit, passes, spot["reading"]["swatch"]["lab"], spot["role"]))
        except InputError as error:
            trouble = f"{error.message} {error.hint}"
    return {"trouble": trouble}


def _pass(row: dict[str, Any]) -> Pass:
    return Pass(row["stick"], row["pressure"], row["repeats"], row["technique"])


def _with_id(row: dict[str, Any]) -> dict[str, Any]:
    return {**row, "id": row.get("id") or uuid.uuid4().hex[:12]}


def _key(document: Document, spot: Spot, stamp: str) -> str:
    """Changes whenever the outcome of the spot's recipe could; MODEL grows with what an outcome holds."""
    lab = spot["reading"]["swatch"]["lab"] if spot["reading"] else None
    passes = [asdict(_pass(p)) for p in spot["recipe"]["passes"]]
    setup = document["setup"]
    parts = [MODEL, document["tray"], stamp, setup["medium"], setup["paper"], lab, spot["role"], passes]
    return hashlib.sha256(json.dumps(parts, sort_keys=True, default=str).encode()).hexdigest()[:24]
