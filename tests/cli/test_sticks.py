"""Lists of sticks, swatches in photographs, what to buy, and trial cards on the command line."""

from pathlib import Path

from core.colour.difference import ciede2000
from core.exchange.card_json import read_card_json
from core.exchange.tray_csv import read_tray
from core.optics.support import supports
from tests.cli.asked import REFERENCE, SPOTS, TRAY, run
from tests.conftest import ROOT
from tests.core.photo.sheets import FRAME, filled_page, sheet
from tools.camera import Camera, photograph
from tools.nature import Nature


def test_lists_of_sticks_are_read_and_the_nearest_found(capsys, tmp_path: Path) -> None:
    file = tmp_path / "mine.txt"
    file.write_text("12 burnt sienna\nwibble\n")
    status, answer, _ = run(capsys, "tray", "read", file, "--medium", "pencil")
    assert status == 0
    assert [(row["code"], bool(row["wrong"])) for row in answer["sticks"]] == [("12", False), ("W", True)]
    other = ROOT / "demo/ranges/gangway-36.csv"
    asked = ("tray", "nearest", "L30", "--tray", ROOT / "demo/ranges/long-pier-72.csv", "--among", other)
    status, answer, _ = run(capsys, *asked)
    assert (status, answer["nearest"][0]["code"], answer["nearest"][0]["in"]) == (0, "G30", "gangway-36")
    for wrong in (("read", tmp_path / "none.txt"), ("nearest", "Lx", "--tray", other), ("nearest",)):
        status, answer, err = run(capsys, "tray", *wrong)
        assert (status, answer, err.count("\n")) == (2, {}, 1)


def test_swatches_on_a_photograph_are_read(capsys, tmp_path: Path) -> None:
    xyz, _, true = sheet([(60, 20, 20), (40, 10, -20), (75, 5, 40), (30, 5, 5)], 2, 2)
    data, corners = photograph(xyz, Camera(3, "none"))
    photo, names = tmp_path / "photo.jpg", tmp_path / "names.txt"
    photo.write_bytes(data)
    names.write_text("12 rust\n13 slate\n14 straw\n15 sepia\n")
    at = ",".join(f"{part:.4f}" for corner in corners for part in corner)
    frame = f"{FRAME.left},{FRAME.top},{FRAME.right},{FRAME.bottom}"
    asked = ("tray", "read", photo, "--grid", "2x2", "--corners", at, "--frame", frame, "--names", names)
    status, answer, _ = run(capsys, *asked, "--medium", "pencil")
    assert status == 0
    assert [row["code"] for row in answer["swatches"]] == ["12", "13", "14", "15"]
    assert ciede2000([row["lab"] for row in answer["swatches"]], true).max() < 6
    for grid, corners_said in (("2by2", at), ("2x2", "1,2"), ("2x2", at[::-1])):
        status, _, err = run(capsys, "tray", "read", photo, "--grid", grid, "--corners", corners_said)
        assert (status, err.count("\n")) == (2, 1)


def test_swatches_on_a_photograph_are_found_without_a_word(capsys) -> None:
    status, answer, _ = run(capsys, "tray", "read", ROOT / "demo/photos/twelve-swatches.jpg", "--json")
    assert (status, len(answer["swatches"]), answer["said"]) == (0, 11, "")


def test_what_to_buy_is_told_for_codes_and_for_a_drawing(capsys) -> None:
    ranges = [part for name in ("gangway-36", "long-pier-72") for part in ("--among", ROOT / f"demo/ranges/{name}.csv")]
    status, answer, _ = run(capsys, "tray", "buy", "G30", "G60", *ranges, "--json")
    assert status == 0 and answer["total"] <= answer["alone"]
    assert {row["for"] for row in answer["singles"]} == {"G30", "G60"}
    drawing = ("--tray", TRAY, "--reference", REFERENCE, "--spots", SPOTS, "--count", 2)
    status, answer, _ = run(capsys, "tray", "buy", *ranges, *drawing, "--json")
    assert status == 0 and answer["buy"][-1]["off_then"] < answer["off"]
    for wrong in (("buy", *ranges), ("buy", "G99", *ranges), ("buy", "G30", *ranges, "--paper", "none")):
        status, answer, err = run(capsys, "tray", *wrong)
        assert (status, answer, err.count("\n")) == (2, {}, 1)


def filled(pdf: Path, card: Path, paper: list[float], seed: int) -> bytes:
    """A card as a hand fills it, by physics of another kind, photographed."""
    held = read_card_json(card.read_bytes())
    sticks = read_tray(TRAY.read_bytes()).sticks
    nature = Nature(seed, sticks, supports()[held.paper])
    labs = [nature.lab(cell.passes, hand=0.15).tolist() for cell in held.card.cells]
    xyz, _ = filled_page(pdf.read_bytes(), held.card.pages()[0], 0, labs, seed, paper)
    return photograph(xyz, Camera(seed, "mild", 0.06, size=(1600, 1200)))[0]


def test_a_card_is_printed_filled_photographed_and_teaches(capsys, tmp_path: Path) -> None:
    out, card, photo = tmp_path / "card.pdf", tmp_path / "card.json", tmp_path / "card.jpg"
    asked = ("--reference", REFERENCE, "--spots", SPOTS, "--boxes", 20, "--size", "A5", "--number", 4)
    status, answer, _ = run(capsys, "card", "--tray", TRAY, *asked, out, "--json")
    assert (status, answer["boxes"], answer["pages"]) == (0, 20, 1)
    assert answer["bands"][1] < 0.6 * answer["bands"][0] and "safety sheet" in answer["caution"]
    photo.write_bytes(filled(out, card, [96.0, 0.0, 1.5], 3))
    status, answer, _ = run(capsys, "read-card", photo, "--card", card, "--tray", TRAY, "--leave-out", "2", "--json")
    assert (status, answer["card"], len(answer["boxes"])) == (0, 64, 20)
    assert not answer["boxes"][1]["learnt"] and sum(box["learnt"] for box in answer["boxes"]) >= 15
    errors = answer["learnt"]["errors"]
    assert errors["after"] < errors["held_out"] < errors["before"] and answer["learnt"]["words"]
    other = tmp_path / "other.json"
    other.write_text(card.read_text().replace('"number": 64', '"number": 65'))
    broken = tmp_path / "broken.json"
    broken.write_text("{" * 5000)
    for wrong in (
        ("read-card", photo, "--card", other), ("read-card", photo, "--card", broken),
        ("read-card", ROOT / "demo/photos/twelve-swatches.jpg", "--card", card),
        ("read-card", photo, "--card", card, "--page", "2"), ("read-card", photo, "--card", card, "--leave-out", "x"),
        ("read-card", photo, "--card", card, "--corners", "1,2"), ("card", "--tray", TRAY, "--boxes", "0", out),
        ("card", "--tray", TRAY, "--reference", REFERENCE, out), ("card", "--tray", TRAY, tmp_path / "none/card.pdf"),
    ):  # fmt: skip
        status, answer, err = run(capsys, *wrong)
        assert (status, answer, err.count("\n")) == (2, {}, 1)
