"""What the crew wears: smooth masses round the body, as distance fields on a grid that are turned into meshes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt, gaussian_filter, label, map_coordinates
from skimage.measure import marching_cubes

from core.light.surface import normals_of
from tools.portraits.mesh import Body
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
        self.body = gaussian_filter(self._from_skin(body), 1.0)

    def _from_skin(self, body: Body) -> Floats:
        """How far each point of the grid lies outside the skin: the nearest cell with skin in it says which vertex."""
        margin = 12
        size = np.array(self.x.shape) + 2 * margin
        cells = np.round((body.v - self.low) / self.step).astype(int) + margin
        inside = ((cells >= 0) & (cells < size)).all(axis=1)
        which = np.full(tuple(size), -1)
        which[tuple(cells[inside].T)] = np.flatnonzero(inside)
        near = distance_transform_edt(which < 0, return_distances=False, return_indices=True)
        trim = tuple(slice(margin, -margin) for _ in range(3))
        index = which[tuple(near)][trim].ravel()
        away = self.points - body.v[index]
        along = np.einsum("ni,ni->n", away, body.normals[index])
        distance = np.linalg.norm(away, axis=1)
        return self.shaped(np.where(distance < 3 * self.step, along, np.sign(along) * distance))

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

    def sampled(self, field: Floats, points: Floats) -> Floats:
        """A field at points (…, 3)."""
        at = (points.reshape(-1, 3) - self.low) / self.step
        return map_coordinates(field, at.T, order=1, mode="nearest").reshape(points.shape[:-1])

    def slope(self, field: Floats, points: Floats) -> Floats:
        """Its direction of steepest rise there, of length 1."""
        reach = 1.5 * self.step
        found = np.stack([self.sampled(field, points + reach * axis) - self.sampled(field, points - reach * axis)
                          for axis in np.eye(3)], axis=-1)  # fmt: skip
        return np.asarray(found / np.maximum(np.linalg.norm(found, axis=-1, keepdims=True), 1e-9))

    def outside(self, field: Floats, points: Floats, distance: float) -> Floats:
        """Points moved out of a body until they lie a distance above it."""
        lacking = np.clip(distance - self.sampled(field, points), 0, 0.2)
        return np.asarray(points + self.slope(field, points) * lacking[..., None])

    def ray(self, field: Floats, places: Floats) -> tuple[Floats, Floats]:
        """Where a body's front lies at (x, y), and which way it faces, both (n, 3)."""
        depths = np.arange(self.low[2] + self.step * (field.shape[2] - 1), self.low[2], -0.4 * self.step)
        points = np.concatenate([
            np.broadcast_to(places[:, None], (len(places), len(depths), 2)),
            np.broadcast_to(depths[None, :, None], (len(places), len(depths), 1)),
        ], axis=2)  # fmt: skip
        within = self.sampled(field, points) < 0
        first = np.maximum(within.argmax(axis=1), 1)
        before = self.sampled(field, points[np.arange(len(places)), first - 1])
        after = self.sampled(field, points[np.arange(len(places)), first])
        share = np.clip(before / np.where(before - after > 1e-9, before - after, 1.0), 0, 1)
        z = depths[first - 1] - share * 0.4 * self.step
        found = np.concatenate([places, z[:, None]], axis=1)
        return found, self.slope(field, found)

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


def coat(body: Body, ring: float = 0.9, open_deg: float = 7.0) -> list[Cloth]:
    """A heavy coat with a turned-down collar, one front over the other and a row of buttons.

    ring: how wide the neck is cut; open_deg: how far from the middle of the front the collar ends.
    """
    grid = _Grid(body, (-3.1, -4.6, -2.1), (3.1, -0.6, 2.1), 0.034)
    filled = np.minimum(grid.closed(grid.body, 0.30), grid.body)
    loose = grid.clouds(1.1, 0.7, 1.1)
    # Folds run from the arm hole down and inwards, and across the upper arm.
    beside = step(0.8, 1.6, np.abs(grid.x))
    folds = grid.clouds(0.9, 0.9, 0.9, octaves=2)
    creases = 0.030 * np.sin(4.2 * np.abs(grid.x) + 3.2 * grid.y + 7.0 * folds) * beside
    creases += 0.020 * np.sin(2.2 * np.abs(grid.x) - 6.5 * grid.y + 6.0 * loose) * step(1.5, 2.1, np.abs(grid.x))
    shell = filled - 0.13 - 0.10 * loose - creases
    # The seam where the sleeve is set in.
    seam = np.abs(grid.x) - 1.72 + 0.16 * (grid.y + 2.2) + 0.10 * grid.z**2
    shell = shell + 0.035 * np.exp(-((seam / 0.035) ** 2)) - 0.03 * step(0.0, 0.12, seam) * step(0.9, 0.3, seam)
    neck = np.sqrt((grid.x / (0.80 * ring)) ** 2 + ((grid.z + 0.14) / (0.84 * ring)) ** 2)
    shell = _most(shell, grid.y - _yoke(grid.z) - 0.24 - 2.0 * step(1.02, 1.30, neck), 0.10)
    hollow = _most((neck - 0.94) * 0.8, _yoke(grid.z) - 0.25 - grid.y, 0.05)
    shell = gaussian_filter(_most(shell, -hollow, 0.05), 0.8)
    parts = [grid.mesh(shell.copy(), 0.22, 26.0, 0.010)]
    parts.append(_felt(_collar(grid, shell, ring, open_deg)))
    parts.append(_felt(_front(grid, shell)))
    return parts


def buttons(body: Body) -> list[Cloth]:
    """The buttons of that coat: discs with a raised rim and four holes, where its front lies."""
    grid = _Grid(body, (-0.6, -4.6, 0.0), (0.9, -1.5, 2.1), 0.034)
    shell = np.minimum(grid.closed(grid.body, 0.30), grid.body) - 0.13 - 0.10 * grid.clouds(1.1, 0.7, 1.1)
    found = []
    for height in (-2.52, -3.28, -4.04):
        at, out = grid.ray(shell, np.array([[0.10, height]]))
        found.append(_button(at[0] + 0.10 * out[0], out[0]))
    return found


def _yoke(z: Floats) -> Floats:
    """How high the coat is cut round the neck: lower in front."""
    return np.asarray(-1.80 - 0.34 * (z + 0.1))


def _collar(grid: _Grid, shell: Floats, ring: float, open_deg: float) -> Cloth:
    """Stands up round the neck, turns over and lies on the shoulders, its ends apart in front."""
    around, across = np.linspace(-1, 1, 380)[:, None], np.linspace(0, 1, 96)[None, :]
    fall = np.clip((across - 0.36) / 0.64, 0, 1)
    begin = open_deg + 17 * fall**1.2
    angle = np.radians(np.sign(around) * (begin + (180 - begin) * (1 - np.abs(around)))) + 0 * across
    out = np.stack([np.sin(angle), 0 * angle, np.cos(angle)], axis=-1)
    front = np.clip(np.cos(angle), 0, 1)
    base = out * np.array([0.92 * ring, 0, 0.96 * ring]) + np.array([0, 0, -0.14])
    stand = 0.36 - 0.13 * front + 0.05 * np.sin(2.0 * angle + 0.7)
    length = 0.44 + 0.26 * front**2 + 0.02 * np.sin(3 * angle)
    # The fold is a half circle between what stands and what falls.
    turn, fold = np.clip((across - 0.30) / 0.10, 0, 1) * np.pi, 0.075
    rise = np.minimum(across / 0.30, 1.0) * (stand + 0.10) - 0.10
    falling = np.clip((across - 0.40) / 0.60, 0, 1)
    drop = np.radians(32 + 34 * front)
    r = 0.05 * rise + fold * (1 - np.cos(turn)) + falling * length * np.cos(drop)
    h = rise + fold * np.sin(turn) - falling * length * np.sin(drop)
    points = base + out * r[..., None]
    points[..., 1] = _yoke(base[..., 2]) + h
    wave = 0.035 * np.sin(5 * angle + 2 * np.sin(2 * angle)) * falling
    points = points + out * wave[..., None]
    lying = falling > 0
    for _ in range(24):
        moved = grid.outside(shell, points, 0.055)
        points = np.where((lying & (across > 0.5))[..., None], moved, points)
        smooth = points.copy()
        smooth[:, 1:-1] = 0.5 * points[:, 1:-1] + 0.25 * (points[:, 2:] + points[:, :-2])
        smooth[1:-1] = 0.5 * smooth[1:-1] + 0.25 * (smooth[2:] + smooth[:-2])
        points = np.where((across > 0.42)[..., None], smooth, points)
    return _sheet(points, 0.042, (True, True, False, True))


def _front(grid: _Grid, shell: Floats) -> Cloth:
    """The front that lies over the other: from within the coat to its free edge, with a line of stitches."""
    down, side = np.meshgrid(np.linspace(-2.02, -4.55, 240), np.linspace(-0.55, 0.0, 60), indexing="ij")
    edge = 0.42 + 0.05 * (down + 2.0)
    at, out = grid.ray(shell, np.stack([(edge + side).ravel(), down.ravel()], axis=1))
    lift = 0.045 * step(-0.55, -0.35, side).ravel() - 0.05 * step(-0.35, -0.55, side).ravel()
    points = (at + out * lift[:, None]).reshape(240, 60, 3)
    for _ in range(6):
        points[1:-1] = 0.5 * points[1:-1] + 0.25 * (points[2:] + points[:-2])
    return _sheet(points, 0.045, (False, False, False, True))


def _sheet(middle: Floats, half: float, free: tuple[bool, bool, bool, bool]) -> Cloth:
    """Cloth of a thickness round a surface (a, b, 3), free edges rounded and stitched: first, last row, first and
    last column."""
    a, b = middle.shape[:2]
    edge = np.full((a, b), 9.0)
    for axis in (0, 1):
        lengths = np.linalg.norm(np.diff(middle, axis=axis), axis=2)
        pad = [(1, 0), (0, 0)] if axis == 0 else [(0, 0), (1, 0)]
        along = np.cumsum(np.pad(lengths, pad), axis=axis)
        whole = along[-1:] if axis == 0 else along[:, -1:]
        if free[2 * axis]:
            edge = np.minimum(edge, along)
        if free[2 * axis + 1]:
            edge = np.minimum(edge, whole - along)
    thick = half * np.sqrt(1 - (1 - np.clip(edge / half, 0, 1)) ** 2)
    thick -= 0.014 * np.exp(-(((edge - 0.11) / 0.016) ** 2))
    normal = np.cross(np.gradient(middle, axis=0), np.gradient(middle, axis=1))
    normal /= np.maximum(np.linalg.norm(normal, axis=2, keepdims=True), 1e-9)
    offset = normal * thick[..., None]
    vertices = np.concatenate([(middle + offset).reshape(-1, 3), (middle - offset).reshape(-1, 3)])
    i, j = np.meshgrid(np.arange(a - 1), np.arange(b - 1), indexing="ij")
    at = (i * b + j).ravel()
    one = np.concatenate([np.stack([at, at + b, at + 1], 1), np.stack([at + 1, at + b, at + b + 1], 1)])
    triangles = np.concatenate([one, one[:, ::-1] + a * b])
    return Cloth(vertices, triangles, normals_of(vertices, triangles), np.ones(len(vertices)))


def _felt(cloth: Cloth) -> Cloth:
    """With the same nap as the coat has."""
    v = cloth.vertices + cloth.normals * (0.006 * (clouds(cloth.vertices * 26, 3) - 0.5))[:, None]
    shade = 1 + 0.22 * (clouds(v * 21, 3) - 0.5) + 0.16 * (clouds(v * 5.0, 2) - 0.5)
    return Cloth(v, cloth.triangles, normals_of(v, cloth.triangles), shade)


def _button(at: Floats, out: Floats) -> Cloth:
    """A turned disc of 26 mm."""
    radius, around = 0.13, 72
    r = np.array([0, 0.2, 0.4, 0.6, 0.70, 0.76, 0.82, 0.88, 0.93, 0.97, 1.0, 1.0, 0.98]) * radius
    h = np.array([0, 0, 0, 0.001, 0.004, 0.012, 0.020, 0.023, 0.022, 0.017, 0.008, -0.004, -0.02])
    r, h = (np.interp(np.linspace(0, 12, 97), np.arange(13), values) for values in (r, h))
    phi = 2 * np.pi * np.arange(around) / around
    x, y = r[:, None] * np.cos(phi), r[:, None] * np.sin(phi)
    hole = np.zeros_like(x)
    for cx, cy in ((1, 1), (1, -1), (-1, 1), (-1, -1)):
        hole += step(0.020, 0.012, np.hypot(x - 0.030 * cx, y - 0.030 * cy))
    side = np.cross([0.0, 1.0, 0.0], out)
    side /= np.linalg.norm(side)
    up = np.cross(out, side)
    depth = (h[:, None] - 0.02 * hole)[..., None] + 0.012
    v = (at + x[..., None] * side + y[..., None] * up + depth * out).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(len(r) - 1), np.arange(around), indexing="ij")
    a, b = (i * around + j).ravel(), (i * around + (j + 1) % around).ravel()
    triangles = np.concatenate([np.stack([a, a + around, b], 1), np.stack([b, a + around, b + around], 1)])
    return Cloth(v, triangles, normals_of(v, triangles), (1 - 0.85 * hole).ravel())
