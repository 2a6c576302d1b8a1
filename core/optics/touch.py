"""How a hand lays a medium on one paper, and how a stick departs from its list: found by trial boxes (core.trial)."""

from __future__ import annotations

from base64 import b64decode, b64encode
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from core.colour.spaces import Floats
from core.optics.spectra import BANDS_NM

_CENTRES, _WIDTHS = (440.0, 530.0, 600.0, 680.0), (45.0, 45.0, 40.0, 50.0)
TINTS: Floats = np.stack([np.exp(-(((BANDS_NM - at) / wide) ** 2)) for at, wide in zip(_CENTRES, _WIDTHS, strict=True)])
"""(4, 31): smooth bumps by which what a stick absorbs may depart from its list: another lot, a wrong swatch."""
_PACKED = "<f2"


@dataclass(frozen=True, slots=True)
class Touch:
    """What is shared by all sticks of a medium in this hand on this paper: factors on what is assumed.

    film, coverage: of a light, usual and heavy pass; coverage counts in odds c / (1 − c). capacity: what fills the
    tooth. slips: the power by which passes shrink as it fills. scatter: of every stick; rise: once more for each 30 of
    L* above 60. dragged: odds of the part of a top film that joins a new pass. later: the second, and every further
    coat of one ink. floor, saturation: see core.optics.marker. soaks: coats the paper takes up. wets: a first coat on
    other ink.
    """

    film: tuple[float, float, float] = (1.0, 1.0, 1.0)
    coverage: tuple[float, float, float] = (1.0, 1.0, 1.0)
    capacity: float = 1.0
    slips: float = 1.0
    scatter: float = 1.0
    rise: float = 1.0
    dragged: float = 1.0
    later: tuple[float, float] = (1.0, 1.0)
    floor: float = 1.0
    saturation: float = 1.0
    soaks: float = 1.0
    wets: float = 1.0

    def scatters(self, lightness: float) -> float:
        """Factor on the scattering of a stick of this L*."""
        return float(self.scatter * self.rise ** ((lightness - 60) / 30))


AS_ASSUMED = Touch()


@dataclass(frozen=True, slots=True)
class Fit:
    """How a stick departs from its list: factors. strength: what a pass leaves; coverage: of its odds; scatter;
    tint: absorption around 440, 530, 600 and 680 nm; later: coats of ink after the first. doubt: no factor, but ΔE00 by
    which what is foreseen of its stacks is off in the mean, once something was learnt on this paper; 0 before. liked:
    whether the artist likes what came out with it. others: what the stick may be as well after all that was learnt, see
    `packed`; those of one number belong together in all sticks of a tray."""

    strength: float = 1.0
    coverage: float = 1.0
    scatter: float = 1.0
    tint: tuple[float, float, float, float] = (1.0, 1.0, 1.0, 1.0)
    later: float = 1.0
    doubt: float = 0.0
    liked: bool = False
    others: str = ""

    def as_other(self, number: int) -> Fit:
        """What it may be as well; itself, if nothing was learnt."""
        if not self.others:
            return self
        strength, coverage, scatter, a, b, c, d, later = _unpacked(self.others)[number].tolist()
        return replace(
            self, strength=strength, coverage=coverage, scatter=scatter, tint=(a, b, c, d), later=later, others=""
        )

    @property
    def count(self) -> int:
        """How many others there are."""
        return len(_unpacked(self.others))

    def factors(self) -> tuple[float, ...]:
        """Those of it, in the order of the fields."""
        return (self.strength, self.coverage, self.scatter, *self.tint, self.later)


def packed(others: Sequence[Sequence[float]]) -> str:
    """Others by their factors, as text: IEEE 754 half precision, little-endian, as base64. There are many, and what
    asks for a tray again and again would name, keep and compare each number."""
    return b64encode(np.array(others, dtype=_PACKED).tobytes()).decode()


def _unpacked(others: str) -> Floats:
    return np.frombuffer(b64decode(others), dtype=_PACKED).reshape(-1, len(AS_DECLARED.factors())).astype(float)


AS_DECLARED = Fit()


def tinted(fits: tuple[Fit, ...]) -> Floats:
    """Factors (n, 31) on what sticks absorb."""
    return np.asarray(np.exp(np.log([fit.tint for fit in fits]) @ TINTS))


def of_odds(part: Any, factor: Any) -> Any:
    """A part of a surface, 0–1, with its odds that many times as high; both broadcast. 1 stays 1 and 0 stays 0."""
    return part * factor / (1 - part + part * factor)
