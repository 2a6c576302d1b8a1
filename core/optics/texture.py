"""The surface of a drawn patch: its colours from the valleys of the paper's tooth up to the peaks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from core.colour.spaces import lab_to_xyz, xyz_to_hex
from core.optics.media import get_medium
from core.optics.medium import Hand, Layered, Pass
from core.optics.stack import colours_after
from core.optics.support import Support

LEVELS = 8
TILE = 96
_DEEPEST = 0.9
_FINEST, _COARSEST = 0.6, 1.9


def surface(kit: Layered, passes: Sequence[Pass]) -> tuple[str, ...]:
    """Hex codes of LEVELS equal parts of the surface, valleys first; their mean in linear light is the stack's colour.

    Peaks of the tooth catch more of every pass than valleys, so each part is worked out with its own
    coverage; how far they differ depends on the paper's tooth and on the medium on top (assumption).
    """
    media = {stick.code: stick.medium for stick in kit.sticks}
    laid = [media[p.stick] for p in passes if p.stick in media]
    depth = _DEEPEST * kit.support.tooth * get_medium(laid[-1]).grain if laid else 0.0
    heights = (np.arange(LEVELS) + 0.5) / LEVELS * 2 - 1
    parts = lab_to_xyz(np.array([colours_after(kit, passes, Hand(coverage=1 + depth * h))[-1] for h in heights]))
    whole = lab_to_xyz(colours_after(kit, passes)[-1])
    return tuple(xyz_to_hex(part) for part in parts * whole / parts.mean(axis=0))


def tooth_tile(support: Support, seed: int = 5) -> NDArray[np.uint8]:
    """Heights of a piece of the paper's tooth, (TILE, TILE), 0–255 with every height equally frequent.

    It repeats without a seam. Filtered noise, the coarser the rougher the paper.
    """
    noise = np.random.default_rng(seed).standard_normal((TILE, TILE))
    size = _FINEST + (_COARSEST - _FINEST) * support.tooth
    relief = gaussian_filter(noise, size, mode="wrap") - gaussian_filter(noise, 3 * size, mode="wrap")
    ranks = np.argsort(np.argsort(relief, axis=None, kind="stable"), kind="stable")
    return np.asarray(ranks * 256 // relief.size, dtype=np.uint8).reshape(TILE, TILE)
