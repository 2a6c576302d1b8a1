"""Questions about a drawing that take a while: plain values in and out, so that another process can answer them.

Each process keeps the drawings that it looked at last.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import SRGB, Floats, lab_to_xyz, srgb_encode, xyz_to_lab, xyz_to_pixels
from core.compare.corrections import Advice, There, advised
from core.compare.possible import possible
from core.compare.reading import (
    Beside,
    PlaceRead,
    Reference,
    Region,
    Sheet,
    corners_in_photo,
    laid_over,
    read_places,
    surround_is_bare,
    what_is_wrong,
)
from core.errors import InputError
from core.layers.plan import Layer
from core.look.questions import Seen, Source, as_jpeg, decoded, small_of, study_of
from core.look.study import Study
from core.look.views import MOST_STEPS, Pixels, Small, as_it_is, enlarged, light_of, squint, values
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.photo.lens import Known
from core.photo.squared import Corner
from core.plan.hatch import hatched
from core.plan.mapped import ground_of, owned_by
from core.plan.questions import Lab, Owned
from core.plan.tried import Tried
from core.trial.joint import MeasuredBox, learn
from core.trial.reading import BAND_TO_ERROR
from core.trial.swatched import as_swatched

WAYS = ("as_it_is", "values", "squint", "surround")
"""How a drawing and its picture are looked at; `surround`: what is still paper beside the skin as it is in the
picture."""
SIZES = (480, 960)
THUMB = 260
_SQUINT = 4
_HARDLY = 1.5
"""ΔE*ab by which a place may be farther off after a correction and still be laid with the rest."""
_FINE, _COARSE, _FEWEST_BORDER = 0.004, 0.02, 60
"""Over which parts of the picture's width a border is looked at from near and from afar, and of how many pixels it must
consist to be judged."""
_PAPER_LIKE = 9.0
"""ΔE*ab from the paper within which nothing is drawn yet."""
_EVENED_MM, _AROUND = 1.5, 0.25
"""Over how much of the sheet a drawing is evened for a map, and how much is shown around what it is about."""
FEWEST_BESIDE = 4
"""Swatches of known sticks by which a camera can be told."""
_TELLS = 6.0
"""ΔE00 within which 80 of 100 must lie for a swatch to tell of the camera; a surer one counts more."""
_SHARED_FROM = 24
"""From how many boxes of cards on they tell more of sticks than a drawing does, whose hand may have slipped."""


@dataclass(frozen=True, slots=True)
class Photographed:
    """A photograph of a drawing, and what is known of it. paper: CIELAB; frame: the picture's corners in parts of the
    sheet, once they are known; expected: where it should lie, row by row; see core.compare.reading.laid_over."""

    photo: Source
    seen: Seen
    paper: Lab
    corners: tuple[Corner, ...] | None = None
    frame: tuple[Corner, ...] | None = None
    chart: tuple[Corner, ...] | None = None
    expected: tuple[float, ...] | None = None
    beside: tuple[Beside, ...] = ()


@dataclass(frozen=True, slots=True)
class DrawingRead:
    """corners: of the sheet in parts of the photograph; frame: of the picture in parts of the sheet; like: see
    core.compare.register; places: in the order of what was asked; said: sentences on all of it; bare: whether what
    neighbours the skin is still paper; edges: see core.compare.judged."""

    corners: tuple[Corner, ...]
    frame: tuple[Corner, ...]
    like: float
    places: tuple[PlaceRead, ...]
    said: tuple[str, ...]
    bare: bool
    edges: tuple[float | None, ...]
    usual: float


@lru_cache(maxsize=4)
def _reference(seen: Seen, expected: tuple[float, ...] | None) -> Reference:
    study = study_of(seen)
    lab = np.asarray(xyz_to_lab(light_of(study.small)), dtype=float)
    where = None if expected is None else np.array(expected).reshape(3, 3)
    return Reference(lab, study.coloured > 0, where)


@lru_cache(maxsize=3)
def _sheet(task: Photographed) -> Sheet:
    reference = _reference(task.seen, task.expected)
    return laid_over(decoded(task.photo), reference, task.paper, task.corners, task.frame, task.chart, task.beside)


def swatches_known(tried: Tried, codes: Sequence[str]) -> tuple[Known, ...]:
    """What closed swatches of these sticks are, each laid once and as hard as the hand goes.

    Raises InputError: `too_few_swatches`; `not_measured` where trial cards do not tell all of them well enough.
    """
    if len(set(codes)) < FEWEST_BESIDE:
        raise InputError(
            "too_few_swatches",
            f"A camera is told by {FEWEST_BESIDE} swatches of different colours at least.",
            "Mark more of them.",
            "beside",
        )
    learnt = tried.known()
    stacks = [(Pass(code, get_medium(tried.medium).pressures[-1]),) for code in codes]
    laid = {pass_.stick for box in tried.boxes for pass_ in box.passes}
    bands = np.where([code in laid for code in codes], learnt.bands(stacks), np.inf)
    if bands.max() > _TELLS:
        worst = next(stick for stick in tried.sticks if stick.code == codes[int(bands.argmax())])
        raise InputError(
            "not_measured",
            f"What {worst.code} {worst.name} looks like is not known well enough.",
            f"Lay it on a trial card first, or mark those that cards have shown to ±{_TELLS:g}.",
            "beside",
        )
    labs = learnt.labs(stacks)
    return tuple(
        ((float(lab[0]), float(lab[1]), float(lab[2])), float(band) / BAND_TO_ERROR)
        for lab, band in zip(labs, bands, strict=True)
    )


def read_drawing(task: Photographed, regions: Sequence[Region]) -> DrawingRead:
    """A photographed drawing at these places of its picture. Raises what `laid_over` raises, and OSError."""
    sheet, reference = _sheet(task), _reference(task.seen, task.expected)
    said, covered, sharp = what_is_wrong(sheet, reference)
    shape = reference.skin.shape
    places = read_places(sheet, regions, (shape[0], shape[1]), covered)
    edges = _edges(sheet, study_of(task.seen)) if sharp else tuple(None for _ in task.seen.people)
    frame = tuple((float(x), float(y)) for x, y in corners_in_photo(sheet).round(5))
    return DrawingRead(
        sheet.corners, frame, round(sheet.register.like, 2), tuple(places), said,
        surround_is_bare(sheet, reference), edges, sheet.usual,
    )  # fmt: skip


def _edges(sheet: Sheet, study: Study) -> tuple[float | None, ...]:
    """How many times as steep the borders of light and shade of each figure are as in the picture."""
    h, w = study.coloured.shape
    seen, there = sheet.in_picture((h, w))
    drawn = xyz_to_lab(np.maximum(seen, 0) @ SRGB.to_xyz)[..., 0]
    picture = xyz_to_lab(light_of(study.small))[..., 0]
    found: list[float | None] = []
    for number in range(len(study.figures)):
        skin = ndimage.binary_erosion((study.coloured == number + 1) & there, iterations=3)
        border = skin & (ndimage.binary_dilation(study.light) & ~study.light)
        if np.count_nonzero(border) < _FEWEST_BORDER:
            found.append(None)
            continue
        near, far = _FINE * w, _COARSE * w
        steep = [
            float(ndimage.gaussian_gradient_magnitude(light, near)[border].mean())
            / max(float(ndimage.gaussian_gradient_magnitude(light, far)[border].mean()), 1e-3)
            for light in (drawn, picture)
        ]
        found.append(round(steep[0] / max(steep[1], 1e-3), 2))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Advising:
    """owned: what is laid out; tried: its sticks as they are listed, with the boxes of all cards; laid: see
    core.compare.corrections; places: what was laid there and how it came out, as boxes; usual: ΔE00 by which the
    photograph is read off."""

    owned: Owned
    tried: Tried
    laid: tuple[Layer, ...]
    there: tuple[There, ...]
    places: tuple[MeasuredBox, ...]
    at_hand: tuple[str, ...]
    usual: float


def advice_for(task: Advising) -> Advice:
    """See `core.compare.corrections.advised`. Raises what laying out raises."""
    laid_out, tried = task.owned.laid_out(), task.tried
    boxes = tried.boxes if len(tried.boxes) >= _SHARED_FROM else (*tried.boxes, *task.places)
    learnt = learn(tuple(map(as_swatched, tried.sticks)), tried.support, tried.medium, boxes)
    return advised(possible(laid_out, learnt, task.usual), task.laid, task.there, task.at_hand)


def picture_of(task: Photographed, side: str, way: str, longest: int) -> bytes:
    """The drawing as its picture lies, or the picture itself, in one of WAYS, as JPEG."""
    small = small_of(task.seen.source, longest)
    pixels = as_it_is(small)
    if side == "drawing":
        seen = _drawing(task, (small.height, small.width))
        pixels = _beside(task, seen, pixels) if way == "surround" else seen
    shown = Small(pixels, SRGB)
    if way == "values":
        pixels = values(shown, MOST_STEPS)
    elif way == "squint":
        pixels = squint(shown, _SQUINT)
    return as_jpeg(pixels)


def _drawing(task: Photographed, shape: tuple[int, int]) -> Pixels:
    seen, there = _sheet(task).in_picture(shape)
    pixels = np.rint(srgb_encode(np.clip(seen, 0, 1)) * 255).astype(np.uint8)
    pixels[~there] = _OUTSIDE
    return pixels


_OUTSIDE = 140
"""The grey of what a photograph does not show."""


def _beside(task: Photographed, drawn: Pixels, picture: Pixels) -> Pixels:
    """The drawing with what is still paper beside its skin as it is in the picture."""
    skin = enlarged((study_of(task.seen).coloured > 0).astype(np.uint8), Small(picture, SRGB)) > 0
    lab = xyz_to_lab(light_of(Small(drawn, SRGB)))
    paper = np.linalg.norm(lab - np.array(task.paper), axis=2) < _PAPER_LIKE
    bare = ndimage.binary_opening(paper & ~skin, iterations=2) & ~skin
    return np.where(bare[..., None], picture, drawn)


@dataclass(frozen=True, slots=True)
class Planned:
    """A correction over its picture. figure: its number; where: its places, in parts of the picture; doses: the number
    of each one's dose, 0 for none, of so many `most`; moved: CIELAB by which it moves each; stick: CIELAB."""

    figure: int
    where: tuple[tuple[float, float], ...]
    doses: tuple[int, ...]
    most: int
    moved: tuple[Lab, ...]
    stick: Lab
    px_per_mm: float


def _levels(task: Photographed, planned: Planned) -> tuple[NDArray[np.uint8], Floats]:
    """Where a correction lies (h, w), the number of its dose, and CIELAB (h, w, 3) by which it moves the drawing: at
    what stands for its places, and is nearer afterwards."""
    study = study_of(task.seen)
    ground = owned_by(ground_of(study, planned.figure, planned.px_per_mm), planned.where)
    assert ground.owner is not None
    doses, moved = np.array(planned.doses, dtype=np.uint8), np.array(planned.moved, dtype=float)
    levels = np.where(ground.mask, doses[ground.owner], 0).astype(np.uint8)
    by = np.where(levels[..., None] > 0, moved[ground.owner], 0.0)
    seen, there = _sheet(task).in_picture((levels.shape[0], levels.shape[1]))
    off = xyz_to_lab(np.maximum(seen, 0) @ SRGB.to_xyz) - ground.lab
    sigma = _EVENED_MM * planned.px_per_mm
    off = ndimage.gaussian_filter(off, (sigma, sigma, 0))
    nearer = np.linalg.norm(off + by, axis=2) < np.linalg.norm(off, axis=2) + _HARDLY
    even = ndimage.gaussian_filter((nearer & there & (levels > 0)).astype(float), sigma)
    levels[even < 0.5] = 0
    return levels, by * np.clip(ndimage.gaussian_filter((levels > 0).astype(float), sigma), 0, 1)[..., None]


def map_of(task: Photographed, planned: Planned, longest: int) -> bytes:
    """Where a correction goes, hatched over a ghost of the picture, as JPEG."""
    study = study_of(task.seen)
    levels, _ = _levels(task, planned)
    rgb = np.rint(xyz_to_pixels(lab_to_xyz(np.array(planned.stick)[None])))[0]
    ink = ((int(rgb[0]), int(rgb[1]), int(rgb[2])), float(planned.stick[0]))
    light = xyz_to_lab(light_of(study.small))[..., 0]
    skin = study.coloured == planned.figure + 1
    return as_jpeg(hatched(light, skin, levels, planned.most, ink, planned.px_per_mm, 1, longest))


def now_and_then(task: Photographed, planned: Planned) -> bytes:
    """What a correction is about, cut out of the drawing: its left half as it is, its right half as it will be."""
    levels, by = _levels(task, planned)
    h, w = levels.shape
    seen, _ = _sheet(task).in_picture((h, w))
    lab = xyz_to_lab(np.maximum(seen, 0) @ SRGB.to_xyz)
    now, then = (xyz_to_pixels(lab_to_xyz(each)) for each in (lab, lab + by))
    rows, columns = (
        np.nonzero(levels) if levels.any() else np.nonzero(study_of(task.seen).coloured == planned.figure + 1)
    )
    high, wide = np.ptp(rows), np.ptp(columns)
    side = max(24.0, float(max(high, wide)) * (1 + _AROUND))
    middle = (rows.mean(), columns.mean()) if len(rows) else (h / 2, w / 2)
    top, left = (int(np.clip(at - side / 2, 0, max(0, n - side))) for at, n in zip(middle, (h, w), strict=True))
    box = (slice(top, min(h, int(top + side))), slice(left, min(w, int(left + side))))
    both = now[box].copy()
    half = both.shape[1] // 2
    both[:, half:] = then[box][:, half:]
    scale = THUMB / max(both.shape[:2])
    size = (max(1, round(both.shape[1] * scale)), max(1, round(both.shape[0] * scale)))
    return as_jpeg(np.asarray(cv2.resize(np.rint(both).astype(np.uint8), size, interpolation=cv2.INTER_CUBIC)))
