"""The study of a reference: whose skin is where, in which light, and what complexion it has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, Protocol

import numpy as np
from annotated_types import Interval, Len, MaxLen
from numpy.typing import NDArray
from PIL import Image, ImageDraw
from scipy import ndimage

from core.colour.munsell import y_to_value
from core.colour.spaces import Floats, xyz_to_lab
from core.errors import InputError
from core.eyes.runtime import EyesError
from core.limits import LIMITS, Point
from core.look.balance import Balance, in_balance
from core.look.condition import Condition, conditions
from core.look.faces import LIPS, Face, FaceMap, check_face, face_at, find_faces, same_face, with_hairline
from core.look.families import Mask, border_value, light_family
from core.look.light import LightReading, read_light
from core.look.neutrals import Offer, eye_white, is_tinted, looks_neutral, offers
from core.look.skin_finding import find_skin
from core.look.sparks import Spark, sparks
from core.look.views import Small, as_it_is, is_colourless, light_of, shrunk
from core.skin.complexion import ComplexionReading, read_complexion

WORKING_SIZE = 1024
"""Longer side in pixels of the picture that faces are looked for in."""
MAPPED_SIZE = 480
"""Longer side in pixels of the maps of skin and light."""
MOST_FACES = LIMITS.figures
SMALLEST_FACE = 48
"""A narrower face, in pixels of the picture that is studied, is too small to be read place by place."""
WIDEST_STROKE = 0.2
MODEL = 3
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


Trouble = Literal["profile", "small", "cast", "unbalanced"] | Condition
"""What is in the way of a figure's places or of its complexion."""


@dataclass(frozen=True, slots=True)
class FigureStudy:
    """found: whether there is skin of this figure. certain: whether a face or a hand has shown where.

    lightest, darkest, border: Munsell values, the last where light turns to shadow. average: CIELAB
    (3,) as seen. complexion: of the balanced picture; None where it cannot be told, and then `untold` says why.
    places: `small` or `profile` where the places of the face are not known, and a mark by hand is needed.
    """

    found: bool
    certain: bool
    face: Face | None
    lightest: float | None
    darkest: float | None
    border: float | None
    average: tuple[float, float, float] | None
    complexion: ComplexionReading | None
    untold: Trouble | None = None
    places: Trouble | None = None


@dataclass(frozen=True, slots=True)
class Told:
    """What a complexion would be in other light: the reading, or why there is none, and the lit skin's CIELAB (3,)."""

    complexion: ComplexionReading | None
    untold: Trouble | None
    lab: tuple[float, float, float] | None


@dataclass(frozen=True, slots=True, eq=False)
class Study:
    """owners (h, w): 0 for no skin, else 1 + the figure's number. light (h, w): the light family.

    sureness (h, w): how probably it is skin, 0–1; 1 where it was painted by hand. maps: of each figure's face, in
    pixels of `small`. sparks: lights on what is wet, of each figure. lit: CIELAB (3,) of each figure's evenly lit skin
    as seen. offers: what could be balanced on; effects: what each would make of every figure. faces: found, and
    nobody's yet. more: how many further faces there are. conditions: what the picture can no longer tell. blind:
    whether faces could not be looked for.
    """

    small: Small
    owners: NDArray[np.uint8]
    sureness: Floats
    light: Mask
    figures: tuple[FigureStudy, ...]
    maps: tuple[FaceMap | None, ...]
    sparks: tuple[tuple[Spark, ...], ...]
    offers: tuple[Offer, ...]
    lit: tuple[tuple[float, float, float] | None, ...]
    effects: tuple[tuple[Told, ...], ...]
    faces: tuple[Face, ...]
    more: int
    colourless: bool
    conditions: tuple[Condition, ...]
    lighting: LightReading | None
    blind: bool

    @property
    def skin(self) -> Mask:
        return np.asarray(self.owners > 0)

    @property
    def light_from_deg(self) -> float | None:
        """Estimate of where the light comes from, 0 right, 90 above."""
        return self.lighting.from_deg if self.lighting else None

    @property
    def coloured(self) -> NDArray[np.uint8]:
        """`owners` with the lips, which are no plain skin but are coloured with it."""
        held = self.owners.copy()
        for number, face in enumerate(self.maps, start=1):
            if face is not None:
                held[face.mask(LIPS, (held.shape[0], held.shape[1])) & (held == 0)] = number
        return held

    def of(self, figure: int) -> Mask:
        """The skin (h, w) of one figure."""
        return np.asarray(self.owners == figure + 1)


class Known(Protocol):
    """What is known of a picture beforehand, such as of one that was made from a description."""

    def masks(self, width: int, height: int) -> tuple[NDArray[np.uint8], Mask]:
        """Whose skin each pixel (h, w) is, 0 for nobody's, else 1 + the figure's number; and the light family."""


def study(
    looked: Small,
    balance: Balance | None,
    people: Sequence[Person],
    ignored: Sequence[Face] = (),
    known: Known | None = None,
) -> Study:
    """Study a picture that is scaled to WORKING_SIZE.

    Figures without a known face get the faces that are found and not yet theirs, from left to right. ignored: finds
    that the artist called wrong. known: what need not be looked for. Raises what `check_person` raises.
    """
    for person in people:
        check_person(person)
    small = shrunk(looked, MAPPED_SIZE)
    seen = light_of(small)
    balanced = in_balance(seen, balance)
    colourless = is_colourless(small)
    theirs, spare, more, blind = _faces(looked, people, ignored)
    scale = small.width / looked.width
    maps = tuple(face.scaled(scale) if face else None for face in theirs)
    owners, sureness = _owners(balanced, maps, colourless)
    told = known.masks(small.width, small.height) if known else None
    if told:
        owners = np.where(told[0] <= len(people), told[0], 0).astype(np.uint8)
        sureness = (owners > 0).astype(float)
    for number, person in enumerate(people):
        for stroke in person.strokes:
            painted = _painted(stroke, owners.shape)
            owners[painted & ((owners == number + 1) | stroke.add)] = number + 1 if stroke.add else 0
            sureness[painted & stroke.add] = 1.0
    light = np.zeros(owners.shape, bool)
    for number in range(len(people)):
        mine = owners == number + 1
        light |= mine & told[1] if told else light_family(seen, mine)
    worst = () if colourless else conditions(seen, small.pixels.max(axis=2), owners > 0, small.coarseness)
    shared = _Seen(seen, balance, light, colourless, worst)
    figures = tuple(
        _figure(shared, owners == number + 1, face, person, _box(face, person, looked), _in_daylight(looked, face))
        for number, (face, person) in enumerate(zip(theirs, people, strict=True))
    )
    lighting = read_light(seen, [(owners == i + 1, face) for i, face in enumerate(maps)], light)
    offered = () if colourless else offers(looked, small, owners > 0, theirs)
    lit = [_lit(seen, (owners == number + 1) & light) for number in range(len(people))]
    return Study(
        small=small,
        owners=owners,
        sureness=sureness,
        light=light,
        figures=figures,
        maps=tuple(face and with_hairline(face, owners == i + 1) for i, face in enumerate(maps)),
        sparks=tuple(sparks(looked, face) for face in theirs),
        offers=offered,
        lit=tuple(_told(xyz, None, worst).lab for xyz in lit),
        effects=tuple(tuple(_told(xyz, offer.balance, worst) for xyz in lit) for offer in offered),
        faces=spare,
        more=more,
        colourless=colourless,
        conditions=worst,
        lighting=lighting,
        blind=blind,
    )


def _faces(
    looked: Small, people: Sequence[Person], ignored: Sequence[Face]
) -> tuple[list[FaceMap | None], tuple[Face, ...], int, bool]:
    """The face of each person, the boxes of those that are nobody's, how many more there are, and whether faces could
    not be looked for."""
    rgb = as_it_is(looked)
    try:
        found = list(find_faces(rgb))
        theirs = [_claimed(found, rgb, person.face, looked) if person.face else None for person in people]
    except EyesError:
        return [None for _ in people], (), 0, True
    found = [face for face in found if not any(same_face(_fraction(face, looked), wrong) for wrong in ignored)]
    waiting = [i for i, person in enumerate(people) if person.face is None]
    first = sorted(found[: len(waiting)], key=lambda face: float(face.middle[0]))
    for i, face in zip(waiting, first, strict=False):
        theirs[i] = face
    spare = found[len(first) :]
    room = max(0, MOST_FACES - len(people))
    boxes = sorted((_fraction(face, looked) for face in spare[:room]), key=lambda face: face.x)
    return theirs, tuple(boxes), max(0, len(spare) - room), False


def _claimed(found: list[FaceMap], rgb: NDArray[np.uint8], known: Face, looked: Small) -> FaceMap:
    """The found face that is a known one, which is taken out of those found; else what is in its box."""
    for i, face in enumerate(found):
        if same_face(_fraction(face, looked), known):
            return found.pop(i)
    return face_at(rgb, known)


def _fraction(face: FaceMap, looked: Small) -> Face:
    return face.face(looked.width, looked.height)


def _box(face: FaceMap | None, person: Person, looked: Small) -> Face | None:
    """Where a person's face is: as it was given, or else as it was found."""
    return person.face or (_fraction(face, looked) if face else None)


def _owners(xyz: Floats, faces: Sequence[FaceMap | None], colourless: bool) -> tuple[NDArray[np.uint8], Floats]:
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


@dataclass(frozen=True, slots=True, eq=False)
class _Seen:
    """What all figures of a picture have in common: its light, the balance, and what it can no longer tell."""

    xyz: Floats
    balance: Balance | None
    light: Mask
    colourless: bool
    conditions: tuple[Condition, ...]


def _figure(
    seen: _Seen, skin: Mask, face: FaceMap | None, person: Person, box: Face | None, in_daylight: bool
) -> FigureStudy:
    """in_daylight: whether the eye whites look so."""
    places: Trouble | None = None
    if face is not None:
        places = "small" if face.side < SMALLEST_FACE else None if face.areas else "profile"
    if not skin.any():
        return FigureStudy(False, False, box, None, None, None, None, None, None, places)
    value = y_to_value(ndimage.gaussian_filter(seen.xyz[..., 1], 1.0))[skin]
    darkest, lightest = (float(v) for v in np.percentile(value, [1, 99]))
    average = xyz_to_lab(seen.xyz[skin].mean(axis=0, dtype=float))
    border = border_value(seen.xyz, skin, seen.light)
    told = Told(None, None, None)
    if not seen.colourless:
        told = _told(_lit(seen.xyz, skin & seen.light), seen.balance, seen.conditions)
        if told.complexion and not (seen.balance or in_daylight):
            told = Told(None, "unbalanced", told.lab)
    return FigureStudy(
        found=True,
        certain=face is not None or any(stroke.add for stroke in person.strokes),
        face=box,
        lightest=round(lightest, 2),
        darkest=round(darkest, 2),
        border=None if border is None else round(border, 2),
        average=(float(average[0]), float(average[1]), float(average[2])),
        complexion=told.complexion,
        untold=told.untold,
        places=places,
    )


def _in_daylight(looked: Small, face: FaceMap | None) -> bool:
    white = eye_white(looked, face)
    return white is not None and looks_neutral(white[0])


def _lit(xyz: Floats, lit: Mask) -> Floats | None:
    """Mean XYZ (3,) of evenly lit skin: without highlights and half-shadow."""
    pixels = xyz[lit].astype(float)
    if not len(pixels):
        return None
    low, high = np.percentile(pixels[:, 1], [30, 75])
    return np.asarray(pixels[(pixels[:, 1] >= low) & (pixels[:, 1] <= high)].mean(axis=0))


def _told(xyz: Floats | None, balance: Balance | None, worst: tuple[Condition, ...]) -> Told:
    """What lit skin, XYZ (3,), says of a complexion in balanced light, or what is in the way."""
    if xyz is None:
        return Told(None, None, None)
    lab = xyz_to_lab(in_balance(xyz, balance))
    said = float(lab[0]), float(lab[1]), float(lab[2])
    if worst:
        return Told(None, worst[0], said)
    return Told(None, "cast", said) if is_tinted(lab) else Told(read_complexion(lab), None, said)
