"""How true drawings are compared: simulated ones, by another physics than the reader's, photographed."""

from __future__ import annotations

import time
from dataclasses import dataclass

import numpy as np
from skimage.transform import ProjectiveTransform

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.compare.corrections import Advice, There, advised
from core.compare.judged import Drawn, believed, judged
from core.compare.possible import possible
from core.compare.questions import swatches_known
from core.compare.reading import Beside, PlaceRead, Reference, Region, Sheet, laid_over, read_places, what_is_wrong
from core.compare.register import through
from core.errors import InputError
from core.layers.doses import Dose
from core.layers.natural import Spot
from core.layers.plan import Layer
from core.look.picture import read_picture
from core.optics.medium import Pass
from core.optics.support import supports
from core.plan.questions import Owned
from core.plan.setup import Setup
from core.plan.tried import Tried
from core.trial.joint import learn
from tools.camera import Camera, photograph
from tools.drawn import CHART, PIECES, Drawing, places_of

_SEEDS, _SIZE = 12, (1500, 2000)
_ANCHORS = (
    ("none", False, 0), ("mild", False, 0), ("strong", False, 0), ("mild", True, 0), ("mild", False, 6),
    ("strong", False, 6),
)  # fmt: skip
"""Tone curves, and what lies beside the drawing: a chart, or so many swatches."""
_WORST = 5


@dataclass(frozen=True)
class Read:
    """A drawing as it was photographed and read."""

    drawing: Drawing
    sheet: Sheet
    places: list[PlaceRead]
    corners: list[tuple[float, float]]

    def astray(self) -> Floats:
        """(m,): how far from their true place on the sheet places are looked for, in parts of its width."""
        unit = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
        found, true = (
            ProjectiveTransform.from_estimate(unit, np.array(corners)).params
            for corners in (self.sheet.corners, self.corners)
        )
        where = np.array([(place.x, place.y) for place in places_of(self.drawing.piece)])
        here = through(found, self.sheet.register.on_sheet(where)) * _SIZE
        there = through(true, self.drawing.places_on_sheet()) * _SIZE
        across = np.linalg.norm((np.array(self.corners[1]) - self.corners[0]) * _SIZE)
        return np.asarray(np.linalg.norm(here - there, axis=1) / across)

    def drawn(self) -> list[Drawn]:
        """Its places, to be judged."""
        rows, wanted = places_of(self.drawing.piece), self.drawing.wanted
        names = list(dict.fromkeys(place.figure for place in rows))
        return [
            Drawn(
                str(i), names.index(row.figure), row.name, row.role, _lab(wanted[i]), read.lab, read.doubt, row.x, row.y
            )
            for i, (row, read) in enumerate(zip(rows, self.places, strict=True))
        ]


def photographed(drawing: Drawing, curve: str = "mild") -> Read:
    """A drawing, photographed and read."""
    data, corners = photograph(drawing.on_sheet, Camera(drawing.seed, curve, size=_SIZE))
    reference = Reference(drawing.seen, drawing.study.coloured > 0)
    left, top, right, bottom = CHART
    chart = [(left, top), (right, top), (right, bottom), (left, bottom)] if drawing.chart else None
    beside = []
    if drawing.swatches:
        learnt = Tried(drawing.sticks, supports()[Setup().paper], Setup().medium, tuple(drawing.boxes()))
        known = swatches_known(learnt, [stick.code for stick in drawing.swatched])
        beside = [Beside(*at, one) for at, one in zip(drawing.swatches_at, known, strict=True)]
    sheet = laid_over(read_picture(data), reference, supports()[Setup().paper].lab, chart=chart, beside=beside)
    regions = [Region(place.x, place.y, place.radius) for place in places_of(drawing.piece)]
    _, covered, _ = what_is_wrong(sheet, reference)
    h, w = reference.skin.shape
    return Read(drawing, sheet, read_places(sheet, regions, (h, w), covered), corners)


def advice_on(drawing: Drawing, drawn: list[Drawn], usual: float) -> Advice:
    """What is to be done about it, with sticks that are known by a card of 96 boxes."""
    rows = places_of(drawing.piece)
    setup = Setup(method=PIECES[drawing.piece][1], max_sticks=16)
    labs = believed(drawn)
    there = [
        There(Spot(row.name, row.place, row.role, one.wanted), one.figure, _lab(lab), one.wanted)
        for row, one, lab in zip(rows, drawn, labs, strict=True)
    ]
    learnt = learn(drawing.sticks, supports()[setup.paper], setup.medium, drawing.boxes())
    laid = layers_of(drawing)
    trays = possible(Owned(drawing.sticks, setup).laid_out(), learnt, usual)
    return advised(trays, laid, there, {layer.stick for layer in laid})


def layers_of(drawing: Drawing) -> list[Layer]:
    """What its artist takes to be laid: the plan."""
    rows = places_of(drawing.piece)
    layers = []
    for code in dict.fromkeys(drawing.planned_order()):
        number, stick = code
        levels = []
        for row in rows:
            pass_ = next((p for n, p in row.numbered if n == number), None)
            levels.append(Dose(pass_.pressure, pass_.repeats, pass_.technique == "flick") if pass_ else None)
        held = [level for level in levels if level]
        layers.append(Layer(stick, held[0], tuple(levels), ""))
    return layers


def followed(drawing: Drawing, advice: Advice) -> tuple[float, float]:
    """Mean ΔE00 of the places before and after a hand of that nature has done it."""
    more: list[list[Pass]] = [[] for _ in drawing.laid]
    for one in advice.corrections:
        for i, dose in enumerate(one.levels):
            if dose:
                more[i].append(Pass(one.stick, dose.pressure, dose.repeats, "flick" if dose.flicked else "lay"))
    before, after = (ciede2000(labs, drawing.wanted).mean() for labs in (drawing.after(), drawing.after(more)))
    return float(before), float(after)


def bench_comparing() -> None:
    """Where places are looked for, how far off they are read by the tone curve and with a chart, whether the worst
    are named, and what following the corrections brings."""
    astray: list[float] = []
    for curve, chart, swatches in _ANCHORS:
        off: list[float] = []
        took = 0.0
        for seed in range(_SEEDS):
            surround = ("outlined", "coloured", "paper")[seed % 3]
            drawing = Drawing(seed=seed, surround=surround, chart=chart, swatches=swatches)
            start = time.perf_counter()
            try:
                read = photographed(drawing, curve)
            except InputError as error:
                print(f"  {seed}: {error}")
                continue
            took += time.perf_counter() - start
            true = drawing.around_places(drawing.in_picture)
            sound = [i for i, row in enumerate(read.places) if row.trouble in ("", "bare")]
            labs = np.array([row.lab for row in read.places])
            off += ciede2000(labs, true)[sound].tolist()
            astray += read.astray().tolist()
        beside = ", a chart beside it" if chart else f", {swatches} known swatches beside it" if swatches else ""
        print(
            f"drawings by photograph, {curve} tone curve{beside}: off by {np.median(off):.1f}, "
            f"p90 {np.percentile(off, 90):.1f}; {took / _SEEDS:.1f} s"
        )
    print(f"  places found within {np.median(astray):.2%} of the width, p90 {np.percentile(astray, 90):.2%}")
    right, sure, gains = 0, 0, []
    for seed in range(_SEEDS):
        drawing = Drawing(seed=seed, surround=("outlined", "coloured", "paper")[seed % 3], tried=True, wrong=2)
        read = photographed(drawing)
        drawn, rows = read.drawn(), read.places
        judgeable = [one for one, row in zip(drawn, rows, strict=True) if not row.trouble]
        named = [int(row.places[0]) for row in judged(judgeable, ["", ""]).findings if row.stage == "places"]
        # What lies in the drawing: the finder of skin may have left a place out, which is then paper.
        true = ciede2000(drawing.around_places(drawing.in_picture), drawing.wanted)
        true[[bool(row.trouble) for row in rows]] = 0.0
        worst = set(np.argsort(-true)[:_WORST].tolist())
        right += len(named) < 3 or sum(i in worst for i in named) >= 2
        sure += all(true[i] >= read.sheet.usual for i in named)
        before, after = followed(drawing, advice_on(drawing, drawn, read.sheet.usual))
        gains.append(1 - after / before)
        print(f"  {seed}: {before:.1f} → {after:.1f}, named {[round(float(true[i]), 1) for i in named]}")
    print(f"of three places named two are of the five worst in {right} of {_SEEDS}; all are surely off in {sure}")
    print(f"corrections that are followed bring {np.median(gains):.0%} in the median, {np.mean(gains):.0%} in the mean")


def _lab(lab: Floats) -> tuple[float, float, float]:
    return float(lab[0]), float(lab[1]), float(lab[2])


if __name__ == "__main__":
    bench_comparing()
