"""Compare: from a photograph of the drawing to a second round in Work, in the real interface."""

from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from server.accounts.services import get_or_create_artist
from tests import night_watch
from tests.conftest import ROOT
from tests.e2e.conftest import barriers, small_picture
from tools.drawn import with_hand

# One process works out the plan of that piece for all of them.
pytestmark = pytest.mark.xdist_group("night watch")
PHOTO = ROOT / "demo/drawings/night-watch-2.jpg"


def planned(enter: Callable[..., Page]) -> Page:
    """A planned piece, opened at Compare."""
    piece = night_watch.planned(get_or_create_artist("ines"))
    page = enter(tray=False, at=f"pieces/{piece.pk}/look")
    page.get_by_role("link", name="Compare").click()
    return page


def test_from_a_photograph_to_a_second_round(enter: Callable[..., Page], tmp_path: Path) -> None:
    page = planned(enter)
    expect(page.get_by_role("heading", name="Photograph the drawing")).to_be_visible()
    assert barriers(page) == []
    # Something else first: it is said, and the sheet's corners can be set by hand.
    page.get_by_label("Picture file").set_input_files(small_picture())
    expect(page.get_by_role("alert")).to_contain_text("Nothing was kept")
    covered = tmp_path / "hand.jpg"
    covered.write_bytes(with_hand(PHOTO.read_bytes()))
    if page.get_by_role("button", name="another photograph").is_visible():
        page.get_by_role("button", name="another photograph").click()
    page.get_by_label("Picture file").set_input_files(covered)
    corner = page.get_by_role("button", name="Sheet, upper left")
    expect(corner).to_be_visible()
    corner.press("ArrowRight")
    assert barriers(page) == []
    page.get_by_role("button", name="another photograph").click()

    page.get_by_label("Picture file").set_input_files(PHOTO)
    expect(page.get_by_role("heading", name="then stop")).to_be_visible()
    expect(page.get_by_text("is still paper: skin looks darker")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("button", name="swatches or a chart lie beside it").click()
    for _ in range(4):
        page.get_by_role("button", name="mark a swatch").click()
    page.get_by_label("What lies in swatch 4").select_option("L52")
    page.get_by_role("button", name="Read it so").click()
    expect(page.get_by_role("alert")).to_contain_text("not known well enough")
    assert barriers(page) == []
    page.get_by_role("button", name="leave it").click()
    grip = page.get_by_role("slider", name="Lift the corner")
    before = grip.get_attribute("aria-valuenow")
    grip.press("ArrowDown")
    assert grip.get_attribute("aria-valuenow") != before
    for words in ("Side by side", "in greys", "beside its colours", "Blink"):
        page.get_by_role("button", name=words).click()
    ladder = page.get_by_role("listbox", name="Value ladder: wanted and drawn")
    ladder.press("ArrowDown")
    expect(page.locator(".compare-spot")).to_contain_text("read to ±")
    page.get_by_text("What was seen, in order").click()
    expect(page.get_by_role("heading", name="Darks and lights")).to_be_visible()

    # A place is moved, and undone by moving it back; a note stays.
    page.get_by_role("button", name="move places").click()
    handle = page.locator(".compare-set .handle").first
    handle.press("Shift+ArrowRight")
    page.get_by_role("button", name="Read it so").click()
    expect(page.get_by_role("slider", name="Lift the corner").or_(page.locator(".compare-blink"))).to_be_visible()
    note = page.get_by_label("Note on this photograph")
    note.fill("first evening")
    note.blur()

    expect(page.get_by_role("heading", name="then stop")).to_be_visible()
    boxes = page.get_by_role("checkbox", name="do this")
    count = boxes.count()
    if count > 1:
        boxes.last.uncheck()
    page.get_by_role("button", name="Add as round two").click()
    page.get_by_role("link", name="Go on in Work").click()
    page.get_by_role("button", name="all layers").click()
    page.locator(".all-steps button").last.click()
    expect(page.get_by_text("round 2, layer")).to_be_visible()
    expect(page.get_by_alt_text("Left as it was photographed")).to_be_visible()
    assert barriers(page) == []
    page.go_back()
    expect(page.get_by_label("Note on this photograph")).to_have_value("first evening")
    page.get_by_role("button", name="remove it from the sheet").click()
    expect(page.get_by_role("button", name="Add as round two")).to_be_visible()

    page.get_by_role("button", name="let the pencils learn").click()
    expect(page.get_by_text("places learnt from: off by")).to_be_visible()
    page.get_by_role("button", name="take back what it taught").click()
    expect(page.get_by_role("button", name="let the pencils learn")).to_be_visible()
    with page.expect_download() as pdf:
        page.get_by_role("button", name="print", exact=True).click()
    assert pdf.value.suggested_filename.endswith("-photograph-1.pdf")
    page.set_viewport_size({"width": 768, "height": 1024})
    expect(page.get_by_role("heading", name="then stop")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
    page.get_by_role("button", name="put this photograph aside").click()
    page.get_by_role("button", name="Put it aside").click()
    expect(page.get_by_role("heading", name="Photograph the drawing")).to_be_visible()
    page.wait_for_load_state("networkidle")


def test_the_notebook_finds_it_again_and_uses_it_for_another_piece(enter: Callable[..., Page]) -> None:
    page = planned(enter)
    expect(page.get_by_role("heading", name="Photograph the drawing")).to_be_visible()
    page.get_by_role("link", name="Caltin").click()
    page.get_by_role("button", name="New piece").or_(page.get_by_role("button", name="Another piece")).first.click()
    title = page.get_by_label("Title")
    title.fill("Next one")
    title.press("Enter")
    page.wait_for_url("**/look")
    page.get_by_role("link", name="Caltin").click()
    page.get_by_role("link", name="Notebook").click()
    entries = page.get_by_role("list", name="Entries").locator(":scope > li")
    expect(entries.first).to_be_visible()
    assert barriers(page) == []
    page.keyboard.press("f")
    page.keyboard.type("odelo plan")
    expect(entries).to_have_count(1)
    page.get_by_label("Find by words").fill("zebra")
    expect(page.get_by_text("Nothing here holds all of that")).to_be_visible()
    page.get_by_label("Find by words").fill("")
    page.get_by_role("button", name="recipes").click()
    page.get_by_label("Nearest to this colour").fill("#5a3b2c")
    expect(entries.first).to_contain_text("off")
    page.get_by_role("button", name="any colour").click()
    page.get_by_role("button", name="recipes").click()
    page.get_by_role("button", name="plans").click()
    expect(entries).to_have_count(2)
    page.get_by_role("heading", name="Find").or_(page.get_by_role("heading", name="Notebook")).first.click()
    page.keyboard.press("ArrowDown")
    page.get_by_role("button", name="use this for another figure").first.click()
    page.get_by_label("For which piece").select_option("Next one")
    page.get_by_role("button", name="Use it").click()
    expect(page.get_by_role("note")).to_contain_text("→")
    assert barriers(page) == []
    page.get_by_role("link", name="Plan it anew in Mix").click()
    page.wait_for_url("**/mix")
    page.wait_for_load_state("networkidle")
