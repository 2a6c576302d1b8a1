"""Swatches in a photograph over HTTP: found, laid out, read; sheets to print; what is wrong in clear words."""

from typing import Any

import pytest
from rest_framework.test import APIClient

from tests.conftest import ROOT, picture_bytes
from tests.core.look.test_traces import TOLD, telling
from tests.server.conftest import only_tray, upload

Json = dict[str, Any]
SWATCHES = (ROOT / "demo/photos/twelve-swatches.jpg").read_bytes()


def ask(client: APIClient, picture: str, body: Json, status: int = 200) -> Json:
    address = f"/api/pictures/{picture}/sheet"
    answer = client.post(address, body, format="json")
    while answer.status_code == 202:
        answer = client.post(address, body, format="json")
    assert answer.status_code == status, answer.content
    held: Json = answer.json()
    return held


@pytest.fixture
def photo(client: APIClient) -> str:
    return str(upload(client, SWATCHES, "swatches.jpg").json()["id"])


def test_a_photograph_is_read_with_nothing_said_and_then_by_a_grid(client: APIClient, photo: str) -> None:
    found = ask(client, photo, {})
    assert len(found["swatches"]) == 11 and found["first"] is None
    assert {row["swatch"]["hex"][0] for row in found["swatches"]} == {"#"}
    assert all(row["doubt"] >= 2.4 for row in found["swatches"])
    frame = {"left": 0.02, "top": 0.02, "right": 0.98, "bottom": 0.98}
    grid = {"rows": 3, "columns": 4, "frame": frame}
    laid = ask(client, photo, {"corners": found["corners"], "grid": grid})
    assert len(laid["swatches"]) == 12 and "empty" in laid["swatches"][0]["said"]
    assert [row["place"] for row in laid["swatches"][1:]] == [row["place"] for row in found["swatches"]]
    assert ask(client, photo, {"boxes": []})["swatches"] == []
    assert len(ask(client, photo, {"grid": grid | {"count": 7}})["swatches"]) == 7
    one = ask(client, photo, {"corners": found["corners"], "boxes": [found["swatches"][3]["place"]]})
    assert one["swatches"][0]["swatch"]["hex"] == found["swatches"][3]["swatch"]["hex"]
    corners = ",".join(str(part) for corner in found["corners"] for part in corner)
    flat = client.get(f"/api/pictures/{photo}/squared?corners={corners}")
    assert flat.status_code == 200 and flat["Content-Type"] == "image/jpeg"


@pytest.mark.parametrize(
    ("body", "code"),
    [
        ({"corners": [[0.5, 0.5]] * 4}, "bad_corners"),
        ({"boxes": [{"left": 0.1, "top": 0.1, "right": 0.2, "bottom": 0.2}] * 2}, "overlapping"),
        ({"boxes": [{"left": 0.1, "top": 0.1, "right": 1.2, "bottom": 0.2}]}, "bad_box"),
        ({"grid": {"rows": 60, "columns": 60, "frame": {"left": 0, "top": 0, "right": 1, "bottom": 1}}}, "bad_grid"),
        ({"chart": [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]]}, "no_chart"),
    ],
)
def test_what_cannot_be_read_is_said(client: APIClient, photo: str, body: Json, code: str) -> None:
    if code == "no_chart":
        body = body | {"boxes": [{"left": 0.01, "top": 0.01, "right": 0.06, "bottom": 0.06}]}
    error = ask(client, photo, body, 422)["errors"][0]
    assert error["code"] == code and error["hint"]


def test_a_photograph_of_something_else_is_no_sheet(client: APIClient) -> None:
    portrait = upload(client, (ROOT / "demo/references/tavi.jpg").read_bytes(), "tavi.jpg").json()["id"]
    frame = {"left": 0.3, "top": 0.1, "right": 0.9, "bottom": 0.9}
    answer = ask(client, portrait, {"grid": {"rows": 3, "columns": 4, "frame": frame}})
    assert "something else" in answer["said"]
    dark = upload(client, (ROOT / "demo/references/night-watch.jpg").read_bytes(), "night.jpg").json()["id"]
    assert ask(client, dark, {}, 422)["errors"][0]["code"] == "no_paper"
    plain = upload(client, picture_bytes((190, 190, 190)), "grey.png").json()["id"]
    assert ask(client, plain, {})["swatches"] == []
    for query in ("corners=1,2", "corners=a,b,c,d,e,f,g,h", "corners=9,9,9,9,9,9,9,9"):
        assert client.get(f"/api/pictures/{plain}/squared?{query}").json()["errors"][0]["code"] == "bad_corners"


def test_a_photograph_is_seen_by_its_owner_alone(other: APIClient, photo: str) -> None:
    assert other.post(f"/api/pictures/{photo}/sheet", {}, format="json").status_code == 404
    assert other.get(f"/api/pictures/{photo}/squared").status_code == 404


def test_uploads_lose_place_and_camera(client: APIClient, settings: Any) -> None:
    assert upload(client, telling("JPEG"), "phone.jpg").status_code == 201
    (file,) = (path for path in settings.PICTURES_DIR.glob("*/*") if path.is_file())
    assert not [word for word in TOLD if word in file.read_bytes()]


def test_sheets_are_printed_for_ones_own_sticks(client: APIClient, other: APIClient, tray_id: str) -> None:
    own = f"/api/trays/{tray_id}/swatch-sheet"
    for address in ("/api/swatch-sheet", "/api/swatch-sheet?paper=A5", f"{own}?paper=Letter"):
        answer = client.get(address)
        assert answer.status_code == 200 and answer.content.startswith(b"%PDF")
    assert "small-Letter.pdf" in answer["Content-Disposition"]
    assert other.get(own).status_code == 404
    assert client.get("/api/swatch-sheet?paper=A0").status_code == 422


def test_colours_of_sticks_that_are_there_are_set_anew(client: APIClient, tray_id: str) -> None:
    before = only_tray(client)["sticks"]
    new = [
        {"code": before[0]["code"], "name": "x", "medium": "pencil", "hex": "#123456", "source": "photographed"},
        {"code": "new", "name": "y", "medium": "pencil", "hex": "#654321", "source": "photographed thin"},
    ]
    address = f"/api/trays/{tray_id}/sticks"
    assert client.post(address, {"sticks": new}, format="json").json()["errors"][0]["code"] == "double_code"
    tray = client.post(address, {"sticks": new, "again": True}, format="json").json()
    first, last = tray["sticks"][0], tray["sticks"][-1]
    assert (first["name"], first["hex"], first["source"]) == (before[0]["name"], "#123456", "photographed")
    assert (last["code"], last["source"]) == ("new", "photographed thin")
    assert tray["undoes"].startswith("colours of")
    assert client.post(f"/api/trays/{tray_id}/undo").json()["sticks"] == before
