"""A head, neck and shoulders as signed distances. Head units: half a head's height is about 1.

x to the sitter's left (the picture's right), y up, z towards the viewer. Points are (n, 3) float32.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float32]
Distances = NDArray[np.float32]

SKIN, HAIR, EYE, CLOTH = range(4)


@dataclass(frozen=True, slots=True)
class Build:
    """What makes one head differ from another: factors near 1, and the hair's shape."""

    width: float = 1.0
    jaw: float = 1.0
    nose: float = 1.0
    lips: float = 1.0
    hair_volume: float = 1.0
    hairline: float = 0.0
    long_hair: bool = False


def _ball(p: Points, centre: tuple[float, float, float], radius: float) -> Distances:
    return np.linalg.norm(p - np.float32(centre), axis=1) - np.float32(radius)


def _egg(p: Points, centre: tuple[float, float, float], radii: tuple[float, float, float]) -> Distances:
    q = p - np.float32(centre)
    r = np.float32(radii)
    k0 = np.linalg.norm(q / r, axis=1)
    k1 = np.linalg.norm(q / r**2, axis=1)
    return k0 * (k0 - 1) / np.maximum(k1, 1e-6)


def _rod(p: Points, a: tuple[float, float, float], b: tuple[float, float, float], r_a: float, r_b: float) -> Distances:
    start, along = np.float32(a), np.float32(b) - np.float32(a)
    h = np.clip((p - start) @ along / (along @ along), 0, 1)
    return np.linalg.norm(p - start - h[:, None] * along, axis=1) - (r_a + (r_b - r_a) * h).astype(np.float32)


def _join(a: Distances, b: Distances, k: float) -> Distances:
    """Smooth union: polynomial smooth minimum with blending radius k."""
    h = np.maximum(k - np.abs(a - b), 0) / np.float32(k)
    return np.minimum(a, b) - h * h * np.float32(k / 4)


def _cut(a: Distances, b: Distances, k: float) -> Distances:
    return -_join(-a, b, k)


def _mirror(p: Points) -> Points:
    """Both halves as one; softened at the middle so that no seam shows."""
    return np.column_stack([np.sqrt(p[:, 0] ** 2 + np.float32(0.0016)), p[:, 1], p[:, 2]])


def skin_solid(p: Points, build: Build) -> Distances:
    """Head, ears, neck and throat."""
    m = _mirror(p)
    w, j, n, lip = build.width, build.jaw, build.nose, build.lips
    d = _join(
        _egg(p, (0, 0.32, -0.12), (0.76 * w, 0.80, 0.90)), _egg(m, (0, -0.22, 0.14), (0.59 * w, 0.82, 0.68)), 0.25
    )
    d = _join(d, _egg(m, (0.26 * j, -0.62, 0.20), (0.27 * j, 0.26, 0.38)), 0.22)
    d = _join(d, _egg(p, (0, -0.90, 0.52), (0.22 * j, 0.16, 0.20)), 0.20)
    d = _join(d, _egg(m, (0.40 * w, -0.10, 0.56), (0.19, 0.15, 0.15)), 0.22)
    d = _join(d, _rod(m, (0.06, 0.31, 0.80), (0.42 * w, 0.30, 0.64), 0.07, 0.06), 0.14)
    d = _cut(d, _egg(m, (0.29 * w, 0.13, 0.90), (0.19, 0.12, 0.14)), 0.12)
    # lids around the eyeball, open in the middle
    lids = _ball(m, (0.28 * w, 0.11, 0.655), 0.165)
    opening = _egg(m, (0.28 * w, 0.095, 0.80), (0.135, 0.055, 0.22))
    d = _join(d, _cut(lids, opening, 0.02), 0.05)
    # nose
    d = _join(d, _rod(p, (0, 0.24, 0.80), (0, -0.20, 1.00), 0.065 * n, 0.085 * n), 0.12)
    d = _join(d, _egg(p, (0, -0.24, 1.00), (0.115 * n, 0.095, 0.11)), 0.07)
    d = _join(d, _egg(m, (0.115 * n, -0.27, 0.90), (0.075 * n, 0.065, 0.10)), 0.05)
    d = _cut(d, _egg(m, (0.060 * n, -0.345, 0.95), (0.036 * n, 0.03, 0.06)), 0.03)
    # mouth: a mound, two lips, the parting
    d = _join(d, _egg(p, (0, -0.52, 0.66), (0.30, 0.22, 0.19)), 0.15)
    d = _join(d, _rod(m, (0.035, -0.475, 0.865), (0.20, -0.525, 0.765), 0.043 * lip, 0.014), 0.045)
    d = _join(d, _rod(m, (0.0, -0.585, 0.860), (0.17, -0.545, 0.775), 0.054 * lip, 0.014), 0.045)
    d = _cut(d, _rod(m, (0.0, -0.525, 0.925), (0.225, -0.532, 0.780), 0.012, 0.008), 0.025)
    # ears and neck
    ear = _egg(m, (0.76 * w, 0.02, -0.02), (0.10, 0.25, 0.17))
    d = _join(d, _cut(ear, _egg(m, (0.86 * w, 0.04, 0.06), (0.055, 0.14, 0.09)), 0.05), 0.10)
    return _join(d, _rod(p, (0, -0.55, -0.20), (0, -1.75, -0.22), 0.41, 0.45), 0.14)


def eye_solid(p: Points, build: Build) -> Distances:
    """Both eyeballs."""
    return _ball(_mirror(p), (0.28 * build.width, 0.10, 0.655), 0.148)


def hair_solid(p: Points, build: Build) -> Distances:
    """Hair as one mass, open at the face."""
    v = build.hair_volume
    d = _egg(p, (0, 0.44, -0.22), (0.86 * build.width * v, 0.84 * v, 0.98 * v))
    if build.long_hair:
        d = _join(d, _rod(_mirror(p), (0.70, 0.2, -0.35), (0.66, -1.2, -0.35), 0.28 * v, 0.20), 0.3)
    opening = _egg(p, (0, -0.22 + build.hairline, 0.72), (0.70 * build.width, 0.98, 0.86))
    strands = 0.006 * np.sin(70 * p[:, 0] + 5 * p[:, 1] + 2 * np.sin(5 * p[:, 1])) * np.cos(14 * p[:, 2])
    return _cut(d, opening, 0.10) + strands.astype(np.float32)


def cloth_solid(p: Points, build: Build) -> Distances:
    """A jacket with a standing collar."""
    m = _mirror(p)
    d = _join(
        _rod(m, (0.0, -2.25, -0.25), (1.15, -2.20, -0.30), 0.62, 0.42), _egg(p, (0, -2.6, -0.1), (1.3, 0.8, 0.7)), 0.3
    )
    collar = np.abs(_rod(p, (0, -1.45, -0.30), (0, -1.9, -0.30), 0.52, 0.60)) - 0.05
    return _join(d, np.maximum(collar, p[:, 2] * 0.9 - 0.18).astype(np.float32), 0.08)


def scene(p: Points, build: Build) -> tuple[Distances, NDArray[np.int8]]:
    """Distance to the nearest solid, and which it is."""
    every = np.stack([skin_solid(p, build), hair_solid(p, build), eye_solid(p, build), cloth_solid(p, build)])
    return every.min(axis=0), every.argmin(axis=0).astype(np.int8)
