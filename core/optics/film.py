"""A film that scatters and absorbs, over a ground: two-constant Kubelka–Munk theory."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from core.colour.spaces import Floats
from core.optics.spectra import N_BANDS


def k_over_s(reflectance: ArrayLike) -> Floats:
    """K/S of an infinitely thick film with this reflectance. Source: Kubelka & Munk 1931."""
    r = np.asarray(reflectance, dtype=float)
    return np.asarray((1 - r) ** 2 / (2 * r))


def reflectivity(k: ArrayLike, s: ArrayLike) -> Floats:
    """Reflectance of an infinitely thick film; the inverse of `k_over_s`. Source: Kubelka & Munk 1931."""
    ratio = np.asarray(k) / np.asarray(s)
    return np.asarray(1 / (1 + ratio + np.sqrt(ratio * (ratio + 2))))


@dataclass(frozen=True, slots=True)
class Films:
    """Films of some materials, of any thickness: a, b and b·S of the hyperbolic solution, arrays of one shape."""

    a: Floats
    b: Floats
    rate: Floats

    @staticmethod
    def of(k: ArrayLike, s: ArrayLike) -> Films:
        """k, s: absorption and scattering per unit thickness, s > 0."""
        scattering = np.asarray(s)
        ratio = np.asarray(k) / scattering
        # a² − 1 without cancellation; the floor keeps the clear film (K = 0) finite.
        b = np.sqrt(np.maximum(ratio * (ratio + 2), 1e-12))
        return Films(1 + ratio, b, b * scattering)

    def __getitem__(self, which: slice) -> Films:
        return Films(self.a[which], self.b[which], self.rate[which])

    def bands(self, which: slice) -> Films:
        """The same at some bands."""
        return Films(self.a[:, which], self.b[:, which], self.rate[:, which])

    def take(self, which: int | NDArray[np.intp]) -> Films:
        """That of one material, or those of some (n,)."""
        return Films(self.a.take(which, axis=0), self.b.take(which, axis=0), self.rate.take(which, axis=0))

    def at(self, thickness: ArrayLike) -> tuple[Floats, Floats]:
        """Reflectance over black R0 and transmittance T; the thickness broadcasts.

        R0 = sinh y / (a sinh y + b cosh y), T = b / (a sinh y + b cosh y), y = b S X, written with
        decaying exponentials so that thick films do not overflow. Source: Kubelka 1948.
        """
        fade = np.exp(-self.rate * np.asarray(thickness))
        faded_twice = fade * fade
        stopped = 1 - faded_twice
        faded_twice += 1
        whole = self.a * stopped + self.b * faded_twice
        fade *= 2 * self.b
        return stopped / whole, fade / whole


def across(amounts: Floats) -> NDArray[np.float32]:
    """Amounts (n,) of films for all bands, in single precision: (n, 31)."""
    return np.repeat(amounts.astype(np.float32)[:, None], N_BANDS, axis=1)


def film(k: ArrayLike, s: ArrayLike, thickness: ArrayLike) -> tuple[Floats, Floats]:
    """R0 and T of one film; the arguments broadcast. See `Films`."""
    return Films.of(k, s).at(thickness)


def over(ground: ArrayLike, r0: ArrayLike, t: ArrayLike) -> Floats:
    """Reflectance of a film (R0, T) over a ground. Source: Kubelka 1948."""
    g, r0_arr, t_arr = np.asarray(ground), np.asarray(r0), np.asarray(t)
    return np.asarray(r0_arr + t_arr**2 * g / (1 - r0_arr * g))


def laid_over(ground: Floats, k: Floats, s: Floats) -> Floats:
    """Reflectance of a film of absorption k and scattering s, both times its thickness, over a ground; one shape, or a
    ground that broadcasts to it.

    (1 − g (a − b coth y)) / (a − g + b coth y), y = b s, worked out in place: quicker than by way of R0 and T where
    every place has a film of its own. k is overwritten. Source: Kubelka 1948.
    """
    a = np.divide(k, s, out=k)
    b = a + 2
    b *= a
    np.maximum(b, 1e-6, out=b)
    np.sqrt(b, out=b)
    a += 1
    faded = b * s
    faded *= -2
    np.exp(faded, out=faded)
    coth = faded + 1
    np.subtract(1, faded, out=faded)
    np.maximum(faded, 1e-6, out=faded)
    coth /= faded
    coth *= b
    seen = a - coth
    seen *= ground
    np.subtract(1, seen, out=seen)
    a -= ground
    a += coth
    seen /= a
    return seen


def covered(root: Floats, r0: Floats, t: Floats, coverage: Any) -> Floats:
    """Square root of the reflectance of a ground that a film (R0, T) covers in part: (1 − c) √Rg + c √R.

    root: √Rg; the arguments broadcast. Worked out in place, since searches do little else; arrays of full
    length (…, 31) are several times faster than columns.
    Source: Yule & Nielsen 1951, with n = 2.
    """
    seen = np.empty(np.broadcast(root, r0, coverage).shape, dtype=root.dtype)
    np.square(root, out=seen)
    below = np.multiply(seen, r0)
    np.subtract(1, below, out=below)
    seen *= np.square(t)
    seen /= below
    seen += r0
    np.sqrt(seen, out=seen)
    seen -= root
    seen *= coverage
    seen += root
    return seen


def cover(roots: Floats, r0: Floats, t_squared: Floats, coverage: Floats) -> None:
    """As `covered`, in place; all are (g, bands). t_squared: the square of the transmittance."""
    seen = np.multiply(roots, roots)
    r0_seen = np.multiply(seen, r0)
    np.subtract(1, r0_seen, out=r0_seen)
    seen *= t_squared
    seen /= r0_seen
    seen += r0
    np.sqrt(seen, out=seen)
    seen -= roots
    seen *= coverage
    roots += seen


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
