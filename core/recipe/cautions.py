"""What to beware of in a recipe. The sentences live in data/cautions.toml."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, lab_to_lch
from core.optics.medium import Box, Pass
from core.optics.stick import Stick
from core.recipe.rules import is_black

FAR_OFF_DELTA_E = 5.0
_COOL_ROLES = ("shadow", "deep accent", "reflected light", "half-shadow")
_FUGITIVE = ("III", "IV", "V")
_METALS = ("cadmium", "cobalt", "chromium", "chrome", "lead", "nickel", "manganese")
_TOOTH_USED_UP = 0.12


@dataclass(frozen=True, slots=True)
class Caution:
    """code: stable; text: one sentence with a remedy."""

    code: str
    text: str


@dataclass(frozen=True, slots=True)
class Case:
    """All that a caution can look at. seen (passes + 1, 3): CIELAB from the bare paper on."""

    sticks: tuple[Stick, ...]
    target: Floats
    seen: Floats
    rooms: list[float]
    role: str


@cache
def sentences() -> dict[str, str]:
    """The sentence of each caution, by code."""
    rows = tomllib.loads(files("core.recipe").joinpath("data/cautions.toml").read_text())
    return {code: str(text) for code, text in rows.items()}


def cautions_for(
    box: Box, passes: Sequence[Pass], target: Floats, seen: Floats, rooms: list[float], role: str
) -> tuple[Caution, ...]:
    """The cautions that this recipe deserves, most important first."""
    by_code = {stick.code: stick for stick in box.sticks}
    case = Case(tuple(by_code[p.stick] for p in passes), target, seen, rooms, role)
    return tuple(Caution(code, sentences()[code].format(**words)) for check in _CHECKS for code, words in check(case))


Said = Iterator[tuple[str, dict[str, str]]]


def _out_of_reach(case: Case) -> Said:
    target, last = case.target, case.seen[-1]
    off = float(ciede2000(target, last))
    if off < FAR_OFF_DELTA_E:
        return
    words = {"off": f"{off:.1f}"}
    d_l = float(target[0] - last[0])
    d_c = float(lab_to_lch(target)[1] - lab_to_lch(last)[1])
    if abs(d_l) >= 0.5 * abs(d_c):
        yield ("too_light_for_tray" if d_l > 0 else "too_dark_for_tray"), words
    else:
        yield ("too_strong_for_tray" if d_c > 0 else "too_calm_for_tray"), words


def _dead_grey(case: Case) -> Said:
    """Thresholds from grids of the skin model; see docs/model.md. Planned cool shadows are exempt."""
    lightness, chroma, hue_deg = (float(v) for v in lab_to_lch(case.seen[-1]))
    if not case.sticks or case.role in _COOL_ROLES or not 40 < lightness < 80:
        return
    if chroma < 10 or case.seen[-1][1] < 4 or hue_deg > 88:
        yield ("dead_grey_strong" if chroma < 6 else "dead_grey"), {}


def _black_over_warm(case: Case) -> Said:
    for i, stick in enumerate(case.sticks[1:], start=1):
        _, chroma, hue_deg = (float(v) for v in lab_to_lch(case.seen[i]))
        if is_black(stick) and chroma > 15 and 10 < hue_deg < 90:
            yield "black_over_warm", {"stick": stick.name}
            return


def _tooth_used_up(case: Case) -> Said:
    for i, room in enumerate(case.rooms[1:-1], start=1):
        if room < _TOOTH_USED_UP:
            yield "tooth_used_up", {"pass": str(i), "next": case.sticks[i].name}
            return


def _white_will_not_return(case: Case) -> Said:
    for i, stick in enumerate(case.sticks[1:], start=1):
        if stick.lab[0] > 93 and case.target[0] > 88 and case.seen[i][0] < case.target[0] - 3:
            yield "white_will_not_return", {}
            return


def _fugitive(case: Case) -> Said:
    for stick in dict.fromkeys(case.sticks):
        if stick.lightfastness in _FUGITIVE:
            yield "fugitive", {"stick": stick.name, "grade": stick.lightfastness}


def _metals(case: Case) -> Said:
    for stick in dict.fromkeys(case.sticks):
        held = [metal for metal in _METALS if any(metal in pigment.lower() for pigment in stick.pigments)]
        if held:
            yield "metal", {"stick": stick.name, "metal": held[0]}


_CHECKS: tuple[Callable[[Case], Said], ...] = (
    _out_of_reach, _dead_grey, _black_over_warm, _tooth_used_up, _white_will_not_return, _fugitive, _metals,
)  # fmt: skip
