"""From what each dose costs at every pixel to areas that a hand can draw."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.graph import MCP_Geometric

_BORDER, _BORDER_LAB = 0.2, 5.0
"""What a border costs between neighbours a dose apart, the less the more their colours differ (CIELAB)."""
_ROUNDS = 4
_MANY_PARTS, _SMALL_MM2 = 10, 60.0
"""A layer in so many parts, half of them smaller than that, is in flecks (assumption)."""

Flags = NDArray[np.bool_]


def enlarged(layers: NDArray[Any], shape: tuple[int, ...]) -> NDArray[Any]:
    """(…, h, w) at twice the size, as near as comes to this shape."""
    rows = np.minimum(np.arange(shape[0]) // 2, layers.shape[-2] - 1)
    columns = np.minimum(np.arange(shape[1]) // 2, layers.shape[-1] - 1)
    return np.asarray(layers[..., rows, :][..., columns])


def blurred(layers: NDArray[np.float32], mask: Flags, sigma: float) -> NDArray[np.float32]:
    """(k, h, w), each blurred within the mask."""
    weight = np.maximum(ndimage.gaussian_filter(mask.astype(np.float32), sigma), 1e-6)
    return np.stack([ndimage.gaussian_filter(layer, sigma) / weight for layer in layers])


def bordered(
    levels: NDArray[np.intp], costs: NDArray[np.float32], mask: Flags, lab: NDArray[np.float32]
) -> NDArray[np.intp]:
    """Levels (h, w) with fewer borders, above all where the picture has none.

    Iterated conditional modes (Besag 1986) on two colours of a chequered board, so that no two neighbours move at once.
    """
    steps = np.arange(len(costs))[:, None, None]
    odd = np.indices(mask.shape).sum(axis=0) % 2 == 1
    sides = []
    for axis, shift in ((0, 1), (0, -1), (1, 1), (1, -1)):
        apart = np.square(lab - np.roll(lab, shift, axis)).sum(axis=2) / (2 * _BORDER_LAB**2)
        sides.append((axis, shift, _BORDER * np.exp(-apart) * (mask & np.roll(mask, shift, axis))))
    for _ in range(_ROUNDS):
        for turn in (odd, ~odd):
            total = costs.copy()
            for axis, shift, weight in sides:
                total += weight * np.abs(np.roll(levels, shift, axis) - steps)
            levels = np.where(turn & mask, total.argmin(axis=0), levels)
    return levels


def in_flecks(laid: Flags, px_per_mm: float) -> bool:
    """Whether where a layer lies (h, w) falls into so many small parts that places are easier to lay."""
    parts, count = ndimage.label(laid)
    if count < _MANY_PARTS:
        return False
    sizes = np.bincount(parts.ravel())[1:] / px_per_mm**2
    return bool(np.median(sizes) < _SMALL_MM2)


def small_areas(levels: NDArray[np.intp], mask: Flags, least: int, but: Flags | None = None) -> Flags:
    """(h, w): what lies in an area of one level with fewer pixels than that, and none of `but` (h, w) in it."""
    small = np.zeros_like(mask)
    for level in np.unique(levels[mask]):
        areas, count = ndimage.label((levels == level) & mask)
        few = np.bincount(areas.ravel(), minlength=count + 1) < least
        few[0] = False
        if but is not None:
            few[np.unique(areas[but])] = False
        small |= few[areas]
    return small


def grown(seed: Flags, slow: NDArray[np.floating], least: int) -> Flags:
    """(h, w): a part of a picture grown to so many pixels that hang together, or as many as there are. slow (h, w): how
    much it takes to come through a pixel; infinite where nothing is to grow. By minimal cost paths of scikit-image."""
    if not seed.any():
        return seed
    late, _ = MCP_Geometric(np.where(np.isfinite(slow), slow, -1.0)).find_costs(np.argwhere(seed))
    found = np.zeros_like(seed)
    found.ravel()[np.argsort(late, axis=None, kind="stable")[:least]] = True
    return np.asarray(seed | (found & np.isfinite(late)))


def without_flecks(
    levels: NDArray[np.intp], costs: NDArray[np.float32], mask: Flags, least: int, kept: Flags | None = None
) -> NDArray[np.intp]:
    """Levels (h, w) without areas of fewer than `least` pixels: each takes the level beside it that costs least, unless
    something in it is kept (h, w)."""
    levels = np.where(mask, levels, -1)
    for _ in range(_ROUNDS):
        changed = False
        for level in range(len(costs)):
            areas, count = ndimage.label(levels == level)
            sizes = np.bincount(areas.ravel(), minlength=count + 1)
            where = ndimage.find_objects(areas)
            for number in np.flatnonzero(sizes[1:] < least) + 1:
                box = tuple(slice(max(0, side.start - 1), side.stop + 1) for side in where[number - 1])
                area = areas[box] == number
                if kept is not None and kept[box][area].any():
                    continue
                around = levels[box][ndimage.binary_dilation(area) & ~area]
                beside = np.unique(around[around >= 0])
                if len(beside):
                    sums = [float(costs[other][box][area].sum()) for other in beside]
                    levels[box][area] = beside[int(np.argmin(sums))]
                    changed = True
        if not changed:
            break
    return np.maximum(levels, 0)
