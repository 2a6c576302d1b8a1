"""What to beware of in a recipe. The sentences live in data/cautions.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from importlib.resources import files
from typing import Any

import numpy as np

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, lab_to_lch
from core.look.roles import SHADOW_ROLES
from core.optics.media import get_medium
from core.optics.medium import Layered, Pass
from core.optics.stack import colours_of
from core.optics.stick import Stick
from core.recipe.rules import LEAST_TOOTH, is_black

FAR_OFF_DELTA_E = 5.0
_FUGITIVE = ("III", "IV", "V")
_DULLER_BY_C = 2.0
_LIGHT_SKIN_L, _HOT_BY_C, _STILL_HOT_BY_C = 60.0, 20.0, 6.0
_COLOURED_C, _UNDER_COLOUR_DEG, _LAID_DELTA_E, _SHOWS_DELTA_E = 20.0, 40.0, 8.0, 0.8


@dataclass(frozen=True, slots=True)
class Caution:
    """code: stable; text: one sentence with a remedy."""

    code: str
    text: str


@dataclass(frozen=True)
class Case:
    """All that a caution can look at. states, seen (passes + 1, 3), tooth: what lies there from the bare paper on, as a
    steady hand lays it (the first, where there are several), its CIELAB, and how much tooth is left. wanted, lch:
    lightness, chroma and hue of the target and of what is seen; off: CIEDE2000 of the end to the target; moved
    (passes): by each pass."""

    kit: Layered
    passes: tuple[Pass, ...]
    target: Floats
    states: Sequence[Any]
    seen: Floats
    tooth: list[float]
    role: str
    wanted: list[float]
    lch: list[list[float]]
    off: float
    moved: list[float]

    @cached_property
    def sticks(self) -> tuple[Stick | None, ...]:
        """That of each pass, None for a tool."""
        by_code = {stick.code: stick for stick in self.kit.sticks}
        return tuple(by_code.get(pass_.stick) for pass_ in self.passes)

    def laid(self, start: int = 0) -> Iterator[tuple[int, Stick]]:
        """The passes that lay pigment, from pass `start` on: (index, stick)."""
        return ((i, stick) for i, stick in enumerate(self.sticks) if stick is not None and i >= start)

    def used(self) -> tuple[Stick, ...]:
        """The sticks, each once."""
        return tuple(dict.fromkeys(stick for _, stick in self.laid()))


@cache
def sentences() -> dict[str, str]:
    """The sentence of each caution, by code."""
    rows = tomllib.loads(files("core.recipe").joinpath("data/cautions.toml").read_text())
    return {code: str(text) for code, text in rows.items()}


def cautions_for(case: Case) -> tuple[Caution, ...]:
    """The cautions that this recipe deserves, most important first."""
    return tuple(Caution(code, sentences()[code].format(**words)) for check in _CHECKS for code, words in check(case))


Said = Iterator[tuple[str, dict[str, str]]]


def _out_of_reach(case: Case) -> Said:
    if case.off < FAR_OFF_DELTA_E:
        return
    words = {"off": f"{case.off:.1f}"}
    d_l, d_c = (case.wanted[i] - case.lch[-1][i] for i in (0, 1))
    if abs(d_l) >= 0.5 * abs(d_c):
        yield ("too_light_for_tray" if d_l > 0 else "too_dark_for_tray"), words
    else:
        yield ("too_strong_for_tray" if d_c > 0 else "too_calm_for_tray"), words


def _dead_grey(case: Case) -> Said:
    """Of skins of these values the model makes none with less chroma than 13, and hardly any without red. Planned cool
    shadows are exempt."""
    lightness, chroma, _ = case.lch[-1]
    if not case.sticks or case.role in SHADOW_ROLES or not 40 < lightness < 80:
        return
    if chroma < 10 or case.seen[-1][1] < 4:
        yield ("dead_grey_strong" if chroma < 6 else "dead_grey"), {}


def _black_over_warm(case: Case) -> Said:
    """Black takes more chroma than depth asks for, unless that calm is what is wanted."""
    if case.lch[-1][1] > case.wanted[1] - _DULLER_BY_C:
        return
    for i, stick in case.laid(1):
        _, chroma, hue_deg = case.lch[i]
        if is_black(stick) and chroma > 15 and 10 < hue_deg < 90:
            yield "black_over_warm", {"stick": stick.name}
            return


def _hot_first(case: Case) -> Said:
    """On light skin a strong first colour stays strong; deep skin wants it, since the dark coats eat most of it."""
    first = next(case.laid(), None)
    if first is None or case.target[0] < _LIGHT_SKIN_L or _lies(first[1]) == "body":
        return
    _, chroma, hue_deg = case.lch[first[0] + 1]
    too_strong, left = chroma - case.wanted[1], case.lch[-1][1] - case.wanted[1]
    if too_strong > _HOT_BY_C and left > _STILL_HOT_BY_C and hue_deg < 100:
        yield "hot_first_colour", {"stick": first[1].name, "complement": _complement(hue_deg)}


def _complement(hue_deg: float) -> str:
    return "green" if hue_deg < 45 else "blue" if hue_deg < 75 else "violet"


@lru_cache(maxsize=2048)
def chroma_and_hue(stick: Stick) -> tuple[float, float]:
    """Of its solid swatch; the hue in degrees."""
    _, chroma, hue_deg = lab_to_lch(stick.lab)
    return float(chroma), float(hue_deg)


def _lost_under_colour(case: Case) -> Said:
    """An under-colour is lost if it was plain to see when laid, and the stack without it looks the same."""
    for i, stick in case.laid():
        chroma, hue_deg = chroma_and_hue(stick)
        if i == len(case.passes) - 1 or chroma < _COLOURED_C or _apart(hue_deg, case.lch[-1][2]) < _UNDER_COLOUR_DEG:
            continue
        again = any(later is stick for _, later in case.laid(i + 1))
        if again or case.moved[i] < _LAID_DELTA_E:
            continue
        state = case.states[i]
        for pass_ in case.passes[i + 1 :]:
            state = case.kit.apply(state, pass_)
        without = colours_of(case.kit, [state])[0]
        if ciede2000(without, case.seen[-1]) < _SHOWS_DELTA_E:
            yield "lost_under_colour", {"stick": stick.name}


def _stirred_under_colour(case: Case) -> Said:
    for i, stick in case.laid(1):
        pass_ = case.passes[i]
        if _lies(stick) != "ink" or stick.colourless or (pass_.repeats == 1 and pass_.technique != "wet"):
            continue
        for j, under in case.laid():
            if j < i and _lies(under) == "ink" and _two_colours(stick, under):
                yield "stirred_under_colour", {"stick": stick.name, "under": under.name}
                return


def _lies(stick: Stick) -> str:
    return get_medium(stick.medium).lies


def _two_colours(one: Stick, other: Stick) -> bool:
    both = lab_to_lch(np.array([one.lab, other.lab]))
    return bool(both[:, 1].min() > _COLOURED_C) and _apart(*both[:, 2]) > _UNDER_COLOUR_DEG


def _apart(one_deg: float, other_deg: float) -> float:
    return abs((one_deg - other_deg + 180) % 360 - 180)


def _tooth_used_up(case: Case) -> Said:
    for i, stick in case.laid(1):
        before = case.sticks[i - 1]
        if case.tooth[i] < LEAST_TOOTH and before and before.medium == stick.medium:
            yield "tooth_used_up", {"pass": str(i), "next": stick.name}
            return


def _white_will_not_return(case: Case) -> Said:
    for i, stick in case.laid(1):
        white = stick.lab[0] > 93 and not stick.colourless
        if white and case.target[0] > 88 and case.seen[i][0] < case.target[0] - 3 and case.seen[-1][0] < case.target[0]:
            yield "white_will_not_return", {}
            return


def cautions_of(stick: Stick) -> tuple[Caution, ...]:
    """What a stick's own data warn of, whatever is made with it."""
    said = (*_fades(stick), *_holds_metal(stick))
    return tuple(Caution(code, sentences()[code].format(**words)) for code, words in said)


def _fades(stick: Stick) -> Said:
    if stick.lightfastness in _FUGITIVE:
        yield "fugitive", {"stick": stick.name, "grade": stick.lightfastness}


def _holds_metal(stick: Stick) -> Said:
    held = [metal for pigment in stick.pigments if (metal := metal_in(pigment))]
    if held:
        yield "metal", {"stick": stick.name, "metal": held[0]}


def _fugitive(case: Case) -> Said:
    for stick in case.used():
        yield from _fades(stick)


def _metals(case: Case) -> Said:
    for stick in case.used():
        yield from _holds_metal(stick)


def _blade(case: Case) -> Said:
    if any(p.stick == "blade" for p, stick in zip(case.passes, case.sticks, strict=True) if stick is None):
        yield "blade", {}


@cache
def _metals_by_pigment() -> dict[str, str]:
    rows = tomllib.loads(files("core.recipe").joinpath("data/metals.toml").read_text())
    return {name: metal for metal, names in rows.items() for name in names}


@lru_cache(maxsize=2048)
def metal_in(pigment: str) -> str:
    """The harmful metal in a pigment, by its Colour Index generic name or by its common one; empty if none is known."""
    known = _metals_by_pigment()
    if pigment.upper() in known:
        return known[pigment.upper()]
    return next((metal for word, metal in known.items() if word.islower() and word in pigment.lower()), "")


_CHECKS: tuple[Callable[[Case], Said], ...] = (
    _out_of_reach, _dead_grey, _black_over_warm, _hot_first, _lost_under_colour, _stirred_under_colour, _tooth_used_up,
    _white_will_not_return, _fugitive, _metals, _blade,
)  # fmt: skip
