"""How open each point of a surface lies to light, by rays."""

from __future__ import annotations

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh

from core.light.directions import AZIMUTHS, HARMONICS, harmonics
from tools.portraits.mesh import Floats, Ints

_STRATA = 64
"""Rays for each azimuth: even steps of the sine of their height."""
_OFF = 0.006
_AT_ONCE = 400


def scene_of(vertices: Floats, triangles: Ints) -> rtcore_scene.EmbreeScene:
    """What rays are sent through."""
    scene = rtcore_scene.EmbreeScene()
    TriangleMesh(scene, vertices[triangles].astype(np.float32))
    return scene


def hidden(scene: rtcore_scene.EmbreeScene, origins: Floats, directions: Floats) -> Floats:
    """1 for each ray (n,) that meets the surface, else 0."""
    met = scene.run(origins.astype(np.float32), directions.astype(np.float32), query="OCCLUDED")
    return np.asarray(met >= 0, dtype=float)


def bake(
    scene: rtcore_scene.EmbreeScene, vertices: Floats, normals: Floats, around: Floats, aside: Floats
) -> tuple[Floats, Floats]:
    """Transfer (n, 16) and horizon (n, 24) of vertices; see core.light.model.StudyModel."""
    transfer, horizon = np.zeros((len(vertices), HARMONICS)), np.zeros((len(vertices), AZIMUTHS))
    rng = np.random.default_rng(11)
    for start in range(0, len(vertices), _AT_ONCE):
        part = slice(start, start + _AT_ONCE)
        v, n, t, b = (held[part, None, None] for held in (vertices, normals, around, aside))
        count = len(vertices[part])
        shape = (count, AZIMUTHS, _STRATA)
        sine = (np.arange(_STRATA) + rng.random(shape)) / _STRATA
        # Between two azimuths both horizons count, as they do when they are looked up.
        turn = (np.arange(AZIMUTHS)[:, None] + rng.triangular(-1, 0, 1, shape)) * (2 * np.pi / AZIMUTHS)
        flat = np.sqrt(1 - sine**2)
        ways = (flat * np.cos(turn))[..., None] * t + (flat * np.sin(turn))[..., None] * b + sine[..., None] * n
        origins = np.broadcast_to(v + _OFF * n, ways.shape)
        free = 1 - hidden(scene, origins.reshape(-1, 3), ways.reshape(-1, 3)).reshape(shape)
        horizon[part] = 1 - free.mean(axis=2)
        basis = harmonics(ways) * (free * sine)[..., None]
        # Directions are even over half the sphere, 2π; the cosine is their sine, and irradiance counts over π.
        transfer[part] = 2 * basis.mean(axis=(1, 2))
    return transfer, horizon
