"""The hard rules of docs/rules.md on random trays and complexions, by their numbers."""

from dataclasses import replace
from functools import cache
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import lab_to_lch
from core.layers.natural import Spot
from core.layers.plan import Plan
from core.look.roles import SHADOW_ROLES
from core.method.method import methods
from core.optics.medium import PRESSURES
from core.optics.spectra import reflectance_to_lab
from core.optics.stack import colours_after, tooth_left_after
from core.optics.stick import Stick, Tray
from core.plan.layered import plan_figure
from core.plan.setup import LaidOutTray, Setup, lay_out, usual_setup
from core.recipe.rules import LEAST_TOOTH, is_black
from core.skin.reflectance import skin_reflectance
from tests.conftest import ROOT, a_range

RANGES = {"pencil": "long-pier-72", "marker": "breakwater-60", "pastel": "quay-chalk-48", "oil_pastel": "winch-48"}
SCHOOLS = [method.id for method in methods().values() if method.medium in RANGES]
PLACES = (
    ("forehead", "highlight", 1.28), ("cheek", "light", 1.12), ("nose tip", "light", 1.1), ("cheekbone", "middle", 1.0),
    ("jaw", "half-shadow", 0.78), ("neck", "shadow", 0.6), ("under the chin", "deep accent", 0.42),
)  # fmt: skip


def complexion(rng: np.random.Generator) -> list[Spot]:
    """Places of a made-up face between the palest and the deepest, lit from one side."""
    melanin, blood = float(np.exp(rng.uniform(np.log(0.018), np.log(0.25)))), float(rng.uniform(0.01, 0.035))
    base = reflectance_to_lab(skin_reflectance(np.array([[melanin, blood, float(rng.uniform(0.2, 1.5))]])))[0]
    spots = []
    for place, role, times in PLACES:
        lab = base * [times, 0.6 + 0.4 * min(times, 1), 0.5 + 0.5 * min(times, 1)] + rng.normal(0, 1.5, 3)
        spots.append(Spot(place, place, role, (float(np.clip(lab[0], 8, 94)), float(lab[1]), float(lab[2]))))
    return spots


@cache
def case(school: str, seed: int) -> tuple[LaidOutTray, list[Spot], Plan]:
    """A tray drawn at random, a complexion, and a plan by a school."""
    rng = np.random.default_rng([seed, SCHOOLS.index(school)])
    method = methods()[school]
    every = a_range(RANGES[method.medium]).sticks
    some = tuple(every[i] for i in sorted(rng.choice(len(every), int(rng.integers(9, 17)), replace=False)))
    setup = replace(
        usual_setup(method.medium),
        method=school,
        reserve=method.reserve or bool(rng.random() < 0.3),
        black=str(rng.choice(["avoid", "last", "free"])),
        max_passes=int(rng.integers(3, 5)),
        max_sticks=int(rng.integers(4, 8)),
        must_use=(next(stick.code for stick in some if not is_black(stick) and stick.lab[0] < 80),),
    )
    laid_out = lay_out(Tray("some", some), setup)
    spots = complexion(rng)
    plans = plan_figure(laid_out, spots, most=4)
    return laid_out, spots, plans.of(4)


@pytest.fixture(params=[(school, seed) for school in SCHOOLS for seed in (1,)], ids=lambda p: f"{p[0]}-{p[1]}")
def planned(request: pytest.FixtureRequest) -> tuple[LaidOutTray, list[Spot], Plan]:
    school, seed = request.param
    return case(school, seed)


def stacks(laid_out: LaidOutTray, spots: list[Spot], plan: Plan) -> list[tuple[Spot, list[Stick], list[int]]]:
    """For every place its sticks and how hard each is laid (index), in order."""
    by_code = {stick.code: stick for stick in laid_out.box.sticks}
    rows = []
    for place, spot in enumerate(spots):
        passes = plan.passes_at(place)
        rows.append((spot, [by_code[p.stick] for p in passes], [PRESSURES.index(p.pressure) for p in passes]))
    return rows


def kept_free(setup: Setup, spot: Spot) -> bool:
    return setup.reserve and spot.role == "highlight"


def test_every_hard_rule_holds(planned: tuple[LaidOutTray, list[Spot], Plan]) -> None:
    laid_out, spots, plan = planned
    setup, method = laid_out.setup, laid_out.method
    rows = stacks(laid_out, spots, plan)
    broken = []

    def rule(number: str, holds: bool, what: object = "") -> None:
        if not holds:
            broken.append((number, what))

    if method.base_first and not (method.under_shade or method.under_light or method.first_in_light_alone):
        for spot, level in zip(spots, plan.layers[0].levels, strict=True):
            rule("1a", level is not None or kept_free(setup, spot), spot.name)
    if method.medium == "pencil":
        hardest = -1
        for layer in plan.layers:
            held = [level for level in layer.levels if level]
            if len(held) > 2:
                now = max(PRESSURES.index(level.pressure) for level in held)
                rule("2a", now >= hardest, layer)
                hardest = max(hardest, now)
        for spot, _, hard in rows:
            rule("2b", all(h < 2 for h in hard[:-1]), (spot.name, hard))
        for layer in plan.layers[:-2]:
            rule("2b", all(level.pressure != "heavy" for level in layer.levels if level), layer)
    usable = [stick for stick in laid_out.box.sticks if not stick.colourless]
    whites = [stick for stick in usable if stick.lab[0] >= 88 and float(lab_to_lch(stick.lab)[1]) <= 16]
    for spot, sticks, hard in rows:
        rule("6", len(sticks) <= setup.max_passes, spot.name)
        if kept_free(setup, spot):
            rule("4", len(sticks) <= 1, spot.name)
            for stick, h, pass_ in zip(sticks, hard, plan.passes_at(spots.index(spot)), strict=True):
                rule("4", h == 0 and pass_.repeats == 1, spot.name)
                aim = laid_out.aims(np.array([spot.lab]))[0, 0]
                rule("1d", stick.lab[0] >= min(85.0, aim) - 1e-6, (spot.name, stick.name))
            continue
        if not sticks:
            continue
        first_hard = max(PRESSURES.index(word) for word in method.first_pressures)
        rule("2c", hard[0] <= first_hard, (spot.name, hard))
        lit = spot.role not in SHADOW_ROLES
        if whites and (method.id == "white_beneath" or (method.id == "white_then_glaze" and lit)):
            rule("3a" if lit else "3b", sticks[0] in whites, (spot.name, sticks[0].name))
        hued = [stick for stick in usable if method.lies_under(stick, spot.role)]
        if method.under_hues(spot.role) and hued:
            rule("3c", sticks[0] in hued, (spot.name, sticks[0].name))
        if method.id == "darks_first" and spot.role in ("highlight", "light"):
            rule(
                "3d", all(stick.lab[0] >= laid_out.aims(np.array([spot.lab]))[0, 0] - 35 for stick in sticks), spot.name
            )
        slack = method.layers_slack_l or method.slack_l
        down = -1.0 if method.order == "dark_to_light" else 1.0
        for i, upper in enumerate(sticks):
            for lower in sticks[:i]:
                rule("3e", down * (upper.lab[0] - lower.lab[0]) <= slack + 1e-6, (spot.name, lower.name, upper.name))
        black = [is_black(stick) for stick in sticks]
        lit = spot.role in ("highlight", "light")
        kept_to = {"avoid": not any(black), "last": not any(black if lit else black[:-1]), "free": True}
        rule("3f", kept_to[setup.black], spot.name)
    for place in range(len(spots)):
        tooth = tooth_left_after(laid_out.kit, plan.passes_at(place))
        rule("5", all(left >= LEAST_TOOTH - 0.01 for left in tooth[:-1]), (spots[place].name, tooth))
    rule("6", len(plan.sticks) <= setup.max_sticks, plan.sticks)
    rule("6", set(setup.must_use) <= set(plan.sticks), (setup.must_use, plan.sticks))
    assert broken == []


@pytest.mark.parametrize("school", ["darks_first", "light_to_dark"])
def test_all_shadows_share_a_stick_where_that_is_wanted(school: str) -> None:
    rng = np.random.default_rng(3)
    medium = methods()[school].medium
    every = a_range(RANGES[medium]).sticks
    some = tuple(every[i] for i in sorted(rng.choice(len(every), 14, replace=False)))
    setup = replace(usual_setup(medium), method=school, one_shadow=True)
    spots = complexion(rng)
    plans = plan_figure(lay_out(Tray("some", some), setup), spots, most=4)
    shadows = {place for place, spot in enumerate(spots) if spot.role in SHADOW_ROLES}
    broken = []
    for plan in plans.by_count.values():
        over: dict[str, set[int]] = {}
        for layer in plan.layers:
            over.setdefault(layer.stick, set()).update(i for i, level in enumerate(layer.levels) if level)
        if not any(shadows <= places for places in over.values()):
            broken.append(("6b", plan))
    assert broken == []
    assert plans.by_count


@pytest.mark.parametrize(
    ("school", "finish"),
    [
        ("darks_first", "burnish"),
        ("white_then_glaze", "smudge"),
        ("lights_reserved", "smudge"),
        ("light_to_dark", "wet"),
    ],
)
def test_a_plan_ends_as_the_artist_wants_and_says_what_that_gives(school: str, finish: str) -> None:
    rng = np.random.default_rng(7)
    method = methods()[school]
    every = a_range(RANGES[method.medium]).sticks
    some = tuple(every[i] for i in sorted(rng.choice(len(every), 14, replace=False)) if not every[i].colourless)
    setup = replace(usual_setup(method.medium), method=school, finish=finish, reserve=True)
    laid_out, spots = lay_out(Tray("some", some), setup), complexion(rng)
    plan = plan_figure(laid_out, spots, most=3).of(4)
    broken = []

    def rule(number: str, holds: bool, what: object) -> None:
        if not holds:
            broken.append((number, what))

    ends = [layer for layer in plan.layers if layer.technique != "lay"]
    assert {layer.technique for layer in ends} == {finish}
    stacks_of = [plan.passes_at(place) for place in range(len(spots))]
    for spot, stack in zip(spots, stacks_of, strict=True):
        techniques = [pass_.technique for pass_ in stack]
        rule("7c", len(stack) <= setup.max_passes, spot.name)
        rule("7c", spot.role != "highlight" or set(techniques) <= {"lay", "flick"}, spot.name)
        if finish == "burnish" and "burnish" in techniques:
            burnisher = next(stick for stick in some if stick.code == stack[-1].stick)
            rule("7a", techniques.index("burnish") == len(stack) - 1, spot.name)
            if spot.role in SHADOW_ROLES:
                rule("7a", any(p.stick == burnisher.code for other in stacks_of for p in other[:-1]), spot.name)
            else:
                rule("7a", burnisher.lab[0] > 80, burnisher.name)
        if "smudge" in techniques:
            rule("7b", techniques.index("smudge") >= max(1, len(stack) - 2), stack)
    assert broken == []
    # What is promised is what the exact model says of the passes.
    seen = np.array([colours_after(laid_out.kit, stack)[-1] for stack in stacks_of])
    off = ciede2000(laid_out.judged(np.array([spot.lab for spot in spots])), seen)
    assert float(off.mean()) == pytest.approx(plan.expected.planned, abs=0.15)


def test_every_rule_that_is_called_hard_is_tried_here() -> None:
    rows = [line.split("|") for line in (ROOT / "docs/rules.md").read_text().splitlines() if line.startswith("| ")][1:]
    hard = {row[1].strip() for row in rows if "hard" in row[-2]}
    tried = "".join(file.read_text() for file in (Path(__file__), Path(__file__).with_name("test_beneath.py")))
    assert hard
    assert all(f'"{number}"' in tried for number in hard), hard
    assert len(hard) == len([row for row in rows if "hard" in row[-2]])
    assert all(a[1] < b[1] for a, b in pairwise(rows))
