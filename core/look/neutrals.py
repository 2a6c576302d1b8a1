"""What a portrait offers to balance on: eye whites, greys and whites around the people; and whether it needs it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from PIL import Image
from scipy import ndimage

from core.colour.munsell import y_to_value
from core.colour.spaces import Floats, lab_to_lch, xyz_to_lab
from core.look.balance import USUAL_EYE_WHITE_AB, Balance, Neutral, balance_of
from core.look.faces import FaceMap, Mask, drawn
from core.look.reading import Disc
from core.look.views import Small, shrunk
from core.skin.measured import envelope

Kind = Literal["eye white", "white", "grey"]

_FEWEST_PX = 12
_USUAL_AB = np.array(USUAL_EYE_WHITE_AB)
_PLAUSIBLE = 7.0
"""How far from that an eye white may be before the light is not plain daylight."""
_AGREE = 9.0
"""Two offers whose whites differ by less than this (CIELAB a*, b*) speak for each other."""
_HUE_MARGIN, _VIVID_MARGIN, _GREY_MARGIN = 3.0, 9.0, 3.0
"""Beyond the measured skins by this much in hue (degrees) and chroma, it is the picture that is tinted; cameras make
skin more vivid than it is, so chroma has more room."""
_LIGHTEST, _DARKEST = 9.7, 5.0
_LEAST_PART = 0.004
_MOST_CHROMA = 38.0
_EVEN = 2.5
_MEET_PX, _MEETS = 3.0, 3.0
"""Over how many pixels colours are compared with those beside them, and what they may differ by in a* and b*."""
_MOST = 4
_COARSE = 240
"""Longer side in pixels of the picture that even places are looked for in."""


def is_tinted(lab: Floats) -> bool:
    """Whether the colour (3,) of lit skin, CIELAB, is farther from all measured skins than a camera explains."""
    lightness, chroma, hue = (float(v) for v in lab_to_lch(lab))
    skins = envelope(lightness)
    hue = (hue + 90.0) % 360.0 - 90.0
    (low, high), (grey, vivid) = skins.hue_deg[[0, -1]], skins.chroma[[0, -1]]
    return not (
        low - _HUE_MARGIN <= hue <= high + _HUE_MARGIN and grey - _GREY_MARGIN <= chroma <= vivid + _VIVID_MARGIN
    )


def eye_white(looked: Small, face: FaceMap | None) -> tuple[Floats, Disc] | None:
    """CIELAB (3,) of the larger eye white of a face, and a spot on it; None where too little is seen.

    face: on that very picture. The lighter half of the pixels counts: lids and lashes shade the rest.
    """
    best: tuple[int, Floats, Disc] | None = None
    for area in face.areas if face else ():
        if area.place != "eye white" or not area.read or area.size < _FEWEST_PX:
            continue
        low = np.maximum(np.floor(area.outline.min(axis=0)).astype(int), 0)
        high = np.minimum(np.ceil(area.outline.max(axis=0)).astype(int) + 1, [looked.width, looked.height])
        if np.any(high - low < 2):
            continue
        inside = drawn([area.outline - low], (int(high[1] - low[1]), int(high[0] - low[0])))
        count = int(inside.sum())
        if count < _FEWEST_PX or (best and count <= best[0]):
            continue
        pixels = looked.space.xyz(looked.pixels[low[1] : high[1], low[0] : high[0]][inside]).astype(float)
        lighter = pixels[pixels[:, 1] >= np.median(pixels[:, 1])]
        depth = ndimage.distance_transform_edt(np.pad(inside, 1))[1:-1, 1:-1]
        row, column = divmod(int(depth.argmax()), depth.shape[1])
        disc = _disc(column + low[0], row + low[1], max(1.0, float(depth.max())), looked)
        best = (count, xyz_to_lab(lighter.mean(axis=0)), disc)
    return best and best[1:]


def _disc(column: float, row: float, radius: float, looked: Small) -> Disc:
    return Disc(
        round(float(column + 0.5) / looked.width, 5), round(float(row + 0.5) / looked.height, 5),
        round(radius / max(looked.width, looked.height), 5),
    )  # fmt: skip


def looks_neutral(white: Floats) -> bool:
    """Whether an eye white, CIELAB (3,), looks as in plain daylight."""
    return bool(np.hypot(*(white[1:] - _USUAL_AB)) < _PLAUSIBLE)


@dataclass(frozen=True, slots=True)
class Offer:
    """A place to balance on. lab: what is seen there. sure: whether another offer says the same of the light."""

    kind: Kind
    disc: Disc
    lab: tuple[float, float, float]
    sure: bool

    @property
    def balance(self) -> Balance:
        """The balance that makes a grey of this place; an eye white stays as warm as eye whites are."""
        return balance_of(self.lab, self.kind == "eye white")

    @property
    def neutral(self) -> Neutral:
        """What a document keeps of it."""
        return Neutral(self.disc.x, self.disc.y, self.disc.radius, self.kind == "eye white")


def offers(looked: Small, small: Small, skin: Mask, faces: Sequence[FaceMap | None]) -> tuple[Offer, ...]:
    """What could be balanced on, the surest first; none if there is nothing.

    small: the same picture at the size of `skin` (h, w); faces: on the one looked at.
    """
    found: list[tuple[Kind, Disc, Floats]] = []
    for face in faces:
        white = eye_white(looked, face)
        if white:
            found.append(("eye white", white[1], white[0]))
    found += _even_places(small, skin)
    tints = [lab[1:] - (_USUAL_AB if kind == "eye white" else 0) for kind, _, lab in found]
    rows = []
    for i, (kind, disc, lab) in enumerate(found):
        # Eye whites are known to be eye whites; what else is light and even may be of any colour.
        whites = [j for j, (other, *_) in enumerate(found) if other == "eye white" and j != i]
        beside = whites if whites or kind == "eye white" else [j for j in range(len(found)) if j != i]
        if kind == "eye white" and not whites:
            beside = [j for j in range(len(found)) if j != i]
        sure = any(np.hypot(*(tints[i] - tints[j])) < _AGREE for j in beside)
        lightness, a, b = (round(float(v), 2) for v in lab)
        rows.append(Offer(kind, disc, (lightness, a, b), sure))
    return tuple(sorted(rows, key=lambda offer: (not offer.sure, offer.kind != "eye white"))[:_MOST])


def _even_places(small: Small, skin: Mask) -> list[tuple[Kind, Disc, Floats]]:
    """Even, light areas away from the skin with little colour: what may be white or grey, the least coloured first."""
    small = shrunk(small, _COARSE)
    skin = np.asarray(Image.fromarray(skin).resize((small.width, small.height)))
    xyz = small.space.xyz(small.pixels)
    smooth = ndimage.gaussian_filter(xyz, (1, 1, 0))
    lab = xyz_to_lab(smooth)
    value = y_to_value(smooth[..., 1])
    rough = np.abs(xyz_to_lab(xyz)[..., 0] - lab[..., 0])
    # Where two colours meet, what lies between them is greyer than either: that is no place of its own.
    beside = xyz_to_lab(ndimage.gaussian_filter(xyz, (_MEET_PX, _MEET_PX, 0)))
    meet = np.hypot(*np.moveaxis(lab[..., 1:] - beside[..., 1:], -1, 0))
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    clear = ~ndimage.binary_dilation(skin, iterations=2)
    light = (value > _DARKEST) & (value < _LIGHTEST)
    even = (ndimage.uniform_filter(rough, 5) < _EVEN) & (ndimage.uniform_filter(meet, 5) < _MEETS)
    even &= chroma < _MOST_CHROMA
    labels, count = ndimage.label(ndimage.binary_opening(clear & light & even))
    if not count:
        return []
    areas = np.bincount(labels.ravel(), minlength=count + 1)
    found: list[tuple[float, Kind, Disc, Floats]] = []
    for part in np.argsort(-areas[1:])[:6] + 1:
        if areas[part] < _LEAST_PART * skin.size:
            continue
        inside = labels == part
        depth = ndimage.distance_transform_edt(np.pad(inside, 1))[1:-1, 1:-1]
        worth = np.where(inside, chroma + np.where(depth < 2, 50, 0), np.inf)
        row, column = divmod(int(worth.argmin()), skin.shape[1])
        radius = float(min(depth[row, column], 0.02 * max(skin.shape)))
        seen = lab[row, column]
        kind: Kind = "white" if value[row, column] > 8.2 else "grey"
        found.append((float(chroma[row, column]), kind, _disc(column, row, max(radius, 1.0), small), seen))
    return [(kind, disc, lab_) for _, kind, disc, lab_ in sorted(found, key=lambda row: row[0])[:3]]
