"""Take the pictures in docs/screenshots from the demo data, with a server of its own.

Run: ./caltin screenshots [FOLDER]
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page

from tools.browser import chromium
from tools.site import ROOT, demo_server, link_for


def take(page: Page, address: str, link: str, folder: Path) -> None:
    """Walk through the views and keep a picture of each."""

    def keep(name: str) -> None:
        page.wait_for_load_state("networkidle")
        page.evaluate("document.fonts.ready")
        page.evaluate("Promise.all([...document.images].map((image) => image.decode()))")
        page.wait_for_timeout(150)
        page.screenshot(path=folder / f"{name}.png")

    page.goto(link)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_text("Night watch").wait_for()
    keep("pieces")
    page.get_by_text("Night watch").click()
    page.get_by_text("Now pick up").wait_for()
    page.get_by_alt_text("After this layer").wait_for(timeout=60_000)
    page.get_by_role("button", name="Laid").click()
    page.get_by_text("Saved", exact=True).wait_for()
    page.get_by_role("checkbox").first.check()
    page.get_by_text("Saved", exact=True).wait_for()
    keep("work")
    page.get_by_role("link", name="Look").click()
    page.get_by_role("button", name="Spot 8,").focus()
    page.get_by_text("In the light").wait_for()
    keep("look")
    page.keyboard.press("2")
    page.wait_for_load_state("networkidle")
    page.keyboard.press("6")
    page.keyboard.press("c")
    keep("look-families")
    page.keyboard.press("5")
    page.keyboard.press("c")
    page.keyboard.press("1")
    page.keyboard.press("a")
    page.get_by_text("places proposed").wait_for()
    keep("look-suggest")
    page.get_by_role("button", name="Leave them").click()
    page.keyboard.press("i")
    page.get_by_role("button", name="It seems to be").click()
    page.get_by_text("Saved", exact=True).wait_for()
    measure(page)
    page.get_by_role("link", name="Transfer page").click()
    page.get_by_role("img", name="Transfer page").wait_for()
    keep("transfer")
    page.get_by_role("link", name="Back").click()
    page.get_by_role("group", name="Spots").wait_for()
    page.get_by_role("link", name="Mix", exact=True).click()
    page.get_by_role("slider", name="How many layers").wait_for(timeout=60_000)
    page.get_by_alt_text("Where it goes").wait_for(timeout=60_000)
    page.get_by_role("listbox").press("ArrowDown")
    page.get_by_role("list", name="From the last layer down to the paper").get_by_role("button").nth(2).click()
    page.wait_for_timeout(1000)
    keep("mix")
    page.get_by_role("link", name="hair, cloth, ground").click()
    page.get_by_role("button", name="use this").first.wait_for(timeout=60_000)
    page.get_by_role("button", name="skin inside").click()
    keep("around")
    page.goto(page.url.replace("/around", "/print"))
    page.get_by_role("radio", name="four a page").click()
    page.get_by_alt_text("What is on page 1").wait_for(timeout=60_000)
    page.wait_for_timeout(2500)
    keep("print")
    page.goto(page.url.replace("/print", "/compare"))
    page.get_by_role("heading", name="then stop").wait_for(timeout=60_000)
    keep("compare")
    page.goto(f"{address}/practice")
    page.get_by_role("button", name="Begin a round").wait_for()
    keep("practice")
    page.goto(f"{address}/tray")
    page.get_by_label("Which box").select_option("Long Pier 72")
    page.locator("[data-code=L30]").click()
    page.get_by_role("region", name="L30 burnt sienna").wait_for()
    keep("tray")
    page.get_by_role("button", name="Add sticks").click()
    page.get_by_role("radio", name="by photograph").click()
    page.get_by_label("Picture file").set_input_files(ROOT / "demo/photos/twelve-swatches.jpg")
    page.get_by_text("swatches found.").wait_for()
    page.wait_for_timeout(600)
    keep("tray-photo")
    page.get_by_role("button", name="not now").click()
    page.get_by_role("radio", name="to buy").click()
    page.get_by_label("Which box").select_option("beside Gangway 36")
    page.get_by_text("Cheapest").wait_for(timeout=60_000)
    keep("to-buy")
    page.goto(f"{address}/")
    page.get_by_text("Morning relief").click()
    page.get_by_role("link", name="Try", exact=True).click()
    page.get_by_role("heading", name="What it teaches").wait_for()
    page.get_by_role("button", name="Box 21,").click()
    keep("try")
    page.goto(f"{address}/")
    page.get_by_text("Below deck").click()
    page.get_by_role("link", name="Look").click()
    page.get_by_role("link", name="Change the light").click()
    page.get_by_role("button", name="Use the places of all").wait_for()
    page.get_by_role("radio", name="Senna Rue").click()
    page.get_by_role("region", name="Jobs").get_by_role("listitem").first.wait_for()
    page.wait_for_timeout(2500)
    keep("complexions")
    page.goto(f"{address}/notebook")
    page.get_by_role("list", name="Entries").get_by_role("listitem").first.wait_for(timeout=60_000)
    keep("notebook")
    page.goto(f"{address}/account")
    page.get_by_text("This browser").wait_for()
    keep("account")


def first(page: Page, link: str, folder: Path) -> None:
    """The first picture of an artist who has nothing yet."""
    page.goto(link)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_text("Who will you draw?").wait_for()
    page.get_by_role("radio", name="Coloured pencil").wait_for()
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(300)
    page.screenshot(path=folder / "first.png")


def measure(page: Page) -> None:
    """An eye's width as the unit, two lengths and a plumb line, and a grid."""
    page.keyboard.press("r")
    box = page.get_by_role("group", name="Spots").bounding_box()
    assert box

    def pull(x1: float, y1: float, x2: float, y2: float) -> None:
        page.mouse.move(box["x"] + x1 * box["width"], box["y"] + y1 * box["height"])
        page.mouse.down()
        page.mouse.move(box["x"] + x2 * box["width"], box["y"] + y2 * box["height"], steps=4)
        page.mouse.up()

    pull(0.275, 0.362, 0.319, 0.366)
    page.get_by_role("button", name="Unit").click()
    pull(0.140, 0.42, 0.430, 0.42)
    page.get_by_role("radio", name="Plumb").click()
    pull(0.345, 0.26, 0.338, 0.72)
    page.locator("#grid").check()
    page.get_by_text("Saved", exact=True).wait_for()
    page.mouse.move(0, 0)


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with demo_server() as server, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        take(page, server.address, link_for(server, "demo"), folder)
        other = browser.new_page(viewport={"width": 1280, "height": 800})
        first(other, link_for(server, "newcomer"), folder)


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "docs/screenshots")
