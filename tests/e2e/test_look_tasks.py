"""The tasks of Look as an artist does them: seeing, people, light, measuring, the transfer page."""

from __future__ import annotations

import re
from collections.abc import Callable

import pypdfium2
import pytest
from playwright.sync_api import Page, expect

from tests.e2e.conftest import barriers, begin, drawn, drop, place, saved


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    box = page.get_by_role("group", name="Spots").last.bounding_box()
    assert box
    return box["x"] + x * box["width"], box["y"] + y * box["height"]


def pull(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *start))
    page.mouse.down()
    for share in (0.3, 0.6, 1.0):
        x, y = (a + share * (b - a) for a, b in zip(start, end, strict=True))
        page.mouse.move(*at(page, x, y))
    page.mouse.up()


def test_each_way_of_seeing_has_its_key_and_can_be_compared(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    ways = page.get_by_label("Way of seeing")
    for key, name in enumerate(
        ("As it is", "Values", "Squint", "Warm and cool", "Hidden hues", "Light and shadow", "Skin"), start=1
    ):
        page.keyboard.press(str(key))
        expect(ways.get_by_role("radio", name=name)).to_be_checked()
        drawn(page.locator(".stage img").first)
    page.keyboard.press("c")
    expect(page.locator(".stage")).to_have_count(2)
    page.keyboard.press("c")
    expect(page.locator(".stage")).to_have_count(1)
    window = page.get_by_role("button", name=re.compile("^Window: "))
    frame = page.locator(".lens-frame")
    before = frame.bounding_box()
    window.focus()
    page.keyboard.press("ArrowRight")
    after = frame.bounding_box()
    assert before
    assert after
    assert after["x"] > before["x"]
    x, y = (window.bounding_box() or {}).get("x", 0), (window.bounding_box() or {}).get("y", 0)
    page.mouse.move(x + 10, y + 8)
    page.mouse.down()
    page.mouse.move(x - 60, y - 40)
    page.mouse.up()
    moved = frame.bounding_box()
    assert moved
    assert moved["x"] < after["x"] - 30


def test_suggested_spots_are_left_out_taken_and_undone(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("a")
    expect(page.get_by_text("places proposed")).to_be_visible()
    proposed = page.get_by_role("checkbox", name=re.compile("^Proposed"))
    count = proposed.count()
    assert 8 <= count <= 14
    # One stop of the Tab key; arrows go from one to the next, which says its name.
    assert proposed.evaluate_all("rows => rows.filter((row) => row.tabIndex === 0).length") == 1
    proposed.first.press("ArrowDown")
    expect(page.locator("[role=checkbox]:focus text").last).to_be_visible()
    proposed.first.press("Enter")
    expect(proposed.first).to_have_attribute("aria-checked", "false")
    page.get_by_role("button", name=f"Use {count - 1} spots").click()
    expect(page.locator("[data-spot]")).to_have_count(count - 1)
    saved(page)
    expect(place(page)).to_have_count(count - 1)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-spot]")).to_have_count(0)


def test_a_reading_comes_with_what_usually_holds_and_a_gentle_doubt(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.5, 0.27)
    page.get_by_label("Place").select_option("eye white")
    page.get_by_label("Light role").select_option("highlight")
    page.get_by_text("about eye white").click()
    expect(page.get_by_text("Never white: a grey")).to_be_visible()
    drop(page, 0.45, 0.5)
    page.get_by_label("Place").select_option("upper lip")
    drop(page, 0.5, 0.6)
    page.get_by_label("Place").select_option("lower lip")
    saved(page)
    expect(page.get_by_text(re.compile("in the (light|shadow)"))).to_be_visible()


def test_skin_is_painted_in_and_out_by_strokes(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("0")
    page.keyboard.press("p")
    page.get_by_role("button", name="Add skin").click()
    expect(page.get_by_role("button", name="Skin", exact=False).first).to_be_visible()
    picture = page.locator(".stage img")
    before = picture.get_attribute("src")
    pull(page, (0.1, 0.9), (0.3, 0.9))
    saved(page)
    expect(picture).not_to_have_attribute("src", before or "")
    page.get_by_role("button", name="Remove skin").click()
    pull(page, (0.1, 0.9), (0.3, 0.9))
    expect(page.get_by_role("button", name="Undo all 2 strokes")).to_be_visible()
    saved(page)
    page.get_by_role("button", name="Undo all 2 strokes").click()
    saved(page)
    expect(picture).to_have_attribute("src", before or "")


def test_the_light_is_set_by_hand_and_kept(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("i")
    page.get_by_role("button", name=re.compile("It seems to be .*: keep")).click()
    saved(page)
    pull(page, (0.5, 0.4), (0.5, 0.02))
    expect(page.get_by_text("From above")).to_be_visible()
    saved(page)
    page.reload()
    expect(page.get_by_role("img", name="Light comes from above")).to_be_visible()


def test_balance_is_picked_and_its_effect_is_toggled(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("i")
    page.get_by_role("button", name="whole").click()
    page.get_by_role("button", name="Point at a grey or white").click()
    page.mouse.click(*at(page, 0.06, 0.4))
    saved(page)
    expect(page.get_by_text("Depth and undertone follow the balanced picture")).to_be_visible()
    toggle = page.get_by_label("Balanced", exact=True)
    expect(toggle).not_to_be_checked()
    page.keyboard.press("b")
    expect(toggle).to_be_checked()
    expect(page.locator(".stage img").first).to_have_attribute("src", re.compile("balanced=1"))


def test_an_unfit_grey_is_refused_in_one_sentence(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("i")
    page.get_by_role("button", name="Point at a grey or white").click()
    page.mouse.click(*at(page, 0.3, 0.25))
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("too dark to balance on")
    dialog.get_by_role("button", name="Go back to what was saved").click()
    saved(page)
    expect(page.get_by_role("button", name="Remove the balance")).to_be_disabled()


def test_lengths_lines_and_angles_are_measured(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("r")
    measures = page.get_by_label("Measures", exact=True)
    pull(page, (0.35, 0.37), (0.45, 0.37))
    saved(page)
    expect(measures.get_by_text("mm on paper")).to_be_visible()
    page.get_by_role("button", name="Unit").click()
    pull(page, (0.3, 0.6), (0.7, 0.6))
    saved(page)
    expect(measures).to_contain_text(re.compile(r"[34]\.\d\d ×"))
    page.get_by_role("radio", name="Plumb").click()
    pull(page, (0.5, 0.8), (0.5, 0.2))
    saved(page)
    expect(measures).to_contain_text("0.0° from upright")
    page.get_by_role("radio", name="Cross", exact=True).click()
    page.mouse.click(*at(page, 0.5, 0.45))
    page.get_by_role("radio", name="Angle").click()
    pull(page, (0.62, 0.3), (0.5, 0.2))
    saved(page)
    expect(measures).to_contain_text("90°")
    expect(page.locator(".measure")).to_have_count(4)
    page.locator(".measure").last.focus()
    page.keyboard.press("Delete")
    expect(page.locator(".measure")).to_have_count(3)
    saved(page)


def test_the_transfer_page_is_printed_at_true_size(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.45, 0.4)
    page.keyboard.press("r")
    page.get_by_label("Size of the sheet").select_option("A5")
    page.get_by_label("Grid", exact=True).last.check()
    page.get_by_label("margin").fill("400")
    page.get_by_label("margin").press("Enter")
    saved(page)
    expect(page.get_by_label("margin")).to_have_value("10")
    page.get_by_role("link", name="Transfer page").click()
    sheet = page.get_by_role("img", name="Transfer page")
    expect(sheet).to_be_visible()
    box = sheet.bounding_box()
    assert box
    assert box["width"] == pytest.approx(148 / 25.4 * 96, abs=1)
    site = page.url.partition("/pieces")[0]
    svg = page.request.get(site + str(page.get_by_role("link", name="SVG").get_attribute("href"))).text()
    # Borders of the skin, two lines a spot, and a grid of four by five.
    assert svg.count('stroke="#777777"') > 2
    assert svg.count('stroke="#c4c4c4"') == 5 + 6
    deed = page.get_by_role("link", name="Print at true size").get_attribute("href")
    pdf = pypdfium2.PdfDocument(page.request.get(site + str(deed)).body())
    assert len(pdf) == 1
    assert pdf[0].get_size() == (pytest.approx(148 / 25.4 * 72, abs=1), pytest.approx(210 / 25.4 * 72, abs=1))


def test_an_area_is_outlined_by_hand_and_by_keys(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.45, 0.4)
    page.get_by_role("button", name="Give it corners").click()
    saved(page)
    corner = page.get_by_role("button", name="Corner 1 of spot 1")
    corner.focus()
    page.keyboard.press("Shift+ArrowRight")
    saved(page)
    expect(page.get_by_role("button", name="Back to a disc")).to_be_visible()
    page.get_by_role("button", name="Outline an area").click()
    page.mouse.move(*at(page, 0.35, 0.5))
    page.mouse.down()
    for x, y in ((0.42, 0.5), (0.42, 0.56), (0.36, 0.57)):
        page.mouse.move(*at(page, x, y), steps=4)
    page.mouse.up()
    expect(page.locator("[data-spot]")).to_have_count(2)
    saved(page)
    expect(page.get_by_role("button", name=re.compile("Spot 2, .* value"))).to_be_visible()


def test_the_ladder_and_the_picture_point_at_each_other(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.42, 0.3)
    drop(page, 0.6, 0.55)
    rung = place(page, "Spot 1")
    rung.locator(".plan-name").hover()
    expect(page.locator("[data-spot]").first).to_have_class(re.compile("is-hovered"))
    page.locator("[data-spot]").first.hover()
    expect(rung).to_have_class(re.compile("is-hovered"))


def test_on_a_tablet_everything_is_reached_by_touch(enter: Callable[..., Page]) -> None:
    page = enter(has_touch=True)
    page.set_viewport_size({"width": 768, "height": 1024})
    begin(page)
    page.touchscreen.tap(*at(page, 0.45, 0.4))
    expect(page.locator("[data-spot]")).to_have_count(1)
    saved(page)
    for name in ("People", "Light", "Measure", "Spots"):
        page.get_by_label("Work on").get_by_role("radio", name=name).tap()
    assert page.evaluate("document.documentElement.scrollWidth") <= 768
    sizes = page.locator(".look .btn, .look .form-select").evaluate_all(
        "all => all.map(e => e.getBoundingClientRect()).filter(r => r.width > 0).map(r => r.height)"
    )
    assert sizes
    assert min(sizes) >= 43.5


def test_keyboard_focus_title_and_colours_serve_everybody(enter: Callable[..., Page]) -> None:
    page = enter(forced_colors="active")
    begin(page)
    expect(page).to_have_title("Look: Mate on watch – Caltin")
    drop(page, 0.5, 0.5)
    # The first stop leads past the bar; the page has the focus after a step by key.
    page.get_by_role("link", name="Caltin").focus()
    page.keyboard.press("Shift+Tab")
    skip = page.get_by_role("button", name="Go to the page")
    expect(skip).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("w")
    expect(page).to_have_title("Work: Mate on watch – Caltin")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("l")
    expect(page).to_have_title("Look: Mate on watch – Caltin")
    # A swatch keeps its colour where the system sets all others.
    page.locator("[data-spot]").first.wait_for()
    shown = page.locator(".laid path").first
    expect(shown).to_have_css("stroke", re.compile(r"rgb\(\d"))
    red, green, blue = (int(part) for part in re.findall(r"\d+", shown.evaluate("e => getComputedStyle(e).stroke")))
    assert shown.get_attribute("stroke") == f"#{red:02x}{green:02x}{blue:02x}"
    # Single keys are turned off, and on again from the menu.
    page.keyboard.press("?")
    page.get_by_role("checkbox", name="Single letters and digits work").uncheck()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("w")
    page.keyboard.press("?")
    expect(page).to_have_title("Look: Mate on watch – Caltin")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="ines").click()
    page.get_by_role("button", name="Keys").or_(page.get_by_role("menuitem", name="Keys")).click()
    page.get_by_role("checkbox", name="Single letters and digits work").check()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("w")
    expect(page).to_have_title("Work: Mate on watch – Caltin")
    assert barriers(page) == []
