"""How open each point of a surface lies to light, by rays."""

from __future__ import annotations

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh

from core.light.directions import AZIMUTHS, HARMONICS, frames, harmonics
from core.light.model import WIDEST
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
    scene: rtcore_scene.EmbreeScene,
    near: rtcore_scene.EmbreeScene,
    vertices: Floats,
    normals: Floats,
    around: Floats,
    aside: Floats,
) -> tuple[Floats, Floats, Floats]:
    """Transfer (n, 16), horizon and ceiling (n, 24) of vertices; see core.light.model.StudyModel. near: the scene that
    horizons and ceilings are told of."""
    transfer = np.zeros((len(vertices), HARMONICS))
    horizon, ceiling = np.zeros((2, len(vertices), AZIMUTHS))
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
        told = free
        if near is not scene:
            told = 1 - hidden(near, origins.reshape(-1, 3), ways.reshape(-1, 3)).reshape(shape)
        horizon[part], ceiling[part] = _opening(_across(told))
        basis = harmonics(ways) * (free * sine)[..., None]
        # Directions are even over half the sphere, 2π; the cosine is their sine, and irradiance counts over π.
        transfer[part] = 2 * basis.mean(axis=(1, 2))
    return transfer, horizon, ceiling


_SILHOUETTE_STEPS = 96


def silhouette(scene: rtcore_scene.EmbreeScene, vertices: Floats, centre: Floats) -> Floats:
    """How far from the direction to a centre something round hides the sky from vertices (n, 3): radians (n, 24), by
    azimuth about that direction; see core.light.model.StudyModel."""
    axis = centre - vertices
    axis /= np.linalg.norm(axis, axis=1, keepdims=True)
    around, aside = (held[:, None, None] for held in frames(axis))
    turn = np.arange(AZIMUTHS)[:, None] * (2 * np.pi / AZIMUTHS)
    off = (np.arange(_SILHOUETTE_STEPS) + 0.5) / _SILHOUETTE_STEPS * WIDEST
    ways = np.cos(off)[..., None] * axis[:, None, None] + np.sin(off)[..., None] * (
        np.cos(turn)[..., None] * around + np.sin(turn)[..., None] * aside
    )
    origins = np.broadcast_to(vertices[:, None, None], ways.shape)
    met = hidden(scene, origins.reshape(-1, 3), ways.reshape(-1, 3)).reshape(ways.shape[:-1])
    return np.asarray(met.mean(axis=2) * WIDEST)


def _across(free: Floats) -> Floats:
    """Steadier shares of free rays (n, a, s): with the steps below and above, and half of the azimuths beside."""
    free = np.pad(free, ((0, 0), (0, 0), (1, 1)), mode="edge")
    return np.asarray((free[..., :-2] + 2 * free[..., 1:-1] + free[..., 2:]) / 4)


def _opening(free: Floats) -> tuple[Floats, Floats]:
    """The sines (n, a) from which and up to which rays (n, a, s) are mostly free.

    Of all stretches of steps the one that has most free rays in it and fewest hidden ones (Kadane's); its ends are
    where as much is hidden below and above its middle as there.
    """
    gain = 2 * free - 1
    total = np.cumsum(np.concatenate([np.zeros_like(gain[..., :1]), gain], axis=-1), axis=-1)
    lowest = np.minimum.accumulate(total, axis=-1)
    end = (total - lowest).argmax(axis=-1)
    start = np.where(np.arange(total.shape[-1]) <= end[..., None], total, np.inf).argmin(axis=-1)
    middle = (start + end)[..., None] / 2
    steps = np.arange(gain.shape[-1]) + 0.5
    below = ((1 - free) * (steps < middle)).sum(axis=-1) / gain.shape[-1]
    above = ((1 - free) * (steps >= middle)).sum(axis=-1) / gain.shape[-1]
    nothing = end == 0
    return np.where(nothing, 1.0, below), np.where(nothing, 1.0, 1 - above)
