"""What the crew wears: smooth masses round the body, as distance fields on a grid that are turned into meshes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt, gaussian_filter, label, map_coordinates
from scipy.spatial import cKDTree
from skimage.measure import marching_cubes

from tools.portraits.mesh import Body, normals_of
from tools.portraits.noise import clouds, step

Floats = NDArray[np.float64]


def _least(a: Floats, b: Floats, width: float) -> Floats:
    """The union of two fields with a rounded seam."""
    h = np.clip(0.5 + 0.5 * (b - a) / width, 0, 1)
    return np.asarray(b * (1 - h) + a * h - width * h * (1 - h))


def _most(a: Floats, b: Floats, width: float) -> Floats:
    """What two fields share, with a rounded edge."""
    return -_least(-a, -b, width)


@dataclass
class Cloth:
    """A mesh. grain (n,): lighter and darker, about 1."""

    vertices: Floats
    triangles: NDArray[np.int64]
    normals: Floats
    grain: Floats


class _Grid:
    def __init__(
        self, body: Body, low: tuple[float, float, float], high: tuple[float, float, float], step_: float
    ) -> None:
        self.low, self.step = np.array(low), step_
        axes = [np.arange(a, b + step_, step_) for a, b in zip(low, high, strict=True)]
        self.x, self.y, self.z = np.meshgrid(*axes, indexing="ij")
        self.points = np.stack([self.x.ravel(), self.y.ravel(), self.z.ravel()], axis=1)
        near = ((body.v > self.low - 0.6) & (body.v < np.array(high) + 0.6)).all(axis=1)
        vertices, normals = body.v[near], body.normals[near]
        distance, index = cKDTree(vertices).query(self.points, workers=-1)
        side = np.einsum("ni,ni->n", self.points - vertices[index], normals[index])
        self.body = gaussian_filter(self.shaped(np.where(side < 0, -distance, distance)), 1.0)

    def shaped(self, values: Floats) -> Floats:
        return values.reshape(self.x.shape)

    def clouds(self, *scale: float, octaves: int = 3) -> Floats:
        return self.shaped(clouds(self.points * np.array(scale), octaves)) - 0.5

    def closed(self, field: Floats, reach: float) -> Floats:
        """The field without hollows narrower than twice the reach."""
        outside = field > reach
        grown = distance_transform_edt(~outside) * self.step - distance_transform_edt(outside) * self.step
        return gaussian_filter(np.minimum(reach - grown, field + 0.02), 0.8)

    def opened(self, field: Floats, reach: float) -> Floats:
        """The field without what is thinner than twice the reach, such as ears."""
        inside = field < -reach
        shrunk = distance_transform_edt(~inside) * self.step - distance_transform_edt(inside) * self.step
        return gaussian_filter(shrunk - reach, 0.8)

    def mesh(self, field: Floats, grain: float, fine: float, bump: float = 0.0) -> Cloth:
        field = gaussian_filter(field, 0.8)
        for axis in range(3):
            rim = [slice(None)] * 3
            for side in (0, -1):
                rim[axis] = slice(side, None) if side else slice(0, 1)
                field[tuple(rim)] = np.maximum(field[tuple(rim)], 0.5)
        parts, number = label(field < 0)
        if number > 1:
            largest = np.bincount(parts.ravel())[1:].argmax() + 1
            field = np.where((parts > 0) & (parts != largest), 0.02, field)
        at, triangles, _, _ = marching_cubes(field, 0.0)
        slopes = [map_coordinates(axis, at.T, order=1) for axis in np.gradient(field)]
        normals = np.stack(slopes, axis=1)
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)
        vertices = at * self.step + self.low
        a, b, c = (vertices[triangles[:, i]] for i in range(3))
        if np.einsum("ni,ni->n", np.cross(b - a, c - a), normals[triangles[:, 0]]).mean() < 0:
            triangles = triangles[:, ::-1]
        triangles = triangles.astype(np.int64)
        if bump:
            vertices = vertices + normals * (bump * (clouds(vertices * fine, 3) - 0.5))[:, None]
            normals = normals_of(vertices, triangles)
        shade = 1 + grain * (clouds(vertices * fine * 0.8, 3) - 0.5) + 0.16 * (clouds(vertices * 5.0, 2) - 0.5)
        return Cloth(vertices, triangles, normals, shade)


def cap(body: Body, low: float = 0.42, tall: float = 0.14) -> Cloth:
    """A ribbed knitted cap with a turned-up cuff."""
    grid = _Grid(body, (-1.35, -0.5, -1.7), (1.35, 1.75, 1.6), 0.018)
    head = grid.opened(grid.body, 0.17)
    rim = low + 0.40 * (grid.z - 1.0) - grid.y
    around = np.arctan2(grid.x, grid.z)
    ribs = 0.016 * np.abs(np.sin(around * 30)) ** 0.7
    thick = 0.06 + tall * step(0.75, 1.45, grid.y + 0.15 * grid.z) + 0.03 * grid.clouds(2.2, 1.2, 2.2)
    crown = _most(head - thick - ribs * step(1.25, 0.9, grid.y), rim + 0.02, 0.05)
    cuff = _most(_most(head - 0.125 - 1.3 * ribs, rim, 0.06), -(rim + 0.42), 0.07)
    return grid.mesh(_least(crown, cuff, 0.025), 0.25, 30.0)


def wrap(body: Body, low: float = 0.50) -> Cloth:
    """A cloth wound round the head, folds rising to a knot at the back."""
    grid = _Grid(body, (-1.35, -0.7, -1.9), (1.35, 1.9, 1.6), 0.02)
    head = grid.opened(grid.body, 0.17)
    rim = low + 0.55 * (grid.z - 1.0) - grid.y
    slant = grid.y - 0.50 * grid.z + 0.30 * grid.x
    folds = 0.045 * np.sin(9.0 * slant + 5.0 * grid.clouds(1.3, 1.3, 1.3)) + 0.04 * grid.clouds(2.5, 2.5, 2.5)
    cross = grid.y - 0.50 * grid.z - 0.62 * grid.x
    folds += 0.030 * np.sin(11.0 * cross + 4.0 * grid.clouds(1.1, 1.7, 1.1)) * step(0.0, 0.6, grid.x)
    thick = 0.09 + 0.20 * step(0.55, 1.5, grid.y + 0.10 * grid.z) + 0.10 * step(0.2, -1.0, grid.z)
    shell = _most(head - thick - folds, rim, 0.06)
    knot = np.sqrt((grid.x / 0.42) ** 2 + ((grid.y - 0.75) / 0.34) ** 2 + ((grid.z + 1.35) / 0.30) ** 2) - 1
    knot = knot * 0.3 - 0.04 * np.sin(12 * grid.x + 6 * grid.y)
    return grid.mesh(_least(shell, knot, 0.12), 0.14, 45.0, 0.004)


def scarf(body: Body) -> Cloth:
    """A scarf in two loose turns round the neck."""
    grid = _Grid(body, (-1.5, -2.7, -1.6), (1.5, -0.8, 1.6), 0.022)
    around = np.arctan2(grid.x, grid.z + 0.1)
    out = np.sqrt((grid.x / 0.76) ** 2 + ((grid.z + 0.12) / 0.80) ** 2)
    pleats = 0.030 * np.sin(26 * grid.y + 3.0 * np.sin(around + 0.5) + 6.0 * grid.clouds(1.4, 1.4, 1.4))
    pleats += 0.05 * grid.clouds(2.4, 2.4, 2.4)

    def turn(height: float, wide: float, thick: float, tilt: float, phase: float) -> Floats:
        middle = height + tilt * np.cos(around + phase) - 0.16 * grid.z
        return np.sqrt(((out - wide) * 0.76) ** 2 + ((grid.y - middle) * 0.85) ** 2) - thick - pleats

    both = _least(turn(-1.42, 0.92, 0.19, 0.05, 0.6), turn(-1.74, 1.10, 0.24, 0.07, 2.4), 0.05)
    return grid.mesh(_most(both, 0.01 - grid.body, 0.03), 0.14, 45.0, 0.004)


def jersey(body: Body) -> Cloth:
    """A knitted jersey with a rolled neck."""
    grid = _Grid(body, (-1.5, -2.8, -1.6), (1.5, -0.75, 1.5), 0.018)
    around = np.arctan2(grid.x, grid.z + 0.2)
    ribs = 0.012 * np.abs(np.sin(around * 26)) ** 0.7
    middle = -1.30 - 0.22 * (grid.z + 0.2)
    roll = 0.07 * np.exp(-(((grid.y - middle) / 0.15) ** 2)) + 0.055 * np.exp(-(((grid.y - middle + 0.27) / 0.14) ** 2))
    shell = grid.body - 0.05 - roll - ribs
    shell = _most(shell, grid.y - middle - 0.13 + 0.02 * np.cos(3 * around), 0.06)
    return grid.mesh(_most(shell, np.sqrt(grid.x**2 + (grid.z + 0.15) ** 2) - 1.25, 0.05), 0.25, 30.0)


def coat(body: Body, collar: float = 0.52, gap: float = 0.20) -> Cloth:
    """A felted coat with a standing collar that leaves a gap in front, and a row of buttons."""
    grid = _Grid(body, (-3.1, -4.6, -2.1), (3.1, -0.6, 2.1), 0.034)
    filled = np.minimum(grid.closed(grid.body, 0.30), grid.body)
    loose = grid.clouds(1.1, 0.7, 1.1)
    creases = 0.020 * np.sin(5.0 * np.abs(grid.x) + 3.5 * grid.y + 6.0 * loose) * step(0.9, 2.2, np.abs(grid.x))
    shell = filled - 0.15 - 0.10 * loose - creases
    neck = np.sqrt((grid.x / 0.80) ** 2 + ((grid.z + 0.14) / 0.84) ** 2)
    yoke = -1.80 - 0.34 * (grid.z + 0.1)
    # Cut off at the neck alone: shoulders may rise higher than the collar begins.
    shell = _most(shell, grid.y - yoke - 0.24 - 2.0 * step(1.02, 1.30, neck), 0.10)
    # The collar: a wall round the neck that leans outwards, open at the top.
    lean = 1.0 + 0.34 * step(-1.9, -1.2, grid.y)
    wall = np.abs((neck - lean) * 0.82 + 0.02 * np.sin(2 * np.arctan2(grid.x, grid.z) + 1)) - 0.062
    top = yoke + collar + 0.10 * step(0.2, -0.8, grid.z) + 0.05 * loose
    wall = _most(wall, grid.y - top, 0.05)
    wall = _most(wall, yoke - 0.32 - grid.y, 0.05)
    front = grid.z > 0.1
    opening = gap * (1 + 1.3 * step(yoke.min(), -1.2, grid.y)) - np.abs(grid.x + 0.10 + 0.10 * (grid.y + 1.9))
    wall = np.where(front, _most(wall, opening, 0.05), wall)
    inside = (neck - 0.92) * 0.8
    hollow = _most(inside, yoke - 0.10 - grid.y, 0.05)
    coat_ = _least(_most(shell, -hollow, 0.05), wall, 0.09)
    # One front lies over the other: a step along a line.
    edge = grid.x - 0.34 - 0.06 * (grid.y + 2.0)
    coat_ = coat_ - np.where(front, 0.055 * step(0.03, -0.03, edge) * step(-1.75, -2.0, grid.y), 0)
    for height in (-2.22, -2.95, -3.70):
        at = np.argmin(np.abs(coat_[np.abs(grid.x[:, 0, 0] - 0.17).argmin(), np.abs(grid.y[0, :, 0] - height).argmin()])
                       + 10 * (grid.z[0, 0] < 0))  # fmt: skip
        z = grid.z[0, 0, at]
        button = np.sqrt((grid.x - 0.17) ** 2 + (grid.y - height) ** 2) - 0.085
        coat_ = np.minimum(coat_, _most(button, np.abs(grid.z - z) - 0.05, 0.03))
    return grid.mesh(coat_, 0.30, 26.0, 0.012)
