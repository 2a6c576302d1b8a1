"""Correcting sticks by measured boxes: a few move them a little, many decide."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from scipy.optimize import least_squares

from core.colour.spaces import Floats, hex_to_lab
from core.errors import InputError
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Fit, Stick
from core.optics.support import WHITE_PAPER, Support, own_support

PRIOR = (0.30, 0.14, 0.35)
"""Spread of the natural logarithms of strength, coverage and scattering among sticks of one class (assumption)."""
NOISE = 1.0
"""Error of a measured box, in units of CIEDE2000 (assumption)."""
MAX_BOXES = 2000
_CHROMA_COUNTS_LESS = 0.03
_ROUNDS = 2
_SWATCHES_KEPT = 512


@dataclass(frozen=True, slots=True)
class MeasuredBox:
    """Passes as they were really laid, and the CIELAB that was measured."""

    passes: tuple[Pass, ...]
    lab: tuple[float, float, float]


def refit(sticks: Sequence[Stick], boxes: Sequence[MeasuredBox], support: Support) -> tuple[Stick, ...]:
    """The sticks with the `fit` that explains the boxes best, given what sticks of their class usually do.

    For each stick the maximum a posteriori of strength, coverage and scattering: Gaussian errors of the
    boxes and Gaussian priors of the logarithms (Levenberg–Marquardt-like least squares). Boxes of several
    sticks count for each of them in turn, twice round. Raises InputError for passes that cannot be made.
    """
    if len(boxes) > MAX_BOXES:
        raise InputError(
            "too_many_boxes", f"{len(boxes)} boxes are too many.", f"Use at most {MAX_BOXES} at a time.", "boxes"
        )
    fitted = {stick.code: stick for stick in sticks}
    shared = any(len({p.stick for p in box.passes}) > 1 for box in boxes)
    for _ in range(_ROUNDS if shared else 1):
        for code in fitted:
            own = [box for box in boxes if any(p.stick == code for p in box.passes)]
            if own:
                fitted[code] = _refitted(code, fitted, own, support)
    return tuple(fitted.values())


def _refitted(code: str, fitted: dict[str, Stick], boxes: Sequence[MeasuredBox], support: Support) -> Stick:
    stick = fitted[code]
    named = {p.stick for box in boxes for p in box.passes}
    others = tuple(other for other in fitted.values() if other.code in named and other.code != code)
    measured = np.array([box.lab for box in boxes])
    weight = np.ones_like(measured)
    weight[:, 1:] /= 1 + _CHROMA_COUNTS_LESS * np.hypot(measured[:, 1], measured[:, 2])[:, None]

    def residuals(logs: Floats) -> Floats:
        kit = Kit((_with(stick, logs), *others), support, stick.medium)
        seen = np.array([colours_after(kit, box.passes)[-1] for box in boxes])
        return np.concatenate([((seen - measured) * weight / NOISE).ravel(), logs / PRIOR])

    # In units of the prior's spread, counted from 1, since the solver's steps are parts of the value.
    found = least_squares(lambda x: residuals((x - 1) * PRIOR), np.ones(3), diff_step=1e-2, bounds=(-4, 6))
    return _with(stick, (found.x - 1) * PRIOR)


def _with(stick: Stick, logs: Floats) -> Stick:
    strength, coverage, scatter = (float(v) for v in np.exp(logs))
    return replace(stick, fit=Fit(strength, coverage, scatter))


@lru_cache(maxsize=_SWATCHES_KEPT)
def as_swatched(stick: Stick) -> Stick:
    """The stick, fitted to its light and its heavy swatch on white paper if it has any."""
    hands = get_medium(stick.medium).pressures
    given = [(hands[0], stick.light_hex), (hands[-1], stick.heavy_hex)]
    boxes = [
        MeasuredBox((Pass(stick.code, pressure),), (float(lab[0]), float(lab[1]), float(lab[2])))
        for pressure, code in given
        if code
        for lab in [hex_to_lab(code)]
    ]
    white = own_support("swatch", "Swatch paper", WHITE_PAPER, 0.5, 10, (stick.medium,))
    return refit((stick,), boxes, white)[0]
