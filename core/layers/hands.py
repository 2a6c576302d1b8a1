"""Hands that do not do exactly what is planned: the same few dozen for every plan, so that plans can be compared."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from core.colour.spaces import Floats

MOST_LAYERS = 16
FILM_SPREAD, COVER_SPREAD = 0.14, 0.08
"""Standard deviation of the logarithm of film (about ± 15 %) and of coverage (± 10 %) from layer to layer: a hand is
steady within a layer (assumption)."""
SLIPS = 1 / 6
"""How often a place gets a stroke less, and how often one more (assumption)."""


@dataclass(frozen=True, slots=True, eq=False)
class Hands:
    """h hands, the first of them steady. film, cover (h, MOST_LAYERS): factors on film and coverage, by layer.
    slips (h, MOST_LAYERS, m): −1, 0 or 1 stroke at each of m places."""

    film: Floats
    cover: Floats
    slips: NDArray[np.intp]

    def __len__(self) -> int:
        return len(self.film)


@lru_cache(maxsize=64)
def hands_for(places: int, count: int, seed: int = 5) -> Hands:
    """One steady hand and `count` others for so many places, stratified: each layer meets all kinds alike."""
    rng = np.random.default_rng(seed)
    film, cover = (np.exp(spread * _normal(rng, (count, MOST_LAYERS))) for spread in (FILM_SPREAD, COVER_SPREAD))
    even = _even(rng, (count, MOST_LAYERS, places))
    slips = (even > 1 - SLIPS).astype(np.intp) - (even < SLIPS)
    steady = np.ones((1, MOST_LAYERS))
    return Hands(
        np.concatenate([steady, film]),
        np.concatenate([steady, cover]),
        np.concatenate([np.zeros((1, MOST_LAYERS, places), dtype=np.intp), slips]),
    )


def _even(rng: np.random.Generator, shape: tuple[int, ...]) -> Floats:
    """Numbers in 0–1, each column evenly spread over its rows in an order of its own."""
    return np.asarray((np.argsort(rng.random(shape), axis=0) + 0.5) / max(1, shape[0]))


def _normal(rng: np.random.Generator, shape: tuple[int, ...]) -> Floats:
    # The same as norm.ppf of scipy.stats, which takes a second to load.
    return np.asarray(ndtri(_even(rng, shape)))
