"""Hair, cloth and ground in the real interface: found, planned, seen with the skin inside, and laid."""

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from server.accounts.services import get_or_create_artist
from tests import night_watch
from tests.e2e.conftest import barriers, saved


@pytest.mark.xdist_group("night watch")
def test_what_surrounds_the_skin_is_found_planned_and_laid(enter: Callable[..., Page]) -> None:
    piece = night_watch.planned(get_or_create_artist("ines"))
    page = enter(tray=False, at=f"pieces/{piece.pk}/around")
    expect(page.get_by_role("heading", name="Hair, cloth and ground")).to_be_visible()
    coat = page.get_by_role("region", name="Mairen’s coat")
    expect(coat).to_be_visible()
    # All of them go, and are looked for anew; undo brings them back.
    for name in ("Mairen’s hair", "Mairen’s coat", "Odelo’s cap", "Odelo’s coat", "the night"):
        page.get_by_role("button", name=name, exact=True).click()
        page.get_by_role("button", name=f"remove {name}").click()
    expect(page.get_by_role("button", name="Find them")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("button", name="Find them").click()
    expect(page.get_by_role("button", name="use this").first).to_be_visible()
    assert barriers(page) == []

    first = page.get_by_role("region", name="Mairen’s hair")
    page.get_by_role("button", name="Point 1 of Mairen’s hair").press("ArrowRight")
    page.get_by_role("slider", name="How far Mairen’s hair goes").press("ArrowRight")
    page.locator(".handles img").click(position={"x": 90, "y": 100})
    expect(page.get_by_role("button", name="Point 2 of Mairen’s hair")).to_be_visible()
    page.get_by_role("button", name="remove the last point").click()
    saved(page)
    first.get_by_role("button", name="use this").first.click()
    expect(first.get_by_role("button", name="used", exact=True)).to_be_visible()
    name = page.get_by_label("Name of Mairen’s hair")
    name.fill("red hair")
    name.press("Tab")
    expect(page.get_by_role("region", name="red hair")).to_be_visible()
    for way in ("skin on white", "skin inside", "where they are"):
        page.get_by_role("button", name=way).click()
        expect(page.get_by_role("img", name=f"The picture, {way}")).to_be_visible()
    saved(page)
    assert barriers(page) == []
    page.set_viewport_size({"width": 768, "height": 1024})
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")

    page.get_by_label("Steps of the piece").get_by_role("link", name="Work").click()
    page.get_by_role("button", name="hair, cloth, ground").click()
    line = page.get_by_role("region", name="Hair, cloth and ground").get_by_role("checkbox").first
    line.check()
    saved(page)
    assert barriers(page) == []
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="all layers")).to_be_visible()
    page.wait_for_load_state("networkidle")
