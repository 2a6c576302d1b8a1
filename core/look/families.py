"""Light and shadow families of the skin, the border between them, and where the light comes from."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from skimage.filters import threshold_otsu

from core.colour.munsell import y_to_value
from core.colour.spaces import SRGB, Floats

Mask = NDArray[np.bool_]

_FLOOR = 0.002
_SMOOTHING = 0.006
"""Standard deviation of the smoothing, as a part of the longer side."""


def brightness(xyz: Floats, skin: Mask) -> Floats:
    """Logarithm of the red light from each pixel of XYZ (h, w, 3), smoothed inside the skin.

    Red, because blood and therefore blushes and lips darken skin far less there than in green and
    blue, so that it follows the light rather than the colour (absorption of haemoglobin, Prahl's compilation).
    """
    red = np.log(np.clip(np.asarray(xyz, dtype=float) @ _TO_RED, _FLOOR, None))
    return _smoothed(red, skin)


_TO_RED = np.linalg.inv(SRGB.to_xyz)[:, 0]


def _smoothed(quantity: Floats, inside: Mask) -> Floats:
    """The quantity (h, w) as a mean of what lies inside, around each pixel; 0 far from it."""
    sigma = _SMOOTHING * max(quantity.shape)
    out = np.zeros(quantity.shape)
    if not inside.any():
        return out
    margin = int(4 * sigma) + 1
    part = tuple(
        slice(max(0, int(at.min()) - margin), int(at.max()) + margin + 1)
        for at in (np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0)))
    )
    weight = ndimage.gaussian_filter(inside[part].astype(float), sigma)
    mean = ndimage.gaussian_filter(np.where(inside[part], quantity[part], 0.0), sigma)
    out[part] = mean / np.maximum(weight, 1e-6)
    return out


def light_family(xyz: Floats, skin: Mask) -> Mask:
    """Where the skin lies in the light: the brighter of two classes (Otsu 1979). False outside the skin."""
    if not skin.any():
        return np.zeros(skin.shape, bool)
    level = brightness(xyz, skin)
    inside = level[skin]
    if np.ptp(inside) < 1e-6:
        return skin.copy()
    return np.asarray(skin & (level > threshold_otsu(inside)))


def border(skin: Mask, light: Mask) -> Mask:
    """The pixels of the light family that touch the shadow family."""
    return np.asarray(light & ndimage.binary_dilation(skin & ~light))


def border_value(xyz: Floats, skin: Mask, light: Mask) -> float | None:
    """Munsell value where light turns to shadow; None if there is no such border."""
    edge = border(skin, light)
    if not edge.any():
        return None
    values = y_to_value(_smoothed(np.asarray(xyz[..., 1], dtype=float), skin)[edge])
    return float(np.median(values))


def light_direction(xyz: Floats, skin: Mask) -> float | None:
    """Where the light comes from in the picture, in degrees: 0 right, 90 above; None for too little skin.

    The direction in which the skin brightens on average (least squares), with its width and height
    counted alike: across a rounded form the surface turns from one edge to the other, however long it is.
    """
    if skin.sum() < 50:
        return None
    ys, xs = np.nonzero(skin)
    level = brightness(xyz, skin)[skin]
    across, upward = (xs - xs.mean()) / max(xs.std(), 1.0), (ys.mean() - ys) / max(ys.std(), 1.0)
    system = np.column_stack([across, upward, np.ones(len(xs))])
    (right, up, _), *_ = np.linalg.lstsq(system, level, rcond=None)
    if math.hypot(right, up) < 1e-9:
        return None
    return math.degrees(math.atan2(up, right)) % 360
