"""What was measured of skin: which hue is usual, which skins exist, how the places of a body differ.

Source of the data: the International Skin Spectra Archive as of January 2025 (15,256 spectra of 2,107 people), through
tools/derive_skin.py; see docs/skin.md.
"""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats, lab_to_lch

HUE_MARGIN_DEG, CHROMA_MARGIN, LIGHTNESS_MARGIN = 3.0, 2.0, 4.0
"""By how much a colour may lie outside of what was measured and still pass: what a good reading is off by (assumed)."""


@cache
def tables() -> dict[str, Any]:
    """All of the data, as it is written."""
    return tomllib.loads(files("core.skin").joinpath("data/measured.toml").read_text("utf-8"))


def usual_hue(angle_deg: float) -> float:
    """CIELAB hue in degrees that half of all people are redder than, forehead and cheek, at a typology angle."""
    rows = tables()["usual_hue"]
    return float(np.interp(angle_deg, rows["angle_deg"], rows["hue_deg"]))


@dataclass(frozen=True, slots=True)
class Envelope:
    """Percentiles (7,) of hue in degrees and of chroma, of foreheads and cheeks of one lightness; see PERCENT."""

    hue_deg: Floats
    chroma: Floats


PERCENT: tuple[int, ...] = tuple(tables()["envelope"]["percent"])


def envelope(lightness: float) -> Envelope:
    """The skins that exist at a lightness L*; beyond the lightest and darkest measured, as there."""
    rows = tables()["envelope"]

    def at(name: str) -> Floats:
        return np.array([np.interp(lightness, rows["lightness"], column) for column in zip(*rows[name], strict=True)])

    return Envelope(at("hue_deg"), at("chroma"))


def beyond_measured(lab: ArrayLike) -> str:
    """What makes a colour (3,) in CIELAB no evenly lit skin, such as `yellower than`; empty if it could be one."""
    lightness, chroma, hue_deg = (float(v) for v in lab_to_lch(lab))
    nodes = tables()["envelope"]["lightness"]
    skins = envelope(lightness)
    hue_deg = (hue_deg + 90.0) % 360.0 - 90.0
    for value, (low, high), margin, below, above in (
        (lightness, (nodes[0], nodes[-1]), LIGHTNESS_MARGIN, "darker", "lighter"),
        (chroma, skins.chroma[[0, -1]], CHROMA_MARGIN, "greyer", "more vivid"),
        (hue_deg, skins.hue_deg[[0, -1]], HUE_MARGIN_DEG, "redder", "yellower"),
    ):
        if value < low - margin:
            return f"{below} than"
        if value > high + margin:
            return f"{above} than"
    return ""


@dataclass(frozen=True, slots=True)
class Offset:
    """How a place differs from the mean of forehead and cheek of the same person: CIELAB (3,) and its standard
    deviation (3,) among people. people: how many were measured at the nearest depth."""

    lab: Floats
    spread: Floats
    people: int


def place_offset(place: str, angle_deg: float) -> Offset | None:
    """The offset of a place for people of a typology angle; None where nobody measured."""
    rows = tables()["places"]
    row = rows.get(place)
    if not isinstance(row, dict):
        return None
    nodes = np.array(rows["angle_deg"])
    lab, spread = (
        np.array([np.interp(angle_deg, nodes, column) for column in zip(*row[name], strict=True)])
        for name in ("offset", "spread")
    )
    return Offset(lab, spread, row["people"][int(np.abs(nodes - angle_deg).argmin())])


def measured_places() -> tuple[str, ...]:
    """The places that `place_offset` knows."""
    return tuple(name for name, row in tables()["places"].items() if isinstance(row, dict))
