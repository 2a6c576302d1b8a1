"""Drawings that nobody drew: a demo piece's plan laid over its skin by a nature of other physics (tools.nature), in a
hand that slips, on a sheet; for photographs by a camera that is not there (tools.camera)."""

from __future__ import annotations

import io
import itertools
import json
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cache, cached_property

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw
from scipy import ndimage

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, lab_to_xyz, xyz_to_lab
from core.exchange.tray_csv import read_tray
from core.look.measuring import Format, place_on
from core.look.questions import Seen, Source, study_of
from core.look.study import Person, Study
from core.look.views import light_of
from core.optics.medium import PRESSURES, Pass
from core.optics.stick import Stick
from core.optics.support import supports
from core.photo.chart import patches
from core.plan.setup import Setup
from core.trial.joint import MeasuredBox
from tools.nature import Nature
from tools.site import ROOT

PX_PER_MM = 4.0
_HAND = 0.15
_WARP = 0.004
"""How far a hand's drawing departs from the picture's place, as a part of the sheet's width."""
_NEAR, _ALIKE = 0.05, 8.0
"""Where a place's stack is laid: how near it, in parts of the picture, and how alike in CIELAB."""
_GRADED = 0.75
"""How much of what differs between a pixel and its place a hand grades."""
_RESIDUE, _READ = 1.0, 1.9
"""By how much a plan by trial cards is still off in each of L*, a* and b*, and how far a box of a card is read off."""
CHART = (0.3, 0.78, 0.7, 0.965)
"""Left, top, right and bottom of a chart, in parts of the sheet."""
_SWATCH_MM, _PALEST = 9.0, 0.2
"""Across a swatch; the part of the sticks that are too pale for one."""
PIECES = {"night-watch": ("long-pier-72", "darks_first"), "below-deck": ("long-pier-72", "darks_first")}


@dataclass(frozen=True)
class Place:
    """A spot of a demo piece: figure, name, place, role, x, y, radius in parts; passes: its recipe; numbered: the same
    with the numbers of its layers."""

    figure: str
    name: str
    place: str
    role: str
    x: float
    y: float
    radius: float
    passes: tuple[Pass, ...]
    numbered: tuple[tuple[int, Pass], ...]


@cache
def places_of(piece: str) -> tuple[Place, ...]:
    """The spots of a demo piece with their recipes, read off the maps of its plan."""
    rows = json.loads((ROOT / f"demo/references/{piece}.json").read_text())["spots"]
    layers = json.loads((ROOT / f"demo/plans/{piece}.json").read_text())
    maps = json.loads((ROOT / f"demo/plans/{piece}-maps.json").read_text())
    for layer, figure in itertools.product(layers, maps.values()):
        levels = figure["layers"].get(layer["id"], {"levels": {}})["levels"]
        if any(levels.values()):
            layer["levels"] |= levels
    found = []
    for number, row in enumerate(rows, start=1):
        laid = [(i, layer, layer["levels"].get(f"spot-{number}")) for i, layer in enumerate(layers)]
        numbered = tuple(
            (i, Pass(layer["stick"], level["pressure"], level["repeats"], layer.get("technique", "lay")))
            for i, layer, level in laid
            if level
        )
        kept = {key: row[key] for key in ("figure", "name", "place", "role", "x", "y", "radius")}
        found.append(Place(**kept, passes=tuple(pass_ for _, pass_ in numbered), numbered=numbered))
    return tuple(found)


@cache
def reference_of(piece: str) -> Seen:
    """The picture of a demo piece, with as many people as it has figures."""
    figures = dict.fromkeys(place.figure for place in places_of(piece))
    source = Source(piece, (ROOT / f"demo/references/{piece}.jpg").read_bytes())
    return Seen(source, None, tuple(Person() for _ in figures))


def _timid(rng: np.random.Generator, passes: list[list[Pass]], mine: Sequence[int]) -> None:
    """Darks laid too softly: where many layers lie, each is laid lightly and once."""
    for i in (i for i in mine if len(passes[i]) > 2):
        passes[i] = [replace(pass_, pressure="light", repeats=1) for pass_ in passes[i]]


def _forgotten(rng: np.random.Generator, passes: list[list[Pass]], mine: Sequence[int]) -> None:
    """A layer left out over a figure."""
    code = _one_of(rng, passes, mine)
    for i in mine:
        passes[i] = [pass_ for pass_ in passes[i] if pass_.stick != code]


def _overdone(rng: np.random.Generator, passes: list[list[Pass]], mine: Sequence[int]) -> None:
    """A layer laid once more than was meant, at every second place."""
    code = _one_of(rng, passes, mine)
    for i in mine[::2]:
        for j, pass_ in enumerate(passes[i]):
            if pass_.stick == code:
                passes[i][j] = replace(pass_, repeats=min(3, pass_.repeats + 1))


def _one_of(rng: np.random.Generator, passes: list[list[Pass]], mine: Sequence[int]) -> str:
    laid = sorted({pass_.stick for i in mine for pass_ in passes[i]})
    return laid[int(rng.integers(len(laid)))]


@dataclass(frozen=True)
class Drawing:
    """A drawing of a demo piece. seed: of nature, the hand and its mistakes; wrong: how many mistakes; surround: what
    hair and cloth are: `paper`, `outlined` or `coloured`; tried: whether its plan had become true by trial
    cards, so that a picture is taken that it would give but for _RESIDUE, and the sticks are known by 96 boxes;
    chart: whether a chart of 24 patches lies below it; swatches: of how many sticks one swatch is laid there."""

    piece: str = "night-watch"
    seed: int = 0
    wrong: int = 3
    surround: str = "outlined"
    tried: bool = False
    chart: bool = False
    swatches: int = 0
    sheet: Format = field(default_factory=Format)

    @cached_property
    def study(self) -> Study:
        return study_of(reference_of(self.piece))

    @cached_property
    def sticks(self) -> tuple[Stick, ...]:
        used = {p.stick for place in places_of(self.piece) for p in place.passes}
        rows = read_tray((ROOT / f"demo/ranges/{PIECES[self.piece][0]}.csv").read_bytes()).sticks
        return tuple(sorted(rows, key=lambda stick: stick.code not in used))

    @cached_property
    def nature(self) -> Nature:
        return Nature(self.seed, self.sticks, supports()[Setup().paper])

    @cached_property
    def laid(self) -> tuple[tuple[Pass, ...], ...]:
        """What the hand has really laid at each place: as planned but for its mistakes."""
        rng = np.random.default_rng(self.seed + 77)
        passes = [list(place.passes) for place in places_of(self.piece)]
        figures = list(dict.fromkeys(place.figure for place in places_of(self.piece)))
        kinds = [_timid, _forgotten, _overdone]
        for number in range(self.wrong):
            figure = figures[int(rng.integers(len(figures)))]
            mine = [i for i, place in enumerate(places_of(self.piece)) if place.figure == figure]
            kinds[number % len(kinds)](rng, passes, mine)
        return tuple(map(tuple, passes))

    def after(self, more: Sequence[Sequence[Pass]] = ()) -> Floats:
        """CIELAB (m, 3) of the places as they lie, or after some passes more at each: the same hand for what lies."""
        found = []
        for i, passes in enumerate(self.laid):
            self.nature.rng = np.random.default_rng(1000 * self.seed + i)
            found.append(self.nature.lab((*passes, *(more[i] if more else ())), hand=_HAND))
        return np.array(found)

    @cached_property
    def true(self) -> Floats:
        """CIELAB (m, 3) of the places as they lie."""
        return self.after()

    def planned_order(self) -> list[tuple[int, str]]:
        """The layers of its plan: number and stick."""
        return sorted({(i, pass_.stick) for place in places_of(self.piece) for i, pass_ in place.numbered})

    def around_places(self, lab: Floats) -> Floats:
        """CIELAB (m, 3) around the places' middles in a picture (h, w, 3)."""
        return np.array([self._around(lab, place) for place in places_of(self.piece)])

    @cached_property
    def wanted(self) -> Floats:
        """CIELAB (m, 3) of the places in the picture, around their middles."""
        return self.around_places(self.seen)

    @cached_property
    def seen(self) -> Floats:
        """CIELAB (h, w, 3) of the picture."""
        lab = np.asarray(xyz_to_lab(light_of(self.study.small)), dtype=float)
        if not self.tried:
            return lab
        rng = np.random.default_rng(self.seed + 31)
        made = np.array([self.nature.lab(place.passes) for place in places_of(self.piece)])
        gives = made + rng.normal(0, _RESIDUE, made.shape)
        wanted = self.around_places(lab)
        rows, columns, weight = self._owned(lab, wanted)
        out = lab.copy()
        out[rows, columns] += weight @ (gives - wanted)
        return out

    def _around(self, lab: Floats, place: Place) -> Floats:
        h, w = lab.shape[:2]
        y, x = np.mgrid[0:h, 0:w]
        inside = np.hypot(x + 0.5 - place.x * w, y + 0.5 - place.y * h) <= place.radius * max(h, w)
        return np.asarray(lab[inside].mean(axis=0))

    def _owned(self, lab: Floats, wanted: Floats) -> tuple[NDArray[np.intp], NDArray[np.intp], Floats]:
        """Rows and columns of the skin, and how much each place (p, m) counts at them."""
        mask = self.study.coloured > 0
        h, w = mask.shape
        rows, columns = np.nonzero(mask)
        at, labs = np.stack([columns / w, rows / h], axis=1), lab[rows, columns]
        where = np.array([(place.x, place.y) for place in places_of(self.piece)])
        far = np.linalg.norm(at[:, None] - where, axis=2) / _NEAR
        unlike = np.linalg.norm(labs[:, None] - wanted, axis=2) / _ALIKE
        # Its own figure's places alone.
        numbers = {name: n for n, name in enumerate(dict.fromkeys(p.figure for p in places_of(self.piece)), start=1)}
        owner = np.array([numbers[place.figure] for place in places_of(self.piece)])
        apart = (far**2 + unlike**2) / 2 + 50.0 * (self.study.coloured[rows, columns][:, None] != owner)
        weight = np.exp(apart.min(axis=1, keepdims=True) - apart)
        return rows, columns, weight / weight.sum(axis=1, keepdims=True)

    def boxes(self, count: int = 96) -> list[MeasuredBox]:
        """A trial card of these sticks, filled and measured: single passes and stacks of the plan."""
        nature = Nature(self.seed, self.sticks, supports()[Setup().paper])
        rng = np.random.default_rng(self.seed + 9)
        planned = [place.passes for place in places_of(self.piece) if place.passes]
        used = sorted({p.stick for passes in planned for p in passes})
        alone = [
            (Pass(code, PRESSURES[int(rng.integers(3))], int(rng.integers(1, 3))),) for code in used for _ in (0, 1)
        ]
        begun = [passes[: int(rng.integers(1, len(passes) + 1))] for passes in planned for _ in (0, 1)]
        stacks = [*alone, *begun][:count]
        labs = [nature.lab(stack, hand=_HAND, reading=_READ) for stack in stacks]
        return [
            MeasuredBox(stack, (float(lab[0]), float(lab[1]), float(lab[2])), _READ)
            for stack, lab in zip(stacks, labs, strict=True)
        ]

    @cached_property
    def in_picture(self) -> Floats:
        """CIELAB (h, w, 3) of the drawing where the picture lies."""
        lab, (h, w) = self.seen, self.study.coloured.shape
        paper = np.array(supports()[Setup().paper].lab, dtype=float)
        rows, columns, weight = self._owned(lab, self.wanted)
        skin = weight @ self.true + _GRADED * (lab[rows, columns] - weight @ self.wanted)
        out = np.tile(paper, (h, w, 1))
        if self.surround == "coloured":
            out = lab * [0.9, 0.85, 0.85] + [6.0, 0, 0]
        elif self.surround == "outlined":
            edges = ndimage.gaussian_gradient_magnitude(lab[..., 0], 1.2)
            out[..., 0] -= 35.0 * np.clip(edges / 12 - 0.3, 0, 1)
        out[rows, columns] = skin
        return np.asarray(out)

    @cached_property
    def on_sheet(self) -> Floats:
        """XYZ (H, W, 3) of the whole sheet, PX_PER_MM pixels a millimetre."""
        place = place_on(self.sheet, self.study.small.width, self.study.small.height)
        high, wide = (round(side * PX_PER_MM) for side in (self.sheet.height_mm, self.sheet.width_mm))
        rng = np.random.default_rng(self.seed + 5)
        paper = np.array(supports()[Setup().paper].lab, dtype=float)
        xyz = np.tile(lab_to_xyz(paper), (high, wide, 1))
        y, x = np.mgrid[0:high, 0:wide] / PX_PER_MM
        dx, dy = self._astray(rng, (high, wide))
        u = (x + dx - place.left_mm) / place.width_mm
        v = (y + dy - place.top_mm) / place.height_mm
        h, w = self.in_picture.shape[:2]
        inside = (u >= 0) & (u < 1) & (v >= 0) & (v < 1)
        drawn = lab_to_xyz(self.in_picture).astype(np.float32)
        at = [(part * side - 0.5).astype(np.float32) for part, side in ((u, w), (v, h))]
        moved = cv2.remap(drawn, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        xyz = np.where(inside[..., None], moved, xyz)
        grain = ndimage.gaussian_filter(rng.normal(size=(high, wide)), 0.8)
        grain *= 0.05 / grain.std()
        if self.chart:
            left, top, right, bottom = (
                round(part * side) for part, side in zip(CHART, (wide, high, wide, high), strict=True)
            )
            rows, columns = np.arange(bottom - top) * 4 // (bottom - top), np.arange(right - left) * 6 // (right - left)
            xyz[top:bottom, left:right] = lab_to_xyz(patches().reshape(4, 6, 3))[rows][:, columns]
        for (across, down), lab in zip(self.swatches_at, self.swatches_true, strict=True):
            half = round(_SWATCH_MM / 2 * PX_PER_MM)
            x, y = round(across * wide), round(down * high)
            xyz[y - half : y + half, x - half : x + half] = lab_to_xyz(lab)
        laid = np.clip((xyz[..., 1].max() - xyz[..., 1]) * 4, 0, 1)
        return np.asarray(xyz * (1 + grain * laid)[..., None])

    @property
    def swatched(self) -> list[Stick]:
        """The sticks of the swatches, from pale to dark, of those that the drawing is made with."""
        used = {code for _, code in self.planned_order()}
        order = sorted((s for s in self.sticks if s.code in used), key=lambda stick: -float(stick.lab[0]))
        return [order[int(i)] for i in np.linspace(_PALEST * len(order), len(order) - 1, self.swatches)]

    @property
    def swatches_at(self) -> list[tuple[float, float]]:
        """Where they lie, in parts of the sheet."""
        return [(float(x), 0.95) for x in np.linspace(0.12, 0.88, self.swatches)]

    @cached_property
    def swatches_true(self) -> Floats:
        """CIELAB (n, 3) of the swatches, each closed, once and as hard as a hand goes."""
        return np.array([self.nature.lab((Pass(stick.code, PRESSURES[-1]),)) for stick in self.swatched]).reshape(-1, 3)

    def _astray(self, rng: np.random.Generator, shape: tuple[int, int]) -> tuple[Floats, Floats]:
        """Millimetres by which the hand is astray, across and down."""
        found = []
        for _ in range(2):
            low = rng.normal(size=(12, 9))
            smooth = ndimage.zoom(low, (shape[0] / 12, shape[1] / 9), order=3)[: shape[0], : shape[1]]
            found.append(smooth / smooth.std() * _WARP * self.sheet.width_mm)
        self.__dict__["_moved"] = found
        return found[0], found[1]

    def places_on_sheet(self) -> Floats:
        """Where the places lie on the sheet (m, 2), in parts of it."""
        place = place_on(self.sheet, self.study.small.width, self.study.small.height)
        _ = self.on_sheet
        dx, dy = self.__dict__["_moved"]
        found = []
        for spot in places_of(self.piece):
            x, y = place.on_sheet(spot.x, spot.y)
            row = min(len(dx) - 1, max(0, int(y * PX_PER_MM)))
            column = min(dx.shape[1] - 1, max(0, int(x * PX_PER_MM)))
            found.append(((x - dx[row, column]) / self.sheet.width_mm, (y - dy[row, column]) / self.sheet.height_mm))
        return np.array(found)

    @cached_property
    def off(self) -> Floats:
        """CIEDE2000 (m,) of the places as they lie."""
        return ciede2000(self.true, self.wanted)


def with_hand(data: bytes) -> bytes:
    """The same photograph with a hand reaching in from its right edge."""
    image = Image.open(io.BytesIO(data)).convert("RGB")
    w, h = image.size
    draw = ImageDraw.Draw(image)
    draw.polygon(
        [(w, h * 0.45), (w * 0.6, h * 0.42), (w * 0.52, h * 0.5), (w * 0.62, h * 0.62), (w, h * 0.75)], (120, 78, 60)
    )
    out = io.BytesIO()
    image.save(out, "JPEG", quality=90)
    return out.getvalue()
