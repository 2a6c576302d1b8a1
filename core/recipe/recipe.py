"""A recipe: the passes for one spot, what they will really give, and what to beware of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats, lab_to_lch, xyz_to_lab
from core.colour.swatch import Swatch
from core.colour.temperature import temperature
from core.errors import InputError
from core.optics.medium import STEADY, Hand, Layered, Pass
from core.optics.spectra import reflectance_to_lab, reflectance_to_xyz
from core.optics.stack import HANDS, states_after
from core.optics.texture import evened_by, heights, parts_of, surface
from core.recipe.cautions import Case, Caution, cautions_for

MODEL = 12
"""Grows with every change of what the model says of passes, plans or maps: results of another number are worked out
anew."""
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


@dataclass(frozen=True, slots=True)
class Asked:
    """Passes, the CIELAB (3,) that they are judged by, and the role of the spot that they are for."""

    passes: Sequence[Pass]
    target: ArrayLike
    role: str = ""


def work_out(kit: Layered, passes: Sequence[Pass], target: ArrayLike, role: str = "") -> Recipe:
    """What these passes give against a target in CIELAB (3,), by the exact model.

    Raises InputError for passes that cannot be made.
    """
    return made(kit, [Asked(passes, target, role)])[0]


def made(kit: Layered, asked: Sequence[Asked]) -> list[Recipe]:
    """The same of several. Raises the first InputError for passes that cannot be made."""
    found: list[Recipe] = []
    for row in work_out_all(kit, asked):
        if isinstance(row, InputError):
            raise row
        found.append(row)
    return found


def work_out_all(kit: Layered, asked: Sequence[Asked]) -> list[Recipe | InputError]:
    """The same of many at once, much quicker than one by one: what cannot be made stands as its error."""
    stacks = _Stacks(kit)
    found = [stacks.laid(row) for row in asked]
    told = iter(_told(kit, [row for row in found if isinstance(row, _Laid)]))
    return [next(told) if isinstance(row, _Laid) else row for row in found]


@dataclass(frozen=True, slots=True)
class _Laid:
    """states, tooth (passes + 1), seen (passes + 1, 31): from the bare paper on, as a steady hand lays it. varied
    (HANDS, 31), relief (LEVELS, 31): the end, as other hands lay it, and at each height of the tooth."""

    asked: Asked
    states: Sequence[Any]
    tooth: list[float]
    seen: Floats
    varied: Floats
    relief: Floats


class _Stacks:
    """Lays passes; stacks that begin alike share their beginning."""

    def __init__(self, kit: Layered) -> None:
        self._kit = kit
        self._known: dict[tuple[Hand, ...], dict[tuple[Pass, ...], Any]] = {}

    def laid(self, asked: Asked) -> _Laid | InputError:
        # The steady hand, those that vary, and what is laid at each height of the tooth, all at once.
        hands = (STEADY, *HANDS, *heights(self._kit, asked.passes))
        try:
            states = states_after(self._kit, asked.passes, Hand.together(hands), self._known.setdefault(hands, {}))
        except InputError as error:
            return error
        seen = np.array([np.atleast_2d(self._kit.reflectance(state))[0] for state in states])
        ends = np.atleast_2d(self._kit.reflectance(states[-1]))
        ends = np.broadcast_to(ends, (len(hands), ends.shape[-1]))
        tooth = [self._kit.tooth_left(state) for state in states]
        return _Laid(asked, states, tooth, seen, ends[1 : 1 + len(HANDS)], ends[1 + len(HANDS) :])


def _told(kit: Layered, rows: Sequence[_Laid]) -> list[Recipe]:
    """What is seen of stacks, in colours and words: all at once, since of single ones most time goes into the calls."""
    if not rows:
        return []
    wanted = np.array([row.asked.target for row in rows], dtype=float)
    starts = np.cumsum([0, *(len(row.seen) for row in rows)])
    ends = starts[1:] - 1
    xyz = reflectance_to_xyz(np.concatenate([row.seen for row in rows]))
    labs = xyz_to_lab(xyz)
    off = ciede2000(wanted, labs[ends])
    apart = ciede2000(labs[ends, None], reflectance_to_lab(np.array([row.varied for row in rows]))).mean(axis=1)
    lighter = lab_to_value(labs[ends]) - lab_to_value(wanted)
    grains = parts_of(xyz[ends], reflectance_to_xyz(np.array([row.relief for row in rows])))
    targets, swatches = Swatch.of_all(wanted), Swatch.of_all(labs)
    moved, effects = ciede2000(labs[:-1], labs[1:]).tolist(), _effects(labs)
    wanted_lch, lch = lab_to_lch(wanted).tolist(), lab_to_lch(labs).tolist()
    found = []
    for i, row in enumerate(rows):
        passes, seen, between = tuple(row.asked.passes), slice(starts[i], starts[i + 1]), slice(starts[i], ends[i])
        case = Case(
            kit, passes, wanted[i], row.states, labs[seen], row.tooth, row.asked.role, wanted_lch[i], lch[seen],
            float(off[i]), moved[between],
        )  # fmt: skip
        does = ["base", *effects[between][1:]]
        steps = zip(passes, swatches[seen][1:], row.tooth[1:], does, strict=False)
        found.append(
            Recipe(
                target=targets[i],
                paper=swatches[starts[i]],
                steps=tuple(Step(pass_, after, round(tooth, 3), effect) for pass_, after, tooth, effect in steps),
                result=swatches[ends[i]],
                delta_e=round(float(off[i]), 2),
                delta_v=round(float(lighter[i]), 2),
                tolerance=round(float(apart[i]), 2),
                cautions=cautions_for(case),
                grain=surface(kit, passes) if evened_by(passes) else grains[i],
            )
        )
    return found


def _effects(seen: Floats) -> list[str]:
    """What lies between each of some colours (n, 3) in CIELAB and the next, in the words an artist would use: its one
    or two largest changes."""
    _, chroma, hue_deg = lab_to_lch(seen).T
    lighter, stronger = np.diff(seen[:, 0]), np.diff(chroma)
    turned = 2 * np.sqrt(chroma[:-1] * chroma[1:]) * np.abs(np.sin(np.radians(np.diff(hue_deg) / 2)))
    warmer = temperature(seen[1:], seen[:-1])
    rows = zip(lighter.tolist(), stronger.tolist(), turned.tolist(), warmer.tolist(), strict=True)
    return [_effect(*row) for row in rows]


def _effect(lighter: float, stronger: float, turned: float, warmer: float) -> str:
    changes = (
        (abs(lighter), "lightens" if lighter > 0 else "deepens"),
        (turned, "warms" if warmer > 0 else "cools"),
        (abs(stronger), "strengthens" if stronger > 0 else "calms"),
    )
    felt = [word for size, word in sorted(changes, reverse=True) if size >= _FELT]
    return " and ".join(felt[:2]) or "adjusts"
