"""The folder of the data: who uses it, whether this version may, what in it is half written, how files are written."""

from __future__ import annotations

import fcntl
import os
import pkgutil
import tempfile
import time
from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import IO

from django.apps import apps
from django.conf import settings
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder

from core.errors import CaltinError

_PART = ".part-"
"""How the name of a file begins while it is being written."""
_PART_BEFORE_0_5 = "tmp"
_DATABASE = "caltin.sqlite3"


class FolderError(CaltinError):
    """This version cannot use the folder of the data as it is."""


def database_file() -> Path:
    """Where the database lies."""
    return Path(settings.DATA_DIR) / _DATABASE


def write_whole(path: Path, data: bytes) -> None:
    """The whole file or none of it, also through a power cut. What is there already stays."""
    if path.exists():
        return
    with write_part(path.parent) as out:
        try:
            out.write(data)
            finish_part(out, path)
        except BaseException:
            Path(out.name).unlink(missing_ok=True)
            raise


def write_part(folder: Path) -> IO[bytes]:
    """An open file in a folder (made if need be) that counts as half written until `finish_part`."""
    folder.mkdir(parents=True, exist_ok=True)
    return tempfile.NamedTemporaryFile(dir=folder, prefix=_PART, delete=False)


def finish_part(part: IO[bytes], path: Path) -> None:
    """Give a file that was half written until now its name."""
    part.flush()
    os.fsync(part.fileno())
    Path(part.name).replace(path)
    sync_folder(path.parent)


def sync_folder(folder: Path) -> None:
    """See to it that names in a folder survive a power cut."""
    descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def is_part(file: Path) -> bool:
    """Whether a file was being written and never got its name."""
    return file.name.startswith((_PART, _PART_BEFORE_0_5))


def sweep_parts(older_than_s: float = 0.0) -> int:
    """Delete what was half written when its writer died; how many files that were."""
    before, swept = time.time() - older_than_s, 0
    for file in _files(settings.PICTURES_DIR, settings.VIEWS_DIR):
        with suppress(FileNotFoundError):
            if is_part(file) and file.stat().st_mtime <= before:
                file.unlink()
                swept += 1
    return swept


def _files(*folders: str | Path) -> Iterator[Path]:
    for folder in folders:
        yield from (file for file in Path(folder).rglob("*") if file.is_file())


class Hold:
    """A claim on the folder, held until it is released or the process ends, however it ends."""

    def __init__(self) -> None:
        # The folder itself is locked: that needs no file, which a full disk would not take.
        self._folder = os.open(settings.DATA_DIR, os.O_RDONLY | os.O_DIRECTORY)

    def alone(self) -> bool:
        """Whether nobody else holds the folder; nobody else can from then on."""
        try:
            fcntl.flock(self._folder, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return False
        return True

    def shared(self) -> None:
        """Hold the folder beside others. Raises FolderError (`in_use`) while somebody holds it alone."""
        try:
            fcntl.flock(self._folder, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise FolderError(
                "in_use", "A backup is just being restored here.", "Try again when it is done."
            ) from error

    def release(self) -> None:
        """Let the folder go."""
        os.close(self._folder)


def make_private() -> None:
    """Only the owner may read what is in the folder."""
    root = Path(settings.DATA_DIR)
    for folder in (root, *(entry for entry in root.rglob("*") if entry.is_dir())):
        folder.chmod(0o700)
    for file in root.glob(f"{_DATABASE}*"):
        file.chmod(0o600)


def refuse_newer() -> None:
    """Raises FolderError (`newer_folder`) if a newer version has written the folder."""
    if not database_file().exists():
        return
    unknown = unknown_migrations(MigrationRecorder(connection).applied_migrations())
    if unknown:
        raise newer("The data folder", unknown)


def unknown_migrations(applied: Iterable[tuple[str, str]]) -> list[str]:
    """Those of these migrations, as (app, name), that this version does not know."""
    # Their names alone: loaded, they bring all of the core along, and chores begin half as fast.
    known = {
        (app.label, module.name)
        for app in apps.get_app_configs()
        for module in pkgutil.iter_modules([str(Path(app.path) / "migrations")])
    }
    return sorted(f"{app}.{name}" for app, name in set(applied) - known)


def newer(what: str, unknown: list[str]) -> FolderError:
    """The refusal of what a newer version has written."""
    return FolderError(
        "newer_folder",
        f"{what} was written by a newer Caltin than {settings.VERSION} ({unknown[-1]} is unknown here).",
        "Start that version again, or restore a backup made with this one.",
    )
