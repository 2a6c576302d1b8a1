"""How long an artist waits for layers over HTTP: plans, edits, pictures."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from threading import Event, Thread
from typing import Any

import numpy as np

from tools.site import Visitor, demo_server

_EDITS, _PICTURES = 120, 40


def bench_layers_over_http() -> None:
    """The first plan and all plans of a piece, every kind of edit, and the picture with the maps as they are."""
    with demo_server() as server:
        visitor = Visitor.signed_in(server)
        rows = visitor.ask("/api/pieces").json
        address = f"/api/pieces/{max(rows, key=lambda row: row['spots'])['id']}"
        piece = visitor.ask(address).json
        figures, spots = piece["document"]["figures"], piece["document"]["spots"]
        question = {"figure": figures[0]["id"], "first": True}
        first = _took(lambda: visitor.ask_until_done(f"{address}/layers/plans", question))
        body = {"version": piece["version"], "figures": [figure["id"] for figure in figures]}
        whole = _took(lambda: visitor.ask_until_done(f"{address}/layers", body))
        print(f"{len(figures)} figures with {len(spots)} spots over HTTP: first plan {first:.1f} s, all {whole:.1f} s")
        _bench_edits(visitor, address)
        maps = _took(lambda: visitor.ask_until_done(f"{address}/layers/maps", {}))
        print(f"maps of all figures over HTTP: {maps:.1f} s")
        _bench_pictures(visitor, address)


def _took(ask: Callable[[], Any]) -> float:
    start = time.perf_counter()
    answer = ask()
    assert answer.status == 200, answer.body[:300]
    return time.perf_counter() - start


def _bench_edits(visitor: Visitor, address: str) -> None:
    piece = visitor.ask(address).json
    layer = next(row for row in piece["document"]["layers"] if len(row["levels"]) > 3)
    spot = next(key for key, level in layer["levels"].items() if level)
    tray = visitor.ask(f"/api/trays/{piece['document']['tray']}").json["sticks"]
    sticks = [row["code"] for row in tray if row["medium"] == piece["document"]["setup"]["medium"]]
    changes: dict[str, Callable[[int], dict[str, Any]]] = {
        "how hard at one spot": lambda i: {
            f"layers/{layer['id']}/levels": layer["levels"] | {spot: {"pressure": "light", "repeats": 1 + i % 3}}
        },
        "another stick": lambda i: {f"layers/{layer['id']}/stick": sticks[i % len(sticks)]},
        "another order": lambda i: {"layers": [row["id"] for row in piece["document"]["layers"]][:: 1 - 2 * (i % 2)]},
    }
    state = {"version": piece["version"], "found": piece["keys"]["found"]}
    done = Event()
    drawing = Thread(target=_drawing_maps, args=(visitor.beside(), address, done))
    rows = [*changes.items(), ("another stick while maps are drawn", changes["another stick"])]
    for name, change in rows:
        if "maps" in name:
            drawing.start()
        took = []
        for i in range(_EDITS):
            body = {"version": state["version"], "changes": change(i), "known": state["found"]}
            start = time.perf_counter()
            answer = visitor.ask(address, body, "PATCH")
            took.append((time.perf_counter() - start) * 1000)
            assert answer.status == 200, answer.body[:300]
            state = {"version": answer.json["version"], "found": answer.json["keys"]["found"]}
        print(f"a layer changed, {name}: median {statistics.median(took):.0f} ms, p95 {np.percentile(took, 95):.0f} ms")
    done.set()
    drawing.join()


def _drawing_maps(visitor: Visitor, address: str, done: Event) -> None:
    """Asks for maps of every state there is, as an editor does."""
    while not done.is_set():
        visitor.ask_until_done(f"{address}/layers/maps", {})
        time.sleep(0.3)


def _bench_pictures(visitor: Visitor, address: str) -> None:
    piece = visitor.ask(address).json
    made = visitor.ask_until_done(f"{address}/layers/maps", {}).json
    names = "&".join(f"maps={row['maps']}" for row in made["figures"] if row["maps"])
    layer = next(row for row in piece["document"]["layers"] if row["technique"] == "lay")
    sticks = [row["stick"] for row in piece["document"]["layers"] if row["technique"] == "lay"]
    version, took = piece["version"], []
    for i in range(_PICTURES):
        changes = {f"layers/{layer['id']}/stick": sticks[i % len(sticks)]}
        answer = visitor.ask(address, {"version": version, "changes": changes, "known": ""}, "PATCH")
        version = answer.json["version"]
        upto = 1 + i % len(piece["document"]["layers"])
        took.append(1000 * _took(lambda upto=upto: visitor.ask(f"{address}/layers/picture?upto={upto}&{names}")))
    large = _took(lambda: visitor.ask(f"{address}/layers/picture?size=1800&{names}"))
    print(
        f"the picture after a change, with the maps as they are: median {statistics.median(took):.0f} ms, p95 "
        f"{np.percentile(took, 95):.0f} ms, worst {max(took):.0f} ms at 480 px; {large:.1f} s at 1800 px"
    )
