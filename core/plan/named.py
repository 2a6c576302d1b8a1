"""Areas of a face that have names: for maps that can be laid without a map."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.cluster.vq import kmeans2

from core.colour.spaces import Floats
from core.layers.doses import LEAST_MM2
from core.layers.drawable import Flags, blurred
from core.layers.fields import FADE_MM
from core.layers.ground import Ground
from core.layers.natural import BLOOD_PLACES, LIPS
from core.look.study import Study

_LIT = (
    "the lightest skin",
    "the lights",
    "the light middle tones",
    "the dark middle tones",
    "the half-tones",
    "the dark half-tones",
)
_SHADED = ("the light shadows", "the shadows", "the dark shadows", "the deepest shadows")
_WARMER, _COOLER = "warmer", "cooler"
_BUT_NOT = ", but not "
_OF_THE_REST = ("", _WARMER, _COOLER)
_FEWEST_MM2 = 12.0
"""A smaller area is none of its own."""
_WORTH_PARTING = 1.0
"""How much nearer, in CIELAB, the skin of a band must be to the warmer and cooler of two colours than to its mean."""
_SAMPLE = 3000


@dataclass(frozen=True, slots=True)
class Named:
    """An area: a band of value, and which part of it; all that is left of it under an empty one."""

    band: str
    part: str = ""

    def __str__(self) -> str:
        return _phrase(self.part, (self.band,), (0,))


@dataclass(frozen=True, slots=True, eq=False)
class NamedAreas:
    """labels (h, w): the number of each pixel's area, −1 where there is no skin. areas: what each of them is."""

    labels: NDArray[np.intp]
    areas: tuple[Named, ...]

    def told(self, doses: NDArray[np.intp]) -> tuple[tuple[str, int], ...]:
        """Where something lies and in which dose, by those of all areas (n,), 0 for none, in as few words as will do: a
        phrase for each dose and part of bands. Parts of a band that have the same dose are not told apart."""
        bands = list(dict.fromkeys(area.band for area in self.areas))
        lies: dict[tuple[int, str], list[int]] = {}
        for number, band in enumerate(bands):
            its = {area.part: int(dose) for area, dose in zip(self.areas, doses, strict=True) if area.band == band}
            rest = {dose for part, dose in its.items() if part in _OF_THE_REST}
            if len(set(its.values())) == 1:
                its = {"": next(iter(its.values()))}
            elif len(rest) == 1:
                places = {part: dose for part, dose in its.items() if part not in _OF_THE_REST}
                free = " and ".join(part for part, dose in places.items() if not dose)
                its = places | {f"{_BUT_NOT}{free}" if free else "": rest.pop()}
            for part, dose in its.items():
                lies.setdefault((dose, part), []).append(number)
        return tuple((_phrase(part, bands, its), dose) for (dose, part), its in sorted(lies.items()) if dose)


def _phrase(part: str, bands: Sequence[str], numbers: Sequence[int]) -> str:
    """Some bands, or one part of each, in words; three and more that follow each other as a run."""
    said: list[str] = []
    for _, run in itertools.groupby(enumerate(numbers), key=lambda each: each[1] - each[0]):
        its = [bands[number] for _, number in run]
        said += [f"{its[0]} to {its[-1]}"] if len(its) > 2 else its
    where = ", ".join(said)
    if part in (_WARMER, _COOLER):
        return f"the {part} part of {where}"
    if part.startswith(_BUT_NOT):
        return f"{where}{part}"
    return f"{part} in {where}" if part else where


def named_areas(study: Study, figure: int, ground: Ground) -> NamedAreas:
    """The light side in six bands of value and the shade in four; lips and blood places apart from the rest, as far as
    the face is known, and its warmer from its cooler part where light of two colours falls on it. ground: of the
    figure, in the picture of the study."""
    lightness, labels = ground.lab[..., 0], np.full(ground.mask.shape, -1, dtype=np.intp)
    areas: list[Named] = []

    def add(where: Flags, area: Named) -> None:
        labels[where] = len(areas)
        areas.append(area)

    mask = ground.mask
    if ground.free is not None and (ground.free & mask).any():
        add(ground.free & mask, Named("the lights that are kept free"))
        mask = mask & ~ground.free
    places = _places(study, figure, ground)
    hues = blurred(np.moveaxis(ground.lab[..., 1:], -1, 0), ground.mask, FADE_MM * ground.px_per_mm)
    for side, names in ((mask & ground.lit, _LIT), (mask & ~ground.lit, _SHADED)):
        if not side.any():
            continue
        band = np.sum(lightness[..., None] < _edges(lightness[side], len(names)), axis=-1)
        for number, name in enumerate(names):
            here = side & (band == number)
            for place, where in places.items():
                part = here & where
                if np.count_nonzero(part) >= _FEWEST_MM2 * ground.px_per_mm**2:
                    add(part, Named(name, place))
                    here = here & ~part
            for part, where in _by_hue(here, hues, LEAST_MM2 * ground.px_per_mm**2):
                add(where, Named(name, part))
    return NamedAreas(labels, tuple(areas))


def _edges(lightness: NDArray[np.float32], count: int) -> Floats:
    """L* between so many bands, the lightest first: those for which all are nearest to the mean of their own (Lloyd
    1982)."""
    some = lightness[:: max(1, len(lightness) // _SAMPLE)].astype(float)
    means = np.unique(np.round(some))
    # Flat tones have no more bands than there are of them.
    if len(means) > count:
        begin = np.quantile(some, (np.arange(count) + 0.5) / count)
        means = np.sort(kmeans2(some[:, None], begin[:, None], minit="matrix")[0][:, 0])
    return np.asarray((means[1:] + means[:-1]) / 2)[::-1]


def _by_hue(area: Flags, hues: NDArray[np.float32], least: float) -> Iterator[tuple[str, Flags]]:
    """An area whole, or in its warmer and its cooler part. hues (2, h, w): a* and b*, evened."""
    if not area.any():
        return
    its = hues[:, area].T.astype(float)
    if its.std(axis=0).max() < _WORTH_PARTING:
        yield "", area
        return
    means, _ = kmeans2(its[:: max(1, len(its) // _SAMPLE)], 2, minit="++", seed=1)
    off = np.linalg.norm(its[:, None] - means, axis=2)
    second = off[:, 1] < off[:, 0]
    gain = np.linalg.norm(its - its.mean(axis=0), axis=1).mean() - off.min(axis=1).mean()
    if gain < _WORTH_PARTING or min(np.count_nonzero(second), np.count_nonzero(~second)) < least:
        yield "", area
        return
    for part, its_own in zip(
        (_WARMER, _COOLER), (second, ~second) if means[1].sum() > means[0].sum() else (~second, second), strict=True
    ):
        where = np.zeros_like(area)
        where[area] = its_own
        yield part, where


def _places(study: Study, figure: int, ground: Ground) -> dict[str, Flags]:
    """The places apart, by name."""
    face, shape = study.maps[figure], ground.mask.shape
    if face is None or not face.areas:
        return {}
    return {"the lips": face.mask(LIPS, shape), "the blood places": face.mask(BLOOD_PLACES, shape)}
