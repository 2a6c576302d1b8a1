"""The jobs that sticks have on a lit sitter, in the trade's terms, with the colour and the share of each."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import xyz_to_lab
from core.errors import InputError
from core.light.families import FAMILIES, families_of
from core.light.shade import Lit

JobName = Literal["light", "base", "bridge", "blood", "shade", "cool shade", "deepest"]
JOBS: tuple[JobName, ...] = get_args(JobName)
FEWEST_STEPS, MOST_STEPS = 2, 5
_BLOOD = ("nose tip", "ear", "cheek", "cheekbone", "upper lip", "lower lip", "nostril", "knuckles", "finger tip")
_REDDER = 2.0
"""By how many degrees of CIELAB a place must be redder than the rest to be a job of its own; lips always are."""
_LIPS = ("upper lip", "lower lip")
_DARKEST, _LEAST = 0.03, 0.005


@dataclass(frozen=True, slots=True)
class Job:
    """What one stick has to do. lab: its mean colour, CIELAB, unclipped; share: of all that shows."""

    name: JobName
    lab: tuple[float, float, float]
    share: float


def jobs(lit: Lit, steps: int = MOST_STEPS) -> tuple[Job, ...]:
    """The jobs of a sitter, light to dark. steps: from light to shade, 2 to 5. Raises InputError (`bad_steps`).

    Two: base and shade. Three: light before them. Four: the half-tone as a bridge between base and shade. Five: the
    deepest darks. Besides: the places where blood shows, and what of the shade is lit from around, the cool shade.
    """
    if not FEWEST_STEPS <= steps <= MOST_STEPS:
        raise InputError(
            "bad_steps", f"{steps} steps are out of range.", f"Use {FEWEST_STEPS} to {MOST_STEPS}.", "steps"
        )
    job = _job_of_each(lit, steps)
    found = []
    for number, name in enumerate(JOBS):
        mine = job == number
        share = float(mine.mean())
        if share >= _LEAST:
            lightness, a, b = (float(v) for v in xyz_to_lab(lit.xyz[mine].mean(axis=0, dtype=float)))
            found.append(Job(name, (lightness, a, b), share))
    return tuple(found)


def _job_of_each(lit: Lit, steps: int) -> NDArray[np.int8]:
    family = families_of(lit)
    body = lit.xyz - lit.gloss

    def of(*names: str) -> NDArray[np.bool_]:
        return np.isin(family, [FAMILIES.index(name) for name in names])

    bright, half = of("highlight", "light"), of("half-tone")
    job = np.full(len(family), JOBS.index("shade"), np.int8)
    if steps == FEWEST_STEPS:
        job[bright | half] = JOBS.index("base")
    elif steps == 3:
        job[bright], job[half] = JOBS.index("light"), JOBS.index("base")
    else:
        middle = np.median(body[bright, 1]) if bright.any() else 0.0
        job[bright] = JOBS.index("base")
        job[bright & (body[:, 1] >= middle)] = JOBS.index("light")
        job[half] = JOBS.index("bridge")
    job[of("reflected light")] = JOBS.index("cool shade")
    job[_bloody(lit, bright | half)] = JOBS.index("blood")
    if steps == MOST_STEPS:
        dark = job == JOBS.index("shade")
        if dark.any():
            edge = np.quantile(body[:, 1], _DARKEST)
            job[dark & (body[:, 1] <= edge)] = JOBS.index("deepest")
    return job


def _bloody(lit: Lit, lit_up: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """The pixels of lit places that are redder than the rest of what is lit as much."""
    names = lit.view.model.places
    lab = xyz_to_lab(lit.xyz - lit.gloss)
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1]))
    usual = np.median(hue[lit_up]) if lit_up.any() else 0.0
    found = np.zeros(len(hue), bool)
    for number, name in enumerate(names):
        mine = lit_up & (lit.view.place == number)
        if name in _BLOOD and mine.any() and (name in _LIPS or np.median(hue[mine]) < usual - _REDDER):
            found |= mine
    return found
