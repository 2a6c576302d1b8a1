"""Decoding a reference: limits, orientation, colour profile. Bytes in, pixels out."""

from __future__ import annotations

import contextlib
import io
import warnings
from dataclasses import dataclass, replace

import numpy as np
import pillow_heif
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from core.colour.spaces import SRGB, RgbSpace
from core.errors import PictureError
from core.look.profile import IccSpace, grey_codes, name_of, nearest_space

MAX_BYTES = 64 * 1024 * 1024
MAX_PIXELS = 64_000_000
MIN_SIDE = 16
FORMATS = ("JPEG", "PNG", "WEBP", "TIFF", "HEIF")
_USE = "Use a JPEG, PNG, WebP, TIFF or HEIC picture, or the page of a PDF."
pillow_heif.register_heif_opener()
_COARSE = 3
"""Frequencies a side of a JPEG table (8 × 8) that stand for what is larger than a few pixels."""
_STILL = ("MPO", "HEIF")
"""Formats that hold previews and depth maps beside the one picture that counts."""
_PLAIN_MODES = ("RGB", "RGBA", "RGBX", "L", "LA", "P", "PA", "1", "YCbCr", "CMYK", "I;16", "I;16B", "I;16L")


@dataclass(frozen=True, slots=True, eq=False)
class Picture:
    """pixels (h, w, channels): 8-bit, upright, as stored, with three channels for RGB and four for CMYK.

    space: what they mean. profile: what the file said about that. coarseness: mean step with which a JPEG file kept the
    coarse part of its colours, of 255; 0 if it is none.
    """

    pixels: NDArray[np.uint8]
    space: RgbSpace | IccSpace
    profile: str
    coarseness: float = 0.0

    @property
    def width(self) -> int:
        return int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        return int(self.pixels.shape[0])


def read_picture(data: bytes) -> Picture:
    """Decode a still picture.

    Raises PictureError: picture_empty, picture_too_many_bytes, picture_unreadable, picture_truncated,
    picture_too_small, picture_too_many_pixels, picture_moves, picture_cmyk_unprofiled, picture_mode.
    """
    if not data:
        raise PictureError("picture_empty", "The file is empty (0 bytes).", "Choose the picture again.")
    if len(data) > MAX_BYTES:
        raise PictureError(
            "picture_too_many_bytes",
            f"The file has {len(data) / 2**20:.0f} MB; the limit is {MAX_BYTES // 2**20} MB.",
            "Save it smaller, or as JPEG.",
        )
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        image = _open(data)
        try:
            _check(image)
            image.load()
            return replace(_upright(image), coarseness=_coarseness(image))
        except PictureError:
            raise
        except Exception as error:  # whatever a decoder trips over means the same to the artist
            raise PictureError(
                "picture_truncated",
                "The picture is cut off or damaged.",
                "Copy or export it again, then put it in anew.",
            ) from error


def _coarseness(image: Image.Image) -> float:
    tables = getattr(image, "quantization", None)
    if not tables:
        return 0.0
    return float(np.mean(np.reshape(tables[max(tables)], (8, 8))[:_COARSE, :_COARSE]))


def _open(data: bytes) -> Image.Image:
    try:
        return Image.open(io.BytesIO(data), formats=FORMATS)
    except Image.DecompressionBombError as error:
        raise _too_many_pixels("far more than") from error
    except UnidentifiedImageError as error:
        raise PictureError("picture_unreadable", "This is not a picture Caltin can read.", _USE) from error
    except Exception as error:  # as above: a header that a decoder trips over
        raise PictureError("picture_unreadable", "The picture's beginning is damaged.", _USE) from error


def _too_many_pixels(how_many: str) -> PictureError:
    return PictureError(
        "picture_too_many_pixels",
        f"The picture has {how_many} {MAX_PIXELS // 1_000_000} million pixels, which is the limit.",
        "Scale it down and put it in again.",
    )


def _check(image: Image.Image) -> None:
    width, height = image.size
    if width * height > MAX_PIXELS:
        raise _too_many_pixels(f"{width * height / 1e6:.0f} million pixels, more than the")
    if min(width, height) < MIN_SIDE:
        raise PictureError(
            "picture_too_small",
            f"The picture is {width} × {height} pixels; each side needs at least {MIN_SIDE}.",
            "Use a larger picture.",
        )
    if image.format not in _STILL and getattr(image, "n_frames", 1) > 1:
        raise PictureError(
            "picture_moves", "This file holds several pictures or an animation.", "Save one picture of it and use that."
        )
    if image.mode not in _PLAIN_MODES:
        raise PictureError(
            "picture_mode",
            f"Pictures of the kind “{image.mode}” are not read yet.",
            "Save it as 8-bit RGB and try again.",
        )
    if image.mode == "CMYK" and not image.info.get("icc_profile"):
        raise PictureError(
            "picture_cmyk_unprofiled",
            "This CMYK picture does not say which inks it means, so its colours are uncertain.",
            "Save it as RGB, or with its colour profile.",
        )


def _upright(image: Image.Image) -> Picture:
    icc = image.info.get("icc_profile")
    orientation = image.getexif().get(0x0112, 1)
    if image.mode.startswith("I;16"):
        image = Image.fromarray((np.asarray(image).astype(np.uint32) // 257).astype(np.uint8))
    elif "transparency" in image.info or image.mode in ("RGBA", "LA", "PA"):
        clear = image.convert("RGBA")
        image = Image.alpha_composite(Image.new("RGBA", clear.size, "white"), clear)
    elif image.mode == "CMYK":
        return Picture(_turned(image, orientation), IccSpace(icc or b"", "cmyk"), _checked_cmyk(icc or b""))
    if image.mode in ("L", "1"):
        return Picture(_turned(_grey(image, icc), orientation), SRGB, "grey")
    space, profile = _space_of(icc)
    return Picture(_turned(image.convert("RGB"), orientation), space, profile)


def _turned(image: Image.Image, orientation: int) -> NDArray[np.uint8]:
    if orientation in range(2, 9):
        exif = Image.Exif()
        exif[0x0112] = orientation
        image.info["exif"] = exif.tobytes()
        image = ImageOps.exif_transpose(image)
    return np.asarray(image)


def _grey(image: Image.Image, icc: bytes | None) -> Image.Image:
    grey = image.convert("L")
    if icc:
        # With a damaged or wrong profile the codes of a grey picture are taken as they are.
        with contextlib.suppress(RuntimeError, ValueError):
            grey = grey.point(grey_codes(icc))
    return grey.convert("RGB")


def _space_of(icc: bytes | None) -> tuple[RgbSpace | IccSpace, str]:
    """What RGB codes mean. Files without a usable profile count as sRGB."""
    if not icc:
        return SRGB, "sRGB (none given)"
    try:
        return nearest_space(icc), name_of(icc)
    except (ImageCms.PyCMSError, OSError):
        return SRGB, "sRGB (the profile is damaged)"


def _checked_cmyk(icc: bytes) -> str:
    try:
        space = IccSpace(icc, "cmyk")
        space.xyz(np.zeros((1, 4), np.uint8))
        return name_of(icc)
    except (ImageCms.PyCMSError, OSError, RuntimeError, ValueError) as error:
        raise PictureError(
            "picture_cmyk_unprofiled",
            "The colour profile of this CMYK picture is damaged.",
            "Save it as RGB and try again.",
        ) from error
