import json
from pathlib import Path

import pypdfium2
import pytest
from PIL import Image

from core.exchange.scene_json import write_scene
from core.light.scene import Scene, Sitter
from core.light.words import PRESETS
from core.skin.describe import Description
from tests.cli.asked import TRAY, run


@pytest.fixture
def scene(tmp_path: Path) -> Path:
    file = tmp_path / "scene.json"
    file.write_bytes(write_scene(PRESETS["dusk"].on(Scene((Sitter("Tavi", Description(57, 85), turn=12),)))))
    return file


def test_light_tells_families_targets_spots_and_jobs(capsys, scene: Path, tmp_path: Path) -> None:
    picture, plan = tmp_path / "lit.png", tmp_path / "map.pdf"
    status, answer, err = run(capsys, "light", "--scene", scene, "--picture", picture, "--map", plan, "--json")
    assert (status, err) == (0, "")
    assert answer["light"]["from"] == "from the front left, a little high"
    assert (answer["light"]["edge"], answer["light"]["lamp"]) == ("soft", "warm bulb, 2600 K")
    (tavi,) = answer["sitters"]
    assert tavi["name"] == "Tavi"
    assert tavi["complexion"].startswith("tan, ")
    assert 12 <= len(tavi["spots"]) <= 18
    assert len(tavi["targets"]) > 60
    assert {job["name"] for job in tavi["jobs"]} >= {"light", "base", "bridge", "blood", "shade", "deepest"}
    with Image.open(picture) as opened:
        assert opened.size == (answer["sheet"]["width"], answer["sheet"]["height"])
    assert len(pypdfium2.PdfDocument(plan)) == 1


def test_plan_takes_a_scene_instead_of_reference_and_spots(capsys, scene: Path) -> None:
    status, answer, err = run(capsys, "plan", "--scene", scene, "--tray", TRAY, "--layers", "4", "--json")
    assert (status, err) == (0, "")
    assert [figure["figure"] for figure in answer["figures"]] == ["Tavi"]
    assert len(answer["figures"][0]["layers"]) <= 4
    _, told, _ = run(capsys, "light", "--scene", scene, "--json")
    aims = {spot["name"]: spot["lab"] for spot in told["sitters"][0]["spots"]}
    for spot in answer["spots"]:
        assert spot["reading"]["lab"] == pytest.approx(aims[spot["name"]], abs=0.06)


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (("--map", "map.gif"), "--map"),
        (("--map", "/nowhere/map.pdf"), "--map"),
        (("--steps", "9"), "steps"),
        (("--picture", "/nowhere/lit.png"), "--picture"),
    ],
)
def test_what_cannot_be_made_is_said_on_one_line(capsys, scene: Path, more: tuple[str, str], said: str) -> None:
    status, answer, err = run(capsys, "light", "--scene", scene, *more)
    assert (status, answer) == (2, {})
    assert said in err
    assert err.count("\n") == 1


def test_a_bad_scene_and_half_a_reference_are_refused(capsys, tmp_path: Path) -> None:
    dark = tmp_path / "dark.json"
    dark.write_text(json.dumps({"key": {"level": 0}, "around": []}))
    assert "Nothing shines" in run(capsys, "light", "--scene", dark)[2]
    assert run(capsys, "light", "--scene", tmp_path / "none.json")[0] == 2
    status, _, err = run(capsys, "plan", "--tray", TRAY, "--reference", "x.jpg")
    assert status == 2
    assert "--spots" in err
