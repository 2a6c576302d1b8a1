"""The study of a reference: whose skin is where, in which light, and what complexion it has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from annotated_types import Interval, Len, MaxLen
from numpy.typing import NDArray
from PIL import Image, ImageDraw
from scipy import ndimage

from core.colour.munsell import y_to_value
from core.colour.spaces import Floats, xyz_to_lab
from core.errors import InputError
from core.limits import LIMITS, Point
from core.look.balance import Balance
from core.look.faces import Face, check_face, find_faces
from core.look.families import Mask, border_value, light_direction, light_family
from core.look.skin_finding import could_be_skin, find_skin
from core.look.views import Small, as_it_is, is_colourless, light_of
from core.skin.complexion import ComplexionReading, read_complexion

WORKING_SIZE = 480
"""Longer side in pixels of the picture that is studied."""
WIDEST_STROKE = 0.2
MODEL = 2
"""Grows with every change of what is found in the same picture."""


@dataclass(frozen=True, slots=True)
class Stroke:
    """Skin painted in by hand, or out (add false). radius: fraction of the longer side; points: (x, y) fractions."""

    add: bool
    radius: Annotated[float, Interval(gt=0, le=WIDEST_STROKE)]
    points: Annotated[tuple[Point, ...], Len(1, LIMITS.stroke_points)]


@dataclass(frozen=True, slots=True)
class Person:
    """What is known of a figure beforehand."""

    face: Face | None = None
    strokes: Annotated[tuple[Stroke, ...], MaxLen(LIMITS.strokes)] = ()


@dataclass(frozen=True, slots=True)
class FigureStudy:
    """found: whether there is skin of this figure. certain: whether a face or a hand has shown where.

    lightest, darkest, border: Munsell values, the last where light turns to shadow. average: CIELAB
    (3,) as seen. complexion: of the balanced picture; None for black and white.
    """

    found: bool
    certain: bool
    face: Face | None
    lightest: float | None
    darkest: float | None
    border: float | None
    average: tuple[float, float, float] | None
    complexion: ComplexionReading | None


@dataclass(frozen=True, slots=True, eq=False)
class Study:
    """owners (h, w): 0 for no skin, else 1 + the figure's number. light (h, w): the light family.

    sureness (h, w): how probably it is skin, 0–1; 1 where it was painted by hand.
    light_from_deg: estimate of where the light comes from, 0 right, 90 above.
    """

    small: Small
    owners: NDArray[np.uint8]
    sureness: Floats
    light: Mask
    figures: tuple[FigureStudy, ...]
    faces: tuple[Face, ...]
    colourless: bool
    light_from_deg: float | None

    @property
    def skin(self) -> Mask:
        return np.asarray(self.owners > 0)

    def of(self, figure: int) -> Mask:
        """The skin (h, w) of one figure."""
        return np.asarray(self.owners == figure + 1)


def study(small: Small, balance: Balance | None, people: Sequence[Person]) -> Study:
    """Study a picture that is scaled to WORKING_SIZE.

    Figures without a known face get the faces that are found and not yet theirs, from left to right.
    Raises what `check_person` raises.
    """
    for person in people:
        check_person(person)
    seen, balanced = light_of(small), light_of(small, balance)
    colourless = is_colourless(small)
    known = [p.face for p in people if p.face]
    found = tuple(
        face
        for face in find_faces(as_it_is(small))
        if not any(_same(face, k) for k in known) and (colourless or could_be_skin(balanced, face))
    )
    waiting = [person.face is None for person in people]
    largest = sorted(found, key=lambda face: -face.width * face.height)[: sum(waiting)]
    theirs = iter(sorted(largest, key=lambda face: face.x))
    faces = [next(theirs, None) if waits else person.face for person, waits in zip(people, waiting, strict=True)]
    owners, sureness = _owners(balanced, faces, colourless)
    for number, person in enumerate(people):
        for stroke in person.strokes:
            painted = _painted(stroke, owners.shape)
            owners[painted & ((owners == number + 1) | stroke.add)] = number + 1 if stroke.add else 0
            sureness[painted & stroke.add] = 1.0
    light = np.zeros(owners.shape, bool)
    for number in range(len(people)):
        light |= light_family(seen, owners == number + 1)
    figures = tuple(
        _figure(seen, balanced, owners == number + 1, light, face, person, colourless)
        for number, (face, person) in enumerate(zip(faces, people, strict=True))
    )
    return Study(small, owners, sureness, light, figures, found, colourless, _light_from(seen, owners, len(people)))


def _owners(xyz: Floats, faces: Sequence[Face | None], colourless: bool) -> tuple[NDArray[np.uint8], Floats]:
    """Skin by figure, and how sure it is; by colour alone, and the first figure's, if there is no face."""
    known = [(number, face) for number, face in enumerate(faces) if face]
    if colourless and not known:
        return np.zeros(xyz.shape[:2], np.uint8), np.zeros(xyz.shape[:2])
    skin = find_skin(xyz, [face for _, face in known])
    numbers = np.zeros(256, np.uint8)
    numbers[1] = 1
    for i, (number, _) in enumerate(known):
        numbers[i + 1] = number + 1
    return np.asarray(numbers[skin.owners]), skin.sureness


def _same(one: Face, other: Face) -> bool:
    across = abs(one.centre[0] - other.centre[0]) / max(one.width, other.width)
    down = abs(one.centre[1] - other.centre[1]) / max(one.height, other.height)
    return max(across, down) < 0.5


def check_person(person: Person) -> None:
    """Raises InputError (`bad_face`, `bad_stroke`) unless what is known of a figure lies in the picture."""
    if person.face:
        check_face(person.face)
    for stroke in person.strokes:
        _check(stroke)


def _check(stroke: Stroke) -> None:
    inside = all(0 <= v <= 1 for point in stroke.points for v in point)
    if not (inside and 0 < stroke.radius <= WIDEST_STROKE and 1 <= len(stroke.points) <= LIMITS.stroke_points):
        raise InputError(
            "bad_stroke",
            "A stroke over the skin leaves the picture, or is too long or too wide.",
            f"Keep it inside, with at most {LIMITS.stroke_points} points.",
            "strokes",
        )


def _painted(stroke: Stroke, shape: tuple[int, ...]) -> Mask:
    h, w = shape
    radius = stroke.radius * max(h, w)
    image = Image.new("1", (w, h))
    draw = ImageDraw.Draw(image)
    points = [(x * w, y * h) for x, y in stroke.points]
    if len(points) > 1:
        draw.line(points, fill=1, width=max(1, round(2 * radius)), joint="curve")
    for x, y in (points[0], points[-1]):
        draw.ellipse((x - radius, y - radius, x + radius, y + radius), fill=1)
    return np.asarray(image)


def _figure(
    seen: Floats, balanced: Floats, skin: Mask, light: Mask, face: Face | None, person: Person, colourless: bool
) -> FigureStudy:
    if not skin.any():
        return FigureStudy(False, False, face, None, None, None, None, None)
    value = y_to_value(ndimage.gaussian_filter(seen[..., 1], 1.0))[skin]
    darkest, lightest = (float(v) for v in np.percentile(value, [1, 99]))
    average = xyz_to_lab(seen[skin].mean(axis=0, dtype=float))
    lit = balanced[skin & light].astype(float)
    if len(lit):
        low, high = np.percentile(lit[:, 1], [30, 75])
        lit = lit[(lit[:, 1] >= low) & (lit[:, 1] <= high)]
    complexion = read_complexion(xyz_to_lab(lit.mean(axis=0))) if len(lit) and not colourless else None
    border = border_value(seen, skin, light)
    return FigureStudy(
        found=True,
        certain=face is not None or any(stroke.add for stroke in person.strokes),
        face=face,
        lightest=round(lightest, 2),
        darkest=round(darkest, 2),
        border=None if border is None else round(border, 2),
        average=(float(average[0]), float(average[1]), float(average[2])),
        complexion=complexion,
    )


def _light_from(seen: Floats, owners: NDArray[np.uint8], people: int) -> float | None:
    """The mean direction over the figures, each weighted by its area."""
    total = 0j
    for number in range(people):
        skin = owners == number + 1
        direction = light_direction(seen, skin)
        if direction is not None:
            total += int(skin.sum()) * np.exp(1j * np.radians(direction))
    return None if total == 0 else round(float(np.degrees(np.angle(total)) % 360), 1)
