"""A bundle: a zip archive of JSON and pictures, written the same to the byte, and read as if it meant harm.

What is in it is said in docs/piece-format.md.
"""

from __future__ import annotations

import io
import json
import re
import stat
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from typing import IO, Any

from core.errors import InputError
from core.exchange.sound_json import fault_in

FORMAT = 1
HEAD = "caltin.json"
MAX_BUNDLE_BYTES = 6 * 1024**3
"""All the pictures that an artist may have, and what else there is."""
MAX_JSON_BYTES = 64 * 1024**2
MOST_PARTS = 100_000
_CHUNK = 2**16
_STEP = r"[A-Za-z0-9][A-Za-z0-9_-]{0,79}(?:\.[a-z0-9]{1,8})?"
_NAME = re.compile(f"{_STEP}(?:/{_STEP})*")
Stamp = tuple[int, int, int, int, int, int]
"""Year, month, day, hour, minute, second."""
EARLIEST: Stamp = (1980, 1, 1, 0, 0, 0)
_KEPT = "Nothing was taken in; what you have is as it was."


class Pipe:
    """Takes what is written to it, and gives it away; it cannot go back, so a zip archive is written straight on."""

    def __init__(self) -> None:
        self._held: list[bytes] = []

    def write(self, data: bytes) -> int:
        self._held.append(bytes(data))
        return len(data)

    def flush(self) -> None:
        """Nothing waits anywhere else."""

    def close(self) -> None:
        """Nothing is held open."""

    def take(self) -> bytes:
        """What has come since the last time."""
        data = b"".join(self._held)
        self._held.clear()
        return data


def written(parts: Iterable[tuple[str, bytes | IO[bytes]]], made: Stamp = EARLIEST) -> Iterator[bytes]:
    """A zip archive of named parts, bit by bit; open files are read to their end and closed. made: the date that all of
    them bear, so that the same parts give the same bytes."""
    pipe, stamp = Pipe(), max(made, EARLIEST)
    with zipfile.ZipFile(pipe, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts:
            entry = zipfile.ZipInfo(name, stamp)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o644 << 16
            with archive.open(entry, "w", force_zip64=True) as out:
                source = io.BytesIO(data) if isinstance(data, bytes) else data
                with source:
                    while chunk := source.read(_CHUNK):
                        out.write(chunk)
                        yield pipe.take()
    yield pipe.take()


def as_json(held: Any) -> bytes:
    """A JSON part, as every bundle writes it."""
    return json.dumps(held, ensure_ascii=False, indent=1).encode()


def head(version: str, **more: Any) -> tuple[str, bytes]:
    """The first part of every bundle. version: of the Caltin that writes it."""
    return HEAD, as_json({"caltin_bundle": FORMAT, "version": version} | more)


class Bundle:
    """The parts of a bundle, each read only when it is asked for and no further than it says it goes."""

    def __init__(self, source: IO[bytes], size: int) -> None:
        """Raises InputError: `bundle_too_large`, `bad_bundle`, `newer_bundle`."""
        if size > MAX_BUNDLE_BYTES:
            raise InputError("bundle_too_large", f"The file is over {MAX_BUNDLE_BYTES // 1024**3} GB.", _KEPT, "file")
        try:
            self._archive = zipfile.ZipFile(source)
            entries = self._archive.infolist()
        except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError, UnicodeDecodeError):
            raise bad("it is no zip archive, or it is cut off") from None
        if len(entries) > MOST_PARTS:
            raise bad(f"it has {len(entries)} parts, more than {MOST_PARTS}")
        self._parts: dict[str, zipfile.ZipInfo] = {}
        for entry in entries:
            self._check(entry)
            if not entry.is_dir():
                self._parts[entry.filename] = entry
        self.head = self._head()

    def _check(self, entry: zipfile.ZipInfo) -> None:
        name = entry.filename
        shown = ascii(name[:60])[1:-1]
        if not _NAME.fullmatch(name.removesuffix("/")):
            raise bad(f"“{shown}” is no name of a part")
        if name in self._parts:
            raise bad(f"“{shown}” is in it twice")
        if entry.flag_bits & 0x1:
            raise bad(f"“{shown}” is locked by a password")
        if entry.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
            raise bad(f"“{shown}” is packed in a way that is not read")
        mode = entry.external_attr >> 16
        if mode and stat.S_IFMT(mode) not in (0, stat.S_IFREG, stat.S_IFDIR):
            raise bad(f"“{shown}” is no file")

    def _head(self) -> dict[str, Any]:
        if HEAD not in self._parts:
            raise bad(f"there is no {HEAD} in it")
        held = self.json(HEAD)
        format_ = held.get("caltin_bundle") if isinstance(held, dict) else None
        if isinstance(format_, bool) or not isinstance(format_, int):
            raise bad(f"its {HEAD} does not say what it is")
        if format_ > FORMAT:
            raise InputError(
                "newer_bundle", f"The file was made by a newer Caltin ({str(held.get('version'))[:20]}).",
                "Read it with that version. " + _KEPT, "file",
            )  # fmt: skip
        return dict(held)

    def names(self, folder: str = "") -> list[str]:
        """Of the parts in a folder (`trays/`), in order."""
        return sorted(name for name in self._parts if name.startswith(folder))

    def __contains__(self, name: str) -> bool:
        return name in self._parts

    def data(self, name: str, most: int = MAX_JSON_BYTES) -> bytes:
        """A part. Raises InputError (`bad_bundle`) where it is missing, damaged, or longer than `most` bytes."""
        entry = self._parts.get(name)
        if entry is None:
            raise bad(f"{name[:60]} is missing from it")
        try:
            # However large it says it is: no more than this is ever unpacked.
            with self._archive.open(entry) as part:
                held = part.read(most + 1)
        except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError, EOFError, RuntimeError, zlib.error):
            raise bad(f"{name[:60]} is damaged") from None
        if len(held) > most:
            raise bad(f"{name[:60]} unpacks into more than {most // 1024**2} MB")
        return held

    def json(self, name: str) -> Any:
        """A part that holds JSON. Raises InputError (`bad_bundle`)."""
        try:
            held = json.loads(self.data(name).decode("utf-8-sig"))
        except (ValueError, RecursionError):
            raise bad(f"{name[:60]} is not JSON") from None
        if fault := fault_in(held):
            raise bad(f"{name[:60]}, {fault.path or 'all of it'}: {fault.said}")
        return held


def bad(why: str) -> InputError:
    """The refusal of a bundle."""
    return InputError("bad_bundle", f"This file cannot be taken in: {why}.", _KEPT, "file")
