"""Figures of plans in layers: time, against every plan there is and long searches, and what hands make of them."""

from __future__ import annotations

import itertools
import json
import time
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from pathlib import Path

import numpy as np
from skimage.measure import label

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.exchange.json_files import read_spots
from core.exchange.tray_csv import read_tray
from core.layers.curve import Curve
from core.layers.doses import NONE, Dose, scale_of
from core.layers.draft import Draft
from core.layers.even import evenly
from core.layers.fields import Maps
from core.layers.forward import Places, State
from core.layers.ground import Ground
from core.layers.hands import hands_for
from core.layers.natural import Spot
from core.layers.plan import Plan, Plans
from core.layers.school import Wishes, frame_for
from core.layers.search import NEW_STICK_COST, PLACE_COST, Search
from core.look.picture import read_picture
from core.look.reading import Disc, read_spot
from core.look.study import WORKING_SIZE, Person, Study, study
from core.look.views import scaled
from core.method.order import Task, work_sheet
from core.optics.medium import Pass
from core.optics.stick import Tray
from core.plan.edited import Edited
from core.plan.layered import Lab, Planning, figures_of
from core.plan.mapped import enlarged_to, fields_of, ground_of, head_scale, maps_of, read_off, skin_colours, with_places
from core.plan.named import named_areas
from core.plan.setup import LaidOutTray, lay_out, usual_setup
from core.plan.solve import mix

ROOT = Path(__file__).parents[1]
TRAYS = {
    "pencil": ("long-pier-72", "medium-white"), "marker": ("breakwater-60", "marker-card"),
    "pastel": ("quay-chalk-48", "toothy-white"), "oil_pastel": ("winch-48", "oil-paper"),
}  # fmt: skip
FACES = ("mairen", "tavi", "odelo")
"""The palest, a middle and the deepest figure of the crew."""
_HANDS, _SEED = 96, 77
_LONG, _HEAT = 200, 6.0
"""How many times a plan's processor time an annealed search takes, and which rise of cost it takes easily at first."""
_TOLD_APART = 0.25
"""Steps of Munsell value from which two places must keep their order."""


@cache
def spots_of(picture: str, folder: str = "demo/references") -> tuple[Spot, ...]:
    """The spots of a picture with what is read there, all figures together."""
    seen = read_picture((ROOT / folder / f"{picture}.jpg").read_bytes())
    rows = read_spots((ROOT / folder / f"{picture}.json").read_bytes())
    labs = [read_spot(seen, row.disc).swatch.lab for row in rows]
    return tuple(Spot(row.name, row.place, row.role, lab) for row, lab in zip(rows, labs, strict=True))


@cache
def laid_out(medium: str, sticks: int = 0) -> LaidOutTray:
    """The usual tray of a medium, or so many of its sticks, on its paper."""
    name, paper = TRAYS[medium]
    every = read_tray((ROOT / f"demo/ranges/{name}.csv").read_bytes(), name).sticks
    some = every if not sticks else tuple(every[i] for i in np.linspace(0, len(every) - 1, sticks).astype(int))
    return lay_out(Tray(name, some), replace(usual_setup(medium), paper=paper))


def _discs_of(picture: str, folder: str) -> list[Disc]:
    return [row.disc for row in read_spots((ROOT / folder / f"{picture}.json").read_bytes())]


def planned(tray: LaidOutTray, spots: Sequence[Spot], skin: Sequence[Lab] = ()) -> tuple[Planning, float, float]:
    """The work on a figure done, and the processor time of its first step and of all."""
    start = time.process_time()
    work = Planning(tray, spots, skin=skin)
    steps = work.run()
    next(steps)
    first = time.process_time() - start
    for _ in steps:
        pass
    work.plans()
    return work, first, time.process_time() - start


def bench_planning_time() -> None:
    """A first plan, one figure, two figures; growth with spots and sticks."""
    old = spots_of("mairen", "tests/heads/large")
    _, first, whole = planned(laid_out("pencil"), old)
    took = f"first after {first:.2f} s, all after {whole:.1f} s"
    print(f"plan of {len(old)} spots from 72 pencils: {took} of processor time")
    whole = planned(laid_out("pencil"), old, _skin("mairen", "tests/heads/large"))[2]
    print(f"the same where plans of few layers regard the rest of the skin: {whole:.1f} s")
    two = [spots_of("mairen")[:15], spots_of("odelo")[:15]]
    start = time.perf_counter()
    figures_of(laid_out("pencil"), two)
    print(f"30 spots in two figures, 72 pencils: {time.perf_counter() - start:.1f} s on one core")
    grown = [f"{n}: {planned(laid_out('pencil'), spots_of('mairen')[:n])[2]:.1f} s" for n in (4, 8, 16)]
    print(f"growth with spots (72 pencils): {', '.join(grown)}")
    grown = [f"{n}: {planned(laid_out('pencil', n), old)[2]:.1f} s" for n in (12, 24, 48)]
    print(f"growth with sticks ({len(old)} spots): {', '.join(grown)}")


def bench_against_sheets() -> None:
    """The recommended plan against recipes made spot by spot: what hands make of both, pick-ups, order of values.

    Kept sheets are those of version 0.9; fresh ones are made now, with the model that judges them.
    """
    kept = json.loads((ROOT / "tools/sheets/spot_by_spot.json").read_text())
    for medium, face in itertools.product(TRAYS, FACES):
        tray, spots = laid_out(medium), spots_of(face)
        work, _, _ = planned(tray, spots)
        plans = work.plans()
        plan = plans.of(plans.recommended)
        said = []
        layered = [plan.passes_at(place) for place in range(len(spots))]
        fresh = [tuple(step.pass_ for step in recipe.steps) for recipe in mix(tray, _labs(spots), _roles(spots))]
        old = [tuple(_pass(word) for word in words) for words in kept[f"{face} {medium}"]]
        by_hand = []
        for name, stacks, shared in (
            ("kept sheet", old, False),
            ("fresh sheet", fresh, False),
            ("plan", layered, True),
        ):
            errors, kept_order = _by_hand(tray, spots, stacks, plan if shared else None)
            pick_ups = len(plan.layers) if shared else _pick_ups(tray, spots, stacks)
            by_hand.append(errors[1:].mean())
            said.append(
                f"{name} {errors[0].mean():.2f} → {errors[1:].mean():.2f} in {pick_ups} pick-ups, "
                f"order kept {100 * kept_order:.1f} %"
            )
        print(
            f"{medium} {face}: {'; '.join(said)}; plan/kept {by_hand[2] / by_hand[0]:.2f}, "
            f"plan/fresh {by_hand[2] / by_hand[1]:.2f}"
        )


def _labs(spots: Sequence[Spot]) -> Floats:
    return np.array([spot.lab for spot in spots], dtype=float)


def _roles(spots: Sequence[Spot]) -> list[str]:
    return [spot.role for spot in spots]


def _pass(words: str) -> Pass:
    stick, pressure, repeats, technique = words.split()
    return Pass(stick, pressure, int(repeats), technique)


def _pick_ups(tray: LaidOutTray, spots: Sequence[Spot], stacks: Sequence[tuple[Pass, ...]]) -> int:
    light = {stick.code: float(stick.lab[0]) for stick in tray.box.sticks}
    tasks = [Task(str(i), spot.role, stack) for i, (spot, stack) in enumerate(zip(spots, stacks, strict=True))]
    return len(work_sheet(tasks, tray.method, lambda code: -light[code]).pick_ups)


def _by_hand(
    tray: LaidOutTray, spots: Sequence[Spot], stacks: Sequence[tuple[Pass, ...]], plan: Plan | None
) -> tuple[Floats, float]:
    """ΔE00 (hands + 1, m), the steady hand first; and how often, of 1,000 hands, places keep their order of value.

    A plan's layers have one hand each for all places; the passes of a sheet have one of their own at every place.
    """
    index = {stick.code: i for i, stick in enumerate(tray.box.sticks)}
    scale, targets = scale_of(tray.setup.medium), _labs(spots)

    def run(hands: int) -> tuple[Floats, Floats]:
        errors, labs = [], []
        for place, (target, stack) in enumerate(zip(targets, stacks, strict=True)):
            places = Places(tray.box, scale, target[None], hands_for(1, hands, _SEED if plan else _SEED + place))
            state, slot = places.start(), -1
            for pass_ in stack:
                slot = _slot(plan, pass_, slot) if plan else slot + 1
                dose = np.array([scale.index(Dose(pass_.pressure, pass_.repeats, pass_.technique == "flick"))])
                state = places.lay(state, slot, index[pass_.stick], dose)
            errors.append(places.errors(state)[:, 0])
            labs.append(places.labs(state))
        return np.array(errors).T, np.array(labs)

    errors, _ = run(_HANDS)
    _, labs = run(1000)
    value = lab_to_value(targets)
    apart = [(a, b) for a, b in itertools.permutations(range(len(value)), 2) if value[b] - value[a] > _TOLD_APART]
    kept = [(labs[b, 1:, 0] > labs[a, 1:, 0]).mean() for a, b in apart]
    return errors, float(np.mean(kept))


def _slot(plan: Plan, pass_: Pass, after: int) -> int:
    layers = plan.layers
    return next(i for i in range(after + 1, len(layers)) if layers[i].stick == pass_.stick)


def bench_small_plans() -> None:
    """Against every plan there is: six spots, eight sticks, up to three layers, a steady hand, areas free."""
    gaps = []
    for face, count in itertools.product(FACES, (2, 3)):
        spots = spots_of(face)[2:8]
        tray = laid_out("pencil", 8)
        aims = tray.aims(_labs(spots))
        frame = frame_for(tray.box, tray.method, _roles(spots), aims, Wishes(black="free"))
        search = Search(tray.box.coarse(), scale_of("pencil"), aims, frame, np.zeros((0, len(spots)), bool), hands=0)
        curve = Curve(search)
        for _ in curve.steps(count):
            pass
        mine, best = curve.best[count][0], _best_of_all(search, count)
        gaps.append(100 * (mine / best - 1))
    print(
        f"small plans against all there are (6 spots, 8 pencils, 2 and 3 layers, {len(gaps)} cases): "
        f"mean gap {np.mean(gaps):.2f} %, worst {max(gaps):.2f} %"
    )


def _best_of_all(search: Search, count: int) -> float:
    """The least cost of all lists of sticks with all doses, worked out one list at a time."""
    frame, scale, m = search.frame, search.scale, search.m
    every = np.array(list(itertools.product(range(len(scale.doses) + 1), repeat=count)), dtype=np.intp)
    heavy, laid = scale.hard[every] == 2, every != NONE
    early = np.array([heavy[:, j] & laid[:, j + 1 :].any(axis=1) for j in range(count)]).any(axis=0)
    early |= heavy[:, : max(0, count - 2)].any(axis=1)
    first = np.where(laid.any(axis=1), laid.argmax(axis=1), 0)
    early |= scale.hard[every[np.arange(len(every)), first]] > frame.first_hardest
    best = np.inf
    for sticks in itertools.permutations(range(len(search.box.sticks)), count):
        short = np.zeros(len(every), dtype=bool)
        costs = _row_costs(search, sticks, every, short)
        costs[:, early] = np.inf
        for a, b in itertools.combinations(range(count), 2):
            if not frame.follow[sticks[a], sticks[b]]:
                costs[:, laid[:, a] & laid[:, b]] = np.inf
        for place in range(m):
            wrong = (laid & ~frame.may_lie[place, list(sticks)]).any(axis=1)
            wrong |= laid.any(axis=1) & ~frame.may_begin[place, np.array(sticks)[first]]
            costs[place, wrong] = np.inf
        more = float(frame.price[list(sticks)].sum())
        best = min(best, float(costs.min(axis=1).sum()) + NEW_STICK_COST * count + more)
    return best


def _row_costs(search: Search, sticks: Sequence[int], every: np.ndarray, short: np.ndarray) -> Floats:
    """(m, rows): what every row of doses costs at every place."""
    box, scale = search.box, search.scale
    roots, bare = box.blank()
    roots, filled = np.repeat(roots, len(every), axis=0), np.full(len(every), float(bare))
    for stick, doses in zip(sticks, every.T, strict=True):
        on = np.flatnonzero(doses)
        short[on] |= box.tooth_left_at(filled[on]) < search.frame.least_tooth
        laid = box.strokes(roots[on], filled[on], stick, scale.pressure[doses[on]], scale.times[doses[on]])
        roots[on], filled[on] = laid
    labs = search.steady.labs(State(roots, filled))
    costs = search.steady.costs_of_labs(labs) + PLACE_COST * np.count_nonzero(every, axis=1)
    costs[:, short] = np.inf
    return np.asarray(costs, dtype=float)


def bench_fields() -> None:
    """Maps of layers: what they come near to, in three doses and any, and how long they take."""
    old = ("mairen", "tests/heads/large")
    for layers, least_mm2 in ((6, 7.0), (6, 30.0), (4, 7.0), (4, 30.0)):
        _bench_maps(*old, layers, least_mm2)
    for face, least_mm2 in itertools.product((*FACES, "senna-rue"), (7.0, 30.0)):
        _bench_maps(face, "demo/references", 6, least_mm2)
    _bench_maps(*old, 4, 30.0, "marker")
    for layers, least_mm2 in itertools.product((3, 4, 6), (1.0, 30.0)):
        plan, seen = _plans(*old).of(layers), _seen(*old)
        ground = ground_of(seen, 0, head_scale(seen, 0))
        start = time.process_time()
        fields = fields_of(laid_out("pencil"), plan, ground)
        *_, maps = evenly(fields, named_areas(seen, 0, ground).labels, least_mm2=least_mm2)
        off = ciede2000(ground.lab[ground.mask], fields.after(maps))
        print(
            f"named areas of mairen, {layers} layers, areas of {least_mm2:.0f} mm²: ΔE00 {off.mean():.2f} (p90 "
            f"{np.percentile(off, 90):.2f}), the smallest {_areas_of(maps, ground).min():.1f} mm², "
            f"{time.process_time() - start:.1f} s"
        )


def _areas_of(maps: Maps, ground: Ground) -> Floats:
    """mm² of every area of the maps."""
    parts = [label(level + 1, background=0, connectivity=1) for level in np.where(ground.mask, maps.levels, -1)]
    return np.concatenate([np.bincount(part[part > 0])[1:] for part in parts]) / ground.px_per_mm**2


def _bench_maps(picture: str, folder: str, layers: int, least_mm2: float, medium: str = "pencil") -> None:
    tray = laid_out(medium)
    plan = _plans(picture, folder, medium).of(layers)
    image = read_picture((ROOT / folder / f"{picture}.jpg").read_bytes())
    seen = _seen(picture, folder)
    start = time.process_time()
    spots, discs = spots_of(picture, folder), _discs_of(picture, folder)
    places = list(zip(discs, spots, strict=True))
    ground = with_places(ground_of(seen, 0, head_scale(seen, 0)), places, least_mm2)
    fields, steps = maps_of(tray, plan, ground, 3, least_mm2)
    *_, maps = steps
    took = time.process_time() - start
    wanted = fields.ground.lab[fields.ground.mask]
    drawn, free = ciede2000(wanted, fields.after(maps)), ciede2000(wanted, fields.freely())
    areas = _areas_of(maps, ground)
    at_places = Edited(tray, spots, read_off(plan.layers, maps, ground, places)).plan().expected
    start = time.process_time()
    large, more = enlarged_to(scaled(image, 1800), seen, 0, fields, maps)
    large.after(more)
    print(
        f"{medium} maps of {picture}, {len(plan.layers)} layers, three doses, areas of {least_mm2:.0f} mm²: ΔE00 "
        f"{drawn.mean():.2f} (p90 {np.percentile(drawn, 90):.2f}), any dose anywhere {free.mean():.2f} "
        f"(ratio {drawn.mean() / free.mean():.2f}); at the places {at_places.planned} in a steady hand where "
        f"{plan.expected.planned} were planned; the smallest of {len(areas)} areas {areas.min():.1f} mm²; {took:.1f} s "
        f"at 480 px, {time.process_time() - start:.1f} s more at {max(large.ground.mask.shape)} px"
    )


@cache
def _plans(picture: str, folder: str, medium: str = "pencil") -> Plans:
    return planned(laid_out(medium), spots_of(picture, folder), _skin(picture, folder))[0].plans()


@cache
def _skin(picture: str, folder: str) -> tuple[Lab, ...]:
    seen = _seen(picture, folder)
    return skin_colours(ground_of(seen, 0, head_scale(seen, 0)))


@cache
def _seen(picture: str, folder: str) -> Study:
    image = read_picture((ROOT / folder / f"{picture}.jpg").read_bytes())
    return study(scaled(image, WORKING_SIZE), None, [Person()])


def bench_long_searches() -> None:
    """Recommended plans against the best of three annealed searches, each of so many times a plan's processor time,
    one begun from the plan: two hours."""
    for face in FACES:
        work, _, took = planned(laid_out("pencil"), spots_of(face))
        curve, layers = work._curves[0][0], work.plans().recommended
        cost, draft = curve.best[layers]
        every = [_annealed(curve.search, begin, layers, took, seed) for seed, begin in enumerate((draft, None, None))]
        print(
            f"pencil {face}, {layers} layers: cost {cost:.2f}; annealed for {_LONG} times as long, the first from it: "
            f"{', '.join(f'{other:.2f}' for other in every)}; gap {100 * (cost / min(every) - 1):.1f} %"
        )


def _annealed(search: Search, begin: Draft | None, layers: int, took: float, seed: int) -> float:
    """What the best plan costs that is found in `_LONG` times as many seconds of processor time."""
    rng, start = np.random.default_rng(seed), time.process_time()
    now = begin or _any_draft(search, layers, rng)
    cost = best = search.total(now)
    while (spent := (time.process_time() - start) / (_LONG * took)) < 1:
        other = search.polish(_changed(search, now, rng), 1)
        there = search.total(other)
        if search.lawful(other) and (there < cost or rng.random() < np.exp((cost - there) / (_HEAT * (1.001 - spent)))):
            now, cost = other, there
            best = min(best, cost)
    return best


def _any_draft(search: Search, layers: int, rng: np.random.Generator) -> Draft:
    draft = search.empty()
    while len(draft) < layers:
        some = search.entries(draft)[:40]
        draft = search.polish(search.with_best_of(draft, [some[int(rng.integers(len(some)))]]), 1)
    return draft


def _changed(search: Search, draft: Draft, rng: np.random.Generator) -> Draft:
    """Another stick in a layer, or a layer moved."""
    j = int(rng.integers(len(draft)))
    stick = draft.sticks[j] if rng.random() < 0.3 else int(rng.choice(search.usable))
    rest = draft.without(j)
    at = int(rng.integers(len(rest) + 1)) if stick == draft.sticks[j] or rng.random() < 0.3 else j
    return rest.with_one(at, stick).laid(at, draft.doses[j])


def bench_layers() -> None:
    """All of these but the long searches."""
    bench_planning_time()
    bench_small_plans()
    bench_against_sheets()
    bench_fields()
