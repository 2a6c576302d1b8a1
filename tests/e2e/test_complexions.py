"""A complexion described, a light set, a study head turned; with a picture of it, without any, for one's own."""

import json
import re
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.e2e.conftest import barriers, saved, small_picture


def room(enter: Callable[..., Page]) -> Page:
    page = enter()
    page.get_by_role("link", name="Complexions").click()
    expect(page.get_by_role("button", name=re.compile("^Use these"))).to_be_enabled()
    return page


def shown(page: Page) -> str:
    """The address of the picture that is shown, once it is there."""
    picture = page.locator(".stage-head img")
    expect(picture).to_be_visible()
    return str(picture.get_attribute("src"))


def test_skin_and_light_are_set_by_keys_and_by_dragging_and_undone(enter: Callable[..., Page]) -> None:
    page = room(enter)
    before = shown(page)
    expect(page.get_by_role("heading", level=1)).to_contain_text("brown")
    depth = page.get_by_role("slider", name=re.compile("^Depth"))
    depth.focus()
    for _ in range(4):
        depth.press("Shift+ArrowRight")
    expect(page.get_by_role("heading", level=1)).not_to_have_text("…")
    expect(page.locator(".stage-head img")).not_to_have_attribute("src", before)
    lamp = page.get_by_role("button", name=re.compile("^Lamp from"))
    expect(lamp).to_have_accessible_name(re.compile("front left, high"))
    lamp.focus()
    for _ in range(30):
        lamp.press("ArrowRight")
    expect(page.get_by_text("from the right, high", exact=True)).to_be_visible()
    # What is done without a pause is undone at once; where the machine pauses, in a few steps.
    begun = page.get_by_text("from the front left, high", exact=True)
    for _ in range(3):
        page.keyboard.press("Control+z")
        with suppress(AssertionError):
            expect(begun).to_be_visible(timeout=5000)
            break
    expect(begun).to_be_visible()
    box = page.locator(".stage-head").bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.8)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 100, box["y"] + box["height"] * 0.8, steps=5)
    page.mouse.up()
    expect(page.get_by_role("button", name=re.compile("turned 52° to the right"))).to_be_visible()
    page.get_by_role("radio", name="Planes").click()
    page.get_by_role("radio", name="Light", exact=True).click()
    page.get_by_label("A light to begin with").select_option("candle")
    expect(page.get_by_text("candle, 1900 K")).to_be_visible()
    assert barriers(page) == []
    page.reload()
    page.get_by_role("radio", name="Light", exact=True).click()
    expect(page.get_by_text("candle, 1900 K")).to_be_visible()  # nothing is lost


def test_a_complexion_is_kept_used_again_and_taken_along(enter: Callable[..., Page], tmp_path: Path) -> None:
    page = room(enter)
    page.get_by_label("Name of this figure").fill("Brá")
    kept = page.get_by_role("region", name="Complexions you keep")
    kept.get_by_role("button", name="Keep", exact=True).click()
    expect(kept.get_by_role("button", name="Brá", exact=True)).to_be_visible()
    with page.expect_download() as download:
        kept.get_by_role("link", name="take along as a file").click()
    file = tmp_path / "complexions.json"
    download.value.save_as(file)
    assert json.loads(file.read_text())["complexions"][0]["name"] == "Brá"
    kept.get_by_role("button", name="forget Brá").click()
    expect(kept.get_by_role("button", name="Brá", exact=True)).to_have_count(0)
    page.get_by_label("File with complexions").set_input_files(file)
    expect(kept.get_by_text("1 put in.")).to_be_visible()
    page.get_by_label("Name of this figure").fill("somebody else")
    kept.get_by_role("button", name="Brá", exact=True).click()
    expect(page.get_by_label("Name of this figure")).to_have_value("Brá")
    file.write_text("no complexions")
    page.get_by_label("File with complexions").set_input_files(file)
    expect(kept.get_by_role("alert")).to_contain_text("not JSON")
    expect(kept.get_by_role("button", name="Brá", exact=True)).to_be_visible()


def test_described_figures_become_a_piece_that_is_planned_and_lit_anew(enter: Callable[..., Page]) -> None:
    page = room(enter)
    page.get_by_label("Name of this figure").fill("Odelo")
    page.get_by_role("button", name=re.compile("^Use these")).click()
    page.wait_for_url("**/look")
    spots = page.locator("[data-spot]")
    expect(page.get_by_role("button", name="Spot 1, forehead shine")).to_be_visible()
    count = spots.count()
    assert count >= 12
    page.get_by_role("button", name="Spot 1, forehead shine").focus()
    page.keyboard.press("Delete")
    expect(spots).to_have_count(count - 1)
    saved(page)
    page.get_by_role("link", name="Change the light").click()
    expect(page.get_by_label("Name of this figure")).to_have_value("Odelo")
    page.get_by_role("radio", name="Light", exact=True).click()
    page.get_by_label("A light to begin with").select_option("below")
    page.get_by_role("button", name=re.compile("^Use these")).click()
    page.wait_for_url("**/look")
    expect(page.get_by_role("img", name="Light comes from below").first).to_be_visible()
    page.get_by_role("link", name="Plan the layers").click()
    expect(page.get_by_role("heading", name="Odelo in a few layers")).to_be_visible()


def test_a_list_of_places_needs_no_picture(enter: Callable[..., Page]) -> None:
    page = room(enter)
    page.get_by_role("button", name="as a list of places").click()
    page.wait_for_url("**/look")
    places = page.get_by_role("list", name="Places").get_by_role("listitem")
    expect(places.first).to_be_visible()
    count = places.count()
    for _ in range(count - 3):
        places.last.get_by_role("button").click()
    page.get_by_role("button", name="one more place").click()
    page.get_by_label("Place 4", exact=True).select_option("chin")
    expect(places.nth(3)).to_contain_text("chin")
    expect(places.nth(3).locator(".numbers").nth(1)).to_have_text(re.compile(r"\d\.\d"))
    assert barriers(page) == []
    page.get_by_role("link", name="Plan the layers").click()
    page.get_by_role("button", name="Plan in layers").click()
    expect(page.get_by_role("heading", name=re.compile("layers, "))).to_be_visible()
    page.get_by_role("link", name="Work").click()
    expect(page.get_by_text("Without a picture there is no map")).to_be_visible()
    expect(page.get_by_role("img", name="Light comes from the upper left").first).to_be_visible()


def test_spots_on_a_drawing_of_one_s_own_aim_for_the_light_that_is_imagined(enter: Callable[..., Page]) -> None:
    page = enter()
    page.get_by_label("Picture file").set_input_files(small_picture())
    page.wait_for_url("**/look**")
    page.get_by_role("button", name="Leave them").click()
    page.get_by_role("link", name="Imagine a light").click()
    page.get_by_role("button", name="for my own picture").click()
    page.wait_for_url("**/look")
    page.get_by_role("group", name="Spots").wait_for()
    page.keyboard.press("s")
    light = page.get_by_label(re.compile("^Light on Spot 1"))
    expect(light).to_have_value("")
    page.get_by_label("Place", exact=True).select_option("forehead")
    light.select_option("highlight")
    saved(page)
    detail = page.get_by_role("region", name="Spot 1")
    detail.get_by_text("numbers").click()
    expect(detail.get_by_text("spread 0.0")).to_be_visible()
