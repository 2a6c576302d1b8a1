"""Spots by mouse and keyboard, ways of seeing, bad pictures."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import picture_bytes
from tests.e2e.conftest import REFERENCE, begin, drawn, drop, pick, place, saved


def centre(page: Page, number: int = 1) -> tuple[float, float]:
    box = page.locator("[data-spot] .spot-inner").nth(number - 1).bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def on_picture(page: Page) -> tuple[float, float]:
    """Where the first spot is on the picture, in parts of it, wherever that lies on the page."""
    box, (x, y) = page.get_by_role("group", name="Spots").bounding_box(), centre(page)
    assert box
    return (x - box["x"]) / box["width"], (y - box["y"]) / box["height"]


def width(page: Page) -> float:
    box = page.locator("[data-spot] .spot-inner").first.bounding_box()
    assert box
    return box["width"]


def test_a_spot_is_dragged_resized_and_removed_with_the_mouse(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("0")
    drop(page, 0.4, 0.3)
    before = page.locator("[data-spot]").first.get_attribute("aria-label")
    x, y = centre(page)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y + 160, steps=5)
    page.mouse.up()
    moved_x, moved_y = centre(page)
    assert (moved_x - x, moved_y - y) == (pytest.approx(60, abs=2), pytest.approx(160, abs=2))
    expect(page.locator("[data-spot]").first).not_to_have_attribute("aria-label", str(before))
    small = width(page)
    grip = page.locator(".spot-size").bounding_box()
    assert grip
    page.mouse.move(grip["x"] + 4, grip["y"] + 4)
    page.mouse.down()
    page.mouse.move(grip["x"] + 44, grip["y"] + 34, steps=4)
    page.mouse.up()
    assert width(page) > small * 2
    saved(page)
    page.reload()
    page.locator("[data-spot]").first.wait_for()
    page.keyboard.press("0")
    assert centre(page) == (pytest.approx(moved_x, abs=2), pytest.approx(moved_y, abs=2))
    assert width(page) > small * 2
    page.get_by_role("button", name="Remove").click()
    expect(page.locator("[data-spot]")).to_have_count(0)
    expect(page.get_by_text("Look closely")).to_be_visible()


def test_everything_about_a_spot_works_with_the_keyboard(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("s")
    expect(page.locator("[data-spot]")).to_have_count(1)
    spot = page.locator("[data-spot]").first
    saved(page)
    spot.focus()
    x, y = on_picture(page)
    for _ in range(5):
        page.keyboard.press("Alt+ArrowRight")
    page.keyboard.press("Alt+Shift+ArrowUp")
    moved_x, moved_y = on_picture(page)
    assert moved_x > x + 0.004
    assert moved_y < y - 0.004
    small = width(page)
    for _ in range(4):
        page.keyboard.press("+")
    assert width(page) > small * 1.3
    page.keyboard.press("-")
    saved(page)
    page.keyboard.press("Control+z")
    saved(page)
    page.keyboard.press("Control+y")
    saved(page)
    spot.focus()
    page.keyboard.press("Delete")
    expect(page.locator("[data-spot]")).to_have_count(0)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog").get_by_text("Put a spot in the middle of the picture")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_undo_and_redo_bring_spots_back(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    drop(page, 0.5, 0.5)
    for count in (1, 0):
        page.get_by_role("button", name="Undo").click()
        expect(page.locator("[data-spot]")).to_have_count(count)
    for count in (1, 2):
        page.get_by_role("button", name="Redo").click()
        expect(page.locator("[data-spot]")).to_have_count(count)
    saved(page)


def test_the_picture_is_seen_in_values(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("2")
    picture = page.locator(".stage img")
    expect(picture).to_have_attribute("src", re.compile("kind=values.*amount=5"))
    page.keyboard.press(".")
    expect(picture).to_have_attribute("src", re.compile("amount=6"))
    page.get_by_label("Number of values").fill("3")
    expect(picture).to_have_attribute("src", re.compile("amount=3"))
    drawn(picture)
    page.keyboard.press("1")
    expect(picture).not_to_have_attribute("src", re.compile("values"))


def test_the_ladder_and_the_picture_choose_the_same_spot(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.42, 0.3)
    drop(page, 0.62, 0.6)
    expect(place(page)).to_have_count(2)
    pick(page, "Spot 1")
    expect(page.locator("[data-spot]").first).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_label("Name of the spot")).to_have_value("Spot 1")
    # The spots of the picture are one stop of the Tab key: an arrow goes to the next one, and with Alt moves it.
    expect(page.locator("[data-spot][tabindex='0']")).to_have_count(1)
    page.locator("[data-spot]").first.press("ArrowDown")
    expect(place(page, "Spot 2")).to_have_attribute("aria-selected", "true")
    was = page.locator("[data-spot]").nth(1).get_attribute("transform")
    page.keyboard.press("Alt+ArrowDown")
    expect(page.locator("[data-spot]").nth(1)).not_to_have_attribute("transform", str(was))
    saved(page)


def test_a_second_person_has_spots_of_their_own(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.42, 0.3)
    page.keyboard.press("p")
    page.get_by_role("button", name="One more person").click()
    page.get_by_label("Name of the figure").last.fill("Deckhand")
    page.get_by_label("Name of the figure").last.press("Enter")
    drop(page, 0.6, 0.5)
    expect(page.get_by_label("Figure of the spot")).to_contain_text("Deckhand")
    saved(page)
    page.reload()
    page.get_by_label("Whose places").get_by_role("radio", name="Deckhand").click()
    expect(place(page)).to_have_count(1)
    pick(page, "Spot 2")
    chosen = page.get_by_label("Figure of the spot").locator("option:checked")
    expect(chosen).to_have_text("Deckhand")


BAD = {
    "not a picture": (b"hello", "not a picture"),
    "nothing": (b"", "0 bytes"),
    "half of one": (REFERENCE.read_bytes()[:20_000], "cut off"),
    "one pixel": (picture_bytes(size=(1, 1)), "1 × 1"),
}


@pytest.mark.parametrize("name", BAD)
def test_a_bad_picture_is_refused_in_one_sentence_and_the_piece_is_as_it_was(
    name: str, enter: Callable[..., Page], tmp_path: Path
) -> None:
    data, said = BAD[name]
    file = tmp_path / "picture.jpg"
    file.write_bytes(data)
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    before = page.locator(".stage img").get_attribute("src")
    page.get_by_label("Picture file").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text(said)
    expect(page.get_by_role("alert")).to_contain_text("Your piece is as it was")
    assert page.locator(".stage img").get_attribute("src") == before
    expect(page.locator("[data-spot]")).to_have_count(1)


def test_a_picture_can_be_dragged_in(enter: Callable[..., Page]) -> None:
    page = enter()
    page.get_by_role("button", name="or start with a title alone").click()
    page.get_by_label("Title").fill("By drag")
    page.get_by_role("button", name="Begin").click()
    target = page.get_by_role("region", name="Put in a picture")
    target.wait_for()
    transfer = page.evaluate_handle(
        """async (bytes) => {
            const transfer = new DataTransfer();
            transfer.items.add(new File([new Uint8Array(bytes)], "a.png", { type: "image/png" }));
            return transfer;
        }""",
        list(picture_bytes((180, 130, 100), size=(120, 150))),
    )
    target.dispatch_event("drop", {"dataTransfer": transfer})
    expect(page.get_by_role("group", name="Spots")).to_be_visible()
