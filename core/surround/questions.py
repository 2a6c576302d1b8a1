"""Questions about what surrounds the skin that take a moment: plain values in and out, so that another process can
answer them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import Floats, lab_to_xyz, xyz_to_lab, xyz_to_pixels
from core.errors import InputError
from core.look.questions import Seen, as_jpeg, study_of
from core.look.views import Pixels, light_of
from core.plan.questions import Owned
from core.surround.ramp import PlannedRamp, Shade, planned
from core.surround.region import PARTS, Kind, Lab, Seed, Tones, grown, tones_of
from core.surround.touching import Area, Border, Looks, borders, looks, raised

Way = Literal["as_it_is", "where", "white", "inside"]
WAYS: tuple[Way, ...] = get_args(Way)
"""The picture; the same with the regions' outlines; the skin on bare paper, and inside its planned surround."""
_DETAIL = 0.7
"""How much of what differs from a ramp's colour of that lightness a hand grades."""
_GAP = 3
"""Pixels of what lies between two areas without being paper."""
_BANDWIDTH = 7.0
"""L* over which what a plan departs from the picture is evened."""
_WORN: tuple[tuple[Kind, str, float], ...] = (("hair", "hair", -0.82), ("cloth", "clothes", 0.95))
_CORNER = 0.04
"""Where hair and cloth are looked for, in sides of the face's box below its middle, and the ground, in parts of the
picture from its corners."""


@dataclass(frozen=True, slots=True)
class FigureShown:
    """A figure's skin. wanted, planned (m): CIELAB of its places in the picture and as they will be; off: see
    core.surround.touching.Area."""

    name: str
    wanted: tuple[Lab, ...]
    planned: tuple[Lab, ...]
    off: float


@dataclass(frozen=True, slots=True)
class Surround:
    """A region. labs: what its light, middle and shade will be; empty as long as it is not planned."""

    name: str
    seed: Seed
    labs: tuple[Lab, ...] = ()


@dataclass(frozen=True, slots=True)
class Surrounded:
    """A picture with its figures and what surrounds them."""

    seen: Seen
    figures: tuple[FigureShown, ...]
    regions: tuple[Surround, ...]
    paper: Lab


@dataclass(frozen=True, slots=True)
class AroundTold:
    """tones: of each region in the picture, or in words why there is none. borders, looks, raised: areas are the
    regions and then the figures. skin: whether there is any."""

    tones: tuple[Tones | None, ...]
    troubles: tuple[str, ...]
    borders: tuple[Border, ...]
    looks: tuple[Looks, ...]
    raised: tuple[Looks, ...]
    skin: bool = True


@dataclass(frozen=True, slots=True)
class SurroundOffer:
    """A region that can be looked for. x, y: in parts of the picture."""

    kind: Kind
    name: str
    x: float
    y: float


@lru_cache(maxsize=3)
def _picture(seen: Seen) -> tuple[Floats, NDArray[np.uint8]]:
    study = study_of(seen)
    return np.asarray(xyz_to_lab(light_of(study.small)), dtype=float), study.coloured


@lru_cache(maxsize=4)
def _owner(seen: Seen, seeds: tuple[Seed, ...]) -> NDArray[np.uint8]:
    lab, coloured = _picture(seen)
    return grown(lab, coloured > 0, seeds) if seeds else np.zeros(coloured.shape, np.uint8)


def told(task: Surrounded) -> AroundTold:
    """What is there, and what neighbours do to each other. Raises InputError (`no_points`), OSError."""
    lab, coloured = _picture(task.seen)
    owner = _owner(task.seen, tuple(region.seed for region in task.regions))
    tones: list[Tones | None] = []
    troubles = []
    for number, region in enumerate(task.regions, start=1):
        try:
            tones.append(tones_of(lab, owner, number))
            troubles.append("")
        except InputError as error:
            tones.append(None)
            on_skin = any(coloured[_pixel(point, coloured.shape)] for point in region.seed.points)
            troubles.append(
                "This point lies on skin. Move it into the region." if on_skin else f"{error.message} {error.hint}"
            )
    areas, all_owners = _areas(task, owner, coloured)
    shown = _shown(task, lab, owner, coloured, tuple(tones))
    rows = borders(shown, all_owners, areas)
    return AroundTold(
        tuple(tones), tuple(troubles), tuple(rows), tuple(looks(shown, all_owners, areas, rows)),
        tuple(raised(shown, all_owners, areas, rows)), bool(coloured.any()),
    )  # fmt: skip


def _pixel(point: tuple[float, float], shape: tuple[int, ...]) -> tuple[int, int]:
    return min(shape[0] - 1, int(point[1] * shape[0])), min(shape[1] - 1, int(point[0] * shape[1]))


def _areas(
    task: Surrounded, owner: NDArray[np.uint8], coloured: NDArray[np.uint8]
) -> tuple[list[Area], NDArray[np.uint8]]:
    count = len(task.regions)
    areas = [Area(region.name, False) for region in task.regions]
    areas += [Area(figure.name, True, figure.off) for figure in task.figures]
    return areas, np.where(coloured > 0, count + coloured, owner).astype(np.uint8)


def _shown(
    task: Surrounded,
    lab: Floats,
    owner: NDArray[np.uint8],
    coloured: NDArray[np.uint8],
    tones: Sequence[Tones | None],
) -> Floats:
    """CIELAB (h, w, 3) of skin and regions as they will be; of all else as it is in the picture."""
    out = lab.copy()
    for number, (region, its) in enumerate(zip(task.regions, tones, strict=True), start=1):
        if its and len(region.labs) == len(PARTS):
            mine = owner == number
            out[mine] = _graded(lab[mine], its.labs(), np.array(region.labs))
    for number, figure in enumerate(task.figures, start=1):
        mine = coloured == number
        if figure.planned and mine.any():
            wanted, given = np.array(figure.wanted), np.array(figure.planned)
            weight = np.exp(-(((lab[mine][:, :1] - wanted[:, 0]) / _BANDWIDTH) ** 2)) + 1e-6
            out[mine] += weight @ (given - wanted) / weight.sum(axis=1, keepdims=True)
    return out


def _graded(pixels: Floats, wanted: Floats, given: Floats) -> Floats:
    """Pixels (n, 3) of a region laid in a ramp, by their lightness along it, with what of their detail a hand
    grades."""
    order = np.argsort(wanted[:, 0], kind="stable")
    along = [np.interp(pixels[:, 0], wanted[order, 0], part[order, i]) for part in (wanted, given) for i in range(3)]
    meant, laid = np.stack(along[:3], axis=-1), np.stack(along[3:], axis=-1)
    return np.asarray(laid + _DETAIL * (pixels - meant))


def ramp_for(owned: Owned, tones: Tones, shade: Shade, skin: frozenset[str]) -> tuple[PlannedRamp | None, str]:
    """A ramp of the artist's sticks for a region, or in words why there is none. Raises what lay_out raises."""
    tray = owned.laid_out()
    try:
        return planned(tray.box, owned.setup.medium, tones, shade, skin, owned.setup.banned), ""
    except InputError as error:
        return None, f"{error.message} {error.hint}"


def picture_of(task: Surrounded, way: Way, size: int) -> bytes:
    """The picture in a way, as JPEG, no larger than `size` pixels. Raises as `told`."""
    lab, coloured = _picture(task.seen)
    owner = _owner(task.seen, tuple(region.seed for region in task.regions))
    if way == "as_it_is":
        return _packed(lab, size)
    if way == "where":
        return _packed(_outlined(lab, owner), size)
    tones: list[Tones | None] = []
    for number in range(1, len(task.regions) + 1):
        try:
            tones.append(tones_of(lab, owner, number))
        except InputError:
            tones.append(None)
    shown = _shown(task, lab, owner, coloured, tones)
    held = (coloured > 0) | (owner > 0) if way == "inside" else coloured > 0
    # Eyes, brows and what else lies within are no paper.
    closed = ndimage.binary_closing(np.pad(held, _GAP, mode="edge"), iterations=_GAP)[_GAP:-_GAP, _GAP:-_GAP]
    shown[~ndimage.binary_fill_holes(closed | held)] = task.paper
    return _packed(shown, size)


def _outlined(lab: Floats, owner: NDArray[np.uint8]) -> Floats:
    """A dark line within a light one around every region: it is seen on anything, and tints nothing."""
    out = lab.copy()
    for number in range(1, int(owner.max(initial=0)) + 1):
        mine = ndimage.binary_opening(owner == number)
        edge = mine & ~ndimage.binary_erosion(mine, iterations=2, border_value=1)
        rim = ndimage.binary_dilation(mine) & ~mine
        out[edge] = (12.0, 0.0, 0.0)
        out[rim] = (97.0, 0.0, 0.0)
    return out


def _packed(lab: Floats, size: int) -> bytes:
    pixels: Pixels = xyz_to_pixels(lab_to_xyz(lab))
    step = max(pixels.shape[:2]) / size
    return as_jpeg(pixels if step <= 1 else pixels[:: int(np.ceil(step)), :: int(np.ceil(step))])


def offers(seen: Seen, names: Sequence[str]) -> tuple[SurroundOffer, ...]:
    """Where hair and cloth of each figure with a face, and the ground, may be. Raises OSError."""
    study = study_of(seen)
    h, w = study.owners.shape
    found = []
    for name, face in zip(names, study.maps, strict=False):
        if face is None:
            continue
        for kind, word, down in _WORN:
            x, y = face.middle + down * face.side * face.down
            if 0 < x < w and 0 < y < h and not study.coloured[int(y), int(x)]:
                found.append(SurroundOffer(kind, f"{name}’s {word}", round(x / w, 4), round(y / h, 4)))
    corners = [(x, y) for y in (_CORNER, 1 - _CORNER) for x in (_CORNER, 1 - _CORNER)]
    free = [(x, y) for x, y in corners if not study.coloured[_pixel((x, y), (h, w))]]
    if free:
        found.append(SurroundOffer("ground", "ground", *free[0]))
    return tuple(found)
