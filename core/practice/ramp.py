"""Five steps of one stick laid by hand, from barely there to as dark as it goes, measured."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.munsell import lab_to_value
from core.errors import InputError
from core.practice.asked import FELT, Lab

STEPS = 5
_TIMID = 0.75
"""From how many steps of value on the darkest is said to fall short of its stick."""


@dataclass(frozen=True, slots=True)
class RampRead:
    """values (5): Munsell values as they were laid, from the lightest; wanted (5): even steps from the paper to what
    the stick can do; errors (5): signed, in steps, too light is positive. said: what to do about it."""

    values: tuple[float, ...]
    wanted: tuple[float, ...]
    errors: tuple[float, ...]
    said: str


def read_ramp(labs: Sequence[Lab], paper: ArrayLike, darkest: ArrayLike | None = None) -> RampRead:
    """labs: CIELAB of the five swatches, in any order. darkest: what the stick gives when it is closed; without it the
    darkest swatch is taken for that, and only how even the steps are is judged.

    Raises InputError (`not_five`, `no_ramp`).
    """
    if len(labs) != STEPS:
        raise InputError(
            "not_five",
            f"{len(labs)} swatches are in this photograph, not five.",
            "Photograph the five steps alone, from above; or set the sheet's corners. Nothing was kept.",
            "photo",
        )
    values = np.sort(np.asarray(lab_to_value(np.array(labs, dtype=float)), dtype=float))[::-1]
    white = float(lab_to_value(np.asarray(paper, dtype=float)))
    end = float(values[-1] if darkest is None else lab_to_value(np.asarray(darkest, dtype=float)))
    if white - float(values[-1]) < STEPS * FELT["ramp"] / 2:
        raise InputError(
            "no_ramp",
            "These five are all but as light as the paper.",
            "Use one that can go dark. Nothing was kept.",
            "photo",
        )
    wanted = white + (end - white) * np.arange(1, STEPS + 1) / STEPS
    errors = values - wanted
    return RampRead(
        tuple(values.round(2).tolist()), tuple(wanted.round(2).tolist()), tuple(errors.round(2).tolist()),
        _said(values, errors),
    )  # fmt: skip


def _said(values: np.typing.NDArray[np.float64], errors: np.typing.NDArray[np.float64]) -> str:
    if errors[-1] > _TIMID:
        return f"Too timid in the dark: it goes {errors[-1]:.1f} steps deeper than your darkest."
    if np.abs(errors).max() <= FELT["ramp"]:
        return "Five even steps, as wanted."
    apart = -np.diff(values)
    widest, narrowest = int(np.argmax(apart)), int(np.argmin(apart))
    if apart[narrowest] < FELT["ramp"] / 2:
        return f"Steps {narrowest + 1} and {narrowest + 2} are as good as alike: lay {narrowest + 2} once more."
    return (
        f"The leap from {widest + 1} to {widest + 2} is the widest ({apart[widest]:.1f} steps), from {narrowest + 1} "
        f"to {narrowest + 2} the narrowest ({apart[narrowest]:.1f})."
    )
