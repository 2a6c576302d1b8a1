"""Backups: one archive with a manifest, checked before it is called kept and before anything is restored from it."""

from __future__ import annotations

import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.db import connection
from django.utils import timezone

from core.errors import CaltinError
from server.api.folder import FolderError, Hold, database_file, newer, sync_folder, unknown_migrations

FORMAT = 1
_MANIFEST, _DATABASE = "manifest.json", "caltin.sqlite3"
_PICTURE = re.compile(r"pictures/([0-9a-f]{2})/([0-9a-f]{62})")
_HALF_WRITTEN = re.compile(r"pictures/[0-9a-f]{2}/tmp\w{1,20}")
"""What was being uploaded while a version before 0.5 was killed, and packed by it."""
_OURS = {"django_migrations", "auth_user", "accounts_entrylink", "materials_tray", "pieces_piece", "pieces_revision"}
_LARGEST_MANIFEST = 64 * 2**20
_CHUNK = 2**20
_SIDE, _ASIDE = ".restoring-", "before-restore-"


class ArchiveError(CaltinError):
    """An archive that nothing can be restored from."""

    def __init__(self, message: str) -> None:
        super().__init__("bad_archive", message, "The data folder is as it was. Use another backup.")


@dataclass(frozen=True, slots=True)
class Part:
    """Size in bytes and SHA-256 digest of one file in an archive."""

    size: int
    sha256: str


@dataclass(frozen=True, slots=True)
class Contents:
    """What an archive holds. version: of the Caltin that made it, empty before 0.5. notes: what to know about it."""

    version: str
    pictures: int
    size: int
    notes: tuple[str, ...] = ()


def pack(target: Path) -> Contents:
    """Write database and pictures into an archive, also while the server runs.

    Sessions and sign-in links stay out. The archive is read back and checked before it gets its name; whatever
    was there under that name stays until then. Raises FolderError (`nothing_there`), ArchiveError, OSError.
    """
    if not database_file().exists():
        raise FolderError("nothing_there", f"There is no Caltin in {settings.DATA_DIR}.", "Set CALTIN_DATA.")
    partial = target.with_name(target.name + ".partial")
    partial.unlink(missing_ok=True)
    try:
        with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
            notes = _write(out)
            out.flush()
            os.fsync(out.fileno())
        found = verify(partial)
        partial.replace(target)
        sync_folder(target.absolute().parent)
    finally:
        partial.unlink(missing_ok=True)
    return Contents(found.version, found.pictures, found.size, notes)


def _write(out: IO[bytes]) -> tuple[str, ...]:
    parts: dict[str, Part] = {}
    notes = []
    with tempfile.TemporaryDirectory() as folder, zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        copy = Path(folder) / _DATABASE
        digests = _copy_database(copy)
        parts[_DATABASE] = _add(archive, copy, _DATABASE)
        # The database first: a picture is written before the row that names it, so none is missing afterwards.
        for digest in digests:
            name = f"pictures/{digest[:2]}/{digest[2:]}"
            try:
                parts[name] = _add(archive, Path(settings.PICTURES_DIR) / digest[:2] / digest[2:], name)
            except FileNotFoundError:
                notes.append(f"The picture {digest[:12]}… is missing from the data folder.")
                continue
            if parts[name].sha256 != digest:
                notes.append(f"The picture {digest[:12]}… is damaged in the data folder.")
        manifest = {
            "caltin_backup": FORMAT,
            "version": settings.VERSION,
            "made": timezone.now().isoformat(timespec="seconds"),
            "parts": {name: asdict(part) for name, part in parts.items()},
        }
        archive.writestr(_MANIFEST, json.dumps(manifest, indent=1))
    return tuple(notes)


def _copy_database(copy: Path) -> list[str]:
    """Copy the database as it is at one moment, without what signs anybody in and what can be worked out again.

    Returns the digests of its pictures.
    """
    connection.ensure_connection()
    with closing(sqlite3.connect(copy)) as out:
        connection.connection.backup(out)
        out.execute("PRAGMA journal_mode=DELETE")
        with out:
            out.execute("DELETE FROM django_session")
            out.execute("DELETE FROM accounts_entrylink")
            out.execute("DELETE FROM pieces_result")
        out.execute("VACUUM")  # what was deleted would else still stand in free pages
        return sorted({row[0] for row in out.execute("SELECT digest FROM pieces_picture")})


def _add(archive: zipfile.ZipFile, file: Path, name: str) -> Part:
    with file.open("rb") as data, archive.open(zipfile.ZipInfo(name), "w", force_zip64=True) as out:
        return _copied(data, out)


def _copied(data: IO[bytes], out: IO[bytes] | None) -> Part:
    digest, size = hashlib.sha256(), 0
    while chunk := data.read(_CHUNK):
        digest.update(chunk)
        size += len(chunk)
        if out is not None:
            out.write(chunk)
    return Part(size, digest.hexdigest())


def verify(file: Path) -> Contents:
    """Check everything about an archive without restoring it. Raises ArchiveError, FolderError, OSError."""
    with tempfile.TemporaryDirectory() as folder:
        return _unpack(file, Path(folder), keep_pictures=False)


def restore(file: Path, replace: bool = False) -> tuple[Contents, Path | None]:
    """Put a backup into the data folder: unpacked beside, checked, then moved in; the database last, by one rename.

    replace: the folder may hold a Caltin already, which is kept aside. Returns what was restored and where the old one
    is. Raises ArchiveError, FolderError (`not_empty`, `in_use`), OSError; the folder is as it was then.
    """
    root = Path(settings.DATA_DIR)
    hold = Hold()
    try:
        if not hold.alone():
            raise FolderError(
                "in_use", f"A Caltin is running on {root}.", "Stop it, then restore. Nothing was changed."
            )
        if database_file().exists() and not replace:
            raise FolderError(
                "not_empty",
                f"{root} holds a Caltin already, so nothing was changed.",
                "Add --replace: the old one is kept aside.",
            )
        sweep_sides()
        side = Path(tempfile.mkdtemp(prefix=_SIDE, dir=root))
        try:
            found = _unpack(file, side, keep_pictures=True)
            aside = _set_aside(root) if database_file().exists() else None
            _move_in(side, root)
        finally:
            shutil.rmtree(side, ignore_errors=True)
    finally:
        hold.release()
    return found, aside


def sweep_sides() -> None:
    """Delete what a restoring left that was killed."""
    for side in Path(settings.DATA_DIR).glob(f"{_SIDE}*"):
        shutil.rmtree(side, ignore_errors=True)


def _set_aside(root: Path) -> Path:
    """Keep the present data in a folder of their own, by further links to the same files: nothing is ever missing."""
    aside = Path(tempfile.mkdtemp(prefix=f"{_ASIDE}{timezone.now():%Y%m%d-%H%M%S}-", dir=root))
    database = database_file()
    try:
        with closing(sqlite3.connect(database)) as old:
            old.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except sqlite3.DatabaseError:
        pass  # a damaged database is a good reason to restore; it is kept as it is
    files = [*root.glob(f"{database.name}*"), *Path(settings.PICTURES_DIR).glob("*/*")]
    for file in files:
        link = aside / file.relative_to(root)
        link.parent.mkdir(parents=True, exist_ok=True)
        os.link(file, link)
    return aside


def _move_in(side: Path, root: Path) -> None:
    for file in sorted(side.glob("pictures/*/*")):
        place = root / file.relative_to(side)
        place.parent.mkdir(parents=True, exist_ok=True)
        file.replace(place)
    for rest in ("-wal", "-shm"):  # they belong to the old database, and would be taken for the new one's
        Path(f"{database_file()}{rest}").unlink(missing_ok=True)
    (side / _DATABASE).replace(database_file())
    sync_folder(root)


def _unpack(file: Path, folder: Path, keep_pictures: bool) -> Contents:
    try:
        with zipfile.ZipFile(file) as archive:
            held = _members(archive, file.stat().st_size)
            manifest = _manifest(archive, held)
            for name, info in held.items():
                place = folder / name if keep_pictures or name == _DATABASE else None
                with archive.open(info) as data, _sink(place) as out:
                    found = _copied(data, out)
                if found != manifest.parts[name]:
                    raise ArchiveError(f"{name} in the backup is not what was packed.")
    except (zipfile.BadZipFile, NotImplementedError, EOFError, UnicodeDecodeError, ValueError, RuntimeError) as error:
        raise ArchiveError(f"The backup is damaged ({error}).") from error
    _check_database(folder / _DATABASE)
    return Contents(manifest.version, len(held) - 1, sum(part.size for part in manifest.parts.values()))


@contextmanager
def _sink(place: Path | None) -> Iterator[IO[bytes] | None]:
    if place is None:
        yield None
        return
    place.parent.mkdir(parents=True, exist_ok=True)
    with place.open("wb") as out:
        yield out
        out.flush()
        os.fsync(out.fileno())


def _members(archive: zipfile.ZipFile, size: int) -> dict[str, zipfile.ZipInfo]:
    """The parts of an archive by name, the manifest among them."""
    infos = [info for info in archive.infolist() if not _HALF_WRITTEN.fullmatch(info.filename)]
    held = {info.filename: info for info in infos}
    if len(held) < len(infos):
        raise ArchiveError("A file stands in the backup twice.")
    for name, info in held.items():
        if name not in (_MANIFEST, _DATABASE) and not _PICTURE.fullmatch(name):
            raise ArchiveError(f"“{name[:60]}” does not belong into a Caltin backup.")
        # Nothing in it is compressed, so that nothing can come out larger than it went in.
        if info.compress_type != zipfile.ZIP_STORED or info.flag_bits & 1:
            raise ArchiveError(f"{name} was packed by another program.")
    if _DATABASE not in held:
        raise ArchiveError("This is not a Caltin backup: there is no database in it.")
    if sum(info.file_size for info in infos) > size:
        raise ArchiveError("The parts of the backup are larger than the whole.")
    return held


@dataclass(frozen=True, slots=True)
class _Manifest:
    version: str
    parts: dict[str, Part]


def _manifest(archive: zipfile.ZipFile, held: dict[str, zipfile.ZipInfo]) -> _Manifest:
    """What the parts should be; takes the manifest out of `held`."""
    info = held.pop(_MANIFEST, None)
    if info is None:
        return _Manifest("", {name: _as_named(archive, held[name]) for name in held})
    if info.file_size > _LARGEST_MANIFEST:
        raise ArchiveError("The manifest of the backup is too large.")
    raw: Any = json.loads(archive.read(info))
    try:
        if raw["caltin_backup"] > FORMAT:
            raise FolderError(
                "newer_archive",
                f"The backup was made by a newer Caltin ({str(raw['version'])[:20]}).",
                "Restore it with that version. Nothing was changed.",
            )
        parts = {str(name): Part(int(row["size"]), str(row["sha256"])) for name, row in raw["parts"].items()}
        made = _Manifest(str(raw["version"]), parts)
    except (KeyError, TypeError, AttributeError) as error:
        raise ArchiveError("The manifest of the backup cannot be read.") from error
    wrong = sorted(set(made.parts) ^ set(held))
    if wrong:
        raise ArchiveError(f"{wrong[0]} is {'missing from' if wrong[0] in made.parts else 'too much in'} the backup.")
    return made


def _as_named(archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> Part:
    """What a part of an archive without a manifest, made before 0.5, should be: a picture's name is its digest."""
    picture = _PICTURE.fullmatch(info.filename)
    if picture:
        return Part(info.file_size, "".join(picture.groups()))
    with archive.open(info) as data:
        return _copied(data, None)


def _check_database(file: Path) -> None:
    """Raises ArchiveError unless it is a sound database of Caltin's, FolderError if a newer version wrote it."""
    try:
        with closing(sqlite3.connect(f"file:{file}?mode=ro", uri=True)) as database:
            whole = database.execute("PRAGMA integrity_check").fetchall() == [("ok",)]
            if not whole or database.execute("PRAGMA foreign_key_check").fetchone():
                raise ArchiveError("The database in the backup is damaged.")
            tables = {name for (name,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if not tables >= _OURS:
                raise ArchiveError("The database in the backup is not Caltin's.")
            applied = database.execute("SELECT app, name FROM django_migrations").fetchall()
    except sqlite3.DatabaseError as error:
        raise ArchiveError(f"The database in the backup is damaged ({error}).") from error
    unknown = unknown_migrations((app, name) for app, name in applied)
    if unknown:
        raise newer("The backup", unknown)
