"""Photographs for the demo, taken by a camera that is not there: `python -m tools.make_photos`."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import lab_to_xyz
from core.exchange.tray_csv import read_tray
from core.photo.swatches import WHITE_PAPER
from tools.camera import Camera, photograph
from tools.site import ROOT

SWATCHES = ROOT / "demo/photos/twelve-swatches.jpg"
_SEED, _ROWS, _COLUMNS = 7, 3, 4
_H, _W = 900, 1270


def by_hand(labs: Sequence[Sequence[float]], seed: int = _SEED) -> NDArray[np.float64]:
    """XYZ (h, w, 3) of a sheet on which a hand has laid swatches in rows: none quite square, none in line, with strokes
    and tooth in them, and edges that fray."""
    rng = np.random.default_rng(seed)
    white = lab_to_xyz(np.array(WHITE_PAPER))
    grain = ndimage.gaussian_filter(rng.normal(size=(_H, _W)), 1.2)
    grain /= grain.std()
    xyz = white * (1 + 0.004 * grain[..., None])
    y, x = np.mgrid[0:_H, 0:_W]
    wide, high = _W / _COLUMNS, _H / _ROWS
    for i, lab in enumerate(labs):
        row, column = divmod(i, _COLUMNS)
        turn = rng.uniform(-0.09, 0.09)
        middle = ((column + 0.5) * wide + rng.normal() * 9, (row + 0.5) * high + rng.normal() * 9)
        u, v = x - middle[0], y - middle[1]
        u, v = u * np.cos(turn) + v * np.sin(turn), v * np.cos(turn) - u * np.sin(turn)
        fray = 3.5 * ndimage.gaussian_filter(rng.normal(size=(_H, _W)), 4) / 0.07
        half = 0.29 * wide * rng.uniform(0.92, 1.06), 0.27 * high * rng.uniform(0.92, 1.06)
        edge = np.minimum(half[0] - np.abs(u), half[1] - np.abs(v)) + fray
        slope = rng.uniform(0.5, 0.9)
        stroke = np.sin((u * slope + v) / 3.1 + grain * 0.4)
        cover = np.clip(0.965 + 0.02 * stroke + 0.03 * grain, 0.7, 1.0) * np.clip(edge / 3, 0, 1)
        xyz = xyz * (1 - cover[..., None]) + lab_to_xyz(np.array(lab)) * cover[..., None]
    return np.asarray(xyz)


def main() -> None:
    """Twelve pencils of an invented range on white paper."""
    sticks = read_tray((ROOT / "demo/ranges/small-tray-24.csv").read_bytes()).sticks[::2]
    data, _ = photograph(by_hand([stick.lab for stick in sticks]), Camera(_SEED, "mild", 0.1, size=(1600, 1200)))
    SWATCHES.write_bytes(data)
    print(f"{SWATCHES}: {len(data) // 1000} kB")


if __name__ == "__main__":
    main()
