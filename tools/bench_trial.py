"""How true predictions are against a nature of other physics (tools.nature), before and after trial cards."""

from __future__ import annotations

import itertools
import sys
import time
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import cache

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.exchange.tray_csv import read_tray
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Stick, Tray
from core.optics.support import supports
from core.plan.setup import LaidOutTray, Setup, lay_out, usual_setup
from core.plan.solve import Wanted, chosen, solve
from core.plan.trying import by_other_hands
from core.skin.reflectance import skin_reflectance
from core.trial.joint import Learnt, MeasuredBox, learn
from core.trial.teaching import Stack, offered, teach_most
from tools.nature import Nature
from tools.site import ROOT

RANGES = {"pencil": "gangway-36", "marker": "breakwater-60", "pastel": "quay-chalk-48", "oil_pastel": "winch-48"}
STICKS, HAND, READING = 24, 0.15, 1.0
CARDS = (12, 48, 96)
_NATURES, _PIECES = 16, 4
"""How many natures are tried, and for how many pieces cards are made."""
_TARGETS = 12
_PIECE = 72


def tray_of(medium: str, count: int = STICKS) -> tuple[Stick, ...]:
    """So many sticks of a range, spread over it."""
    held = read_tray((ROOT / f"demo/ranges/{RANGES[medium]}.csv").read_bytes()).sticks
    usable = [stick for stick in held if stick.medium == medium and not stick.colourless]
    return tuple(usable[int(i)] for i in np.linspace(0, len(usable) - 1, count).round())


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


def nature_of(medium: str, seed: int) -> Nature:
    """The tray as it really is."""
    return Nature(seed, tray_of(medium), supports()[setup_of(medium).paper])


@cache
def card_of(medium: str, boxes: int, piece: int = 0) -> tuple[Stack, ...]:
    """What a card of so many boxes asks for a piece with skins of all complexions."""
    laid_out, untried = _begun(medium)
    wanted, planned = _planned(medium, piece)
    aims = list(dict.fromkeys([*planned, *by_other_hands(laid_out, wanted, untried, boxes)]))
    return teach_most(untried, offered(aims), aims, boxes).stacks


@cache
def _begun(medium: str) -> tuple[LaidOutTray, Learnt]:
    laid_out = lay_out(Tray("", tray_of(medium)), setup_of(medium))
    return laid_out, learn(tray_of(medium), laid_out.box.support, medium, [])


@cache
def _planned(medium: str, piece: int) -> tuple[list[Wanted], list[Stack]]:
    wanted = [Wanted(lab) for lab in skins(_PIECE, 5 + piece)]
    return wanted, [stack for stack in chosen(_begun(medium)[0], wanted) if stack]


def alone_of(medium: str) -> tuple[Stack, ...]:
    """A card of single sticks, each at every pressure."""
    pressures = get_medium(medium).pressures
    return tuple((Pass(stick.code, p),) for stick in tray_of(medium) for p in pressures)


def boxes_of(nature: Nature, card: Sequence[Stack]) -> list[MeasuredBox]:
    """A card laid by a hand and read by a camera."""
    boxes = []
    for stack in card:
        lightness, a, b = nature.lab(stack, HAND, READING)
        boxes.append(MeasuredBox(tuple(stack), (float(lightness), float(a), float(b)), READING))
    return boxes


def off_of_fresh_plans(
    medium: str, seed: int, nature: Nature, learnt: Learnt, card: Sequence[Stack] = ()
) -> tuple[Floats, Floats, Floats]:
    """Of plans for other skins than the card's, made anew with the tray as it was learnt from it: ΔE00 (n,) between
    what is promised and what a steady hand and a hand that varies make of it in nature, and the bands stated."""
    sticks = learnt.doubted(card) if card else learnt.sticks
    laid_out = lay_out(Tray("", sticks), setup_of(medium), learnt.support)
    recipes = [
        recipe for recipe in solve(laid_out, [Wanted(lab) for lab in skins(_TARGETS, 100 + seed)]) if recipe.steps
    ]
    stacks = [[step.pass_ for step in recipe.steps] for recipe in recipes]
    promised = np.array([recipe.result.lab for recipe in recipes])
    steady, by_hand = (np.array([nature.lab(stack, hand) for stack in stacks]) for hand in (0.0, HAND))
    return ciede2000(promised, steady), ciede2000(promised, by_hand), learnt.bands(stacks)


@dataclass(frozen=True, slots=True)
class _Case:
    """A nature, a card for it, and the number of the skins that are planned then."""

    medium: str
    nature: int
    card: tuple[Stack, ...]
    fresh: int


def _judged(case: _Case) -> tuple[Floats, Floats, Floats, float]:
    """As `off_of_fresh_plans`, and the seconds of CPU that the fit took."""
    nature = nature_of(case.medium, case.nature)
    boxes = boxes_of(nature, case.card)
    began = time.process_time()
    learnt = learn(tray_of(case.medium), nature.support, case.medium, boxes)
    seconds = time.process_time() - began
    return *off_of_fresh_plans(case.medium, case.fresh, nature, learnt, case.card), seconds


def bench_trial(media: Sequence[str] = tuple(RANGES)) -> None:
    """What is promised of fresh plans, with sticks as their list says and after cards of 12, 48 and 96 boxes."""
    for medium in media:
        start = time.perf_counter()
        cards = {
            "no card": [()],
            **{f"{n} boxes": [card_of(medium, n, piece) for piece in range(_PIECES)] for n in CARDS},
            "single sticks": [alone_of(medium)],
        }
        with ProcessPoolExecutor() as pool:
            for said, every in cards.items():
                cases = [_Case(medium, n, every[piece % len(every)], fresh) for n, piece, fresh in _crossed(said)]
                *offs, seconds = zip(*pool.map(_judged, cases), strict=True)
                steady, by_hand, bands = (np.concatenate(part) for part in offs)
                print(
                    f"{medium}, {said}: off by {np.median(steady):.2f} (p90 {np.percentile(steady, 90):.1f}),"
                    f" by a hand {np.median(by_hand):.2f} ({np.percentile(by_hand, 90):.1f});"
                    f" {100 * (steady < bands).mean():.0f} of 100 within ± {np.median(bands):.1f};"
                    f" fitted in {max(seconds):.1f} s CPU",
                    flush=True,
                )
        print(f"  ({time.perf_counter() - start:.0f} s)")


def _crossed(said: str) -> list[tuple[int, int, int]]:
    """Nature, piece of the card and skins that are planned then: every nature with one card, and of half of them with
    cards for all pieces where it matters most for which one it was made."""
    if said == f"{CARDS[0]} boxes":
        few = _NATURES // 2
        every = itertools.product(range(_PIECES), range(few))
        return [(nature, (nature + turn) % _PIECES, nature + turn * few) for turn, nature in every]
    return [(nature, nature % _PIECES, nature) for nature in range(_NATURES)]


def bench_large_fit() -> None:
    """72 sticks and 192 boxes."""
    sticks, support = tray_of("pencil", 36), supports()[setup_of("pencil").paper]
    many = (*sticks, *(Stick(f"x{s.code}", s.name, s.medium, s.hex, s.opacity) for s in sticks))
    nature, rng = Nature(1, many, support), np.random.default_rng(1)
    pressures = ("light", "medium", "heavy")
    boxes = []
    for i in range(192):
        chosen = [many[i % 72], *(many[j] for j in rng.choice(72, rng.integers(0, 3), replace=False))]
        passes = tuple(Pass(stick.code, pressures[rng.integers(3)], int(rng.integers(1, 3))) for stick in chosen)
        lightness, a, b = nature.lab(passes, HAND, READING)
        boxes.append(MeasuredBox(passes, (float(lightness), float(a), float(b))))
    began = time.process_time()
    learn(many, support, "pencil", boxes)
    print(f"72 sticks, 192 boxes: fitted in {time.process_time() - began:.1f} s CPU")


if __name__ == "__main__":
    bench_trial(sys.argv[1:] or tuple(RANGES))
    bench_large_fit()
