"""The surface of a drawn patch: its colours from the valleys of the paper's tooth up to the peaks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from core.colour.spaces import Floats, xyz_to_hexes
from core.optics.media import get_medium
from core.optics.medium import STEADY, Hand, Layered, Pass
from core.optics.spectra import reflectance_to_xyz
from core.optics.support import Support

LEVELS = 8
TILE = 96
_DEEPEST = 0.6
_EVENING = ("burnish", "smudge")
_FINEST, _COARSEST = 0.6, 1.9


def surface(kit: Layered, passes: Sequence[Pass]) -> tuple[str, ...]:
    """Hex codes of LEVELS equal parts of the surface, valleys first; their mean in linear light is the stack's colour.

    Peaks of the tooth catch more of every pass than valleys, so each part is worked out with its own
    coverage; how far they differ depends on the paper's tooth and on the medium on top (assumption).
    What burnishing or rubbing has evened out lies alike on both.
    """
    evened = evened_by(passes)
    hands = Hand.together([STEADY, *heights(kit, passes)])
    state = kit.start()
    for i, pass_ in enumerate(passes):
        state = kit.apply(state, pass_, STEADY if i < evened else hands)
    seen = kit.reflectance(state)
    whole, *parts = reflectance_to_xyz(np.broadcast_to(seen, (1 + LEVELS, seen.shape[-1])))
    return parts_of(whole[None], np.array(parts)[None])[0]


def evened_by(passes: Sequence[Pass]) -> int:
    """How many passes there are up to the last that evens the surface out; 0 if none does."""
    return max((i + 1 for i, p in enumerate(passes) if p.technique in _EVENING), default=0)


def heights(kit: Layered, passes: Sequence[Pass]) -> list[Hand]:
    """What a pass leaves at each of LEVELS heights of the tooth, valleys first, against what it does in the mean."""
    media = {stick.code: stick.medium for stick in kit.sticks}
    laid = [media[p.stick] for p in passes if p.stick in media]
    depth = _DEEPEST * kit.support.tooth * get_medium(laid[-1]).grain if laid else 0.0
    return [Hand(coverage=1 + depth * height) for height in (np.arange(LEVELS) + 0.5) / LEVELS * 2 - 1]


def parts_of(whole: Floats, parts: Floats) -> list[tuple[str, ...]]:
    """Hex codes (LEVELS) of surfaces of which XYZ (g, 3) is seen in the mean, and (g, LEVELS, 3) at each height."""
    evened = parts * (whole / parts.mean(axis=1))[:, None]
    codes = xyz_to_hexes(evened.reshape(-1, 3))
    return [codes[i : i + LEVELS] for i in range(0, len(codes), LEVELS)]


def tooth_tile(support: Support, seed: int = 5) -> NDArray[np.uint8]:
    """Heights of a piece of the paper's tooth, (TILE, TILE), 0–255 with every height equally frequent.

    It repeats without a seam. Filtered noise, the coarser the rougher the paper.
    """
    noise = np.random.default_rng(seed).standard_normal((TILE, TILE))
    size = _FINEST + (_COARSEST - _FINEST) * support.tooth
    relief = gaussian_filter(noise, size, mode="wrap") - gaussian_filter(noise, 3 * size, mode="wrap")
    ranks = np.argsort(np.argsort(relief, axis=None, kind="stable"), kind="stable")
    return np.asarray(ranks * 256 // relief.size, dtype=np.uint8).reshape(TILE, TILE)
