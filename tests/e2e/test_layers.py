"""A figure in layers: planned, walked through from the paper to the end, with fewer layers, undone."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.e2e.conftest import begin, drop, go, saved


def test_a_figure_is_planned_in_layers_and_walked_through(enter: Callable[..., Page]) -> None:
    page = enter()
    begin(page)
    for x, y in ((0.42, 0.30), (0.62, 0.47), (0.55, 0.72), (0.36, 0.55)):
        drop(page, x, y)
    go(page, "Mix")
    # What a newcomer sees first is what to do next.
    page.get_by_role("region", name="How you work").get_by_role("button", name="Plan all in layers").click()
    cards = page.get_by_role("list", name="From the last layer down to the paper").get_by_role("button")
    expect(cards.first).to_be_visible()
    saved(page)
    count = cards.count()
    expect(page.get_by_role("heading", level=2, name=re.compile("layers?, .* pencils?"))).to_be_visible()
    expect(page.get_by_text("Nobody has tried these pencils")).to_be_visible()
    expect(page.get_by_alt_text(f"The drawing after layer {count} of {count}")).to_be_visible()

    # The slider goes down to the bare paper; what is picked goes with it.
    laid = page.get_by_role("slider", name="Layers laid")
    laid.press("ArrowLeft")
    expect(cards.nth(1)).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text(f"Layer {count - 1} goes here")).to_be_visible()
    laid.press("Home")
    expect(page.get_by_alt_text("The drawing bare paper")).to_be_visible()
    cards.last.click()
    expect(page.get_by_alt_text(f"The drawing after layer 1 of {count}")).to_be_visible()
    expect(page.get_by_alt_text("Where it goes")).to_be_visible()

    # What a place gets is read off the layers.
    page.get_by_role("radio", name="recipe").click()
    given = page.get_by_role("region", name=re.compile("What the layers give at"))
    expect(given.get_by_role("listitem").first).to_contain_text(re.compile("light|medium|heavy"))

    # With one layer fewer, and back.
    page.get_by_role("radio", name="layers").click()
    page.get_by_role("radiogroup", name="How many layers").get_by_role("radio", name=str(count - 1)).click()
    expect(cards).to_have_count(count - 1)
    saved(page)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(cards).to_have_count(count)
    page.reload()
    expect(cards).to_have_count(count)
    go(page, "Work")
    expect(page.get_by_text("Now pick up")).to_be_visible()
