"""From swatches to what a film of a stick does to light: absorption K and scattering S of one full film."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from core.colour.spaces import Floats, hex_to_xyz, lab_to_xyz
from core.optics.film import absorption_for, film, over
from core.optics.spectra import reflectance_to_xyz, upsample
from core.optics.stick import Stick, solid_reflectance
from core.optics.support import BLACK_PAPER, WHITE_PAPER
from core.optics.touch import tinted

SURFACE = 0.015
"""Part of the light that the surface itself throws back (assumption)."""
DARKEST_INSIDE = 0.004
_HALVINGS = 18
_SCATTER_RANGE = 12.0
_TRAYS_KEPT = 32


def inside(reflectance: Floats) -> Floats:
    """Reflectance below the surface, of reflectance seen from outside."""
    return np.asarray(np.maximum((reflectance - SURFACE) / (1 - SURFACE), DARKEST_INSIDE))


def outside(reflectance: Floats) -> Floats:
    """Reflectance seen from outside, of reflectance below the surface."""
    seen = np.multiply(reflectance, 1 - SURFACE)
    seen += SURFACE
    return np.asarray(seen)


@lru_cache(maxsize=_TRAYS_KEPT)
def characterise(sticks: tuple[Stick, ...], scatter: tuple[float, ...]) -> tuple[Floats, Floats]:
    """K and S (n, 31) per full film of each stick, from its solid swatch on white paper.

    scatter (n,): S of a full film as its class has it. A swatch over black overrules it: S is then
    such that the film has the swatch's luminance there, and still its colour over white. Both arrays
    are kept and shared, so they are read-only. Raises InputError (`no_swatch`).
    """
    solid = inside(solid_reflectance(sticks))
    s = np.broadcast_to(np.array(scatter)[:, None], solid.shape).copy()
    white = np.broadcast_to(inside(upsample(lab_to_xyz(WHITE_PAPER))), solid.shape)
    over_black = [i for i, stick in enumerate(sticks) if stick.black_hex]
    if over_black:
        s[over_black] *= _scatter_seen_on_black(
            solid[over_black], s[over_black], white[over_black], [sticks[i].black_hex for i in over_black]
        )
    s *= np.array([stick.fit.scatter for stick in sticks])[:, None]
    k = absorption_for(solid, white, s) * tinted(tuple(stick.fit for stick in sticks))
    k.flags.writeable = s.flags.writeable = False
    return k, s


def _scatter_seen_on_black(solid: Floats, s: Floats, white: Floats, codes: list[str]) -> Floats:
    """Factor (n, 1) on S: the film grows lighter over black the more it scatters, so halving finds it."""
    black = inside(upsample(lab_to_xyz(BLACK_PAPER)))
    wanted = np.array([hex_to_xyz(code)[1] for code in codes])
    low, high = np.full(len(codes), 1 / _SCATTER_RANGE), np.full(len(codes), _SCATTER_RANGE)
    for _ in range(_HALVINGS):
        factor = np.sqrt(low * high)
        tried = s * factor[:, None]
        seen = outside(over(black, *film(absorption_for(solid, white, tried), tried, 1.0)))
        too_dark = reflectance_to_xyz(seen)[:, 1] < wanted
        low, high = np.where(too_dark, factor, low), np.where(too_dark, high, factor)
    return np.asarray(np.sqrt(low * high)[:, None])
