"""A complexion described rather than seen: every position of every slider is a skin that exists."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Annotated, Any

import numpy as np
from annotated_types import Interval

from core.colour.spaces import Floats
from core.optics.spectra import reflectance_to_lab
from core.rows import toml
from core.skin.complexion import read_complexion, typology_angle
from core.skin.measured import PERCENT, beyond_measured, envelope, place_offset
from core.skin.reflectance import body_reflectance, skin_reflectance
from core.skin.solve import skins_of

DEEPEST, PALEST = 26.0, 73.0
Part = Annotated[float, Interval(ge=0, le=1)]
Percentile = Annotated[float, Interval(ge=5, le=95)]
_FLUSHED, _TANNED = 2.2, 0.7


@dataclass(frozen=True, slots=True)
class Description:
    """depth: L* of forehead and cheek, evenly lit. undertone: the share of people of that depth, in percent, who are
    pinker; strength: who are greyer. flush, sun, freckles, beard, age: 0 none to 1 full.
    """

    depth: Annotated[float, Interval(ge=DEEPEST, le=PALEST)] = 58.0
    undertone: Percentile = 50.0
    strength: Percentile = 50.0
    flush: Part = 0.0
    sun: Part = 0.0
    freckles: Part = 0.0
    beard: Part = 0.0
    age: Part = 0.0

    @property
    def lab(self) -> Floats:
        """CIELAB (3,) of forehead and cheek as an instrument measures them, at rest and without sun."""
        skins = envelope(self.depth)
        hue = np.radians(np.interp(self.undertone, PERCENT, skins.hue_deg))
        chroma = np.interp(self.strength, PERCENT, skins.chroma)
        return np.array([self.depth, chroma * np.cos(hue), chroma * np.sin(hue)])

    @property
    def words(self) -> str:
        """Such as `brown, warm, a little flushed`."""
        seen = read_complexion(self.lab)
        more = (
            (self.flush, "flushed"), (self.sun, "sun-worn"), (self.freckles, "freckled"), (self.beard, "unshaven"),
            (self.age, "aged"),
        )  # fmt: skip
        said = [seen.depth, seen.undertone, *(f"{_much(share)}{word}" for share, word in more if share >= _LITTLE)]
        return ", ".join(said)


_LITTLE, _MUCH = 0.08, 0.66


def _much(share: float) -> str:
    return "very " if share >= _MUCH else "" if share >= 0.4 else "a little "


def described(lab: Sequence[float]) -> Description:
    """The description whose colour comes nearest to the evenly lit CIELAB (3,) of forehead and cheek."""
    lightness, a, b = (float(v) for v in lab)
    depth = float(np.clip(lightness, DEEPEST, PALEST))
    skins = envelope(depth)
    hue = (np.degrees(np.arctan2(b, a)) + 90) % 360 - 90
    undertone, strength = (
        float(np.clip(np.interp(value, column, PERCENT), 5, 95))
        for value, column in ((hue, skins.hue_deg), (np.hypot(a, b), skins.chroma))
    )
    return Description(depth, undertone, strength)


@cache
def _assumed() -> dict[str, Any]:
    return toml("core.skin", "data/assumed.toml")


def usual_offset(place: str, angle_deg: float) -> Floats:
    """CIELAB (3,) by which a place differs from the mean of forehead and cheek at a depth: measured where it was, else
    assumed (data/assumed.toml); nothing for what neither knows."""
    held = _assumed()
    row = held["places"].get(place)
    if row is not None:
        return np.array([np.interp(angle_deg, held["angle_deg"], column) for column in zip(*row, strict=True)])
    found = place_offset(held["like"].get(place, place), angle_deg)
    return found.lab * held["softened"].get(place, 1.0) if found else np.zeros(3)


@dataclass(frozen=True, slots=True, eq=False)
class Skins:
    """Of each place of a person: reflectance (p, 31) without gloss, and melanin, blood and carotene (p, 3)."""

    reflectance: Floats
    held: Floats


@lru_cache(maxsize=64)
def skins_at(description: Description, places: tuple[str, ...]) -> Skins:
    """The skin of a person at each place: that of the face, shifted as the place usually is, with more blood where it
    shows, more melanin where the sun falls, the shade of a beard and what years do.

    Flush, sun and years go as far as forehead and cheek together stay a skin that was measured.
    """
    held = _assumed()
    angle = typology_angle(description.lab)
    # Forehead and cheek are asked for besides: they say whether this is still a skin.
    every = (*places, *_FACE)
    labs = description.lab + np.array([usual_offset(place, angle) for place in every])
    shaven = np.array([place in held["beard"]["places"] for place in every])
    labs += description.beard * shaven[:, None] * np.array(held["beard"]["adds"], dtype=float)
    skins = skins_of(labs)
    years = held["age"]

    def of(table: Mapping[str, float], usual: float = 0.0) -> Floats:
        return np.array([table.get(place, usual) for place in every])

    flush, sun = of(held["flush"], held["flush"]["other"]), of(held["sun"], held["sun"]["other"])
    more = np.ones_like(skins)
    more[:, 0] = (1 + _TANNED * description.sun * sun) * (1 + description.age * of(years["melanin"]))
    more[:, 1] = (1 + _FLUSHED * description.flush * flush) * (1 + description.age * of(years["blood"]))
    skins = skins * more ** _as_far(skins[-len(_FACE) :], more[-len(_FACE) :])
    return Skins(body_reflectance(skins[: len(places)]), skins[: len(places)])


_FACE = ("forehead", "cheek")
_HALVINGS = 7


def _as_far(face: Floats, more: Floats) -> float:
    """How far, 0 to 1, a face (2, 3) may change by these factors and look like a skin that was measured."""

    def exists(share: float) -> bool:
        seen = reflectance_to_lab(skin_reflectance(face * more**share))
        return not beyond_measured(seen.mean(axis=0))

    if (more == 1).all() or exists(1.0):
        return 1.0
    low, high = 0.0, 1.0
    for _ in range(_HALVINGS):
        half = (low + high) / 2
        low, high = (half, high) if exists(half) else (low, half)
    return low
