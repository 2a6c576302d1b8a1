"""A medium that Caltin does not have, put in while a test runs: one class and its rows of data."""

from __future__ import annotations

from dataclasses import replace

import pytest

from core.method.method import methods
from core.optics.media import MEDIA, MediumFacts, facts
from core.optics.pencil import Pencil
from core.optics.support import get_support, supports


class WaterPencil(Pencil):
    """A pencil whose marks are dissolved; for the tests it lies as any pencil does."""

    id = "water_pencil"
    name = "Watercolour pencil"
    word = "watercolour pencil"
    pressures = ("light", "medium")
    tools = {}


def a_medium(patch: pytest.MonkeyPatch) -> str:
    """Registers the medium for one test; its id."""
    medium = WaterPencil()
    patch.setitem(MEDIA, medium.id, medium)
    patch.setitem(facts(), medium.id, MediumFacts(("marker",), "Let each wash dry before the next.", 5.0))
    paper = get_support("medium-white")
    patch.setitem(supports(), paper.id, replace(paper, media=(*paper.media, medium.id)))
    school = methods()["darks_first"]
    patch.setitem(
        methods(),
        "washes",
        replace(school, id="washes", name="Washes", medium=medium.id, usual=True, finishes=("layer",)),
    )
    return medium.id
