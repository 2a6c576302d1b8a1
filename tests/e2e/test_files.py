"""What leaves and comes in by the buttons: sheets, a piece, a link to a plan that is read without script on a phone."""

import re
from collections.abc import Callable
from pathlib import Path

import pypdfium2
from playwright.sync_api import Browser, Page, expect

from tests.e2e.conftest import barriers


def test_a_plan_is_taken_along_shown_on_a_phone_and_taken_in_again(
    planned_piece: Callable[..., Page], browser: Browser, tmp_path: Path
) -> None:
    page = planned_piece()
    page.get_by_role("button", name="take along", exact=True).click()
    assert barriers(page) == []
    sheet = page.get_by_role("group", name="The plan as a sheet")
    with page.expect_download() as pdf:
        sheet.get_by_role("button", name="PDF").press("Enter")
    assert pdf.value.suggested_filename == "mate-on-watch-plan.pdf"
    assert len(pypdfium2.PdfDocument(pdf.value.path())) >= 2
    page.get_by_role("button", name="take along", exact=True).click()
    with page.expect_download() as png:
        page.get_by_role("group", name=re.compile("^The map of layer")).get_by_role("button", name="PNG").click()
    assert png.value.suggested_filename == "mate-on-watch-map.png"
    # A link, without the reference.
    page.get_by_role("button", name="take along", exact=True).click()
    page.get_by_role("button", name="Show the plan to somebody").click()
    page.get_by_role("radio", name="a week").click()
    page.get_by_role("button", name="Make a link").click()
    address = page.get_by_label("Link that works until").input_value()
    assert barriers(page) == []
    context = browser.new_context(viewport={"width": 390, "height": 800}, java_script_enabled=False)
    phone = context.new_page()
    phone.goto(address)
    expect(phone.get_by_role("heading", name="Mate on watch")).to_be_visible()
    assert phone.locator("img").count() > 3 and phone.get_by_alt_text("The reference").count() == 0
    sizes = phone.locator("main").bounding_box()
    assert sizes and sizes["width"] <= 390
    page.get_by_role("button", name="take back the link").click()
    expect(page.get_by_label("Link that works until")).to_have_count(0)
    phone.reload()
    expect(phone.get_by_role("heading", name="Nothing to see here")).to_be_visible()
    context.close()
    page.get_by_role("button", name="Close", exact=True).click()
    # All of the piece, and in again: a piece more, on the same box.
    page.get_by_role("link", name="Caltin").click()
    with page.expect_download() as whole:
        page.get_by_role("button", name="take along Mate on watch").click()
    whole.value.save_as(tmp_path / "piece.zip")
    page.get_by_label("take a file in").set_input_files(tmp_path / "piece.zip")
    page.wait_for_url("**/mix")
    page.get_by_role("link", name="Caltin").click()
    expect(page.get_by_role("link", name="Mate on watch")).to_have_count(2)
    (tmp_path / "no.zip").write_bytes(b"no archive")
    page.get_by_label("take a file in").set_input_files(tmp_path / "no.zip")
    expect(page.get_by_role("alert")).to_contain_text("it is no zip archive")
    assert barriers(page) == []
    page.wait_for_load_state("networkidle")


def test_what_was_removed_is_put_back(enter: Callable[..., Page], site: str) -> None:
    page = enter()
    page.get_by_role("button", name="or start with a title alone").click()
    page.get_by_label("Title").fill("Mate on watch")
    page.get_by_role("button", name="Begin", exact=True).click()
    page.get_by_role("link", name="Caltin").click()
    page.get_by_role("button", name="Remove Mate on watch").click()
    page.get_by_role("button", name="Remove the piece").click()
    # The table is empty again, and says what was on it.
    page.get_by_role("heading", name="Who will you draw?").wait_for()
    lately = page.get_by_role("region", name="Removed lately")
    expect(lately).to_contain_text("Mate on watch")
    assert barriers(page) == []
    lately.get_by_role("button", name="put back Mate on watch").click()
    expect(page.get_by_role("link", name="Mate on watch")).to_be_visible()
    expect(lately).to_have_count(0)

    page.goto(f"{site}/tray")
    page.get_by_role("button", name="the box", exact=True).click()
    page.get_by_role("button", name="Remove this box").click()
    page.get_by_role("button", name="Remove the box", exact=True).click()
    page.get_by_role("heading", name="What do you draw with?").wait_for()
    lately.get_by_role("button", name="put back small").click()
    expect(page.get_by_label("Which box")).to_contain_text("small")
    page.get_by_role("button", name="the box", exact=True).click()
    page.get_by_role("button", name="Remove this box").click()
    page.get_by_role("button", name="Remove the box", exact=True).click()
    lately.get_by_role("button", name="let go small").click()
    page.get_by_role("button", name="Let it go for good").click()
    expect(lately).to_have_count(0)
