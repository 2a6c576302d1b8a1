"""Decoding a reference: limits, orientation, colour profile. Bytes in, pixels out."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from core.colour.spaces import DISPLAY_P3, SRGB, RgbSpace
from core.errors import PictureError

MAX_BYTES = 64 * 1024 * 1024
MAX_PIXELS = 64_000_000
MIN_SIDE = 16
FORMATS = ("JPEG", "PNG", "WEBP", "TIFF")
_USE = "Use a JPEG, PNG, WebP or TIFF picture."
_PLAIN_MODES = ("RGB", "RGBA", "RGBX", "L", "LA", "P", "PA", "1", "YCbCr", "CMYK", "I;16", "I;16B", "I;16L")


@dataclass(frozen=True, slots=True, eq=False)
class Picture:
    """pixels (h, w, 3): 8-bit, upright, in `space`. profile: what the file said about its colours."""

    pixels: NDArray[np.uint8]
    space: RgbSpace
    profile: str

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
            return _upright_rgb(image)
        except PictureError:
            raise
        except Exception as error:  # whatever a decoder trips over means the same to the artist
            raise PictureError(
                "picture_truncated",
                "The picture is cut off or damaged.",
                "Copy or export it again, then put it in anew.",
            ) from error


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
    if image.format != "MPO" and getattr(image, "n_frames", 1) > 1:
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


def _upright_rgb(image: Image.Image) -> Picture:
    icc = image.info.get("icc_profile")
    orientation = image.getexif().get(0x0112, 1)
    if image.mode.startswith("I;16"):
        image = Image.fromarray((np.asarray(image).astype(np.uint32) // 257).astype(np.uint8))
        icc = None
    elif image.mode == "CMYK":
        image, space, profile = _convert_cmyk(image, icc)
        return Picture(_turned(image, orientation), space, profile)
    elif "transparency" in image.info or image.mode in ("RGBA", "LA", "PA"):
        clear = image.convert("RGBA")
        image = Image.alpha_composite(Image.new("RGBA", clear.size, "white"), clear)
    grey = image.mode in ("L", "1")
    rgb = image.convert("RGB")
    rgb, space, profile = _profiled(rgb, None if grey else icc)
    return Picture(_turned(rgb, orientation), space, profile)


def _turned(image: Image.Image, orientation: int) -> NDArray[np.uint8]:
    if orientation in range(2, 9):
        exif = Image.Exif()
        exif[0x0112] = orientation
        image.info["exif"] = exif.tobytes()
        image = ImageOps.exif_transpose(image)
    return np.asarray(image)


@cache
def _wide() -> ImageCms.ImageCmsProfile:
    data = files("core.look").joinpath("data/display-p3.icc").read_bytes()
    return ImageCms.ImageCmsProfile(io.BytesIO(data))


@cache
def _standard() -> ImageCms.ImageCmsProfile:
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB"))


@cache
def _lattice() -> Image.Image:
    steps = np.linspace(0, 255, 9).round().astype(np.uint8)
    return Image.fromarray(np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(27, 27, 3))


def _transform(
    source: ImageCms.ImageCmsProfile, target: ImageCms.ImageCmsProfile, mode: str
) -> ImageCms.ImageCmsTransform:
    return ImageCms.buildTransform(source, target, mode, "RGB", ImageCms.Intent.RELATIVE_COLORIMETRIC)


def _name(profile: ImageCms.ImageCmsProfile) -> str:
    return (profile.profile.profile_description or "unnamed").strip()[:80]


def _profiled(image: Image.Image, icc: bytes | None) -> tuple[Image.Image, RgbSpace, str]:
    """The picture in sRGB or Display P3. Files without a usable profile count as sRGB.

    A profile that changes no colour of a test lattice by more than one code is not applied again.
    """
    if not icc:
        return image, SRGB, "sRGB (none given)"
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        lattice = np.asarray(_lattice()).astype(int)
        for target, space in ((_standard(), SRGB), (_wide(), DISPLAY_P3)):
            seen = ImageCms.applyTransform(_lattice(), _transform(source, target, "RGB"))
            if seen is not None and np.abs(np.asarray(seen).astype(int) - lattice).max() <= 1:
                return image, space, _name(source)
        converted = ImageCms.applyTransform(image, _transform(source, _wide(), "RGB"))
    except (ImageCms.PyCMSError, OSError):
        return image, SRGB, "sRGB (the profile is damaged)"
    assert converted is not None
    return converted, DISPLAY_P3, _name(source)


def _convert_cmyk(image: Image.Image, icc: bytes | None) -> tuple[Image.Image, RgbSpace, str]:
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(icc or b""))
        converted = ImageCms.applyTransform(image, _transform(source, _wide(), "CMYK"))
    except (ImageCms.PyCMSError, OSError) as error:
        raise PictureError(
            "picture_cmyk_unprofiled",
            "The colour profile of this CMYK picture is damaged.",
            "Save it as RGB and try again.",
        ) from error
    assert converted is not None
    return converted, DISPLAY_P3, _name(source)
