"""Areas of a face that have names: for maps that can be laid without a map."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.layers.fields import Ground
from core.layers.natural import BLOOD_PLACES, LIPS
from core.look.study import Study

_LIT = ("the lightest skin", "the lights", "the light middle tones", "the dark middle tones", "the half-tones")
_SHADED = ("the light shadows", "the shadows", "the dark shadows", "the deepest shadows")
_FEWEST_MM2 = 12.0
"""A smaller area is none of its own."""


@dataclass(frozen=True, slots=True, eq=False)
class NamedAreas:
    """labels (h, w): the number of each pixel's area, −1 where there is no skin. words: what each area is called."""

    labels: NDArray[np.intp]
    words: tuple[str, ...]


def named_areas(study: Study, figure: int, ground: Ground) -> NamedAreas:
    """The light side in five bands of value and the shade in four; lips and blood places apart from the rest, as far as
    the face is known. ground: of the figure, in the picture of the study."""
    lightness, labels = ground.lab[..., 0], np.full(ground.mask.shape, -1, dtype=np.intp)
    places = _places(study, figure, ground)
    words: list[str] = []
    mask = ground.mask
    if ground.free is not None and (ground.free & mask).any():
        labels[ground.free & mask], mask = 0, mask & ~ground.free
        words.append("the lights that are kept free")
    for side, bands in ((mask & ground.lit, _LIT), (mask & ~ground.lit, _SHADED)):
        if not side.any():
            continue
        edges = np.quantile(lightness[side], np.linspace(1, 0, len(bands) + 1)[1:-1])
        band = np.sum(lightness[..., None] < edges, axis=-1)
        for number, name in enumerate(bands):
            here = side & (band == number)
            for place, mask in places.items():
                part = here & mask
                if place and np.count_nonzero(part) < _FEWEST_MM2 * ground.px_per_mm**2:
                    continue
                if part.any():
                    labels[part], here = len(words), here & ~mask
                    words.append(f"{name} of {place}" if place else name)
    return NamedAreas(labels, tuple(words))


def _places(study: Study, figure: int, ground: Ground) -> dict[str, NDArray[np.bool_]]:
    """The places apart, by name, and all that is left under an empty one."""
    face, shape = study.maps[figure], ground.mask.shape
    rest = np.ones(shape, dtype=bool)
    if face is None or not face.areas:
        return {"": rest}
    return {"the lips": face.mask(LIPS, shape), "the blood places": face.mask(BLOOD_PLACES, shape), "": rest}
