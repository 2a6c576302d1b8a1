"""The drawn heads in warm and cool light, with the truth about skin and light beside (tests.heads.drawn.heads)."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from PIL import Image

from core.colour.spaces import SRGB
from core.look.picture import Picture
from tests.conftest import ROOT
from tests.heads.drawn.heads import NOT_SKIN, PER_SHARE

FOLDER = ROOT / "tests/heads"
FACTS: dict[str, dict[str, Any]] = json.loads((FOLDER / "heads.json").read_text())
OPEN_SKY = 0.6
"""Share of the surrounding light that reaches a place on average."""


@dataclass(frozen=True, slots=True, eq=False)
class Head:
    """skin (h, w): where skin is. lit (h, w): where the key light gives more than the light around."""

    picture: Picture
    skin: np.ndarray
    lit: np.ndarray
    facts: dict[str, Any]


@cache
def head(name: str) -> Head:
    """One of FACTS."""
    facts = FACTS[name]
    key = np.asarray(Image.open(FOLDER / f"{name}-key.png"))
    skin = key != NOT_SKIN
    lit = skin & (key / PER_SHARE * facts["key"] > OPEN_SKY * facts["fill"])
    return Head(Picture(np.asarray(Image.open(FOLDER / f"{name}.jpg")), SRGB, "sRGB"), skin, lit, facts)


def crew_skin(name: str) -> np.ndarray:
    """Where the skin is in a picture of the demo (h, w), 0 or 255, at half its size."""
    places = np.asarray(Image.open(ROOT / f"tests/portraits/{name}-places.png"))
    return np.where(places > 0, 255, 0).astype(np.uint8)
