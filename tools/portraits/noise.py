"""Smooth, repeatable noise in space."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def _hashed(cells: NDArray[np.int64]) -> Floats:
    x, y, z = (cells[..., i].astype(np.uint64) for i in range(3))
    mixed = x * np.uint64(0x9E3779B97F4A7C15) ^ y * np.uint64(0xC2B2AE3D27D4EB4F) ^ z * np.uint64(0x165667B19E3779F9)
    mixed ^= mixed >> np.uint64(29)
    mixed *= np.uint64(0xBF58476D1CE4E5B9)
    mixed ^= mixed >> np.uint64(32)
    return (mixed >> np.uint64(11)).astype(float) / 2.0**53


def noise(points: Floats) -> Floats:
    """Value noise (n,), 0–1, of points (n, 3); its cells are one unit wide."""
    low = np.floor(points).astype(np.int64)
    t = points - low
    t = t * t * (3 - 2 * t)
    found = np.zeros(len(points))
    for corner in range(8):
        step = np.array([corner & 1, corner >> 1 & 1, corner >> 2 & 1])
        found += np.prod(np.where(step, t, 1 - t), axis=1) * _hashed(low + step)
    return found


def clouds(points: Floats, octaves: int = 3) -> Floats:
    """Noise of several sizes (n,), about 0–1."""
    strengths = 0.5 ** np.arange(octaves)
    turned = points
    found = np.zeros(len(points))
    for strength in strengths:
        found += strength * noise(turned)
        turned = turned[:, [1, 2, 0]] * 2.03 + 17.3
    return np.asarray(found / strengths.sum())


def step(low: float, high: float, x: Floats | float) -> Floats:
    """From 0 below `low` to 1 above `high`, smoothly."""
    t = np.clip((np.asarray(x) - low) / (high - low), 0, 1)
    return np.asarray(t * t * (3 - 2 * t))
