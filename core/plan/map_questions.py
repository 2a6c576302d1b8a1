"""Questions about maps of layers: plain values in and out, so that another process can answer them.

Each process keeps the maps that it works on, or shows.
"""

from __future__ import annotations

import base64
import zlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, lab_to_xyz, xyz_to_lab, xyz_to_pixels
from core.errors import InputError
from core.layers.doses import Dose
from core.layers.drawable import in_flecks
from core.layers.even import evenly, most_of
from core.layers.fields import Fields, Levels, Maps, restored
from core.layers.marked import dosed_at
from core.layers.natural import Spot
from core.layers.plan import Expected, Layer, Plan
from core.look.questions import Seen, as_jpeg, as_webp, small_of, study_of
from core.look.reading import Disc
from core.look.views import MOST_STEPS, Pixels, Small, as_it_is, faded, light_of, values
from core.plan.hatch import LONGEST, hatched
from core.plan.mapped import (
    NOTHING_FREE,
    after_picture,
    check_maps,
    enlarged_to,
    fields_of,
    ground_of,
    owned_by,
    scale_in_maps,
    skin_colours,
    with_places,
)
from core.plan.named import NamedAreas, named_areas
from core.plan.questions import Owned
from core.plan.sketched import sketched

PARTS = 3
"""Parts of the work on the maps of one figure."""
SMALL = 480
"""The longer side of a picture that is shown while something is changed."""


SkinColours = tuple[tuple[float, float, float], ...]


@dataclass(frozen=True, slots=True)
class MapsTask:
    """The maps of a figure's layers are asked for. px_per_mm: of a picture of SMALL pixels, on the sheet; doses: of
    each layer, besides none; least_mm2: the smallest area; named: in areas that have names, each laid evenly.
    spots, discs: the places of its layers, and where they are, in parts of the picture; free: from which L* on lit
    skin is kept free. held: ids of layers that stay as a hand has set them."""

    owned: Owned
    seen: Seen
    figure: int
    layers: tuple[Layer, ...]
    px_per_mm: float
    doses: int
    least_mm2: float
    spots: tuple[Spot, ...]
    discs: tuple[Disc, ...]
    named: bool = False
    free: float = NOTHING_FREE
    held: tuple[str, ...] = ()

    def fields(self, anew: bool = True) -> Fields:
        """The work on the fields. anew: whether maps are to be made, or are there. Raises InputError (`no_skin`,
        `bad_doses`, `bad_area`)."""
        check_maps(self.owned.setup.medium, self.doses, self.least_mm2)
        ground = ground_of(study_of(self.seen), self.figure, self.px_per_mm, self.free)
        if anew:
            ground = with_places(ground, list(zip(self.discs, self.spots, strict=True)), self.least_mm2)
        if self.held:
            ground = owned_by(ground, [(disc.x, disc.y) for disc in self.discs])
        roles = [spot.role for spot in self.spots]
        return fields_of(self.owned.laid_out(), Plan(self.layers, _UNKNOWN), ground, roles, self.held)


_UNKNOWN = Expected(0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class KeptMaps:
    """Maps as they are kept. layers: ids; media, techniques, doses: of each; packed, skin: base64 of their deflated
    levels (n, h, w) and of the bits of whose skin it is. px_per_mm: of these, on the sheet.

    mean, p90: CIEDE2000 between the skin and what the maps give, by a steady hand. in_flecks: whether a layer falls
    into so many small parts that places are easier to lay. words: where each layer lies, area by area with the number
    of its dose, if the areas have names.
    """

    layers: tuple[str, ...]
    media: tuple[str, ...]
    techniques: tuple[str, ...]
    doses: tuple[tuple[Dose, ...], ...]
    shape: tuple[int, int, int]
    packed: str
    skin: str
    px_per_mm: float
    mean: float
    p90: float
    in_flecks: tuple[bool, ...]
    words: tuple[tuple[tuple[str, int], ...], ...] = ()

    def levels(self) -> Levels:
        """(n, h, w): the number of the dose of each layer, 0 for none."""
        return np.frombuffer(_unpacked(self.packed), dtype=np.uint8).reshape(self.shape)

    def doses_at(self, places: Sequence[tuple[Disc, str]]) -> list[dict[str, Dose | None]]:
        """The dose of each layer, by its id, at places in parts of the picture, each with its light role, None where it
        is not laid; nothing where maps lay none."""
        _, h, w = self.shape
        skin = np.unpackbits(np.frombuffer(_unpacked(self.skin), dtype=np.uint8), count=h * w).reshape(h, w)
        return [
            {
                layer: doses[number - 1] if number else None
                for layer, doses, number in zip(self.layers, self.doses, numbers, strict=False)
            }
            for numbers in dosed_at(self.levels(), skin.astype(bool), self.px_per_mm, places)
        ]


def _packed(bits: NDArray[np.uint8]) -> str:
    return base64.b64encode(zlib.compress(bits.tobytes(), 6)).decode()


def _unpacked(text: str) -> bytes:
    return zlib.decompress(base64.b64decode(text))


@lru_cache(maxsize=12)
def skin_of(seen: Seen, figure: int) -> SkinColours:
    """Colours of which a figure's skin consists, CIELAB; none where hardly any is found."""
    try:
        return skin_colours(ground_of(study_of(seen), figure, 1.0))
    except InputError:
        return ()


class _Work:
    """Maps on their way."""

    def __init__(self, task: MapsTask) -> None:
        self.fields = task.fields()
        self.ids = tuple(layer.id for layer in task.layers)
        self._media = tuple(layer.box.sticks[0].medium for layer in self.fields.layers)
        self._techniques = tuple(layer.technique for layer in task.layers)
        self._areas: NamedAreas | None = None
        self._steps: Iterator[Maps]
        if task.named:
            self._areas = named_areas(study_of(task.seen), task.figure, self.fields.ground)
            self._steps = evenly(self.fields, self._areas.labels, task.doses, task.least_mm2)
        else:
            self._steps = self.fields.run(task.doses, task.least_mm2)
        self._done, self._turn = 0, Lock()
        self.maps: Maps | None = None

    def go_on(self, part: int) -> None:
        """Works until so many parts, counted from 0, are done."""
        with self._turn:
            while self._done <= part and (maps := next(self._steps, None)) is not None:
                self.maps, self._done = maps, self._done + 1

    def kept(self) -> KeptMaps:
        """What has been reached."""
        assert self.maps is not None
        ground, maps = self.fields.ground, self.maps
        off = ciede2000(ground.lab[ground.mask], self.fields.after(maps))
        n, h, w = maps.levels.shape
        packed, skin = _packed(maps.levels), _packed(np.packbits(ground.mask))
        mean, p90 = round(float(off.mean()), 2), round(float(np.percentile(off, 90)), 2)
        flecks = tuple(in_flecks(level > 0, ground.px_per_mm) for level in maps.levels)
        return KeptMaps(
            self.ids, self._media, self._techniques, maps.doses, (n, h, w), packed, skin, ground.px_per_mm, mean,
            p90, flecks, self._words(maps),
        )  # fmt: skip

    def _words(self, maps: Maps) -> tuple[tuple[tuple[str, int], ...], ...]:
        if self._areas is None:
            return ()
        mask, areas = self.fields.ground.mask, self._areas
        # What is too small to be drawn has the dose of what lies around it.
        return tuple(areas.told(most_of(level[mask], areas.labels[mask])) for level in maps.levels)


@lru_cache(maxsize=4)
def _work(task: MapsTask) -> _Work:
    return _Work(task)


def maps_part(task: MapsTask, part: int) -> KeptMaps | None:
    """The maps after the last part of the work, None after those before. Raises InputError, see `MapsTask.fields`."""
    work = _work(task)
    try:
        work.go_on(part)
    except Exception:
        # What broke off would say next time that it has come to its end.
        _work.cache_clear()
        raise
    return work.kept() if part + 1 == PARTS else None


@dataclass(frozen=True, slots=True)
class Shown:
    """One figure in a picture. task: its layers as they are now; maps: as they were made, perhaps for other layers:
    those that both have are shown, in the order of now; upto: how many of them."""

    task: MapsTask
    maps: KeptMaps
    upto: int


def _restored(task: MapsTask, kept: KeptMaps) -> tuple[Fields, Maps]:
    """The fields of the layers that both have, and their maps."""
    number = {layer_id: i for i, layer_id in enumerate(kept.layers)}
    layers = tuple(layer for layer in task.layers if layer.id in number)
    at = [number[layer.id] for layer in layers]
    maps = _faded(task.seen, task.figure, task.px_per_mm, kept)
    doses = tuple(maps.doses[i] for i in at)
    return replace(task, layers=layers).fields(anew=False), Maps(maps.levels[at], doses, maps.amounts[at])


@lru_cache(maxsize=12)
def _faded(seen: Seen, figure: int, px_per_mm: float, kept: KeptMaps) -> Maps:
    """Maps with what the hand makes of their edges, which no stick changes."""
    ground = ground_of(study_of(seen), figure, px_per_mm)
    if kept.shape[1:] != ground.mask.shape:
        raise InputError("no_maps", "These maps are of another picture.", "Ask for the maps anew.", "maps")
    return restored(ground, list(map(scale_in_maps, kept.media, kept.techniques)), kept.levels(), kept.doses)


def picture_after(shown: tuple[Shown, ...], longest: int, muted: bool, in_values: bool) -> bytes:
    """The picture after some layers of every figure, as JPEG; what is nobody's skin is faded if it is to be muted."""
    seen = shown[0].task.seen
    study = study_of(seen)
    small = study.small if longest <= SMALL else small_of(seen.source, longest)
    pixels = faded(small) if muted else as_it_is(small)
    for one in shown:
        fields, maps = _restored(one.task, one.maps)
        if longest > SMALL:
            fields, maps = enlarged_to(small, study, one.task.figure, fields, maps)
        pixels = after_picture(pixels, fields, maps, min(one.upto, len(maps.levels)))
    return as_jpeg(_in_values(pixels) if in_values else pixels)


@dataclass(frozen=True, slots=True)
class Sketch:
    """What a plan would make of a figure. where: its places, in parts of the picture; wanted, gives: CIELAB there."""

    seen: Seen
    figure: int
    where: tuple[tuple[float, float], ...]
    wanted: tuple[tuple[float, float, float], ...]
    gives: tuple[tuple[float, float, float], ...]


def sketch_of(sketch: Sketch, longest: int) -> bytes:
    """The figure as the plan would make it, at most so many pixels high and wide, as JPEG. Raises what `sketched`
    raises."""
    where, wanted, gives = (np.array(rows, dtype=float) for rows in (sketch.where, sketch.wanted, sketch.gives))
    return as_jpeg(sketched(study_of(sketch.seen), sketch.figure, where, wanted, gives, longest))


def _in_values(pixels: Pixels) -> Pixels:
    return np.repeat(values(Small(pixels, SRGB), MOST_STEPS)[..., :1], 3, axis=-1)


def map_of(shown: Shown, layer_id: str, longest: int = LONGEST, ghost: bool = True) -> bytes:
    """The map of one layer, hatched over a ghost of the reference if it is to be seen, its longer side so long, as
    WebP."""
    task = shown.task
    fields, maps = _restored(task, shown.maps)
    layers = [layer for layer in task.layers if layer.id in shown.maps.layers]
    number = next(i for i, layer in enumerate(layers) if layer.id == layer_id)
    lab = next((s.lab for s in task.owned.laid_out().kit.sticks if s.code == layers[number].stick), _NO_STICK)
    rgb = np.rint(xyz_to_pixels(lab_to_xyz(np.array(lab, dtype=float)[None])))[0]
    ground, levels = fields.ground, maps.levels[number]
    ink = ((int(rgb[0]), int(rgb[1]), int(rgb[2])), float(lab[0]))
    small = study_of(task.seen).small
    light = xyz_to_lab(light_of(small))[..., 0]
    doses = len(maps.doses[number])
    return as_webp(hatched(light, ground.mask, levels, doses, ink, ground.px_per_mm, number, longest, ghost))


_NO_STICK = (50.0, 0.0, 0.0)
"""The grey of what has no colour of its own."""
