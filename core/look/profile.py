"""What the codes of a picture with an ICC profile mean. LittleCMS does the work, in floating point for readings."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import imagecodecs
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from core.colour.spaces import D65_WHITE, DISPLAY_P3, SRGB, Floats, RgbSpace, srgb_encode

_D50: Floats = np.array([0.9642, 1.0, 0.8249])
"""White of the profile connection space. Source: ICC.1."""
_BRADFORD: Floats = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
"""Source: ICC.1, annex E, after Lam 1985."""
_INTENT = ImageCms.Intent.RELATIVE_COLORIMETRIC


def _to_daylight() -> NDArray[np.float32]:
    gain = (_BRADFORD @ D65_WHITE) / (_BRADFORD @ _D50)
    return np.asarray((np.linalg.inv(_BRADFORD) @ np.diag(gain) @ _BRADFORD).T, dtype=np.float32)


_DAYLIGHT = _to_daylight()


@dataclass(frozen=True, slots=True)
class IccSpace:
    """The colours of a profile. kind: `rgb` (three channels) or `cmyk` (four)."""

    icc: bytes
    kind: str

    def xyz(self, pixels: NDArray[np.uint8]) -> NDArray[np.float32]:
        """XYZ (…, 3), relative to D65, of 8-bit pixels (…, channels).

        Relative colorimetric into the profile connection space, and from D50 to D65 by Bradford.
        Raises RuntimeError for a profile that LittleCMS refuses.
        """
        flat = np.ascontiguousarray(pixels.reshape(1, -1, pixels.shape[-1]))
        seen = _transformed(flat, self.icc, self.kind)
        return np.asarray((seen @ _DAYLIGHT).reshape(*pixels.shape[:-1], 3))

    def shown(self, pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
        """The nearest Display P3 pixels (h, w, 3), rounded to 8 bits: for looking, not for reading."""
        mode = "CMYK" if self.kind == "cmyk" else "RGB"
        image = Image.frombytes(mode, (pixels.shape[1], pixels.shape[0]), np.ascontiguousarray(pixels).tobytes())
        done = ImageCms.applyTransform(image, _transform(_opened(self.icc), _wide(), mode))
        assert done is not None
        return np.asarray(done)


def grey_codes(icc: bytes) -> list[int]:
    """The sRGB code of each of the 256 codes of a grey profile. Raises RuntimeError or ValueError if it is none."""
    steps = np.arange(256, dtype=np.uint8).reshape(1, -1)
    light = _transformed(steps, icc, "gray")[0, :, 1]
    return [int(code) for code in np.rint(srgb_encode(light) * 255)]


def nearest_space(icc: bytes) -> RgbSpace | IccSpace:
    """sRGB or Display P3 where the profile changes no colour of a test lattice by more than one code, else itself.

    Raises PyCMSError or OSError for a damaged profile.
    """
    source = _opened(icc)
    lattice = np.asarray(_lattice()).astype(int)
    for target, space in ((_standard(), SRGB), (_wide(), DISPLAY_P3)):
        seen = ImageCms.applyTransform(_lattice(), _transform(source, target, "RGB"))
        if seen is not None and np.abs(np.asarray(seen).astype(int) - lattice).max() <= 1:
            return space
    return IccSpace(icc, "rgb")


def name_of(icc: bytes) -> str:
    """What the profile calls itself. Raises OSError or PyCMSError for a damaged one."""
    return (_opened(icc).profile.profile_description or "unnamed").strip()[:80]


def _opened(icc: bytes) -> ImageCms.ImageCmsProfile:
    return ImageCms.ImageCmsProfile(io.BytesIO(icc))


def _transformed(pixels: NDArray[np.uint8], icc: bytes, kind: str) -> NDArray[np.float32]:
    return np.asarray(
        imagecodecs.cms_transform(
            pixels, icc, _connection(), colorspace=kind, outcolorspace="xyz", outdtype="float32", intent=int(_INTENT)
        )
    )


def _transform(
    source: ImageCms.ImageCmsProfile, target: ImageCms.ImageCmsProfile, mode: str
) -> ImageCms.ImageCmsTransform:
    return ImageCms.buildTransform(source, target, mode, "RGB", _INTENT)


@cache
def _connection() -> bytes:
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("XYZ")).tobytes()


@cache
def _wide() -> ImageCms.ImageCmsProfile:
    return _opened(files("core.look").joinpath("data/display-p3.icc").read_bytes())


@cache
def _standard() -> ImageCms.ImageCmsProfile:
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB"))


@cache
def _lattice() -> Image.Image:
    steps = np.linspace(0, 255, 9).round().astype(np.uint8)
    return Image.fromarray(np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(27, 27, 3))
