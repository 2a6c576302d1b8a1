"""A photographed drawing read place by place, freed of the lamp by its own paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy import ndimage

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, Floats, lab_to_xyz, xyz_to_lab
from core.compare.register import DOUBTFUL, Register, by_corners, registered, through
from core.errors import InputError
from core.look.picture import Picture
from core.photo.chart import read_chart
from core.photo.field import paper_field
from core.photo.found import found_sheet
from core.photo.lens import Known, Undone, undone_beside
from core.photo.squared import WHOLE, Corner, Flat, check_corners, squared
from core.photo.swatches import CHART_DOUBT, DOUBT, KNOWN_DOUBT

Flags = NDArray[np.bool_]
OUTSIDE, GLARE, COVERED, BARE = "outside", "glare", "covered", "bare"
"""Why a place tells nothing."""
_LEAST_PIXELS, _TRIMMED, _BLOCK = 12, 0.1, 4
_BURNT, _BARE = 0.08, 3.0
"""Part of a place that may be burnt; ΔE00 from the paper within which nothing is drawn there."""
_STRONG_LAMP = 3.0
"""How many times lighter one part of the sheet may be lit than another before that is worth a word."""
_BLURRED = 0.45
"""What differs within a pixel or two against what differs within three to six: below it is blurred. Simulated: 0.60 to
0.90 for sharp photographs, 0.32 to 0.36 out of focus."""
_BURNT_OUT = 0.04
"""How much of a sheet may be burnt where a photograph cannot be laid over its picture, before that is why."""
_BESIDE, _AROUND_BESIDE = 0.008, 0.03
"""How far around its point a swatch beside the drawing is read, and what it may cover, in parts of the longer side."""
_STRANGE, _STRANGE_PART, _SEEN_AT = 24.0, 0.02, 240
"""ΔE*ab from anything between paper and picture beyond which something else lies there, how much of the sheet that
takes at least, and pixels across which it is looked for."""
_AROUND, _COLOURED, _WHITE, _MOSTLY = 0.05, 15.0, 8.0, 0.5
"""How far around the skin its neighbours reach, ΔE*ab from the paper at which they should be coloured, within which
they are not, and how many of them."""
_LOOK_AGAIN = "This may be another drawing: look whether it lies on its picture, and set the picture's corners if not."
_LIT = "A strong lamp stands at one side: what lies far from it is read less surely. Daylight, or two lamps, is better."
_SHINES = "A lamp shines back from it: places under the glare are left out. Tilt the sheet, and photograph it again."
_IN_THE_WAY = "Something lies on the drawing, perhaps a hand: places beneath it are left out."
_OUT_OF_FOCUS = "It seems out of focus: edges are not judged, and small places are read less surely."


@dataclass(frozen=True, slots=True)
class PlaceRead:
    """lab: CIELAB as under daylight; spread: ΔE00 between its parts; doubt: ΔE00 by which it may be off; trouble:
    `outside`, `glare`, `covered` or `bare` where it tells nothing, else empty; x, y: where it lies on the sheet."""

    lab: tuple[float, float, float]
    spread: float
    doubt: float
    trouble: str
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Region:
    """Where a place lies in the picture: parts of its width and height, and of its longer side."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True, slots=True)
class Beside:
    """A swatch that was measured before, beside the drawing. x, y: parts of the sheet; known: what it is."""

    x: float
    y: float
    known: Known


@dataclass(frozen=True, slots=True, eq=False)
class Reference:
    """lab (h, w, 3): the picture as seen; skin (h, w): of all figures. expected (3, 3): where it lies on a sheet that
    was photographed whole, in parts; None if nobody knows."""

    lab: Floats
    skin: Flags
    expected: Floats | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Sheet:
    """A drawing as it lies. flat: the squared photograph; daylight (h, w, 3): linear sRGB, freed of lamp and camera;
    corners: of the sheet in parts of the photograph; register: where the picture lies on it; usual: ΔE00 by which
    readings are off in the median; lamp: how many times lighter one part is lit than another."""

    flat: Flat
    daylight: NDArray[np.float32]
    corners: tuple[Corner, ...]
    register: Register
    paper: Floats
    usual: float
    lamp: float

    def lab(self) -> Floats:
        """CIELAB (h, w, 3)."""
        return _lab(self.daylight)

    def in_picture(self, shape: tuple[int, int]) -> tuple[NDArray[np.float32], Flags]:
        """Linear sRGB (h, w, 3) of the drawing as the picture lies, and where it is seen (h, w)."""
        h, w = self.flat.burnt.shape
        matrix = np.diag([w, h, 1.0]) @ self.register.to_sheet @ np.diag([1 / shape[1], 1 / shape[0], 1.0])
        half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
        matrix = np.linalg.inv(half) @ matrix @ half
        seen = cv2.warpPerspective(
            self.daylight, matrix, shape[::-1], flags=cv2.INTER_AREA | cv2.WARP_INVERSE_MAP, borderValue=(-1, -1, -1)
        )
        return np.asarray(seen, dtype=np.float32), np.asarray(seen[..., 0] >= 0)


def laid_over(
    photo: Picture,
    reference: Reference,
    paper: ArrayLike,
    corners: Sequence[Corner] | None = None,
    frame: Sequence[Corner] | None = None,
    chart: Sequence[Corner] | None = None,
    beside: Sequence[Beside] = (),
) -> Sheet:
    """A photograph of a drawing, squared up, balanced on its own paper and laid over its picture.

    paper: CIELAB of the bare sheet. corners: of the sheet, in parts of the photograph; looked for if there are none.
    frame: the picture's corners, in parts of the sheet, if a hand has set them. chart: corners of a chart of 24
    patches, in parts of the sheet; beside: swatches that were measured before, used where there is no chart. Colours
    that were planned tell nothing of the camera.

    Raises InputError: `bad_corners`, `no_paper`, `wrong_drawing`, `mirrored_drawing`, `corners_needed`, `glare`,
    `chart_outside`, `no_chart`, `swatch_empty`.
    """
    found = corners or found_sheet(photo)
    at = tuple(found or WHOLE)
    flat = squared(photo, at)
    white = (lab_to_xyz(np.asarray(paper, dtype=float)) @ np.linalg.inv(SRGB.to_xyz)).astype(np.float32)
    field = paper_field(flat)
    light = _lab(flat.rgb / field * white)[..., 0]
    register = _placed(flat, light, reference, frame)
    if not found and register.like < DOUBTFUL:
        raise InputError(
            "corners_needed",
            "Where the sheet ends is not plain in this photograph.",
            "Set its four corners by hand, and keep hands and tools off it. Nothing was kept.",
            "corners",
        )
    # Pale skin is taken for paper only as long as nobody knows where the skin is.
    field = _field_beside(flat, register, reference.skin, chart, beside, field)
    daylight = flat.rgb / field * white
    camera: Undone | None = None
    if chart:
        camera = read_chart(daylight, chart)
    elif beside:
        camera = _by_swatches(daylight, white, np.asarray(paper, dtype=float), beside)
    if camera:
        daylight = camera.true(daylight.reshape(-1, 3).astype(float)).reshape(daylight.shape).astype(np.float32)
    lit = field.sum(axis=2)
    lamp = float(np.percentile(lit, 99) / max(float(np.percentile(lit, 1)), 1e-6))
    usual = CHART_DOUBT if chart else KNOWN_DOUBT if beside else DOUBT
    return Sheet(flat, np.asarray(daylight), at, register, np.asarray(paper, dtype=float), usual, lamp)


def _placed(flat: Flat, light: Floats, reference: Reference, frame: Sequence[Corner] | None) -> Register:
    picture = reference.lab[..., 0]
    if frame:
        check_corners(np.array(frame), 1.0)
        return by_corners(np.array(frame), light, picture, reference.skin)
    try:
        return registered(light, picture, reference.skin, reference.expected)
    except InputError:
        if flat.burnt.mean() > _BURNT_OUT:
            raise InputError(
                "glare",
                "A lamp shines back from the drawing, or the photograph is too light.",
                "Tilt the sheet or move the lamp, and photograph it again. Nothing was kept.",
                "photo",
            ) from None
        raise


def _by_swatches(
    daylight: NDArray[np.float32], white: NDArray[np.float32], paper: Floats, beside: Sequence[Beside]
) -> Undone:
    """What the camera did, told by the swatches beside the drawing."""
    h, w = daylight.shape[:2]
    reach = max(2, round(_BESIDE * max(h, w)))
    seen = []
    for one in beside:
        x, y = int(one.x * w), int(one.y * h)
        held = daylight[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1]
        rgb = _trimmed(held.reshape(-1, 3)) if held.size else white
        if ciede2000(_lab(rgb), paper) < _BARE:
            raise InputError(
                "swatch_empty",
                "There is no swatch at one of the marks.",
                "Move it onto its swatch, or take it away.",
                "beside",
            )
        seen.append(rgb)
    return undone_beside(white, paper, np.array(seen), [one.known for one in beside])


def _field_beside(
    flat: Flat,
    register: Register,
    skin: Flags,
    chart: Sequence[Corner] | None,
    beside: Sequence[Beside],
    field: NDArray[np.float32],
) -> NDArray[np.float32]:
    """The lamp told from what is neither skin nor chart nor swatch; as it was told before where that is too little."""
    h, w = flat.burnt.shape
    covered = _on_sheet(skin, register, (h, w))
    if chart:
        (left, top), (right, bottom) = np.clip(np.min(chart, axis=0), 0, 1), np.clip(np.max(chart, axis=0), 0, 1)
        covered[int(top * h) : int(bottom * h) + 1, int(left * w) : int(right * w) + 1] = True
    reach = round(_AROUND_BESIDE * max(h, w))
    for one in beside:
        x, y = int(one.x * w), int(one.y * h)
        covered[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1] = True
    try:
        return paper_field(flat, covered)
    except InputError:
        return field


def _on_sheet(mask: Flags, register: Register, shape: tuple[int, int]) -> Flags:
    """A part of the picture (h, w), and a little around it, as it lies on a sheet of this shape."""
    h, w = shape
    matrix = np.diag([w, h, 1.0]) @ register.to_sheet @ np.diag([1 / mask.shape[1], 1 / mask.shape[0], 1.0])
    laid = cv2.warpPerspective(mask.astype(np.float32), matrix, (w, h))
    return np.asarray(cv2.dilate(laid, np.ones((9, 9), np.uint8)) > 0.3)


def read_places(sheet: Sheet, regions: Sequence[Region], shape: tuple[int, int], covered: Flags) -> list[PlaceRead]:
    """The places of the picture (of this shape) as they are drawn. covered: see `what_is_wrong`."""
    return [_read(sheet, region, shape, covered) for region in regions]


def _read(sheet: Sheet, region: Region, shape: tuple[int, int], covered: Flags) -> PlaceRead:
    h, w = sheet.flat.burnt.shape
    high, wide = shape
    reach = region.radius * max(high, wide)
    around = np.array([[0, 0], [reach / wide, 0], [0, reach / high], [-reach / wide, 0], [0, -reach / high]])
    middle, *rim = sheet.register.on_sheet(around + np.array([region.x, region.y])) * (w, h)
    radius = max(2.0, float(np.linalg.norm(np.array(rim) - middle, axis=1).mean()))
    (x, y), at = middle, (round(float(middle[0] / w), 4), round(float(middle[1] / h), 4))
    rows = slice(max(0, int(y - radius)), max(0, int(y + radius) + 1))
    columns = slice(max(0, int(x - radius)), max(0, int(x + radius) + 1))
    held, burnt = sheet.daylight[rows, columns], sheet.flat.burnt[rows, columns]
    if held.shape[0] * held.shape[1] < _LEAST_PIXELS or not (0 <= x < w and 0 <= y < h):
        return PlaceRead((0.0, 0.0, 0.0), 0.0, 0.0, OUTSIDE, *at)
    yy, xx = np.mgrid[rows.start : rows.start + held.shape[0], columns.start : columns.start + held.shape[1]]
    inside = np.hypot(xx + 0.5 - x, yy + 0.5 - y) <= radius
    lab = _lab(_trimmed(held[inside]))
    parts = [
        _lab(_trimmed(cell.reshape(-1, 3)))
        for band in np.array_split(held, _BLOCK, axis=0)
        for cell in np.array_split(band, _BLOCK, axis=1)
        if cell.size
    ]
    spread = float(ciede2000(np.array(parts), lab).mean())
    trouble = ""
    if covered[min(h - 1, int(y)), min(w - 1, int(x))]:
        trouble = COVERED
    elif burnt[inside].mean() > _BURNT:
        trouble = GLARE
    elif ciede2000(lab, sheet.paper) < _BARE:
        trouble = BARE
    lightness, a, b = lab.round(2).tolist()
    doubt = round(float(np.hypot(sheet.usual, spread / 2)), 2)
    return PlaceRead((lightness, a, b), round(spread, 2), doubt, trouble, *at)


def what_is_wrong(sheet: Sheet, reference: Reference) -> tuple[tuple[str, ...], Flags, bool]:
    """Sentences on all of a photograph; where something lies on the sheet (h, w of the sheet); whether it is sharp."""
    said = []
    if sheet.register.like < DOUBTFUL:
        said.append(_LOOK_AGAIN)
    strange = _strange(sheet, reference)
    if strange.any():
        said.append(_IN_THE_WAY)
    sharp = _sharpness(sheet) >= _BLURRED
    if not sharp:
        said.append(_OUT_OF_FOCUS)
    if sheet.flat.burnt.mean() > _BURNT_OUT:
        said.append(_SHINES)
    if sheet.lamp > _STRONG_LAMP:
        said.append(_LIT)
    return tuple(said), strange, sharp


def _strange(sheet: Sheet, reference: Reference) -> Flags:
    """Where something lies on the sheet that is neither paper nor anything on the way to the picture, reaching in from
    its edge."""
    h, w = sheet.flat.burnt.shape
    scale = _SEEN_AT / max(h, w)
    shape = (max(2, round(h * scale)), max(2, round(w * scale)))
    seen = _lab(cv2.resize(sheet.daylight, shape[::-1], interpolation=cv2.INTER_AREA))
    high, wide = reference.skin.shape
    matrix = np.diag([shape[1], shape[0], 1.0]) @ sheet.register.to_sheet @ np.diag([1 / wide, 1 / high, 1.0])
    white = tuple(sheet.paper.tolist())
    goal = cv2.warpPerspective(reference.lab.astype(np.float32), matrix, shape[::-1], borderValue=white)
    way = goal - sheet.paper
    part = ((seen - sheet.paper) * way).sum(axis=2) / np.maximum((way**2).sum(axis=2), 1.0)
    off = np.linalg.norm(seen - sheet.paper - np.clip(part, 0, 1.15)[..., None] * way, axis=2)
    # A place's colour may be wrong and yet be drawn: what counts lies over the paper, too.
    strange = ndimage.binary_opening(off > _STRANGE, iterations=2)
    areas, count = ndimage.label(strange)
    edge = np.zeros(shape, dtype=bool)
    edge[[0, 1, -2, -1], :] = edge[:, [0, 1, -2, -1]] = True
    found = np.zeros(shape, dtype=np.uint8)
    for number in range(1, count + 1):
        area = areas == number
        if area.mean() > _STRANGE_PART and (area & edge).any():
            found |= cv2.dilate(area.astype(np.uint8), np.ones((7, 7), np.uint8))
    return np.asarray(cv2.resize(found, (w, h), interpolation=cv2.INTER_NEAREST) > 0)


def _sharpness(sheet: Sheet) -> float:
    light = sheet.daylight.mean(axis=2)
    laid = light < 0.8 * float(np.percentile(light, 98))
    if laid.mean() < 0.01:
        return 1.0
    fine = light - cv2.GaussianBlur(light, (0, 0), 1.0)
    broad = cv2.GaussianBlur(light, (0, 0), 1.0) - cv2.GaussianBlur(light, (0, 0), 3.0)
    return float(fine[laid].std() / max(float(broad[laid].std()), 1e-6))


def surround_is_bare(sheet: Sheet, reference: Reference) -> bool:
    """Whether most of what neighbours the skin in the picture is still paper on the sheet: skin looks darker then."""
    shape = reference.skin.shape
    seen, there = sheet.in_picture((shape[0], shape[1]))
    ring = ndimage.binary_dilation(reference.skin, iterations=max(2, round(_AROUND * max(shape)))) & ~reference.skin
    ring &= there & (np.linalg.norm(reference.lab - sheet.paper, axis=2) > _COLOURED)
    if not ring.any():
        return False
    return bool((np.linalg.norm(_lab(seen)[ring] - sheet.paper, axis=1) < _WHITE).mean() > _MOSTLY)


def corners_in_photo(sheet: Sheet) -> Floats:
    """The picture's corners (4, 2), in parts of the sheet."""
    return through(sheet.register.to_sheet, np.array(WHOLE))


def _trimmed(rgb: NDArray[np.float32]) -> NDArray[np.float64]:
    """The mean of what lies between the darkest and the lightest tenth."""
    order = np.argsort(rgb.sum(axis=1))
    cut = int(_TRIMMED * len(order))
    return np.asarray(rgb[order[cut : len(order) - cut]].mean(axis=0), dtype=float)


def _lab(rgb: NDArray[np.generic]) -> Floats:
    return np.asarray(xyz_to_lab(np.maximum(rgb, 0.0) @ SRGB.to_xyz), dtype=float)
