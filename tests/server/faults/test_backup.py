"""Backups: nothing private inside, checked when made; whatever is damaged or foreign is refused and changes nothing."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import time
import zipfile
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from server.api import archive
from server.api.folder import FolderError, Hold
from tests.conftest import ROOT
from tools.site import manage

Parts = dict[str, bytes]
DATABASE, MANIFEST = "caltin.sqlite3", "manifest.json"


@pytest.fixture(scope="session")
def backup(prepared: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A good archive, of a folder in which somebody is signed in, a link waits and an upload was cut off."""
    data = Path(shutil.copytree(prepared, tmp_path_factory.mktemp("backup") / "data"))
    assert manage(data, "entrylink", "demo").returncode == 0
    with closing(sqlite3.connect(data / DATABASE)) as database, database:
        database.execute("INSERT INTO django_session VALUES ('key-of-a-session', 'x', '2099-01-01')")
    for name in (".part-killed", "tmpkilled1"):
        (next((data / "pictures").iterdir()) / name).write_bytes(b"half")
    file = data.parent / "good.zip"
    done = manage(data, "backup", file)
    assert done.returncode == 0, done.stderr
    return file


def parts_of(file: Path) -> Parts:
    with zipfile.ZipFile(file) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def pack(file: Path, parts: Parts, **options: Any) -> Path:
    """An archive of these parts whose manifest is true to them, if it has one."""
    if MANIFEST in parts:
        manifest = json.loads(parts[MANIFEST])
        manifest["parts"] = {
            name: {"size": len(data), "sha256": hashlib.sha256(data).hexdigest()}
            for name, data in parts.items()
            if name != MANIFEST
        }
        parts = parts | {MANIFEST: json.dumps(manifest).encode()}
    with zipfile.ZipFile(file, "w", **options) as packed:
        for name, data in parts.items():
            packed.writestr(name, data)
    return file


def with_database(parts: Parts, change: str) -> Parts:
    """The parts with a statement carried out on their database."""
    with closing(sqlite3.connect(":memory:")) as database:
        database.deserialize(parts[DATABASE])
        with database:
            database.executescript(change)
        return parts | {DATABASE: bytes(database.serialize())}


def state(folder: Path) -> dict[str, tuple[int, bytes]]:
    """Everything in a folder, with its permissions."""
    return {
        str(entry.relative_to(folder)): (entry.stat().st_mode, entry.read_bytes() if entry.is_file() else b"")
        for entry in sorted(folder.rglob("*"))
    }


def pictures_in(folder: Path) -> dict[str, bytes]:
    return {str(file.relative_to(folder)): file.read_bytes() for file in folder.glob("pictures/*/*")}


def flipped(data: bytes, at: int) -> bytes:
    return data[:at] + bytes([data[at] ^ 1]) + data[at + 1 :]


def test_a_backup_holds_everything_but_what_signs_anybody_in(backup: Path) -> None:
    parts = parts_of(backup)
    assert set(parts) == set(json.loads(parts[MANIFEST])["parts"]) | {MANIFEST}
    assert len([name for name in parts if name.startswith("pictures/")]) == 1  # and nothing half written
    with closing(sqlite3.connect(":memory:")) as database:
        database.deserialize(parts[DATABASE])
        for table in ("django_session", "accounts_entrylink"):
            assert database.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)  # noqa: S608
    assert b"key-of-a-session" not in parts[DATABASE]  # not in the free pages either
    assert stat.S_IMODE(backup.stat().st_mode) == 0o600
    assert not list(backup.parent.glob("*.partial"))


def test_a_restored_folder_is_private_and_whole(backup: Path, tmp_path: Path) -> None:
    data = tmp_path / "new"
    assert manage(data, "restore", backup).returncode == 0
    assert stat.S_IMODE(data.stat().st_mode) == 0o700
    for entry in data.rglob("*"):
        assert stat.S_IMODE(entry.stat().st_mode) == (0o700 if entry.is_dir() else 0o600), entry
    assert (data / DATABASE).read_bytes() == parts_of(backup)[DATABASE]
    assert not list(data.glob(".restoring-*"))
    assert "is whole" in manage(data, "backup", "--verify", backup).stdout


def compressed_bomb(good: Path, bad: Path) -> None:
    parts = parts_of(good)
    picture = next(name for name in parts if name.startswith("pictures/"))
    pack(bad, parts | {picture: bytes(30_000_000)}, compression=zipfile.ZIP_DEFLATED)


def overlapping_bomb(good: Path, bad: Path) -> None:
    """Many entries that all are the same bytes of the file."""
    pack(bad, parts_of(good) | {f"pictures/{i:02x}/{i:062x}": b"" for i in range(50)})
    with zipfile.ZipFile(bad, "a") as packed:
        large = packed.getinfo(DATABASE)
        for info in packed.infolist():
            if info.filename.startswith("pictures/"):
                info.header_offset, info.file_size, info.compress_size = (
                    large.header_offset, large.file_size, large.file_size,
                )  # fmt: skip
        packed._didModify = True  # writes the list of entries once more


def with_raw_change(change: Callable[[bytes], bytes]) -> Callable[[Path, Path], object]:
    return lambda good, bad: bad.write_bytes(change(good.read_bytes()))


def repacked(change: Callable[[Parts], Parts]) -> Callable[[Path, Path], object]:
    return lambda good, bad: pack(bad, change(parts_of(good)))


def untrue(good: Path, bad: Path) -> None:
    """A part that is whole, but not what the manifest says."""
    parts = parts_of(good)
    with zipfile.ZipFile(bad, "w") as packed:
        for name, data in parts.items():
            packed.writestr(name, flipped(data, len(data) // 2) if name == DATABASE else data)


def manifest_of_nothing(good: Path, bad: Path) -> None:
    with zipfile.ZipFile(bad, "w") as packed:
        for name, data in (parts_of(good) | {MANIFEST: b"[]"}).items():
            packed.writestr(name, data)


def twice(good: Path, bad: Path) -> None:
    shutil.copy(good, bad)
    with zipfile.ZipFile(bad, "a") as packed, pytest.warns(UserWarning, match="Duplicate"):
        packed.writestr(DATABASE, b"another")


def truncated_database(parts: Parts) -> Parts:
    return parts | {DATABASE: parts[DATABASE][: len(parts[DATABASE]) // 2]}


BAD: dict[str, Callable[[Path, Path], object]] = {
    "no zip": lambda good, bad: bad.write_bytes(b"no zip at all"),
    "empty": lambda good, bad: bad.write_bytes(b""),
    "cut off": with_raw_change(lambda data: data[: len(data) * 2 // 3]),
    "flipped byte in the database": with_raw_change(lambda data: flipped(data, data.index(b"SQLite format") + 9000)),
    "flipped byte in a picture": with_raw_change(lambda data: flipped(data, data.index(b"IDAT") + 9)),
    "flipped byte in the manifest": with_raw_change(lambda data: flipped(data, data.index(b'"sha256"') + 14)),
    "not what the manifest says": untrue,
    "truncated database": repacked(truncated_database),
    "empty database": repacked(lambda parts: parts | {DATABASE: b""}),
    "database of another program": repacked(lambda parts: parts | {DATABASE: other_program()}),
    "broken reference": repacked(lambda parts: with_database(parts, "DELETE FROM auth_user")),
    "missing database": repacked(lambda parts: {n: d for n, d in parts.items() if n != DATABASE}),
    "file too much": repacked(lambda parts: parts | {"notes.txt": b"hello"}),
    "outside the folder": repacked(lambda parts: parts | {"../outside": b"x", "pictures/../../outside": b"x"}),
    "manifest of nothing": manifest_of_nothing,
    "part twice": twice,
    "compressed bomb": compressed_bomb,
    "overlapping bomb": overlapping_bomb,
}


def other_program() -> bytes:
    with closing(sqlite3.connect(":memory:")) as database:
        database.executescript("CREATE TABLE notes (a); CREATE TABLE django_migrations (app, name);")
        return bytes(database.serialize())


@pytest.mark.parametrize("kind", BAD)
@pytest.mark.parametrize("present", [False, True], ids=["empty folder", "folder in use"])
def test_a_damaged_archive_is_refused_and_the_folder_is_as_it_was(
    kind: str, present: bool, backup: Path, prepared: Path, tmp_path: Path, settings: Any
) -> None:
    BAD[kind](backup, tmp_path / "bad.zip")
    folder = tmp_path / "data"
    if present:
        shutil.copytree(prepared, folder)
    else:
        folder.mkdir()
    settings.DATA_DIR, settings.PICTURES_DIR = folder, folder / "pictures"
    before = state(folder)
    with pytest.raises((archive.ArchiveError, FolderError)) as refused:
        archive.restore(tmp_path / "bad.zip", replace=True)
    assert refused.value.message
    with pytest.raises((archive.ArchiveError, FolderError)):
        archive.verify(tmp_path / "bad.zip")
    assert state(folder) == before
    assert not (tmp_path / "outside").exists()
    archive.restore(backup, replace=True)
    assert (folder / DATABASE).read_bytes() == parts_of(backup)[DATABASE]


def test_a_backup_of_a_newer_version_is_refused(backup: Path, tmp_path: Path, settings: Any) -> None:
    settings.DATA_DIR, settings.PICTURES_DIR = tmp_path, tmp_path / "pictures"
    new = "INSERT INTO django_migrations (app, name, applied) VALUES ('pieces', '0999_later', '2030-01-01')"
    file = pack(tmp_path / "newer.zip", with_database(parts_of(backup), new))
    with pytest.raises(FolderError, match="newer Caltin") as refused:
        archive.restore(file)
    assert "pieces.0999_later" in refused.value.message


def test_a_backup_made_before_there_were_manifests_is_restored(backup: Path, tmp_path: Path, settings: Any) -> None:
    settings.DATA_DIR, settings.PICTURES_DIR = tmp_path, tmp_path / "pictures"
    parts = {name: data for name, data in parts_of(backup).items() if name != MANIFEST}
    # What such a version packed after a kill: it could not be restored at all.
    found, _ = archive.restore(pack(tmp_path / "old.zip", parts | {"pictures/aa/tmpq1w2e3r4": b"half"}))
    assert (found.version, found.pictures) == ("", 1)
    assert (tmp_path / DATABASE).read_bytes() == parts[DATABASE]
    assert not list(tmp_path.rglob("tmp*"))


def test_what_is_replaced_is_kept_aside(backup: Path, data: Path) -> None:
    assert "--replace" in manage(data, "restore", backup).stderr
    with closing(sqlite3.connect(data / DATABASE)) as database, database:
        database.execute("UPDATE pieces_piece SET title = 'after the backup'")
    before = pictures_in(data)
    assert manage(data, "restore", "--replace", backup).returncode == 0
    (aside,) = data.glob("before-restore-*")
    for folder, title in ((data, "Small"), (aside, "after the backup")):
        with closing(sqlite3.connect(folder / DATABASE)) as database:
            assert database.execute("SELECT title FROM pieces_piece").fetchone() == (title,)
        assert pictures_in(folder) == before


def test_nothing_is_restored_under_a_running_server(backup: Path, data: Path, settings: Any) -> None:
    settings.DATA_DIR = data
    hold = Hold()
    hold.shared()
    try:
        refused = manage(data, "restore", "--replace", backup)
    finally:
        hold.release()
    assert refused.returncode != 0
    assert "running" in refused.stderr


def test_a_backup_that_is_stopped_leaves_nothing(data: Path, tmp_path: Path) -> None:
    target = tmp_path / "b.zip"
    target.write_bytes(b"the last good one")
    with_many_pictures(data)
    running = chore(data, "backup", target)
    while not (tmp_path / "b.zip.partial").exists():
        assert running.poll() is None
        time.sleep(0.005)
    running.terminate()
    assert running.wait() != 0
    assert target.read_bytes() == b"the last good one"
    assert not list(tmp_path.glob("*.partial"))


def test_a_restoring_that_is_killed_leaves_the_old_or_the_new(data: Path, tmp_path: Path) -> None:
    small, archive_ = Path(shutil.copytree(data, tmp_path / "small")), tmp_path / "b.zip"
    with_many_pictures(data)
    assert manage(data, "backup", archive_).returncode == 0
    before, databases = pictures_in(small), ((small / DATABASE).read_bytes(), parts_of(archive_)[DATABASE])
    for wait_s in (0.0, 0.1, 0.3):
        running = chore(small, "restore", "--replace", archive_)
        while not list(small.glob(".restoring-*")):
            assert running.poll() is None
            time.sleep(0.005)
        time.sleep(wait_s)
        running.kill()
        running.wait()
        assert (small / DATABASE).read_bytes() in databases
        assert pictures_in(small).items() >= before.items()
    assert manage(small, "restore", "--replace", archive_).returncode == 0
    assert len(pictures_in(small)) == 151
    assert not list(small.glob(".restoring-*"))


def chore(data: Path, *arguments: object) -> subprocess.Popen[bytes]:
    command = [sys.executable, "manage.py", *map(str, arguments)]
    return subprocess.Popen(command, cwd=ROOT, env=os.environ | {"CALTIN_DATA": str(data)}, stderr=subprocess.DEVNULL)


def with_many_pictures(data: Path) -> None:
    """150 MB of what counts as pictures."""
    (data / "pictures/aa").mkdir(exist_ok=True)
    big = bytes(1_000_000)
    with closing(sqlite3.connect(data / DATABASE)) as database, database:
        for number in range(150):
            digest = f"aa{number:062x}"
            (data / "pictures/aa" / digest[2:]).write_bytes(big)
            database.execute(
                "INSERT INTO pieces_picture (id, digest, size_bytes, width, height, profile, made, owner_id) "
                "VALUES (?, ?, 1, 1, 1, '', '2026-01-01', (SELECT id FROM auth_user))",
                (f"{number:032x}", digest),
            )
