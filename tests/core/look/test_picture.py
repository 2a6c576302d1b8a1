import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image

from core.colour.spaces import DISPLAY_P3, SRGB
from core.errors import PictureError
from core.look import picture as module
from core.look.picture import read_picture
from tests.conftest import ROOT, picture_bytes

P3 = (ROOT / "core/look/data/display-p3.icc").read_bytes()


def gradient(height: int = 40, width: int = 60) -> np.ndarray:
    ys, xs = np.mgrid[0:height, 0:width]
    return np.stack([xs * 4, ys * 6, np.full_like(xs, 90)], axis=-1).astype(np.uint8)


def noise() -> np.ndarray:
    return np.random.default_rng(0).integers(0, 256, (80, 80, 3), dtype=np.uint8)


def animation(form: str) -> bytes:
    frames = [Image.new("RGB", (32, 32), colour) for colour in ("red", "blue")]
    out = io.BytesIO()
    frames[0].save(out, form, save_all=True, append_images=frames[1:])
    return out.getvalue()


def saved(image: Image.Image, form: str, **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **more)  # type: ignore[arg-type]
    return out.getvalue()


def bomb() -> bytes:
    """A PNG of a few hundred bytes that claims 30000 × 30000 pixels."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    header = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(bytes(1000))) + chunk(b"IEND", b"")
    )


def over_the_limit() -> bytes:
    """Nine hundred million pixels are beyond even the decoder's own guard; this one is only just too large."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    header = struct.pack(">IIBBBBB", 8_001, 8_000, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", b"") + chunk(b"IEND", b"")


BAD = {
    "nothing": (b"", "picture_empty"),
    "text": (b"this is no picture at all", "picture_unreadable"),
    "svg": (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "picture_unreadable"),
    "pdf": (b"%PDF-1.7\n", "picture_unreadable"),
    "a GIF": (saved(Image.new("RGB", (32, 32)), "GIF"), "picture_unreadable"),
    "a header alone": (picture_bytes(form="JPEG")[:100], "picture_"),
    "half a JPEG": (picture_bytes(gradient(400, 600), form="JPEG")[:4000], "picture_truncated"),
    "half a PNG": (picture_bytes(noise())[:2000], "picture_truncated"),
    "one pixel": (picture_bytes(size=(1, 1)), "picture_too_small"),
    "a thread": (picture_bytes(size=(4000, 2)), "picture_too_small"),
    "a bomb": (bomb(), "picture_too_many_pixels"),
    "just too large": (over_the_limit(), "picture_too_many_pixels"),
    "moving WebP": (animation("WEBP"), "picture_moves"),
    "moving PNG": (animation("PNG"), "picture_moves"),
    "several pages": (animation("TIFF"), "picture_moves"),
    "CMYK without profile": (saved(Image.new("CMYK", (32, 32)), "JPEG"), "picture_cmyk_unprofiled"),
    "CMYK with a broken profile": (
        saved(Image.new("CMYK", (32, 32)), "TIFF", icc_profile=b"x" * 200),
        "picture_cmyk_unprofiled",
    ),
    "floating point": (saved(Image.new("F", (32, 32)), "TIFF"), "picture_mode"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_cannot_be_read_is_refused_with_a_reason_and_a_way_out(name: str) -> None:
    data, code = BAD[name]
    with pytest.raises(PictureError) as caught:
        read_picture(data)
    assert caught.value.code.startswith(code)
    assert caught.value.message.endswith(".")
    assert caught.value.hint.endswith(".")


def test_too_many_bytes_are_refused_with_both_numbers(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "MAX_BYTES", 1024 * 1024)
    with pytest.raises(PictureError, match=r"2 MB; the limit is 1 MB") as caught:
        read_picture(bytes(2 * 1024 * 1024))
    assert caught.value.code == "picture_too_many_bytes"


@pytest.mark.parametrize(("form", "options"), [("PNG", {}), ("WEBP", {"lossless": True}), ("TIFF", {})])
def test_lossless_formats_come_through_unchanged(form: str, options: dict[str, object]) -> None:
    pixels = gradient()
    read = read_picture(picture_bytes(pixels, form=form, **options))
    assert (read.pixels == pixels).all()
    assert read.space is SRGB
    assert (read.width, read.height) == (60, 40)


def test_jpeg_comes_through_nearly_unchanged() -> None:
    pixels = gradient()
    read = read_picture(picture_bytes(pixels, form="JPEG", quality=95, subsampling=0))
    assert np.abs(read.pixels.astype(int) - pixels).max() <= 6


@pytest.mark.parametrize("orientation", range(1, 9))
def test_every_exif_orientation_is_set_upright(orientation: int) -> None:
    upright = gradient()
    # How a camera stores an upright scene under each orientation. Source: CIPA DC-008 (Exif), tag 0x0112.
    stored = {
        1: upright,
        2: upright[:, ::-1],
        3: upright[::-1, ::-1],
        4: upright[::-1],
        5: upright.transpose(1, 0, 2),
        6: np.rot90(upright, 1),
        7: upright[::-1, ::-1].transpose(1, 0, 2),
        8: np.rot90(upright, -1),
    }[orientation]
    exif = Image.Exif()
    exif[0x0112] = orientation
    data = picture_bytes(np.ascontiguousarray(stored), exif=exif.tobytes())
    assert (read_picture(data).pixels == upright).all()


def test_transparency_is_seen_on_white() -> None:
    clear = Image.new("RGBA", (32, 32), (200, 0, 0, 0))
    assert (read_picture(saved(clear, "PNG")).pixels == 255).all()


def test_palettes_and_greys_are_read_as_colours() -> None:
    grey = Image.new("L", (32, 32), 77)
    assert (read_picture(saved(grey, "PNG")).pixels == 77).all()
    palette = Image.new("RGB", (32, 32), (10, 200, 30)).convert("P", palette=Image.Palette.ADAPTIVE)
    assert (read_picture(saved(palette, "PNG")).pixels == (10, 200, 30)).all()


def test_sixteen_bit_grey_is_scaled_not_clipped() -> None:
    deep = Image.fromarray(np.full((32, 32), 0x8080, dtype=np.uint16))
    assert (read_picture(saved(deep, "PNG")).pixels == 0x80).all()


def test_a_wide_profile_is_kept_as_a_wide_space() -> None:
    read = read_picture(picture_bytes((250, 10, 10), icc_profile=P3))
    assert read.space is DISPLAY_P3
    assert read.profile == "Display P3"
    assert (read.pixels == (250, 10, 10)).all()


def test_a_damaged_profile_counts_as_none_and_says_so() -> None:
    read = read_picture(picture_bytes(icc_profile=b"not a profile at all" * 10))
    assert read.space is SRGB
    assert "damaged" in read.profile


def test_the_same_bytes_give_the_same_pixels() -> None:
    data = picture_bytes(gradient(200, 300), form="JPEG")
    assert read_picture(data).pixels.tobytes() == read_picture(data).pixels.tobytes()
