"""Two windows, a lost connection, a wrong tray, a tablet, no network."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, Route, expect

from tests.e2e.conftest import begin, drop, go, place, rename, saved, second_window


def test_two_windows_do_not_overwrite_each_other(enter: Callable[..., Page]) -> None:
    one = enter()
    begin(one)
    drop(one, 0.4, 0.3)
    other = second_window(one)
    rename(other, "from the other window")
    saved(other)
    rename(one, "from this window")
    dialog = one.get_by_role("dialog")
    expect(dialog).to_contain_text("changed in another window")
    dialog.get_by_role("button", name="Keep mine").click()
    saved(one)
    one.get_by_role("button", name="Undo").click()
    expect(place(one, "from the other window")).to_be_visible()
    saved(one)
    one.get_by_role("button", name="Redo").click()
    expect(place(one, "from this window")).to_be_visible()


def test_a_lost_connection_loses_nothing(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)

    def cut(route: Route) -> None:
        route.abort()

    page.route("**/api/pieces/*", cut)
    rename(page, "while offline")
    expect(page.get_by_role("status")).to_contain_text("No connection")
    page.unroute("**/api/pieces/*", cut)
    saved(page)
    page.reload()
    expect(place(page, "while offline")).to_be_visible()


def test_a_server_that_cannot_keep_anything_loses_nothing(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    said = {"code": "disk_full", "message": "The disk is full.", "hint": "Free some space.", "field": ""}

    def full(route: Route) -> None:
        route.fulfill(status=507, json={"errors": [said]})

    page.route("**/api/pieces/*", full)
    rename(page, "while the disk was full")
    expect(page.get_by_role("status")).to_contain_text("Cannot be saved now")
    expect(page.get_by_role("status")).to_have_attribute("title", "The disk is full. Free some space.")
    page.unroute("**/api/pieces/*", full)
    saved(page)
    page.reload()
    expect(place(page, "while the disk was full")).to_be_visible()


def test_a_window_closed_while_offline_keeps_its_change(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    address, context = page.url, page.context
    page.route("**/api/pieces/*", lambda route: route.abort())
    rename(page, "typed before the crash")
    expect(page.get_by_role("status")).to_contain_text("No connection")
    page.close(run_before_unload=False)
    again = context.new_page()
    again.goto(address)
    expect(place(again, "typed before the crash")).to_be_visible()
    saved(again)


def test_a_draft_that_an_older_page_kept_is_saved(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    address, context = page.url, page.context
    piece = context.request.get(re.sub(r"/pieces/([^/]*)/.*", r"/api/pieces/\1", address)).json()
    page.close()
    again = context.new_page()
    again.goto(re.sub(r"/pieces/.*", "/account", address))
    again.get_by_text("This browser").wait_for()
    # As the version before kept it: one draft for all tabs, the whole document in its own schema.
    document = piece["document"] | {"schema": 4, "work": {"done": {"p": "done"}, "notes": {}}}
    document["sheet"] = document.pop("format")
    document["setup"]["kept"] = document["setup"].pop("must_use")
    document["spots"][0]["name"] = "kept before the upgrade"
    draft = {"version": piece["version"], "title": "Old", "document": document}
    again.evaluate(
        "([name, draft]) => localStorage.setItem(name, JSON.stringify(draft))", [f"caltin.draft.{piece['id']}", draft]
    )
    again.goto(address)
    expect(place(again, "kept before the upgrade")).to_be_visible()
    saved(again)
    assert again.evaluate("Object.keys(localStorage).filter((name) => name.startsWith('caltin.draft.'))") == []


def test_without_a_tray_what_one_draws_with_is_put_in_without_leaving_the_piece(enter: Callable[..., Page]) -> None:
    page = enter(tray=False)
    begin(page)
    go(page, "Mix")
    expect(page.get_by_text("First look, then mix")).to_be_visible()
    go(page, "Look")
    drop(page, 0.4, 0.3)
    go(page, "Work")
    page.get_by_role("link", name="Go and plan").click()
    page.get_by_role("button", name="What do you draw with?").click()
    drawer = page.get_by_role("dialog", name="Put in what you have")
    drawer.get_by_role("radio", name="Alcohol marker").click()
    drawer.get_by_role("radio", name="from a range").click()
    drawer.get_by_role("button", name=re.compile(r"Put in \d+ markers")).click()
    expect(page.get_by_role("region", name="How you work")).to_contain_text("My box, alcohol marker, on marker card")
    saved(page)


def test_a_tablet_held_upright_shows_everything_without_sideways_scrolling(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.42, 0.3)
    page.set_viewport_size({"width": 768, "height": 1024})
    for step in ("Look", "Mix", "Work"):
        go(page, step)
        page.wait_for_timeout(200)
        assert page.evaluate("document.documentElement.scrollWidth") <= 768, step


def test_the_surround_is_neutral_in_every_room(enter: Callable[..., Page]) -> None:
    page = enter()
    seen = set()
    for _ in range(3):
        red, green, blue = (
            int(v) for v in re.findall(r"\d+", page.evaluate("getComputedStyle(document.body).backgroundColor"))[:3]
        )
        assert red == green == blue
        seen.add(red)
        page.keyboard.press("g")
        page.wait_for_timeout(100)
    assert len(seen) == 3


def test_what_is_done_while_an_undo_is_on_its_way_is_done_to_its_answer(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    for x in (0.4, 0.5, 0.6):
        drop(page, x, 0.4)
        saved(page)

    def meanwhile(route: Route) -> None:
        page.locator("[data-spot]").first.focus()
        page.keyboard.press("Delete")
        route.continue_()

    page.route("**/undo", meanwhile)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-spot]")).to_have_count(1)
    saved(page)
    page.reload()
    expect(page.locator("[data-spot]")).to_have_count(1)


def test_a_server_that_is_away_is_not_taken_for_an_ended_session(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    address = page.url
    page.route("**/api/**", lambda route: route.abort())
    page.reload()
    expect(page.get_by_role("heading", name="This did not come through")).to_be_visible()
    assert page.url == address
    page.unroute("**/api/**")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("group", name="Spots")).to_be_visible()
    # A part that fails says so in its place, and comes at the second try.
    page.route("**/view?**", lambda route: route.fulfill(status=503))
    page.keyboard.press("2")
    alert = page.get_by_role("alert").filter(has_text="The picture did not come through")
    expect(alert).to_be_visible()
    page.unroute("**/view?**")
    alert.get_by_role("button", name="try again").click()
    expect(alert).to_have_count(0)
