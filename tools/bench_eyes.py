"""What the eyes find on open photographs, by complexion, and what they take: see tests/outside/test_photographs.py."""

from __future__ import annotations

import io
import json
import statistics
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from skimage import data

from core.colour.spaces import SRGB
from core.eyes.areas import distance_to, place_at
from core.eyes.heads import find_heads
from core.look.faces import FaceMap, find_faces
from core.look.picture import Picture
from core.look.study import WORKING_SIZE, Person, study
from core.look.suggest import suggest
from core.look.views import Small, as_it_is, scaled
from tools.site import ROOT, Visitor, demo_server

_EYE = {"iris", "pupil", "eye white", "upper lid", "lash line"}


def bench_eyes() -> None:
    """Faces and places by complexion; processor time of a study and of a proposal; memory of the models."""
    before = _resident()
    find_heads(np.zeros((400, 400, 3), np.uint8))
    print(f"models of the eyes, loaded: {_resident() - before:.0f} MB more")
    _found()
    _speed()


def _found() -> None:
    faces: Counter[str] = Counter()
    found: Counter[str] = Counter()
    places: Counter[str] = Counter()
    named: Counter[str] = Counter()
    wrong = 0
    for entry in json.loads((ROOT / "tests/photographs/truths.json").read_text()):
        small = _open_photograph(entry)
        maps = find_faces(as_it_is(small))
        wrong += len(maps) if not entry["faces"] else 0
        for face in entry["faces"]:
            points = {name: np.array(at) * small.width / entry["size"][0] for name, at in face["points"].items()}
            middle = np.mean(list(points.values()), axis=0)
            mine = next((one for one in maps if np.hypot(*(one.middle - middle)) < 0.4 * one.side), None)
            faces[face["skin"]] += 1
            found[face["skin"]] += mine is not None
            if mine is None or not mine.areas:
                continue
            places[face["skin"]] += len(points)
            named[face["skin"]] += sum(_right(mine, name, at) for name, at in points.items())
    said = ", ".join(
        f"{skin} {found[skin]} of {faces[skin]} (places {named[skin]} of {places[skin]})" for skin in faces
    )
    print(f"faces on open photographs: {said}; {wrong} where nobody is")


def _right(face: FaceMap, name: str, at: np.ndarray) -> bool:
    """Whether a marked place lies in the outline of its name, or within 4 % of the face beside it."""
    wanted = _EYE if name.startswith("eye") else {name}
    beside = [distance_to(area.outline, at) for area in face.areas if area.place in wanted]
    return place_at(face.areas, at, 0.0) in wanted or min(beside, default=np.inf) < 0.04 * face.side


def _open_photograph(entry: dict[str, Any]) -> Small:
    kind, *rest = entry["package"].split()
    if kind == "PyPI":
        return Small(data.astronaut(), SRGB)
    name, version = rest
    path = ROOT / ".cache/photographs" / f"{name.split('/')[-1]}@{version}" / entry["file"]
    return scaled(Picture(np.asarray(Image.open(path).convert("RGB")), SRGB, ""), WORKING_SIZE)


def _speed() -> None:
    one = Image.open(ROOT / "demo/references/mairen.jpg").resize((4899, 4899 * 1200 // 960), Image.Resampling.BICUBIC)
    picture = Picture(np.asarray(one.crop((0, 0, 4899, 4899))), SRGB, "")
    print(f"study of a {picture.width * picture.height / 1e6:.0f} MP photograph of one after decoding: ", end="")
    print(f"{_processor(lambda: study(scaled(picture, WORKING_SIZE), None, [Person()])):.2f} s of processor time")
    small = scaled(picture, WORKING_SIZE)
    print(f"  faces alone: {_processor(lambda: find_faces(as_it_is(small))):.2f} s")
    pair = np.asarray(Image.open(ROOT / "demo/references/morning-relief.jpg").resize((700, 500)))
    four = Small(np.concatenate([pair, pair[:, ::-1]]), SRGB)
    people = [Person()] * 4
    took = _processor(lambda: study(four, None, people))
    seen = study(four, None, people)
    proposed = _processor(lambda: [suggest(seen, number) for number in range(4)])
    print(f"study of four: {took:.2f} s; spots for four proposed: {proposed:.2f} s")


def _processor(work: Callable[[], object]) -> float:
    """Median processor time of five runs in seconds."""
    took = []
    for _ in range(5):
        start = time.process_time()
        work()
        took.append(time.process_time() - start)
    return statistics.median(took)


def _resident() -> float:
    """Memory of this process in MB."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) / 1024 for line in lines if line.startswith("VmRSS"))


def bench_look() -> None:
    """A 24 MP photograph of two people over HTTP: first view, study, every way of seeing, and the server's memory."""
    large = [_photograph(seed) for seed in range(3)]
    with demo_server() as server:
        visitor = Visitor.signed_in(server)
        ids = [visitor.upload(data).json["id"] for data in large]
        made = visitor.ask("/api/pieces", {"title": "Large"}).json
        document = made["document"] | {"picture": ids[0]}
        address = f"/api/pieces/{made['id']}"
        visitor.ask(address, {"version": made["version"], "title": "Large", "document": document}, "PUT")

        def once(path: str, method: str = "GET") -> float:
            start = time.perf_counter()
            answer = visitor.ask(path, method=method)
            assert answer.status < 400, answer.body[:300]
            return time.perf_counter() - start

        print(f"24 MP photograph ({len(large[0]) / 1e6:.0f} MB), first view from disk: {once(f'{address}/view'):.2f} s")
        print(f"  faces, skin and families found: {once(f'{address}/study'):.2f} s")
        print(f"  spots suggested: {once(f'{address}/suggest', 'POST'):.2f} s")
        fresh, again = {}, []
        for kind in ("as_it_is", "values", "squint", "temperature", "pushed", "families", "skin"):
            amounts = range(2, 6) if kind in ("values", "squint", "pushed") else (0,)
            paths = [f"{address}/view?kind={kind}&amount={amount}" for amount in amounts]
            fresh[kind] = max(once(path) for path in paths)
            again += [once(path) for path in paths]
        said = ", ".join(f"{kind} {1000 * took:.0f}" for kind, took in fresh.items())
        print(f"  switching to a way of seeing for the first time, worst amount, ms: {said}")
        print(f"  switching back: worst {1000 * max(again):.0f} ms")
        print(f"  most memory of the server's process: {_most_memory(server.process.pid):.0f} MB")


def _photograph(seed: int) -> bytes:
    """A 24 MP JPEG in Display P3 with the grain of a camera."""
    small = Image.open(ROOT / "demo/references/night-watch.jpg")
    whole = np.asarray(small.resize((6000, 4000), Image.Resampling.BICUBIC), dtype=np.int16)
    grain = np.random.default_rng(seed).integers(-12, 13, whole.shape, dtype=np.int16)
    out = io.BytesIO()
    profile = (ROOT / "core/look/data/display-p3.icc").read_bytes()
    noisy = np.clip(whole + grain, 0, 255).astype(np.uint8)
    Image.fromarray(noisy).save(out, "JPEG", quality=90, icc_profile=profile)
    return out.getvalue()


def _most_memory(process: int) -> float:
    """Peak resident memory in MB of the largest of a process's children."""
    children = Path(f"/proc/{process}/task/{process}/children").read_text().split()
    peaks = []
    for child in children:
        lines = Path(f"/proc/{child}/status").read_text().splitlines()
        peaks += [int(line.split()[1]) / 1024 for line in lines if line.startswith("VmHWM")]
    return max(peaks)
