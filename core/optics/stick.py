"""A stick and a tray of them, as the artist knows them."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from core.colour.spaces import Floats, hex_to_lab, hex_to_xyz
from core.errors import InputError
from core.optics.spectra import N_BANDS, reflectance_to_lab, upsample
from core.optics.touch import AS_DECLARED, Fit

OPACITIES = ("transparent", "semi", "opaque")
CONDITIONS = ("good", "low", "dried_out", "wanted")
USABLE_CONDITIONS = ("good", "low")
_COLOURLESS_L, _COLOURLESS_C = 92.0, 6.0


@dataclass(frozen=True, slots=True)
class Stick:
    """One pencil, marker or pastel. hex: a solid swatch on white paper.

    light_hex, heavy_hex: one light and one heavy pass on white; black_hex: the solid swatch over black;
    spectrum: measured reflectance of the solid swatch (31 bands), which then stands instead of hex. fit: what trial
    boxes say of it on the paper in use.
    """

    code: str
    name: str
    medium: str
    hex: str
    opacity: str = "semi"
    range: str = ""
    binder: str = ""
    pigments: tuple[str, ...] = ()
    lightfastness: str = ""
    condition: str = "good"
    light_hex: str = ""
    heavy_hex: str = ""
    black_hex: str = ""
    spectrum: tuple[float, ...] = ()
    fit: Fit = AS_DECLARED

    @property
    def lab(self) -> Floats:
        """CIELAB (3,) of the solid swatch, read-only. Raises InputError (`no_swatch`) if there is none."""
        return _lab(self.spectrum or self.solid_hex)

    @property
    def solid_hex(self) -> str:
        """The declared swatch. Raises InputError (`no_swatch`) if there is none."""
        if not self.hex:
            raise InputError(
                "no_swatch", f"{self.name or self.code} has no swatch.", "Give its solid colour on white.", "hex"
            )
        return self.hex

    @property
    def colourless(self) -> bool:
        """Whether it is a blender: transparent and as good as white."""
        lightness, a, b = self.lab
        return bool(self.opacity == "transparent" and lightness > _COLOURLESS_L and np.hypot(a, b) < _COLOURLESS_C)


@lru_cache(maxsize=2048)
def _lab(swatch: tuple[float, ...] | str) -> Floats:
    lab = hex_to_lab(swatch) if isinstance(swatch, str) else reflectance_to_lab(np.array(swatch))
    lab.flags.writeable = False
    return lab


FEELS = ("dusty", "streaky", "hard", "speckled", "won't go dark")
"""What may be noted of a stick in the hand."""
SOURCES = ("", "guessed", "picked", "like another", "photographed", "photographed thin")
"""How a colour came to be known: from its list, from the name, by eye, beside another one, by camera of a closed swatch
or of one through which paper shows."""


@dataclass(frozen=True, slots=True)
class Kept:
    """What is known of a stick besides its colour, and changes no plan. count: how many of it there are; price: of one,
    0 if that is not known; sets: names and prices of the sets it is sold in."""

    count: int = 1
    note: str = ""
    feel: tuple[str, ...] = ()
    source: str = ""
    price: float = 0.0
    sets: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True, slots=True)
class Tray:
    """What an artist owns. Codes are unique within a tray. kept: of every stick, or empty where nothing is known;
    per_row: how many lie in a row of the box, 0 if that is not known."""

    name: str
    sticks: tuple[Stick, ...] = field(default=())
    kept: tuple[Kept, ...] = ()
    per_row: int = 0

    def usable(self, medium: str = "") -> tuple[Stick, ...]:
        """The sticks of this medium, or of all, that are there and not dried out."""
        return tuple(s for s in self.sticks if medium in ("", s.medium) and s.condition in USABLE_CONDITIONS)


def solid_reflectance(sticks: tuple[Stick, ...]) -> Floats:
    """Reflectance (n, 31) of the solid swatches: as measured, or the smoothest with their colour.

    Raises InputError (`no_swatch`) for a stick that has neither.
    """
    measured = np.array([bool(stick.spectrum) for stick in sticks], dtype=bool)
    out = np.empty((len(sticks), N_BANDS))
    if measured.any():
        out[measured] = [stick.spectrum for stick in sticks if stick.spectrum]
    if not measured.all():
        out[~measured] = upsample(np.array([hex_to_xyz(stick.solid_hex) for stick in sticks if not stick.spectrum]))
    return out
