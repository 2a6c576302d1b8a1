"""How true swatches are read from photographs: simulated ones, by another physics than the reader's."""

from __future__ import annotations

import time

import numpy as np

from core.colour.difference import ciede2000
from core.errors import InputError
from core.exchange.tray_csv import read_tray
from core.look.picture import read_picture
from core.photo.swatches import read_sheet, read_swatches
from core.trial.reading import read_card
from tests.core.photo.sheets import sheet
from tests.core.photo.test_sheets_found import with_chart
from tests.core.trial.cards import Desk
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


def bench_card_photos() -> None:
    """In how many photographs of a filled card, taken as asked (marks of 64 pixels, sharp), its marks are found;
    ΔE00 of what is read on the paper alone, and with every second box known to 2 ΔE from cards before."""
    for curve in ("mild", "strong"):
        found, alone, told = 0, list[float](), list[float]()
        for seed in range(_SEEDS):
            desk = Desk(seed=seed)
            card = desk.card("teach", "A4", 48, seed)
            photo, true = desk.photographed(card, desk.laid(card), Camera(seed, curve, 0.12, size=(2400, 1800)))
            rng = np.random.default_rng(seed)
            near = true + rng.normal(0, 2 / np.sqrt(3), true.shape)
            known = np.arange(len(true)) % 2 == 0
            for bands, off in ((np.full(len(true), 9.0), alone), (np.where(known, 3.0, 9.0), told)):
                try:
                    read = read_card(photo, card, near, bands, desk.nature.support.lab)
                except InputError:
                    continue
                labs = np.array([box.lab for box in read.boxes])
                off += ciede2000(labs[~known], true[~known]).tolist()
                found += off is alone
        print(f"cards by photograph, {curve} tone curve: marks found in {found} of {_SEEDS}; {_told(alone)}")
        print(f"  with every second box known: {_told(told)}")


def _told(off: list[float]) -> str:
    return f"{np.median(off):.1f}, p90 {np.percentile(off, 90):.1f}"


if __name__ == "__main__":
    bench_photos()
    bench_card_photos()
