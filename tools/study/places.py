"""Which place of a study model each of its points belongs to, and its facets."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from tools.portraits.mesh import Floats, Ints
from tools.portraits.skin import PARTING, ROUND
from tools.study.shapes import HAND_PARTS, Shaped, off_bone

# As tools.portraits.skin.ROUND, for what a picture of the crew does not tell apart.
_FACE = {name: ROUND[name] for name in ROUND if name not in ("eye socket", "mouth surround")} | {
    "under-eye": ROUND["eye socket"],
    "eye socket": ((0.17, 0.08, 0.98), (0.08, 0.08, 0.18), 1.1),
    "philtrum": ((0, -0.45, 1.14), (0.09, 0.06, 0.12), 1.6),
    "lip corner": ((0.28, -0.59, 1.0), (0.06, 0.06, 0.12), 1.2),
}
_AROUND_MOUTH = (((0.20, -0.46, 1.06), (0.09, 0.08, 0.15), 1.2), ((0.14, -0.70, 1.06), (0.16, 0.05, 0.15), 1.2))
_PLANES = {True: 30, False: 22}
_ROUNDS = 40


def _near(vertices: Floats, row: tuple[tuple[float, ...], tuple[float, ...], float]) -> Floats:
    centre, reach, strength = row
    mine = np.abs(vertices[:, :1])
    off = (np.hstack([mine, vertices[:, 1:]]) - centre) / reach
    return strength * np.exp(-(off**2).sum(axis=1))


def places_of_bust(bust: Shaped, openness: Floats) -> dict[str, Floats]:
    """The weight of each place at each vertex, not yet summing to 1. openness (n,): little of it makes a nostril."""
    x, y, z = np.abs(bust.vertices[:, 0]), bust.vertices[:, 1], bust.vertices[:, 2]
    lips, ears, lids = bust.masks.T
    found = {name: _near(bust.vertices, row) for name, row in _FACE.items()}
    found["mouth surround"] = sum(_near(bust.vertices, row) for row in _AROUND_MOUTH)
    hole = np.clip((0.62 - openness) / 0.15, 0, 1)
    found["nostril"] = hole * _near(bust.vertices, ((0.085, -0.37, 1.0), (0.09, 0.07, 0.16), 4.0))
    found["upper lid"] = 3 * lids * (y > -0.05)
    found["upper lip"] = 6 * lips * np.clip((y - PARTING) / 0.01 + 0.5, 0, 1)
    found["lower lip"] = 6 * lips * np.clip((PARTING - y) / 0.01 + 0.5, 0, 1)
    found["ear"] = 4 * ears
    below = np.clip(-bust.normals[:, 1] - 0.35, 0, 1) * np.clip((z - 0.1) / 0.2, 0, 1)
    found["under the chin"] = 1.6 * below * ((y < -0.85) & (y > -1.35))
    on_neck = np.clip((-0.85 - y) / 0.3, 0, 1) * np.clip((y + 1.75 + 0.3 * x) / 0.15, 0, 1)
    in_front = np.clip((z - 0.15) / 0.15, 0, 1) * np.clip((0.42 - x) / 0.15, 0, 1)
    found["throat"] = 1.2 * on_neck * in_front
    found["neck"] = 1.2 * on_neck * (1 - in_front)
    far, _, along = off_bone(bust.vertices)
    front = np.clip(bust.normals[:, 2] * 2, 0, 1)
    found["collar bone"] = 2.0 * np.exp(-((far / 0.10) ** 2)) * front * np.clip((1 - along) / 0.2, 0, 1)
    found["shoulder"] = 1.2 * np.clip((x - 0.75) / 0.3, 0, 1) * np.clip((-1.30 - y) / 0.2, 0, 1)
    found["chest"] = 1.2 * np.clip((-1.60 - y) / 0.2, 0, 1) * np.clip((1.1 - x) / 0.3, 0, 1)
    behind = np.clip((0.12 - z) / 0.2, 0, 1) * np.clip((y + 0.75) / 0.2, 0, 1)
    found["hairline"] = np.clip((y - 0.62 - 0.25 * x) / 0.12, 0, 1) + behind + 1e-3
    return found


def places_of_hand(hand: Shaped) -> dict[str, Floats]:
    """The weight of each place at each vertex, not yet summing to 1."""
    inner, finger, tip, knuckle, wrist, nail = hand.masks.T
    assert len(HAND_PARTS) == hand.masks.shape[1]
    return {
        "hand": (1 - inner) * (1 - wrist) + 1e-3,
        "knuckles": 2.0 * knuckle,
        "palm": inner * (1 - finger) * (1 - wrist),
        "finger": inner * finger * (1 - tip),
        "finger tip": 1.5 * inner * tip,
        "nail": 8.0 * np.clip(2 * nail - 0.6, 0, 1),
        "wrist": 1.2 * wrist,
    }


def planes_of(shaped: Shaped, face: bool) -> tuple[Ints, int]:
    """The facet of each vertex (n,), and how many facets lie across the middle; those come first.

    Lloyd's clusters of normals and places, finer on the face.
    """
    v, n = shaped.vertices, shaped.normals
    weight = np.ones(len(v))
    if face:
        weight = np.clip((v[:, 2] + 0.2) / 0.5, 0.12, 1) * np.where(v[:, 1] > -1.2, 1.0, 0.35)
        weight *= 1 + 7 * np.exp(-(((v - [0, -0.25, 1]) / [0.38, 0.5, 0.35]) ** 2).sum(axis=1))
    values = np.hstack([n * 0.55, v * ([0.95, 0.95, 0.5] if face else [1.6, 1.6, 0.8])])
    rng = np.random.default_rng(5)
    count = _PLANES[face]
    centres = values[rng.choice(len(v), count, replace=False, p=weight / weight.sum())]
    for _ in range(_ROUNDS):
        label = cKDTree(centres).query(values)[1]
        total = np.maximum(np.bincount(label, weight, count), 1e-9)
        centres = np.stack([np.bincount(label, weight * column, count) for column in values.T], axis=1) / total[:, None]
    label = cKDTree(centres).query(values)[1]
    across = centres[:, 3] < 0.16 if face else np.ones(count, bool)
    order = np.argsort(~across, kind="stable")
    rank = np.empty(count, dtype=np.int64)
    rank[order] = np.arange(count)
    return rank[label], int(across.sum())
