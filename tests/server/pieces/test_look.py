"""Looking at a reference over HTTP."""

import io
from collections import defaultdict
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image
from rest_framework.test import APIClient

from core.look.ways import WAYS
from tests.conftest import picture_bytes
from tests.crew import FOLDER
from tests.server.conftest import Json, save, spot, upload
from tools.site import seen

MARK = {"id": "m1", "kind": "caliper", "x1": 0.25, "y1": 0.5, "x2": 0.75, "y2": 0.5}


@pytest.fixture
def portrait(client: APIClient, tray_id: str) -> Json:
    """A piece with a head in it and one spot on its cheek."""
    picture = upload(client, (FOLDER / "tavi-morning.jpg").read_bytes(), "a.jpg").json()
    made = client.post("/api/pieces", {"title": "Mate"}, format="json").json()
    cheek = spot(1, x=0.45, y=0.45, radius=0.015)
    return save(client, made, made["document"] | {"picture": picture["id"], "tray": tray_id, "spots": [cheek]}).json()


def change(client: APIClient, piece: Json, **part: Any) -> Any:
    return save(client, piece, piece["document"] | part)


def get(client: APIClient, piece: Json, what: str) -> Any:
    return client.get(f"/api/pieces/{piece['id']}/{what}")


def test_the_study_says_who_is_there_and_in_which_light(client: APIClient, portrait: Json) -> None:
    said = get(client, portrait, "study").json()
    (figure,) = said["figures"]
    assert figure["found"]
    assert figure["certain"]
    assert figure["darkest"] < figure["border"] < figure["lightest"]
    assert figure["complexion"]["depth"]
    assert said["trouble"] == ""
    assert said["spots"][0]["family"] in ("light", "shadow")
    spot = said["spots"][0]
    assert spot["note"].startswith("With the forehead")
    assert spot["note_source"] == "measured"
    assert "people" in spot["measured"]
    assert figure["complexion"]["beyond"] == ""
    assert 0 <= said["light_from_deg"] < 360


def test_a_proposal_is_not_stored_until_it_is_taken(client: APIClient, portrait: Json) -> None:
    address = f"/api/pieces/{portrait['id']}"
    said = client.post(f"{address}/suggest").json()
    assert 10 <= len(said["spots"]) <= 14
    assert said["figures"][0]["face"]
    assert client.get(address).json() == portrait
    taken = [
        {key: row[key] for key in ("figure", "name", "place", "role", "x", "y", "radius", "outline")}
        | {"id": f"s{i}", "recipe": None}
        for i, row in enumerate(said["spots"])
    ]
    figures = [portrait["document"]["figures"][0] | {"face": said["figures"][0]["face"]}]
    kept = change(client, portrait, spots=taken, figures=figures).json()
    for mine, proposed in zip(seen(kept), said["spots"], strict=True):
        assert mine["reading"]["swatch"] == proposed["swatch"]


def test_more_faces_than_figures_become_new_figures(client: APIClient) -> None:
    heads = [Image.open(FOLDER / f"{name}.jpg") for name in ("mairen-morning", "odelo-morning")]
    both = np.concatenate([np.asarray(h) for h in heads], axis=1)
    picture = upload(client, picture_bytes(both, form="JPEG", quality=95), "a.jpg").json()
    made = client.post("/api/pieces", {"title": "Two"}, format="json").json()
    piece = change(client, made, picture=picture["id"]).json()
    said = client.post(f"/api/pieces/{piece['id']}/suggest").json()
    assert [figure["is_new"] for figure in said["figures"]] == [False, True]
    for figure in said["figures"]:
        assert sum(row["figure"] == figure["id"] for row in said["spots"]) >= 10


def test_a_picture_without_skin_says_so_and_offers_the_way_by_hand(client: APIClient, piece: Json) -> None:
    sea = upload(client, picture_bytes((30, 90, 150), size=(120, 90))).json()
    at_sea = change(client, piece, picture=sea["id"]).json()
    said = get(client, at_sea, "study").json()
    assert "by hand" in said["trouble"]
    assert not said["figures"][0]["found"]
    proposal = client.post(f"/api/pieces/{piece['id']}/suggest").json()
    assert proposal["spots"] == []
    assert "by hand" in proposal["trouble"]
    stroke = {"add": True, "radius": 0.1, "points": [[0.4, 0.5], [0.6, 0.5]]}
    figure = at_sea["document"]["figures"][0] | {"strokes": [stroke]}
    painted = change(client, at_sea, figures=[figure]).json()
    assert painted["keys"]["look"] != at_sea["keys"]["look"]
    assert get(client, painted, "study").json()["figures"][0]["found"]
    gone = change(client, painted, figures=[figure | {"strokes": [stroke, stroke | {"add": False, "radius": 0.2}]}])
    assert not get(client, gone.json(), "study").json()["figures"][0]["found"]


def test_black_and_white_says_that_there_is_no_temperature(client: APIClient, piece: Json) -> None:
    ramp = np.repeat(np.linspace(20, 230, 90).astype(np.uint8)[None, :, None], 60, axis=0).repeat(3, axis=2)
    grey = change(client, piece, picture=upload(client, picture_bytes(ramp)).json()["id"]).json()
    said = get(client, grey, "study").json()
    assert said["colourless"]
    assert "no temperature" in said["trouble"]
    assert get(client, grey, "view?kind=values&amount=4").status_code == 200
    assert get(client, grey, "view?kind=temperature").status_code == 200


@pytest.mark.parametrize("way", WAYS)
def test_every_way_of_seeing_is_a_picture_of_the_reference(way: str, client: APIClient, portrait: Json) -> None:
    answer = get(client, portrait, f"view?kind={way}&amount=2&key=x")
    assert answer.headers["Content-Type"] == "image/jpeg"
    assert "private" in answer.headers["Cache-Control"]
    assert Image.open(io.BytesIO(answer.content)).size == (320, 400)
    assert get(client, portrait, f"view?kind={way}&amount=2&key=x").content == answer.content


@pytest.mark.parametrize(
    "query",
    ["kind=negative", "kind=values&amount=1", "kind=values&amount=99", "kind=squint&amount=0", "kind=pushed&amount=two",
     "kind=values&borders=yes", "kind=squint&amount=-1"],
)  # fmt: skip
def test_a_view_that_does_not_exist_is_refused(query: str, client: APIClient, portrait: Json) -> None:
    answer = get(client, portrait, f"view?{query}")
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["hint"]


def test_a_piece_without_a_picture_has_nothing_to_look_at(client: APIClient) -> None:
    made = client.post("/api/pieces", {"title": "Empty"}, format="json").json()
    for what in ("study", "view", "transfer/sheet"):
        assert get(client, made, what).json()["errors"][0]["code"] == "no_picture_yet"
    assert client.post(f"/api/pieces/{made['id']}/suggest").status_code == 422


def test_balance_changes_what_is_seen_and_the_complexion_but_no_reading(client: APIClient, portrait: Json) -> None:
    before = get(client, portrait, "study").json()
    grey_of_the_sky = {"x": 0.08, "y": 0.5, "radius": 0.02}
    balanced = change(client, portrait, balance=grey_of_the_sky).json()
    assert balanced["document"]["spots"] == portrait["document"]["spots"]
    after = get(client, balanced, "study").json()
    assert after["figures"][0]["complexion"] != before["figures"][0]["complexion"]
    assert after["figures"][0]["average"]["lab"] == pytest.approx(before["figures"][0]["average"]["lab"], abs=0.5)
    assert after["spots"][0]["balanced"] is not None
    plain, seen = (get(client, balanced, f"view?kind=as_it_is&balanced={on}").content for on in (0, 1))
    assert plain != seen


@pytest.mark.parametrize(
    ("part", "code", "field"),
    [
        ({"balance": {"x": 0.3, "y": 0.25, "radius": 0.01}}, "too_dark_to_balance", "document.balance"),
        ({"format": {"width_mm": 1, "height_mm": 9, "margin_mm": 0, "fit": "whole", "shift_x": 0, "shift_y": 0}},
         "bad_format", "format"),
        ({"spots": [spot(1, outline=[[0.1, 0.1], [0.9, 0.9], [0.9, 0.1], [0.1, 0.9]])]}, "bad_outline",
         "document.spots[0].outline"),
    ],
    ids=["balance in the dark", "a stamp for a sheet", "an outline that crosses itself"],
)  # fmt: skip
def test_what_cannot_be_is_refused_and_the_piece_is_as_it_was(
    part: Json, code: str, field: str, client: APIClient, portrait: Json
) -> None:
    answer = change(client, portrait, **part)
    assert answer.status_code == 422
    (error,) = answer.json()["errors"]
    assert (error["code"], error["field"]) == (code, field)
    assert client.get(f"/api/pieces/{portrait['id']}").json() == portrait


@pytest.mark.parametrize(
    "part",
    [
        {"marks": [MARK | {"x1": 1.5}]},
        {"marks": [MARK | {"kind": "ruler"}]},
        {"light": {"from_deg": 400}},
        {"grid": {"columns": 0, "rows": 4, "diagonals": False}},
        {"cross": {"x": -1, "y": 0}},
        {"figures": [{"id": "figure-1", "name": "A", "face": None,
                      "strokes": [{"add": True, "radius": 0.01, "points": [[0.5, 0.5]] * 301}]}]},
        {"figures": [{"id": "figure-1", "name": "A", "face": None,
                      "strokes": [{"add": True, "radius": 0.01, "points": [[0.5, 0.5]]}] * 81}]},
    ],
)  # fmt: skip
def test_malformed_measures_strokes_and_light_are_refused(part: Json, client: APIClient, portrait: Json) -> None:
    answer = change(client, portrait, **part)
    assert answer.status_code == 400
    assert answer.json()["errors"][0]["field"].startswith("document")


@pytest.mark.parametrize("part", [{"marks": [MARK, MARK]}, {"marks": [MARK], "unit": "another"}])
def test_measures_that_are_two_or_none_are_refused(part: Json, client: APIClient, portrait: Json) -> None:
    answer = change(client, portrait, **part)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] in ("document.marks", "document.unit")


def test_marks_are_measured_on_the_reference_and_on_the_sheet(client: APIClient, portrait: Json) -> None:
    kept = change(client, portrait, marks=[MARK], unit="m1", light={"from_deg": 46}, cross={"x": 0.5, "y": 0.4}).json()
    (measured,) = kept["found"]["measured"]
    assert measured["pixels"] == pytest.approx(160)
    assert measured["mm"] == pytest.approx(160 * kept["found"]["placement"]["mm_per_pixel"], abs=0.1)
    assert measured["ratio"] == 1
    live = {"mark": MARK | {"id": "m2", "x2": 0.5}}
    said = client.post(f"/api/pieces/{kept['id']}/measure", live, format="json").json()
    assert said["ratio"] == 0.5
    assert client.get(f"/api/pieces/{kept['id']}").json() == kept


def test_an_outlined_spot_is_read_inside_its_outline(client: APIClient, portrait: Json) -> None:
    corners = [[0.40, 0.40], [0.50, 0.40], [0.50, 0.46], [0.40, 0.46]]
    (kept,) = seen(change(client, portrait, spots=[spot(1, outline=corners)]).json())
    assert (kept["x"], kept["y"]) == pytest.approx((0.45, 0.43))
    assert kept["reading"]["pixels"] == pytest.approx(32 * 24, rel=0.1)


def test_spots_beyond_reach_say_why(client: APIClient, piece: Json) -> None:
    dark = upload(client, picture_bytes((8, 7, 7))).json()
    shown = change(client, piece, picture=dark["id"]).json()
    assert "darker" in seen(shown)[0]["beyond"]


def carried(client: APIClient, piece: Json, query: str = "") -> dict[str, list[np.ndarray]]:
    """The lines of the transfer page by their colour, in millimetres."""
    root = ElementTree.fromstring(get(client, piece, f"transfer/sheet?kind=svg{query}").content)
    found = defaultdict(list)
    for line in root.iter("{http://www.w3.org/2000/svg}polyline"):
        points = [[float(v) for v in at.split(",")] for at in str(line.get("points")).split()]
        found[str(line.get("stroke"))].append(np.array(points))
    return found


def test_the_transfer_page_lies_on_the_sheet(client: APIClient, portrait: Json) -> None:
    place = portrait["found"]["placement"]
    drawn = carried(client, portrait, "&steps=4")
    assert {"#777777", "#888888", "#b4b4b4"} <= set(drawn)  # skin, shadow, values
    middle = place["left_mm"] + 0.45 * place["width_mm"]
    assert any(np.allclose(line[:, 0], middle, atol=0.01) for line in drawn["#777777"])
    for query in ("steps=1", "steps=x", "steps=10"):
        assert get(client, portrait, f"transfer/sheet?{query}").status_code == 422


def test_a_spot_outside_the_crop_is_not_on_the_transfer_page(client: APIClient, portrait: Json) -> None:
    wide = portrait["document"]["format"] | {"width_mm": 80.0, "height_mm": 280.0, "fit": "fill"}
    at_the_edge = spot(1, x=0.02, radius=0.01)
    kept = change(client, portrait, format=wide, spots=[at_the_edge]).json()
    outside = len(carried(client, kept)["#777777"])
    inside = change(client, kept, spots=[at_the_edge | {"x": 0.5}]).json()
    assert len(carried(client, inside)["#777777"]) == outside + 2  # the cross of a spot
