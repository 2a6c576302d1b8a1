"""The paper: its colour, its tooth, and how much pigment it can hold."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from core.colour.spaces import Floats, lab_to_xyz
from core.errors import InputError
from core.optics.spectra import upsample

WHITE_PAPER = (96.0, 0.0, 1.5)
"""CIELAB of the white drawing paper on which swatches are declared (assumption)."""


@dataclass(frozen=True, slots=True)
class Support:
    """A paper or board.

    lab: its colour. coverage: the part of the surface that one light, medium or heavy pencil pass
    touches, 0–1. capacity: deposit at which the tooth is full, in full films. coats: how many coats of
    marker it takes up. media: what it is made for.
    """

    id: str
    name: str
    note: str
    lab: tuple[float, float, float]
    coverage: tuple[float, float, float]
    capacity: float
    coats: float
    media: tuple[str, ...]

    def reflectance(self) -> Floats:
        """Reflectance (31,) of the bare surface."""
        return upsample(lab_to_xyz(self.lab))


@cache
def supports() -> dict[str, Support]:
    """All papers Caltin knows, by id."""
    table = tomllib.loads(files("core.optics").joinpath("data/supports.toml").read_text())
    return {
        key: Support(
            id=key,
            name=row["name"],
            note=row["note"],
            lab=tuple(row["lab"]),
            coverage=tuple(row["coverage"]),
            capacity=row["capacity"],
            coats=row["coats"],
            media=tuple(row["media"]),
        )
        for key, row in table.items()
    }


def get_support(support_id: str) -> Support:
    """The paper with this id. Raises InputError (`unknown_paper`)."""
    if support_id not in supports():
        raise InputError(
            "unknown_paper",
            f"There is no paper “{support_id[:40]}”.",
            f"Choose from: {', '.join(supports())}.",
            "paper",
        )
    return supports()[support_id]
