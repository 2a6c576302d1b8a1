"""Things that many tests share: the stand-in ranges, boxes of pencils, small pictures."""

from __future__ import annotations

import io
import logging
from collections.abc import Callable
from functools import cache
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from core.colour.spaces import lab_to_hex
from core.exchange.tray_csv import read_tray
from core.optics.media import get_medium
from core.optics.pencil import PencilBox
from core.optics.stick import Stick, Tray
from core.optics.support import get_support

ROOT = Path(__file__).parents[1]
# What is refused on purpose, thousands of times, need not be told each time.
logging.getLogger("django.request").setLevel(logging.ERROR)


def pytest_make_parametrize_id(val: object, argname: str) -> str | None:
    """Archives and sheets hold the time at which they were made, and every process must give a test the same name."""
    return argname if isinstance(val, bytes) else None


@cache
def a_range(name: str) -> Tray:
    """One of the stand-in ranges."""
    return read_tray((ROOT / f"demo/ranges/{name}.csv").read_bytes(), name)


@pytest.fixture(scope="session")
def small_tray() -> Tray:
    """The 24 pencils of the demo's small tray."""
    return a_range("small-tray-24")


@pytest.fixture(scope="session")
def big_range() -> Tray:
    """The range of 72."""
    return a_range("long-pier-72")


def pencil(code: str, lab: tuple[float, float, float], **more: object) -> Stick:
    """A pencil whose solid swatch has this CIELAB."""
    return Stick(code, code, "pencil", lab_to_hex(lab), **more)  # type: ignore[arg-type]  # optional fields of Stick


# Invented swatches for tests of the optics; lightness, then a and b.
SWATCHES = {
    "cream": (93, 0, 12),
    "peach": (84, 12, 20),
    "pink": (74, 28, 8),
    "yellow": (85, 2, 62),
    "ochre": (66, 10, 44),
    "orange": (66, 42, 55),
    "terracotta": (49, 36, 30),
    "red": (46, 58, 36),
    "sienna": (38, 22, 25),
    "brown": (31, 14, 16),
    "umber": (24, 8, 8),
    "green": (50, -30, 22),
    "blue": (40, 5, -45),
    "lightblue": (72, -8, -22),
    "violet": (38, 30, -36),
    "grey": (55, 0, 0),
    "black": (19, 0, 0),
    "white": (98, 0, 0),
}


@pytest.fixture(scope="session")
def box_on() -> Callable[[str], PencilBox]:
    """A box of the test pencils on the paper with this id."""

    @cache
    def make(paper: str) -> PencilBox:
        sticks = tuple(pencil(code, lab) for code, lab in SWATCHES.items())
        box = get_medium("pencil").prepare(sticks, get_support(paper))
        assert isinstance(box, PencilBox)
        return box

    return make


@pytest.fixture(scope="session")
def box(box_on: Callable[[str], PencilBox]) -> PencilBox:
    """The test pencils on medium white paper."""
    return box_on("medium-white")


def picture_bytes(
    pixels: np.ndarray | tuple[int, int, int] = (200, 150, 120),
    size: tuple[int, int] = (64, 48),
    form: str = "PNG",
    **more: object,
) -> bytes:
    """An encoded picture: of these pixels, or of one colour."""
    image = Image.fromarray(pixels) if isinstance(pixels, np.ndarray) else Image.new("RGB", size, pixels)
    out = io.BytesIO()
    image.save(out, form, **more)  # type: ignore[arg-type]  # options differ from format to format
    return out.getvalue()
