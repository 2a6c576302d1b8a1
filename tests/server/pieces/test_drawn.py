"""Recipes are read off the maps as soon as there are any, wherever they are shown or reckoned with."""

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import connection
from rest_framework.test import APIClient

from server.pieces.document.history import open_piece
from server.pieces.models import ReadOff
from server.pieces.work.services import laid_of
from tests.server.conftest import Json, save
from tests.server.pieces.test_layers import opened, painted, planned, post, striped

__all__ = ["painted", "planned", "striped"]

TIMES = {1: "once over", 2: "twice over", 3: "three times over"}
ONE_DOSE = {"areas": "drawn", "doses": 1, "least_mm2": 20.0}
"""A map in one dose has something else than any dose anywhere almost everywhere."""
Levels = dict[str, dict[str, Any]]


@pytest.fixture
def in_one_dose(client: APIClient, painted: Json) -> Json:
    return wanted(client, painted, ONE_DOSE)


def wanted(client: APIClient, piece: Json, maps: Json) -> Json:
    assert save(client, piece, piece["document"] | {"maps": maps}).status_code == 200
    return opened(client, piece)


def mapped(client: APIClient, piece: Json) -> Levels:
    """What the maps have, by spot and layer; they are asked for."""
    found: Levels = {}
    for figure in post(client, piece, "layers/maps").json()["figures"]:
        for row in figure["layers"]:
            for spot, level in row["levels"].items() if any(row["levels"].values()) else ():
                if level:
                    found.setdefault(spot, {})[row["layer"]] = level
    return found


def recipes(client: APIClient, piece: Json) -> Levels:
    """What the sheet says is laid, by spot and layer; in one dose at each place."""
    found: Levels = {}
    for step in client.get(f"/api/pieces/{piece['id']}/sheet").json()["steps"]:
        for part in step["parts"]:
            for spot in part["spots"]:
                found.setdefault(spot, {})[step["layer"]] = part["how"]
    return found


def in_words(levels: Levels) -> Levels:
    return {
        spot: {layer: f"{at['pressure']}, {TIMES[at['repeats']]}" for layer, at in rows.items()}
        for spot, rows in levels.items()
    }


def test_sheet_recipes_and_what_lies_on_the_paper_are_read_off_the_maps(
    client: APIClient, artist: User, in_one_dose: Json
) -> None:
    piece = in_one_dose
    as_planned = recipes(client, piece)
    keys = opened(client, piece)["keys"]
    there = mapped(client, piece)
    spots = {row["id"] for row in piece["document"]["spots"] if row["figure"] == "figure-1"}
    assert there.keys() <= spots and there
    told = recipes(client, piece)
    assert told != as_planned
    assert {spot: told[spot] for spot in there} == in_words(there)
    now = opened(client, piece)
    assert now["document"] == piece["document"] and now["version"] == piece["version"]
    for spot, layers in there.items():
        assert len(now["found"]["spots"][spot]["outcome"]["steps"]) == len(layers)
    assert now["keys"]["maps"] == keys["maps"]
    assert all(now["keys"][name] != keys[name] for name in ("sheet", "layers", "found", "forecast"))
    held = open_piece(artist, piece["id"])
    laid = {row.id: row.levels for row in laid_of(held.piece, held.drawn().document)}
    for spot, layers in there.items():
        assert {layer: laid[layer][spot].pressure for layer in laid if spot in laid[layer]} == {
            layer: at["pressure"] for layer, at in layers.items()
        }
    # What other plans are compared with is the plan itself.
    (said, _) = client.get(f"/api/pieces/{piece['id']}/layers").json()["figures"]
    assert said["planned"]["expected"] != said["expected"]


def test_each_plan_has_its_own_and_an_undo_finds_it_again(client: APIClient, in_one_dose: Json) -> None:
    assert post(client, in_one_dose, "layers/maps").json()["noted"]
    assert not post(client, in_one_dose, "layers/maps").json()["noted"]
    told = recipes(client, in_one_dose)
    other = wanted(client, in_one_dose, {**ONE_DOSE, "doses": 2})
    assert recipes(client, other) != told
    assert not post(client, other, "layers/maps", doses=1).json()["noted"], "the piece wants others"
    assert post(client, other, "layers/maps").json()["noted"]
    assert post(client, other, "undo").status_code == 200
    assert recipes(client, other) == told


def test_what_cannot_be_read_or_kept_leaves_recipes_as_planned(client: APIClient, painted: Json) -> None:
    # Worked out before, so that nothing but what they have is to be kept.
    assert not post(client, painted, "layers/maps", **ONE_DOSE).json()["noted"]
    in_one_dose = wanted(client, painted, ONE_DOSE)
    as_planned = recipes(client, in_one_dose)
    connection.cursor().execute("PRAGMA query_only=ON")
    try:
        answer = post(client, in_one_dose, "layers/maps")
    finally:
        connection.cursor().execute("PRAGMA query_only=OFF")
    assert answer.status_code == 200 and not answer.json()["noted"]
    assert recipes(client, in_one_dose) == as_planned
    assert post(client, in_one_dose, "layers/maps").json()["noted"]
    ReadOff.objects.update(held={"layers": {"layer-1": 3}})
    assert recipes(client, in_one_dose) == as_planned
    assert opened(client, in_one_dose)["troubles"] == []
