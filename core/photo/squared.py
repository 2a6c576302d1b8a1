"""A sheet squared up out of a photograph, by its four corners."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import SRGB
from core.errors import InputError
from core.look.picture import Picture
from core.look.views import scaled

_LONGEST_PHOTO, _LONGEST = 2400, 1000
"""Pixels of the longer side: of the photograph as it is looked at, of the sheet."""
_LEAST_SIDE = 0.08
"""How long a side must be, as a part of the photograph's longer one."""
_BURNT = 252
"""From which 8-bit level a channel may have been clipped."""
_FROM_XYZ = np.linalg.inv(SRGB.to_xyz)

Corner = tuple[float, float]
"""x and y in parts of the photograph."""
WHOLE: tuple[Corner, ...] = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))


@dataclass(frozen=True, slots=True, eq=False)
class Flat:
    """A sheet seen from straight above. rgb (h, w, 3): linear sRGB as the camera gave it, float32; burnt (h, w): where
    it was clipped."""

    rgb: NDArray[np.float32]
    burnt: NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Box:
    """Where a swatch lies on the squared sheet, in parts of its width and height."""

    left: float
    top: float
    right: float
    bottom: float


EVERYWHERE = Box(0, 0, 1, 1)


def squared(photo: Picture, corners: Sequence[Corner] | None, aspect: float | None = None) -> Flat:
    """The sheet between four corners, clockwise from its upper left; all of the photograph if there are none.

    aspect: its width by its height, told from the corners if it is not known. Raises InputError (`bad_corners`).
    """
    small = scaled(photo, _LONGEST_PHOTO)
    rgb = (small.space.xyz(small.pixels) @ _FROM_XYZ).astype(np.float32)
    burnt = (small.pixels >= _BURNT).any(axis=2)
    h, w = burnt.shape
    at = np.array(corners or WHOLE, dtype=float) * (w, h)
    check_corners(at, max(w, h))
    sides = np.linalg.norm(np.roll(at, -1, axis=0) - at, axis=1)
    wide = aspect or float((sides[0] + sides[2]) / (sides[1] + sides[3]))
    out = (_LONGEST, round(_LONGEST / wide)) if wide >= 1 else (round(_LONGEST * wide), _LONGEST)
    to = np.array(((0, 0), (out[0], 0), (out[0], out[1]), (0, out[1])), dtype=float)
    flat = straightened(np.dstack([rgb, burnt.astype(np.float32)]), at, to, out)
    return Flat(np.ascontiguousarray(flat[..., :3]), flat[..., 3] > 0.3)


def straightened(
    image: NDArray[np.float32], at: NDArray[np.float64], to: NDArray[np.float64], size: tuple[int, int]
) -> NDArray[np.float32]:
    """What lies between four corners of an image, in pixels, brought to four others in one of another size (wide,
    high); between pixels linearly."""
    matrix = cv2.getPerspectiveTransform(to.astype(np.float32), at.astype(np.float32))
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(image, matrix, size, flags=how, borderMode=cv2.BORDER_REPLICATE))


def check_corners(at: NDArray[np.float64], longest: float) -> None:
    """Raises InputError (`bad_corners`) for four points that are no sheet's corners, clockwise from its upper left."""
    if at.shape != (4, 2) or not np.isfinite(at).all():
        raise _bad_corners("A sheet has four corners.")
    along = np.roll(at, -1, axis=0) - at
    turn = along[:, 0] * np.roll(along, -1, axis=0)[:, 1] - along[:, 1] * np.roll(along, -1, axis=0)[:, 0]
    if np.linalg.norm(along, axis=1).min() < _LEAST_SIDE * longest or not (turn > 0).all():
        raise _bad_corners("These corners are no sheet.")


def _bad_corners(said: str) -> InputError:
    hint = "Set them on the paper's corners, clockwise from its upper left, well apart."
    return InputError("bad_corners", said, hint, "corners")
