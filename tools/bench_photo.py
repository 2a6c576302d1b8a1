"""How true swatches are read from photographs: simulated ones, by another physics than the reader's."""

from __future__ import annotations

import time

import numpy as np

from core.colour.difference import ciede2000
from core.exchange.tray_csv import read_tray
from core.look.picture import read_picture
from core.photo.swatches import read_sheet, read_swatches
from tests.core.photo.sheets import sheet
from tests.core.photo.test_sheets_found import with_chart
from tools.camera import Camera, photograph
from tools.site import ROOT

_SEEDS, _ROWS, _COLUMNS = 10, 4, 6


def bench_photos() -> None:
    """ΔE00 of what is read on the paper alone, and with a chart of 24 patches beside it, by the camera's tone curve; in
    how many photographs the sheet and all its swatches are found; seconds for a photograph."""
    for curve in ("none", "mild", "strong"):
        off: list[float] = []
        took, found = 0.0, 0
        for seed in range(_SEEDS):
            name = ("long-pier-72", "breakwater-60", "quay-chalk-48")[seed % 3]
            sticks = read_tray((ROOT / f"demo/ranges/{name}.csv").read_bytes()).sticks[seed % 2 :: 2]
            labs = [tuple(stick.lab) for stick in sticks][: _ROWS * _COLUMNS]
            xyz, boxes, true = sheet(labs, _ROWS, _COLUMNS, seed)
            data, corners = photograph(xyz, Camera(seed, curve))
            start = time.perf_counter()
            readings = read_swatches(read_picture(data), corners, boxes)
            took += time.perf_counter() - start
            off += list(ciede2000(np.array([reading.lab for reading in readings]), true))
            found += len(read_sheet(read_picture(data)).boxes) == len(boxes)
        print(f"swatches by photograph, {curve} tone curve: {_told(off)}; {took / _SEEDS:.1f} s a photograph")
        print(f"  sheet and all swatches found in {found} of {_SEEDS}")
        beside: list[float] = []
        for seed in range(_SEEDS):
            photo, at, boxes, true, chart = with_chart(seed, curve)
            readings = read_swatches(photo, at, boxes, chart=chart)
            beside += list(ciede2000(np.array([reading.lab for reading in readings]), true))
        print(f"  with a chart: {_told(beside)}")


def _told(off: list[float]) -> str:
    return f"{np.median(off):.1f}, p90 {np.percentile(off, 90):.1f}"


if __name__ == "__main__":
    bench_photos()
