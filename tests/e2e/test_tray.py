"""What one owns: put in by names, by a list or ticked of a range; looked at, changed, undone, taken along."""

import json
import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from core.photo.swatch_sheet import pages_for
from tests.conftest import ROOT
from tests.core.photo.sheets import filled_page
from tests.e2e.conftest import REFERENCE, barriers, saved
from tools.camera import Camera, photograph

TWELVE = """ivory
pale pink
peach
12 burnt sienna
13 raw umber
dark sepia
G4 yellow ochre
english red
warm grey 3
prussian blue
lilac
black"""


def tray_of(enter: Callable[..., Page]) -> Page:
    page = enter(tray=False)
    page.get_by_role("link", name="Tray").click()
    expect(page.get_by_role("heading", name="What do you draw with?")).to_be_visible()
    page.get_by_role("button", name="Put in what you have").click()
    return page


def test_twelve_pencils_by_their_names_are_looked_at_changed_and_undone(enter: Callable[..., Page]) -> None:
    page = tray_of(enter)
    page.get_by_label("One in each line").fill(TWELVE)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Put in what you have").click()  # closed by mistake: what was typed is still there
    expect(page.get_by_text("colour guessed from the name")).to_have_count(12)
    page.get_by_label("into a new box called").fill("The old tin")
    page.get_by_role("button", name="Put in 12 pencils").click()
    chart = page.get_by_role("list", name="What is in this box")
    expect(chart.get_by_role("button")).to_have_count(12)
    expect(page.get_by_text("12 here")).to_be_visible()
    assert barriers(page) == []

    chart.get_by_role("button", name=re.compile("^12 burnt sienna")).click()
    panel = page.get_by_role("region", name="12 burnt sienna")
    expect(panel.get_by_text("guessed from its name")).to_be_visible()
    panel.get_by_role("radio", name="nearly gone").click()
    expect(page.get_by_role("button", name="Undo 12 nearly gone")).to_be_visible()
    panel.get_by_role("button", name="One more").click()
    panel.get_by_role("button", name="dusty").click()
    expect(panel.get_by_role("button", name="dusty")).to_have_attribute("aria-pressed", "true")
    panel.get_by_label("Note on 12").fill("the short one")
    panel.get_by_label("Note on 12").blur()
    expect(page.get_by_role("button", name="Undo note of 12")).to_be_visible()
    panel.get_by_role("button", name="change its name or colour").click()
    panel.get_by_label("Number").fill("15")
    panel.get_by_label("Colour code").fill("#8a4b2f")
    panel.get_by_role("combobox", name="Its colour is like").select_option(label="13 raw umber")
    panel.get_by_role("button", name="warmer").click()
    panel.get_by_role("button", name="Keep this").click()
    panel = page.get_by_role("region", name="15 burnt sienna")
    expect(panel.get_by_text("Its colour was set beside another.")).to_be_visible()
    page.reload()
    chart.get_by_role("button", name=re.compile("^15 burnt sienna.*nearly gone")).click()
    expect(page.get_by_label("Note on 15")).to_have_value("the short one")
    page.get_by_role("button", name="remove it from the box").click()
    expect(chart.get_by_role("button")).to_have_count(11)
    for _ in range(2):
        page.keyboard.press("Control+z")
    expect(chart.get_by_role("button", name=re.compile("^12 burnt sienna"))).to_be_visible()
    page.keyboard.press("Control+y")
    expect(chart.get_by_role("button", name=re.compile("^15 burnt sienna"))).to_be_visible()

    # By keys alone: down and right through the chart, marked, found.
    chart.get_by_role("button", name=re.compile("ivory")).focus()
    page.keyboard.press("ArrowDown")
    expect(chart.locator("[aria-current=true]")).not_to_contain_text("I")
    page.get_by_label("Find").fill("dusty")
    expect(chart.get_by_role("button")).to_have_count(1)
    page.get_by_label("Find").fill("")
    page.get_by_label("How they are laid out").select_option("by place in the box")
    last = chart.get_by_role("button").last
    last.focus()
    page.keyboard.press("Alt+ArrowLeft")
    expect(page.get_by_role("button", name="Undo order of the box")).to_be_visible()


def test_a_list_from_anywhere_says_all_its_faults_and_is_put_right(enter: Callable[..., Page], tmp_path: Path) -> None:
    page = tray_of(enter)
    file = tmp_path / "mine.csv"
    file.write_text("Shade;Qty;Shelf;Nr\noak;2;left;1\nash;1;;2\nwibble;1;;3\nrose;x;;2\n")
    page.get_by_label("File with your list").set_input_files(file)
    expect(page.get_by_text("2 lines need a word from you")).to_be_visible()
    expect(page.get_by_text("Line 4: “wibble” does not say its colour")).to_be_visible()
    expect(page.get_by_text("Line 5: 2 stands in line 3 as well.")).to_be_visible()
    page.get_by_label("Shelf").select_option("note")
    page.get_by_label("Colour of wibble").fill("#123456")
    page.get_by_label("Number in line 5").fill("4")
    expect(page.get_by_text("“x” is not a number from 1 to 99")).to_be_visible()
    page.get_by_role("button", name="Remove line 5").click()
    page.get_by_role("button", name="Put in 3 pencils").click()
    chart = page.get_by_role("list", name="What is in this box")
    chart.get_by_role("button", name=re.compile("^1 oak")).click()
    expect(page.get_by_label("Note on 1")).to_have_value("left")
    # The same columns are known the next time.
    page.get_by_role("button", name="Add pencils").click()
    page.get_by_label("One in each line").fill("Shade;Qty;Shelf;Nr\nelm brown;2;right;9")
    expect(page.get_by_label("Shelf")).to_have_value("note")
    palette = tmp_path / "mine.gpl"
    palette.write_text("GIMP Palette\nName: mine\n#\n180 154 114\tP7 rope\n999 0 0\tnone\n")
    page.get_by_label("File with your list").set_input_files(palette)
    expect(page.get_by_label("Not understood in the file")).to_contain_text("Line 5 is no colour")
    expect(page.get_by_label("One in each line")).to_have_value(re.compile("P7\trope\t#b49a72"))
    file.write_text("ochre\n" * 5000)
    page.get_by_label("File with your list").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text("The list has 5000 lines; a box holds 400.")
    page.keyboard.press("Escape")

    # Split, and taken along.
    page.get_by_role("button", name="mark several").click()
    chart.get_by_role("button", name=re.compile("^1 oak")).click()
    page.get_by_role("button", name="Move them", exact=True).click()
    expect(chart.get_by_role("button")).to_have_count(2)
    page.get_by_role("button", name="the box", exact=True).click()
    with page.expect_download() as download:
        page.get_by_text("Take along as JSON").click()
    held = json.loads(Path(download.value.path()).read_text())
    assert [stick["code"] for stick in held["sticks"]] == ["2", "3"]


def test_a_newcomer_plans_with_sticks_of_their_own_in_at_most_six_actions_besides_the_list(
    enter: Callable[..., Page],
) -> None:
    page = enter(tray=False)
    actions = 0

    def counted(action: Callable[[], object]) -> None:
        nonlocal actions
        actions += 1
        action()

    counted(lambda: page.get_by_role("button", name="put in my own").click())
    page.get_by_label("One in each line").fill(TWELVE)
    counted(lambda: page.get_by_role("button", name="Put in 12 pencils").click())
    expect(page.get_by_text("Your own are used: My box.")).to_be_visible()
    counted(lambda: page.get_by_label("Picture file").set_input_files(REFERENCE))
    counted(lambda: page.get_by_role("button", name=re.compile(r"Use \d+ spots")).click())
    counted(lambda: page.get_by_role("link", name="Plan the layers").click())
    counted(lambda: page.get_by_role("button", name="Plan in layers").click())
    expect(page.get_by_role("heading", level=1, name=re.compile("layers?, .* pencils?"))).to_be_visible()
    assert actions <= 6
    expect(page.get_by_role("region", name="How you work")).to_contain_text("My box")
    saved(page)


def test_twelve_pencils_by_a_photograph_of_their_swatches_on_a_tablet(enter: Callable[..., Page]) -> None:
    page = tray_of(enter)
    page.set_viewport_size({"width": 768, "height": 1024})
    page.get_by_role("radio", name="by photograph").click()
    page.get_by_label("Picture file").set_input_files(ROOT / "README.md")
    expect(page.get_by_role("alert")).to_contain_text("This is not a picture")
    page.get_by_label("Picture file").set_input_files(ROOT / "demo/photos/twelve-swatches.jpg")
    expect(page.get_by_text("11 swatches found.")).to_be_visible()
    # The off-white one is not seen on white paper: a grid has it, and a corner is set finer by keys.
    page.get_by_role("radio", name="the sheet's corners").click()
    page.get_by_label("Corner, upper left").press("ArrowUp")
    page.get_by_role("radio", name="lay a grid").click()
    expect(page.get_by_text("12 swatches found.")).to_be_visible()
    page.get_by_label("Their numbers and names").fill("\n".join(f"N{i} stick {i}" for i in range(1, 13)))
    expect(page.get_by_label("Number of swatch 12")).to_have_value("N12")
    page.get_by_label("Name of swatch 2").fill("peach")
    assert barriers(page) == []
    page.get_by_label("Remove swatch 12").click()
    expect(page.get_by_text("12 names for 11 swatches")).to_be_visible()
    page.get_by_role("button", name="Put in 11 pencils").click()
    chart = page.get_by_role("list", name="What is in this box")
    expect(chart.get_by_role("button")).to_have_count(11)
    chart.get_by_role("button", name=re.compile("^N2 peach")).click()
    expect(page.get_by_text("Its colour was read from a photograph.")).to_be_visible()


def test_a_printed_sheet_of_ones_sticks_sets_their_colours(enter: Callable[..., Page], tmp_path: Path) -> None:
    page = enter()
    page.get_by_role("link", name="Tray").click()
    chart = page.get_by_role("list", name="What is in this box")
    expect(chart.get_by_role("button")).to_have_count(12)
    page.get_by_role("button", name="Add pencils").click()
    page.get_by_role("radio", name="by photograph").click()
    address = page.get_by_role("link", name="A5").get_attribute("href")
    pdf = page.request.get(page.url.rpartition("/")[0] + str(address)).body()
    labs = [(30.0 + 5 * i, 10.0, 15.0) for i in range(12)]
    printed, _ = filled_page(pdf, pages_for("A5", labs)[0], 0, labs)
    data, _ = photograph(printed, Camera(2, "none", size=(1200, 1600)))
    (tmp_path / "filled.jpg").write_bytes(data)
    page.get_by_label("Picture file").set_input_files(tmp_path / "filled.jpg")
    expect(page.get_by_text("This is the printed sheet of small")).to_be_visible()
    page.get_by_label("Remove swatch 3").click()
    page.get_by_role("button", name="Set the colours of 11 pencils").click()
    expect(page.get_by_role("button", name=re.compile("^Undo colours of"))).to_be_visible()
    expect(chart.get_by_role("button")).to_have_count(12)
