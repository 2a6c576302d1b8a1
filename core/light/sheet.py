"""All sitters of a scene on one sheet: the picture, whose skin is where, and the spots that are proposed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.light.families import FAMILIES, Target, families_of, proposed, target_of, targets
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


def told(scene: Scene) -> tuple[Told, ...]:
    """Families and targets of every sitter. Raises as `lit_of`."""
    said = []
    places = tiles(len(scene.sitters))
    for sitter, tile, lit in zip(scene.sitters, places, lit_of(scene), strict=True):
        every = targets(lit)
        chosen = proposed(lit, every)
        said.append(Told(sitter.name, every, chosen, tuple(tile.disc(row) for row in chosen)))
    return tuple(said)


def target_at(scene: Scene, number: int, disc: Disc) -> Target | None:
    """What a spot that is put there on the sheet aims for: the mean colour inside it of the family and place that most
    of it shows; None beside the sitter. Raises as `lit_of`."""
    tile, lit = tiles(len(scene.sitters))[number], lit_of(scene)[number]
    x, y = tile.inside(disc.x, disc.y)
    radius = max(disc.radius * max(tile.width, tile.height) / tile.side, 1.0 / tile.side)
    rows, columns = np.divmod(lit.view.pixel, tile.side)
    near = np.flatnonzero(np.hypot((columns + 0.5) / tile.side - x, (rows + 0.5) / tile.side - y) <= radius)
    return target_of(lit, near, x, y, radius) if len(near) else None


@dataclass(frozen=True, slots=True)
class SheetMasks:
    """Whose skin is where on a scene's sheet, and what of it lies in the light: see core.look.study.Known."""

    scene: Scene

    def masks(self, width: int, height: int) -> tuple[NDArray[np.uint8], NDArray[np.bool_]]:
        """Owners (h, w), 0 for nobody, else 1 + the sitter's number; and the light family (h, w)."""
        owners, lit = _masks(self.scene)
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
