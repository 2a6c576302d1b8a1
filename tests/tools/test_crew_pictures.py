"""The crew's pictures against what is true of them: written by the run that drew them, see tools.portraits."""

from __future__ import annotations

import hashlib
import json
from functools import cache
from typing import Any

import numpy as np
import pytest
from PIL import Image

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, srgb_decode, xyz_to_lab
from tests.conftest import ROOT
from tools.portraits.maps import FAMILIES, PER_FIGURE
from tools.portraits.people import CREW, DECK_LAMP, PLATES
from tools.portraits.skin import PLACES

DOUBLES = ("night-watch", "morning-relief")
NEVER_COVERED = ("forehead", "brow", "upper lid", "cheek", "jaw", "neck", "ear")


@cache
def truth(name: str) -> dict[str, Any]:
    """What is said of each figure of a picture."""
    return dict(json.loads((ROOT / f"tests/portraits/{name}.json").read_text()))


def maps(name: str) -> tuple[np.ndarray, np.ndarray]:
    """Places and families at half the picture's size."""
    places, families = (np.asarray(Image.open(ROOT / f"tests/portraits/{name}-{what}.png"))
                        for what in ("places", "families"))  # fmt: skip
    return places, families


def lightness(rows: dict[str, Any], family: str) -> float:
    return float(np.mean([found[family]["lab"][0] for found in rows.values() if family in found]))


def test_every_file_is_the_one_that_was_drawn() -> None:
    said = json.loads((ROOT / "tools/portraits/digests.json").read_text())
    assert {f"demo/references/{name}.jpg" for name in PLATES} <= set(said)
    for file, digest in said.items():
        assert hashlib.sha256((ROOT / file).read_bytes()).hexdigest() == digest, file


@pytest.mark.parametrize("name", PLATES)
def test_a_picture_shows_the_colours_it_is_said_to_show(name: str) -> None:
    """The compressed picture, read by another library, against the light that was traced."""
    plate = PLATES[name]
    pixels = np.asarray(Image.open(ROOT / f"demo/references/{name}.jpg"))
    assert pixels.shape == (plate.height, plate.width, 3)
    linear = srgb_decode(pixels[::2, ::2] / 255)
    places, families = maps(name)
    off = []
    for number, sitter in enumerate(plate.sitters):
        for place, rows in truth(name)[sitter.title]["places"].items():
            for family, row in rows.items():
                here = (places == 1 + PER_FIGURE * number + PLACES.index(place)) & (
                    families == 1 + FAMILIES.index(family)
                )
                shown = xyz_to_lab(linear[here].mean(axis=0) @ SRGB.to_xyz)
                off.append(float(ciede2000(shown, np.array(row["lab"]))))
    assert len(off) >= 40 * len(plate.sitters)
    assert np.median(off) < 0.3
    assert np.percentile(off, 95) < 1.0


@pytest.mark.parametrize("name", PLATES)
def test_a_complexion_is_the_one_that_was_asked_for(name: str) -> None:
    for sitter in PLATES[name].sitters:
        said = truth(name)[sitter.title]["complexion"]
        assert said["wanted"] == list(sitter.skin.lab)
        assert float(ciede2000(np.array(said["wanted"]), np.array(said["drawn"]))) < 1.5  # a flush is laid over it


@pytest.mark.parametrize("name", DOUBLES)
def test_every_place_is_large_enough_to_be_read(name: str) -> None:
    for figure, said in truth(name).items():
        places = said["places"]
        for place in (*NEVER_COVERED, "lower lip"):
            assert max(row["pixels"] for row in places[place].values()) >= 400, (figure, place)
        assert sum(row["pixels"] for place in ("nose bridge", "nose side", "nose tip")
                   for row in places[place].values()) >= 2000, figure  # fmt: skip


@pytest.mark.parametrize("name", PLATES)
def test_spots_lie_where_their_names_say(name: str) -> None:
    places, _ = maps(name)
    height, width = places.shape
    ys, xs = np.mgrid[0:height, 0:width]
    rows = json.loads((ROOT / f"demo/references/{name}.json").read_text())["spots"]
    figures = [sitter.title for sitter in PLATES[name].sitters]
    assert {row["figure"] for row in rows} == set(figures)
    for row in rows:
        disc = (xs + 0.5 - row["x"] * width) ** 2 + (ys + 0.5 - row["y"] * height) ** 2 <= (
            row["radius"] * max(height, width)
        ) ** 2
        wanted = 1 + PER_FIGURE * figures.index(row["figure"]) + PLACES.index(row["place"])
        assert (places[disc] == wanted).mean() >= 0.75, row


def test_skin_turns_in_light_as_practitioners_say() -> None:
    """Common practice: under a warm lamp skin is warm in the light and cool in the shadow; in grey light the hue holds;
    what glistens stands out the more the deeper the skin."""
    for name in PLATES:
        for sitter in PLATES[name].sitters:
            rows = truth(name)[sitter.title]["places"]
            both = [found for found in rows.values() if {"light", "core shadow"} <= set(found)]
            assert len(both) >= 3
            darker = [found["core shadow"]["lab"][0] / found["light"]["lab"][0] for found in both]
            assert max(darker) < 0.85
            assert np.mean(darker) < 0.70
            for found in both:
                light, core = (np.array(found[family]["lab"]) for family in ("light", "core shadow"))
                if PLATES[name].light is DECK_LAMP:
                    assert core[2] < light[2] - 8
                else:
                    assert abs(np.degrees(np.arctan2(core[2], core[1]) - np.arctan2(light[2], light[1]))) < 20
    shine = {}
    for one in CREW.values():
        rows = truth("night-watch" if one.title in truth("night-watch") else "morning-relief")[one.title]["places"]
        shine[one.title] = lightness(rows, "highlight") / lightness(rows, "light")
    assert shine["Odelo"] > shine["Mairen"]
    assert shine["Senna Rue"] > shine["Tavi"]


def test_depths_follow_each_other_in_every_light() -> None:
    for left, right in (("Mairen", "Odelo"), ("Tavi", "Senna Rue")):
        name = DOUBLES[0] if left == "Mairen" else DOUBLES[1]
        lit = [lightness(truth(name)[who]["places"], "light") for who in (left, right)]
        assert lit[0] > lit[1] + 8
