import io
import itertools
import json
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from cli.__main__ import main
from tests.cli.asked import REFERENCE, SPOTS, TRAY, plan, run, write
from tests.conftest import ROOT


def test_plan_gives_every_spot_reading_target_recipe_prediction_distances_and_cautions(capsys) -> None:
    status, answer, err = plan(capsys)
    assert (status, err) == (0, "")
    rows = json.loads(SPOTS.read_text())["spots"]
    assert [spot["name"] for spot in answer["spots"]] == [row["name"] for row in rows]
    for spot in answer["spots"]:
        assert spot["reading"]["pixels"] > 100
        assert spot["target"]["lab"] == spot["reading"]["lab"]
        assert spot["prediction"]["hex"].startswith("#")
        assert {"delta_e", "delta_v", "tolerance", "cautions", "figure", "place", "role"} <= spot.keys()
        for step in spot["recipe"]:
            assert {"stick", "pressure", "repeats", "technique", "after", "effect"} <= step.keys()
        if spot["recipe"]:
            assert spot["recipe"][-1]["after"] == spot["prediction"]
    assert np.mean([spot["delta_e"] for spot in answer["spots"]]) < 1.5


def test_the_readings_are_the_true_colours_of_the_made_up_heads(capsys) -> None:
    for name in ("mairen", "odelo", "tavi", "senna-rue"):
        spots = ROOT / f"demo/references/{name}.json"
        _, answer, _ = plan(capsys, "--passes", 1, reference=ROOT / f"demo/references/{name}.jpg", spots=spots)
        true = np.array([row["true_lab"] for row in json.loads(spots.read_text())["spots"]])
        off = np.abs(true - [spot["reading"]["lab"] for spot in answer["spots"]]).max(axis=1)
        # Where a disc lies across an edge the trimmed reading means one side of it, the true mean both.
        even = np.array([spot["reading"]["spread"] < 3 for spot in answer["spots"]])
        assert even.sum() >= 6, name
        assert off[even].max() < 1.5, name
        assert np.median(off) < 0.6, name


def test_predict_knows_every_technique_tools_and_mixed_stacks(capsys, tmp_path: Path) -> None:
    tray, passes = tmp_path / "tray.csv", tmp_path / "passes.json"
    rows = [
        line
        for name in ("small-tray-24", "ebb-24", "rigging-36", "keel-24", "lantern-16")
        for line in (ROOT / f"demo/ranges/{name}.csv").read_text().splitlines()[1:]
    ]
    tray.write_text("\n".join([TRAY.read_text().splitlines()[0], *rows]))
    stacks = {
        "pencil": [
            ("G30", "medium", "lay"),
            ("G03", "heavy", "burnish"),
            ("putty", "light", "lift"),
            ("N01", "heavy", "lay"),
        ],
        "marker": [
            ("E052", "light", "lay"),
            ("E013", "light", "wet"),
            ("G30", "light", "lay"),
            ("N30", "light", "lay"),
        ],
        "pastel": [
            ("R30", "medium", "lay"),
            ("R10", "light", "glaze"),
            ("R05", "medium", "smudge"),
            ("putty", "light", "lift"),
        ],
        "oil_pastel": [("K30", "heavy", "lay"), ("blade", "light", "lift"), ("G48", "medium", "lay")],
        "opaque": [("N16", "heavy", "lay"), ("N12", "medium", "lay")],
    }
    for medium, stack in stacks.items():
        named = [{"stick": stick, "pressure": pressure, "technique": how} for stick, pressure, how in stack]
        passes.write_text(json.dumps({"passes": named}))
        status, answer, err = run(capsys, "predict", "--medium", medium, "--tray", tray, "--passes", passes, "--json")
        assert (status, err) == (0, ""), medium
        seen = [answer["paper"]["hex"], *(row["after"]["hex"] for row in answer["passes"])]
        assert all(one != next_ for one, next_ in itertools.pairwise(seen)), medium
    passes.write_text(json.dumps({"passes": [{"stick": "G30"}, {"stick": "E052"}]}))
    status, _, err = run(capsys, "predict", "--medium", "marker", "--tray", tray, "--passes", passes)
    assert status == 2
    assert "does not hold over coloured pencil" in err


def test_plan_and_predict_know_markers(capsys, tmp_path: Path) -> None:
    markers = ROOT / "demo/ranges/breakwater-60.csv"
    status, answer, err = run(
        capsys, "plan", "--reference", REFERENCE, "--spots", SPOTS, "--tray", markers, "--medium", "marker", "--json"
    )
    assert (status, err) == (0, "")
    assert answer["setup"]["paper"] == "marker-card"
    assert answer["setup"]["method"] == "light_to_dark"
    assert np.mean([spot["delta_e"] for spot in answer["spots"]]) < 3
    passes = write(tmp_path, "p.json", '{"passes":[{"stick":"B084"},{"stick":"B00","technique":"wet"}]}')
    _, said, _ = run(capsys, "predict", "--medium", "marker", "--tray", markers, "--passes", passes, "--json")
    dark, lifted = (row["after"]["lab"][0] for row in said["passes"])
    assert lifted > dark + 5


def test_plan_obeys_its_limits(capsys) -> None:
    _, answer, _ = plan(capsys, "--sticks", 4, "--passes", 2, "--black", "avoid", method="pale_base_first")
    used = {step["stick"] for spot in answer["spots"] for step in spot["recipe"]}
    assert 1 < len(used) <= 4
    assert "G72" not in used
    assert max(len(spot["recipe"]) for spot in answer["spots"]) <= 2
    assert answer["setup"]["method"] == "pale_base_first"


def test_the_same_question_has_the_same_answer(capsys) -> None:
    assert plan(capsys) == plan(capsys)


@pytest.mark.parametrize("orientation", [1, 6])
def test_an_ordinary_phone_photograph_is_read_the_right_way_up(orientation: int, tmp_path: Path, capsys) -> None:
    # 12 MP, wide-gamut profile, turned by EXIF: the upper half is dark, the lower half light.
    upright = np.full((4000, 3000, 3), 60, dtype=np.uint8)
    upright[2000:] = 200
    stored = np.rot90(upright, 1) if orientation == 6 else upright
    exif = Image.Exif()
    exif[0x0112] = orientation
    out = io.BytesIO()
    icc = (ROOT / "core/look/data/display-p3.icc").read_bytes()
    Image.fromarray(np.ascontiguousarray(stored)).save(out, "JPEG", quality=85, exif=exif.tobytes(), icc_profile=icc)
    photo = tmp_path / "photo.jpg"
    photo.write_bytes(out.getvalue())
    spots = tmp_path / "spots.json"
    spots.write_text(json.dumps({"spots": [{"x": 0.5, "y": y, "radius": 0.02} for y in (0.25, 0.75)]}))
    status, answer, _ = plan(capsys, "--passes", 1, reference=photo, spots=spots)
    assert status == 0
    assert (answer["reference"]["width"], answer["reference"]["height"]) == (3000, 4000)
    assert answer["reference"]["profile"] == "Display P3"
    dark, light = (spot["reading"]["value"] for spot in answer["spots"])
    assert dark < 3 < 7 < light


def test_predict_gives_the_colour_after_each_pass(tmp_path: Path, capsys) -> None:
    passes = tmp_path / "passes.json"
    rows = [{"stick": "G10", "pressure": "medium", "repeats": 2}, {"stick": "G48"}]
    passes.write_text(json.dumps({"passes": rows}))
    status, answer, _ = run(
        capsys, "predict", "--medium", "pencil", "--paper", "toothy-white", "--tray", TRAY, "--passes", passes, "--json"
    )
    assert status == 0
    lightness = [answer["paper"]["lab"][0], *(step["after"]["lab"][0] for step in answer["passes"])]
    assert lightness == sorted(lightness, reverse=True)
    assert [step["stick"] for step in answer["passes"]] == ["G10", "G48"]
    assert answer["passes"][1]["pressure"] == "light"


BAD = {
    "no such picture": (lambda d: {"reference": d / "gone.jpg"}, "--reference"),
    "not a picture": (lambda d: {"reference": write(d, "a.jpg", "hello")}, "not a picture"),
    "an empty picture": (lambda d: {"reference": write(d, "a.jpg", b"")}, "0 bytes"),
    "a truncated picture": (lambda d: {"reference": write(d, "a.jpg", REFERENCE.read_bytes()[:30000])}, "cut off"),
    "a folder": (lambda d: {"reference": d}, "--reference"),
    "a spot outside": (lambda d: {"spots": write(d, "s.json", '{"spots":[{"x":2,"y":0,"radius":0.1}]}')}, "spots[0].x"),
    "spots that are no JSON": (lambda d: {"spots": write(d, "s.json", "x,y")}, "not JSON"),
    "a wrong hex": (
        lambda d: {"tray": write(d, "t.csv", "code,name,medium,hex,opacity\n1,a,pencil,#12,semi\n")},
        "row 2, hex",
    ),
    "double codes": (
        lambda d: {"tray": write(d, "t.csv", "code,name,medium,hex,opacity\n" + "1,a,pencil,#121212,semi\n" * 2)},
        "row 3, code",
    ),
    "an empty tray": (lambda d: {"tray": write(d, "t.csv", "code,name,medium,hex,opacity\n")}, "tray is empty"),
    "no pencils in it": (
        lambda d: {"tray": write(d, "t.csv", "code,name,medium,hex,opacity\n1,a,marker,#121212,semi\n")},
        "no usable pencil",
    ),
    "a medium that does not exist": (lambda d: {"medium": "watercolour"}, "no medium"),
    "a paper that does not exist": (lambda d: {"paper": "sand"}, "no paper"),
    "a method that does not exist": (lambda d: {"method": "guess"}, "no method"),
    "too few sticks": (lambda d: {"sticks": 1}, "A limit of 1 is"),
    "sticks that are no number": (lambda d: {"sticks": "many"}, "--sticks"),
    "too many passes": (lambda d: {"passes": 9}, "passes"),
}


@pytest.mark.parametrize("name", BAD)
def test_wrong_input_ends_with_status_2_and_one_line_that_names_it(name: str, tmp_path: Path, capsys) -> None:
    change, expected = BAD[name]
    status, answer, err = plan(capsys, **change(tmp_path))
    assert status == 2
    assert answer == {}
    assert err.count("\n") == 1
    assert err.startswith("caltin: ")
    assert expected in err


def test_a_missing_argument_and_an_unknown_command_are_wrong_input_too(capsys) -> None:
    for arguments in ([], ["paint"], ["plan"], ["predict", "--tray", str(TRAY)]):
        assert main(arguments) == 2
        assert capsys.readouterr().err.startswith("caltin: ")


def test_plan_adds_palette_ramp_and_forecast(capsys, tmp_path: Path) -> None:
    out = tmp_path / "drawing.png"
    status, answer, err = plan(capsys, "--palette", 5, "--ramp", "--forecast", out)
    assert (status, err) == (0, "")
    assert len(answer["palette"]["sticks"]) == len(answer["palette"]["losses"]) == 5
    (ramp,) = answer["ramps"]
    values = [rung["swatch"]["value"] for rung in ramp["rungs"]]
    assert values == sorted(values)
    assert len(ramp["gaps"]) == len(values) - 1
    with Image.open(REFERENCE) as reference, Image.open(out) as drawn:
        assert drawn.size == reference.size
    assert all(spot["why"] for spot in answer["spots"])


def test_plan_burnishes_reserves_and_compresses(capsys) -> None:
    status, answer, _ = plan(capsys, "--finish", "burnish", "--reserve", "--fit", "compress")
    assert status == 0
    for spot in answer["spots"]:
        if spot["role"] == "highlight":
            assert len([row for row in spot["recipe"] if row["technique"] == "lay"]) <= 1
        elif spot["recipe"]:
            assert spot["recipe"][-1]["technique"] == "burnish"


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (("--palette", 99), "A palette of 99 is out of range"),
        (("--fit", "stretch"), "clip or compress"),
        (("--finish", "varnish"), "layer or burnish"),
        (("--forecast", "/nowhere/out.png"), "cannot be written"),
    ],
)
def test_what_plan_cannot_add_is_one_line(more: tuple[object, ...], said: str, capsys) -> None:
    status, _, err = plan(capsys, *more)
    assert status == 2
    assert said in err
    assert err.count("\n") == 1


def test_a_tray_that_nothing_can_begin_with_is_answered_in_one_line(capsys, tmp_path: Path) -> None:
    tray = tmp_path / "black.csv"
    tray.write_text("code,name,medium,hex,opacity\n0,bone black,pencil,#202020,opaque\n")
    status, answer, err = plan(capsys, tray=tray, black="avoid")
    assert (status, answer) == (2, {})
    assert err.startswith("caltin: method: No pencil of this tray can be laid first")
    assert err.count("\n") == 1
