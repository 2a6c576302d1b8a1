"""Reflectance spectra: 400–700 nm in steps of 10 nm, 31 bands, 0–1, seen under D65 by the 2° observer."""

from __future__ import annotations

from collections.abc import Sequence
from importlib.resources import files

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats, xyz_to_lab
from core.errors import InputError

BANDS_NM: Floats = np.arange(400.0, 701.0, 10.0)
N_BANDS = len(BANDS_NM)


def _load_weights() -> Floats:
    text = files("core.optics").joinpath("data/weights.csv").read_text().splitlines()[1:]
    return np.array([[float(v) for v in line.split(",")[1:]] for line in text])


WEIGHTS: Floats = _load_weights()
"""(31, 3): XYZ = reflectance @ WEIGHTS. Derived by tools/derive_weights.py from the CIE tables."""

COARSE = slice(1, 29, 3)
"""Every third band, 410 to 680 nm: enough to compare stacks by, and a third of the work."""
_ALIKE_NM = 200.0
"""Over what distance reflectances are alike (assumption; with 100 colours come out the same to 0.01 ΔE00)."""


def _coarse_weights() -> Floats:
    """The weights of those bands if all others are estimated from them: reflectances change smoothly with wavelength.

    Source: Pratt and Mancill 1976 (Wiener estimation), with a Matérn covariance of order 5/2.
    """
    apart = np.sqrt(5) * np.abs(BANDS_NM[COARSE, None] - BANDS_NM) / _ALIKE_NM
    covariance = 1 + (1 + apart + apart**2 / 3) * np.exp(-apart)
    return np.asarray(np.linalg.solve(covariance[:, COARSE], covariance @ WEIGHTS))


COARSE_WEIGHTS: Floats = _coarse_weights()
"""(10, 3): XYZ of a reflectance at those bands."""

_BRIGHTEST = 1.2
_DARKEST, _LIGHTEST = 1e-5, 1.0 - 1e-5


def check_spectrum(values: Sequence[float]) -> list[float]:
    """The values of a measured reflectance, if they can be one.

    A little over 1 is kept, since some inks glow. Raises InputError (`bad_spectrum`) for a wrong number
    of bands, or for what is negative, above 1.2 or no number.
    """
    wrong = ""
    if len(values) != N_BANDS:
        wrong = f"has {len(values)} bands"
    elif not np.isfinite(values).all():
        wrong = "holds something that is no number"
    elif min(values) < 0:
        wrong = f"falls to {min(values):g}"
    elif max(values) > _BRIGHTEST:
        wrong = f"rises to {max(values):g}"
    if wrong:
        raise InputError(
            "bad_spectrum",
            f"The spectrum {wrong}.",
            f"Give {N_BANDS} reflectances from 0 to 1, for 400 to 700 nm.",
            "spectrum",
        )
    return list(values)


def reflectance_to_xyz(reflectance: ArrayLike) -> Floats:
    """XYZ (…, 3) of reflectance (…, 31)."""
    arr = np.asarray(reflectance)
    return np.asarray(arr @ WEIGHTS.astype(arr.dtype))


def reflectance_to_lab(reflectance: ArrayLike) -> Floats:
    """CIELAB (…, 3) of reflectance (…, 31)."""
    return xyz_to_lab(reflectance_to_xyz(reflectance))


def upsample(xyz: ArrayLike, iterations: int = 60) -> Floats:
    """The smoothest reflectance (…, 31) within 0–1 that has the colour XYZ (…, 3).

    Minimises Σ (z_{i+1} − z_i)² with R = (tanh z + 1) / 2 under WEIGHTSᵀ R = XYZ, by Newton's method
    on the Lagrangian, all colours at once. Colours at or beyond black and white are moved just inside.
    Source: Burns 2019, "Numerical methods for smoothest reflectance reconstruction" (least hyperbolic
    tangent slope squared).
    """
    wanted = np.asarray(xyz, dtype=float).reshape(-1, 3)
    white = WEIGHTS.sum(axis=0)
    wanted = np.clip(wanted, white * _DARKEST, white * _LIGHTEST)
    n = len(wanted)
    slope = 2.0 * np.diag(np.r_[1.0, np.full(N_BANDS - 2, 2.0), 1.0])
    off = np.arange(N_BANDS - 1)
    slope[off, off + 1] = slope[off + 1, off] = -2.0

    z = np.repeat(np.arctanh(np.clip(2 * wanted[:, 1:2] - 1, -0.999, 0.999)), N_BANDS, axis=1)
    multipliers = np.zeros((n, 3))
    system = np.zeros((n, N_BANDS + 3, N_BANDS + 3))
    for _ in range(iterations):
        tanh = np.tanh(z)
        sech2 = 1.0 - tanh**2
        # The first derivative of R is sech²/2, the second −tanh·sech².
        pull = multipliers @ WEIGHTS.T
        system[:, :N_BANDS, :N_BANDS] = slope
        system[:, np.arange(N_BANDS), np.arange(N_BANDS)] += np.maximum(-tanh * sech2 * pull, 0.0)
        jacobian = 0.5 * sech2[:, :, None] * WEIGHTS[None]
        system[:, :N_BANDS, N_BANDS:] = jacobian
        system[:, N_BANDS:, :N_BANDS] = jacobian.transpose(0, 2, 1)
        residual = np.concatenate([z @ slope + 0.5 * sech2 * pull, (tanh + 1) / 2 @ WEIGHTS - wanted], axis=1)
        step = np.linalg.solve(system, -residual[..., None])[..., 0]
        z = z + np.clip(step[:, :N_BANDS], -2.0, 2.0)
        multipliers = multipliers + step[:, N_BANDS:]
        if np.abs(residual).max() < 1e-9:
            break
    reflectance = np.clip((np.tanh(z) + 1) / 2, 0.0, 1.0)
    return np.asarray(reflectance.reshape(*np.shape(xyz)[:-1], N_BANDS))
