"""A full disk and a folder that cannot be written: reading goes on, writing says why, and then it works again."""

from __future__ import annotations

import os
import shutil
import subprocess
from collections.abc import Iterator, Sequence
from pathlib import Path

import pytest

from tests.conftest import ROOT
from tools.site import Json, Visitor, manage, running, to_send

AS_ANYBODY = ("setpriv", "--bounding-set", "-dac_override,-dac_read_search") if os.geteuid() == 0 else ()
"""Before a command: root heeds what a folder's permissions say."""


@pytest.fixture
def small_disk(prepared: Path, tmp_path: Path) -> Iterator[Path]:
    """A disk of 6 MB with a data folder on it."""
    disk = tmp_path / "disk"
    disk.mkdir()
    mount = ["mount", "-t", "tmpfs", "-o", "size=6m", "tmpfs", str(disk)]
    done = subprocess.run(mount, capture_output=True, text=True, check=False)
    assert done.returncode == 0, f"a small file system is needed, and cannot be mounted: {done.stderr}"
    try:
        shutil.copytree(prepared, disk / "data")
        yield disk
    finally:
        subprocess.run(["umount", "-l", str(disk)], check=True)


def fill(disk: Path) -> Path:
    """Leave no room for a single byte."""
    filler = disk / "filler"
    descriptor = os.open(filler, os.O_WRONLY | os.O_CREAT)
    try:
        while True:
            os.write(descriptor, bytes(4096))
    except OSError:
        os.close(descriptor)
    return filler


def reading_goes_on(visitor: Visitor) -> Json:
    """Everything can be looked at, over connections old and new; the first piece."""
    row = visitor.ask("/api/pieces").json[0]
    address = f"/api/pieces/{row['id']}"
    shown = ("/", "/api/session", "/api/trays", "/api/account/space", f"/api/pictures/{row['picture']}")
    for path in (*shown, address, f"{address}/view?kind=values", f"{address}/sheet"):
        for tab in (visitor, visitor.beside(), visitor.beside()):
            answer = tab.ask(path)
            assert answer.status == 200, (path, answer.body[:300])
    piece: Json = visitor.ask(address).json
    return piece


def rename_a_spot(visitor: Visitor, piece: Json, name: str) -> tuple[int, Json]:
    piece["document"]["spots"][0]["name"] = name
    answer = visitor.ask(f"/api/pieces/{piece['id']}", to_send(piece), "PUT")
    return answer.status, answer.json


def writing_is_refused(visitor: Visitor, piece: Json, status: int, code: str) -> None:
    before = piece["document"]["spots"][0]["name"]
    refused = rename_a_spot(visitor, piece, "while nothing can be kept")
    assert refused[0] == status
    assert refused[1]["errors"][0]["code"] == code
    assert "try again" in refused[1]["errors"][0]["hint"]
    assert visitor.ask(f"/api/pieces/{piece['id']}").json["document"]["spots"][0]["name"] == before
    answer = visitor.upload((ROOT / "demo/references/tavi.jpg").read_bytes())
    assert (answer.status, answer.code) == (status, code)


def works_again(visitor: Visitor, piece: Json) -> None:
    for tab in (visitor, visitor.beside(), visitor.beside(), visitor.beside()):
        status, piece = rename_a_spot(tab, piece, piece["document"]["spots"][0]["name"][-20:] + "+")
        assert status == 200
    assert visitor.upload((ROOT / "demo/references/tavi.jpg").read_bytes()).status == 201


def says_one_line(data: Path, chores: Sequence[Sequence[object]], before: Sequence[str] = ()) -> None:
    for chore in chores:
        done = manage(data, *chore, before=before)
        assert done.returncode != 0, chore
        assert len(done.stderr.strip().splitlines()) == 1, done.stderr
        assert "again" in done.stderr or "CALTIN_DATA" in done.stderr


def test_a_full_disk(small_disk: Path) -> None:
    data = small_disk / "data"
    with running(data) as server:
        visitor = Visitor.signed_in(server)
        filler = fill(small_disk)
        piece = reading_goes_on(visitor)
        writing_is_refused(visitor, piece, 507, "disk_full")
        says_one_line(data, [["entrylink", "demo"], ["backup", small_disk / "b.zip"], ["loaddemo", "bo"]])
        assert not list(small_disk.glob("b.zip*"))
        filler.unlink()
        works_again(visitor, reading_goes_on(visitor))
        assert not list(data.rglob(".part-*"))
        server.process.terminate()
        server.process.wait()
    fill(small_disk)
    new = small_disk / "new"
    says_one_line(new, [["prepare"]])
    (data / "secret.key").unlink()
    says_one_line(data, [["prepare"], ["entrylink", "demo"]])


def test_a_folder_that_cannot_be_written(data: Path) -> None:
    def allow(writing: bool) -> None:
        for entry in (data, *data.rglob("*")):
            bits = 0o500 if entry.is_dir() else 0o400
            entry.chmod(bits | (0o200 if writing else 0))

    with running(data, AS_ANYBODY) as server:
        visitor = Visitor.signed_in(server)
        allow(False)
        try:
            piece = reading_goes_on(visitor)
            writing_is_refused(visitor, piece, 503, "read_only")
            says_one_line(data, [["entrylink", "demo"], ["tidy"]], AS_ANYBODY)
        finally:
            allow(True)
        works_again(visitor, reading_goes_on(visitor))
        server.process.terminate()
        server.process.wait()
    allow(False)
    try:
        says_one_line(data, [["prepare"], ["entrylink", "demo"]], AS_ANYBODY)
        with pytest.raises(RuntimeError, match="cannot be written") as ended, running(data, AS_ANYBODY):
            pass
        assert "Traceback" not in str(ended.value)
    finally:
        allow(True)
