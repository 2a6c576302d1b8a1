"""A nature that is not there, to judge predictions by: sticks on paper by other physics than core.optics.

Dry sticks wear off on a height field: the load rests on what stands highest, deposit follows the contact, what lies on
top is taken along. Light is carried in four streams (two angles up, two down) through layers that are added one by one,
and spreads in the paper from place to place. Ink is dye between fibres that scatter: unevenly soaked, pushed down by
what comes later. Every stick differs from what its list says, by its lot and its own temper. Nothing here is fitted to
anything; all figures are assumed.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.stats import beta

from core.colour.spaces import lab_to_xyz
from core.optics.medium import PRESSURES, Pass
from core.optics.spectra import reflectance_to_lab, upsample
from core.optics.stick import Stick, solid_reflectance
from core.optics.support import WHITE_PAPER, Support

Floats = NDArray[np.float64]

_MU, _WEIGHT = np.array([0.5 - 0.5 / np.sqrt(3), 0.5 + 0.5 / np.sqrt(3)]), np.array([0.5, 0.5])
"""Cosines of the two angles (Gauss, on a hemisphere), and their weights."""
_FLUX = _MU * _WEIGHT / (_MU * _WEIGHT).sum()
_DOUBLINGS = 11
_PLACES = 20
_LOADS = np.array([0.20, 0.52, 1.3])
"""Of a light, a usual and a heavy hand."""
_SPREAD = 0.65
"""How much of the light that enters the paper leaves it somewhere else."""
_FLOOR = 0.014
_NM = np.arange(400.0, 701.0, 10.0)
_BUMPS = np.stack([np.exp(-(((_NM - at) / 48.0) ** 2)) for at in (430, 510, 590, 665)])
_NODES = np.exp(0.55 * np.array([-1.6, -0.9, -0.4, 0.0, 0.4, 0.9, 1.6]))
"""How unevenly fibres take up ink."""


@dataclass(frozen=True, slots=True)
class Manner:
    """What a dry medium does. scatters: what a closed swatch does, as an optical
    thickness, by opacity; wears: how fast; keeps: how much a
    place holds before it slips; drags: how much of what lies on top joins what is laid; smears:
    how much of a pass is rubbed into what the load does not reach."""

    scatters: dict[str, float]
    wears: float
    keeps: float
    drags: float
    smears: float


_MANNERS = {
    "pencil": Manner({"transparent": 0.25, "semi": 0.75, "opaque": 2.0}, 1.1, 1.8, 0.12, 0.4),
    "pastel": Manner({"transparent": 1.6, "semi": 2.8, "opaque": 5.0}, 0.9, 1.2, 0.55, 0.25),
    "oil_pastel": Manner({"transparent": 0.4, "semi": 1.0, "opaque": 2.2}, 1.9, 2.6, 0.85, 0.8),
}


class Nature:
    """Sticks of one medium on one paper, as they are: the same seed makes the same ones. See the module."""

    def __init__(self, seed: int, sticks: Sequence[Stick], support: Support) -> None:
        self.rng = np.random.default_rng(seed)
        self.sticks = tuple(sticks)
        self.medium = sticks[0].medium
        self.support = support
        self._at = {stick.code: i for i, stick in enumerate(sticks)}
        n, draw = len(sticks), self.rng.normal
        self.strength = np.exp(draw(0, 0.18, n))
        self.hardness = np.exp(draw(0, 0.12, n))
        self.body = np.exp(draw(0, 0.25, n))
        self.later = np.exp(draw(0, 0.15, n))
        self.tooth = float(np.clip(support.tooth * np.exp(draw(0, 0.12)), 0.05, 1.0))
        self.load = np.exp(draw(0, 0.12))
        self.paper = np.clip(upsample(lab_to_xyz(np.array(support.lab) + draw(0, [0.6, 0.4, 0.7]))), 0.01, 0.99)
        solid = np.clip(solid_reflectance(self.sticks), 0.02, 0.97)
        ratio = (1 - solid) ** 2 / (2 * solid) * np.exp(draw(0, 0.17, (n, 4)) @ _BUMPS)
        self.swatches = 1 + ratio - np.sqrt(ratio**2 + 2 * ratio)

    def lab(self, passes: Sequence[Pass], hand: float = 0.0, reading: float = 0.0) -> Floats:
        """CIELAB (3,) of these passes. hand: how far each may be heavier or lighter (a spread of the logarithm);
        reading: ΔE*ab of what reads it, in each of L*, a*, b* of which a third of the variance lies."""
        seen = self._inked(passes, hand) if self.medium == "marker" else self._rubbed(passes, hand)
        found = np.asarray(reflectance_to_lab(_FLOOR + (1 - _FLOOR) * seen), dtype=float)
        return found + self.rng.normal(0, reading / np.sqrt(3), 3)

    @cached_property
    def _white(self) -> Floats:
        return np.clip(upsample(lab_to_xyz(np.array(WHITE_PAPER))), 0.01, 0.99)

    # Ink ----------------------------------------------------------------------------------------------------------

    @cached_property
    def _dye(self) -> Floats:
        """Absorption (n, 31) by scattering of one coat: of which, unevenly soaked, the swatch comes out."""
        low, high = np.zeros_like(self.swatches), np.full_like(self.swatches, 400.0)
        for _ in range(50):
            middle = (low + high) / 2
            darker = self._fibres(middle, self._white) < np.minimum(self.swatches, self._white - 1e-4)
            low, high = np.where(darker, low, middle), np.where(darker, middle, high)
        return (low + high) / 2 * self.strength[:, None] ** 0.5

    def _fibres(self, dye: Floats, paper: Floats) -> Floats:
        own = (1 - paper) ** 2 / (2 * paper)
        ratio = own + dye[..., None, :] * _NODES[:, None]
        return np.asarray((1 + ratio - np.sqrt(ratio**2 + 2 * ratio)).mean(axis=-2))

    def _inked(self, passes: Sequence[Pass], hand: float) -> Floats:
        dye, coats = np.zeros(len(_NM)), np.zeros(len(self.sticks))
        for pass_ in passes:
            stick = self._at[pass_.stick]
            for _ in range(pass_.repeats):
                amount = (
                    np.exp(self.rng.normal(0, hand)) * 0.62 ** coats[stick] * (self.later[stick] if coats[stick] else 1)
                )
                room = max(0.15, 1 - coats.sum() / (2.2 * self.support.coats))
                part = 0.5 if pass_.technique == "flick" else 1.0
                dye = dye * 0.93 + amount * room * part * self._dye[stick]
                coats[stick] += 1
        return self._fibres(dye, self.paper)

    # What rubs off ------------------------------------------------------------------------------------------------

    @cached_property
    def _manner(self) -> Manner:
        return _MANNERS[self.medium]

    @cached_property
    def _heights(self) -> Floats:
        return beta.ppf((np.arange(_PLACES) + 0.5) / _PLACES, 2.2, 1.7) * (0.15 + 0.85 * self.tooth)

    @cached_property
    def _scatter(self) -> Floats:
        """Optical thickness (n,) by scattering of what closes a sheet once."""
        return np.array([self._manner.scatters[stick.opacity] for stick in self.sticks]) * self.body

    @cached_property
    def _absorbs(self) -> Floats:
        """(n, 31): the same by absorption, by which a closed swatch on white looks as it does."""
        grid = np.concatenate([[0.0], np.logspace(-3, 1.3, 90)])
        found = np.empty_like(self.swatches)
        for i, scatter in enumerate(self._scatter):
            r, t = _layer(scatter + grid[:, None], scatter / (scatter + grid[:, None]))
            seen = _over(r, t, _matt(self._white)[None])
            for band in range(len(_NM)):
                found[i, band] = np.interp(self.swatches[i, band], seen[::-1, band], grid[::-1])
        return found

    def _rubbed(self, passes: Sequence[Pass], hand: float) -> Floats:
        lies = np.zeros(_PLACES)
        grounds = [_matt(np.broadcast_to(rho, (_PLACES, len(_NM)))) for rho in (self.paper, np.zeros(len(_NM)))]
        top, top_scatters = np.zeros((_PLACES, len(_NM))), np.zeros((_PLACES, len(_NM)))
        for pass_ in passes:
            stick = self._at[pass_.stick]
            for _ in range(pass_.repeats):
                load = _LOADS[PRESSURES.index(pass_.pressure)] * self.load * np.exp(self.rng.normal(0, hand))
                laid = self._worn(lies, load, stick)
                lies = lies + laid
                fresh = laid[:, None] * (self._scatter[stick] + self._absorbs[stick])
                touched = (laid > 1e-4)[:, None] * np.minimum(1.0, self._manner.drags * (0.6 + 0.4 * load))
                under, under_scatters = top * (1 - touched), top_scatters * (1 - touched)
                grounds = [_added(*_mixed(under, under_scatters), ground) for ground in grounds]
                top = fresh + top * touched
                top_scatters = laid[:, None] * self._scatter[stick] + top_scatters * touched
        r, t = _mixed(top, top_scatters)
        with_paper, without = (_flux(_added(r, t, ground)) for ground in grounds)
        back = np.maximum(with_paper - without, 0)
        return without.mean(axis=0) + (1 - _SPREAD) * back.mean(axis=0) + _SPREAD * np.sqrt(back).mean(axis=0) ** 2

    def _worn(self, lies: Floats, load: float, stick: int) -> Floats:
        """What a pass leaves at every place, in closed sheets: the load is borne by what stands highest."""
        stands = self._heights + 0.55 * lies
        low, high = stands.min() - 3, stands.max()
        for _ in range(40):
            plane = (low + high) / 2
            borne = np.maximum(stands - plane, 0).mean()
            low, high = (low, plane) if borne < 0.42 * load else (plane, high)
        contact = np.maximum(stands - (low + high) / 2, 0)
        slips = np.exp(-((lies / self._manner.keeps) ** 1.4))
        rate = self._manner.wears * self.strength[stick] / self.hardness[stick]
        held = rate * contact**0.8 * slips
        return np.asarray((1 - self._manner.smears) * held + self._manner.smears * held.mean())


def _layer(thick: Floats, albedo: Floats) -> tuple[Floats, Floats]:
    """Reflection and transmission (…, 2, 2) of a layer that scatters evenly to all sides, by doubling a thin one."""
    thin = (thick / 2**_DOUBLINGS)[..., None, None]
    scattered = albedo[..., None, None] * thin / (2 * _MU[:, None]) * _WEIGHT
    r, t = scattered, np.eye(2) * (1 - thin / _MU[:, None]) + scattered
    for _ in range(_DOUBLINGS):
        between = t @ _inverse(np.eye(2) - r @ r)
        r, t = r + between @ r @ t, between @ t
    return r, t


def _inverse(matrices: Floats) -> Floats:
    """Of each of (…, 2, 2): in closed form, much quicker than a solver."""
    a, b, c, d = (matrices[..., i, j] for i in (0, 1) for j in (0, 1))
    turned = np.stack([d, -b, -c, a], axis=-1).reshape(matrices.shape)
    return np.asarray(turned / (a * d - b * c)[..., None, None])


def _mixed(thick: Floats, scatters: Floats) -> tuple[Floats, Floats]:
    return _layer(thick, scatters / np.maximum(thick, 1e-9))


def _matt(rho: Floats) -> Floats:
    """A matt ground (…, 2, 2)."""
    return np.asarray(rho[..., None, None] * (2 * _MU * _WEIGHT) * np.ones((2, 1)))


def _added(r: Floats, t: Floats, ground: Floats) -> Floats:
    """A layer on a ground."""
    return np.asarray(r + t @ _inverse(np.eye(2) - ground @ r) @ ground @ t)


def _flux(operator: Floats) -> Floats:
    """What comes back of light from all sides."""
    return np.asarray((_FLUX[:, None] * operator).sum(axis=(-2, -1)))


def _over(r: Floats, t: Floats, ground: Floats) -> Floats:
    return _flux(_added(r, t, ground))
