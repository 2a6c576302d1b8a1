"""A method: a school of working order, as data."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import Floats, lab_to_lch
from core.errors import InputError
from core.look.roles import ROLES, SHADOW_ROLES
from core.optics.media import MEDIA
from core.optics.medium import MAX_REPEATS, PRESSURES, Box
from core.optics.stick import Stick
from core.recipe.finish import FINISHES
from core.recipe.rules import LEAST_TOOTH, Rules, free, stick_labs, with_black
from core.rows import from_row

_SLACK_L = {"dark_to_light": -1.0, "light_to_dark": 1.0}


_UNDER_COLOUR_C = 8.0


def _has_hue(stick: Stick, hues: Sequence[tuple[float, float]]) -> bool:
    """Whether a stick is coloured and of one of these hues; of any if none are named."""
    if not hues:
        return True
    _, chroma, hue_deg = (float(v) for v in lab_to_lch(stick.lab))
    return chroma >= _UNDER_COLOUR_C and any((hue_deg - low) % 360 <= (high - low) % 360 for low, high in hues)


@dataclass(frozen=True, slots=True)
class Method:
    """One school.

    order: `dark_to_light` or `light_to_dark` (of the sticks within a recipe), slack_l: by how much L*
    a stick may break it. first_lightness: range of L* of the first stick; first_pressures: how hard it
    may be pressed. later_repeats: the most strokes or coats of every later one; later_techniques: how these may
    be laid. finishes: how recipes may end (see core.recipe.finish), the usual one first. reserve: whether the
    lights are kept free by choice, to begin with. usual: the one that a medium begins with. stages: groups of
    light roles done one after the other over the whole piece; base_first: the first pass of every spot comes
    before anything else. under_shade, under_light: hues of the first stick, where it is an under-colour of
    its own: ranges in degrees, that may pass through 0.

    Of plans in layers: layers_slack_l: the slack where dark and light return to a place, slack_l if 0. first_chroma:
    the most chroma of the first stick; first_in_light_alone: whether only lit places must begin with one.
    darks_out_of_lights: by how much L* a stick may be darker than a light that it lies on, 0 for any.
    """

    id: str
    name: str
    medium: str
    explanation: str
    order: str
    slack_l: float
    first_lightness: tuple[float, float]
    first_pressures: tuple[str, ...]
    stages: tuple[tuple[str, ...], ...]
    base_first: bool
    later_repeats: int = MAX_REPEATS
    later_techniques: tuple[str, ...] = ("lay",)
    finishes: tuple[str, ...] = ("layer",)
    reserve: bool = False
    usual: bool = False
    under_shade: tuple[tuple[float, float], ...] = ()
    under_light: tuple[tuple[float, float], ...] = ()
    layers_slack_l: float = 0.0
    first_chroma: float = 200.0
    first_in_light_alone: bool = False
    darks_out_of_lights: float = 0.0

    @property
    def begins_with_a_base(self) -> bool:
        """Whether a plan's first layer is one base for all the skin, rather than under-colours by light."""
        return self.base_first and not (self.under_shade or self.under_light or self.first_in_light_alone)

    def may_lie_over(self, lightness: Floats, slack_l: float) -> NDArray[np.bool_]:
        """(n, n): whether the stick of the column may lie over that of the row, by their L* (n,) and the order."""
        rising = lightness[None, :] - lightness[:, None]
        return np.asarray(rising * _SLACK_L[self.order] <= slack_l)

    def rules(self, box: Box, black: str = "last") -> Rules:
        """The rules of this method for a box; black: `avoid`, `last` or `free`."""
        lightness = stick_labs(box)[:, 0]
        low, high = self.first_lightness
        laid = np.array([a.technique == "lay" and PRESSURES[a.pressure] in self.first_pressures for a in box.actions])
        of_stick = np.array([a.stick for a in box.actions], dtype=np.intp)
        # A blender has no such action: whatever its lightness, nothing begins with it.
        can_begin = np.isin(np.arange(len(box.sticks)), of_stick[laid])
        stick_may = can_begin & (lightness >= low) & (lightness <= high)
        if self.under_shade or self.under_light:
            hues = (*self.under_shade, *self.under_light)
            stick_may &= np.array([_has_hue(stick, hues) for stick in box.sticks], dtype=bool)
        if can_begin.any() and not stick_may.any():
            # A tray without any stick in the range still gets the nearest it has.
            off = np.where(can_begin, np.maximum(low - lightness, lightness - high), np.inf)
            stick_may = can_begin & np.isclose(lightness, lightness[np.argmin(off)])
        first = laid & stick_may[of_stick]
        follow = free(box).follow & self.may_lie_over(lightness, self.slack_l)
        later = np.array(
            [a.repeats <= self.later_repeats and a.technique in self.later_techniques for a in box.actions], dtype=bool
        )
        return with_black(Rules(first, follow, later, np.zeros(len(box.sticks)), LEAST_TOOTH), box, black)

    def stage(self, role: str, pass_index: int) -> int:
        """The stage of the work sheet to which a pass of a spot belongs."""
        if self.base_first:
            return 0 if pass_index == 0 else 1
        for number, roles in enumerate(self.stages):
            if role in roles:
                return number
        return len(self.stages)

    def stage_names(self) -> tuple[tuple[str, ...], ...]:
        """What is done in each stage: light roles, or that the base is laid everywhere and then the rest."""
        if self.base_first:
            return (("the first pass everywhere",), ("everything over it",))
        named = {role for stage in self.stages for role in stage}
        rest = tuple(role for role in ROLES if role not in named)
        return (*self.stages, rest) if rest else self.stages

    def under_hues(self, role: str) -> tuple[tuple[float, float], ...]:
        """The hues (ranges in degrees) that the first stick of a spot in this light role may have; empty for any."""
        return self.under_shade if role in SHADOW_ROLES else self.under_light

    def lies_under(self, stick: Stick, role: str) -> bool:
        """Whether a stick may be the under-colour of a spot in this light role."""
        return _has_hue(stick, self.under_hues(role))


@cache
def methods() -> dict[str, Method]:
    """All schools, by id: one file each in core/method/schools. Raises InputError (`bad_row`)."""
    found = {}
    for entry in sorted(files("core.method").joinpath("schools").iterdir(), key=lambda e: e.name):
        if entry.name.endswith(".toml"):
            key = entry.name.removesuffix(".toml")
            found[key] = from_row(Method, tomllib.loads(entry.read_text("utf-8")), f"schools/{entry.name}", id=key)
    return found


def wrong_with(method: Method) -> Iterator[tuple[str, str]]:
    """What a method says that cannot be, and what to do about it."""
    name = f"The method {method.id or method.name}"
    medium = MEDIA.get(method.medium)
    if medium is None:
        yield f"{name} is for “{method.medium[:40]}”.", f"Use one of {', '.join(MEDIA)}."
        return
    for what, used, known in (
        ("order", (method.order,), tuple(_SLACK_L)),
        ("first_pressures", method.first_pressures, medium.pressures),
        ("later_techniques", method.later_techniques, medium.techniques),
        ("finishes", method.finishes, tuple(FINISHES)),
        ("stages", tuple(role for stage in method.stages for role in stage), ROLES),
    ):
        for word in used:
            if word not in known:
                yield f"{name} has “{word[:40]}” in {what}.", f"Use some of {', '.join(known)}."
    if not method.finishes or not method.first_pressures:
        yield f"{name} can neither begin nor end.", "Name first_pressures and finishes."


def get_method(method_id: str, medium: str, own: Method | None = None) -> Method:
    """The method with this id. own: one that the artist has put in. Raises InputError (`unknown_method`) if there is
    none for the medium."""
    if own is not None and own.id == method_id and own.medium == medium:
        return own
    fitting = [m.id for m in methods().values() if m.medium == medium]
    if method_id not in fitting:
        raise InputError(
            "unknown_method",
            f"There is no method “{method_id[:40]}” for this medium.",
            f"Choose from: {', '.join(fitting)}.",
            "method",
        )
    return methods()[method_id]
