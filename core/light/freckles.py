"""Freckles: where on a head they lie, and what they do to the colour. They show in pictures and are no part of a
target: nobody plans a stick for each."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.spatial import cKDTree

from core.colour.spaces import Floats
from core.light.lamps import observer
from core.light.model import Floats32
from core.light.scene import Shown
from core.light.view import view
from core.skin.describe import Description, skins_at
from core.skin.reflectance import body_reflectance

_PLACES = {"cheek": 1.0, "cheekbone": 1.0, "nose bridge": 1.0, "nose side": 0.8, "nose tip": 0.5, "forehead": 0.45,
           "under-eye": 0.5, "chin": 0.2, "shoulder": 0.4, "chest": 0.15, "temple": 0.4}  # fmt: skip
_COUNT, _SEED = 900, 7
_SMALLEST, _LARGEST, _SOFT = 0.006, 0.016, 0.004
"""Radii in units of 100 mm: 0.6 to 1.6 mm (from memory)."""
_MORE_MELANIN = 2.2


@lru_cache(maxsize=1)
def _spots() -> tuple[cKDTree, Floats]:
    """Middles of all freckles on the bust, and their radii (n,)."""
    model = view("bust", 0.0, 0.0, 64).model
    weight = sum(model.weights[:, model.places.index(name)] * much for name, much in _PLACES.items())
    rng = np.random.default_rng(_SEED)
    # Where vertices lie close to each other a freckle is no likelier.
    corners = model.vertices[model.triangles]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    share = area * np.asarray(weight)[model.triangles].mean(axis=1)
    chosen = corners[rng.choice(len(corners), _COUNT, p=share / share.sum())]
    at = rng.dirichlet((1, 1, 1), _COUNT)
    return cKDTree((chosen * at[..., None]).sum(axis=1)), rng.uniform(_SMALLEST, _LARGEST, _COUNT)


@lru_cache(maxsize=4)
def _covered(shown: Shown, turn_deg: float, tilt_deg: float, size: int) -> Floats32:
    """How much of each pixel (k,) of a view is freckled."""
    seen = view(shown, turn_deg, tilt_deg, size)
    tree, radius = _spots()
    off, which = tree.query(seen.position @ seen.rotation, distance_upper_bound=_LARGEST + _SOFT)
    inside = np.append(radius, -1.0)[np.minimum(which, len(radius))]
    share = np.clip((inside - np.where(np.isfinite(off), off, 1.0)) / _SOFT + 0.5, 0, 1)
    return np.asarray(share * share * (3 - 2 * share), np.float32)


def speckled(skin: Description, power: Floats, shown: Shown, turn: float, tilt: float, size: int) -> Floats32 | None:
    """By what freckles multiply the XYZ (k, 3) of a view under a lamp (31,); None where there are none."""
    if not skin.freckles or shown not in ("head", "bust"):
        return None
    plain = skins_at(skin, ("cheek",)).held[0]
    dark = body_reflectance(plain * np.array([_MORE_MELANIN, 1.0, 1.0]))
    ratio = ((dark * power) @ observer()) / ((body_reflectance(plain) * power) @ observer())
    covered = _covered(shown, turn, tilt, size) * np.float32(skin.freckles)
    return np.asarray(1 - covered[:, None] * (1 - ratio), np.float32)
