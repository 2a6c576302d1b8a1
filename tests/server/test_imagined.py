"""Complexions kept, imagined light over HTTP, and pieces without any picture of one's own."""

import io
import json
import zipfile
from typing import Any

import pytest
from PIL import Image
from rest_framework.test import APIClient

from server.imagined import services
from server.pieces.document.parts import parts_of
from tests.server.conftest import Json, spot

LIT = {"key": {"azimuth": -50, "height": 40}, "around": [{"kind": "even", "level": 0.15}]}
TWO = [
    {"name": "Mairen", "sitter": {"skin": {"depth": 68, "flush": 0.3}, "turn": 12}},
    {"name": "Odelo", "sitter": {"skin": {"depth": 29}, "turn": -14, "shown": "bust"}},
]


def keep(client: APIClient, **change: Any) -> Any:
    row = {"name": "Brá", "skin": {"depth": 44, "undertone": 30}, "note": "cook"} | change
    return client.post("/api/complexions", row, format="json")


def test_a_complexion_is_kept_changed_and_deleted(client: APIClient) -> None:
    made = keep(client)
    assert made.status_code == 201
    row = made.json()
    assert row["words"] == "brown, neutral"
    assert row["colour"]["hex"].startswith("#")
    changed = client.put(
        f"/api/complexions/{row['id']}", {"name": " Brá the cook ", "skin": {"depth": 50}}, format="json"
    ).json()
    assert (changed["name"], changed["skin"]["depth"], changed["note"]) == ("Brá the cook", 50, "")
    assert [held["id"] for held in client.get("/api/complexions").json()] == [row["id"]]
    assert client.delete(f"/api/complexions/{row['id']}").status_code == 204
    assert client.get("/api/complexions").json() == []


def test_another_artist_s_complexions_are_not_there(client: APIClient, other: APIClient) -> None:
    address = f"/api/complexions/{keep(client).json()['id']}"
    assert other.get("/api/complexions").json() == []
    assert other.put(address, {"name": "mine", "skin": {}}, format="json").status_code == 404
    assert other.delete(address).status_code == 404
    assert len(client.get("/api/complexions").json()) == 1


@pytest.mark.parametrize(
    ("change", "field"),
    [({"name": "  "}, "name"), ({"name": "x" * 61}, "name"), ({"skin": {"depth": 10}}, "skin.depth"),
     ({"skin": {"undertone": 0}}, "skin.undertone"), ({"skin": {"flush": 2}}, "skin.flush"),
     ({"note": "x" * 501}, "note")],
)  # fmt: skip
def test_a_complexion_that_cannot_be_is_refused(client: APIClient, change: Json, field: str) -> None:
    refused = keep(client, **change)
    assert refused.status_code == 400
    assert refused.json()["errors"][0]["field"] == field
    assert client.get("/api/complexions").json() == []


def test_complexions_go_away_as_a_file_and_come_back_without_doubles(client: APIClient, other: APIClient) -> None:
    keep(client)
    keep(client, name="Deckhand", skin={"depth": 70, "freckles": 0.5})
    file = client.get("/api/complexions/file")
    assert "attachment" in file.headers["Content-Disposition"]
    taken = other.post("/api/complexions/file", {"file": file.content.decode()}, format="json").json()
    assert taken["added"] == 2
    assert [row["name"] for row in taken["complexions"]] == ["Brá", "Deckhand"]
    assert other.post("/api/complexions/file", {"file": file.content.decode()}, format="json").json()["added"] == 0
    for wrong in ("no JSON", json.dumps({"complexions": [{"name": "x", "skin": {"depth": 5}}]})):
        refused = other.post("/api/complexions/file", {"file": wrong}, format="json")
        assert refused.status_code == 422
    assert len(other.get("/api/complexions").json()) == 2


def test_no_more_are_kept_than_there_is_room_for(client: APIClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "MOST_COMPLEXIONS", 1)
    assert keep(client).status_code == 201
    assert keep(client, name="one more").json()["errors"][0]["code"] == "too_many"


def test_what_an_artist_owns_holds_the_complexions(client: APIClient) -> None:
    keep(client)
    archive = zipfile.ZipFile(io.BytesIO(b"".join(client.get("/api/account/export").streaming_content)))
    assert json.loads(archive.read("complexions.json"))["complexions"][0]["name"] == "Brá"


def test_there_are_lights_lamps_and_ways_to_choose_from(client: APIClient) -> None:
    said = client.get("/api/light").json()
    assert {"window", "candle", "stage"} <= {row["id"] for row in said["presets"]}
    assert {"candle", "north sky", "warm LED"} <= {row["name"] for row in said["lamps"]}
    assert [row["id"] for row in said["ways"]] == ["as_it_is", "values", "planes", "families", "pushed"]


def test_a_sitter_is_shown_in_every_way_and_told_about(client: APIClient) -> None:
    scene = LIT | {"sitters": [row["sitter"] for row in TWO]}
    for size, way, kind in ((96, "as_it_is", "jpeg"), (96, "planes", "jpeg"), (512, "as_it_is", "png")):
        said = client.post("/api/light/picture", {"scene": scene, "number": 1, "size": size, "way": way}, format="json")
        assert said.headers["Content-Type"] == f"image/{kind}"
        with Image.open(io.BytesIO(said.content)) as opened:
            assert opened.size == (size, size)
    pale, deep = (
        client.post("/api/light/told", {"scene": scene, "number": number, "steps": 4}, format="json").json()
        for number in (0, 1)
    )
    assert pale["light"] == "from the front left, high"
    assert 12 <= len(pale["spots"]) <= 18
    assert pale["spots"][0]["colour"]["value"] > deep["spots"][0]["colour"]["value"]
    assert {row["name"] for row in deep["ramps"]} >= {"depth", "undertone", "flush", "sun"}
    drawn = client.post("/api/light/map", {"scene": scene, "opposite": True, "kind": "svg"}, format="json")
    assert drawn.headers["Content-Type"] == "image/svg+xml"
    assert client.post("/api/light/map", {"scene": scene}, format="json").content.startswith(b"%PDF")


@pytest.mark.parametrize(
    ("asked", "code"),
    [
        ({"scene": {"key": {"level": 0}, "around": []}}, "no_light"),
        ({"scene": {"sitters": [{}] * 7}}, ""),
        ({"scene": {"key": {"lamp": {"kelvin": 1e9}}}}, ""),
        ({"scene": {"around": [{"kind": "bounce", "cloth": "crimson"}]}}, ""),
        ({"scene": {}, "number": 3}, "no_sitter"),
        ({"scene": {}, "way": "inside out"}, "bad_view"),
        ({"scene": {}, "size": 5000}, ""),
    ],
)
def test_a_light_that_cannot_be_is_refused(client: APIClient, asked: Json, code: str) -> None:
    refused = client.post("/api/light/picture", asked, format="json")
    assert refused.status_code in (400, 422)
    if code:
        assert refused.json()["errors"][0]["code"] == code


def test_nobody_is_shown_to_strangers(db: None) -> None:
    for address in ("complexions", "light"):
        assert APIClient().get(f"/api/{address}").status_code == 403
    assert APIClient().post("/api/light/picture", {"scene": {}}, format="json").status_code == 403


def new_piece(client: APIClient) -> Json:
    made: Json = client.post("/api/pieces", {"title": "Two on deck", "key": "k1"}, format="json").json()
    return made


def imagine(client: APIClient, piece: Json, **change: Any) -> Any:
    asked = {"version": piece["version"], "seats": TWO, "key_light": LIT["key"], "around": LIT["around"]} | change
    return client.post(f"/api/pieces/{piece['id']}/imagine", asked, format="json")


def test_a_piece_begins_with_described_figures_and_plans_like_any_other(client: APIClient, tray_id: str) -> None:
    piece = new_piece(client)
    assert imagine(client, piece).status_code == 200
    piece = client.get(f"/api/pieces/{piece['id']}").json()
    document = piece["document"]
    assert [figure["name"] for figure in document["figures"]] == ["Mairen", "Odelo"]
    assert (piece["picture"]["width"], piece["picture"]["height"]) == (1600, 800)
    assert document["light"]["from_deg"] == pytest.approx(132.4, abs=1)
    assert len(document["spots"]) >= 24
    assert all(found["reading"]["swatch"]["hex"] for found in piece["found"]["spots"].values())
    planned = client.post(
        f"/api/pieces/{piece['id']}/layers",
        {"version": piece["version"], "figures": [document["figures"][0]["id"]], "layers": 4}, format="json",
    )  # fmt: skip
    assert planned.status_code == 200
    assert any(path.startswith("layers/") for path in planned.json()["document"])
    seen = client.get(f"/api/pieces/{piece['id']}/study").json()
    assert all(figure["found"] for figure in seen["figures"])
    undone = client.post(
        f"/api/pieces/{piece['id']}/undo", {"version": planned.json()["version"]}, format="json"
    ).json()
    assert undone["document"]["layers"] == []


def test_a_spot_that_is_moved_aims_for_what_is_there(client: APIClient, tray_id: str) -> None:
    piece = new_piece(client)
    imagine(client, piece)
    piece = client.get(f"/api/pieces/{piece['id']}").json()
    lightest, darkest = (
        piece["document"]["spots"][0],
        next(
            row
            for row in reversed(piece["document"]["spots"])
            if row["figure"] == piece["document"]["figures"][0]["id"]
        ),
    )
    before = piece["found"]["spots"][lightest["id"]]["reading"]["swatch"]["value"]
    at = f"spots/{lightest['id']}"

    def change(version: int, changes: Json) -> Json:
        body = {"version": version, "key": f"to-{version}", "known": "", "changes": changes}
        said: Json = client.patch(f"/api/pieces/{piece['id']}", body, format="json").json()
        return said

    moved = change(piece["version"], {f"{at}/x": darkest["x"], f"{at}/y": darkest["y"]})
    assert moved["spots"][lightest["id"]]["reading"]["swatch"]["value"] < before - 1
    gone = change(moved["version"], {f"{at}/x": 0.005, f"{at}/y": 0.005, f"{at}/radius": 0.002})
    assert gone["spots"][lightest["id"]].get("reading") is None


def test_a_list_of_places_needs_no_picture_at_all(client: APIClient, tray_id: str) -> None:
    piece = new_piece(client)
    imagine(client, piece, drawn=False, spots=False, seats=TWO[:1])
    piece = client.get(f"/api/pieces/{piece['id']}").json()
    figure = piece["document"]["figures"][0]["id"]
    rows = [
        spot(1, figure=figure, place="forehead", role="light", family="light"),
        spot(2, figure=figure, place="cheek", role="shadow", family="core shadow"),
        spot(3, figure=figure, place="lower lip", role="middle"),
    ]
    document = piece["document"] | {"spots": rows}
    changes = {path: part for path, part in parts_of(document).items() if path.startswith("spots")}
    sent = {"version": piece["version"], "key": "list", "known": "", "changes": changes}
    said = client.patch(f"/api/pieces/{piece['id']}", sent, format="json").json()
    values = [said["spots"][row["id"]]["reading"]["swatch"]["value"] for row in rows]
    assert values[0] > values[2] > values[1]
    planned = client.post(
        f"/api/pieces/{piece['id']}/layers", {"version": said["version"], "figures": [], "layers": 3}, format="json"
    )
    assert planned.status_code == 200
    for part in ("sheet", "layers", "figures"):
        assert client.get(f"/api/pieces/{piece['id']}/{part}").status_code == 200


def test_a_scene_that_cannot_be_leaves_the_piece_as_it_was(client: APIClient, tray_id: str) -> None:
    piece = new_piece(client)
    for wrong in (
        {"key_light": {"level": 0}, "around": []}, {"seats": []}, {"seats": TWO * 4},
        {"seats": [{"name": "x", "sitter": {"skin": {"depth": 99}}}]},
    ):  # fmt: skip
        assert imagine(client, piece, **wrong).status_code in (400, 422)
    assert client.get(f"/api/pieces/{piece['id']}").json()["version"] == piece["version"]
    assert imagine(client, piece, version=piece["version"] + 7).status_code == 409


def test_the_light_may_change_and_the_spots_stay(client: APIClient, tray_id: str) -> None:
    piece = new_piece(client)
    imagine(client, piece)
    piece = client.get(f"/api/pieces/{piece['id']}").json()
    seats = [row | {"figure": figure["id"]} for row, figure in zip(TWO, piece["document"]["figures"], strict=True)]
    imagine(client, piece, seats=seats, key_light={"azimuth": 50, "height": 10}, spots=False)
    after = client.get(f"/api/pieces/{piece['id']}").json()
    assert after["document"]["spots"] == piece["document"]["spots"]
    assert after["picture"]["id"] != piece["picture"]["id"]
    key = piece["document"]["spots"][0]["id"]
    values = [held["found"]["spots"][key]["reading"]["swatch"]["value"] for held in (piece, after)]
    assert abs(values[0] - values[1]) > 0.3
