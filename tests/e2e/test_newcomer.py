"""The newcomer's way: own picture, three spots, recipes, an edited pass, a ticked step, and all still there."""

import re
import zipfile
from collections.abc import Callable
from pathlib import Path

from django.contrib.auth.models import User
from playwright.sync_api import Browser, Page, expect

from server.accounts import services as accounts
from tests.e2e.conftest import begin, drop, go, mix_all, saved


def test_the_newcomers_way_and_everything_is_still_there(enter: Callable[..., Page]) -> None:
    page = enter()
    expect(page.get_by_text("Begin with a picture of somebody")).to_be_visible()
    begin(page)
    for x, y in ((0.42, 0.30), (0.62, 0.47), (0.55, 0.72)):
        drop(page, x, y)
    page.get_by_label("Name of the spot").fill("under the chin")
    page.get_by_label("Name of the spot").press("Enter")
    page.get_by_label("Light role").select_option("shadow")
    page.get_by_label("Place", exact=True).select_option("chin")
    saved(page)
    expect(page.locator("[data-spot]").nth(2)).to_have_attribute(
        "aria-label", re.compile(r"Spot 3, under the chin, shadow, .*value \d\.\d")
    )

    go(page, "Mix")
    mix_all(page)
    recipe = page.get_by_role("region", name=re.compile("Recipe of"))
    expect(recipe.get_by_text("you get")).to_be_visible()
    saved(page)
    passes = page.get_by_role("list", name="Passes from the paper up")
    before = recipe.get_by_role("img", name=re.compile("you get")).get_attribute("aria-label")
    count = passes.locator(".pass").count()
    assert count >= 1
    passes.get_by_role("radio", name="heavy").first.click()
    passes.get_by_role("radiogroup", name="Repeats of pass 1").get_by_role("radio", name="3×").click()
    expect(recipe.get_by_role("img", name=re.compile("you get"))).not_to_have_attribute("aria-label", str(before))
    page.get_by_role("button", name="Add a pass on top").click()
    page.get_by_role("button", name=re.compile(f"Pencil of pass {count + 1}")).click()
    page.get_by_label("Find a stick").fill("ultra")
    page.get_by_role("button", name=re.compile("ultramarine")).last.click()
    expect(page.get_by_role("button", name=re.compile("Pencil of pass .*: ultramarine"))).to_be_visible()
    saved(page)
    edited = recipe.get_by_role("img", name=re.compile("you get")).get_attribute("aria-label")

    go(page, "Work")
    note = page.get_by_label(re.compile("Note on")).first
    note.fill("lighter next time")
    note.press("Enter")
    # Not check(): when its last place is ticked, a pencil gives way to the next one.
    page.get_by_role("checkbox").first.click()
    expect(page.get_by_text(re.compile(r"1 of \d+ steps"))).to_be_visible()
    saved(page)

    page.reload()
    expect(page.get_by_text(re.compile(r"1 of \d+ steps"))).to_be_visible()
    page.get_by_label("All steps").get_by_role("button").first.click()
    expect(page.get_by_role("checkbox").first).to_be_checked()
    expect(page.get_by_label(re.compile("Note on")).first).to_have_value("lighter next time")
    go(page, "Mix")
    expect(recipe.get_by_role("img", name=re.compile("you get"))).to_have_attribute("aria-label", str(edited))
    expect(page.get_by_role("button", name=re.compile("Pencil of pass .*: ultramarine"))).to_be_visible()
    go(page, "Look")
    expect(page.locator("[data-spot]")).to_have_count(3)
    expect(page.get_by_label("All spots").get_by_text("under the chin")).to_be_visible()

    page.goto(page.url.replace("/look", "/print"))
    expect(page.get_by_text("lighter next time")).to_be_visible()
    assert len(page.pdf()) > 10_000


def test_a_piece_is_mixed_in_markers(enter: Callable[..., Page]) -> None:
    page = enter(tray=False)
    page.get_by_role("link", name="Tray").click()
    page.get_by_label("Start from a range").select_option("ebb-24")
    expect(page.get_by_text("colourless blender")).to_be_visible()
    page.get_by_role("link", name="Pieces").click()
    begin(page)
    drop(page, 0.42, 0.30)
    drop(page, 0.55, 0.72)
    go(page, "Mix")
    page.get_by_label("Medium", exact=True).select_option("marker")
    expect(page.get_by_label("Paper", exact=True)).to_have_value("marker-card")
    expect(page.get_by_label("Most markers")).to_be_visible()
    mix_all(page)
    expect(page.get_by_role("button", name=re.compile("Marker of pass 1: "))).to_be_visible()
    expect(page.get_by_role("group", name=re.compile("^Pressure of pass"))).to_have_count(0)
    page.get_by_role("radiogroup", name="Technique of pass 1").get_by_role("radio", name="wet").click()
    saved(page)
    go(page, "Work")
    expect(page.get_by_text(re.compile("coats?")).first).to_be_visible()
    expect(page.get_by_text("solvent").first).to_be_visible()


def test_a_pencil_recipe_goes_over_marker_and_ends_in_white(enter: Callable[..., Page]) -> None:
    page = enter()
    page.get_by_role("link", name="Tray").click()
    for range_id in ("ebb-24", "lantern-16"):
        with page.expect_response(re.compile("/ranges$")):
            page.get_by_label("Put a range into this tray").select_option(range_id)
    page.get_by_role("link", name="Pieces").click()
    begin(page)
    drop(page, 0.42, 0.30)
    go(page, "Mix")
    mix_all(page)
    recipe = page.get_by_role("region", name=re.compile("Recipe of"))
    expect(recipe.get_by_role("img", name="As it will lie on this paper")).to_be_visible()

    def take(number: int, find: str, name: str) -> None:
        page.get_by_role("button", name=re.compile(f"of pass {number}: ")).click()
        page.get_by_label("Find a stick").fill(find)
        page.get_by_role("button", name=name).last.click()

    count = recipe.locator(".pass").count()
    take(1, "clay, soft", "clay, soft")
    expect(page.get_by_role("button", name="Marker of pass 1: clay, soft")).to_be_visible()
    expect(page.get_by_role("group", name="Pressure of pass 1")).to_have_count(0)
    page.get_by_role("button", name="Add a pass on top").click()
    take(count + 1, "white gou", "white gouache")
    saved(page)
    expect(recipe.get_by_role("img", name=re.compile("core of"))).to_be_visible()
    expect(recipe.get_by_role("alert")).to_have_count(0)
    # Marker does not hold over body colour: one clear sentence, and the way back.
    page.get_by_role("button", name="Add a pass on top").click()
    take(count + 2, "wine", "wine, deep")
    expect(recipe.get_by_role("alert")).to_contain_text("does not hold over")
    page.get_by_role("button", name=f"Remove pass {count + 2}").click()
    expect(recipe.get_by_role("alert")).to_have_count(0)


def test_a_paper_of_ones_own_is_added_chosen_and_used(enter: Callable[..., Page]) -> None:
    page = enter()
    page.get_by_role("link", name="Tray").click()
    page.get_by_role("radio", name="papers").click()
    form = page.get_by_role("form", name="Add a paper")
    form.get_by_label("Name").fill("Blue board")
    for label, number in (("Lightness L*", "70"), ("a*", "-3"), ("b*", "-12")):
        form.get_by_label(label, exact=True).fill(number)
        form.get_by_label(label, exact=True).press("Tab")
    form.get_by_role("radio", name="rough").click()
    form.get_by_role("button", name="Add this paper").click()
    expect(page.get_by_role("region", name="All papers").get_by_text("Blue board")).to_be_visible()
    page.get_by_role("link", name="Pieces").click()
    begin(page)
    drop(page, 0.42, 0.30)
    go(page, "Mix")
    page.get_by_label("Paper", exact=True).select_option("Blue board")
    mix_all(page)
    expect(page.get_by_role("region", name=re.compile("Recipe of")).get_by_text("you get")).to_be_visible()
    saved(page)


def test_one_artist_cannot_see_anothers_piece_or_picture(enter: Callable[..., Page], site: str) -> None:
    mine = enter("ines")
    begin(mine)
    address, picture = mine.url, mine.locator(".stage img").get_attribute("src")
    saved(mine)
    theirs = enter("bo")
    expect(theirs.get_by_text("Begin with a picture of somebody")).to_be_visible()
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
    expect(page.get_by_role("heading", name="Pieces")).to_be_visible()


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
    expect(there.get_by_role("heading", name="Pieces")).to_be_visible()
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
    page.get_by_role("button", name="Delete for good").click()
    page.wait_for_url(f"{site}/sign-in")
    assert not User.objects.filter(username="nova").exists()
