"""A plan laid over the skin of its reference: maps of every layer, and the picture after each."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy import ndimage
from scipy.cluster.vq import kmeans2

from core.colour.spaces import lab_to_xyz, xyz_to_lab, xyz_to_pixels
from core.errors import InputError
from core.layers.doses import LEAST_MM2, USUAL_DOSES, Scale, scale_of
from core.layers.drawable import grown
from core.layers.fields import Fields, Maps
from core.layers.ground import Ground
from core.layers.marked import Marked, dosed_at, laid_by_maps, pixel_at
from core.layers.natural import Spot
from core.layers.pixels import FieldLayer, Skin, end_scale
from core.layers.plan import Layer, Plan
from core.look.reading import Disc
from core.look.roles import SHADOW_ROLES
from core.look.study import Study
from core.look.views import Pixels, Small, enlarged, light_of
from core.optics.medium import PRESSURES, Box, Pass
from core.plan.drafted import check_layers, of_medium
from core.plan.laying import ONCE, WORKED
from core.plan.map_rules import MapRules
from core.plan.setup import LaidOutTray

HEAD_MM = 130.0
"""How high a head stands on the sheet, where nothing else is known."""
_HEAD_FACES = 1.33
"""How much higher a head is than the box of its face."""
_NO_FACE = 0.4
"""How much of the picture's height a head is taken to be, where no face is found."""
_FEWEST_PIXELS = 50
_SMALLEST_MM2, _LARGEST_MM2 = 1.0, 1000.0
_COLOURS, _SAMPLE = 12, 4000
"""Of how many colours skin is taken to consist, and of how many pixels that is told."""
NOTHING_FREE = 101.0
"""An L* that no skin has."""
_PALEST, _DARKEST = 0.62, 0.72
"""How pale the reference is beneath a map, and how dark the largest dose makes it."""


_LEAST_RADIUS = 2.0
"""How large a place is at least, in pixels."""
_SLOWER = 3.0
"""How different skin is, in CIELAB, for a place to grow into it half as fast as into its like."""
_NEAR_MM, _ALIKE = 8.0, 6.0
"""How far a pixel is from a place on the sheet for it to count as much as a colour so different, in CIELAB."""


def head_scale(study: Study, figure: int, head_mm: float = HEAD_MM) -> float:
    """How many pixels of the study's picture are a millimetre of the sheet, if a head is so high there."""
    face = study.figures[figure].face
    return (face.height * _HEAD_FACES if face else _NO_FACE) * study.small.height / head_mm


def free_from(spots: Sequence[Spot], reserve: bool) -> float:
    """From which L* on lit skin is kept free: midway between the darkest highlight and what comes next; more than any
    skin has if nothing is to be reserved."""
    free = [spot.lab[0] for spot in spots if spot.role == "highlight"]
    if not reserve or not free:
        return NOTHING_FREE
    below = [spot.lab[0] for spot in spots if spot.role != "highlight" and spot.lab[0] < min(free)]
    return (min(free) + max(below, default=min(free))) / 2


def ground_of(study: Study, figure: int, px_per_mm: float, free: float = NOTHING_FREE) -> Ground:
    """The skin of one figure. px_per_mm: of the study's picture, on the sheet. The outermost pixel, a mixture with what
    lies beside the skin, counts as the skin next to it. free: from which L* on lit skin is kept free.

    Raises InputError (`no_skin`) if hardly any of it is found.
    """
    small, mask = study.small, study.coloured == figure + 1
    if np.count_nonzero(mask) < _FEWEST_PIXELS:
        raise InputError(
            "no_skin",
            "Too little skin of this figure is found in the picture for maps.",
            "Paint its skin in, or plan without maps: the spots have their recipes.",
            "figure",
        )
    lab = xyz_to_lab(light_of(small)).astype(np.float32)
    pure = ndimage.binary_erosion(mask)
    if pure.any():
        rows, columns = ndimage.distance_transform_edt(~pure, return_distances=False, return_indices=True)
        lab = np.where(mask[..., None], lab[rows, columns], lab)
    lit = study.light & mask
    return Ground(lab, mask, px_per_mm, lit, lit & (lab[..., 0] >= free) if free < NOTHING_FREE else None)


def skin_colours(ground: Ground, count: int = _COLOURS) -> tuple[tuple[float, float, float], ...]:
    """Colours of which skin consists, CIELAB: the means of so many clusters (k-means)."""
    labs = ground.lab[ground.mask].astype(float)
    some = labs[:: max(1, len(labs) // _SAMPLE)]
    distinct = np.unique(np.round(some), axis=0)
    # Flat colours have no more clusters than there are of them.
    means = distinct if len(distinct) <= count else kmeans2(some, count, minit="++", seed=1)[0]
    return tuple((round(float(lightness), 1), round(float(a), 1), round(float(b), 1)) for lightness, a, b in means)


def owned_by(ground: Ground, where: Sequence[tuple[float, float]]) -> Ground:
    """The ground with the place for which each pixel stands: one that is near on the sheet and alike in colour, so that
    borders follow those of the picture. where: the places, in parts of the picture."""
    h, w = ground.mask.shape
    rows, columns = np.nonzero(ground.mask)
    labs = ground.lab[rows, columns]
    off = []
    for x, y in where:
        row, column = pixel_at((h, w), x, y)
        far_mm = np.hypot(rows - row, columns - column) / ground.px_per_mm
        unlike = np.sqrt(np.square(labs - ground.lab[row, column]).sum(axis=1))
        off.append(far_mm / _NEAR_MM + unlike / _ALIKE)
    owner = np.zeros(ground.mask.shape, dtype=np.intp)
    owner[rows, columns] = np.argmin(off, axis=0)
    return replace(ground, owner=owner)


def fields_of(
    laid_out: LaidOutTray,
    plan: Plan,
    ground: Ground,
    roles: Sequence[str] = (),
    held: Collection[str] = (),
) -> Fields:
    """The work on the fields of a plan's layers. roles: of its places, if they are known; held: ids of layers
    that stay as a hand has set them, on a ground that is owned by the places.

    Raises what `check_layers` raises.
    """
    check_layers(laid_out, plan.layers)
    base = next(iter(of_medium(laid_out, plan.layers)), None) if laid_out.method.begins_with_a_base else None
    rules = MapRules(laid_out, plan, roles)
    boxes: dict[str, Box] = {}
    layers: list[FieldLayer] = []
    coats: dict[str, int] = {}
    medium = laid_out.setup.medium
    for number, layer in enumerate(plan.layers):
        medium = laid_out.kit.medium_of(layer.stick) or medium
        box = boxes.setdefault(medium, laid_out.box_of(medium).coarse())
        scale = scale_in_maps(medium, layer.technique)
        if layer.technique in WORKED:
            dose = ONCE[layer.technique]
            end = Pass(layer.stick, dose.pressure, dose.repeats, layer.technique)
            layers.append(FieldLayer(box, scale, -1, 0, end=end))
            continue
        its = FieldLayer(
            box,
            scale,
            laid_out.index([layer.stick], medium)[0],
            _hardest(layer),
            layer.technique,
            everywhere=layer is base,
            before=coats.get(layer.stick, 0),
            breathes=any(level and role == "highlight" for level, role in zip(layer.levels, roles, strict=False)),
            planned=_doses(layer, scale),
            held=_doses(layer, scale) if layer.id in held else None,
        )
        layers.append(rules.kept_by(number, its) if medium == laid_out.setup.medium else its)
        coats[layer.stick] = coats.get(layer.stick, 0) + layer.most.repeats
    return Fields(layers, ground, rules.most, rules.surplus)


def with_places(ground: Ground, places: Sequence[tuple[Disc, Spot]], least_mm2: float = LEAST_MM2) -> Ground:
    """The ground with places that are each laid evenly. places: where they are, in parts of the picture, and what they
    are to be; those that maps do not lay are left out. least_mm2: how large one is that lies by
    itself, so far as others leave it room on the sheet: then it takes the skin around it, what is like it first."""
    h, w = ground.mask.shape
    rows, columns = np.indices((h, w))
    far = np.full((len(places), h, w), np.inf)
    for number, (disc, spot) in enumerate(places):
        if laid_by_maps(ground.mask, ground.px_per_mm, disc, spot.role):
            far[number] = np.hypot(rows - disc.y * h, columns - disc.x * w)
    labels, wide = np.full((2, h, w), -1)
    for number, (disc, spot) in enumerate(places):
        mine = ground.mask & (far[number] <= far.min(axis=0))
        own = mine & (far[number] <= max(_LEAST_RADIUS, disc.radius * max(h, w)))
        unlike = np.sqrt(np.square(ground.lab - np.array(spot.lab, dtype=np.float32)).sum(axis=2))
        labels[own] = number
        wide[grown(own, np.where(mine, 1 + unlike / _SLOWER, np.inf), ground.least(least_mm2))] = number
    roles = [spot.role for _, spot in places]
    lights, shade, high = (np.isin(roles, some) for some in (("highlight", "light"), list(SHADOW_ROLES), "highlight"))
    labs = np.array([spot.lab for _, spot in places], dtype=np.float32).reshape(-1, 3)
    free = high if ground.free is not None else np.zeros_like(high)
    return replace(ground, marked=Marked(labels, wide, Skin(labs, lights, shade, free)))


def scale_in_maps(medium: str, technique: str) -> Scale:
    """The doses that a layer's map may have."""
    return end_scale(ONCE[technique]) if technique in WORKED else scale_of(medium)


def _doses(layer: Layer, scale: Scale) -> tuple[int, ...]:
    return tuple(scale.index(dose) for dose in layer.levels)


def _hardest(layer: Layer) -> int:
    return max((PRESSURES.index(dose.pressure) for dose in layer.levels if dose), default=0)


def maps_of(
    laid_out: LaidOutTray,
    plan: Plan,
    ground: Ground,
    doses: int = USUAL_DOSES,
    least_mm2: float = LEAST_MM2,
    roles: Sequence[str] = (),
) -> tuple[Fields, Iterator[Maps]]:
    """The fields and their maps, better with each step. Raises what `check_maps` and `fields_of` raise."""
    check_maps(laid_out.setup.medium, doses, least_mm2)
    fields = fields_of(laid_out, plan, ground, roles)
    return fields, fields.run(doses, least_mm2)


def read_off(
    layers: Sequence[Layer], maps: Maps, ground: Ground, places: Sequence[tuple[Disc, Spot]]
) -> tuple[Layer, ...]:
    """Layers with the doses that their maps have at the places, and at most. places: where they are, in parts of the
    picture, and what they are to be. Where maps lay none, and where a map has something between the places alone, it
    stays as planned."""
    lights = [(disc, spot.role) for disc, spot in places]
    every = dosed_at(maps.levels, ground.mask, ground.px_per_mm, lights)
    found = []
    for number, (layer, doses) in enumerate(zip(layers, maps.doses, strict=True)):
        levels = tuple(
            planned if not there else doses[there[number] - 1] if there[number] else None
            for planned, there in zip(layer.levels, every, strict=True)
        )
        found.append(replace(layer, levels=levels, most=doses[-1]) if any(levels) else layer)
    return tuple(found)


def check_maps(medium: str, doses: int, least_mm2: float) -> None:
    """Raises InputError (`bad_doses`, `bad_area`) for maps that nobody could draw."""
    most = len(scale_of(medium).doses)
    if not 1 <= doses <= most:
        raise InputError("bad_doses", f"{doses} doses are out of range.", f"Use 1 to {most}.", "doses")
    if not _SMALLEST_MM2 <= least_mm2 <= _LARGEST_MM2:
        fitting = f"Use {_SMALLEST_MM2:g} to {_LARGEST_MM2:g}."
        raise InputError("bad_area", f"{least_mm2:g} mm² are out of range.", fitting, "least_mm2")


def map_picture(ground: Ground, maps: Maps, layer: int) -> Pixels:
    """sRGB pixels (h, w, 3): the reference in pale grey, the layer over it, darker for a larger dose."""
    pale = _PALEST * 255 + (1 - _PALEST) * ground.lab[..., :1] * 2.55
    dose = maps.levels[layer][..., None] / max(1, len(maps.doses[layer]))
    return np.repeat(np.rint(pale * (1 - _DARKEST * dose)).astype(np.uint8), 3, axis=2)


def after_picture(base: Pixels, fields: Fields, maps: Maps, layer: int) -> Pixels:
    """sRGB pixels (h, w, 3): the skin after this many layers, everything else as in `base` (h, w, 3)."""
    out = base.copy()
    out[fields.ground.mask] = xyz_to_pixels(lab_to_xyz(fields.after(maps, layer)))
    return out


def enlarged_to(small: Small, study: Study, figure: int, fields: Fields, maps: Maps) -> tuple[Fields, Maps]:
    """The same fields over the same skin in the picture at another size."""
    old, mask = fields.ground, enlarged(study.coloured, small) == figure + 1
    lab = xyz_to_lab(light_of(small)).astype(np.float32)
    ground = Ground(lab, mask, old.px_per_mm * mask.shape[0] / old.mask.shape[0], mask)
    # Outside the skin nothing is known: the nearest skin stands in, so that edges keep their amounts.
    nearest = ndimage.distance_transform_edt(~old.mask, return_distances=False, return_indices=True)
    amounts = np.array([[_at(stroke, nearest, mask.shape) for stroke in layer] for layer in maps.amounts])
    amounts = amounts.reshape(*maps.amounts.shape[:2], *mask.shape)  # also of no layers
    rows, columns = (
        (np.arange(new) * was // new).astype(np.intp) for new, was in zip(mask.shape, old.mask.shape, strict=True)
    )
    levels = np.where(mask, maps.levels[:, rows][:, :, columns], 0).astype(np.uint8)
    return Fields(fields.layers, ground), Maps(levels, maps.doses, amounts)


def _at(stroke: NDArray[np.float32], nearest: NDArray[np.intp], shape: tuple[int, ...]) -> NDArray[np.float32]:
    """A field (h, w) at another size, by the bilinear filter of Pillow."""
    if not stroke.any():
        return np.zeros(shape, dtype=np.float32)
    spread = Image.fromarray(stroke[nearest[0], nearest[1]], mode="F")
    return np.asarray(spread.resize((shape[1], shape[0]), Image.Resampling.BILINEAR), dtype=np.float32)
