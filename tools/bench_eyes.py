"""What the eyes find on open photographs, by complexion, and what they take: see tests/outside/test_photographs.py."""

from __future__ import annotations

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
from tools.site import ROOT

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
        small = _photograph(entry)
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


def _photograph(entry: dict[str, Any]) -> Small:
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
