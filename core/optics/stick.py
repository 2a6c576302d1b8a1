"""A stick and a tray of them, as the artist knows them."""

from __future__ import annotations

from dataclasses import dataclass, field

from core.colour.spaces import Floats, hex_to_lab

OPACITIES = ("transparent", "semi", "opaque")
CONDITIONS = ("good", "low", "dried_out", "wanted")
USABLE_CONDITIONS = ("good", "low")


@dataclass(frozen=True, slots=True)
class Stick:
    """One pencil, marker or pastel. hex: a solid swatch on white paper."""

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

    @property
    def lab(self) -> Floats:
        """CIELAB (3,) of the solid swatch."""
        return hex_to_lab(self.hex)


@dataclass(frozen=True, slots=True)
class Tray:
    """What an artist owns. Codes are unique within a tray."""

    name: str
    sticks: tuple[Stick, ...] = field(default=())

    def usable(self, medium: str) -> tuple[Stick, ...]:
        """The sticks of this medium that are there and not dried out."""
        return tuple(s for s in self.sticks if s.medium == medium and s.condition in USABLE_CONDITIONS)
