"""A recipe: the passes for one spot, what they will really give, and what to beware of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats, lab_to_lch
from core.colour.swatch import Swatch
from core.colour.temperature import temperature
from core.optics.medium import STEADY, Hand, Layered, Pass
from core.optics.stack import HANDS, colours_of, states_after, tolerance
from core.optics.texture import evened_by, heights, parts_of, surface
from core.recipe.cautions import Caution, cautions_for

MODEL = 6
"""Grows with every change of what the model says of passes: results of another number are worked out anew."""
_FELT = 2.5


@dataclass(frozen=True, slots=True)
class Step:
    """One pass of a recipe: the colour seen after it, the tooth still free (0–1), what it does."""

    pass_: Pass
    after: Swatch
    tooth_left: float
    effect: str


@dataclass(frozen=True, slots=True)
class Recipe:
    """delta_e: CIEDE2000 to the target (k_L = 1); delta_v: Munsell steps, positive if lighter than wanted;
    tolerance: mean CIEDE2000 by which a hand's variation moves the result. grain: hex codes of equal parts
    of the surface, from the valleys of the tooth to its peaks."""

    target: Swatch
    paper: Swatch
    steps: tuple[Step, ...]
    result: Swatch
    delta_e: float
    delta_v: float
    tolerance: float
    cautions: tuple[Caution, ...]
    grain: tuple[str, ...]


def work_out(kit: Layered, passes: Sequence[Pass], target: ArrayLike, role: str = "") -> Recipe:
    """What these passes give against a target in CIELAB (3,), by the exact model.

    Raises InputError for passes that cannot be made.
    """
    wanted = np.asarray(target, dtype=float)
    # The steady hand, those that vary, and what is laid at each height of the tooth, all at once.
    hands = [STEADY, *HANDS, *heights(kit, passes)]
    states = states_after(kit, passes, Hand.together(hands))
    seen = colours_of(kit, states)
    ends = np.atleast_2d(kit.reflectance(states[-1]))
    ends = np.broadcast_to(ends, (len(hands), ends.shape[-1]))
    tooth = [kit.tooth_left(state) for state in states]
    last, varied = seen[-1], slice(1, 1 + len(HANDS))
    target_, *after = Swatch.of_all(np.vstack([wanted, seen]))
    return Recipe(
        target=target_,
        paper=after[0],
        steps=tuple(
            Step(pass_, after[i + 1], round(tooth[i + 1], 3), effect)
            for i, (pass_, effect) in enumerate(zip(passes, _effects(seen), strict=True))
        ),
        result=after[-1],
        delta_e=round(float(ciede2000(wanted, last)), 2),
        delta_v=round(float(lab_to_value(last) - lab_to_value(wanted)), 2),
        tolerance=round(tolerance(ends[: 1 + len(HANDS)]), 2),
        cautions=cautions_for(kit, passes, wanted, states, seen, tooth, role),
        grain=surface(kit, passes) if evened_by(passes) else parts_of(np.delete(ends, varied, axis=0)),
    )


def _effects(seen: Floats) -> list[str]:
    """What each pass does, in the words an artist would use: its one or two largest changes in CIELAB. seen (n + 1, 3):
    the paper, and the colour after each."""
    _, chroma, hue_deg = lab_to_lch(seen).T
    lighter, stronger = np.diff(seen[:, 0]), np.diff(chroma)
    turned = 2 * np.sqrt(chroma[:-1] * chroma[1:]) * np.abs(np.sin(np.radians(np.diff(hue_deg) / 2)))
    warmer = temperature(seen[1:], seen[:-1])
    rows = zip(lighter.tolist(), stronger.tolist(), turned.tolist(), warmer.tolist(), strict=True)
    return ["base" if i == 0 else _effect(*row) for i, row in enumerate(rows)]


def _effect(lighter: float, stronger: float, turned: float, warmer: float) -> str:
    changes = (
        (abs(lighter), "lightens" if lighter > 0 else "deepens"),
        (turned, "warms" if warmer > 0 else "cools"),
        (abs(stronger), "strengthens" if stronger > 0 else "calms"),
    )
    felt = [word for size, word in sorted(changes, reverse=True) if size >= _FELT]
    return " and ".join(felt[:2]) or "adjusts"
