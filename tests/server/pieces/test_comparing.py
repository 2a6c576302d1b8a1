"""Drawings compared over HTTP: photographs that the demo carries, drawn by a nature of other physics."""

from __future__ import annotations

import json
import zipfile
from io import BytesIO
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
import pypdfium2
import pytest
from django.contrib.auth.models import User
from PIL import Image
from rest_framework.test import APIClient

from core.optics.medium import Pass
from core.plan.setup import Setup
from core.trial.joint import MeasuredBox
from server.materials import services as materials
from server.pictures.models import Picture
from server.pieces.comparing.shown import lab_of
from server.pieces.models import Comparison
from server.trials import taught
from server.trials.models import TaughtPlaces
from tests import night_watch
from tests.conftest import ROOT, picture_bytes
from tests.server.conftest import upload

Json = dict[str, Any]
PHOTOS = ROOT / "demo/drawings"


@pytest.fixture
def drawn(artist: User) -> str:
    """The id of a piece that is planned, with no more sticks than its plan needs."""
    return str(night_watch.planned(artist).pk)


def put(client: APIClient, name: str) -> str:
    return str(upload(client, (PHOTOS / name).read_bytes(), "drawing.jpg").json()["id"])


def add(client: APIClient, piece: str, picture: str, status: int = 201, **body: object) -> Json:
    answer = client.post(f"/api/pieces/{piece}/comparisons", {"picture": picture} | body, format="json")
    assert answer.status_code == status, answer.content[:500]
    held: Json = answer.json()
    return held


def change(client: APIClient, row: Json, status: int = 200, **body: object) -> Json:
    answer = client.patch(f"/api/comparisons/{row['id']}", body, format="json")
    assert answer.status_code == status, answer.content[:500]
    held: Json = answer.json()
    return held


def test_a_drawing_is_judged_corrected_and_teaches_until_it_is_taken_back(
    client: APIClient, other: APIClient, drawn: str
) -> None:
    piece = f"/api/pieces/{drawn}"
    assert client.get(f"{piece}/comparisons").json() == {"rows": [], "all_laid": True}
    made = add(client, drawn, put(client, "night-watch-2.jpg"))
    read = {row["spot"]: row for row in made["spots"]}
    assert len(read) == len(client.get(piece).json()["document"]["spots"]) and made["bare"]
    assert sum(row["seen"] is not None for row in read.values()) >= len(read) - 3
    assert made["found"][0]["stage"] == "values" and all(row["text"].endswith(".") for row in made["found"])
    (row,) = client.get(f"{piece}/comparisons").json()["rows"]
    assert (row["number"], row["mean"], row["taken"]) == (1, made["mean"], 0)

    address = f"/api/comparisons/{made['id']}"
    advice = client.get(f"{address}/advice").json()
    assert 1 <= len(advice["corrections"]) <= 5 and advice["headline"].endswith("then stop")
    first = advice["corrections"][0]
    assert first["levels"].keys() <= read.keys() and first["after"] < first["before"]
    for kind in ("map", "then"):
        shown = client.get(f"{address}/corrections/0?kind={kind}")
        assert shown["Content-Type"] == "image/jpeg" and Image.open(BytesIO(shown.content)).width > 90
    for side in ("drawing", "reference"):
        for way in ("as_it_is", "values", "squint", "surround"):
            shown = client.get(f"{address}/picture?side={side}&way={way}")
            assert max(Image.open(BytesIO(shown.content)).size) == 480
    assert client.get(f"{address}/corrections/9").json()["errors"][0]["code"] == "no_correction"

    steps = client.get(f"{piece}/sheet").json()["steps"]
    taken = change(client, made, taken=[0, 1])
    assert [one["stick"] for one in taken["taken"]] == [one["stick"] for one in advice["corrections"][:2]]
    more = client.get(f"{piece}/sheet").json()["steps"]
    assert [step["round"] for step in more] == [1] * len(steps) + [2, 2]
    assert (more[-1]["comparison"], more[-1]["correction"], more[-1]["number"]) == (made["id"], 1, len(steps) + 2)
    # What was ticked of it lies beneath what comes after it.
    ticks = [tick for part in more[-1]["parts"] for tick in part["ticks"]]
    done = {tick: {"state": "done"} for tick in (*ticks, *(step["layer"] for step in steps))}
    assert client.post(f"{piece}/work", {"passes": done}, format="json").status_code == 204
    later = add(client, drawn, put(client, "night-watch-3.jpg"))
    assert later["number"] == 2 and not later["bare"] and later["mean"] < made["mean"]
    assert not client.get(f"{piece}/comparisons").json()["all_laid"]
    assert change(client, made, taken=[])["taken"] == []
    assert len(client.get(f"{piece}/sheet").json()["steps"]) == len(steps)

    answer = client.post(f"/api/comparisons/{later['id']}/taught", {"learn": True}, format="json").json()
    assert answer["taught"] and answer["places"] == later["teaches"] > 20
    assert answer["errors"]["after"] < answer["errors"]["before"]
    assert client.get(f"/api/comparisons/{later['id']}").json()["taught"] and TaughtPlaces.objects.count() == 1
    assert client.get(f"{piece}/cards").json()["learnt"]["boxes"] == answer["places"]
    client.post(f"/api/comparisons/{later['id']}/taught", {"learn": False}, format="json")
    assert client.get(f"{piece}/cards").json()["learnt"] is None

    for ask in (other.get, other.delete):
        assert ask(address).status_code == 404
    assert other.get(f"{piece}/comparisons").status_code == 404
    assert client.delete(address).status_code == 204 and client.get(address).status_code == 404


def test_places_and_frame_are_set_by_hand_and_a_note_is_kept(client: APIClient, drawn: str) -> None:
    made = add(client, drawn, put(client, "night-watch-3.jpg"))
    spot = made["spots"][0]
    moved = change(client, made, moved={spot["spot"]: [0.02, 0.02]}, note=" second evening ")
    here = next(row for row in moved["spots"] if row["spot"] == spot["spot"])
    assert (here["x"], here["y"], moved["note"]) == (0.02, 0.02, "second evening")
    assert here["seen"]["lab"] != spot["seen"]["lab"]
    frame = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.5], [0.1, 0.5]]
    framed = change(client, made, frame=frame)
    assert np.allclose(framed["frame"], frame, atol=1e-4) and any("another drawing" in one for one in framed["said"])
    assert change(client, made, 422, frame=[[0.1, 0.1]] * 4)["errors"][0]["code"] == "bad_corners"
    assert client.get(f"/api/comparisons/{made['id']}").json()["frame"] == framed["frame"]
    found = change(client, made, corners=made["corners"])
    assert np.allclose(found["frame"], made["frame"], atol=0.01)


def test_swatches_of_known_sticks_tell_of_the_camera_and_unknown_ones_do_not(
    client: APIClient, artist: User, drawn: str
) -> None:
    made = add(client, drawn, put(client, "night-watch-3.jpg"))
    tray = materials.get_tray(artist, str(client.get(f"/api/pieces/{drawn}").json()["document"]["tray"]))
    sticks = {stick.code: stick for stick in materials.as_core(tray).usable("pencil")}
    codes = list(sticks)[:4]
    (left, top), _, (right, bottom), _ = made["frame"]
    drawn_at = [(row["x"], row["y"]) for row in made["spots"] if not row["trouble"]]
    marked = [
        {"x": left + x * (right - left), "y": top + y * (bottom - top), "stick": code}
        for (x, y), code in zip(drawn_at, codes, strict=False)
    ]

    def refused(beside: list[Json]) -> str:
        return str(change(client, made, 422, beside=beside)["errors"][0]["code"])

    assert refused(marked) == "not_measured" and refused(marked[:3]) == "too_few_swatches"
    assert refused([marked[0] | {"stick": "nothing"}, *marked[1:]]) == "no_such_stick"
    paper = materials.paper_for(artist, Setup().paper, "pencil")
    boxes = [
        MeasuredBox((Pass(code, pressure),), lab_of(sticks[code].lab), 1.0)
        for code in codes
        for pressure in ("heavy", "heavy", "medium")
    ]
    taught.learn_places(tray, "pencil", paper, uuid4(), boxes)
    told = change(client, made, beside=marked)
    assert told["beside"] == marked and told["usual"] < made["usual"]
    assert told["spots"][5]["seen"]["lab"] != made["spots"][5]["seen"]["lab"]
    assert change(client, made, 422, beside=[marked[0] | {"x": 0.01, "y": 0.99}, *marked[1:]])["errors"][0]["code"] == (
        "swatch_empty"
    )
    again = change(client, made, chart=[])
    assert (again["beside"], again["chart"], again["usual"]) == ([], None, made["usual"])
    assert change(client, made, 422, chart=[[0.1, 0.1]])["errors"][0]["code"] == "chart_outside"


def test_a_comparison_is_taken_away_with_its_pictures(client: APIClient, other: APIClient, drawn: str) -> None:
    made = add(client, drawn, put(client, "night-watch-3.jpg"))
    address = f"/api/comparisons/{made['id']}/file"
    answer = client.get(address)
    assert answer["Content-Type"] == "application/zip" and other.get(address).status_code == 404
    assert client.get(address).content == answer.content
    with zipfile.ZipFile(BytesIO(answer.content)) as archive:
        held = json.loads(archive.read("comparison.json"))
        corrections = held["advice"]["corrections"]
        pictures = [f"corrections/{n + 1}.jpg" for n in range(len(corrections))]
        assert archive.namelist() == ["comparison.json", "drawing.jpg", "reference.jpg", *pictures, "photograph.jpeg"]
        assert archive.read("photograph.jpeg") == (PHOTOS / "night-watch-3.jpg").read_bytes()
        assert max(Image.open(BytesIO(archive.read("drawing.jpg"))).size) == 960
    assert held["comparison"] == made and held["piece"]["title"] == "Night watch"
    assert held["names"].keys() >= {row["spot"] for row in made["spots"]}
    sheet = client.get(f"/api/comparisons/{made['id']}/sheet")
    assert (
        sheet["Content-Type"] == "application/pdf"
        and other.get(f"/api/comparisons/{made['id']}/sheet").status_code == 404
    )
    printed = "".join(page.get_textpage().get_text_bounded() for page in pypdfium2.PdfDocument(sheet.content))
    assert all(row["name"] in printed for row in corrections) and "100 mm" in printed


def test_what_cannot_be_compared_is_refused_in_clear_words(
    client: APIClient, drawn: str, piece: Json, tmp_path: Path
) -> None:
    flat = str(upload(client, picture_bytes((190, 140, 110))).json()["id"])
    refused = add(client, drawn, flat, 422)["errors"][0]
    assert refused["code"] in ("corners_needed", "wrong_drawing") and "Nothing was kept" in refused["hint"]
    empty = client.post("/api/pieces", {"title": "Empty"}, format="json").json()["id"]
    assert add(client, empty, flat, 422)["errors"][0]["code"] == "no_picture_yet"
    assert add(client, drawn, "0b5d3c1e-7a42-4c58-9f0e-000000000000", 404)["errors"][0]["code"] == "no_picture"
    assert Comparison.objects.count() == 0
    photo = Picture.objects.get(pk=flat)
    row = Comparison(piece_id=drawn, picture=photo, corners=[], frame=[], usual=2.4, mean=1.0)
    Comparison.objects.bulk_create(
        Comparison(piece=row.piece, picture=photo, number=n, corners=[], frame=[], usual=2.4, mean=1.0)
        for n in range(1, 25)
    )
    assert add(client, drawn, put(client, "night-watch-3.jpg"), 422)["errors"][0]["code"] == "too_many_comparisons"


def test_the_sheet_says_where_it_is_better_compared_first(client: APIClient, drawn: str) -> None:
    held = client.get(f"/api/pieces/{drawn}").json()
    once = {"pressure": "heavy", "repeats": 1}
    end = {"id": "end", "stick": "L13", "technique": "burnish", "levels": {"spot-1": once, "spot-2": once}}
    document = held["document"] | {"layers": [*held["document"]["layers"], end]}
    body = {"version": held["version"], "title": held["title"], "document": document}
    assert client.put(f"/api/pieces/{drawn}", body, format="json").status_code == 200
    steps = client.get(f"/api/pieces/{drawn}/sheet").json()["steps"]
    assert [step["settles"] for step in steps] == [False] * (len(steps) - 1) + [True]


def test_sticks_that_are_gone_banned_or_laid_spot_by_spot_do_not_break_it_off(
    client: APIClient, artist: User, drawn: str
) -> None:
    made = add(client, drawn, put(client, "night-watch-3.jpg"))
    held = client.get(f"/api/pieces/{drawn}").json()
    document = held["document"]
    recipe = [
        {"stick": "L13", "pressure": "light", "repeats": 2},
        {"stick": "putty", "pressure": "light", "repeats": 1, "technique": "lift"},
        {"stick": "L47", "pressure": "medium", "repeats": 1, "technique": "lay"},
    ]
    document["spots"][0]["recipe"] = {"passes": recipe}
    document["setup"]["banned"] = ["L52"]
    body = {"version": held["version"], "title": held["title"], "document": document}
    assert client.put(f"/api/pieces/{drawn}", body, format="json").status_code == 200
    tray = materials.get_tray(artist, document["tray"])
    tray.sticks.filter(code="L40").delete()
    tray.save()
    advice = client.get(f"/api/comparisons/{made['id']}/advice")
    assert advice.status_code == 200, advice.content[:300]
    assert {row["stick"] for row in advice.json()["corrections"]}.isdisjoint({"L40", "L52"})
    assert client.get(f"/api/comparisons/{made['id']}").json()["teaches"] == made["teaches"] - 1
