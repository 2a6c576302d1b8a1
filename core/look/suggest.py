"""Proposing spots: the places of a face, from the highlight to the deepest accent, and where the hue is strangest."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import ndimage

from core.colour.munsell import y_to_value
from core.colour.spaces import Floats, xyz_to_lab
from core.eyes.areas import Area
from core.look.faces import FaceMap, Mask, drawn
from core.look.naming import FEWEST_PX, drawn_in, place_of_pixel
from core.look.roles import Place, Role
from core.look.study import Study
from core.look.views import light_of

FEWEST, MOST = 10, 14
_NARROWEST, _WIDEST = 0.003, 0.02
_APART = 3.0
"""Least distance of two spots, in radii."""
_EVEN_SHARE, _ENOUGH = 0.75, 200
_SURE, _FAIRLY_SURE = 0.85, 0.6
_TURNED = 0.3
_COVERED = 0.6
"""Less of a place than this on skin: something lies over it."""

_OUTLINED: tuple[tuple[Place, Role | None], ...] = (
    ("lower lip", None), ("upper lip", None), ("eye white", None), ("nostril", "deep accent"),
    ("lash line", "deep accent"), ("lip corner", None),
)  # fmt: skip
"""Places that are read by their outlines, in the order in which they are proposed, with the role they always have."""
_WORTH: tuple[Place, ...] = (
    "forehead", "cheek", "nose tip", "jaw", "under the chin", "chin", "nose side", "temple", "neck", "under-eye",
    "nose bridge", "cheekbone", "throat",
)  # fmt: skip
"""Places of plain skin, the most telling first."""
_FIRST = 3
"""So many of them come in that order; of the others those come first whose value is farthest from what is there."""

_UNDER_HAIR: tuple[Place, ...] = ("forehead", "hairline", "temple", "brow")
_HIDDEN = 0.3

Doubt = Literal["", "small", "turned away", "covered", "mixed", "dark glasses"]
"""Why a proposed spot is to be looked at before it counts."""


@dataclass(frozen=True, slots=True)
class Suggestion:
    """A proposed spot; x, y, radius as in core.look.reading.Disc. name: what it is, mostly its place.

    outline: corners in fractions of the picture, for what is no disc. doubt: why it is to be asked about; empty if it
    is plain.
    """

    place: Place
    role: Role
    x: float
    y: float
    radius: float
    name: str
    outline: tuple[tuple[float, float], ...] | None = None
    doubt: Doubt = ""


def suggest(study: Study, figure: int) -> tuple[Suggestion, ...]:
    """FEWEST to MOST spots of one figure, from light to dark; none if it has no skin, fewer if it is tiny.

    No disc lies on a patch that is narrower than the disc itself, and no two overlap.
    """
    return _Hunt(study, figure).run() if study.figures[figure].found else ()


@dataclass(frozen=True, slots=True, eq=False)
class _Found:
    """A spot that was settled on: its middle in rows and columns of the map, and what is known of it beforehand."""

    row: int
    column: int
    place: Place | None = None
    role: Role | None = None
    name: str = ""
    outline: Floats | None = None
    radius: float | None = None
    value: float | None = None
    doubt: Doubt = ""

    @property
    def at(self) -> tuple[int, int]:
        return self.row, self.column


class _Hunt:
    """Places found so far in one figure's skin, and the rules for the next."""

    def __init__(self, study: Study, figure: int) -> None:
        skin = study.of(figure)
        self.face: FaceMap | None = study.maps[figure]
        self.sparks = study.sparks[figure]
        self.skin, self.shape = skin, skin.shape
        longest = max(skin.shape)
        across = self.face.side if self.face else 1.3 * np.sqrt(skin.sum() / np.pi)
        self.radius = float(np.clip(0.038 * across / longest, _NARROWEST, _WIDEST))
        self.pixels = max(1.0, self.radius * longest)
        sure = skin & (study.sureness >= _SURE)
        depth = ndimage.distance_transform_edt(np.pad(skin, 1))[1:-1, 1:-1]
        self.free: Mask = sure & (depth >= self.pixels)
        if not self.free.any():
            self.free = skin & (depth >= depth.max())
        self.extremes: Mask = (self.free | (skin & (study.sureness >= _FAIRLY_SURE))) & (depth >= self.pixels)
        self.depth = depth
        weight = np.maximum(ndimage.gaussian_filter(skin.astype(float), self.pixels / 2), 1e-6)[..., None]
        self.light_of = light_of(study.small).astype(float)
        xyz = np.where(skin[..., None], self.light_of, 0)
        smooth = ndimage.gaussian_filter(xyz, (self.pixels / 2, self.pixels / 2, 0)) / weight
        self.lab, self.value = xyz_to_lab(smooth), y_to_value(smooth[..., 1])
        self.scatter = self._scatter(skin)
        self.rough = float(np.quantile(self.scatter[skin], 0.9))
        if self.free.sum() > _ENOUGH:
            self.free &= self.scatter <= np.quantile(self.scatter[self.free], _EVEN_SHARE)
        self.light = study.light & skin
        self.shade = skin & ~study.light
        self.found: list[_Found] = []

    def _scatter(self, skin: Mask) -> Floats:
        """Standard deviation of value around each pixel of the skin, over about a spot's width."""
        weight = np.maximum(ndimage.gaussian_filter(skin.astype(float), self.pixels / 1.5), 1e-6)
        value = np.where(skin, self.value, 0)
        mean = ndimage.gaussian_filter(value, self.pixels / 1.5) / weight
        square = ndimage.gaussian_filter(value**2, self.pixels / 1.5) / weight
        return np.asarray(np.sqrt(np.clip(square - mean**2, 0, None)))

    def run(self) -> tuple[Suggestion, ...]:
        known = self.face is not None and bool(self.face.areas)
        self._take(self._on_face(self.free), self.value)
        self._take(self._on_face(self.extremes), -self.value)
        self._strangest(1 if known else 2)
        if known:
            self._reserves()
            self._by_outline()
            self._by_place()
        self._levels()
        while len(self.found) < FEWEST and self._take(self.free, self._farthest()):
            pass
        return tuple(sorted((self._said(found) for found in self.found), key=lambda spot: -self._value_of(spot)))

    def _on_face(self, where: Mask) -> Mask:
        """The part of an area on face and neck, where there is one: hands come later, hair at its edge not at all."""
        if self.face is None:
            return where
        across, down = self.face.off(self.shape)
        near = where & (np.abs(across) < 0.5) & (down > -0.55) & (down < 0.8)
        return near if near.any() else where

    def _reserves(self) -> None:
        """Catchlights and moisture lights, which are kept free from the start."""
        h, w = self.shape
        for spark in self.sparks:
            row, column = min(h - 1, int(spark.y * h)), min(w - 1, int(spark.x * w))
            place: Place = "catchlight" if spark.place == "iris" else spark.place
            name = place if place == "catchlight" else f"moisture light, {place}"
            value = float(y_to_value(self.light_of[row, column, 1]))
            self.found.append(_Found(row, column, place, "highlight", name, None, spark.radius, value))

    def _by_outline(self) -> None:
        assert self.face
        for place, role in _OUTLINED:
            areas = [area for area in self.face.areas if area.place == place and area.read]
            if not areas or len(self.found) >= MOST:
                continue
            area = max(areas, key=lambda one: one.facing * np.sqrt(one.size))
            if not self._in_picture(area.outline):
                continue
            self._outlined(area, place, role)

    def _outlined(self, area: Area, place: Place, role: Role | None) -> None:
        outline = drawn_in(area, place)
        inside = drawn([outline], self.shape)
        row, column = (int(np.clip(v, 0, n - 1)) for v, n in zip(outline.mean(axis=0)[::-1], self.shape, strict=True))
        pixels = self.light_of[inside] if inside.any() else self.light_of[row : row + 1, column]
        value = float(y_to_value(np.median(pixels[:, 1])))
        doubt: Doubt = ""
        if area.size < FEWEST_PX:
            doubt = "small"
        elif area.facing < _TURNED and place != "nostril":
            doubt = "turned away"
        elif place == "eye white" and self._behind_glass(pixels, value):
            doubt = "dark glasses"
        self.found.append(
            _Found(
                row, column, place, role or self._role_of_value(value), place, outline, self.radius / 2, value, doubt
            )
        )

    def _behind_glass(self, pixels: Floats, value: float) -> bool:
        """Whether what should be an eye white is as dark as the darkest skin, or no grey at all."""
        a, b = xyz_to_lab(pixels.mean(axis=0))[1:]
        return bool(value < 0.75 * np.quantile(self.value[self.skin], 0.05) or np.hypot(a, b) > 45)

    def _by_place(self) -> None:
        """Discs on places of plain skin: the telling ones first, then those that widen the range of values."""
        assert self.face
        spots: list[_Found] = []
        for place in _WORTH:
            spots += self._middles(place)
        for place in _WORTH[:_FIRST]:
            if any(found.place == place for found in self.found):
                continue
            mine = [spot for spot in spots if spot.place == place]
            if mine and len(self.found) < MOST:
                self._settle(max(mine, key=lambda spot: (not spot.doubt, spot.value or 0.0)), spots)
        while len(self.found) < MOST:
            clear = [spot for spot in spots if self._is_clear(spot)]
            if not clear:
                return
            held = [found.value if found.value is not None else float(self.value[found.at]) for found in self.found]

            def worth(spot: _Found, held: list[float] = held) -> float:
                gap = min(abs((spot.value or 0.0) - value) for value in held)
                twice = any(found.place == spot.place for found in self.found)
                return gap - 0.12 * _WORTH.index(spot.place or "neck") - 0.8 * twice - 2.0 * bool(spot.doubt)

            self._settle(max(clear, key=worth), spots)

    def _settle(self, spot: _Found, spots: list[_Found]) -> None:
        if self._is_clear(spot):
            self.found.append(spot)
        spots.remove(spot)

    def _middles(self, place: Place) -> list[_Found]:
        """A disc in the middle of each side of a place that is seen, if there is skin."""
        assert self.face
        out = []
        for area in self.face.areas:
            if area.place != place or not area.read or not self._in_picture(area.outline):
                continue
            low = np.floor(area.outline.min(axis=0)).astype(int)
            high = np.minimum(np.ceil(area.outline.max(axis=0)).astype(int) + 1, [self.shape[1], self.shape[0]])
            part = (slice(low[1], high[1]), slice(low[0], high[0]))
            inside = drawn([area.outline - low], (int(high[1] - low[1]), int(high[0] - low[0])))
            on_skin = inside & self.skin[part]
            share = float(on_skin.sum()) / max(1, int(inside.sum()))
            if share < (0.15 if area.exact else _COVERED):
                continue
            open_ = on_skin & (self.depth[part] >= self.pixels)
            best = open_ & self.free[part] if (open_ & self.free[part]).any() else open_
            if not best.any():
                continue
            middle = ndimage.distance_transform_edt(np.pad(on_skin, 1))[1:-1, 1:-1]
            worth = np.where(best, middle - 0.5 * self.scatter[part], -np.inf)
            row, column = (int(v) for v in np.unravel_index(int(np.argmax(worth)), worth.shape))
            row, column = row + int(low[1]), column + int(low[0])
            doubt: Doubt = ""
            if share < _COVERED:
                doubt = "covered"
            elif area.facing < _TURNED:
                doubt = "turned away"
            elif self.scatter[row, column] > max(self.rough, 0.6):
                doubt = "mixed"
            elif place in _UNDER_HAIR and self._hidden(row, column):
                doubt = "covered"
            out.append(_Found(row, column, place, None, place, None, None, float(self.value[row, column]), doubt))
        return out

    def _hidden(self, row: int, column: int) -> bool:
        """Whether a place at the top of the face is so dark that a hat or hair must lie there, or their cast shade."""
        assert self.face
        sown = self.face.sown(self.shape) & self.skin
        usual = np.median(self.light_of[sown][:, 1]) if sown.any() else 0.0
        return bool(self.light_of[row, column, 1] < _HIDDEN * usual)

    def _in_picture(self, outline: Floats) -> bool:
        return bool(np.all(outline >= 0) and np.all(outline <= [self.shape[1], self.shape[0]]))

    def _is_clear(self, spot: _Found) -> bool:
        return all(
            np.hypot(spot.row - other.row, spot.column - other.column) >= _APART * self.pixels for other in self.found
        )

    def _levels(self) -> None:
        """The middle of the light, the half-shadow, the middle of the shadow, and what lights the shadow up."""
        for family, share in ((self.light, 0.75), (self.light, 0.4), (self.light, 0.08), (self.shade, 0.55)):
            inside = self._on_face(self.free & family)
            if inside.any() and len(self.found) < FEWEST + 1:
                wanted = float(np.quantile(self.value[inside], share))
                self._take(inside, -np.abs(self.value - wanted) + 0.004 * self.depth)
        rim = self.free & self.shade & (self.depth < 3.5 * self.pixels)
        if rim.any() and self.shade.any() and len(self.found) < FEWEST + 1:
            bright = rim & (self.value > float(np.median(self.value[self.shade])))
            self._take(bright, self.value - 0.02 * self.depth)

    def _strangest(self, more: int) -> None:
        """Where a and b are farthest from what they usually are at that value, by least squares."""
        where = self._on_face(self.free)
        if where.sum() < 20:
            return
        v = self.value[where]
        system = np.column_stack([np.ones_like(v), v, v**2])
        ab = self.lab[where][:, 1:]
        fit, *_ = np.linalg.lstsq(system, ab, rcond=None)
        odd = np.full(self.shape, -np.inf)
        odd[where] = np.linalg.norm(ab - system @ fit, axis=1)
        for _ in range(more):
            self._take(where, odd)

    def _farthest(self) -> Floats:
        """How far each pixel lies from all spots so far."""
        taken = np.ones(self.shape, bool)
        for found in self.found:
            taken[found.at] = False
        return np.asarray(ndimage.distance_transform_edt(taken))

    def _take(self, where: Mask, worth: Floats) -> bool:
        """The best free place of an area, if there is one that keeps clear of the others."""
        if len(self.found) >= MOST or not where.any():
            return False
        clear = where.copy()
        ys, xs = np.ogrid[: self.shape[0], : self.shape[1]]
        for found in self.found:
            clear &= (ys - found.row) ** 2 + (xs - found.column) ** 2 >= (_APART * self.pixels) ** 2
        if not clear.any():
            return False
        row, column = divmod(int(np.argmax(np.where(clear, worth, -np.inf))), self.shape[1])
        place = self._place(row, column)
        doubt: Doubt = "mixed" if self.scatter[row, column] > max(2 * self.rough, 1.2) else ""
        if place in _UNDER_HAIR and self._hidden(row, column):
            doubt = "covered"
        self.found.append(_Found(row, column, place, None, "", None, None, None, doubt))
        return True

    def _said(self, found: _Found) -> Suggestion:
        h, w = self.shape
        place = found.place or "other"
        role = found.role or self._role(found.at)
        x, y = (found.column + 0.5) / w, (found.row + 0.5) / h
        corners = None
        if found.outline is not None:
            corners = tuple((round(float(px) / w, 5), round(float(py) / h, 5)) for px, py in found.outline)
            x, y = (float(np.mean([corner[axis] for corner in corners])) for axis in (0, 1))
        name = found.name or (role if place == "other" else place)
        radius = self.radius if found.radius is None else found.radius
        return Suggestion(place, role, round(x, 4), round(y, 4), round(radius, 4), name, corners, found.doubt)

    def _value_of(self, spot: Suggestion) -> float:
        row, column = int(spot.y * self.shape[0]), int(spot.x * self.shape[1])
        for found in self.found:
            if found.value is not None and abs(found.row - row) <= 1 and abs(found.column - column) <= 1:
                return found.value
        return float(self.value[row, column])

    def _role(self, at: tuple[int, int]) -> Role:
        value = float(self.value[at])
        if self.light[at]:
            return self._role_of_value(value)
        inside = self.value[self.shade]
        if not inside.size:
            return self._role_of_value(value)
        if value <= np.quantile(inside, 0.1):
            return "deep accent"
        if value >= np.quantile(inside, 0.7) and self.depth[at] < 3.5 * self.pixels and not self._near_light(at):
            return "reflected light"
        return "half-shadow" if value >= np.quantile(inside, 0.85) else "shadow"

    def _role_of_value(self, value: float) -> Role:
        """The role of a value among those of the skin."""
        inside = self.value[self.light] if self.light.any() else self.value[self.skin]
        if value >= np.quantile(inside, 0.95):
            return "highlight"
        if value >= np.quantile(inside, 0.5):
            return "light"
        if value >= np.quantile(inside, 0.18):
            return "middle"
        shade = self.value[self.shade]
        if not shade.size or value >= np.quantile(shade, 0.7):
            return "half-shadow"
        return "shadow" if value > np.quantile(shade, 0.1) else "deep accent"

    def _near_light(self, at: tuple[int, int]) -> bool:
        reach = int(4 * self.pixels)
        row, column = at
        return bool(self.light[max(0, row - reach) : row + reach, max(0, column - reach) : column + reach].any())

    def _place(self, row: int, column: int) -> Place:
        if self.face is None or not self.face.areas:
            return "other"
        return place_of_pixel(self.face, row, column, bool(self.skin[row, column]))
