"""The newcomer's way: from nothing to a plan, ticked on a tablet, and all still there; artists and their accounts."""

import re
import zipfile
from collections.abc import Callable
from pathlib import Path

import pypdfium2
from django.contrib.auth.models import User
from playwright.sync_api import Browser, Page, expect

from server.accounts import services as accounts
from tests.e2e.conftest import REFERENCE, barriers, begin, drop, go, plan_layers, saved, small_picture


def test_from_an_empty_account_to_a_plan_in_at_most_six_actions(enter: Callable[..., Page]) -> None:
    page = enter(tray=False)
    actions = 0

    def counted(action: Callable[[], object]) -> None:
        nonlocal actions
        actions += 1
        action()

    expect(page.get_by_role("heading", name="Who will you draw?")).to_be_visible()
    counted(
        lambda: page.get_by_role("radiogroup", name="What do you draw with?").get_by_text("Coloured pencil").click()
    )
    counted(lambda: page.get_by_label("Picture file").set_input_files(REFERENCE))
    counted(lambda: page.get_by_role("button", name=re.compile(r"Use \d+ spots")).click())
    counted(lambda: page.get_by_role("link", name="Plan the layers").click())
    counted(lambda: page.get_by_role("button", name="Plan in layers").click())
    expect(page.get_by_role("heading", level=1, name=re.compile("layers?, .* pencils?"))).to_be_visible()
    assert actions <= 6
    saved(page)


def test_a_piece_is_drawn_layer_by_layer_and_everything_is_still_there(
    planned_piece: Callable[..., Page], site: str
) -> None:
    # A tablet held upright, with a thumb.
    page = planned_piece("work", has_touch=True)
    page.set_viewport_size({"width": 768, "height": 1024})
    expect(page.get_by_text("Now pick up")).to_be_visible()
    expect(page.get_by_text("safety sheet")).to_be_visible()
    # Part by part; when the last is ticked the next layer comes.
    ticks = page.get_by_role("list", name="Parts of this layer").get_by_role("checkbox")
    for _ in range(ticks.count() - 1):
        ticks.nth(0 if not ticks.first.is_checked() else 1).tap()
    page.get_by_role("button", name="note").tap()
    page.get_by_label("Next time").fill("lighter next time")
    page.get_by_role("button", name="done").tap()
    page.get_by_role("button", name="Laid").tap()
    expect(page.get_by_text(re.compile(r"1 of \d+ laid"))).to_be_visible()
    expect(page.get_by_text(re.compile(r"layer 2 of \d+"))).to_be_visible()
    saved(page)

    # Skipped, returned to at the end, and taken back.
    count = int(re.search(r"of (\d+) laid", page.locator(".work-tools").inner_text()).group(1))  # type: ignore[union-attr]
    page.get_by_role("button", name="skip").tap()
    for _ in range(count - 2):
        page.get_by_role("button", name="Laid").tap()
        saved(page)
    expect(page.get_by_text("All laid down")).to_be_visible()
    page.get_by_role("button", name="Return to what was skipped").tap()
    page.get_by_role("button", name="Not yet").tap()
    page.get_by_role("button", name="Laid").tap()
    expect(page.get_by_text(re.compile(f"{count} of {count} laid"))).to_be_visible()
    saved(page)
    page.reload()
    expect(page.get_by_text("All laid down")).to_be_visible()
    page.get_by_label("Order of work").select_option("by feature")
    expect(page.get_by_text("All laid down")).to_be_visible()

    page.get_by_role("button", name="all layers").click()
    page.get_by_role("region", name="All layers").get_by_role("list").get_by_role("button").first.click()
    page.set_viewport_size({"width": 390, "height": 844})
    deed = page.get_by_role("button", name="Not yet").bounding_box()
    assert deed and deed["x"] + deed["width"] <= 390 and deed["y"] + deed["height"] <= 844
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.set_viewport_size({"width": 768, "height": 1024})

    page.goto(page.url.replace("/work", "/print"))
    expect(page.get_by_alt_text("What is on page 1")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("radio", name="four a page").click()
    pages = page.get_by_role("list", name="Pages").get_by_role("checkbox")
    expect(pages.nth(1)).to_be_visible()
    number = pages.count()
    pages.first.uncheck()
    deed = page.get_by_role("link", name=f"Print {number - 1} of {number} pages")
    some = page.request.get(site + str(deed.get_attribute("href"))).body()
    assert len(pypdfium2.PdfDocument(some)) == number - 1
    pages.first.check()
    whole = page.request.get(site + str(page.get_by_role("link", name="Print it").get_attribute("href"))).body()
    printed = pypdfium2.PdfDocument(whole)
    assert "lighter next time" in "".join(sheet.get_textpage().get_text_bounded() for sheet in printed)


def test_a_piece_is_drawn_in_markers(enter: Callable[..., Page]) -> None:
    page = enter(tray=False)
    page.get_by_role("radiogroup", name="What do you draw with?").get_by_text("marker").click()
    page.get_by_label("Picture file").set_input_files(small_picture())
    page.get_by_role("button", name="Leave them").click()
    drop(page, 0.42, 0.30)
    drop(page, 0.55, 0.72)
    go(page, "Mix")
    expect(page.get_by_role("region", name="How you work")).to_contain_text("marker")
    plan_layers(page)
    expect(page.locator(".layer-how").first).to_have_text(re.compile("coats?"))
    go(page, "Work")
    expect(page.get_by_text(re.compile("wet edge|Flick|wet")).first).to_be_visible()
    expect(page.get_by_text("solvent").first).to_be_visible()


def test_a_paper_of_ones_own_is_added_and_chosen(enter: Callable[..., Page]) -> None:
    page = enter()
    page.get_by_role("link", name="Tray").click()
    page.get_by_role("radio", name="papers").click()
    form = page.get_by_role("form", name="Add a paper")
    form.get_by_label("Name").fill("Blue board")
    form.get_by_role("button", name="mid grey").click()
    form.get_by_text("in numbers").click()
    for label, number in (("Lightness L*", "70"), ("a*", "-3"), ("b*", "-12")):
        form.get_by_label(label, exact=True).fill(number)
        form.get_by_label(label, exact=True).press("Tab")
    form.get_by_role("radio", name="rough").click()
    form.get_by_role("button", name="Add this paper").click()
    expect(page.get_by_role("region", name="All papers").get_by_text("Blue board")).to_be_visible()
    page.get_by_role("link", name="Pieces").click()
    begin(page, picture=small_picture())
    drop(page, 0.42, 0.30)
    go(page, "Mix")
    page.get_by_role("button", name="change", exact=True).click()
    page.get_by_label("Paper", exact=True).select_option("Blue board")
    page.get_by_role("button", name="done", exact=True).click()
    expect(page.get_by_role("region", name="How you work")).to_contain_text("blue board")
    saved(page)


def test_one_artist_cannot_see_anothers_piece_or_picture(enter: Callable[..., Page], site: str) -> None:
    mine = enter("ines")
    begin(mine)
    address, picture = mine.url, mine.locator(".stage img").get_attribute("src")
    saved(mine)
    theirs = enter("bo")
    expect(theirs.get_by_text("Who will you draw?")).to_be_visible()
    theirs.goto(address)
    expect(theirs.get_by_text("There is no such piece")).to_be_visible()
    assert theirs.request.get(f"{site}{picture}").status == 404
    assert mine.request.get(f"{site}{picture}").status == 200
    stranger = theirs.context.browser.new_context().new_page()  # type: ignore[union-attr]
    stranger.goto(address)
    expect(stranger.get_by_role("button", name="Sign in")).to_be_visible()
    assert stranger.request.get(f"{site}{picture}").status == 403
    stranger.context.close()


def test_a_password_set_once_signs_in_again(enter: Callable[..., Page], site: str) -> None:
    page = enter("nova")
    page.get_by_role("button", name="nova").click()
    page.get_by_role("link", name="Your account").click()
    page.get_by_label("New password").fill("short")
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("New password").fill("salt-wind-77")
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_role("status")).to_have_text("The password is set.")
    page.get_by_role("button", name="nova").click()
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("Name").fill("nova")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
    page.get_by_label("Password").fill("salt-wind-77")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()


def test_a_link_is_spent_by_its_button_and_a_browser_elsewhere_is_signed_out(
    enter: Callable[..., Page], site: str, browser: Browser
) -> None:
    here = enter("nova")
    link = f"{site}/enter/{accounts.make_link(accounts.get_or_create_artist('nova'))}"
    there = browser.new_context().new_page()
    for _ in range(2):  # looking spends nothing
        there.goto(link)
        expect(there.get_by_role("button", name="Sign in")).to_be_visible()
    there.get_by_role("button", name="Sign in").click()
    expect(there.get_by_role("navigation", name="Places")).to_be_visible()
    there.goto(link)
    there.get_by_role("button", name="Sign in").click()
    expect(there.get_by_role("alert")).to_contain_text("was used already")
    here.goto(f"{site}/account")
    here.get_by_role("button", name="Sign out there").click()
    expect(here.get_by_role("button", name="Sign out there")).to_have_count(0)
    there.goto(site)
    expect(there.get_by_label("Password")).to_be_visible()
    there.context.close()


def test_an_account_is_taken_along_and_then_deleted(enter: Callable[..., Page], site: str) -> None:
    page = enter("nova")
    begin(page)
    page.goto(f"{site}/account")
    expect(page.get_by_text("One picture")).to_be_visible()
    with page.expect_download() as taken:
        page.get_by_role("link", name="Take everything with you").click()
    with zipfile.ZipFile(taken.value.path()) as archive:
        assert archive.testzip() is None
        assert [Path(name).suffix for name in archive.namelist() if name.startswith("pictures/")] == [".jpeg"]
    page.get_by_label("Type “nova”").fill("nova")
    page.get_by_role("button", name="Remove for good").click()
    page.wait_for_url(f"{site}/sign-in")
    assert not User.objects.filter(username="nova").exists()
