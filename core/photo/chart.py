"""A chart of 24 known patches lying beside swatches on a sheet."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from core.errors import InputError
from core.photo.lens import Undone, undone
from core.photo.squared import straightened

_ROWS, _COLUMNS, _CELL = 4, 6, 30
_MIDDLE = slice(9, 21)
"""Pixels of a patch, and those of its middle."""
_LEAST_SIDE = 0.01
"""Of a chart, as a part of the sheet's width or height."""
_PATCH_ERROR, _MOST_LEFT = 1.5, 6.0
"""ΔE to which a patch is known, and by how much they may still be off in the median before this is no such chart."""


@cache
def patches() -> NDArray[np.float64]:
    """CIELAB (24, 3) under D65, row by row from the dark skin; the file names its source."""
    return np.loadtxt(str(files("core.photo").joinpath("data/chart_24.csv")), delimiter=",")


def read_chart(daylight: NDArray[np.float32], corners: Sequence[tuple[float, float]]) -> Undone:
    """What the camera did, from the chart between four corners on a sheet that is freed of the lamp.

    daylight (h, w, 3): linear sRGB; corners: in parts of it, clockwise from any of them. Raises InputError
    (`chart_outside`, `no_chart`).
    """
    at = np.asarray(corners, dtype=float)
    if at.shape != (4, 2) or not np.isfinite(at).all() or at.min() < -0.01 or at.max() > 1.01:
        raise InputError(
            "chart_outside",
            "The chart does not lie on the sheet.",
            "Lay it on the paper, and set its four corners there.",
            "chart",
        )
    sides = np.linalg.norm(np.roll(at, -1, axis=0) - at, axis=1)
    if sides.min() < _LEAST_SIDE or _turns(at).min() <= 0 < _turns(at).max():
        raise _no_chart()
    seen = _rgb(daylight, at * (daylight.shape[1], daylight.shape[0]))
    # Which corner is the first, and how it lies, is told by what fits.
    turns = [np.rot90(seen, quarter).reshape(24, 3) for quarter in (0, 2)]
    best = min((undone(rgb, patches(), _PATCH_ERROR) for rgb in turns), key=lambda found: found.left)
    if best.left > _MOST_LEFT:
        raise _no_chart()
    return best


def _turns(at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Twice the areas (4,) of what every two sides that meet enclose, all of one sign if the corners go round."""
    along = np.roll(at, -1, axis=0) - at
    after = np.roll(along, -1, axis=0)
    return np.asarray(along[:, 0] * after[:, 1] - along[:, 1] * after[:, 0])


def _no_chart() -> InputError:
    return InputError(
        "no_chart",
        "What lies there is no chart of 24 patches, or not all of it.",
        "Set the corners on its outermost patches' corners, or read without it.",
        "chart",
    )


def _rgb(daylight: NDArray[np.float32], at: NDArray[np.float64]) -> NDArray[np.float64]:
    """The 24 patches (4, 6, 3) as they lie, its longer side across."""
    along = np.linalg.norm(np.roll(at, -1, axis=0) - at, axis=1)
    if along[0] + along[2] < along[1] + along[3]:
        at = np.roll(at, -1, axis=0)
    wide, high = _COLUMNS * _CELL, _ROWS * _CELL
    to = np.array(((0, 0), (wide, 0), (wide, high), (0, high)), dtype=float)
    flat = straightened(np.asarray(daylight, dtype=np.float32), at, to, (wide, high))
    cells = flat.reshape(_ROWS, _CELL, _COLUMNS, _CELL, 3)[:, _MIDDLE, :, _MIDDLE]
    return np.asarray(np.median(cells.transpose(0, 2, 1, 3, 4).reshape(_ROWS, _COLUMNS, -1, 3), axis=2))
