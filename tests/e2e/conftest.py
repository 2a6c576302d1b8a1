"""The real interface in headless Chromium, against a live server."""

from __future__ import annotations

import io
import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from PIL import Image
from playwright.sync_api import Browser, FilePayload, Locator, Page, Request, expect

from server.accounts import services as accounts
from server.materials import services as materials
from server.materials.models import Tray
from server.pictures.services import store_picture
from server.pieces.document.history import document_of, new_piece
from server.pieces.document.schema import Document
from server.pieces.models import Piece
from tests.conftest import ROOT
from tools.browser import chromium

MOST_MS = 180_000
"""Against hanging alone: on busy processors a figure may take a minute to be planned."""
expect.set_options(timeout=MOST_MS)
REFERENCE = ROOT / "demo/references/tavi.jpg"


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as running:
        yield running


@pytest.fixture
def site(live_server: Any, settings: Any, tmp_path: Path) -> str:
    """The address of the server, with folders and limits of its own."""
    settings.PICTURES_DIR = tmp_path / "pictures"
    settings.VIEWS_DIR = tmp_path / "views"
    settings.CACHES = {"default": settings.CACHES["default"] | {"LOCATION": str(tmp_path)}}
    return str(live_server.url)


@pytest.fixture
def enter(site: str, browser: Browser) -> Iterator[Callable[..., Page]]:
    """A page of an artist who is signed in, at an address; fails on script errors and on any request elsewhere."""
    troubles: list[str] = []
    contexts = []

    def open_page(name: str = "ines", tray: bool = True, at: str = "", **options: Any) -> Page:
        user = accounts.get_or_create_artist(name)
        if tray and not materials.trays_of(user).exists():
            few_pencils(user)
        # Nothing is to be learnt from waiting until a dialog has faded in.
        context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce", **options)
        contexts.append(context)
        client = Client()
        client.force_login(user)
        context.add_cookies([{"name": "sessionid", "value": client.cookies["sessionid"].value, "url": site}])
        page = context.new_page()
        page.set_default_timeout(MOST_MS)
        page.on("pageerror", lambda error: troubles.append(f"script error: {error}"))
        page.on("request", lambda request: troubles.extend(elsewhere(request, site)))
        page.goto(f"{site}/{at}")
        if not at:
            page.get_by_role("navigation", name="Places").wait_for()
        return page

    yield open_page
    for context in contexts:
        context.close()
    assert troubles == []


@pytest.fixture
def planned_piece(enter: Callable[..., Page]) -> Callable[..., Page]:
    """Opens a piece with a few spots that is planned in layers, at one of its steps."""

    def open_page(step: str = "mix", **options: Any) -> Page:
        artist = accounts.get_or_create_artist("ines")
        if not _PLANNED:
            page = enter(**options)
            begin(page, picture=small_picture())
            for x, y in ((0.42, 0.30), (0.62, 0.47), (0.55, 0.72), (0.36, 0.55)):
                drop(page, x, y)
            go(page, "Mix")
            plan_layers(page)
            _PLANNED.append(document_of(artist, Piece.objects.get().pk))
            page.goto(page.url.replace("/mix", f"/{step}"))
            return page
        tray, picture = few_pencils(artist), store_picture(artist, small_picture()["buffer"])
        piece = new_piece(artist, "Mate on watch", replace(_PLANNED[0], tray=tray.pk, picture=picture.pk)).piece
        return enter(at=f"pieces/{piece.pk}/{step}", **options)

    return open_page


_PLANNED: list[Document] = []
"""That of the piece, once this process has made it."""


def few_pencils(user: User) -> Tray:
    """Half of a small range: plans are worked out in half the time."""
    return materials.keep_tray(user, "small", materials.get_range("small-tray-24").sticks[::2])


def elsewhere(request: Request, site: str) -> list[str]:
    return [] if request.url.startswith((site, "data:", "blob:")) else [f"request to {request.url}"]


@cache
def small_picture() -> FilePayload:
    """The reference at a size of which maps are drawn quickly."""
    held = io.BytesIO()
    with Image.open(REFERENCE) as picture:
        picture.thumbnail((260, 260))
        picture.save(held, "JPEG", quality=92)
    return {"name": "small.jpg", "mimeType": "image/jpeg", "buffer": held.getvalue()}


def begin(page: Page, title: str = "Mate on watch", picture: Path | FilePayload = REFERENCE) -> None:
    """A new piece with a picture in it."""
    page.get_by_role("button", name="New piece").or_(
        page.get_by_role("button", name="or start with a title alone")
    ).first.click()
    page.get_by_label("Title").fill(title)
    page.get_by_role("button", name="Begin", exact=True).click()
    page.get_by_role("heading", name="Put in your reference").wait_for()
    page.get_by_label("Picture file").set_input_files(picture)
    page.get_by_role("group", name="Spots").wait_for()


def drop(page: Page, x: float, y: float) -> None:
    """A spot at fractions of the picture, and its reading."""
    spots = page.get_by_role("group", name="Spots")
    spots.wait_for()  # just after a change of the step there is no picture yet
    before = page.locator("[data-spot]").count()
    box = spots.bounding_box()
    assert box
    page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
    expect(page.locator("[data-spot]")).to_have_count(before + 1)
    saved(page)


def saved(page: Page) -> None:
    """Everything has reached the server."""
    expect(page.get_by_role("status")).to_have_text("Saved")


def drawn(picture: Locator) -> None:
    """The picture is there. (Its `decode` fails when a finer one takes its place on the way.)"""
    picture.page.wait_for_function("image => image.complete && image.naturalWidth > 0", arg=picture.element_handle())


def go(page: Page, step: str) -> None:
    page.get_by_label("Steps of the piece").get_by_role("link", name=step).click()


def plan_layers(page: Page) -> None:
    """The figures planned in layers, and all of them there to be changed."""
    page.get_by_role("button", name="Plan in layers").click()
    page.get_by_role("list", name="From the last layer down to the paper").get_by_role("button").first.wait_for()
    saved(page)
    page.get_by_role("slider", name="Layers laid").wait_for()


def rename(page: Page, name: str) -> None:
    """Another name for the chosen spot."""
    field = page.get_by_label("Name of the spot")
    field.fill(name)
    field.press("Enter")


def place(page: Page, name: str = "") -> Locator:
    """The row of a spot of this name on Look's ladder, or all of them, from light to dark."""
    rows = page.get_by_role("listbox", name="Value ladder").get_by_role("option")
    return rows.and_(page.get_by_role("option", name=re.compile(f"^{re.escape(name)},"))) if name else rows


def pick(page: Page, name: str = "") -> None:
    """The spot of this name, or the lightest one, by its row on the ladder."""
    place(page, name).first.locator(".plan-name").click()


def second_window(page: Page, spot: str = "Spot 1") -> Page:
    """The same piece in another window, with a spot chosen."""
    other: Page = page.context.new_page()
    other.goto(page.url)
    pick(other, spot)
    return other


@cache
def _axe() -> str:
    return (ROOT / "web/node_modules/axe-core/axe.min.js").read_text()


def barriers(page: Page) -> list[str]:
    """What keeps somebody out of the page as it is, by axe: its rule, and the first thing it is about."""
    page.evaluate(_axe())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")["violations"]
    return [f"{row['id']}: {row['nodes'][0]['html'][:120]}" for row in found]
