"""RGB, CIE XYZ and CIELAB, and the way between them. All for the 2° observer and D65.

Colour arrays have shape (…, 3). XYZ is scaled so that the white has Y = 1.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from core.errors import InputError

Floats = NDArray[np.floating[Any]]

D65_WHITE: Floats = np.array([0.95047, 1.0, 1.08883])
"""XYZ of the sRGB white. Source: IEC 61966-2-1."""

_EPSILON = (6.0 / 29.0) ** 3
_KAPPA = (29.0 / 3.0) ** 3
_HEX = re.compile(r"#?[0-9a-fA-F]{6}")


def _rgb_to_xyz_matrix(primaries: tuple[tuple[float, float], ...]) -> Floats:
    """Matrix (3, 3) from linear RGB (row vector) to XYZ, for primaries given as CIE xy."""
    columns = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in primaries]).T
    scale = np.linalg.solve(columns, D65_WHITE)
    return np.asarray((columns * scale).T)


@dataclass(frozen=True, slots=True, eq=False)
class RgbSpace:
    """An RGB space with the sRGB transfer curve. `to_xyz` (3, 3) acts on row vectors of linear light."""

    name: str
    to_xyz: Floats

    def decode_table(self) -> NDArray[np.float32]:
        """Linear light, 0–1, of the 256 code values of an 8-bit channel."""
        return srgb_decode(np.arange(256) / 255.0).astype(np.float32)

    def xyz(self, pixels: NDArray[np.uint8]) -> NDArray[np.float32]:
        """XYZ (…, 3) of 8-bit pixels (…, 3)."""
        return np.asarray(self.decode_table()[pixels] @ self.to_xyz.astype(np.float32))


SRGB = RgbSpace("sRGB", _rgb_to_xyz_matrix(((0.64, 0.33), (0.30, 0.60), (0.15, 0.06))))
"""Primaries: IEC 61966-2-1."""
DISPLAY_P3 = RgbSpace("Display P3", _rgb_to_xyz_matrix(((0.68, 0.32), (0.265, 0.69), (0.15, 0.06))))
"""Primaries: SMPTE EG 432-1, with the D65 white and the sRGB curve."""

_XYZ_TO_SRGB = np.linalg.inv(SRGB.to_xyz)


def srgb_decode(encoded: ArrayLike) -> Floats:
    """Linear light of sRGB-encoded values, 0–1. Source: IEC 61966-2-1."""
    e = np.asarray(encoded, dtype=float)
    return np.asarray(np.where(e <= 0.04045, e / 12.92, ((np.maximum(e, 0.04045) + 0.055) / 1.055) ** 2.4))


def srgb_encode(linear: ArrayLike) -> Floats:
    """sRGB encoding of linear light, clipped to 0–1. Source: IEC 61966-2-1."""
    v = np.clip(np.asarray(linear, dtype=float), 0.0, 1.0)
    return np.asarray(np.where(v <= 0.0031308, v * 12.92, 1.055 * np.maximum(v, 0.0031308) ** (1 / 2.4) - 0.055))


def xyz_to_lab(xyz: ArrayLike) -> Floats:
    """CIELAB (…, 3) of XYZ relative to D65. Source: CIE 15."""
    t = np.asarray(xyz)
    t = t / D65_WHITE.astype(t.dtype if t.dtype.kind == "f" else float)
    f = np.where(t > _EPSILON, np.cbrt(t), (_KAPPA * t + 16.0) / 116.0).astype(t.dtype)
    lab = np.empty_like(f)
    lab[..., 0] = 116.0 * f[..., 1] - 16.0
    lab[..., 1] = 500.0 * (f[..., 0] - f[..., 1])
    lab[..., 2] = 200.0 * (f[..., 1] - f[..., 2])
    return np.asarray(lab)


def lab_to_xyz(lab: ArrayLike) -> Floats:
    """XYZ (…, 3) of CIELAB relative to D65. Source: CIE 15."""
    arr = np.asarray(lab, dtype=float)
    fy = (arr[..., 0] + 16.0) / 116.0
    f = np.stack([fy + arr[..., 1] / 500.0, fy, fy - arr[..., 2] / 200.0], axis=-1)
    t = np.where(f**3 > _EPSILON, f**3, (116.0 * f - 16.0) / _KAPPA)
    return np.asarray(t * D65_WHITE)


def lab_to_lch(lab: ArrayLike) -> Floats:
    """Lightness, chroma and hue angle in degrees (0–360) of CIELAB (…, 3)."""
    arr = np.asarray(lab, dtype=float)
    chroma = np.hypot(arr[..., 1], arr[..., 2])
    hue_deg = np.degrees(np.arctan2(arr[..., 2], arr[..., 1])) % 360.0
    return np.stack([arr[..., 0], chroma, hue_deg], axis=-1)


def hex_to_xyz(code: str) -> Floats:
    """XYZ (3,) of a colour written `#rrggbb` in sRGB.

    Raises InputError (`bad_hex`) for anything else.
    """
    if not _HEX.fullmatch(code):
        raise InputError("bad_hex", f"“{code[:20]}” is not a colour.", "Write six hex digits, such as #c08a6a.", "hex")
    digits = code.lstrip("#")
    rgb = np.array([int(digits[i : i + 2], 16) for i in (0, 2, 4)]) / 255.0
    return np.asarray(srgb_decode(rgb) @ SRGB.to_xyz)


def xyz_to_hex(xyz: ArrayLike) -> str:
    """The nearest displayable sRGB colour of XYZ (3,), as `#rrggbb`."""
    return f"#{xyz_to_pixels(xyz).tobytes().hex()}"


def xyz_to_hexes(xyz: ArrayLike) -> tuple[str, ...]:
    """The same of n colours (n, 3)."""
    return tuple(f"#{pixel.tobytes().hex()}" for pixel in xyz_to_pixels(xyz))


def xyz_to_pixels(xyz: ArrayLike) -> NDArray[np.uint8]:
    """The nearest displayable sRGB pixels (…, 3) of XYZ (…, 3)."""
    return np.asarray(np.rint(srgb_encode(np.asarray(xyz, dtype=float) @ _XYZ_TO_SRGB) * 255), dtype=np.uint8)


def hex_to_lab(code: str) -> Floats:
    """CIELAB (3,) of `#rrggbb`."""
    return xyz_to_lab(hex_to_xyz(code))


def lab_to_hex(lab: ArrayLike) -> str:
    """The nearest displayable colour of CIELAB (3,)."""
    return xyz_to_hex(lab_to_xyz(lab))
