"""What tray and paper cannot hold, said so that the artist can plan around it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, get_args

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats
from core.colour.words import closeness

Fit = Literal["clip", "compress"]
FITS: tuple[Fit, ...] = get_args(Fit)
_HARDLY = 0.05
_FAR_OFF = 4.0
_TOE = 2.0
"""L* over which the darks are told apart that are too dark for the tray (assumption)."""


def beyond(value: float, darkest: float, lightest: float, distance: float | None) -> str:
    """Why a colour cannot be reached; empty if it can.

    value, darkest, lightest: Munsell values of the colour and of what can be reached. distance: ΔE00
    that the best recipe leaves, None as long as there is none.
    """
    if value < darkest - _HARDLY:
        steps = f"{darkest - value:.1f} value steps darker than this tray gets on this paper"
        return f"{steps}: add something deeper, or draw all values together."
    if value > lightest + _HARDLY:
        steps = f"{value - lightest:.1f} value steps lighter than this tray gets on this paper"
        return f"{steps}: take a whiter paper, add something paler, or draw all values together."
    if distance is not None and distance > _FAR_OFF:
        stays = f"The value can be reached, the colour stays {closeness(distance)}"
        return f"{stays}: the palette names what would help most."
    return ""


def under_a_light(values: Sequence[float], darkest: float, lightest: float) -> tuple[tuple[bool, ...], str]:
    """Which of the Munsell values that an imagined light asks for cannot be laid, and what to do; empty if all can."""
    low = [value < darkest - _HARDLY for value in values]
    high = [value > lightest + _HARDLY for value in values]
    said = []
    if any(low):
        said.append(f"{sum(low)} darker than the darkest you have: raise the key, or draw the darks together")
    if any(high):
        said.append(f"{sum(high)} lighter than the paper: lower the key, or draw all values together")
    return tuple(a or b for a, b in zip(low, high, strict=True)), "; ".join(said)


def told_apart(targets: ArrayLike, darkest_l: float) -> Floats:
    """Targets (m, 3) in CIELAB, those darker than can be reached not all alike: from the darkest of them to a little
    above the edge they are drawn together in proportion, so that what was lighter stays lighter."""
    labs = np.array(targets, dtype=float).reshape(-1, 3)
    lightness = labs[:, 0]
    low, high = float(lightness.min(initial=darkest_l)), darkest_l + _TOE
    if low < darkest_l:
        toe = lightness < high
        lightness[toe] = high - (high - lightness[toe]) * _TOE / (high - low)
    return labs


def fitted(targets: ArrayLike, darkest_l: float, lightest_l: float, how: str) -> Floats:
    """Targets (m, 3) in CIELAB moved into the lightness that can be reached; a and b stay.

    `clip` moves only what lies outside, to the edge. `compress` draws each half, from the middle of the
    targets (kept off the edges of the reach by a quarter of it) to the end that lies outside, together in
    proportion, so that what was lighter stays lighter.
    """
    labs = np.array(targets, dtype=float).reshape(-1, 3)
    lightness = labs[:, 0]
    if how == "compress" and len(labs):
        quarter = (lightest_l - darkest_l) / 4
        middle = float(np.clip(np.median(lightness), darkest_l + quarter, lightest_l - quarter))
        low, high = float(lightness.min()), float(lightness.max())
        if low < darkest_l:
            shade = lightness < middle
            lightness[shade] = middle - (middle - lightness[shade]) * (middle - darkest_l) / (middle - low)
        if high > lightest_l:
            lit = lightness > middle
            lightness[lit] = middle + (lightness[lit] - middle) * (lightest_l - middle) / (high - middle)
    labs[:, 0] = np.clip(lightness, darkest_l, lightest_l)
    return labs
