"""A film that scatters and absorbs, over a ground: two-constant Kubelka–Munk theory."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats


def k_over_s(reflectance: ArrayLike) -> Floats:
    """K/S of an infinitely thick film with this reflectance. Source: Kubelka & Munk 1931."""
    r = np.asarray(reflectance, dtype=float)
    return np.asarray((1 - r) ** 2 / (2 * r))


def film(k: ArrayLike, s: ArrayLike, thickness: ArrayLike) -> tuple[Floats, Floats]:
    """Reflectance over black R0 and transmittance T of a film; the arguments broadcast.

    k, s: absorption and scattering per unit thickness, s > 0. The hyperbolic solution
    R0 = sinh y / (a sinh y + b cosh y), T = b / (a sinh y + b cosh y), y = b s X, written with
    decaying exponentials so that thick films do not overflow. Source: Kubelka 1948.
    """
    k_arr, s_arr, x_arr = np.asarray(k), np.asarray(s), np.asarray(thickness)
    ratio = k_arr / s_arr
    a = 1 + ratio
    # a² − 1 without cancellation; the floor keeps the clear film (K = 0) finite.
    b = np.sqrt(np.maximum(ratio * (ratio + 2), 1e-12))
    fade = np.exp(-b * s_arr * x_arr)
    denominator = a * (1 - fade**2) + b * (1 + fade**2)
    return (1 - fade**2) / denominator, 2 * b * fade / denominator


def over(ground: ArrayLike, r0: ArrayLike, t: ArrayLike) -> Floats:
    """Reflectance of a film (R0, T) over a ground. Source: Kubelka 1948."""
    g, r0_arr, t_arr = np.asarray(ground), np.asarray(r0), np.asarray(t)
    return np.asarray(r0_arr + t_arr**2 * g / (1 - r0_arr * g))


def absorption_for(target: Floats, ground: Floats, s: Floats, iterations: int = 40) -> Floats:
    """K of a film of thickness 1 and scattering s which over `ground` shows `target`, per band.

    Reflectance falls steadily with K, so bisection of log10 K finds it; a target lighter than the
    clear film can be is answered with the clearest film.
    """
    low, high = np.full(target.shape, -7.0), np.full(target.shape, 4.5)
    for _ in range(iterations):
        middle = (low + high) / 2
        r0, t = film(10.0**middle, s, 1.0)
        too_light = over(ground, r0, t) > target
        low, high = np.where(too_light, middle, low), np.where(too_light, high, middle)
    return np.asarray(10.0 ** ((low + high) / 2))
