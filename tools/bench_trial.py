"""How true predictions are against a nature of other physics (tools.nature)."""

from __future__ import annotations

import time
from collections.abc import Sequence

import numpy as np

from core.colour.difference import ciede2000
from core.exchange.tray_csv import read_tray
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Stick, Tray
from core.optics.support import supports
from core.plan.setup import Setup, lay_out, usual_setup
from core.plan.solve import Wanted, solve
from core.skin.reflectance import skin_reflectance
from tools.nature import Nature
from tools.site import ROOT

RANGES = {"pencil": "gangway-36", "marker": "breakwater-60", "pastel": "quay-chalk-48", "oil_pastel": "winch-48"}
STICKS, HAND, READING = 24, 0.15, 1.0
_SEEDS = 4
_TARGETS = 24


def tray_of(medium: str) -> tuple[Stick, ...]:
    """24 sticks of a range, spread over it."""
    held = read_tray((ROOT / f"demo/ranges/{RANGES[medium]}.csv").read_bytes()).sticks
    usable = [stick for stick in held if stick.medium == medium and not stick.colourless]
    return tuple(usable[int(i)] for i in np.linspace(0, len(usable) - 1, STICKS).round())


def skins(count: int, seed: int) -> list[tuple[float, float, float]]:
    """Colours of skin in light and shade, of all complexions."""
    rng = np.random.default_rng(seed)
    found = []
    for _ in range(count):
        skin = (0.016 * 16 ** rng.random(), rng.uniform(0.008, 0.04), rng.uniform(0.1, 2.0))
        lightness, a, b = reflectance_to_lab(rng.uniform(0.35, 1.0) * skin_reflectance(skin))
        found.append((float(lightness), float(a), float(b)))
    return found


def setup_of(medium: str) -> Setup:
    """The usual one."""
    return usual_setup(medium)


def off_of_fresh_plans(medium: str, seed: int) -> list[float]:
    """ΔE00 between what is promised of plans for skins and what nature makes of them, by a hand."""
    sticks, setup = tray_of(medium), setup_of(medium)
    nature = Nature(seed, sticks, supports()[setup.paper])
    wanted = [Wanted(lab) for lab in skins(_TARGETS, 100 + seed)]
    recipes = solve(lay_out(Tray("", sticks), setup), wanted)
    return [
        float(ciede2000(np.array(recipe.result.lab), nature.lab([step.pass_ for step in recipe.steps], HAND)))
        for recipe in recipes
        if recipe.steps
    ]


def bench_trial(media: Sequence[str] = tuple(RANGES)) -> None:
    """What is promised of fresh plans against a nature of other physics, with sticks as their list says."""
    for medium in media:
        start, off = time.perf_counter(), []
        for seed in range(_SEEDS):
            off += off_of_fresh_plans(medium, seed)
        told = f"{np.median(off):.1f}, p90 {np.percentile(off, 90):.1f}"
        print(f"promised and laid, {medium}: off by {told} ({time.perf_counter() - start:.0f} s)")


if __name__ == "__main__":
    bench_trial()
