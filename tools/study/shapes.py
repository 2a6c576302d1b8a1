"""The shapes: nobody's head on shoulders, and nobody's hand."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from core.light.surface import normals_of, smoother, triangles_of
from tools.portraits.mesh import ARMS_DOWN, ORIGIN, Floats, Ints, Shape, Source, joint_at, posed, shaped

MEAN = Shape(
    0.55,
    0.25,
    -0.35,
    {
        "faceunits/eyeBlinkLeft": 1.0,
        "faceunits/eyeBlinkRight": 1.0,
        "faceunits/mouthPressLeft": 0.22,
        "faceunits/mouthPressRight": 0.22,
        "faceunits/mouthSmileLeft": 0.08,
        "faceunits/mouthSmileRight": 0.08,
        "mouth/mouth-trans-backward": 0.25,
        "mouth/mouth-scale-horiz-incr": 0.3,
        "head/head-scale-vert-decr": 0.4,
    },
)
"""The equal mix of all shapes, eyes closed: it shows the lid and has no gaze."""


@dataclass(frozen=True)
class Shaped:
    """vertices and normals (n, 3), triangles (m, 3), masks (n, k): lips, ears and lids, or HAND_PARTS."""

    vertices: Floats
    normals: Floats
    triangles: Ints
    masks: Floats


def _cut(x: Floats, y: Floats, z: Floats) -> Floats:
    """Above 0 where the bust is kept: across the upper chest, and down over the shoulders."""
    return y + 2.62 - 0.30 * np.clip(np.abs(x) / 1.75, 0, 2) ** 2 - 0.10 * z


def bust(source: Source) -> Shaped:
    """Head, neck, shoulders and upper chest; exactly symmetric."""
    every = posed(source, shaped(source, MEAN), ARMS_DOWN) - ORIGIN
    quads = source.faces("body")
    kept = _cut(*every.T)
    quads = quads[(kept[quads] > -0.5).all(axis=1)]
    used, quads = np.unique(quads, return_inverse=True)
    values = np.hstack([every[used], source.masks[used]])
    values, quads = smoother(values, quads.reshape(-1, 4), 3)
    vertices, quads = _trimmed(values[:, :3], quads)
    used, quads = np.unique(quads, return_inverse=True)
    values, triangles = _finer_below(np.hstack([vertices[used], values[used, 3:]]), quads.reshape(-1, 4))
    vertices = _collar_bones(values[:, :3], normals_of(values[:, :3], triangles))
    return Shaped(vertices, normals_of(vertices, triangles), triangles, values[:, 3:])


_FINE_BELOW = -1.0
"""From the neck down the source is coarser than on the face: there each quad becomes four."""


def _finer_below(values: Floats, quads: Ints) -> tuple[Floats, Ints]:
    """Values with those of finer quads below a height, and triangles (m, 3) without gaps between both."""
    finer, small = smoother(values, quads, 3)
    low = values[quads][:, :, 1].max(axis=1) < _FINE_BELOW
    small = small.reshape(len(quads), 4, 4)
    # Each small quad begins at a corner and goes by the middle of the edge that follows.
    split = np.zeros(len(finer), bool)
    split[small[low][:, :, 1].ravel()] = True
    triangles = [triangles_of(small[low].reshape(-1, 4))]
    plain = ~low & ~split[small[:, :, 1]].any(axis=1)
    triangles.append(triangles_of(quads[plain]))
    for number in np.flatnonzero(~low & ~plain):
        ring = [v for corner, middle in small[number][:, :2] for v in (corner, middle) if v < len(values) or split[v]]
        first = next(i for i, v in enumerate(ring) if v >= len(values))
        ring = ring[first:] + ring[:first]
        triangles.append(np.array([[ring[0], ring[i], ring[i + 1]] for i in range(1, len(ring) - 1)]))
    every = np.vstack(triangles)
    used, every = np.unique(every, return_inverse=True)
    return finer[used], every.reshape(-1, 3)


def _trimmed(vertices: Floats, quads: Ints) -> tuple[Floats, Ints]:
    """The quads that are kept or cut, with the corners beyond the cut drawn back onto it along their edges."""
    kept = _cut(*vertices.T)
    quads = quads[(kept[quads] > 0).any(axis=1)]
    edges = np.concatenate([quads[:, [i, (i + 1) % 4]] for i in range(4)])
    edges = np.concatenate([edges, edges[:, ::-1]])
    edges = edges[(kept[edges[:, 0]] > 0) & (kept[edges[:, 1]] <= 0)]
    share = kept[edges[:, 0]] / (kept[edges[:, 0]] - kept[edges[:, 1]])
    crossing = vertices[edges[:, 0]] + share[:, None] * (vertices[edges[:, 1]] - vertices[edges[:, 0]])
    moved, count = np.zeros_like(vertices), np.zeros(len(vertices))
    np.add.at(moved, edges[:, 1], crossing)
    np.add.at(count, edges[:, 1], 1.0)
    out = vertices.copy()
    out[count > 0] = moved[count > 0] / count[count > 0, None]
    # A corner that no edge leads out to lies diagonally beyond: it goes between where its neighbours went.
    alone = (kept <= 0) & (count == 0)
    near, count = np.zeros_like(out), np.zeros(len(out))
    for i in range(4):
        for k in (1, 3):
            one, other = quads[:, i], quads[:, (i + k) % 4]
            only = alone[one] & ~alone[other]
            np.add.at(near, one[only], out[other[only]])
            np.add.at(count, one[only], 1.0)
    out[count > 0] = near[count > 0] / count[count > 0, None]
    return out, quads


BONE = np.array([[0.14, -1.78], [0.45, -1.77], [0.85, -1.71], [1.20, -1.63], [1.50, -1.58]])
"""The collar bone as seen from the front, from the notch between both to the shoulder; x counts from the middle."""
_RIDGE, _HOLLOW, _NOTCH = (0.050, 0.085), (0.045, 0.11), (0.06, 0.13)
"""How high or deep, and how wide."""


def off_bone(vertices: Floats) -> tuple[Floats, Floats, Floats]:
    """How far each vertex lies from the collar bone as seen from the front; how far above it (negative: below); and how
    far along it, 0 to 1."""
    mine = np.abs(vertices[:, :2]) * [1, -1]
    nearest, above, along = np.full(len(mine), np.inf), np.zeros(len(mine)), np.zeros(len(mine))
    for number, (start, end) in enumerate(pairwise(BONE)):
        way = end - start
        share = np.clip((mine - start) @ way / (way @ way), 0, 1)
        off = mine - (start + share[:, None] * way)
        far = np.linalg.norm(off, axis=1)
        closer = far < nearest
        nearest[closer], above[closer] = far[closer], off[closer, 1]
        along[closer] = (number + share[closer]) / (len(BONE) - 1)
    return nearest, above, along


def _collar_bones(vertices: Floats, normals: Floats) -> Floats:
    """Vertices with collar bones: the mean of all chests has none."""
    far, above, along = off_bone(vertices)
    front = np.clip(normals[:, 2] * 2, 0, 1) * (vertices[:, 1] > -2.4) * (vertices[:, 1] < -1.2)
    length = np.clip((1 - along) / 0.25, 0, 1)
    high = _RIDGE[0] * np.exp(-((far / _RIDGE[1]) ** 2)) * length
    high -= _HOLLOW[0] * np.exp(-(((above - 0.17) / _HOLLOW[1]) ** 2)) * np.exp(-(((along - 0.5) / 0.28) ** 2))
    notch = np.hypot(vertices[:, 0], vertices[:, 1] + 1.74)
    high -= _NOTCH[0] * np.exp(-((notch / _NOTCH[1]) ** 2))
    return vertices + (front * high)[:, None] * normals


_FINGERS = (2, 3, 4, 5)
_BENT_DEG, _THUMB_DEG = 24.0, 14.0
_JOINTS = (0.8, 1.2, 0.7)
_ARM = 0.9
"""How much of the arm below the hand is kept."""
HAND_PARTS = ("palm side", "finger", "tip", "knuckle", "wrist", "nail")


def hand(source: Source, bent: bool) -> Shaped:
    """The sitter's left hand, fingers up and its back to who looks; flat, or a little bent. masks: HAND_PARTS."""
    flat = shaped(source, MEAN)
    joint = {bone: joint_at(source, flat, bone) for bone in source.bones if bone.endswith(".L")}
    frame = _hand_frame(joint)
    vertices = posed(source, flat, _bends(joint, frame)) if bent else flat
    weights = _weights(source, len(flat))
    fingers = [f"finger{n}-{k}.L" for n in (1, *_FINGERS) for k in (1, 2, 3)]
    whole = [*fingers, "wrist.L", *(f"metacarpal{n}.L" for n in (1, 2, 3, 4))]
    local = (flat - joint["wrist.L"]) @ frame.T
    low = (weights["lowerarm01.L"] + weights["lowerarm02.L"] > 0.3) & (local[:, 1] > -_ARM)
    mine = (sum(weights[bone] for bone in whole) > 0.3) | low
    quads = source.faces("body")
    quads = quads[mine[quads].all(axis=1)]
    used, quads = np.unique(quads, return_inverse=True)
    knuckles = [joint[f"finger{n}-{k}.L"] for n in (1, *_FINGERS) for k in (1, 2, 3)]
    near = np.exp(-((np.min([np.linalg.norm(flat - at, axis=1) for at in knuckles], axis=0) / 0.14) ** 2))
    normals = normals_of(flat, triangles_of(source.faces("body"))) @ frame.T
    parts = np.stack(
        [
            np.clip(0.5 - normals[:, 2] * 1.5, 0, 1),
            np.clip(sum(weights[bone] for bone in fingers), 0, 1),
            np.clip(sum(weights[bone] for bone in fingers if "-3" in bone), 0, 1),
            near * np.clip(normals[:, 2] * 2, 0, 1),
            np.clip((0.15 - local[:, 1]) / 0.2, 0, 1),
            source.mask("fingernails"),
        ],
        axis=1,
    )
    turned = (vertices - joint["wrist.L"]) @ frame.T - [0, 0.75, 0]
    values, quads = smoother(np.hstack([turned[used], parts[used]]), quads.reshape(-1, 4), 3)
    triangles = triangles_of(quads)
    return Shaped(values[:, :3], normals_of(values[:, :3], triangles), triangles, np.clip(values[:, 3:], 0, 1))


def _hand_frame(joint: dict[str, Floats]) -> Floats:
    """Rows: to the little finger's side, to the fingers, out of the back of the hand."""
    up = joint["finger3-1.L"] - joint["wrist.L"]
    up /= np.linalg.norm(up)
    aside = joint["finger2-1.L"] - joint["finger5-1.L"]
    aside -= (aside @ up) * up
    aside /= np.linalg.norm(aside)
    return np.stack([aside, up, np.cross(aside, up)])


def _bends(joint: dict[str, Floats], frame: Floats) -> list[tuple[str, Floats, float]]:
    turns = []
    for finger in (1, *_FINGERS):
        way = joint[f"finger{finger}-3.L"] - joint[f"finger{finger}-1.L"]
        across = np.cross(frame[2], way) if finger > 1 else frame[1]
        by = _BENT_DEG if finger > 1 else _THUMB_DEG
        turns += [(f"finger{finger}-{k}.L", across, by * share) for k, share in zip((1, 2, 3), _JOINTS, strict=True)]
    return turns


def _weights(source: Source, count: int) -> dict[str, Floats]:
    found = {}
    for bone in source.bones:
        found[bone] = np.zeros(count)
        for vertex, weight in source.weights.get(bone) or ():
            found[bone][int(vertex)] = weight
    return found
