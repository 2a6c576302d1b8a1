"""Folders of older versions open with all that is in them; a folder of a newer version is refused."""

from __future__ import annotations

import json
import os
import sqlite3
import stat
import subprocess
import sys
import zipfile
from contextlib import closing
from pathlib import Path

import pytest

from tests.conftest import ROOT
from tools.site import Json, manage, running
from tools.site import seen as with_found

FOLDERS = sorted((ROOT / "tests/folders").glob("*.zip"), key=lambda file: [int(part) for part in file.stem.split(".")])


def opened(data: Path, *first: str) -> Json:
    """What its artist sees, once these chores are done: in one process, since beginning takes longest."""
    command = [sys.executable, "-m", "tests.server.faults.opened", *first]
    done = subprocess.run(
        command, cwd=ROOT, env=os.environ | {"CALTIN_DATA": str(data)}, capture_output=True, check=True
    )
    seen: Json = json.loads(done.stdout)
    return seen


def test_there_is_a_folder_of_every_kind_of_document_before_this() -> None:
    assert [file.stem for file in FOLDERS] == ["0.1", "0.2", "0.3", "0.4", "0.5", "0.8", "0.9", "0.15", "0.17", "0.25"]


@pytest.mark.parametrize("file", FOLDERS, ids=lambda file: file.stem)
def test_a_folder_of_an_older_version_opens_the_first_and_last_through_backup_and_restore(
    file: Path, tmp_path: Path
) -> None:
    old = new = tmp_path / "old"
    with zipfile.ZipFile(file) as packed:
        packed.extractall(old)
    through = file in (FOLDERS[0], FOLDERS[-1])
    if through:
        assert manage(old, "prepare").returncode == 0
    seen = {} if through else opened(old, "prepare")
    modes = {stat.S_IMODE(entry.stat().st_mode) for entry in (old, *old.rglob("*")) if entry.is_dir()}
    assert (modes, stat.S_IMODE((old / "caltin.sqlite3").stat().st_mode)) == ({0o700}, 0o600)
    if through:
        # What they all have come to is of one kind.
        new = tmp_path / "new"
        assert manage(old, "backup", tmp_path / "b.zip").returncode == 0
        assert manage(new, "restore", tmp_path / "b.zip").returncode == 0
        seen = opened(new)
    (row,), piece = seen["rows"], seen["piece"]
    assert (row["title"], row["spots"], row["done"]) == ("An old piece", 3, 1)
    assert (seen["picture"], len(seen["trays"][0]["sticks"])) == (200, 24)
    assert piece["troubles"] == []
    assert [spot["name"] for spot in piece["document"]["spots"]] == ["spot 1", "spot 2", "spot 3"]
    assert all(spot["reading"]["pixels"] > 5 for spot in with_found(piece))
    assert all(spot["outcome"]["trouble"] == "" for spot in with_found(piece))
    assert list(piece["work"]["notes"].values()) == ["twice, lightly"]
    assert piece["can_undo"] and piece["can_redo"]
    assert seen["redone"]["document"]["spots"][1]["name"] == "renamed, then undone"
    with closing(sqlite3.connect(new / "caltin.sqlite3")) as database:
        named = database.execute("SELECT count(*) FROM pieces_revision WHERE picture_id IS NOT NULL").fetchone()[0]
    assert named >= 4


def test_a_folder_of_a_newer_version_is_refused_in_one_sentence(data: Path) -> None:
    with closing(sqlite3.connect(data / "caltin.sqlite3")) as database, database:
        database.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('pieces', '0999_later', '2030-01-01')"
        )
    for chore in (["prepare"], ["entrylink", "demo"], ["backup", data / "b.zip"], ["tidy"]):
        done = manage(data, *chore)
        assert done.returncode != 0
        assert "written by a newer Caltin" in done.stderr
        assert len(done.stderr.strip().splitlines()) == 1
    with (
        pytest.raises(RuntimeError, match="caltin: The data folder was written by a newer Caltin") as ended,
        running(data),
    ):
        pass
    assert "Traceback" not in str(ended.value)


def test_a_folder_that_is_not_ready_is_not_served(tmp_path: Path) -> None:
    with zipfile.ZipFile(FOLDERS[0]) as packed:
        packed.extractall(tmp_path / "old")
    with pytest.raises(RuntimeError, match="is not ready for this version"), running(tmp_path / "old"):
        pass
