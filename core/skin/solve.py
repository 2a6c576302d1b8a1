"""What a skin of a colour holds: the model of core.skin.reflectance turned round."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy.spatial import cKDTree

from core.colour.spaces import Floats
from core.optics.spectra import reflectance_to_lab
from core.skin.reflectance import Layers, layers, skin_reflectance

_LEAST, _MOST = np.array([0.003, 0.0004, 0.0]), np.array([1.0, 0.2, 3.0])
"""Melanin, blood and carotene that are looked among."""
_ROUNDS = 20
_STEP, _DAMPING, _FARTHEST = 1e-3, 0.02, 0.7


def skins_of(labs: ArrayLike, made_of: Layers | None = None) -> Floats:
    """Melanin, blood and carotene (n, 3) of the skins whose CIELAB comes nearest to labs (n, 3).

    Damped Gauss–Newton in the logarithms of melanin and blood and in carotene, from the nearest of a grid. A colour
    that no skin has gets a skin near it: compare what it looks like.
    """
    wanted = np.asarray(labs, dtype=float).reshape(-1, 3)
    of = made_of or layers()
    grid, tree = _grid(of)
    x = grid[tree.query(wanted)[1]]
    for _ in range(_ROUNDS):
        seen = _seen(x, of)
        slopes = np.stack([(_seen(x + step, of) - seen) / _STEP for step in np.eye(3) * _STEP], axis=-1)
        squares = np.einsum("nij,nik->njk", slopes, slopes) + np.eye(3) * _DAMPING
        move = np.linalg.solve(squares, np.einsum("nij,ni->nj", slopes, wanted - seen)[..., None])[..., 0]
        x = np.clip(x + np.clip(move, -_FARTHEST, _FARTHEST), _coordinates(_LEAST), _coordinates(_MOST))
    return _skins(x)


def _coordinates(skins: Floats) -> Floats:
    return np.concatenate([np.log(skins[..., :2]), skins[..., 2:]], axis=-1)


def _skins(coordinates: Floats) -> Floats:
    return np.concatenate([np.exp(coordinates[..., :2]), coordinates[..., 2:]], axis=-1)


def _seen(coordinates: Floats, of: Layers) -> Floats:
    return reflectance_to_lab(skin_reflectance(_skins(coordinates), of))


@lru_cache(maxsize=4)
def _grid(of: Layers) -> tuple[Floats, cKDTree]:
    axes = np.geomspace(0.004, 0.9, 24), np.geomspace(0.0006, 0.15, 14), np.array([0.0, 0.6, 1.2, 2.0])
    x = _coordinates(np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3))
    return x, cKDTree(_seen(x, of))
