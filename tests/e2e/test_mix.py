"""Mix as an artist uses it: answers, what is kept, ramp, palette, forecast, stopping, keys."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.conftest import begin, drop, go, mix_all, saved


@pytest.fixture
def mixed(enter: Callable[..., Page]) -> Page:
    page = enter()
    begin(page)
    for x, y in ((0.42, 0.30), (0.62, 0.47), (0.55, 0.72), (0.36, 0.55)):
        drop(page, x, y)
    go(page, "Mix")
    mix_all(page)
    expect(page.get_by_role("region", name=re.compile("Recipe of")).get_by_text("you get")).to_be_visible()
    saved(page)
    return page


def laid(page: Page) -> list[str]:
    return page.get_by_role("button", name=re.compile("of pass")).filter(has=page.locator(".numbers")).all_inner_texts()


def test_rows_go_from_light_to_dark_and_arrows_walk_through_them(mixed: Page) -> None:
    values = [float(text) for text in mixed.locator(".mix-list .pair .chip:first-child b").all_inner_texts()]
    assert values == sorted(values, reverse=True)
    title = mixed.get_by_role("region", name=re.compile("Recipe of"))
    first = title.get_attribute("aria-label")
    mixed.keyboard.press("ArrowDown")
    expect(title).not_to_have_attribute("aria-label", str(first))
    mixed.keyboard.press("ArrowUp")
    expect(title).to_have_attribute("aria-label", str(first))


def test_another_answer_is_taken_and_undone(mixed: Page) -> None:
    recipe = mixed.get_by_role("region", name=re.compile("Recipe of"))
    expect(recipe.locator(".why")).to_contain_text(re.compile("base|bare paper"))
    before = laid(mixed)
    mixed.get_by_role("button", name="Other answers").click()
    mixed.get_by_role("list", name="Other answers").get_by_role("button", name=re.compile("Take")).last.click()
    saved(mixed)
    after = laid(mixed)
    mixed.get_by_role("button", name="Undo").click()
    saved(mixed)
    if after != before:
        expect(mixed.get_by_role("button", name=re.compile("of pass 1: "))).to_contain_text(before[0].strip())


def test_a_recipe_that_is_kept_is_left_alone_when_all_are_mixed_anew(mixed: Page) -> None:
    mixed.get_by_role("radiogroup", name="Repeats of pass 1").get_by_role("radio", name="3×").click()
    mixed.get_by_role("button", name="Keep as it is").click()
    saved(mixed)
    kept = mixed.get_by_role("img", name=re.compile("you get")).get_attribute("aria-label")
    mixed.get_by_label("Method", exact=True).select_option("lights_first")
    expect(mixed.get_by_text(re.compile(r"recipes? changed: "))).to_be_visible()
    saved(mixed)
    expect(mixed.get_by_role("img", name=re.compile("you get"))).to_have_attribute("aria-label", str(kept))
    expect(mixed.get_by_role("button", name="Kept as it is")).to_be_visible()


def test_ramp_palette_and_forecast_are_a_key_away(mixed: Page) -> None:
    mixed.keyboard.press("3")
    expect(mixed.get_by_role("list", name="Ramp from dark to light").first).to_be_visible()
    mixed.keyboard.press("4")
    palette = mixed.get_by_role("list", name="Palette of the piece")
    expect(palette).to_be_visible()
    mixed.get_by_label(re.compile("Best 8 sticks")).press("ArrowLeft")
    expect(mixed.get_by_text("sticks cost")).to_contain_text("7")
    expect(palette.get_by_role("listitem")).to_have_count(7)
    mixed.get_by_role("button", name=re.compile("Do without")).first.click()
    saved(mixed)
    expect(mixed.get_by_role("button", name=re.compile("Allow .* again"))).to_be_visible()
    mixed.get_by_role("button", name="Work with 7").click()
    saved(mixed)
    expect(mixed.get_by_label("Most pencils")).to_have_value("7")
    mixed.keyboard.press("5")
    expect(mixed.get_by_text("drawing", exact=True)).to_be_visible()
    divider = mixed.get_by_role("slider", name="Divider between reference and forecast")
    divider.press("ArrowLeft")
    expect(divider).to_have_attribute("aria-valuenow", "45")
    before = mixed.get_by_alt_text("The drawing foreseen").get_attribute("src")
    mixed.keyboard.press("v")
    expect(mixed.get_by_alt_text("The drawing foreseen")).not_to_have_attribute("src", str(before))
    mixed.get_by_role("radiogroup", name="Stage").get_by_role("radio", name="after stage 1").click()
    expect(mixed.get_by_text("It may look strange")).to_be_visible()
    expect(mixed.get_by_text("drawing", exact=True)).to_be_visible()


def test_a_neighbour_is_picked_on_the_reference(mixed: Page) -> None:
    mixed.get_by_role("button", name="Pick a neighbour").click()
    box = mixed.get_by_role("group", name="Spots").bounding_box()
    assert box
    mixed.mouse.click(box["x"] + 0.5 * box["width"], box["y"] + 0.06 * box["height"])
    saved(mixed)
    near = mixed.get_by_role("region", name="Beside its neighbours")
    expect(near.get_by_text(re.compile("beside neighbour 1: looks"))).to_be_visible()
    expect(mixed.locator("[data-spot]")).to_have_count(4)


def test_mixing_shows_its_progress_and_can_be_stopped(mixed: Page) -> None:
    for i in range(10):
        go(mixed, "Look")
        drop(mixed, 0.30 + 0.03 * i, 0.40)
        if i == 9:
            go(mixed, "Mix")
    # The first half of the preparing waits until it has been stopped: there is no second.
    asked: list[str] = []

    def slow(route: object, request: object) -> None:
        asked.append("once")
        if len(asked) == 1:
            mixed.get_by_role("button", name="Stop, keep what is done").click()
        route.continue_()  # type: ignore[attr-defined]  # a Playwright route

    mixed.route("**/prepare", slow)
    mixed.get_by_role("region", name="How you work").get_by_role("button", name="Mix all anew").click()
    expect(mixed.get_by_text("of 14 spots")).to_be_visible()
    expect(mixed.get_by_text("of 14 spots")).to_have_count(0, timeout=30_000)
    saved(mixed)
    rows = mixed.locator(".mix-list .pair")
    expect(rows).to_have_count(8)
