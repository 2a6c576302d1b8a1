"""Boxes changed by hand over HTTP: every change is a step that can be taken back, in one's own boxes alone."""

import json
from io import BytesIO
from typing import Any

import pytest
from django.contrib.auth.models import User
from rest_framework.test import APIClient

from server.materials import boxes, services
from tests.server.conftest import only_tray, save, spot

Json = dict[str, Any]
NEW = {"code": "B7", "name": "burnt sienna", "medium": "pencil", "hex": "#8a4b2f", "source": "guessed"}


def send(client: APIClient, tray_id: str, part: str, body: Json | None = None, way: str = "post") -> Json:
    answer = getattr(client, way)(f"/api/trays/{tray_id}/{part}".rstrip("/"), body or {}, format="json")
    assert answer.status_code == 200, answer.content
    held: Json = answer.json()
    return held


def codes(tray: Json) -> list[str]:
    return [stick["code"] for stick in tray["sticks"]]


def test_every_change_is_a_step_that_can_be_undone_and_done_again(client: APIClient, tray_id: str) -> None:
    before = only_tray(client)
    first, second = codes(before)[:2]
    steps: list[tuple[str, str, Json]] = [
        ("sticks", "post", {"sticks": [NEW]}),
        ("sticks", "patch", {"codes": [first, second], "change": {"condition": "low", "count": 2}}),
        ("sticks", "patch", {"codes": ["B7"], "change": {"note": "a gift", "feel": ["dusty"], "code": "B8"}}),
        ("away", "post", {"codes": [second]}),
        ("order", "put", {"codes": [c for c in (*codes(before)[::-1], "B8") if c != second]}),
        ("", "patch", {"name": "The old tin", "per_row": 12}),
    ]
    states = [before]
    for part, way, body in steps:
        states.append(send(client, tray_id, part, body, way))
    held = [(tray["name"], tray["per_row"], tray["sticks"]) for tray in states]
    assert len({json.dumps(state) for state in held}) == len(held)
    assert states[1]["undoes"] == "put in B7"
    assert states[2]["undoes"] == f"{first}, {second} nearly gone"
    assert states[3]["sticks"][-1] | {"note": "a gift", "code": "B8", "source": "guessed"} == states[3]["sticks"][-1]
    assert states[-1]["redoes"] == ""
    for state in reversed(held[:-1]):
        tray = send(client, tray_id, "undo")
        assert (tray["name"], tray["per_row"], tray["sticks"]) == state
        assert tray["did"] == tray["redoes"]
    assert client.post(f"/api/trays/{tray_id}/undo").json()["errors"][0]["code"] == "nothing_to_undo"
    for state in held[1:3]:
        tray = send(client, tray_id, "redo")
        assert (tray["name"], tray["per_row"], tray["sticks"]) == state
    # A new step ends what could have been done again; what changes nothing is none.
    send(client, tray_id, "away", {"codes": ["B7"]})
    assert client.post(f"/api/trays/{tray_id}/redo").json()["errors"][0]["code"] == "nothing_to_redo"
    held = only_tray(client)
    assert send(client, tray_id, "", {"name": held["name"]}, "patch")["undoes"] == held["undoes"] == "took away B7"


def test_only_so_many_steps_are_kept(client: APIClient, tray_id: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(boxes, "KEPT_STEPS", 3)
    for count in range(2, 9):
        send(client, tray_id, "sticks", {"codes": ["G48"], "change": {"count": count}}, "patch")
    for count in (7, 6, 5):
        tray = send(client, tray_id, "undo")
        assert next(stick["count"] for stick in tray["sticks"] if stick["code"] == "G48") == count
    assert client.post(f"/api/trays/{tray_id}/undo").status_code == 422


def test_a_condition_keeps_a_stick_out_of_recipes_and_a_note_changes_no_plan(
    client: APIClient, artist: User, tray_id: str
) -> None:
    before = services.as_core(services.get_tray(artist, tray_id))
    send(client, tray_id, "sticks", {"codes": ["G48"], "change": {"note": "the short one", "count": 2}}, "patch")
    noted = services.as_core(services.get_tray(artist, tray_id))
    assert noted == before
    send(client, tray_id, "sticks", {"codes": ["G48"], "change": {"condition": "dried_out"}}, "patch")
    dry = services.as_core(services.get_tray(artist, tray_id))
    assert {stick.code for stick in before.usable()} - {stick.code for stick in dry.usable()} == {"G48"}


@pytest.mark.parametrize(
    ("part", "way", "body", "code"),
    [
        ("sticks", "post", {"sticks": [NEW | {"hex": "red"}]}, "bad_stick"),
        ("sticks", "post", {"sticks": [NEW, NEW]}, "double_code"),
        ("sticks", "post", {"sticks": [NEW | {"code": "G48"}]}, "double_code"),
        ("sticks", "post", {"sticks": [NEW | {"medium": "quill"}]}, "unknown_medium"),
        ("sticks", "patch", {"codes": ["nope"], "change": {"count": 2}}, "no_stick"),
        ("sticks", "patch", {"codes": ["G48"], "change": {"condition": "eaten"}}, "bad_stick"),
        ("away", "post", {"codes": ["nope"]}, "no_stick"),
        ("order", "put", {"codes": ["G48", "G48"]}, "bad_order"),
        ("move", "post", {"codes": ["G48"], "to": "0b5d3c1e-7a42-4c58-9f0e-3d1a6b2c4eff"}, "no_tray"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_is_changed(
    part: str, way: str, body: Json, code: str, client: APIClient, tray_id: str
) -> None:
    before = only_tray(client)
    answer = getattr(client, way)(f"/api/trays/{tray_id}/{part}", body, format="json")
    assert answer.status_code in (404, 422)
    assert answer.json()["errors"][0]["code"] == code
    assert only_tray(client) == before


def test_boxes_are_copied_split_and_joined(client: APIClient, tray_id: str) -> None:
    every = codes(only_tray(client))
    copy = send(client, tray_id, "move", {"codes": every, "name": "A copy", "keep": True})
    assert (copy["name"], codes(copy), copy["undoes"]) == ("A copy", every, "")
    part = send(client, tray_id, "move", {"codes": every[:5], "name": "Travel tin"})
    assert codes(part) == every[:5]
    assert codes(client.get(f"/api/trays/{tray_id}").json()) == every[5:]
    joined = send(client, part["id"], "move", {"codes": every[:5], "to": tray_id})
    assert codes(joined) == [*every[5:], *every[:5]]
    assert codes(client.get(f"/api/trays/{part['id']}").json()) == []
    # What is in both boxes just so is there once.
    again = send(client, copy["id"], "move", {"codes": every, "to": tray_id})
    assert sorted(codes(again)) == sorted(every)


def test_a_box_goes_out_as_a_file_and_comes_in_again_unchanged(client: APIClient, tray_id: str) -> None:
    change = {"note": "by the window", "feel": ["dusty", "streaky"], "count": 3}
    send(client, tray_id, "sticks", {"codes": ["G48"], "change": change}, "patch")
    send(client, tray_id, "", {"per_row": 12}, "patch")
    held = client.get(f"/api/trays/{tray_id}").json()
    for kind in ("csv", "json"):
        answer = client.get(f"/api/trays/{tray_id}/file?kind={kind}")
        assert answer.headers["Content-Disposition"].endswith(f'.{kind}"')
        body = {"name": held["name"], "csv": answer.content.decode()}
        again = client.post("/api/trays", body, format="json").json()
        assert again["sticks"] == held["sticks"]
        assert again["per_row"] == (12 if kind == "json" else 0)
    assert client.get(f"/api/trays/{tray_id}/file?kind=docx").status_code == 422
    empty = client.post("/api/trays", {"name": "New"}, format="json").json()
    assert (empty["sticks"], empty["name"]) == ([], "New")


def test_files_of_any_kind_go_out_and_come_back_as_lists(client: APIClient, tray_id: str) -> None:
    held = client.get(f"/api/trays/{tray_id}").json()["sticks"]
    for kind in ("xlsx", "gpl", "txt", "cxf"):
        answer = client.get(f"/api/trays/{tray_id}/file?kind={kind}")
        assert answer.status_code == 200 and answer.headers["Content-Disposition"].endswith(f'.{kind}"')
        sent = client.post("/api/stick-list/file", {"file": BytesIO(answer.content)}, format="multipart")
        assert sent.status_code == 200, sent.content
        assert sent.json()["said"] == []
        body = {"text": sent.json()["text"], "medium": "pencil"}
        rows = client.post("/api/stick-list", body, format="json").json()["sticks"]
        assert [row["name"] for row in rows] == [stick["name"] for stick in held], kind
        assert not any(row["wrong"] for row in rows)
    cut = client.post("/api/stick-list/file", {"file": BytesIO(b"PK\x03\x04 cut off")}, format="multipart")
    assert cut.status_code == 422 and cut.json()["errors"][0]["code"] == "bad_spreadsheet"


def test_lists_are_read_and_nothing_is_stored(client: APIClient, tray_id: str) -> None:
    answer = client.post("/api/stick-list", {"text": "12 burnt sienna\n12 wibble", "medium": "pencil"}, format="json")
    first, second = answer.json()["sticks"]
    assert (first["code"], first["name"], first["guessed"]) == ("12", "burnt sienna", ["medium", "hex", "opacity"])
    assert {fault["field"] for fault in second["wrong"]} == {"hex", "code"}
    by_number = client.post("/api/stick-list", {"text": "G48", "range": "gangway-36"}, format="json").json()
    assert by_number["sticks"][0]["name"] == only_tray(client)["sticks"][codes(only_tray(client)).index("G48")]["name"]
    for body in ({"text": ""}, {"text": "x", "range": "nowhere"}, {"text": "ochre\n" * 5000}):
        assert client.post("/api/stick-list", body, format="json").status_code == 422
    held = client.get("/api/ranges/ebb-24").json()
    assert len(held["sticks"]) == 24
    assert client.get("/api/ranges/nowhere").status_code == 422


def test_what_stands_in_is_found_in_every_range_and_box(client: APIClient, tray_id: str) -> None:
    client.post("/api/trays", {"name": "second", "range": "gangway-36"}, format="json")
    answer = client.get(f"/api/trays/{tray_id}/stand-ins?code=G48")
    rows = answer.json()
    assert [row["off"] for row in rows] == sorted(row["off"] for row in rows)
    assert {row["here"] for row in rows} == {True, False}
    assert {row["medium"] for row in rows} == {"pencil"}
    # What lies in a box and in the range it came from is told once, with both.
    assert {"Long Pier 72", "second"} <= {name for row in rows for name in row["places"]}
    assert len({(row["code"], row["swatch"]["hex"]) for row in rows}) == len(rows)
    assert "G48" not in {row["code"] for row in rows}
    assert rows[0]["words"]
    assert client.get(f"/api/trays/{tray_id}/stand-ins?code=nope").status_code == 404
    assert client.get(f"/api/trays/{tray_id}/stand-ins?code=G48&paper=nope").status_code == 404


def test_a_lesson_says_ones_own_for_each(client: APIClient, tray_id: str) -> None:
    body = {"text": "burnt sienna\nwibble\nblack", "medium": "pencil"}
    first, second, third = client.post(f"/api/trays/{tray_id}/lesson", body, format="json").json()
    own = {stick["code"]: stick for stick in client.get(f"/api/trays/{tray_id}").json()["sticks"]}
    assert own[first["own"][0]["code"]]["swatch"]["lab"][1] > 8  # something red-brown
    assert own[third["own"][0]["code"]]["swatch"]["value"] < 3
    assert (second["own"], second["asked"]["wrong"][0]["field"]) == ([], "hex")
    assert client.post(f"/api/trays/{tray_id}/lesson", {"text": ""}, format="json").status_code == 422


def test_where_sticks_are_used_is_told_by_piece(client: APIClient, artist: User, tray_id: str) -> None:
    piece = client.post("/api/pieces", {"title": "The mate"}, format="json").json()
    layers = [
        {"id": f"l{i}", "stick": stick, "levels": {"spot-1": None}, "technique": "lay", "locked": False}
        for i, stick in enumerate(("G48", "G48", "G01"))
    ]
    document = piece["document"] | {"spots": [spot(1)], "layers": layers, "tray": tray_id}
    assert save(client, piece, document).status_code == 200
    used = client.get(f"/api/trays/{tray_id}/uses").json()
    assert [(row["code"], row["title"], row["layers"]) for row in used] == [
        ("G01", "The mate", 1),
        ("G48", "The mate", 2),
    ]


@pytest.mark.parametrize(
    ("part", "way", "body"),
    [
        ("", "patch", {"name": "mine"}),
        ("sticks", "post", {"sticks": [NEW]}),
        ("sticks", "patch", {"codes": ["G48"], "change": {"count": 2}}),
        ("away", "post", {"codes": ["G48"]}),
        ("order", "put", {"codes": ["G48"]}),
        ("move", "post", {"codes": ["G48"], "name": "mine"}),
        ("undo", "post", {}),
        ("redo", "post", {}),
        ("file", "get", {}),
        ("uses", "get", {}),
        ("stand-ins", "get", {"code": "G48"}),
        ("lesson", "post", {"text": "ochre", "medium": "pencil"}),
    ],
)
def test_nobody_changes_the_boxes_of_others(
    part: str, way: str, body: Json, client: APIClient, other: APIClient, tray_id: str
) -> None:
    before = only_tray(client)
    address = f"/api/trays/{tray_id}/{part}".rstrip("/")
    assert getattr(other, way)(address, body, format="json").status_code == 404
    assert only_tray(client) == before
    mine = other.post("/api/trays", {"name": "mine", "range": "ebb-24"}, format="json").json()
    stolen = other.post(
        f"/api/trays/{mine['id']}/move", {"codes": [mine["sticks"][0]["code"]], "to": tray_id}, format="json"
    )
    assert stolen.status_code == 404


def test_a_stick_that_is_missing_is_mixed_from_the_others(client: APIClient, other: APIClient, tray_id: str) -> None:
    code = codes(only_tray(client))[6]
    address = f"/api/trays/{tray_id}/mixed?code={code}"
    answer = client.get(address)
    while answer.status_code == 202:
        answer = client.get(address)
    mix = answer.json()
    assert mix["layers"] and not any(code in layer.split()[0] for layer in mix["layers"])
    assert 0 < mix["off"] < 12 and mix["wanted"] != mix["swatch"]
    assert other.get(address).status_code == 404
    assert client.get(f"/api/trays/{tray_id}/mixed?code=none").status_code == 404


def test_colours_a_step_away_are_told_by_their_way(client: APIClient) -> None:
    rows = client.get("/api/shifts?hex=8a4b2f").json()
    assert [row["way"] for row in rows] == ["lighter", "darker", "stronger", "greyer", "warmer", "cooler"]
    assert len({row["swatch"]["hex"] for row in rows} | {"#8a4b2f"}) == 7
    assert client.get("/api/shifts?hex=brown").json()["errors"][0]["code"] == "bad_hex"


def test_what_a_sticks_own_data_warn_of_stands_beside_it(client: APIClient, tray_id: str) -> None:
    row = "code,name,medium,hex,opacity,pigments,lightfastness\n1,loud rose,pencil,#e0508a,semi,cadmium red,IV\n"
    made = client.post("/api/trays", {"name": "Old tin", "csv": row}, format="json").json()
    fades, metal = made["sticks"][0]["cautions"]
    assert "fades in the light" in fades and "cadmium" in metal
    assert not client.get(f"/api/trays/{tray_id}").json()["sticks"][0]["cautions"]
