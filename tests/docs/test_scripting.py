"""What docs/scripting.md shows does what it says, and docs/formats.md says what is so."""

from __future__ import annotations

import os
import re
import shlex
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from core.exchange import cells, colour_files, json_files, list_file, method_toml, tray_csv
from core.exchange.bundle import MAX_BUNDLE_BYTES, MAX_JSON_BYTES, MOST_PARTS
from core.exchange.formats import FORMATS
from core.exchange.sound_json import DEEPEST
from core.look import picture
from core.tray.editing import MAX_LENGTH, MAX_NOTE, MAX_STICKS
from server.accounts import services as accounts
from server.imagined.values import MOST_COMPLEXIONS
from server.materials.schools import MAX_METHODS
from server.materials.services import MAX_PAPERS, MAX_TRAYS
from server.pictures.services import MAX_TOTAL_BYTES
from server.pieces.comparing.services import MAX_COMPARISONS
from server.pieces.document.history import MAX_PIECES
from server.practice.services import MAX_ANSWERS
from server.sharing.services import MOST_LINKS
from server.trials.services import MAX_CARDS, MAX_PHOTOS
from tests.conftest import ROOT

SHOWN = re.findall(r"```(sh|python)\n(.*?)```", (ROOT / "docs/scripting.md").read_text(), re.S)
FORMATS_SAID = (ROOT / "docs/formats.md").read_text()


def run(command: list[str], folder: Path, **environment: str) -> str:
    done = subprocess.run(
        command, cwd=folder, env={**os.environ, "PYTHONPATH": str(ROOT), **environment}, capture_output=True, text=True,
        timeout=120,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    return done.stdout


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    shutil.copy(ROOT / "demo/ranges/small-tray-24.csv", tmp_path / "sticks.csv")
    return tmp_path


def test_the_commands_that_are_shown_work(folder: Path) -> None:
    (lines,) = (text for kind, text in SHOWN if kind == "sh")
    for line in lines.strip().splitlines():
        told = shlex.split(line)
        assert told[0] == "./caltin"
        run([sys.executable, "-m", "cli", *told[1:]], folder)
    was, now = ((folder / name).read_text().splitlines() for name in ("sticks.csv", "back.csv"))
    assert len(now) == len(was) and was[1].split(",")[:2] == now[1].split(",")[:2]


def test_the_library_as_it_is_shown(folder: Path) -> None:
    (script,) = (text for kind, text in SHOWN if kind == "python" and "urllib" not in text)
    assert re.match(r"\['G\d\d ", run([sys.executable, "-c", script], folder))


@pytest.mark.django_db(transaction=True)
def test_the_script_over_http_as_it_is_shown(live_server: object, folder: Path) -> None:
    (script,) = (text for kind, text in SHOWN if kind == "python" and "urllib" in text)
    token = accounts.make_link(accounts.get_or_create_artist("ines"))
    address = str(getattr(live_server, "url"))  # noqa: B009  # the plugin's class has no types
    said = run([sys.executable, "-c", script], folder, CALTIN_SERVER=address, CALTIN_TOKEN=token)
    assert said.split() == ["24", "b'PK'"]


def test_every_format_stands_in_the_table() -> None:
    table = FORMATS_SAID.partition("## Limits")[0]
    for row in FORMATS.values():
        assert any(f"`{suffix}`" in table for suffix in row.suffixes), row.id
        line = next(
            line for line in table.splitlines()
            if f"`{row.suffixes[0]}`" in line and (row.holds != "tray") == (not line.startswith("| sticks"))
        )  # fmt: skip
        assert line.endswith(f"| yes | yes | {'yes' if row.whole else 'no'} |"), line


def test_every_limit_in_the_table_is_the_one_that_holds() -> None:
    limits = dict(re.findall(r"^\| ([^|]+) \| ([^|]+) \|", FORMATS_SAID.partition("## Limits")[2], re.M))
    megabyte = 1_000_000
    assert limits["a list of sticks in whatever file"] == f"{list_file.MAX_BYTES // megabyte} MB"
    assert tray_csv.MAX_BYTES == json_files.MAX_BYTES
    assert limits["a CSV file of a tray, a JSON file"] == f"{tray_csv.MAX_BYTES // megabyte} MB"
    unpacked = f"{cells._LARGEST // megabyte} MB in {cells._MOST_FILES} files"
    assert limits["a spreadsheet, unpacked"] == unpacked
    assert limits["columns of a spreadsheet that are looked at"] == str(cells._MOST_COLUMNS)
    assert limits["fields of a CGATS.17 file"] == str(colour_files._MOST_FIELDS)
    assert limits["sticks of a tray"] == str(MAX_STICKS)
    assert limits["letters of a name, of a note"] == f"{MAX_LENGTH}, {MAX_NOTE}"
    assert limits["a bundle"] == f"{MAX_BUNDLE_BYTES // 1024**3} GB in {MOST_PARTS} parts"
    assert limits["a JSON part of a bundle, unpacked"] == f"{MAX_JSON_BYTES // 1024**2} MB, {DEEPEST} levels deep"
    pixels = f"{picture.MAX_BYTES // 1024**2} MB, {picture.MAX_PIXELS // megabyte} megapixels"
    assert limits["a picture"] == pixels
    assert limits["all pictures of an artist"] == f"{MAX_TOTAL_BYTES // 1024**3} GB"
    owned = f"{MAX_TRAYS}, {MAX_PAPERS}, {MAX_METHODS}, {MAX_PIECES}, {MOST_COMPLEXIONS}"
    assert limits["trays, papers, methods, pieces, complexions of an artist"] == owned
    assert limits["a method"] == f"{method_toml.MAX_BYTES // 1000} kB"
    assert limits["cards of a tray, photographs of a card"] == f"{MAX_CARDS}, {MAX_PHOTOS}"
    assert limits["photographs of a drawing"] == str(MAX_COMPARISONS)
    assert limits["answers of practice"] == str(MAX_ANSWERS)
    assert limits["links to plans"] == str(MOST_LINKS)
