"""Pictures from nearer, proposals with what is doubtful in them, and what a portrait offers to balance on."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.conftest import begin, drop, saved


def shown(page: Page) -> dict[str, float]:
    box = page.locator(".stage img").first.bounding_box()
    assert box
    return dict(box)


def settled(page: Page) -> None:
    """What the reference shows has come, and the picture has opened on the head."""
    page.keyboard.press("p")
    page.get_by_role("button", name="This is no face").wait_for()


def test_the_picture_opens_on_the_head_and_is_zoomed_by_wheel_keys_and_buttons(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    settled(page)
    near = page.get_by_role("group", name="How near")
    opened = shown(page)["width"]
    near.get_by_role("button", name="whole").click()
    whole = shown(page)["width"]
    assert opened > 1.15 * whole
    page.keyboard.press("z")
    assert shown(page)["width"] == pytest.approx(1.5 * whole, rel=0.01)
    page.keyboard.press("o")
    assert shown(page)["width"] == pytest.approx(whole, rel=0.01)
    stage = page.locator(".stage").bounding_box()
    assert stage
    x, y = stage["x"] + 0.5 * stage["width"], stage["y"] + 0.4 * stage["height"]
    page.mouse.move(x, y)
    page.wait_for_timeout(300)  # the gestures come with the hand
    before = shown(page)
    page.mouse.wheel(0, -500)
    page.wait_for_timeout(100)
    after = shown(page)
    assert after["width"] > 1.8 * whole
    at = ((x - before["x"]) / before["width"], (y - before["y"]) / before["height"])
    assert ((x - after["x"]) / after["width"], (y - after["y"]) / after["height"]) == pytest.approx(at, abs=0.02)


def test_two_fingers_zoom_and_put_no_spot(enter: Callable[..., Page]) -> None:
    desk = enter()
    begin(desk)
    browser = desk.context.browser
    assert browser
    tablet = browser.new_context(storage_state=desk.context.storage_state(), has_touch=True)
    page = tablet.new_page()
    page.goto(desk.url)
    page.get_by_role("group", name="Spots").wait_for()
    page.keyboard.press("0")
    whole = shown(page)
    stage = page.locator(".stage").bounding_box()
    assert stage
    x, y = stage["x"] + 0.5 * stage["width"], stage["y"] + 0.5 * stage["height"]
    page.mouse.move(x, y)
    page.wait_for_timeout(500)  # the gestures come with the hand
    hand = page.context.new_cdp_session(page)

    def fingers(kind: str, *apart: float) -> None:
        points = [{"x": x + sign * off, "y": y, "id": i} for off in apart for i, sign in enumerate((-1, 1))]
        hand.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    fingers("touchStart", 40)
    for off in (60, 80, 100, 120):
        fingers("touchMove", off)
    fingers("touchEnd")
    assert shown(page)["width"] > 2 * whole["width"]
    expect(page.locator("[data-spot]")).to_have_count(0)
    tablet.close()


def test_a_spot_is_a_cross_until_it_is_picked_and_takes_its_place_s_name(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    settled(page)
    near = page.get_by_role("group", name="How near")
    near.get_by_role("button", name="whole").click()
    drop(page, 0.42, 0.35)
    drop(page, 0.1, 0.1)
    first = page.locator("[data-spot]").first
    assert first.locator(".spot-number").count() == 0
    first.press("Enter")
    first.focus()
    expect(page.locator(".spot-number")).to_have_text("Spot 1")
    call = page.get_by_role("button", name=re.compile("^Call it"))
    place = (call.text_content() or "").removeprefix("Call it ")
    call.click()
    saved(page)
    expect(page.get_by_label("Place")).to_have_value(place)
    expect(page.locator(".spot-number")).to_have_text(place)


def test_doubtful_spots_count_only_once_they_are_looked_at_and_a_wrong_face_goes(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("a")
    expect(page.get_by_text("places proposed")).to_be_visible()
    every = page.get_by_role("checkbox", name=re.compile("^Proposed"))
    doubtful = page.locator(".doubt-list input")
    taken = every.count() - doubtful.count()
    page.get_by_role("button", name=f"Use {taken} spots").wait_for()
    if doubtful.count():
        doubtful.first.check()
        page.get_by_role("button", name=f"Use {taken + 1} spots").wait_for()
    page.get_by_role("button", name="is no face").click()
    expect(page.get_by_role("button", name=re.compile("^Use 0"))).to_be_disabled()
    saved(page)
    page.get_by_role("button", name="Leave them").click()
    page.reload()
    page.keyboard.press("p")
    page.get_by_text("No face was found").wait_for()
    expect(page.get_by_role("button", name="This is no face")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="This is no face").wait_for()


def test_what_a_portrait_offers_to_balance_on_shows_its_effect_before_it_is_taken(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    page.keyboard.press("i")
    offers = page.get_by_role("list", name="Could be balanced on").get_by_role("listitem")
    eye = offers.filter(has_text="An eye white")
    eye.first.wait_for()
    said = eye.first.locator(".effect").text_content() or ""
    depth = said.split("→")[-1].split(",")[0].strip()
    assert depth
    eye.first.get_by_role("button", name="Balance on it").click()
    saved(page)
    expect(page.get_by_text("Balanced on an eye white")).to_be_visible()
    page.keyboard.press("p")
    expect(page.get_by_label("Figures").get_by_text(re.compile(f"^{depth}, "))).to_be_visible()
