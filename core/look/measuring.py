"""From the reference to the sheet: how it sits there, and lengths and angles on both."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Literal, get_args

from core.errors import InputError
from core.limits import Fraction, Identifier

SMALLEST_MM, LARGEST_MM = 40.0, 2000.0
MarkKind = Literal["caliper", "plumb", "level", "ray"]
MARKS: tuple[MarkKind, ...] = get_args(MarkKind)
Fit = Literal["whole", "fill"]


@cache
def sheet_sizes() -> dict[str, tuple[float, float]]:
    """Width and height in millimetres of the standard sheets, upright, by name."""
    raw = tomllib.loads(files("core.look").joinpath("data/sheets.toml").read_text("utf-8"))
    return {name: (float(width), float(height)) for name, (width, height) in raw.items()}


@dataclass(frozen=True, slots=True)
class Format:
    """The size of the paper, and how the reference sits on it.

    fit: `whole` shows all of the reference inside the margins, `fill` crops it to fill them.

    shift_x, shift_y: 0–1, which part stays where something is left over (0.5 is the middle).
    """

    width_mm: float = 210.0
    height_mm: float = 297.0
    margin_mm: float = 10.0
    fit: Fit = "whole"
    shift_x: Fraction = 0.5
    shift_y: Fraction = 0.5


@dataclass(frozen=True, slots=True)
class Placement:
    """Where the used part of the reference lies on the sheet, in millimetres from its left and top edge.

    crop: left, top, right, bottom of that part as fractions of the reference. mm_per_pixel: of the reference.
    """

    left_mm: float
    top_mm: float
    width_mm: float
    height_mm: float
    crop: tuple[float, float, float, float]
    mm_per_pixel: float

    def on_sheet(self, x: float, y: float) -> tuple[float, float]:
        """Millimetres on the sheet of a point given as fractions of the reference."""
        left, top, right, bottom = self.crop
        return (
            self.left_mm + (x - left) / (right - left) * self.width_mm,
            self.top_mm + (y - top) / (bottom - top) * self.height_mm,
        )


def place_on(paper: Format, width: int, height: int) -> Placement:
    """How a reference of width × height pixels sits on a sheet. Raises InputError (`bad_format`)."""
    sides = (paper.width_mm, paper.height_mm)
    if not all(math.isfinite(v) and SMALLEST_MM <= v <= LARGEST_MM for v in sides):
        raise InputError(
            "bad_format",
            f"A sheet of {paper.width_mm:g} × {paper.height_mm:g} mm is out of range.",
            f"Use {SMALLEST_MM:g} to {LARGEST_MM:g} mm for each side.",
            "format",
        )
    inner = (paper.width_mm - 2 * paper.margin_mm, paper.height_mm - 2 * paper.margin_mm)
    if not (math.isfinite(paper.margin_mm) and paper.margin_mm >= 0 and min(inner) >= 20):
        raise InputError(
            "bad_format",
            f"Margins of {paper.margin_mm:g} mm leave too little of the sheet.",
            "Leave at least 20 mm between them.",
            "format",
        )
    scales = (inner[0] / width, inner[1] / height)
    scale = min(scales) if paper.fit == "whole" else max(scales)
    shown = (min(inner[0], width * scale), min(inner[1], height * scale))
    part = (shown[0] / (width * scale), shown[1] / (height * scale))
    left, top = (1 - part[0]) * paper.shift_x, (1 - part[1]) * paper.shift_y
    return Placement(
        left_mm=paper.margin_mm + (inner[0] - shown[0]) * paper.shift_x,
        top_mm=paper.margin_mm + (inner[1] - shown[1]) * paper.shift_y,
        width_mm=shown[0],
        height_mm=shown[1],
        crop=(left, top, left + part[0], top + part[1]),
        mm_per_pixel=scale,
    )


@dataclass(frozen=True, slots=True)
class Mark:
    """Something measured between two points, as fractions of width and height.

    kind: `caliper` for a length, `plumb` or `level` for a line that ought to be upright or level,
    `ray` for the direction from the centre cross.
    """

    id: Identifier
    kind: MarkKind
    x1: Fraction
    y1: Fraction
    x2: Fraction
    y2: Fraction


@dataclass(frozen=True, slots=True)
class Measured:
    """angle_deg: 0 to the right, 90 up. off_deg: how far a plumb or level line leans, + to the right or upwards.

    ratio: length against the unit's; None without a unit. mm: on the sheet.
    """

    id: str
    pixels: float
    mm: float
    ratio: float | None
    angle_deg: float
    off_deg: float | None


def measure(marks: Sequence[Mark], unit: str | None, width: int, height: int, placement: Placement) -> list[Measured]:
    """Every mark measured on a reference of width × height pixels. unit: the id of the mark that counts as 1."""
    lengths = {m.id: math.hypot((m.x2 - m.x1) * width, (m.y2 - m.y1) * height) for m in marks}
    one = lengths.get(unit or "", 0.0)
    said = []
    for mark in marks:
        right, up = (mark.x2 - mark.x1) * width, (mark.y1 - mark.y2) * height
        angle = math.degrees(math.atan2(up, right)) % 360
        said.append(
            Measured(
                id=mark.id,
                pixels=round(lengths[mark.id], 1),
                mm=round(lengths[mark.id] * placement.mm_per_pixel, 1),
                ratio=round(lengths[mark.id] / one, 2) if one > 0 else None,
                angle_deg=round(angle, 1) % 360,
                off_deg=_lean(mark.kind, angle),
            )
        )
    return said


def _lean(kind: str, angle_deg: float) -> float | None:
    """Degrees from upright (+ to the right at the top) or from level (+ rising to the right); −90 to 90."""
    if kind == "plumb":
        return round((90 - angle_deg + 90) % 180 - 90, 1)
    if kind == "level":
        return round((angle_deg + 90) % 180 - 90, 1)
    return None
