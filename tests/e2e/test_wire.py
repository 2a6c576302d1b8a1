"""What goes over the wire, counted in the browser; and what is left when the wire, the server or the session is cut."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from django.contrib.sessions.models import Session
from playwright.sync_api import Browser, Page, Request, Route, expect

from server.accounts.services import get_or_create_artist
from tests.conftest import ROOT
from tests.e2e.conftest import barriers, begin, drop, go, pick, place, rename, saved, second_window
from tools.site import Server, link_for, manage

KB = 1024
PICTURES = re.compile(r"pictures/|view|layers/(map|picture)|plan\?kind=png")
"""In an address of something that is shown as a picture."""


class Counted:
    """Requests of a page, and their bytes on the wire."""

    def __init__(self, page: Page) -> None:
        self.requests: list[Request] = []
        page.on("requestfinished", self.note)

    def note(self, request: Request) -> None:
        self.requests.append(request)

    def of(self, part: str = "/api/") -> list[str]:
        """Method and address of each."""
        return [f"{r.method} {r.url.partition('/api/')[2] or r.url}" for r in self.requests if part in r.url]

    def bytes(self, part: str = "/") -> tuple[int, int]:
        """Sent and received, headers left out."""
        sizes = [r.sizes() for r in self.requests if part in r.url]
        return sum(s["requestBodySize"] for s in sizes), sum(s["responseBodySize"] for s in sizes)


@contextmanager
def counting(page: Page) -> Iterator[Counted]:
    """From when nothing is under way to when nothing is again."""
    quiet(page)
    counted = Counted(page)
    yield counted
    quiet(page)
    page.remove_listener("requestfinished", counted.note)


def quiet(page: Page) -> None:
    """Nothing is asked for any more, not even how far a job is."""
    counted, before = Counted(page), -1
    while before < len(counted.requests):
        before = len(counted.requests)
        page.wait_for_timeout(1000)
        page.wait_for_load_state("networkidle")
    page.remove_listener("requestfinished", counted.note)


of_the_demo = pytest.mark.xdist_group("demo")
"""In one process, with one server."""


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """A real server with the demo."""
    data = tmp_path_factory.mktemp("demo") / "data"
    for chore in (["prepare"], ["loaddemo", "demo"]):
        assert manage(data, *chore).returncode == 0
    server = Server(data).wait()
    yield server
    server.kill()


@pytest.fixture
def demo_page(demo: Server, browser: Browser) -> Iterator[Page]:
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.set_default_timeout(180_000)  # the first to ask how many layers are worth it waits until that is known
    page.goto(link_for(demo, "demo"))
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name=re.compile("Night watch")).wait_for()
    yield page
    context.close()


@of_the_demo
def test_a_rename_costs_one_request_and_an_edit_only_what_it_concerns(demo_page: Page) -> None:
    page = demo_page
    page.get_by_role("link", name=re.compile("Night watch")).click()
    go(page, "Look")
    place(page).first.wait_for()
    saved(page)
    with counting(page) as counted:
        page.get_by_label("Title of the piece").fill("Night watch, renamed")
        page.get_by_label("Title of the piece").press("Enter")
        saved(page)
    assert [row.split("?")[0].split("/")[0] for row in counted.of()] == ["PATCH pieces"]
    sent, got = counted.bytes()
    assert (sent < 1 * KB, got < 4 * KB) == (True, True)
    page.get_by_label("Work on").get_by_role("radio", name="Spots").click()
    pick(page)
    with counting(page) as counted:
        rename(page, "a name of its own")
        saved(page)
    assert len(counted.of()) == 1
    sent, got = counted.bytes()
    assert sent <= 4 * KB
    assert got <= 4 * KB
    spot = page.locator("[data-spot]").first
    spot.focus()
    with counting(page) as counted:
        for _ in range(10):
            page.keyboard.press("Alt+ArrowRight")
            page.wait_for_timeout(40)
        saved(page)
    assert not [row for row in counted.of() if "view" in row]
    assert sum(counted.bytes()) <= 20 * KB
    go(page, "Mix")
    page.get_by_role("slider", name="How many layers").wait_for()
    page.get_by_alt_text("Where it goes").wait_for()
    quiet(page)
    with counting(page) as counted:
        page.get_by_role("button", name="keep as it is").click()
        saved(page)
    asked = [row.split("?")[0] for row in counted.of()]
    assert not [row for row in asked if row.endswith(("/study", "/view", "/figures", "/trays"))], asked
    go(page, "Work")
    page.get_by_alt_text("After this layer").wait_for()
    quiet(page)
    with counting(page) as counted:
        for _ in range(4):
            page.keyboard.press("t")
            page.wait_for_timeout(60)
        saved(page)
    assert {row.split("/")[-1] for row in counted.of() if "?" not in row} == {"work"}
    assert sum(counted.bytes("/work")) < 5 * KB


@of_the_demo
def test_a_planning_that_is_stopped_leaves_all_as_it_is(demo_page: Page) -> None:
    page = demo_page
    page.get_by_role("link", name=re.compile("Morning relief")).click()
    go(page, "Mix")
    page.get_by_role("button", name="Plan in layers").click()
    expect(page.get_by_role("progressbar", name="How far the planning is")).to_be_visible()
    page.get_by_role("button", name=re.compile("^stop")).click()
    expect(page.get_by_text("Stopped. Everything is as it was.")).to_be_visible()
    expect(page.get_by_role("button", name="Plan in layers")).to_be_enabled()
    expect(page.get_by_role("list", name="From the last layer down to the paper")).to_have_count(0)


MOST_STOPS = 45
"""Of the Tab key in a view: lists, ladders and groups are one each."""


def walked(page: Page) -> tuple[int, list[str]]:
    """How many stops of the Tab key a view has, and which of its deeds are none of them, or cannot be seen there."""
    page.evaluate("window.walked = new Set(); window.hidden = []; document.activeElement?.blur()")
    for _ in range(2 * MOST_STOPS):
        page.keyboard.press("Tab")
        ended = page.evaluate(
            """() => {
              const at = document.activeElement;
              if (at === document.body || window.walked.has(at)) return true;
              window.walked.add(at);
              const box = at.getBoundingClientRect();
              if (box.width === 0 || box.height === 0) window.hidden.push(at.outerHTML.slice(0, 120));
              return false;
            }"""
        )
        if ended:
            break
    missed = page.evaluate(
        """[...document.querySelectorAll("main .btn-act")].filter(
          (deed) => deed.offsetParent && !deed.disabled && !window.walked.has(deed)).map((deed) => deed.outerHTML)"""
    )
    return page.evaluate("window.walked.size"), [*missed, *page.evaluate("window.hidden")]


@of_the_demo
def test_every_view_is_open_to_everybody_in_every_surround(demo: Server, demo_page: Page) -> None:
    page = demo_page
    href = page.get_by_role("link", name=re.compile("Night watch")).get_attribute("href")
    assert href
    steps = ("look", "mix", "try", "work", "compare", "around", "print", "transfer")
    views = [f"{href.rpartition('/')[0]}/{step}" for step in steps]
    page.emulate_media(reduced_motion="reduce")
    found = []
    for view in ("/", "/tray", "/complexions", "/notebook", "/practice", "/account", *views):
        page.goto(f"{demo.address}{view}")
        page.get_by_role("heading", level=1).first.wait_for()
        page.locator("main.wait").wait_for(state="detached")
        for surround in ("light", "mid", "dark"):
            page.evaluate("surround => { document.documentElement.dataset.surround = surround; }", surround)
            found += [(view.rpartition("/")[2], surround, barrier) for barrier in barriers(page)]
        assert page.get_by_role("heading", level=1).count() == 1, view
        stops, missed = walked(page)
        assert missed == [], view
        assert 0 < stops < MOST_STOPS, (view, stops)
    assert found == []


@of_the_demo
def test_a_cold_open_is_small_and_nothing_jumps(demo: Server, demo_page: Page, browser: Browser) -> None:
    page = demo_page
    href = page.get_by_role("link", name=re.compile("Night watch")).get_attribute("href")
    assert href
    cookies = page.context.cookies()
    for step in ("look", "mix", "work", "print", "transfer"):
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.add_cookies(cookies)
        cold = context.new_page()
        cold.set_default_timeout(90_000)  # a sheet for paper draws each of its maps at full size
        cold.add_init_script(
            """window.shifted = 0;
            new PerformanceObserver((list) => {
              for (const entry of list.getEntries()) if (!entry.hadRecentInput) window.shifted += entry.value;
            }).observe({ type: "layout-shift", buffered: true });"""
        )
        counted = Counted(cold)
        cold.goto(f"{demo.address}{re.sub('(look|mix|work)$', step, href)}")
        cold.locator("main img, main svg").first.wait_for()
        quiet(cold)
        assert cold.evaluate("window.shifted") <= 0.1, step
        sizes = sorted(((r.sizes()["responseBodySize"], r.url) for r in counted.requests), reverse=True)
        shown = sum(size for size, url in sizes if PICTURES.search(url))
        # How often it is asked whether a plan is there depends on the machine.
        once = {url: size for size, url in reversed(sizes) if not PICTURES.search(url) and "/api/jobs/" not in url}
        assert sum(once.values()) <= 250 * KB, (step, sizes[:12])
        # Look opens on a head, from near; Mix and Work show a drawing and its maps; a page for paper has each of them
        # as fine as it is printed.
        most = {"look": 190, "mix": 280, "work": 130}.get(step)
        assert most is None or shown <= most * KB, (step, sizes[:12])
        for request in counted.requests:
            answer = request.response()
            assert answer
            if re.search(r"-[\w-]{8}\.(js|css|woff2)$", request.url):
                assert "immutable" in answer.headers["cache-control"], request.url
            if "json" in answer.headers.get("content-type", "") and request.sizes()["responseBodySize"] > 500:
                assert answer.headers.get("content-encoding") == "gzip", request.url
        context.close()


def test_clicking_begin_four_times_makes_one_piece(enter: Callable[..., Page]) -> None:
    page = enter()
    page.get_by_role("button", name="or start with a title alone").click()
    page.get_by_label("Title").fill("Once")

    def slow(route: Route) -> None:
        if route.request.method == "POST":
            time.sleep(0.3)
        route.continue_()

    page.route("**/api/pieces", slow)
    page.evaluate("""() => {
      const begin = [...document.querySelectorAll("button")].find((button) => button.textContent === "Begin");
      for (let i = 0; i < 4; i++) begin.click();
    }""")
    page.get_by_text("Put in your reference").wait_for()
    page.get_by_role("link", name="Caltin").or_(page.get_by_role("link", name="Pieces")).first.click()
    expect(page.get_by_role("link", name=re.compile("Once"))).to_have_count(1)


@pytest.mark.parametrize("when", ["before", "after"])
def test_an_answer_lost_before_or_after_the_write_is_no_conflict(when: str, enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    lost = []

    def cut(route: Route) -> None:
        if route.request.method != "PATCH" or lost:
            return route.continue_()
        lost.append(route.fetch() if when == "after" else None)
        return route.abort()

    page.route("**/api/pieces/*", cut)
    rename(page, "sent once")
    expect(page.get_by_role("status")).to_contain_text("No connection")
    # A reload while it is not known whether it was written.
    page.reload()
    expect(place(page, "sent once")).to_be_visible()
    saved(page)
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(place(page, "Spot 1")).to_be_visible()
    expect(page.get_by_text("Undone: the name of sent once.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-spot]")).to_have_count(0)


def test_an_undo_without_a_connection_is_done_when_it_is_back(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    drop(page, 0.5, 0.4)
    page.context.set_offline(True)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("status")).to_contain_text("No connection")
    expect(page.locator("[data-spot]")).to_have_count(2)
    page.context.set_offline(False)
    expect(page.locator("[data-spot]")).to_have_count(1)
    saved(page)


def test_two_windows_that_change_different_things_merge(enter: Callable[..., Page]) -> None:
    one = enter()
    begin(one)
    drop(one, 0.4, 0.3)
    drop(one, 0.6, 0.5)
    other = second_window(one)
    rename(other, "theirs")
    saved(other)
    pick(one, "Spot 2")
    rename(one, "mine")
    saved(one)
    expect(one.get_by_role("dialog")).to_have_count(0)
    for page in (one, other):
        page.reload()
        for name in ("theirs", "mine"):
            expect(place(page, name)).to_be_visible()


def test_taking_the_other_state_keeps_mine_in_the_history(enter: Callable[..., Page]) -> None:
    one = enter()
    begin(one)
    drop(one, 0.4, 0.3)
    other = second_window(one)
    rename(other, "theirs")
    saved(other)
    rename(one, "mine")
    dialog = one.get_by_role("dialog")
    expect(dialog.get_by_label("What differs")).to_contain_text("here: mine")
    expect(dialog.get_by_label("What differs")).to_contain_text("there: theirs")
    # The other window saves again: it must not take this one's draft away.
    rename(other, "theirs again")
    saved(other)
    dialog.get_by_role("button", name="Take the other").click()
    saved(one)
    one.get_by_role("button", name="Undo").click()
    expect(place(one, "mine")).to_be_visible()


def test_an_ended_session_keeps_the_work_and_goes_on_where_it_was(enter: Callable[..., Page]) -> None:
    user = get_or_create_artist("ines")
    user.set_password("salt-wind-77")
    user.save()
    page = enter()
    begin(page)
    drop(page, 0.4, 0.3)
    Session.objects.all().delete()
    rename(page, "after the session ended")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Nothing is lost")
    dialog.get_by_label("Password of ines").fill("wrong")
    dialog.get_by_role("button", name="Sign in and go on").click()
    expect(dialog.get_by_role("alert")).to_be_visible()
    dialog.get_by_label("Password of ines").fill("salt-wind-77")
    dialog.get_by_role("button", name="Sign in and go on").click()
    expect(dialog).to_have_count(0)
    saved(page)
    page.reload()
    expect(place(page, "after the session ended")).to_be_visible()


def test_a_server_killed_while_saving_loses_nothing(browser: Browser, tmp_path: Path) -> None:
    data = tmp_path / "data"
    subprocess.run([sys.executable, "-m", "tests.server.faults.small"], cwd=ROOT, env=environment(data), check=True)
    server = Server(data).wait()
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(link_for(server, "demo"))
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name=re.compile("Small")).click()
    go(page, "Look")
    pick(page)
    names = []
    for number in range(3):
        names.append(f"before the lights went out {number}")
        rename(page, names[-1])
        page.wait_for_timeout((0, 360, 420)[number])
        server.kill()
        page.wait_for_timeout(500)
        server = Server(data, port=server.port).wait()
        saved(page)
        page.reload()
        pick(page)
        expect(page.get_by_label("Name of the spot")).to_have_value(names[-1])
    for name in reversed(names[:-1]):
        page.get_by_role("button", name="Undo").click()
        expect(place(page, name)).to_be_visible()
    context.close()
    server.kill()
    shutil.rmtree(data)


def environment(data: Path) -> dict[str, Any]:
    import os

    return os.environ | {"CALTIN_DATA": str(data)}
