"""Mix as an artist uses it: a figure planned in layers, walked through, changed in every way, with offers and undo."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.e2e.conftest import go, saved

CARDS = "From the last layer down to the paper"


@pytest.fixture
def planned(planned_piece: Callable[..., Page]) -> Page:
    """A piece planned in layers, opened at Mix."""
    page = planned_piece()
    cards(page).first.wait_for()
    return page


def cards(page: Page) -> Locator:
    """The cards, the last layer first."""
    return page.get_by_role("list", name=CARDS).get_by_role("button")


def act(page: Page, name: str) -> None:
    """Something done to the picked layer, and its answer."""
    page.get_by_role("group", name="Change this layer").get_by_role("button", name=name, exact=True).click()
    saved(page)


def sticks(page: Page) -> list[str]:
    """The codes of the layers, the last first."""
    return page.locator(".layer-card b").all_inner_texts()


def test_a_figure_is_walked_through_from_the_paper_to_the_end(planned: Page) -> None:
    page, count = planned, cards(planned).count()
    expect(page.get_by_role("heading", level=1, name=re.compile("layers?, .* pencils?"))).to_be_visible()
    expect(page.get_by_text("Nobody has tried them on this paper")).to_be_visible()
    expect(page.get_by_alt_text(f"The drawing after layer {count} of {count}")).to_be_visible()

    # The slider is the core itself; what is picked goes with it.
    core = page.get_by_role("slider", name="Layers laid")
    core.press("ArrowDown")
    expect(cards(page).nth(1)).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text(f"Layer {count - 1} goes here")).to_be_visible()
    core.press("Home")
    expect(page.get_by_alt_text("The drawing bare paper")).to_be_visible()
    box = core.bounding_box()
    assert box
    page.mouse.click(box["x"] + 20, box["y"] + 4)
    expect(core).to_have_attribute("aria-valuenow", str(count))
    cards(page).last.click()
    expect(page.get_by_alt_text(f"The drawing after layer 1 of {count}")).to_be_visible()
    first = page.get_by_role("region", name="Layer 1")
    expect(first.get_by_text(re.compile("Lays the first colour"))).to_be_visible()
    expect(first.get_by_alt_text("Where it goes")).to_be_visible()
    page.get_by_role("button", name="in greys").click()
    expect(page.get_by_alt_text("The reference")).to_have_attribute("src", re.compile("view"))

    # Areas that have names are told in words, where the piece has its maps like that.
    doses = first.get_by_role("list", name="How hard, from fine to heavy lines")
    expect(doses).not_to_contain_text(" on the ")
    page.get_by_role("button", name="change", exact=True).click()
    page.get_by_label("Maps", exact=True).select_option("named areas")
    page.get_by_role("button", name="done", exact=True).click()
    expect(doses).to_contain_text(re.compile(" on the .*(lights|tones|shadows|skin)"))
    saved(page)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(doses).not_to_contain_text(" on the ")

    # What surrounds the skin is a step aside, and back.
    page.get_by_role("link", name="hair, cloth, ground").click()
    expect(page.get_by_role("heading", name="Hair, cloth and ground")).to_be_visible()
    go(page, "Mix")

    # The ladder is one stop of the Tab key, from place to place; what a place gets is read off the layers.
    ladder = page.get_by_role("listbox", name=re.compile("Value ladder"))
    ladder.press("ArrowDown")
    expect(ladder.get_by_role("option", selected=True)).to_have_attribute(
        "aria-label", re.compile(r"wanted \d\.\d, planned \d\.\d, on paper \d\.\d to \d\.\d")
    )
    page.keyboard.press("2")
    place = page.get_by_role("region", name=re.compile("What the layers give at"))
    expect(place.get_by_role("listitem")).to_have_count(count)

    # With one layer fewer, and back.
    page.keyboard.press("1")
    curve = page.get_by_role("slider", name="How many layers")
    curve.press("ArrowLeft")
    expect(cards(page)).not_to_have_count(count)
    saved(page)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(cards(page)).to_have_count(count)
    expect(page.get_by_text(re.compile("Undone: .*layers"))).to_be_visible()
    page.reload()
    expect(cards(page)).to_have_count(count)


def test_a_layer_is_changed_in_every_way_and_every_change_is_undone(planned: Page) -> None:
    page, count = planned, cards(planned).count()
    page.get_by_role("region", name="Layer").get_by_text(re.compile("Without it")).wait_for()
    before = sticks(page)
    top = cards(page).first
    said = top.locator(".layer-how").inner_text()

    # How hard and how often; a hand's own setting is kept.
    act(page, "harder" if "heavy" not in said else "softer")
    expect(top.locator(".layer-how")).not_to_have_text(said)
    expect(top).to_contain_text("kept")
    act(page, "let it change")
    expect(top).not_to_contain_text("kept")
    once = top.locator(".layer-how").inner_text()
    act(page, "once less" if "three" in once else "once more")
    expect(top.locator(".layer-how")).not_to_have_text(once)

    # Earlier and later: by keys on the card, and by drag.
    top.press("Alt+ArrowDown")
    expect(cards(page).nth(1).locator("b")).to_have_text(before[0])
    saved(page)
    card = cards(page).nth(1).bounding_box()
    assert card
    page.mouse.move(card["x"] + 40, card["y"] + card["height"] / 2)
    page.mouse.down()
    page.mouse.move(card["x"] + 40, card["y"] - card["height"] / 2, steps=6)
    page.mouse.up()
    expect(cards(page).first.locator("b")).to_have_text(before[0])
    saved(page)

    # Another stick, in the order of what it does to the whole face.
    page.get_by_role("button", name="another pencil").click()
    offers = page.get_by_role("region", name=f"Instead of {before[0]}")
    other = offers.get_by_role("listitem").first.get_by_role("button")
    code = other.locator("b").inner_text()
    other.click()
    expect(page.locator(".layer-card b").filter(has_text=code)).to_have_count(1)
    saved(page)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.locator(".layer-card b").filter(has_text=before[0])).to_have_count(1)
    saved(page)

    # Away with it, and back; what was asked about the state before has been answered by then.
    page.wait_for_load_state("networkidle")
    act(page, "remove")
    expect(cards(page)).to_have_count(count - 1)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(cards(page)).to_have_count(count)
    saved(page)


def test_places_are_brushed_in_and_out_and_set_one_by_one(planned: Page) -> None:
    page = planned
    cards(page).last.click()
    page.get_by_role("button", name="edit where").click()
    brush = page.get_by_role("img", name="Brush over the places to add or take away")
    marked = brush.locator(".spot-brushed.is-on")
    count = marked.count()
    assert count > 0
    # A stroke that begins on a place of the layer takes it away.
    box = marked.first.bounding_box()
    assert box
    at = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.click(*at)
    expect(marked).to_have_count(count - 1)
    saved(page)
    page.mouse.click(*at)
    expect(marked).to_have_count(count)
    saved(page)
    page.keyboard.press("b")
    expect(brush).to_have_count(0)

    page.get_by_role("radio", name="place").click()
    place = page.get_by_role("region", name=re.compile("What the layers give at"))
    here = place.get_by_role("combobox").first
    here.select_option(label="heavy, twice")
    saved(page)
    expect(here.locator("option:checked")).to_have_text("heavy, twice")
    lightest = place.get_by_role("img", name=re.compile("you get")).get_attribute("aria-label")
    here.select_option(label="not here")
    expect(place.get_by_role("img", name=re.compile("you get"))).not_to_have_attribute("aria-label", str(lightest))
    saved(page)
    # What would be exact here alone is taken out of the layers, until it is planned with the others again.
    page.get_by_role("button", name="exact for this place").click()
    page.get_by_role("list", name="Exact for this place").get_by_role("button").first.click()
    own = page.get_by_role("region", name=re.compile("^Recipe of"))
    expect(own.get_by_role("listitem").first).to_be_visible()
    saved(page)
    own.get_by_role("button", name="Plan in layers").click()
    expect(place).to_be_visible()
    saved(page)


def test_offers_stand_beside_the_plan_before_they_are_taken(planned: Page) -> None:
    page = planned
    before = sticks(page)
    page.get_by_role("button", name="what if").click()
    beside = page.get_by_role("region", name="The plan beside another")
    beside.get_by_label("What if").select_option("without")
    beside.get_by_label("Without").select_option(before[0])
    expect(beside.get_by_role("heading", name=re.compile("^So: "))).to_be_visible(timeout=150_000)
    beside.get_by_role("button", name="Use this one").click()
    expect(page.locator(".layer-card b").filter(has_text=before[0])).to_have_count(0)
    saved(page)

    # A setting is taken at once, and what it does to the plan is offered: plan anew, or keep.
    page.get_by_role("button", name="change", exact=True).click()
    setup = page.get_by_role("group", name="Change how you work")
    setup.get_by_label("Paper", exact=True).select_option("toothy-white")
    setup.get_by_label("Method").select_option("pale_base_first")
    expect(setup).to_contain_text("pale flesh")
    page.get_by_role("button", name="done", exact=True).click()
    offer = page.get_by_role("note")
    expect(offer).to_contain_text("a new")
    offer.get_by_role("button", name="plan anew").click()
    expect(offer).to_have_count(0)
    saved(page)

    page.keyboard.press("3")
    expect(page.get_by_role("list", name="Ramp from dark to light").first).to_be_visible()
    page.keyboard.press("4")
    palette = page.get_by_role("list", name="Palette of the piece")
    expect(palette).to_be_visible()
    page.get_by_label(re.compile("Best 8 pencils")).press("ArrowLeft")
    expect(palette.get_by_role("listitem")).to_have_count(7)
    few = page.get_by_role("button", name="Work with 7")
    expect(few).to_be_enabled(timeout=180_000)  # once the planning from before is through
    few.click()
    saved(page)
    page.get_by_role("button", name="change", exact=True).click()
    expect(page.get_by_label("Most pencils")).to_have_value("7")


def test_two_windows_change_the_layers_one_after_the_other(planned: Page) -> None:
    page = planned
    other = page.context.new_page()
    other.goto(page.url)
    expect(cards(other)).to_have_count(cards(page).count())
    act(page, "keep as it is")
    # The other window knows nothing of that: what it does is done to the newest state, or asked about, never lost.
    other.get_by_role("group", name="Change this layer").get_by_role("button", name="remove").click()
    expect(cards(other)).to_have_count(cards(page).count() - 1)
    saved(other)
    page.reload()
    expect(cards(page)).to_have_count(cards(other).count())
