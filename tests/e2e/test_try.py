"""Try: from a card to plans that know what it taught, in the real interface."""

from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from core.exchange.card_json import read_card_json
from core.optics.support import get_support
from server.materials.services import as_core
from server.trials.models import TrialCard
from tests.core.photo.sheets import filled_page
from tests.e2e.conftest import barriers, begin, drop, small_picture
from tools.camera import Camera, photograph
from tools.nature import Nature


def filled(page: Page, where: Path, curve: str = "mild") -> Path:
    """A photograph of the only card, filled by a hand in a nature of other physics."""
    row = TrialCard.objects.get()
    held = read_card_json(row.card.encode())
    nature = Nature(3, as_core(row.tray).sticks, get_support(held.paper))
    labs = [nature.lab(cell.passes, hand=0.15).tolist() for cell in held.card.cells]
    labs[5] = list(nature.support.lab)
    pdf = page.request.get(page.url.partition("/pieces")[0] + f"/api/cards/{row.pk}/sheet").body()
    sheet, _ = filled_page(pdf, held.card.pages()[0], 0, labs, 3, nature.support.lab, 0.0)
    where.write_bytes(photograph(sheet, Camera(3, curve, 0.06, size=(1600, 1200)))[0])
    return where


def test_from_a_card_to_plans_that_know_what_it_taught(enter: Callable[..., Page], tmp_path: Path) -> None:
    page = enter()
    begin(page, picture=small_picture())
    drop(page, 0.4, 0.5)
    page.keyboard.press("f")
    expect(page.get_by_role("heading", name="Make your colours true")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("radio", name="12 boxes").click()
    page.get_by_role("button", name="Make the card").click()
    expect(page.get_by_role("heading", name="Card 60: 12 boxes")).to_be_visible()
    expect(page.get_by_role("link", name="print it")).to_be_visible()

    page.get_by_role("button", name="fill it box by box").click()
    expect(page.get_by_text("box 1 of 12")).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("box 2 of 12")).to_be_visible()
    page.keyboard.press("Escape")

    # Something else first: it is said, and corners can be set by hand.
    page.get_by_label("Picture file").set_input_files(small_picture())
    expect(page.get_by_role("alert")).to_contain_text("marks of a card are not seen")
    expect(page.get_by_role("button", name="Mark, upper left")).to_be_visible()

    page.get_by_label("Picture file").set_input_files(filled(page, tmp_path / "card.jpg"))
    expect(page.get_by_role("heading", name="11 boxes speak clearly")).to_be_visible()
    expect(page.get_by_text("One is empty, which is fine.")).to_be_visible()
    expect(page.get_by_role("heading", name="What it teaches")).to_be_visible()
    assert barriers(page) == []
    page.get_by_role("button", name="Box 2, learnt from").click()
    page.get_by_role("button", name="do not use it").click()
    expect(page.get_by_role("heading", name="10 boxes speak clearly")).to_be_visible()
    page.get_by_role("button", name="use it", exact=True).click()
    expect(page.get_by_role("heading", name="11 boxes speak clearly")).to_be_visible()
    page.get_by_role("button", name="I like it").click()
    expect(page.get_by_role("button", name="Box 2, learnt from, liked")).to_be_visible()

    # A chart that is none is refused, and nothing changes.
    page.get_by_role("button", name="a chart of 24 patches lies on it").click()
    expect(page.get_by_role("button", name="Chart, upper left")).to_be_visible()
    page.get_by_role("button", name="Read it by the chart").click()
    expect(page.get_by_role("alert")).to_contain_text("no chart of 24 patches")
    page.get_by_role("button", name="no chart").click()

    page.get_by_text("How it came about").click()
    page.get_by_role("button", name="leave all boxes out").click()
    expect(page.get_by_role("heading", name="No box speaks yet")).to_be_visible()
    page.get_by_role("button", name="take them in again").click()
    expect(page.get_by_role("heading", name="11 boxes speak clearly")).to_be_visible()
    expect(page.get_by_role("button", name="Box 2, learnt from, liked")).to_be_visible()
    assert barriers(page) == []

    page.get_by_role("button", name="take this reading back").click()
    expect(page.get_by_role("heading", name="Card 60: 12 boxes")).to_be_visible()
    expect(page.get_by_role("heading", name="What it teaches")).to_be_hidden()
    page.get_by_role("button", name="put this card aside").click()
    expect(page.get_by_role("heading", name="Make your colours true")).to_be_visible()


def test_after_a_card_it_is_said_which_plans_would_change(planned_piece: Callable[..., Page], tmp_path: Path) -> None:
    page = planned_piece("try")
    page.get_by_role("radio", name="12 boxes").click()
    page.get_by_role("button", name="Make the card").click()
    expect(page.get_by_role("heading", name="Card 60: 12 boxes")).to_be_visible()
    page.get_by_label("Picture file").set_input_files(filled(page, tmp_path / "card.jpg"))
    expect(page.get_by_role("heading", name="What it changes")).to_be_visible()
    page.get_by_role("button", name="plan anew").click()
    expect(page.get_by_text("still holds")).to_be_visible()
