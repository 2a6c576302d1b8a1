"""When the folder of the data can take nothing: told apart from failures of our own, and said in a sentence."""

from __future__ import annotations

import errno
import shutil
import sqlite3
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

from core.errors import CaltinError

_FULL = {errno.ENOSPC, errno.EDQUOT}
_FORBIDDEN = {errno.EROFS, errno.EACCES, errno.EPERM}
_SQLITE_FULL = {sqlite3.SQLITE_FULL}
_SQLITE_FORBIDDEN = {sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM, sqlite3.SQLITE_IOERR}
_AS_GOOD_AS_FULL = 64 * 1024
"""Bytes. SQLite calls it an I/O error when the file that its readers share finds no room; it is this large at most."""


class StorageError(CaltinError):
    """Nothing can be kept at the moment; reading goes on. status: of the HTTP answer."""

    status = 503


class DiskFullError(StorageError):
    """The disk is full."""

    status = 507

    def __init__(self) -> None:
        super().__init__(
            "disk_full",
            "The disk that keeps your work is full, so this could not be kept.",
            "Everything saved before is still there. Free some space, then try again.",
        )


class ReadOnlyError(StorageError):
    """The folder cannot be written."""

    def __init__(self) -> None:
        super().__init__(
            "read_only",
            "The folder that keeps your work cannot be written, so this could not be kept.",
            "Everything saved before is still there. Make the folder writable, then try again.",
        )


class BusyError(StorageError):
    """Somebody else has been writing for too long."""

    def __init__(self) -> None:
        super().__init__("busy", "Caltin is busy writing, so this could not be kept.", "Try again in a moment.")


def storage_error(error: BaseException) -> StorageError | None:
    """What an exception says about the folder of the data; None if it is about something else."""
    for cause in _causes(error):
        if isinstance(cause, StorageError):
            return cause
        if isinstance(cause, sqlite3.Error):
            code = getattr(cause, "sqlite_errorcode", 0) & 0xFF  # the rest are details
            if code in _SQLITE_FULL or (code in _SQLITE_FORBIDDEN and _is_full(Path(settings.DATA_DIR))):
                return DiskFullError()
            if code in _SQLITE_FORBIDDEN:
                return ReadOnlyError()
            if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
                return BusyError()
        if isinstance(cause, OSError) and cause.errno in _FULL:
            return DiskFullError()
        if isinstance(cause, OSError) and cause.errno in _FORBIDDEN:
            return ReadOnlyError()
    return None


def _causes(error: BaseException) -> Iterator[BaseException]:
    cause: BaseException | None = error
    while cause is not None:
        yield cause
        cause = cause.__cause__


def _is_full(folder: Path) -> bool:
    try:
        return shutil.disk_usage(folder).free < _AS_GOOD_AS_FULL
    except OSError:
        return False
