"""Imagined light: what a frame, a turn, a fit and a drag over HTTP cost, how true shadows and re-lit skins are.

Run alone: python -m tools.bench_light
"""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from dataclasses import asdict, replace

import numpy as np

from core.light.families import proposed, targets
from core.light.lamps import Lamp
from core.light.model import study_model
from core.light.picture import as_it_is
from core.light.scene import Around, Key, Scene, Sitter
from core.light.shade import light
from core.light.sheet import drawn, lit_of
from core.light.view import view
from core.light.words import PRESETS
from core.skin.describe import Description, skins_at
from tools.site import Visitor, demo_server

_FRAMES = 40


def _cpu_ms(run: Callable[[], object], times: int = 7) -> float:
    run()
    took = []
    for _ in range(times):
        start = time.process_time()
        run()
        took.append(time.process_time() - start)
    return 1e3 * float(np.median(took))


def bench_light() -> None:
    """Prints the figures of the computation, on one core."""
    print("\nImagined light (CPU on one core)")
    scene = PRESETS["window"].on(Scene((Sitter("", Description(57), "head", 8.0),)))
    for size, wanted in ((256, ""), (384, " (wanted: 100)"), (512, ""), (768, "")):
        frame = _cpu_ms(lambda size=size: as_it_is(light(scene, 0, size)))  # type: ignore[misc]

        def turn(size: int = size) -> None:
            view.cache_clear()
            view("head", 8.0, 0.0, size)

        print(f"  {size}²: a frame {frame:.0f} ms{wanted}, a new turn {_cpu_ms(turn):.0f} ms more" +
              (" (wanted: 200)" if size == 384 else ""))  # fmt: skip

    def load() -> None:
        study_model.cache_clear()
        study_model("bust")

    def fit() -> None:
        skins_at.cache_clear()
        skins_at(Description(57), study_model("bust").places)

    lit = light(scene, 0, 384)
    print(f"  reading the head {_cpu_ms(load):.0f} ms, a complexion at all its places {_cpu_ms(fit):.0f} ms")
    print(f"  families and targets {_cpu_ms(lambda: targets(lit)):.0f} ms, "
          f"proposing spots {_cpu_ms(lambda: proposed(lit, targets(lit))):.0f} ms")  # fmt: skip
    two = replace(scene, sitters=(*scene.sitters, Sitter("", Description(30), "bust", -12.0)))

    def sheet() -> None:
        lit_of.cache_clear()
        drawn(two)

    print(f"  a sheet of two, turned before {_cpu_ms(sheet, 3):.0f} ms")


def bench_drag() -> None:
    """Prints how many pictures a second follow a lamp and a head that are dragged, one asked for after the other."""
    print("\nDragging over HTTP, 256², one request after the other (wanted: 8 a second)")
    around = (Around("sky", Lamp("daylight", 9000), 0.2), Around())
    with demo_server() as server:
        visitor = Visitor.signed_in(server)
        for what, key, sitter in (
            ("a lamp", lambda i: Key(azimuth=float(-90 + 4 * i)), lambda _: Sitter("", Description(50), "head", 10.0)),
            ("a head", lambda _: Key(), lambda i: Sitter("", Description(50), "head", float(-60 + 3 * i))),
            ("a bust", lambda _: Key(), lambda i: Sitter("", Description(50), "bust", float(-60 + 3 * i))),
            ("a slider of skin", lambda _: Key(), lambda i: Sitter("", Description(float(30 + i)), "head", 10.0)),
        ):
            took = []
            for i in range(_FRAMES):
                scene = asdict(Scene((sitter(i),), key(i), around))
                start = time.perf_counter()
                answer = visitor.ask("/api/light/picture", {"scene": json.loads(json.dumps(scene)), "size": 256})
                took.append(time.perf_counter() - start)
                assert answer.status == 200, answer.body[:200]
            rest = np.array(took[5:])
            print(f"  {what}: {1 / rest.mean():.1f} a second, p95 {1e3 * np.percentile(rest, 95):.0f} ms")


if __name__ == "__main__":
    bench_light()
    bench_drag()
