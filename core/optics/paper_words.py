"""A paper in words: what most artists know of theirs, and the numbers that those words stand for."""

from __future__ import annotations

from dataclasses import dataclass

Lab = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Shade:
    """A colour of paper. lab: CIELAB (from memory, between the papers of supports.toml)."""

    name: str
    lab: Lab


@dataclass(frozen=True, slots=True)
class Degree:
    """A word and the number for it. hint: what is meant."""

    name: str
    number: float
    hint: str


SHADES = (
    Shade("bright white", (97.0, 0.5, -2.5)),
    Shade("white", (96.0, 0.0, 1.5)),
    Shade("off-white", (94.0, 0.5, 4.5)),
    Shade("cream", (91.0, 1.5, 11.0)),
    Shade("light grey", (80.0, 0.0, 0.5)),
    Shade("mid grey", (60.0, 0.0, 0.5)),
    Shade("tan", (72.0, 6.0, 18.0)),
    Shade("brown", (56.0, 9.0, 21.0)),
    Shade("black", (20.0, 0.0, 0.0)),
)
TEETH = (
    Degree("polished", 0.05, "nothing catches: a marker's card"),
    Degree("smooth", 0.2, "bristol, hot-pressed"),
    Degree("fine", 0.4, "drawing paper"),
    Degree("medium", 0.6, "cold-pressed, sketch paper"),
    Degree("rough", 0.9, "pastel paper, sanded"),
)
"""The tooth from 0 to 1."""
WEIGHTS = (
    Degree("thin", 4.0, "under 120 g/m²: ink goes through"),
    Degree("usual", 7.0, "about 150–200 g/m²"),
    Degree("heavy", 10.0, "about 250 g/m²"),
    Degree("board", 13.0, "300 g/m² and more"),
)
"""Coats of marker that a paper takes up before it is soaked (assumption: in step with its weight)."""
USUAL_SHADE, USUAL_TOOTH, USUAL_WEIGHT = "white", "fine", "usual"
