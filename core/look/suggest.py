"""Proposing spots: from the highlight to the deepest accent, and where the hue is strangest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from core.colour.munsell import y_to_value
from core.colour.spaces import Floats, xyz_to_lab
from core.look.faces import Face
from core.look.families import Mask
from core.look.roles import Place, Role
from core.look.study import Study
from core.look.views import light_of

FEWEST, MOST = 8, 14
_NARROWEST, _WIDEST = 0.003, 0.02
_APART = 3.6
"""Least distance of two spots, in radii."""
_EVEN_SHARE, _ENOUGH = 0.7, 200
_SURE, _FAIRLY_SURE = 0.85, 0.6
_MOST_TURN = 0.25
_NEAR = 0.28
"""Farther than this from every place of the layout, in face widths, a spot is nowhere in particular."""

_LAYOUT: tuple[tuple[Place, float, float], ...] = (
    ("forehead", 0.50, 0.06), ("temple", 0.02, 0.22), ("temple", 0.98, 0.22), ("brow", 0.28, 0.24),
    ("brow", 0.72, 0.24), ("eye socket", 0.40, 0.40), ("eye socket", 0.60, 0.40), ("nose bridge", 0.50, 0.45),
    ("nose tip", 0.50, 0.66), ("nose side", 0.38, 0.64), ("nose side", 0.62, 0.64), ("cheek", 0.20, 0.66),
    ("cheek", 0.80, 0.66), ("ear", -0.08, 0.50), ("ear", 1.08, 0.50), ("upper lip", 0.50, 0.82),
    ("lower lip", 0.50, 0.92), ("jaw", 0.12, 0.95), ("jaw", 0.88, 0.95), ("chin", 0.50, 1.08),
    ("under the chin", 0.50, 1.24), ("neck", 0.30, 1.45), ("neck", 0.70, 1.45), ("throat", 0.50, 1.60),
)  # fmt: skip
"""Places in a frontal face box of the cascade, across and down in its widths and heights (measured on drawn heads)."""
_WORTH: tuple[Place, ...] = (
    "forehead",
    "cheek",
    "nose tip",
    "lower lip",
    "upper lip",
    "eye socket",
    "jaw",
    "under the chin",
    "throat",
)
"""Places that are proposed for their own sake, in this order, where the extremes leave room."""


@dataclass(frozen=True, slots=True)
class Suggestion:
    """A proposed spot; x, y, radius as in core.look.reading.Disc."""

    place: Place
    role: Role
    x: float
    y: float
    radius: float


def suggest(study: Study, figure: int) -> tuple[Suggestion, ...]:
    """FEWEST to MOST spots of one figure, from light to dark; none if it has no skin, fewer if it is tiny.

    No spot lies on a patch that is narrower than the spot itself, and no two overlap.
    """
    return _Hunt(study, figure).run() if study.figures[figure].found else ()


@dataclass(frozen=True, slots=True)
class FittedFace:
    """A face box laid over the skin. turn: how far its middle line lies from the box's, in widths."""

    face: Face
    turn: float

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Where a place of the layout lies, as fractions of the picture; the outline stays when the head turns."""
        inner = x + self.turn * (1 - min(1.0, abs(2 * x - 1)))
        return self.face.x + inner * self.face.width, self.face.y + y * self.face.height


def fitted(face: Face, skin: Mask) -> FittedFace:
    """The face box laid over the skin (h, w) that was found: as wide as it is beside the nose, below its upper edge.

    A cascade's boxes scatter by a fifth; the proportions are those of the boxes that fit best. The
    middle line is that between the eyes, which are holes in the skin.
    """
    h, w = skin.shape
    cx, cy = face.centre
    first = max(0, int((cx - face.width) * w))
    rows = skin[int((cy + 0.05 * face.height) * h) : int((cy + 0.4 * face.height) * h) + 1]
    spans = [np.flatnonzero(row)[[0, -1]] for row in rows[:, first : int((cx + face.width) * w) + 1] if row.any()]
    upright = np.flatnonzero(skin[:, min(w - 1, max(0, int(cx * w)))])
    if not spans or not len(upright):
        return FittedFace(face, 0.0)
    widths = np.array([right - left + 1 for left, right in spans])
    left, right = spans[int(np.argsort(widths)[len(widths) // 3])] + first
    width = float(np.clip(1.1 * (right - left + 1) / w, 0.85 * face.width, 1.35 * face.width))
    height = width * face.height / face.width
    shift = 0.1 * face.height
    top = float(np.clip(upright[0] / h + 0.13 * height, face.y - shift, face.y + shift))
    laid = Face(float((left + right + 1) / 2 / w - width / 2), top, width, height)
    return FittedFace(laid, _turn(laid, skin))


def _turn(face: Face, skin: Mask) -> float:
    h, w = skin.shape
    holes, _ = ndimage.label(ndimage.binary_fill_holes(skin) & ~skin)
    eyes: dict[bool, tuple[int, float]] = {}
    for number, part in enumerate(ndimage.find_objects(holes), start=1):
        row, column = (part[0].start + part[0].stop) / 2 / h, (part[1].start + part[1].stop) / 2 / w
        across, down = (column - face.x) / face.width, (row - face.y) / face.height
        if 0.05 < across < 0.95 and 0.2 < down < 0.55:
            area = int((holes[part] == number).sum())
            eyes[across > 0.5] = max(eyes.get(across > 0.5, (0, 0.0)), (area, across))
    if len(eyes) < 2:
        return 0.0
    return float(np.clip((eyes[False][1] + eyes[True][1]) / 2 - 0.5, -_MOST_TURN, _MOST_TURN))


def place_at(laid: FittedFace | None, x: float, y: float) -> Place:
    """The nearest place of a fitted face to a point in fractions of the picture; `other` if none is near."""
    if laid is None:
        return "other"
    distances = []
    for name, across, down in _LAYOUT:
        px, py = laid.at(across, down)
        distances.append((float(np.hypot((x - px) / laid.face.width, (y - py) / laid.face.height)), name))
    off, name = min(distances)
    return name if off < _NEAR else "other"


class _Hunt:
    """Places found so far in one figure's skin, and the rules for the next."""

    def __init__(self, study: Study, figure: int) -> None:
        skin = study.of(figure)
        found = study.figures[figure].face
        self.face = fitted(found, skin) if found else None
        self.shape = skin.shape
        longest = max(skin.shape)
        across = self.face.face.width * skin.shape[1] if self.face else 1.3 * np.sqrt(skin.sum() / np.pi)
        self.radius = float(np.clip(0.045 * across / longest, _NARROWEST, _WIDEST))
        self.pixels = max(1.0, self.radius * longest)
        sure = skin & (study.sureness >= _SURE)
        depth = ndimage.distance_transform_edt(np.pad(skin, 1))[1:-1, 1:-1]
        self.free: Mask = sure & (depth >= self.pixels)
        if not self.free.any():
            self.free = skin & (depth >= depth.max())
        self.extremes: Mask = (self.free | (skin & (study.sureness >= _FAIRLY_SURE))) & (depth >= self.pixels)
        self.depth = depth
        weight = np.maximum(ndimage.gaussian_filter(skin.astype(float), self.pixels / 2), 1e-6)[..., None]
        xyz = np.where(skin[..., None], light_of(study.small).astype(float), 0)
        smooth = ndimage.gaussian_filter(xyz, (self.pixels / 2, self.pixels / 2, 0)) / weight
        self.lab, self.value = xyz_to_lab(smooth), y_to_value(smooth[..., 1])
        if self.free.sum() > _ENOUGH:
            scatter = self._scatter(skin)
            self.free &= scatter <= np.quantile(scatter[self.free], _EVEN_SHARE)
        self.light = study.light & skin
        self.shade = skin & ~study.light
        self.found: list[tuple[int, int]] = []

    def _scatter(self, skin: Mask) -> Floats:
        """Standard deviation of value around each pixel of the skin, over about a spot's width."""
        weight = np.maximum(ndimage.gaussian_filter(skin.astype(float), self.pixels / 1.5), 1e-6)
        value = np.where(skin, self.value, 0)
        mean = ndimage.gaussian_filter(value, self.pixels / 1.5) / weight
        square = ndimage.gaussian_filter(value**2, self.pixels / 1.5) / weight
        return np.asarray(np.sqrt(np.clip(square - mean**2, 0, None)))

    def run(self) -> tuple[Suggestion, ...]:
        self._take(self.free, self.value)
        self._take(self.extremes, -self.value)
        self._levels()
        self._strangest(2)
        if self.face:
            self._worthwhile()
        self._strangest(1)
        while len(self.found) < FEWEST and self._take(self.free, self._farthest()):
            pass
        return tuple(sorted((self._said(at) for at in self.found), key=lambda s: -self.value[self._cell(s)]))

    def _levels(self) -> None:
        """The middle of the light, the half-shadow, the middle of the shadow, and what lights the shadow up."""
        for family, share in ((self.light, 0.75), (self.light, 0.4), (self.light, 0.08), (self.shade, 0.55)):
            inside = self.free & family
            if inside.any():
                wanted = float(np.quantile(self.value[inside], share))
                self._take(inside, -np.abs(self.value - wanted) + 0.004 * self.depth)
        rim = self.free & self.shade & (self.depth < 3.5 * self.pixels)
        if rim.any() and self.shade.any():
            middle = float(np.median(self.value[self.shade]))
            bright = rim & (self.value > middle)
            self._take(bright, self.value - 0.02 * self.depth)

    def _strangest(self, more: int) -> None:
        """Where a and b are farthest from what they usually are at that value, by least squares."""
        if self.free.sum() < 20:
            return
        v = self.value[self.free]
        system = np.column_stack([np.ones_like(v), v, v**2])
        ab = self.lab[self.free][:, 1:]
        fit, *_ = np.linalg.lstsq(system, ab, rcond=None)
        odd = np.full(self.shape, -np.inf)
        odd[self.free] = np.linalg.norm(ab - system @ fit, axis=1)
        for _ in range(more):
            self._take(self.free, odd)

    def _worthwhile(self) -> None:
        for place in _WORTH:
            if len(self.found) >= MOST - 1:
                return
            spots = [self._on_picture(x, y) for name, x, y in _LAYOUT if name == place]
            if place in (self._place(at) for at in self.found):
                continue
            for row, column in sorted(spots, key=lambda at: -self._value_at(at)):
                ys, xs = np.ogrid[: self.shape[0], : self.shape[1]]
                near = np.hypot(ys - row, xs - column)
                close = self.free & (near < 3 * self.pixels)
                if self._take(close, -near):
                    break

    def _value_at(self, at: tuple[int, int]) -> float:
        row, column = np.clip(at, 0, np.array(self.shape) - 1)
        return float(self.value[row, column])

    def _on_picture(self, x: float, y: float) -> tuple[int, int]:
        assert self.face
        across, down = self.face.at(x, y)
        return int(down * self.shape[0]), int(across * self.shape[1])

    def _farthest(self) -> Floats:
        """How far each pixel lies from all spots so far."""
        taken = np.ones(self.shape, bool)
        for at in self.found:
            taken[at] = False
        return np.asarray(ndimage.distance_transform_edt(taken))

    def _take(self, where: Mask, worth: Floats) -> bool:
        """The best free place of an area, if there is one that keeps clear of the others."""
        if len(self.found) >= MOST or not where.any():
            return False
        clear = where.copy()
        ys, xs = np.ogrid[: self.shape[0], : self.shape[1]]
        for row, column in self.found:
            clear &= (ys - row) ** 2 + (xs - column) ** 2 >= (_APART * self.pixels) ** 2
        if not clear.any():
            return False
        self.found.append(divmod(int(np.argmax(np.where(clear, worth, -np.inf))), self.shape[1]))
        return True

    def _said(self, at: tuple[int, int]) -> Suggestion:
        row, column = at
        return Suggestion(
            place=self._place(at),
            role=self._role(at),
            x=round((column + 0.5) / self.shape[1], 4),
            y=round((row + 0.5) / self.shape[0], 4),
            radius=round(self.radius, 4),
        )

    def _cell(self, spot: Suggestion) -> tuple[int, int]:
        return int(spot.y * self.shape[0]), int(spot.x * self.shape[1])

    def _role(self, at: tuple[int, int]) -> Role:
        value = float(self.value[at])
        if self.light[at]:
            inside = self.value[self.light]
            if value >= np.quantile(inside, 0.95):
                return "highlight"
            if value >= np.quantile(inside, 0.5):
                return "light"
            return "middle" if value >= np.quantile(inside, 0.18) else "half-shadow"
        inside = self.value[self.shade]
        if value <= np.quantile(inside, 0.1):
            return "deep accent"
        if value >= np.quantile(inside, 0.7) and self.depth[at] < 3.5 * self.pixels and not self._near_light(at):
            return "reflected light"
        return "half-shadow" if value >= np.quantile(inside, 0.85) else "shadow"

    def _near_light(self, at: tuple[int, int]) -> bool:
        reach = int(4 * self.pixels)
        row, column = at
        return bool(self.light[max(0, row - reach) : row + reach, max(0, column - reach) : column + reach].any())

    def _place(self, at: tuple[int, int]) -> Place:
        return place_at(self.face, (at[1] + 0.5) / self.shape[1], (at[0] + 0.5) / self.shape[0])
