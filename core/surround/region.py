"""Regions around the skin: grown in the picture from points that an artist sets, and their light, middle and shade."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.graph import MCP_Geometric
from skimage.transform import resize

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.errors import InputError

Kind = Literal["hair", "cloth", "ground", "other"]
KINDS: tuple[Kind, ...] = get_args(Kind)
Part = Literal["light", "middle", "shade"]
PARTS: tuple[Part, ...] = get_args(Part)
Lab = tuple[float, float, float]
Flags = NDArray[np.bool_]

USUAL_REACH, MOST_POINTS = 0.6, 12
_LONGEST = 256
"""Pixels of the longer side in which regions are grown."""
_SMOOTH, _STEP, _ALIKE, _EDGE = 1.0, 0.08, 13.0, 5.0
"""Pixels over which strands and weave are evened; what going one picture's length costs in itself; ΔE*ab from a point,
and from pixel to pixel, at which it costs one more (assumed, looked at on the pictures of tests/core/surround)."""
_NEAREST, _FARTHEST = 0.006, 1.0
"""How far a region reaches at reach 0 and 1, in lengths of the picture made longer by what they cost."""
_LEAST = 0.002
"""Of the picture's pixels, a region must have so many."""
_BETWEEN: dict[Part, tuple[float, float]] = {"light": (0.82, 0.97), "middle": (0.4, 0.6), "shade": (0.04, 0.2)}
"""Which part of a region's pixels, from the darkest, each part is told from."""


@dataclass(frozen=True, slots=True)
class Seed:
    """What an artist says of a region. points: x, y in parts of the picture; reach: 0–1, how far it goes from them."""

    points: tuple[tuple[float, float], ...]
    reach: float


@dataclass(frozen=True, slots=True)
class Tones:
    """Light, middle and shade of a region as CIELAB; share: of the picture that it covers."""

    light: Lab
    middle: Lab
    shade: Lab
    share: float

    def labs(self) -> Floats:
        """(3, 3), light first."""
        return np.array([self.light, self.middle, self.shade])


def grown(lab: Floats, skin: Flags, seeds: Sequence[Seed]) -> NDArray[np.uint8]:
    """Which region each pixel belongs to: 0 for none, else 1 + the number of its seed; skin belongs to none.

    lab (h, w, 3): the picture. A pixel goes to the region from whose points it is reached most cheaply, over colours
    that are alike and no edges (geodesic distance), if that is within reach. Raises InputError (`no_points`).
    """
    if not seeds or any(not seed.points for seed in seeds):
        raise InputError("no_points", "A region has no point yet.", "Tap into it.", "surroundings")
    h, w = skin.shape
    scale = min(1.0, _LONGEST / max(h, w))
    shape = (max(8, round(h * scale)), max(8, round(w * scale)))
    small = np.asarray(resize(lab, (*shape, 3), order=1, anti_aliasing=True))
    small = np.stack([ndimage.gaussian_filter(small[..., i], _SMOOTH) for i in range(3)], axis=-1)
    bare = np.asarray(resize(skin.astype(float), shape, order=0) > 0.5)
    edge = np.sqrt(sum(ndimage.gaussian_gradient_magnitude(small[..., i], 1.0) ** 2 for i in range(3)))
    costs = np.stack([_cost(small, bare, edge, seed) for seed in seeds])
    best = costs.argmin(axis=0)
    limit = np.array([_NEAREST * (_FARTHEST / _NEAREST) ** float(np.clip(seed.reach, 0, 1)) for seed in seeds])
    owner = np.where(costs.min(axis=0) <= limit[best], best + 1, 0).astype(np.uint8)
    owner[bare] = 0
    whole = np.asarray(resize(owner, (h, w), order=0, preserve_range=True, anti_aliasing=False))
    return np.asarray(np.where(skin, 0, whole), dtype=np.uint8)


def _cost(small: Floats, skin: Flags, edge: Floats, seed: Seed) -> Floats:
    """What it costs to reach each pixel from a region's points."""
    h, w = skin.shape
    starts = [(min(h - 1, int(y * h)), min(w - 1, int(x * w))) for x, y in seed.points]
    known = np.array([_around(small, at) for at in starts])
    off = np.linalg.norm(small[..., None, :] - known, axis=-1).min(axis=-1)
    cost = _STEP + (off / _ALIKE) ** 4 + (edge / _EDGE) ** 3
    cost = np.where(skin, -1.0, cost)
    for row, column in starts:
        cost[row, column] = _STEP
    found, _ = MCP_Geometric(cost).find_costs(starts)
    return np.asarray(np.asarray(found) / max(h, w), dtype=float)


def _around(small: Floats, at: tuple[int, int]) -> Floats:
    row, column = at
    held = small[max(0, row - 1) : row + 2, max(0, column - 1) : column + 2].reshape(-1, 3)
    return np.asarray(np.median(held, axis=0))


def tones_of(lab: Floats, owner: NDArray[np.uint8], number: int) -> Tones:
    """Light, middle and shade of a region (from 1). Raises InputError (`too_small_region`)."""
    mine = owner == number
    share = float(mine.mean())
    if share < _LEAST:
        raise InputError(
            "too_small_region",
            "This region is all but nothing in the picture.",
            "Tap into the middle of it, or let it reach farther.",
            "surroundings",
        )
    pixels = lab[mine]
    order = np.argsort(pixels[:, 0], kind="stable")
    found = {}
    for part, (low, high) in _BETWEEN.items():
        its = pixels[order[int(low * len(order)) : max(int(low * len(order)) + 1, int(high * len(order)))]]
        lightness, a, b = np.median(its, axis=0).round(2).tolist()
        found[part] = (lightness, a, b)
    return Tones(found["light"], found["middle"], found["shade"], round(share, 4))


def values_of(tones: Tones) -> tuple[float, float, float]:
    """Munsell values of light, middle and shade."""
    light, middle, shade = np.asarray(lab_to_value(tones.labs())).round(1).tolist()
    return light, middle, shade
