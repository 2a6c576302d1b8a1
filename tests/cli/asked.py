"""The command line as a test asks it."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from cli.__main__ import main
from tests.conftest import ROOT

TRAY = ROOT / "demo/ranges/small-tray-24.csv"
REFERENCE = ROOT / "demo/references/mairen.jpg"
SPOTS = ROOT / "demo/references/mairen.json"


def run(capsys: pytest.CaptureFixture[str], *arguments: object) -> tuple[int, dict, str]:
    status = main([str(a) for a in arguments])
    out, err = capsys.readouterr()
    return status, json.loads(out) if out else {}, err


def plan(capsys: pytest.CaptureFixture[str], *more: object, **change: object) -> tuple[int, dict, str]:
    given = {"reference": REFERENCE, "spots": SPOTS, "tray": TRAY, "medium": "pencil", "paper": "medium-white"}
    given |= {"method": "darks_first"} | change
    options = [part for key, value in given.items() for part in (f"--{key}", value)]
    return run(capsys, "plan", *options, *more, "--json")


def write(folder: Path, name: str, data: bytes | str) -> Path:
    file = folder / name
    file.write_bytes(data.encode() if isinstance(data, str) else data)
    return file
