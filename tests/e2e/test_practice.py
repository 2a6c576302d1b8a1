"""Practice in the real interface: a round by mouse and by keys, a slip, and what the answers show."""

from collections.abc import Callable

from playwright.sync_api import Page, expect

from server.accounts.services import get_or_create_artist
from server.personal.management.commands.loaddemo import load_practice
from tests.e2e.conftest import barriers, small_picture


def test_a_round_is_begun_answered_and_shown(enter: Callable[..., Page]) -> None:
    page = enter(tray=False)
    page.get_by_role("link", name="Practice").click()
    expect(page.get_by_role("heading", name="Train the eye between two pieces")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("button", name="how light").click()
    page.get_by_role("button", name="bare patches").click()
    page.get_by_role("button", name="Begin a round").click()
    expect(page.get_by_role("heading", name="How light is it?")).to_be_visible()
    assert barriers(page) == []
    # By keys alone: the slider, the answer, and on.
    slider = page.get_by_role("slider", name="Value 5.0")
    slider.press("ArrowRight")
    page.get_by_role("button", name="It is 5.5").press("Enter")
    told = page.locator(".practice-told [role=note]")
    expect(told).to_contain_text("It is ")
    assert barriers(page) == []
    page.get_by_role("button", name="that was a slip").click()
    expect(page.get_by_role("button", name="It is 5.5")).to_be_visible()
    for number in range(8):
        page.get_by_role("button", name="It is ").click()
        expect(told).to_be_visible()
        expect(page.get_by_role("button", name="Next" if number < 7 else "See the round")).to_be_focused()
        page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="of 8 right")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_role("img", name="off by").first).to_be_visible()
    page.get_by_role("button", name="warmer or cooler").click()
    page.get_by_role("button", name="how light").click()
    page.get_by_role("button", name="Begin a round").click()
    page.get_by_role("button", name="warmer", exact=True).or_(
        page.get_by_role("button", name="It is 5.0")
    ).first.click()
    expect(told).to_be_visible()
    page.get_by_role("button", name="stop here").click()
    expect(page.get_by_role("button", name="go on with the last one")).to_be_visible()
    page.wait_for_load_state("networkidle")


def test_weeks_show_where_one_leans_and_a_photograph_that_is_no_ramp_is_refused(enter: Callable[..., Page]) -> None:
    page = enter(tray=False)
    load_practice(get_or_create_artist("ines"))
    page.get_by_role("link", name="Practice").click()
    expect(page.get_by_text("Your eye whites are one and a half steps too light.")).to_be_visible()
    assert barriers(page) == []
    page.set_viewport_size({"width": 768, "height": 1024})
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("button", name="five steps by hand").click()
    assert barriers(page) == []
    page.get_by_label("Picture file").set_input_files(small_picture())
    expect(page.get_by_role("alert")).to_contain_text("Nothing was kept")
    page.get_by_role("button", name="back to practice").click()
    page.get_by_role("button", name="remove all answers").click()
    page.get_by_role("button", name="Remove them").click()
    expect(page.get_by_text("Nothing yet.")).to_be_visible()
    page.wait_for_load_state("networkidle")
