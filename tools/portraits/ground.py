"""What lies behind the sitters, and the picture as it is kept."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from core.colour.spaces import srgb_encode
from tools.portraits.noise import clouds, step
from tools.portraits.render import Picture

Floats = NDArray[np.float64]


def painted(height: int, width: int, evening: bool) -> Floats:
    """Sky, sea and a rail, in linear sRGB."""
    y, x = np.meshgrid(np.linspace(0, 1, height), np.linspace(0, 1, width), indexing="ij")
    flat = np.stack([x.ravel() * 5, y.ravel() * 16, np.full(x.size, 7.0)], axis=1)
    veil = (clouds(flat, 4) - 0.5).reshape(height, width, 1)
    ripple = (clouds(flat * [3, 5, 1], 3) - 0.5).reshape(height, width, 1)
    top, low, sea, glow = (
        ((0.011, 0.019, 0.060), (0.105, 0.100, 0.135), (0.007, 0.012, 0.030), (0.05, 0.035, 0.03)) if evening
        else ((0.21, 0.25, 0.30), (0.47, 0.49, 0.49), (0.155, 0.185, 0.21), (0.10, 0.10, 0.10))
    )  # fmt: skip
    horizon = 0.60
    share = np.clip(y / horizon, 0, 1)[..., None] ** 1.3
    sky = np.array(top) * (1 - share) + np.array(low) * share * (1 + 0.35 * veil)
    water = np.array(sea) * (1 + 0.7 * ripple) + np.array(glow) * np.exp(-(((y - horizon) / 0.05) ** 2))[..., None]
    below = step(horizon - 0.003, horizon + 0.005, y)[..., None]
    painted = np.clip(sky * (1 - below) + water * below, 0, 1)
    rail, shade = np.zeros((height, width)), np.zeros((height, width))
    for at, thick in ((0.70, 0.020), (0.83, 0.012)):
        inside = np.abs(y - at) < thick * 0.6
        rail[inside], shade[inside] = 1, (0.5 - (y[inside] - at) / thick / 1.2)
    soft = height / 300
    rail, shade = gaussian_filter(rail, soft)[..., None], np.clip(gaussian_filter(shade, soft), 0, 1)[..., None]
    bright, dark = ((0.30, 0.20, 0.12), (0.02, 0.022, 0.045)) if evening else ((0.58, 0.60, 0.60), (0.17, 0.19, 0.21))
    wood = np.array(dark) * (1 - shade) + np.array(bright) * shade
    return np.asarray(gaussian_filter(painted * (1 - rail) + wood * rail, (1.2 * soft, 1.2 * soft, 0)))


def over(picture: Picture, ground: Floats) -> Floats:
    """The picture (h, w, 3) over its ground, in linear sRGB; too bright is drawn in at the same hue."""
    linear = np.clip(picture.image, 0, None) + ground * (1 - picture.alpha[..., None])
    most = linear.max(axis=2)
    soft = 0.8 + 0.2 * (1 - np.exp(-np.clip(most - 0.8, 0, None) / 0.2))
    scale = np.where(most > 0.8, soft / np.maximum(most, 1e-6), 1.0)
    return np.asarray(np.clip(linear * scale[..., None], 0, 1))


def encoded(linear: Floats) -> NDArray[np.uint8]:
    """A picture in linear sRGB, 0–1, as 8-bit sRGB."""
    return (srgb_encode(linear) * 255 + 0.5).astype(np.uint8)
