"""Files into other formats, and a method out of a file, on the command line."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from cli.__main__ import main
from core.exchange.method_toml import write_method
from core.exchange.tray_csv import read_tray
from core.method.method import methods
from tests.cli.asked import plan, run
from tests.conftest import ROOT


def ran(capsys: pytest.CaptureFixture[str], *arguments: object) -> dict[str, Any]:
    status, answer, err = run(capsys, *arguments)
    assert (status, err) == (0, "")
    return answer


def test_a_file_is_converted_and_what_cannot_be_is_said(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    source = ROOT / "demo/ranges/small-tray-24.csv"
    told = ran(capsys, "convert", source, tmp_path / "sticks.ods")
    assert told == {"holds": "tray", "from": "tray-csv", "to": "tray-ods", "count": 24, "whole": False}
    ran(capsys, "convert", tmp_path / "sticks.ods", tmp_path / "back.csv")
    assert read_tray((tmp_path / "back.csv").read_bytes()).sticks == read_tray(source.read_bytes()).sticks
    for names, said in (
        ((source, tmp_path / "sticks.doc"), "is of no known kind"),
        ((source, "/nowhere/sticks.csv"), "cannot be written"),
        ((tmp_path / "none.csv", tmp_path / "a.csv"), "cannot be read"),
    ):
        assert main(["convert", *map(str, names)]) == 2
        assert said in capsys.readouterr().err
    (tmp_path / "bad.json").write_text("{")
    assert main(["convert", str(tmp_path / "bad.json"), str(tmp_path / "a.csv")]) == 2


def test_a_method_out_of_a_file_plans(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    method = tmp_path / "mine.toml"
    method.write_bytes(write_method(replace(methods()["darks_first"], name="Mine")))
    usual, own = (plan(capsys, "--passes", 1, method=name)[1] for name in ("darks_first", method))
    assert usual["spots"] == own["spots"]
    method.write_text("name = 1")
    status, _, err = plan(capsys, method=method)
    assert status == 2 and "lacks the key “medium”" in err
