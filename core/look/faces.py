"""Faces in a picture: the boxes that are kept, and maps of what lies where on them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw

from core.colour.spaces import Floats
from core.errors import InputError
from core.eyes.areas import OVAL, Area, areas, axes, facing_points
from core.eyes.heads import Head, find_heads, head_in

Mask = NDArray[np.bool_]

SEEDS = ("cheek", "cheekbone", "forehead", "nose side", "chin")
"""Places of plain skin, whose colours say what skin is on this face."""
LIPS = ("upper lip", "lower lip")
NOT_SKIN = ("eye white", "brow hair", *LIPS, "teeth", "nostril")
_SAME = 0.5
_SIDEWAYS = 1.4
"""The mesh is flatter than faces are: by this much it turns too little."""


@dataclass(frozen=True, slots=True)
class Face:
    """A face box in fractions of the picture's width and height: left, top, width, height."""

    x: float
    y: float
    width: float
    height: float

    @property
    def centre(self) -> tuple[float, float]:
        return self.x + self.width / 2, self.y + self.height / 2


def check_face(face: Face) -> None:
    """Raises InputError (`bad_face`) unless the middle of the face lies in the picture."""
    if not (all(0 <= middle <= 1 for middle in face.centre) and face.width > 0 and face.height > 0):
        raise InputError(
            "bad_face", "A face lies outside the picture.", "Draw its box over the face once more.", "face"
        )


def same_face(one: Face, other: Face) -> bool:
    """Whether two boxes are about the same face."""
    across = abs(one.centre[0] - other.centre[0]) / max(one.width, other.width)
    down = abs(one.centre[1] - other.centre[1]) / max(one.height, other.height)
    return max(across, down) < _SAME


@dataclass(frozen=True, slots=True, eq=False)
class FaceMap:
    """What lies where on a face, in pixels of a picture.

    middle (2,), side: of the box about it. right, down (2,): unit vectors on the picture along the head's width and
    height. outline (n, 2): of the face, without the hair. areas: none where there is no mesh. seeds: outlines of plain
    skin. points (n, 2), normals (n, 3): of plain skin that is turned to the viewer; x to the right, y down, z towards
    the viewer. turned: how far the head is turned to the picture's right, from −1 to 1 in profile.
    """

    middle: Floats
    side: float
    right: Floats
    down: Floats
    outline: Floats
    seeds: tuple[Floats, ...]
    areas: tuple[Area, ...]
    points: Floats
    normals: Floats
    turned: float

    @staticmethod
    def of(head: Head) -> FaceMap:
        """The map of a head that was found."""
        middle = (head.low + head.high) / 2
        if head.mesh is None:
            size = head.high - head.low
            around = np.linspace(0, 2 * np.pi, 32, endpoint=False)
            ring = np.column_stack([np.cos(around), np.sin(around)])
            inner = (middle + ring * size * [0.28, 0.33],)
            return FaceMap(
                middle, head.side, np.array([1.0, 0.0]), np.array([0.0, 1.0]), middle + ring * size * [0.4, 0.48],
                inner, (), np.zeros((0, 2)), np.zeros((0, 3)), 0.0,
            )  # fmt: skip
        found = areas(head.mesh)
        x, y, *_ = axes(head.mesh)
        right, down = x[:2] / np.hypot(*x[:2]), y[:2] / np.hypot(*y[:2])
        seeds = tuple(area.outline for area in found if area.place in SEEDS and area.exact)
        outline = head.mesh.points[OVAL, :2]
        turned = float(np.clip(_SIDEWAYS * x[2], -1, 1))
        return FaceMap(middle, head.side, right, down, outline, seeds, found, *facing_points(head.mesh), turned)

    def moved(self, across: float, down: float) -> FaceMap:
        """The same in a picture whose corner lies elsewhere."""
        return self._changed(np.array([1.0, 1.0]), np.array([across, down]))

    def scaled(self, across: float, down: float | None = None) -> FaceMap:
        """The same in a picture that is so much larger."""
        return self._changed(np.array([across, across if down is None else down]), np.zeros(2))

    def _changed(self, scale: Floats, off: Floats) -> FaceMap:
        def there(points: Floats) -> NDArray[np.float64]:
            return np.asarray(points * scale + off, dtype=np.float64)

        return replace(
            self,
            middle=there(self.middle),
            side=self.side * float(scale.mean()),
            outline=there(self.outline),
            points=there(self.points),
            seeds=tuple(there(seed) for seed in self.seeds),
            areas=tuple(replace(area, outline=there(area.outline)) for area in self.areas),
        )

    def face(self, width: int, height: int) -> Face:
        """Its box in fractions of a picture of this size."""
        low, high = (self.middle - self.side / 2, self.middle + self.side / 2)
        if self.areas:
            low, high = self.outline.min(axis=0), self.outline.max(axis=0)
        x, y = low / [width, height]
        right, bottom = high / [width, height]
        return Face(*(round(float(v), 5) for v in (x, y, right - x, bottom - y)))

    def mask(self, places: Collection[str], shape: tuple[int, int]) -> Mask:
        """Where these places lie in a picture of this shape."""
        return drawn([area.outline for area in self.areas if area.place in places], shape)

    def inside(self, shape: tuple[int, int]) -> Mask:
        """The face itself, without the places that are no skin."""
        return drawn([self.outline], shape) & ~self.mask(NOT_SKIN, shape)

    def sown(self, shape: tuple[int, int]) -> Mask:
        """Where plain skin is, if nothing covers it."""
        return drawn(self.seeds, shape)

    def off(self, shape: tuple[int, int]) -> tuple[Floats, Floats]:
        """How far each pixel lies right of the middle and below it, in sides of the box, as the head is turned."""
        ys, xs = (np.mgrid[0 : shape[0], 0 : shape[1]] + 0.5).astype(float)
        dx, dy = (xs - self.middle[0]) / self.side, (ys - self.middle[1]) / self.side
        return dx * self.right[0] + dy * self.right[1], dx * self.down[0] + dy * self.down[1]


def drawn(outlines: Sequence[Floats], shape: tuple[int, int]) -> Mask:
    """The pixels of a picture of this shape (h, w) whose centres lie in any of the polygons."""
    image = Image.new("1", (shape[1], shape[0]))
    draw = ImageDraw.Draw(image)
    for outline in outlines:
        if len(outline) > 2:
            draw.polygon([(float(x) - 0.5, float(y) - 0.5) for x, y in outline], fill=1)
    return np.asarray(image)


def with_hairline(face: FaceMap, skin: Mask) -> FaceMap:
    """The map with a band along the upper edge of the skin (h, w) above the brows, where that is found."""
    brows = [area.outline for area in face.areas if area.place == "forehead" and area.read]
    if not brows:
        return face
    across, down = face.off((skin.shape[0], skin.shape[1]))
    step = max(1.0 / face.side, 0.01)
    low = float(((brows[0] - face.middle) / face.side @ face.down).max())
    top = []
    for column in np.linspace(-0.22, 0.22, 9):
        strip = skin & (np.abs(across - column) < step) & (down < low) & (down > -0.95)
        top.append((column, float(down[strip].min()) if strip.any() else np.nan))
    edge = np.array(top)
    if np.isnan(edge).any():
        return face
    ring = np.vstack([edge + np.array([0, 0.01]), (edge + np.array([0, 0.07]))[::-1]])
    outline = face.middle + face.side * (ring[:, :1] * face.right + ring[:, 1:] * face.down)
    return replace(face, areas=(*face.areas, Area("hairline", "middle", outline, 1.0, exact=False, read=False)))


def find_faces(rgb: NDArray[np.uint8]) -> tuple[FaceMap, ...]:
    """Maps of the faces in sRGB pixels (h, w, 3), the largest first. Raises EyesError."""
    return tuple(FaceMap.of(head) for head in find_heads(rgb))


def face_at(rgb: NDArray[np.uint8], face: Face) -> FaceMap:
    """The map of the face in a box that somebody drew. Raises EyesError."""
    size = np.array([rgb.shape[1], rgb.shape[0]])
    low, high = np.array([face.x, face.y]) * size, np.array([face.x + face.width, face.y + face.height]) * size
    return FaceMap.of(head_in(rgb, low, high))
