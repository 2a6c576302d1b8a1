"""The paper: its colour, its tooth, and how much pigment it can hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np

from core.colour.spaces import Floats, lab_to_xyz
from core.errors import InputError
from core.optics.spectra import upsample
from core.optics.touch import AS_ASSUMED, Touch
from core.rows import from_row, toml

WHITE_PAPER = (96.0, 0.0, 1.5)
"""CIELAB of the white drawing paper on which swatches are declared (assumption)."""
BLACK_PAPER = (20.0, 0.0, 0.0)
"""CIELAB of the black paper on which swatches over black are declared (assumption)."""
_TOOTH = (0.15, 0.30, 0.50, 0.70, 0.90)
_COVERAGE = ((0.50, 0.45, 0.40, 0.34, 0.28), (0.76, 0.72, 0.66, 0.58, 0.52), (0.98, 0.975, 0.97, 0.955, 0.94))
_CAPACITY = (1.0, 1.7, 2.5, 3.2, 4.5)


@dataclass(frozen=True, slots=True)
class Support:
    """A paper or board.

    lab: its colour. tooth: how rough it is, 0–1. coverage: the part of the surface that one light,
    medium or heavy pencil pass touches, 0–1. capacity: deposit at which the tooth is full, in full
    films. coats: how many coats of marker it takes up. media: what it is made for. saturation: how soon dye in it
    stops darkening, the exponent m of core.optics.marker.Saturation. touches: how a hand lays media on it, by their
    ids, where trial boxes have shown it.
    """

    id: str
    name: str
    note: str
    lab: tuple[float, float, float]
    tooth: float
    coverage: tuple[float, float, float]
    capacity: float
    coats: float
    media: tuple[str, ...]
    saturation: float = 3.0
    touches: tuple[tuple[str, Touch], ...] = ()

    def touch(self, medium: str) -> Touch:
        """How a medium is laid on it."""
        return dict(self.touches).get(medium, AS_ASSUMED)

    def reflectance(self) -> Floats:
        """Reflectance (31,) of the bare surface; kept and shared, so it is read-only."""
        return _spectrum(self.lab)


@lru_cache(maxsize=128)
def _spectrum(lab: tuple[float, float, float]) -> Floats:
    reflectance = upsample(lab_to_xyz(lab))
    reflectance.flags.writeable = False
    return reflectance


def own_support(
    support_id: str, name: str, lab: Sequence[float], tooth: float, coats: float, media: Sequence[str]
) -> Support:
    """A paper of one's own, from its colour and two numbers; the rest follows from papers of like tooth.

    lab: CIELAB, such as `read_spot` gives of a photographed patch. tooth 0–1; coats 1–20. Raises
    InputError (`bad_paper`).
    """
    wrong = ""
    if len(lab) != 3 or not np.isfinite(lab).all() or not 0 <= lab[0] <= 100 or np.abs(lab[1:]).max() > 128:
        wrong, expected = "lab", "lightness 0 to 100 and a, b from −128 to 128"
    elif not 0 <= tooth <= 1:
        wrong, expected = "tooth", "0 (polished) to 1 (very rough)"
    elif not 1 <= coats <= 20:
        wrong, expected = "coats", "1 to 20"
    elif not media:
        wrong, expected = "media", "at least one"
    if wrong:
        raise InputError("bad_paper", f"The {wrong} of this paper is out of range.", f"Expected {expected}.", wrong)
    light, medium, heavy = (float(np.interp(tooth, _TOOTH, row)) for row in _COVERAGE)
    lightness, a, b = (float(v) for v in lab)
    return Support(
        support_id,
        name,
        "A paper of your own.",
        (lightness, a, b),
        tooth,
        (light, medium, heavy),
        float(np.interp(tooth, _TOOTH, _CAPACITY)),
        coats,
        tuple(media),
    )


@cache
def supports() -> dict[str, Support]:
    """All papers Caltin knows, by id. Raises InputError (`bad_row`)."""
    rows = toml("core.optics", "data/supports.toml")
    return {key: from_row(Support, row, f"supports.toml, {key}", id=key) for key, row in rows.items()}


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
