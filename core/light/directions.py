"""Directions: frames on a surface, turns of a head, and spherical harmonics."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats

AZIMUTHS = 24
"""In so many directions around a point of a surface its horizon is known."""
HARMONICS = 16
"""Of order 3: enough for light that comes from everywhere a little (Ramamoorthi and Hanrahan 2001)."""
EVEN = 0.282095
"""The first harmonic, which is the same everywhere."""


def harmonics(directions: Floats) -> Floats:
    """Real spherical harmonics (…, 16) up to order 3 of unit vectors (…, 3).

    Source: Sloan 2008, "Stupid spherical harmonics tricks"; tests compare them with scipy's.
    """
    x, y, z = np.moveaxis(directions, -1, 0)
    return np.stack(
        [
            np.full_like(x, EVEN),
            0.488603 * y, 0.488603 * z, 0.488603 * x,
            1.092548 * x * y, 1.092548 * y * z, 0.315392 * (3 * z * z - 1), 1.092548 * x * z,
            0.546274 * (x * x - y * y),
            0.590044 * y * (3 * x * x - y * y), 2.890611 * x * y * z, 0.457046 * y * (5 * z * z - 1),
            0.373176 * z * (5 * z * z - 3), 0.457046 * x * (5 * z * z - 1), 1.445306 * z * (x * x - y * y),
            0.590044 * x * (x * x - 3 * y * y),
        ],
        axis=-1,
    )  # fmt: skip


def even_directions(count: int) -> Floats:
    """Unit vectors (count, 3) that cover the sphere evenly: a Fibonacci lattice."""
    number = np.arange(count) + 0.5
    height = 1 - 2 * number / count
    around, wide = np.pi * (3 - 5**0.5) * number, np.sqrt(1 - height**2)
    return np.stack([wide * np.cos(around), height, wide * np.sin(around)], axis=1)


def frames(normals: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
    """Two tangents, each (n, 3), that stand square to unit normals (n, 3) and to each other.

    Source: Duff et al. 2017. Mirrored normals get mirrored tangents, so that what is told around a point of one side
    of a face can be told around its mirror image in the same words.
    """
    flip = np.where(normals[:, 0] < 0, -1.0, 1.0).astype(normals.dtype)
    x, y, z = np.abs(normals[:, 0]), normals[:, 1], normals[:, 2]
    sign = np.where(z >= 0, 1.0, -1.0).astype(normals.dtype)
    a = -1 / (sign + z)
    b = x * y * a
    one = np.stack([flip * (1 + sign * x * x * a), sign * b, -sign * x], axis=1)
    other = np.stack([flip * b, sign + y * y * a, -y], axis=1)
    return one, other


def turned(turn_deg: float, tilt_deg: float) -> Floats:
    """Rotation (3, 3) of a head: first turned to the picture's right, then tilted down."""
    turn, tilt = np.radians([turn_deg, tilt_deg])
    about_y = np.array([[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]])
    about_x = np.array([[1, 0, 0], [0, np.cos(tilt), -np.sin(tilt)], [0, np.sin(tilt), np.cos(tilt)]])
    return np.asarray(about_x @ about_y)


def towards(azimuth_deg: float, height_deg: float) -> Floats:
    """Unit vector (3,) in the picture's frame: x to its right, y up, z to who looks at it."""
    azimuth, height = np.radians([azimuth_deg, height_deg])
    return np.array([np.sin(azimuth) * np.cos(height), np.sin(height), np.cos(azimuth) * np.cos(height)])
