"""A camera that is not there: what is flat and known, photographed as with a phone by a lamp.

Other physics than the reader's: crosstalk between channels, a tone curve, a lamp that falls off with the square of its
distance, shot noise, a lens that darkens to the corners, JPEG.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy import ndimage
from skimage.transform import ProjectiveTransform, warp

from core.colour.spaces import SRGB, srgb_encode

_FROM_XYZ = np.linalg.inv(SRGB.to_xyz)
CURVES = {"none": 0.0, "mild": 1.2, "strong": 2.4}
"""How much of a phone's tone curve: a lifted middle and a shoulder. With one white for the whole sheet swatches are
then off by 3.6 ΔE00 in the median, and by 7.5 at the 90th percentile."""
_MIXING = 0.06
"""How much of its neighbours' light a channel still holds after the camera's own correction."""


@dataclass(frozen=True, slots=True)
class Camera:
    """seed: of everything that is left to chance; curve: of CURVES; tilt: how far corners move, as a part of the side;
    glare: whether a lamp shines back from the sheet."""

    seed: int = 0
    curve: str = "mild"
    tilt: float = 0.08
    glare: bool = False
    size: tuple[int, int] = (1200, 900)


def photograph(xyz: NDArray[np.float64], camera: Camera) -> tuple[bytes, list[tuple[float, float]]]:
    """A JPEG of a sheet (h, w, 3), XYZ under D65 with paper at its own lightness, and the sheet's corners in parts of
    it, clockwise from the upper left."""
    rng = np.random.default_rng(camera.seed)
    w, h = camera.size
    sheet = xyz @ _FROM_XYZ
    high, wide = sheet.shape[:2]
    # A filter of the camera passes something of its neighbours', and undoing that by rote leaves a rest.
    mixing = np.eye(3) + rng.uniform(-_MIXING, _MIXING, (3, 3))
    sheet = sheet @ (mixing / mixing.sum(axis=0))
    corners, to_sheet = _view(rng, camera.tilt, w, h, wide, high)
    table = np.full(3, rng.uniform(0.08, 0.3)) * rng.uniform(0.85, 1.15, 3)
    mask = warp(np.ones((high, wide)), to_sheet, output_shape=(h, w), order=1, cval=0.0)[..., None]
    seen = warp(sheet, to_sheet, output_shape=(h, w), order=1, cval=0.0) * mask + table * (1 - mask)
    light = seen * _lamp(rng, h, w)[..., None] * rng.uniform(0.75, 1.25, 3)
    light *= 0.82 / np.percentile(light[mask[..., 0] > 0.5].max(axis=1), 97)
    if camera.glare:
        y, x = np.mgrid[0:h, 0:w]
        spot = np.exp(-((x - w * 0.45) ** 2 + (y - h * 0.5) ** 2) / (2 * (0.1 * w) ** 2))
        light += 1.5 * spot[..., None]
    light = ndimage.gaussian_filter(light, (0.7, 0.7, 0))
    light += rng.normal(size=light.shape) * np.sqrt(0.00002 + 0.00025 * np.maximum(light, 0))
    curved = _curve(np.clip(light, 0, 1), CURVES[camera.curve])
    out = io.BytesIO()
    Image.fromarray(np.rint(srgb_encode(curved) * 255).astype(np.uint8)).save(out, "JPEG", quality=90)
    return out.getvalue(), corners


def _view(
    rng: np.random.Generator, tilt: float, w: int, h: int, wide: int, high: int
) -> tuple[list[tuple[float, float]], ProjectiveTransform]:
    scale = 0.82 * min(w / wide, h / high)
    half = np.array([wide, high]) * scale / 2
    square = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half + (w / 2, h / 2)
    at = square + rng.uniform(-tilt, tilt, (4, 2)) * half
    of_sheet = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], dtype=float)
    return [(float(x / w), float(y / h)) for x, y in at], ProjectiveTransform.from_estimate(at, of_sheet)


def _lamp(rng: np.random.Generator, h: int, w: int) -> NDArray[np.float64]:
    """A lamp at one side: by the inverse square of its distance and the angle of its light; darker to the corners."""
    y, x = np.mgrid[0:h, 0:w] / max(h, w)
    lamp = np.array([rng.uniform(-0.6, 1.6), rng.uniform(-0.8, 0.4)])
    far = np.hypot(x - lamp[0], y - lamp[1])
    height = rng.uniform(1.0, 1.6)
    lit = height / (far**2 + height**2) ** 1.5
    lens = 1 - 0.18 * ((x - 0.5 * w / max(h, w)) ** 2 + (y - 0.5 * h / max(h, w)) ** 2)
    return np.asarray(lit / lit.max() * lens)


def _curve(light: NDArray[np.float64], amount: float) -> NDArray[np.float64]:
    """A lifted middle, deeper shadows and a shoulder, blended in by `amount`."""
    shown = light ** (1 / 1.12)
    shown = shown + 0.22 * shown * (1 - shown) * (2 * shown - 0.75)
    return np.asarray(np.clip(light + amount * (shown - light), 0, 1))
