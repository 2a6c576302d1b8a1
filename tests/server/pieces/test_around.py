"""What surrounds the skin over HTTP: regions of a document, ramps to take, what melts, and the skin inside."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from PIL import Image
from rest_framework.test import APIClient

from server.materials import services as materials
from tests import night_watch
from tests.conftest import picture_bytes
from tests.server.conftest import upload

Json = dict[str, Any]
HELD = night_watch.SURROUND


@pytest.fixture
def drawn(artist: User) -> str:
    """The id of a planned piece with hair and coats."""
    return str(night_watch.planned(artist, night_watch.box(artist, surround=True)).pk)


def write(client: APIClient, piece: str, **parts: object) -> Json:
    held = client.get(f"/api/pieces/{piece}").json()
    body = {"version": held["version"], "title": held["title"], "document": held["document"] | parts}
    answer = client.put(f"/api/pieces/{piece}", body, format="json")
    assert answer.status_code == 200, answer.content[:400]
    written: Json = answer.json()
    return written


def around(client: APIClient, piece: str, status: int = 200) -> Json:
    answer = client.get(f"/api/pieces/{piece}/around")
    assert answer.status_code == status, answer.content[:400]
    held: Json = answer.json()
    return held


def region(key: str, x: float, y: float, **more: object) -> Json:
    return {"id": key, "name": key, "kind": "other", "x": x, "y": y, "radius": 0.01} | more


def test_regions_have_ramps_that_can_be_taken_and_come_onto_the_sheet(
    client: APIClient, other: APIClient, drawn: str
) -> None:
    shown = around(client, drawn)
    assert [row["id"] for row in shown["regions"]] == [row["id"] for row in HELD]
    for row in shown["regions"]:
        assert row["trouble"] == "" and row["share"] > 0.01
        values = [swatch["value"] for swatch in row["wanted"]]
        assert values == sorted(values, reverse=True) and len(row["planned"]) == 3 and row["close"]
        assert [offer["shade"] for offer in row["offers"]] == ["darker", "complement"]
    assert "the skin’s too" in shown["shared"] and shown["caution"]
    taken = shown["regions"][0]["offers"][1]
    rows = [dict(row) for row in client.get(f"/api/pieces/{drawn}").json()["document"]["surroundings"]]
    rows[0] |= {"shade": taken["shade"], "layers": taken["layers"]}
    write(client, drawn, surroundings=rows)
    after = around(client, drawn)["regions"][0]
    for got, promised in zip(after["planned"], taken["swatches"], strict=True):
        assert np.allclose(got["lab"], promised["lab"], atol=0.6)
    sheet = client.get(f"/api/pieces/{drawn}/sheet").json()
    lines = [row for row in sheet["around"] if row["region"] == HELD[0]["name"]]
    assert [(row["stick"], row["where"]) for row in lines] == [(row["stick"], row["where"]) for row in taken["lines"]]
    ticked = {"passes": {lines[0]["layer"]: {"state": "done"}}}
    assert client.post(f"/api/pieces/{drawn}/work", ticked, format="json").status_code == 204
    assert client.get(f"/api/pieces/{drawn}").json()["work"]["done"] == {lines[0]["layer"]: "done"}
    version = client.get(f"/api/pieces/{drawn}").json()["version"]
    client.post(f"/api/pieces/{drawn}/undo", {"version": version}, format="json")
    assert client.get(f"/api/pieces/{drawn}").json()["document"]["surroundings"][0]["layers"] != taken["layers"]
    assert other.get(f"/api/pieces/{drawn}/around").status_code == 404
    assert other.get(f"/api/pieces/{drawn}/around/picture").status_code == 404


def test_skin_is_seen_on_white_and_inside_its_surround(client: APIClient, drawn: str) -> None:
    seen = {}
    for way in ("as_it_is", "where", "white", "inside"):
        answer = client.get(f"/api/pieces/{drawn}/around/picture?way={way}")
        assert answer["Content-Type"] == "image/jpeg"
        seen[way] = np.asarray(Image.open(BytesIO(answer.content)).convert("L"), dtype=float)
    assert {held.shape for held in seen.values()} == {seen["white"].shape}
    h, w = seen["white"].shape
    coat, face = (int(0.85 * h), int(0.1 * w)), (int(0.45 * h), int(0.3 * w))
    assert seen["white"][coat] > 230 and seen["inside"][coat] < 150
    assert abs(seen["white"][face] - seen["inside"][face]) < 4
    # Outlines are lines: most of the picture is as it was.
    assert np.mean(np.abs(seen["where"] - seen["as_it_is"]) > 30) < 0.1
    assert client.get(f"/api/pieces/{drawn}/around/picture?way=tinted").status_code == 422


def test_what_melts_is_said_and_where_regions_may_be_is_offered(client: APIClient, drawn: str) -> None:
    write(client, drawn, surroundings=[])
    offers = around(client, drawn)["offers"]
    assert {row["kind"] for row in offers} == {"hair", "cloth", "ground"}
    cap, night = region("cap", 0.84, 0.3), region("night", 0.96, 0.1)
    melting = around_after(client, drawn, [cap, night])["melting"]
    (row,) = [row for row in melting if {row["one"], row["other"]} == {"cap", "night"}]
    assert "melt into each other" in row["said"] and abs(row["steps"]) < 0.6


def around_after(client: APIClient, piece: str, rows: list[Json]) -> Json:
    write(client, piece, surroundings=rows)
    return around(client, piece)


def test_points_on_skin_and_specks_are_told_and_the_rest_is_shown_all_the_same(
    client: APIClient, drawn: str, artist: User
) -> None:
    # Where one region is, another finds nothing.
    rows = [region("face", 0.3, 0.45), region("coat", 0.8, 0.85), region("speck", 0.8, 0.85)]
    face, coat, speck = around_after(client, drawn, rows)["regions"]
    assert face["trouble"] == "This point lies on skin. Move it into the region."
    assert "all but nothing" in speck["trouble"] and coat["trouble"] == "" and coat["offers"]
    held = client.get(f"/api/pieces/{drawn}").json()
    materials.get_tray(artist, held["document"]["tray"]).sticks.all().delete()
    write(client, drawn, tray=None)
    alone = around(client, drawn)
    assert alone["regions"][1]["wanted"] and alone["regions"][1]["offers"] == []
    # A picture without skin has regions all the same.
    plain = upload(client, picture_bytes((40, 60, 90))).json()["id"]
    bare = client.post("/api/pieces", {"title": "Sea"}, format="json").json()["id"]
    write(client, bare, picture=plain, surroundings=[region("sea", 0.5, 0.5)])
    sea = around(client, bare)
    assert not sea["skin"] and sea["looks"] == sea["raised"] == [] and sea["regions"][0]["share"] > 0.1
    empty = client.post("/api/pieces", {"title": "Empty"}, format="json").json()["id"]
    assert around(client, empty, 422)["errors"][0]["code"] == "no_picture_yet"
