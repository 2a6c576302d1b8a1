"""Who is on board, in which light they stand, and which places of the face are sampled."""

from __future__ import annotations

from dataclasses import dataclass

from core.skin.reflectance import Complexion
from tests.heads.drawn.solids import Build


@dataclass(frozen=True, slots=True)
class Light:
    """Colour temperatures in kelvin, direction to the key light, strengths, and the sky behind (linear RGB).

    adapted_kelvin: the white that the eye (or camera) has settled on, between key and fill.
    """

    key_kelvin: float
    key_direction: tuple[float, float, float]
    key: float
    fill_kelvin: float
    fill: float
    sky_top: tuple[float, float, float]
    sky_bottom: tuple[float, float, float]
    adapted_kelvin: float


@dataclass(frozen=True, slots=True)
class Sitter:
    """A made-up person. turn_deg: how far the head turns to the picture's right."""

    name: str
    skin: Complexion
    build: Build
    hair: tuple[float, float, float]
    iris: tuple[float, float, float]
    cloth: tuple[float, float, float]
    turn_deg: float
    light: Light


DECK_LAMP = Light(4300, (-0.62, 0.62, 0.66), 1.0, 7000, 0.22, (0.035, 0.06, 0.13), (0.10, 0.12, 0.17), 5000)
GREY_MORNING = Light(6800, (0.60, 0.62, 0.70), 0.85, 5600, 0.36, (0.46, 0.50, 0.54), (0.30, 0.33, 0.35), 6300)

CREW = {
    "mairen": Sitter("Mairen", Complexion(0.0182, 0.0117, 0.18), Build(0.95, 0.9, 0.92, 1.0, 1.02, 0.02, True),
                     (0.32, 0.12, 0.045), (0.10, 0.20, 0.24), (0.03, 0.05, 0.10), 14, DECK_LAMP),
    "odelo": Sitter("Odelo", Complexion(0.220, 0.063, 3.0), Build(1.05, 1.08, 1.18, 1.35, 0.94, 0.12),
                    (0.012, 0.010, 0.009), (0.030, 0.018, 0.012), (0.14, 0.045, 0.03), -16, DECK_LAMP),
    "tavi": Sitter("Tavi", Complexion(0.046, 0.0151, 1.28), Build(1.0, 1.05, 1.05, 1.05, 0.96, 0.05),
                   (0.030, 0.022, 0.017), (0.07, 0.045, 0.02), (0.06, 0.09, 0.07), 12, GREY_MORNING),
    "senna-rue": Sitter("Senna Rue", Complexion(0.107, 0.037, 2.06), Build(0.97, 0.93, 1.08, 1.22, 1.10, 0.04, True),
                        (0.022, 0.014, 0.011), (0.05, 0.028, 0.014), (0.26, 0.20, 0.10), -13, GREY_MORNING),
}  # fmt: skip

PLACES: dict[str, tuple[str, float, float]] = {
    "forehead, lit": ("forehead", -0.16, 0.58),
    "forehead, far side": ("temple", 0.34, 0.48),
    "brow bone": ("brow", -0.27, 0.345),
    "eye socket": ("eye socket", 0.14, 0.16),
    "nose bridge": ("nose bridge", -0.012, 0.02),
    "nose tip": ("nose tip", -0.035, -0.215),
    "nose, shadow side": ("nose side", 0.125, -0.14),
    "cheek, lit": ("cheek", -0.40, -0.12),
    "cheek, far side": ("cheek", 0.42, -0.16),
    "upper lip": ("upper lip", -0.07, -0.492),
    "lower lip": ("lower lip", -0.03, -0.588),
    "chin": ("chin", -0.05, -0.86),
    "jaw, far side": ("jaw", 0.42, -0.62),
    "under the chin": ("under the chin", 0.10, -1.12),
    "throat": ("throat", 0.0, -1.48),
}
"""Name, place, and where: x (of a key light from the left; mirrored otherwise) and y in head units."""
