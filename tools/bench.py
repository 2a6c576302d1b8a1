"""Print the figures that Caltin is held to: quality of the search against the exhaustive optimum, and speed.

Run: ./caltin bench, or with the names of some of them: ./caltin bench layers long_searches
"""

from __future__ import annotations

import io
import os
import statistics
import sys
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from scipy.optimize import differential_evolution

from core.colour.spaces import lab_to_hex
from core.exchange.tray_csv import read_tray
from core.look.picture import read_picture
from core.look.reading import Disc, read_spot
from core.look.study import WORKING_SIZE, Person, study
from core.look.views import enlarged, scaled
from core.optics.media import get_medium
from core.optics.medium import MAX_REPEATS
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Tray
from core.optics.support import get_support
from core.plan.setup import Setup, lay_out
from core.plan.solve import Wanted, candidates, mix, solve
from core.recipe import rules
from core.recipe.choose import choose, finalists
from core.recipe.cost import SENSITIVITY_COST, colour_cost
from core.recipe.forecast import Palette, forecast
from core.recipe.palette import choose_palette, pair_costs
from core.recipe.table import Table
from core.skin.reflectance import layers, skin_reflectance
from core.skin.solve import skins_of
from tools.bench_compare import bench_comparing
from tools.bench_eyes import bench_eyes, bench_look
from tools.bench_layers import bench_layers, bench_long_searches
from tools.bench_layers_http import bench_layers_over_http
from tools.bench_light import bench_drag, bench_light
from tools.bench_photo import bench_card_photos, bench_photos
from tools.bench_trial import bench_large_fit, bench_trial
from tools.derive_skin import report
from tools.exhaustive import Exhaustive, piece_cost
from tools.site import Json, Visitor, demo_server, seen, to_send
from tools.skin_archive import read_archive

ROOT = Path(__file__).parents[1]
COMPLEXIONS = (
    (0.018, 0.012, 0.2), (0.030, 0.012, 0.35), (0.044, 0.020, 0.4), (0.058, 0.018, 1.0), (0.077, 0.024, 0.9),
    (0.107, 0.037, 2.0), (0.152, 0.030, 1.7), (0.245, 0.020, 1.0),
)  # fmt: skip
"""Melanin, blood and carotene, from the palest to the deepest."""


def skin_targets() -> np.ndarray:
    """24 targets (24, 3) in CIELAB: eight complexions, each as base, in light and in shadow."""
    base = reflectance_to_lab(skin_reflectance(COMPLEXIONS))
    light = base * [1.0, 0.8, 0.8] + [10.0, 0.0, 0.0]
    shadow = base * [0.62, 0.9, 0.9]
    return np.concatenate([base, light, shadow])


def tray(name: str) -> Tray:
    """One of the stand-in ranges."""
    return read_tray((ROOT / f"demo/ranges/{name}.csv").read_bytes(), name)


def timed(run: Callable[[], object], times: int = 5) -> tuple[float, float]:
    """Median and worst wall time in seconds."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        took.append(time.perf_counter() - start)
    return statistics.median(took), max(took)


def bench_gap() -> None:
    """The choice's cost above the exhaustive optimum of the same cost: 16 and 24 sticks, up to 3 passes, no rules."""
    targets = skin_targets()
    sticks = tray("long-pier-72").sticks
    rng = np.random.default_rng(7)
    for size in (16, 24):
        some = tuple(sticks[i] for i in sorted(rng.choice(len(sticks), size, replace=False)))
        box = get_medium("pencil").prepare(some, get_support("medium-white"))
        table = Table(box, rules.free(box))
        lists = finalists(table, targets, 3)
        mine = np.array([hits[0].cost for hits in lists])
        start = time.perf_counter()
        every = Exhaustive(table, targets, 3)
        best = every.per_spot()
        gap = 100 * (mine / best - 1)
        piece = 100 * (piece_cost(table, choose(table, lists)) / every.of_piece() - 1)
        print(
            f"gap to the exhaustive optimum, {size} sticks, 3 passes, 24 targets: mean {gap.mean():.2f} %, "
            f"worst {gap.max():.2f} % of the optimal cost (mean {best.mean():.2f}); with the sticks of the whole "
            f"piece {piece:.2f} % (exhaustive {time.perf_counter() - start:.0f} s)"
        )


def bench_optimiser() -> None:
    """The same cost by scipy's differential evolution over sticks, pressures and repeats of up to three passes."""
    targets = skin_targets()
    box = get_medium("pencil").prepare(tray("long-pier-72").sticks, get_support("medium-white"))
    table = Table(box, rules.free(box))
    ours, _ = timed(lambda: finalists(Table(box, rules.free(box)), targets, 3), 3)
    mine = [hits[0].cost for hits in finalists(table, targets, 3)]
    n_actions = len(box.actions)
    ratios, reached = [], 0
    for number in (1, 4, 9, 18):
        start = time.perf_counter()
        found = differential_evolution(
            _cost_of(table, targets[number]), [(0, 2 * n_actions)] * 3, popsize=60, maxiter=500, tol=0, seed=1,
            polish=False, vectorized=True, updating="deferred", callback=_until(mine[number]),
        )  # fmt: skip
        ratios.append((time.perf_counter() - start) / (ours / len(targets)))
        reached += bool(found.fun <= mine[number] + 1e-6)
    print(
        f"scipy's differential evolution, 72 sticks: {statistics.median(ratios):.0f} times as long for a target "
        f"(ours {1000 * ours / len(targets):.0f} ms, table included), as good or better in {reached} of {len(ratios)}"
    )


def _until(cost: float) -> Callable[..., bool]:
    """Ends an optimiser as soon as it is as good."""

    def reached(intermediate_result: Any) -> bool:
        return bool(intermediate_result.fun <= cost + 1e-6)

    return reached


def _cost_of(table: Table, target: np.ndarray) -> Callable[[np.ndarray], np.ndarray]:
    """Cost of stacks (3, n) written as numbers of actions; one beyond the last means that there is no such pass."""
    n_actions = len(table.box.actions)

    def cost(x: np.ndarray) -> np.ndarray:
        places = np.minimum(x.reshape(3, -1).T.astype(int), 2 * n_actions - 1)
        out = np.full(len(places), 99.0)
        for depth in (1, 2, 3):
            deep = np.flatnonzero((places < n_actions).sum(axis=1) == depth)
            if len(deep):
                paths = np.array([row[row < n_actions] for row in places[deep]])
                labs = table.labs_of(table.run(paths)[0]).astype(float)
                hand = SENSITIVITY_COST * table.tolerances(paths)
                out[deep] = colour_cost(target, labs) + table.costs[paths].sum(axis=1) + hand
        return out

    return cost


def bench_palette() -> None:
    """The best eight of 72, and the drawing foreseen at the full size of a demo picture."""
    targets, laid_out = skin_targets(), lay_out(tray("long-pier-72"), Setup())
    took = timed(lambda: choose_palette(laid_out.table, targets, 8), 3)
    pairs = pair_costs(laid_out.table, targets)
    again = timed(lambda: choose_palette(laid_out.table, targets, 8, pairs=pairs), 3)
    print(f"best 8 of 72 sticks for 24 targets: median {took[0]:.2f} s; another size afterwards {again[0]:.3f} s")
    picture = read_picture((ROOT / "demo/references/night-watch.jpg").read_bytes())
    small = scaled(picture, 1800)
    owners = enlarged(study(scaled(picture, WORKING_SIZE), None, [Person(), Person()]).coloured, small)
    palettes = [Palette(targets, targets + 1.0)] * 2
    drawn = timed(lambda: forecast(small, owners, palettes))
    mega = small.width * small.height / 1e6
    print(
        f"forecast of {mega:.1f} MP, two figures with 24 recipes each: median {drawn[0]:.2f} s, worst {drawn[1]:.2f} s"
    )


def bench_solve() -> None:
    """24 targets × 72 and × 150 sticks, cold and with the table at hand; growth with targets and sticks."""
    targets, setup, owned = skin_targets(), Setup(), tray("long-pier-72")
    rng = np.random.default_rng(5)
    more = [
        replace(s, code=f"{s.code}-{turn}", hex=lab_to_hex(s.lab + rng.normal(0, 5, 3)))
        for turn in (1, 2)
        for s in owned.sticks
    ]
    large = Tray("large", (*owned.sticks, *more)[:150])

    def cold(sticks: Tray, wanted: np.ndarray, setup: Setup = setup) -> tuple[float, float]:
        return timed(lambda: mix(lay_out(sticks, setup), wanted, [""] * len(wanted)), 3)

    def warm(sticks: Tray, wanted: np.ndarray) -> tuple[float, float]:
        laid_out = lay_out(sticks, setup)
        mix(laid_out, wanted, [""] * len(wanted))
        return timed(lambda: mix(laid_out, wanted, [""] * len(wanted)), 3)

    for name, sticks in (("72", owned), ("150", large)):
        c, w = cold(sticks, targets), warm(sticks, targets)
        print(
            f"24 targets × {name} sticks × 4 passes: cold {c[0]:.2f} s (worst {c[1]:.2f}), table at hand {w[0]:.2f} s"
        )
    few = cold(owned, targets, Setup(max_sticks=12))
    print(f"  72 sticks, cold, best 12 only: median {few[0]:.2f} s, worst {few[1]:.2f} s")
    laid_out = lay_out(owned, setup)
    wanted = [Wanted.of(target) for target in targets]
    lists = candidates(laid_out, wanted)
    settled, _ = timed(lambda: solve(laid_out, wanted, lists=lists), 3)
    print(f"  choosing again with the best stacks at hand: {settled:.2f} s")
    by_targets = {n: cold(owned, np.repeat(targets, -(-n // 24), axis=0)[:n])[0] for n in (6, 24, 96)}
    print("  growth with targets (72 sticks): " + ", ".join(f"{n}: {t:.2f} s" for n, t in by_targets.items()))
    by_sticks = {n: cold(Tray("some", large.sticks[:n]), targets)[0] for n in (12, 24, 48, 96, 150)}
    print("  growth with sticks (24 targets): " + ", ".join(f"{n}: {t:.2f} s" for n, t in by_sticks.items()))


def bench_optics() -> None:
    """Passes a second in the search's own form, and how long a tray of 150 takes to be made ready."""
    for medium, name, paper in (
        ("pencil", "long-pier-72", "medium-white"),
        ("marker", "breakwater-60", "marker-card"),
        ("pastel", "quay-chalk-48", "warm-grey"),
        ("oil_pastel", "winch-48", "oil-paper"),
    ):
        sticks = tray(name).sticks
        box = get_medium(medium).prepare(sticks, get_support(paper))
        blank, bare = box.blank()
        roots, deposits = box.expand(blank, bare)
        group, filled = np.repeat(roots[0, :1], 64, axis=0), float(deposits[0])
        passes = 64 * sum(action.repeats for action in box.actions if action.repeats == MAX_REPEATS)
        took, _ = timed(lambda box=box, group=group, filled=filled: box.expand(group, filled))
        many = tuple(replace(s, code=f"{s.code}-{i}") for i in range(4) for s in sticks)[:150]
        ready, _ = timed(
            lambda medium=medium, many=many, paper=paper: get_medium(medium).prepare(many, get_support(paper)), 3
        )
        print(f"{medium}: {passes / took / 1e6:.1f} million passes a second; 150 sticks made ready in {ready:.2f} s")


def bench_picture() -> None:
    """A 12 MP JPEG with Display P3 profile, turned by EXIF: decoding and 24 spots."""
    rng = np.random.default_rng(3)
    coarse = Image.fromarray(rng.integers(30, 226, (75, 100, 3), dtype=np.uint8))
    smooth = np.asarray(coarse.resize((4000, 3000), Image.Resampling.BICUBIC), dtype=np.int16)
    noisy = np.clip(smooth + rng.integers(-6, 7, smooth.shape), 0, 255).astype(np.uint8)
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    profile = (ROOT / "core/look/data/display-p3.icc").read_bytes()
    Image.fromarray(noisy).save(out, "JPEG", quality=90, exif=exif.tobytes(), icc_profile=profile)
    discs = [Disc(0.1 + 0.03 * i, 0.2 + 0.02 * i, 0.01) for i in range(24)]

    def read() -> None:
        picture = read_picture(out.getvalue())
        for disc in discs:
            read_spot(picture, disc)

    took = timed(read)
    size_mb = len(out.getvalue()) / 1e6
    print(
        f"12 MP photograph ({size_mb:.1f} MB), decoded and 24 spots read: median {took[0]:.2f} s, worst {took[1]:.2f} s"
    )


def bench_http() -> None:
    """One changed pass, over HTTP on loopback: the whole round trip of POST …/predict."""
    with demo_server() as server:
        visitor = Visitor.signed_in(server)
        address = f"/api/pieces/{visitor.ask('/api/pieces').json[0]['id']}"
        piece = visitor.ask(address).json
        spot, passes = max(((spot, _passes_at(piece, spot["id"])) for spot in seen(piece)), key=lambda row: len(row[1]))
        body = {"target": spot["reading"]["swatch"]["lab"], "role": spot["role"], "passes": passes}
        took = []
        for i in range(300):
            passes[-1]["repeats"] = 1 + i % 3
            start = time.perf_counter()
            visitor.ask(f"{address}/predict", body)
            took.append((time.perf_counter() - start) * 1000)
        print(
            f"one changed pass over HTTP ({len(passes)} passes, 300 requests): "
            f"median {statistics.median(took):.1f} ms, p95 {np.percentile(took, 95):.1f} ms, worst {max(took):.1f} ms"
        )


def _passes_at(piece: Json, spot: str) -> list[Json]:
    """What the layers of a piece lay at a spot."""
    return [
        {"stick": layer["stick"], "technique": layer["technique"], **level}
        for layer in piece["document"]["layers"]
        if (level := layer["levels"].get(spot))
    ]


def bench_skin() -> None:
    """Skin against measured spectra that nothing was fitted to, by depth; and what finding a skin of a colour takes."""
    others = read_archive().halves()[1]
    start = time.perf_counter()
    skins_of(others.labs)
    took = time.perf_counter() - start
    report(others, layers())
    print(f"skins of {len(others.labs)} colours: {took:.2f} s")


def bench_beside() -> None:
    """An artist's edits while two long mixings run for another one, against the same edits alone: p95, five runs."""
    with demo_server() as server:
        busy, other = Visitor.signed_in(server, "busy"), Visitor.signed_in(server)
        pieces = [_long_piece(busy, number) for number in range(2)]
        address = f"/api/pieces/{other.ask('/api/pieces').json[0]['id']}"
        piece = other.ask(address).json
        state = {"version": piece["version"], "found": piece["keys"]["found"]}

        def edits(count: int = 60) -> float:
            took = []
            for i in range(count):
                changes = {"spots/spot-1/x": 0.3 + 0.001 * (i % 50), "spots/spot-1/name": f"edit {i}"}
                start = time.perf_counter()
                answer = other.ask(
                    address, {"version": state["version"], "changes": changes, "known": state["found"]}, "PATCH"
                )
                took.append((time.perf_counter() - start) * 1000)
                assert answer.status == 200, answer.body[:300]
                state.update(version=answer.json["version"], found=answer.json["keys"]["found"])
            return float(np.percentile(took, 95))

        def mixing(piece: Json, stop: threading.Event) -> None:
            tab, passes = busy.beside(), 0
            now = {"version": piece["version"], "id": piece["id"]}
            while not stop.is_set():
                passes += 1
                change = {"setup/max_passes": 2 + passes % 3, "setup/max_sticks": 10 + passes}
                saved = tab.ask(f"/api/pieces/{now['id']}", {"version": now["version"], "changes": change}, "PATCH")
                assert saved.status == 200, saved.body[:300]
                now["version"] = piece["version"] = saved.json["version"]
                answer = tab.ask_until_done(f"/api/pieces/{now['id']}/prepare", {"spots": []})
                assert answer.status == 200, answer.body[:300]

        edits()
        alone, beside = [], []
        for _ in range(5):
            alone.append(edits())
            stop = threading.Event()
            threads = [threading.Thread(target=mixing, args=(piece, stop)) for piece in pieces]
            for thread in threads:
                thread.start()
            time.sleep(0.5)
            beside.append(edits())
            stop.set()
            for thread in threads:
                thread.join()
        ratios = [b / a for a, b in zip(alone, beside, strict=True)]
        print(
            f"an edit while two long mixings run for somebody else: p95 {statistics.median(beside):.1f} ms, alone "
            f"{statistics.median(alone):.1f} ms: {statistics.median(ratios):.2f} times (median of five)"
        )


def _long_piece(visitor: Visitor, number: int) -> Json:
    """A piece with 200 spots and a tray of 72."""
    tray = visitor.ask("/api/trays", {"name": f"large {number}", "range": "long-pier-72"}).json["id"]
    picture = visitor.upload((ROOT / "demo/references/night-watch.jpg").read_bytes()).json["id"]
    made = visitor.ask("/api/pieces", {"title": f"Long {number}"}).json
    rng = np.random.default_rng(number)
    spots = [
        {
            "id": f"s{i}", "figure": "figure-1", "name": f"s{i}", "place": "cheek", "role": "middle",
            "x": float(rng.uniform(0.1, 0.9)), "y": float(rng.uniform(0.1, 0.9)), "radius": 0.005,
        }
        for i in range(200)
    ]  # fmt: skip
    document = made["document"] | {"tray": tray, "picture": picture, "spots": spots}
    piece: Json = visitor.ask(f"/api/pieces/{made['id']}", to_send(made, document=document), "PUT").json
    return piece


FIGURES: tuple[Callable[[], None], ...] = (
    bench_solve,
    bench_layers,
    bench_palette,
    bench_optics,
    bench_picture,
    bench_look,
    bench_eyes,
    bench_skin,
    bench_light,
    bench_comparing,
    bench_photos,
    bench_card_photos,
    bench_trial,
    bench_large_fit,
    bench_http,
    bench_layers_over_http,
    bench_drag,
    bench_beside,
    bench_optimiser,
    bench_gap,
)
BY_NAME_ALONE = (bench_long_searches,)
"""What takes hours."""


def main(names: Sequence[str]) -> None:
    """Prints the figures of these names, or all but those that take hours."""
    every = {figure.__name__.removeprefix("bench_"): figure for figure in (*FIGURES, *BY_NAME_ALONE)}
    if unknown := [name for name in names if name not in every]:
        sys.exit(f"There is no {unknown[0]}. Use {', '.join(every)}.")
    for figure in [every[name] for name in names] or FIGURES:
        figure()


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    main(sys.argv[1:])
