"""All sitters of a scene on one sheet: the picture, whose skin is where, and the spots that are proposed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.light.families import FAMILIES, Family, Target, families_of, proposed, target_of, targets
from core.light.picture import GROUND, as_it_is
from core.light.scene import Scene, check_scene
from core.light.shade import Lit, light
from core.look.reading import Disc
from core.look.views import Pixels

MODEL = 1
"""Grows with every change of what a scene looks like."""
_SIDES = {1: 1000, 2: 800, 3: 640}
_MANY = 560
_LIT = ("highlight", "light", "half-tone")


@dataclass(frozen=True, slots=True)
class Tile:
    """Where a sitter is on a sheet of width × height pixels: column and row of its corner, and its side."""

    left: int
    top: int
    side: int
    width: int
    height: int

    def disc(self, target: Target) -> Disc:
        """Where a target is marked on the sheet."""
        longest = max(self.width, self.height)
        return Disc(
            (self.left + target.x * self.side) / self.width,
            (self.top + target.y * self.side) / self.height,
            target.radius * self.side / longest,
        )

    def inside(self, x: float, y: float) -> tuple[float, float]:
        """Parts of the tile's side for parts of the sheet."""
        return (x * self.width - self.left) / self.side, (y * self.height - self.top) / self.side


def tiles(count: int) -> tuple[Tile, ...]:
    """Where so many sitters are: in one row up to three, in two rows beyond."""
    side = _SIDES.get(count, _MANY)
    columns = count if count <= 3 else (count + 1) // 2
    rows = -(-count // columns)
    return tuple(
        Tile(number % columns * side, number // columns * side, side, columns * side, rows * side)
        for number in range(count)
    )


@lru_cache(maxsize=2)
def lit_of(scene: Scene) -> tuple[Lit, ...]:
    """Every sitter, as large as it is on the sheet; the last two scenes are kept. Raises what `check_scene` raises,
    ModelError."""
    check_scene(scene)
    return tuple(light(scene, number, tile.side) for number, tile in enumerate(tiles(len(scene.sitters))))


def drawn(scene: Scene) -> Pixels:
    """The sheet as the settled eye sees it (h, w, 3). Raises as `lit_of`."""
    places = tiles(len(scene.sitters))
    sheet = np.full((places[0].height, places[0].width, 3), GROUND, np.uint8)
    for tile, lit in zip(places, lit_of(scene), strict=True):
        sheet[tile.top : tile.top + tile.side, tile.left : tile.left + tile.side] = as_it_is(lit)
    return sheet


@dataclass(frozen=True, slots=True)
class Told:
    """What is told of a sitter: every place in every family, and what is proposed as spots, with where it is marked on
    the sheet."""

    name: str
    targets: tuple[Target, ...]
    proposed: tuple[Target, ...]
    discs: tuple[Disc, ...]


def told(scene: Scene, number: int, lit: Lit) -> Told:
    """Families and targets of a sitter that is lit so, be it on the sheet or on fewer pixels."""
    tile = tiles(len(scene.sitters))[number]
    every = targets(lit)
    chosen = proposed(lit, every)
    return Told(scene.sitters[number].name, every, chosen, tuple(tile.disc(row) for row in chosen))


def target_at(scene: Scene, number: int, disc: Disc) -> Target | None:
    """What a spot that is put there on the sheet aims for: the mean colour inside it of the family and place that most
    of it shows; None beside the sitter. Raises as `lit_of`."""
    tile, lit = tiles(len(scene.sitters))[number], lit_of(scene)[number]
    x, y = tile.inside(disc.x, disc.y)
    radius = max(disc.radius * max(tile.width, tile.height) / tile.side, 1.0 / tile.side)
    rows, columns = np.divmod(lit.view.pixel, tile.side)
    near = np.flatnonzero(np.hypot((columns + 0.5) / tile.side - x, (rows + 0.5) / tile.side - y) <= radius)
    return target_of(lit, near, x, y, radius) if len(near) else None


def target_in(scene: Scene, number: int, place: str, family: Family) -> Target:
    """What a place of a sitter looks like in a family: its mean there; where the place has nothing of that family at
    this turn, its nearest family; where it does not show at all, the family's largest place. Raises as `lit_of`."""
    every = targets(lit_of(scene)[number])
    same_place = [row for row in every if row.place == place]
    if same_place:
        wanted = FAMILIES.index(family)
        return min(same_place, key=lambda row: (abs(FAMILIES.index(row.family) - wanted), -row.share))
    same_family = [row for row in every if row.family == family] or list(every)
    return max(same_family, key=lambda row: row.share)


@dataclass(frozen=True, slots=True)
class Aim:
    """What a spot aims for: where it is on the sheet; or else a place in a family."""

    seat: int
    disc: Disc | None = None
    place: str = ""
    family: Family = "light"


def aims_of(scene: Scene, aims: tuple[Aim, ...]) -> list[tuple[float, float, float] | None]:
    """CIELAB of each aim; None for a disc beside the sitter. Raises as `lit_of`."""
    found = [
        target_at(scene, aim.seat, aim.disc) if aim.disc else target_in(scene, aim.seat, aim.place, aim.family)
        for aim in aims
    ]
    return [row.lab if row else None for row in found]


@dataclass(frozen=True, slots=True)
class SheetMasks:
    """Whose skin is where on a scene's sheet, and what of it lies in the light: see core.look.study.Known.

    figures: the number of each sitter's figure from 1, 0 for one that is no longer there; by default as they sit.
    """

    scene: Scene
    figures: tuple[int, ...] = ()

    def masks(self, width: int, height: int) -> tuple[NDArray[np.uint8], NDArray[np.bool_]]:
        """Owners (h, w), 0 for nobody, else 1 + the sitter's number; and the light family (h, w)."""
        owners, lit = _masks(self.scene)
        if self.figures:
            owners = np.array([0, *self.figures], np.uint8)[owners]
        return _scaled(owners, width, height), _scaled(lit, width, height)


def _scaled(held: NDArray[Any], width: int, height: int) -> NDArray[Any]:
    return np.asarray(Image.fromarray(held).resize((width, height), Image.Resampling.NEAREST))


@lru_cache(maxsize=4)
def _masks(scene: Scene) -> tuple[NDArray[np.uint8], NDArray[np.bool_]]:
    places = tiles(len(scene.sitters))
    owners = np.zeros((places[0].height, places[0].width), np.uint8)
    lit = np.zeros(owners.shape, bool)
    bright = np.isin(np.arange(len(FAMILIES)), [FAMILIES.index(name) for name in _LIT])
    for number, (tile, seen) in enumerate(zip(places, lit_of(scene), strict=True)):
        rows, columns = np.divmod(seen.view.pixel, tile.side)
        owners[tile.top + rows, tile.left + columns] = number + 1
        lit[tile.top + rows, tile.left + columns] = bright[families_of(seen)]
    return owners, lit
