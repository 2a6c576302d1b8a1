"""Where the places of a face lie: each an outline on the picture, from the mesh and from the outlines of the eyes."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, QhullError
from skimage.measure import points_in_poly

from core.eyes.detector import Points
from core.eyes.mesh import EYE_CORNERS, Eye, Mesh

Triangles = NDArray[np.int64]

_FOREHEAD, _CHIN, _LEFT, _RIGHT = 10, 152, 234, 454
"""Points at the upper and lower end of the mesh, and at its sides before the ears."""
OVAL = [
    10, 338, 297, 332, 284, 251, 389, 356, 454, 323, 361, 288, 397, 365, 379, 378, 400, 377,
    152, 148, 176, 149, 150, 136, 172, 58, 132, 93, 234, 127, 162, 21, 54, 103, 67, 109,
]  # fmt: skip
"""The points along the outline of the mesh."""
_FACING = 0.2
"""Least part of a unit normal towards the viewer for a place to be seen."""
_PUPIL, _IRIS_INNER, _IRIS_OUTER = 0.42, 0.5, 0.92
"""Radii against that of the iris: of the pupil, and of the ring that is read as iris."""
_OPEN_EYE = 0.16
"""Least height of an eye's opening against its width for anything in it to be read."""
_OPEN_MOUTH = 0.08
"""Least height of the mouth's opening against its width for teeth to be looked for."""
_LASHES, _CREASE = 0.05, 0.05
"""How wide lashes and crease are, in widths of the eye."""
_FOLDS = {"left": [190, 56, 28, 27, 29, 30, 247], "right": [414, 286, 258, 257, 259, 260, 467]}
"""Points of the mesh along the fold above the lid, from the inner corner."""


@dataclass(frozen=True, slots=True, eq=False)
class Area:
    """A place of a face. side: `left`, `right` (the picture's, when the face looks ahead) or `middle`.

    outline (n, 2): pixels of the picture. facing: part of its normal towards the viewer, at most 1. exact: whether the
    mesh has it; else it is extrapolated, as the ears and the neck are. read: whether this outline is to be read, or
    only carries the name.
    """

    place: str
    side: str
    outline: Points
    facing: float
    exact: bool = True
    read: bool = True

    @property
    def size(self) -> float:
        """Its area in pixels of the picture."""
        return abs(signed_area(self.outline))


@cache
def triangles() -> Triangles:
    """The faces of the mesh (m, 3), all turned the same way round."""
    text = files("core.eyes").joinpath("data/triangles.txt").read_text("utf-8")
    return np.array([corner.split(",") for corner in text.split()], dtype=np.int64)


@cache
def _rings() -> dict[str, dict[str, list[list[int]]]]:
    return tomllib.loads(files("core.eyes").joinpath("data/areas.toml").read_text("utf-8"))


def normals(mesh: Mesh) -> Points:
    """Unit normals (468, 3) of the mesh in x to the right, y down, z towards the viewer."""
    corners = mesh.points[triangles()]
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    at = triangles().ravel()
    out = np.column_stack([np.bincount(at, np.repeat(flat[:, i], 3), len(mesh.points)) for i in range(3)])
    out *= [1, 1, -1]
    return np.asarray(out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9))


def facing_points(mesh: Mesh) -> tuple[Points, Points]:
    """Points (n, 2) of plain skin that are turned to the viewer, in pixels, and their unit normals (n, 3)."""
    towards = normals(mesh)
    plain = towards[:, 2] > _FACING
    plain[_not_plain()] = False
    return mesh.points[plain, :2], towards[plain]


@cache
def _not_plain() -> list[int]:
    """Points of the mesh on eyes, brows, lips and its outline."""
    rings = _rings()
    marked = {i for place in ("upper lip", "lower lip", "teeth") for ring in rings[place]["middle"] for i in ring}
    for place in ("brow hair", "upper lid", "nostril"):
        marked |= {i for side in ("left", "right") for ring in rings[place][side] for i in ring}
    return sorted(marked | set(OVAL) | {i for pair in EYE_CORNERS for i in pair})


def axes(mesh: Mesh) -> tuple[Points, Points, Points, float, float]:
    """Unit vectors (3,) to the head's side, down and back, and its width and height in pixels."""
    across, down = mesh.points[_RIGHT] - mesh.points[_LEFT], mesh.points[_CHIN] - mesh.points[_FOREHEAD]
    width, height = float(np.linalg.norm(across)), float(np.linalg.norm(down))
    x, y = across / max(width, 1e-9), down / max(height, 1e-9)
    back = np.cross(x, y)
    return x, y, back / max(float(np.linalg.norm(back)), 1e-9), width, height


def areas(mesh: Mesh) -> tuple[Area, ...]:
    """Every place of the face that is turned to the viewer, small ones first."""
    towards = normals(mesh)[:, 2]
    found = [*_of_mesh(mesh, towards), *_around(mesh)]
    for side, eye, pair in zip(("left", "right"), mesh.eyes, EYE_CORNERS, strict=True):
        found += _of_eye(mesh, side, eye, pair, float(towards[list(pair)].mean()))
    return tuple(sorted((area for area in found if area.size > 0), key=lambda area: area.size))


def _of_mesh(mesh: Mesh, towards: Points) -> Iterator[Area]:
    for place, sides in _rings().items():
        if place == "teeth" and not _mouth_open(mesh):
            continue
        for side, rings in sides.items():
            for number, ring in enumerate(rings):
                facing = float(towards[ring].mean())
                if facing > _FACING:
                    yield Area(place, side, mesh.points[ring, :2], facing, read=number == 0)


def _mouth_open(mesh: Mesh) -> bool:
    upper, lower, left, right = mesh.points[[13, 14, 78, 308]]
    return bool(np.linalg.norm(lower - upper) > _OPEN_MOUTH * np.linalg.norm(right - left))


def _of_eye(mesh: Mesh, side: str, eye: Eye, corners: tuple[int, int], facing: float) -> Iterator[Area]:
    """Crease, white, iris, pupil and lash line of one open eye that is turned to the viewer."""
    ends = mesh.points[list(corners), :2]
    width = float(np.hypot(*(ends[1] - ends[0])))
    upper = np.vstack([eye.outline[8:], eye.outline[:1]])
    lashes = _beside(upper, _up(mesh) * _LASHES * width)
    if facing <= _FACING or width <= 0:
        return
    yield Area("lash line", side, lashes, facing)
    fold, wide = mesh.points[_FOLDS[side], :2], _up(mesh) * _CREASE * width
    yield Area("crease", side, _beside(fold - wide / 2, wide), facing)
    if abs(signed_area(eye.outline)) < _OPEN_EYE * width**2 * 0.7:
        return
    lids = hull(eye.outline)
    angles = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    ring = np.column_stack([np.cos(angles), np.sin(angles)])
    yield Area("pupil", side, clipped(eye.iris + _PUPIL * eye.radius * ring, lids), facing)
    down = -_up(mesh)
    across = np.array([down[1], -down[0]])
    half = np.linspace(0, np.pi, 13)
    arc = np.cos(half)[:, None] * across + np.sin(half)[:, None] * down
    crescent = np.vstack([_IRIS_OUTER * arc, _IRIS_INNER * arc[::-1]])
    yield Area("iris", side, clipped(eye.iris + eye.radius * crescent, lids), facing)
    whites = [
        _beyond(lids, eye.iris + sign * 1.05 * eye.radius * across, sign * across)
        for sign in (-1, 1)
    ]  # fmt: skip
    yield Area("eye white", side, max(whites, key=lambda white: abs(signed_area(white))), facing)
    yield Area("iris", side, clipped(eye.iris + eye.radius * ring, lids), facing, read=False)
    yield Area("eye white", side, eye.outline, facing, read=False)


def _up(mesh: Mesh) -> Points:
    """Unit vector (2,) on the picture from the chin to the forehead."""
    up = mesh.points[_FOREHEAD, :2] - mesh.points[_CHIN, :2]
    return np.asarray(up / max(float(np.hypot(*up)), 1e-9))


def _beside(line: Points, off: Points) -> Points:
    """A band of the line (n, 2) and the line moved to one side."""
    return np.vstack([line, line[::-1] + off])


def _around(mesh: Mesh) -> Iterator[Area]:
    """Ears, and what lies below the chin: extrapolated along the head's own axes, so approximate."""
    x, y, back, width, height = axes(mesh)
    points = mesh.points
    for side, sign, (upper, lower) in (("left", -1, (127, 132)), ("right", 1, (356, 361))):
        # Seen from the front an ear stands out a little; seen from the side it lies behind the mesh.
        facing = float(-(sign * x - 0.45 * back)[2])
        if facing <= 0:
            continue
        near, far = 0.01, 0.07
        corners = [
            points[upper] + sign * near * width * x + 0.04 * width * back,
            points[upper] + sign * far * width * x + 0.3 * width * back,
            points[lower] + sign * far * width * x + 0.3 * width * back,
            points[lower] + sign * near * width * x + 0.06 * width * back,
        ]
        yield Area("ear", side, np.array(corners)[:, :2], min(facing, 1.0), exact=False)
    top = points[[103, 67, 109, _FOREHEAD, 338, 297, 332]]
    higher = top - 0.14 * height * y + 0.08 * width * back
    yield Area("forehead", "middle", np.vstack([top, higher[::-1]])[:, :2], 1.0, exact=False, read=False)
    chin, left, right = points[_CHIN], points[172], points[397]
    breadth = float(np.linalg.norm(right - left))

    def below(across: float, down: float, deep: float) -> Points:
        return np.asarray((chin + across * breadth * x + down * height * y + deep * width * back)[:2])

    yield Area(
        "under the chin", "middle",
        np.array([below(-0.28, 0.03, 0.06), below(0.28, 0.03, 0.06), below(0.3, 0.13, 0.25), below(-0.3, 0.13, 0.25)]),
        1.0, exact=False,
    )  # fmt: skip
    yield Area(
        "throat", "middle",
        np.array([below(-0.16, 0.15, 0.28), below(0.16, 0.15, 0.28), below(0.15, 0.42, 0.3), below(-0.15, 0.42, 0.3)]),
        1.0, exact=False,
    )  # fmt: skip
    for side, sign in (("left", -1), ("right", 1)):
        outline = [below(sign * 0.18, 0.14, 0.28), below(sign * 0.46, 0.08, 0.32)]
        outline += [below(sign * 0.46, 0.38, 0.34), below(sign * 0.18, 0.42, 0.3)]
        yield Area("neck", side, np.array(outline), 1.0, exact=False)


def signed_area(outline: Points) -> float:
    """Of a polygon (n, 2), in its unit squared; the sign says which way round it goes."""
    if len(outline) < 3:
        return 0.0
    x, y = outline.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def hull(points: Points) -> Points:
    """The convex hull of points (n, 2), in order; empty where they lie on a line."""
    try:
        return np.asarray(points[ConvexHull(points).vertices])
    except QhullError:
        return np.zeros((0, 2))


def clipped(outline: Points, convex: Points) -> Points:
    """The part of a polygon (n, 2) inside a convex one (Sutherland and Hodgman 1974)."""
    if len(convex) < 3:
        return np.zeros((0, 2))
    sign = 1 if signed_area(convex) > 0 else -1
    for start, end in zip(convex, np.roll(convex, -1, axis=0), strict=True):
        inward = sign * np.array([-(end - start)[1], (end - start)[0]])
        outline = _beyond(outline, start, inward)
    return outline


def _beyond(outline: Points, origin: Points, towards: Points) -> Points:
    """The part of a polygon (n, 2) on one side of the line through a point, square to a direction."""
    if not len(outline):
        return outline
    off = (outline - origin) @ towards
    kept: list[Points] = []
    for here, there, a, b in zip(outline, np.roll(outline, -1, axis=0), off, np.roll(off, -1), strict=True):
        if a >= 0:
            kept.append(here)
        if (a >= 0) != (b >= 0):
            kept.append(here + (there - here) * a / (a - b))
    return np.array(kept).reshape(-1, 2)


def distance_to(outline: Points, point: Points) -> float:
    """From a point (2,) to the nearest side of a polygon."""
    start, along = outline, np.roll(outline, -1, axis=0) - outline
    share = np.clip(((point - start) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-12), 0, 1)
    return float(np.hypot(*(start + share[:, None] * along - point).T).min())


def place_at(found: tuple[Area, ...], point: Points, near: float) -> str:
    """The place whose outline holds a point (2,), the smallest if several do, else the nearest one; empty if none is
    within `near` pixels."""
    for exact in (True, False):
        for area in found:
            if area.exact == exact and points_in_poly(point[None], area.outline)[0]:
                return area.place
    beside = [(distance_to(area.outline, point), area.place) for area in found if area.exact]
    off, place = min(beside, default=(np.inf, ""))
    return place if off <= near else ""


def inset(outline: Points, share: float) -> Points:
    """A polygon (n, 2) drawn in towards its own middle line by a part of its narrower half, so that its edge, which is
    never certain, is left out."""
    middle = outline.mean(axis=0)
    _, _, axes_ = np.linalg.svd(outline - middle)
    along = (outline - middle) @ axes_[0]
    across = (outline - middle) @ axes_[1]
    # The middle line of a bent strip, such as a lip, is where its two edges meet half-way.
    order = np.argsort(along)
    bend = np.polynomial.Polynomial.fit(along[order], across[order], 2) if len(outline) > 5 else None
    line = bend(along) if bend is not None else np.zeros(len(outline))
    length = 1 - 0.5 * share
    return np.asarray(
        middle + np.outer(along * length, axes_[0]) + np.outer(line + (across - line) * (1 - share), axes_[1])
    )


def thinned(outline: Points, most: int) -> Points:
    """A polygon with at most so many corners, evenly left out."""
    if len(outline) <= most:
        return outline
    return np.asarray(outline[np.round(np.linspace(0, len(outline) - 1, most)).astype(int)])
