"""Plans in layers on the command line."""

import json
from pathlib import Path

import pytest
from PIL import Image

from tests.cli.asked import TRAY, plan, run


def test_a_plan_in_layers_is_written_and_read_again(capsys, tmp_path: Path) -> None:
    status, answer, err = plan(capsys, "--layers", 4)
    assert (status, err) == (0, "")
    (figure,) = answer["figures"]
    assert 1 <= len(figure["layers"]) <= 4
    assert figure["recommended"] in [row["layers"] for row in figure["curve"]]
    assert figure["expected"]["planned"] <= figure["expected"]["by_hand"] <= figure["expected"]["on_paper"]
    assert figure["untried"] == 4.0
    for number, spot in enumerate(answer["spots"]):
        levels = [(layer, row) for layer in figure["layers"] for row in layer["levels"] if row["spot"] == number]
        assert [step["stick"] for step in spot["recipe"]] == [layer["stick"] for layer, _ in levels]
        assert [step["repeats"] for step in spot["recipe"]] == [row["repeats"] for _, row in levels]
    written = tmp_path / "plan.json"
    written.write_text(json.dumps(answer))
    status, foreseen, err = run(capsys, "predict", "--tray", TRAY, "--plan", written, "--json")
    assert (status, err) == (0, "")
    for row in foreseen["spots"]:
        assert row["passes"][-1]["after"] == answer["spots"][row["spot"]]["prediction"]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"figures": []}', "holds no figures"),
        ('{"figures": [{"layers": 3}]}', "figures[0].layers: layers is not a list"),
        ('{"figures": [{"layers": [{"stick": "G01"}]}]}', "figures[0].layers[0].levels: levels is not a list"),
        ('{"figures": [{"layers": [{"stick": 4, "levels": []}]}]}', "figures[0].layers[0].stick"),
        (
            '{"figures": [{"layers": [{"stick": "G01", "levels": [{"spot": 0.5}]}]}]}',
            "levels[0].spot: There is no spot 0.5",
        ),
        (
            '{"figures": [{"layers": [{"stick": "G01", "levels": [{"spot": 0, "repeats": 1.5}]}]}]}',
            "whole number",
        ),
        (
            '{"figures": [{"layers": [{"stick": "G01", "levels": [{"spot": 0, "flicked": "yes"}]}]}]}',
            "levels[0].flicked: flicked is neither true nor false",
        ),
    ],
)
def test_a_plan_that_cannot_be_read_is_refused_by_field(text: str, said: str, capsys, tmp_path: Path) -> None:
    written = tmp_path / "plan.json"
    written.write_text(text)
    status, _, err = run(capsys, "predict", "--tray", TRAY, "--plan", written)
    assert status == 2
    assert said in err


@pytest.mark.parametrize("count", ["0", "13", "many", "-1"])
def test_a_wrong_number_of_layers_is_refused(count: str, capsys) -> None:
    status, _, err = plan(capsys, f"--layers={count}")
    assert status == 2
    assert "--layers" in err


def test_maps_of_layers_are_written(capsys, tmp_path: Path) -> None:
    few, out = tmp_path / "few.csv", tmp_path / "forecast.png"
    rows = TRAY.read_text().splitlines()
    few.write_text("\n".join([rows[0], *rows[4:20:3]]))
    more = ("--layers", 2, "--maps", tmp_path / "maps", "--forecast", out, "--doses", 2, "--least-area", 60)
    status, answer, err = plan(capsys, *more, tray=few)
    assert (status, err) == (0, "")
    said = answer["figures"][0]["maps"]
    assert said["mean"] < said["p90"]
    assert all(len(doses) == 2 for doses in said["doses"])
    assert len(said["files"]) == 2 * len(answer["figures"][0]["layers"])
    for name in said["files"]:
        assert Image.open(tmp_path / "maps" / name).size[1] == 480
    assert max(Image.open(out).size) <= 1800
    for wrong, code in (("--doses", 0), ("--least-area", 0)):
        status, _, err = plan(capsys, *more, wrong, code, tray=few)
        assert status == 2
        assert "out of range" in err
