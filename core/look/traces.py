"""What a picture file tells besides its picture: place, time, camera, person. Taken out where it lies, so that not one
pixel changes."""

from __future__ import annotations

import io
import struct
import zlib
from collections.abc import Iterator
from typing import Literal

from PIL import Image

_ORIENTATION = 0x0112
_TOLD_BY_TIFF = {
    270, 271, 272, 285, 305, 306, 315, 316, 700, 33432, 33723, 34377, 34665, 34853, 37500, 40092, 50341,
}  # fmt: skip
"""Tags of TIFF 6.0, EXIF and XMP that tell something: description, maker, model, page name, software, date, person,
host computer, XMP, rights, IPTC, image resources, the directories of EXIF and place, maker's notes."""
_DIRECTORIES = {34665, 34853, 40965}
_SIZES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4}
_PNG = b"\x89PNG\r\n\x1a\n"
_PNG_TELLS = {b"tEXt", b"zTXt", b"iTXt", b"tIME"}
_KEPT_BY_JPEG = {0xE0, 0xE2, 0xEE}
"""Application segments that say how the pixels are meant."""
_DEEPEST = 3
_Order = Literal["little", "big"]


def without_traces(data: bytes) -> bytes:
    """The file without them; how it is turned stays. What is no picture comes back as it is."""
    if data.startswith(b"\xff\xd8"):
        return _jpeg(data)
    if data.startswith(_PNG):
        return _png(data)
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return _webp(data)
    if data[:4] in (b"II*\0", b"MM\0*"):
        out = bytearray(data)
        _blank_tiff(out)
        return bytes(out)
    return _by_finding(data) if data[4:8] == b"ftyp" else data


def _jpeg(data: bytes) -> bytes:
    out = bytearray(data)
    for marker, start, end in _segments(data):
        if marker == 0xE1 and data[start : start + 6] == b"Exif\0\0":
            out[start + 6 : end] = _turn_alone(data[start + 6 : end])
        elif marker == 0xFE or (0xE0 <= marker <= 0xEF and marker not in _KEPT_BY_JPEG):
            out[start:end] = bytes(end - start)
    return bytes(out)


def _segments(data: bytes) -> Iterator[tuple[int, int, int]]:
    """Marker, begin and end of what stands before the pixels of every picture in a JPEG file: a phone's may hold
    several, one after the other."""
    picture = 0
    while (picture := data.find(b"\xff\xd8\xff", picture)) >= 0:
        at = picture + 2
        while at + 4 <= len(data) and data[at] == 0xFF and data[at + 1] not in (0xDA, 0xD9):
            if data[at + 1] == 0xFF:
                at += 1
                continue
            end = at + 2 + int.from_bytes(data[at + 2 : at + 4], "big")
            if end > len(data) or end < at + 4:
                break
            yield data[at + 1], at + 4, end
            at = end
        picture = max(at, picture + 2)


def _png(data: bytes) -> bytes:
    out, at = [_PNG], len(_PNG)
    while at + 12 <= len(data):
        kind, end = data[at + 4 : at + 8], at + 12 + int.from_bytes(data[at : at + 4], "big")
        if kind == b"eXIf":
            held = _turn_alone(data[at + 8 : end - 4])
            sealed = zlib.crc32(kind + held).to_bytes(4, "big")
            out.append(data[at : at + 8] + held + sealed)
        elif kind not in _PNG_TELLS:
            out.append(data[at:end])
        at = end
    return b"".join([*out, data[at:]])


def _webp(data: bytes) -> bytes:
    out, at = bytearray(data), 12
    while at + 8 <= len(data):
        size = int.from_bytes(data[at + 4 : at + 8], "little")
        start, end = at + 8, min(at + 8 + size, len(data))
        if data[at : at + 4] == b"EXIF":
            skip = 6 if data[start : start + 6] == b"Exif\0\0" else 0
            out[start + skip : end] = _turn_alone(data[start + skip : end])
        elif data[at : at + 4] == b"XMP ":
            out[start:end] = b" " * (end - start)
        at = end + size % 2
    return bytes(out)


def _by_finding(data: bytes) -> bytes:
    """A HEIF file: what its reader gives as EXIF and XMP is looked for in it."""
    try:
        info = Image.open(io.BytesIO(data)).info
    except Exception:  # whatever a decoder trips over is refused where pictures are read
        return data
    told = info.get("exif") or b""
    told = told.removeprefix(b"Exif\0\0")
    at = data.find(told[:8]) if len(told) > 8 else -1
    while at >= 0:
        # The reader has set it upright: the bytes that say how it was turned are other ones now.
        if sum(a != b for a, b in zip(data[at : at + len(told)], told, strict=False)) <= 2:
            data = data[:at] + _turn_alone(data[at : at + len(told)]) + data[at + len(told) :]
        at = data.find(told[:8], at + 1)
    packet = info.get("xmp") or b""
    return data.replace(packet, b" " * len(packet)) if packet else data


def _turn_alone(tiff: bytes) -> bytes:
    """A directory of the same length that says how the picture is turned, and nothing else."""
    turn = 1
    for tag, kind, count, value, order in _entries(tiff, _first(tiff)):
        if tag == _ORIENTATION and kind == 3 and count == 1:
            turn = int.from_bytes(tiff[value : value + 2], order)
    said = struct.pack("<2sHIHHHIHHI", b"II", 42, 8, 1, _ORIENTATION, 3, 1, turn, 0, 0)
    return said.ljust(len(tiff), b"\0") if len(tiff) >= len(said) else bytes(len(tiff))


def _first(tiff: bytes | bytearray) -> int:
    return int.from_bytes(tiff[4:8], _order(tiff))


def _order(tiff: bytes | bytearray) -> _Order:
    return "little" if tiff[:2] == b"II" else "big"


def _entries(tiff: bytes | bytearray, at: int) -> Iterator[tuple[int, int, int, int, _Order]]:
    """Tag, kind, count and the place of the value of what a directory holds, and the order of its bytes."""
    order = _order(tiff)
    if tiff[:2] not in (b"II", b"MM"):
        return
    for i in range(int.from_bytes(tiff[at : at + 2], order)):
        row = at + 2 + 12 * i
        if row + 12 > len(tiff):
            return
        tag, kind = (int.from_bytes(tiff[row + j : row + j + 2], order) for j in (0, 2))
        count = int.from_bytes(tiff[row + 4 : row + 8], order)
        inside = _SIZES.get(kind, 0) * count <= 4
        value = row + 8 if inside else int.from_bytes(tiff[row + 8 : row + 12], order)
        yield tag, kind, count, value, order


def _blank_tiff(tiff: bytearray) -> None:
    """What the directories of a TIFF file tell, overwritten; pictures and directories stay where they are."""
    seen: set[int] = set()
    at = _first(tiff)
    order = _order(tiff)
    while at and at not in seen and at + 2 <= len(tiff):
        seen.add(at)
        rows = int.from_bytes(tiff[at : at + 2], order)
        _blank_directory(tiff, at, _TOLD_BY_TIFF, 0)
        following = at + 2 + 12 * rows
        at = int.from_bytes(tiff[following : following + 4], order)


def _blank_directory(tiff: bytearray, at: int, tags: set[int] | None, depth: int) -> None:
    for tag, kind, count, value, order in list(_entries(tiff, at)):
        if tags is not None and tag not in tags:
            continue
        if tag in _DIRECTORIES and depth < _DEEPEST:
            _blank_directory(tiff, int.from_bytes(tiff[value : value + 4], order), None, depth + 1)
            continue
        size = _SIZES.get(kind, 0) * count
        if size and value + size <= len(tiff):
            tiff[value : value + size] = bytes(size)
