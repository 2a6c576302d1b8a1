"""What a file tells besides its picture, in every format that is read: gone, and not one pixel another."""

import io

import numpy as np
import pytest
from PIL import Image

from core.look.picture import read_picture
from core.look.traces import without_traces

TOLD = (b"MAKERX", b"MODELX", b"PERSONX", b"LENSX", b"COMMENTX", b"PACKETX", b"2026:11")
FORMS = {
    "JPEG": {"quality": 90, "comment": b"COMMENTX", "xmp": b"<x:xmpmeta>PACKETX</x:xmpmeta>"},
    "PNG": {},
    "WEBP": {"lossless": True, "xmp": b"<x>PACKETX</x>"},
    "TIFF": {},
    "HEIF": {"quality": 95},
}


def telling(form: str, **more: object) -> bytes:
    rng = np.random.default_rng(0)
    image = Image.fromarray(rng.integers(0, 255, (60, 80, 3), dtype=np.uint8))
    exif = Image.Exif()
    exif[0x0112], exif[271], exif[272], exif[315] = 6, "MAKERX", "MODELX", "PERSONX"
    place = exif.get_ifd(0x8825)
    place[1], place[2] = "N", (12.0, 34.0, 56.7)
    taken = exif.get_ifd(0x8769)
    taken[36867], taken[42036] = "2026:11:26 10:00:00", "LENSX"
    out = io.BytesIO()
    image.save(out, form, exif=exif if form == "TIFF" else exif.tobytes(), **{**FORMS[form], **more})
    return out.getvalue()


@pytest.mark.parametrize("form", FORMS)
def test_place_camera_and_person_are_taken_out_and_the_picture_stays(form: str) -> None:
    data = telling(form)
    assert sum(word in data for word in TOLD) >= 3
    kept = without_traces(data)
    assert not [word for word in TOLD if word in kept]
    before, after = read_picture(data), read_picture(kept)
    assert np.array_equal(before.pixels, after.pixels) and before.profile == after.profile
    exif = Image.open(io.BytesIO(kept)).getexif()
    assert not any(exif.get_ifd(0x8825).values())
    assert without_traces(kept) == kept


def test_a_second_picture_in_the_file_tells_nothing_either() -> None:
    both = telling("JPEG") + telling("JPEG")
    assert not [word for word in TOLD if word in without_traces(both)]


def test_words_in_a_png_go_and_its_colours_stay() -> None:
    from PIL.PngImagePlugin import PngInfo

    words = PngInfo()
    words.add_text("Author", "PERSONX")
    words.add_itxt("XML:com.adobe.xmp", "PACKETX")
    data = telling("PNG", pnginfo=words)
    kept = without_traces(data)
    assert b"PERSONX" in data and b"PERSONX" not in kept and b"PACKETX" not in kept
    assert np.array_equal(read_picture(data).pixels, read_picture(kept).pixels)


def test_what_is_cut_off_or_no_picture_comes_back() -> None:
    for data in (
        b"",
        b"\xff\xd8",
        b"\x89PNG\r\n\x1a\n\0\0",
        b"II*\0\xff\xff\xff\xff",
        b"RIFF\0\0\0\0WEBPEXIF",
        b"no picture",
    ):
        assert without_traces(data) == data
    for form in FORMS:
        whole = telling(form)
        for end in range(0, len(whole), 997):
            assert len(without_traces(whole[:end])) <= end
