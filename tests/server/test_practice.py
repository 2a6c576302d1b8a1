"""Practice over HTTP: rounds of what an artist has, answers kept and taken back, a ramp by hand, nobody else's."""

from __future__ import annotations

import json
import zipfile
from io import BytesIO
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from django.contrib.auth.models import User
from PIL import Image, ImageDraw, ImageFilter
from rest_framework.test import APIClient

from server.materials import services as materials
from server.personal.management.commands.loaddemo import load_practice
from server.practice import services
from server.practice.models import Practised
from tests import night_watch
from tests.server.conftest import upload

Json = dict[str, Any]


@pytest.fixture
def planned(artist: User) -> str:
    """The id of a planned piece, with no more sticks than its plan needs."""
    return str(night_watch.planned(artist).pk)


def begin(client: APIClient, status: int = 201, **asked: object) -> Json:
    answer = client.post("/api/practice/rounds", asked, format="json")
    assert answer.status_code == status, answer.content[:300]
    held: Json = answer.json()
    return held


def guess(client: APIClient, round_: Json, number: int, value: float, status: int = 200) -> Json:
    address = f"/api/practice/rounds/{round_['id']}/answers/{number}"
    answer = client.put(address, {"guess": value}, format="json")
    assert answer.status_code == status, answer.content[:300]
    held: Json = answer.json()
    return held


def test_a_round_is_asked_answered_and_shown_in_curves(client: APIClient, other: APIClient) -> None:
    empty = client.get("/api/practice").json()
    assert (empty["count"], empty["open"], empty["curves"], empty["layers"]) == (0, None, [], False)
    assert empty["sources"] == ["study head", "patches"]
    made = begin(client, kinds=["value"], sources=["patches"])
    assert len(made["questions"]) == 8 and all(row["answer"] is None for row in made["questions"])
    assert client.get("/api/practice").json()["open"] == made["id"]
    first = guess(client, made, 0, 5.0)
    assert first["answer"]["error"] == pytest.approx(5.0 - first["answer"]["truth"], abs=0.02)
    # What was said stays said; a slip is asked again.
    assert guess(client, made, 0, 9.0)["answer"]["guess"] == 5.0
    address = f"/api/practice/rounds/{made['id']}/answers/0"
    assert client.delete(address).json()["answer"] is None
    for number in range(8):
        guess(client, made, number, 5.0)
    shown = client.get("/api/practice").json()
    assert (shown["count"], shown["open"]) == (8, None)
    assert sum(week["count"] for curve in shown["curves"] for week in curve["weeks"]) == 8
    assert client.get(f"/api/practice/rounds/{made['id']}").json()["questions"][0]["answer"]["guess"] == 5.0

    assert other.get(f"/api/practice/rounds/{made['id']}").status_code == 404
    assert other.put(address, {"guess": 5}, format="json").status_code == 404
    assert other.get("/api/practice").json()["count"] == 0
    assert other.delete("/api/practice").status_code == 204 and Practised.objects.count() == 8
    assert client.delete("/api/practice").status_code == 204 and Practised.objects.count() == 0


def test_references_and_plans_are_practised_on_where_they_are(
    client: APIClient, other: APIClient, planned: str
) -> None:
    standing = client.get("/api/practice").json()
    assert "references" in standing["sources"] and standing["sticks"] and standing["layers"]
    made = begin(client, sources=["references"])
    assert all(row["pictured"] for row in made["questions"])
    picture = f"/api/practice/rounds/{made['id']}/pictures/0"
    shown = client.get(picture)
    assert shown["Content-Type"] == "image/jpeg" and Image.open(BytesIO(shown.content)).size == (360, 360)
    assert other.get(picture).status_code == 404
    layers = begin(client, kinds=["layer"], sources=["references"])
    row = layers["questions"][0]
    assert len(row["choices"]) == 4 and len(row["hexes"]) == 2 and all(one["how"] for one in row["choices"])
    assert guess(client, layers, 0, 4.0, 422)["errors"][0]["code"] == "no_such_choice"
    said = guess(client, layers, 0, 1.0)["answer"]
    assert len(said["offs"]) == 4 and said["offs"][int(said["truth"])] == min(said["offs"])
    # Its picture goes with its piece.
    made = begin(client, kinds=["value"], sources=["references"])
    assert client.delete(f"/api/pieces/{planned}").status_code == 204
    gone = client.get(f"/api/practice/rounds/{made['id']}/pictures/0")
    assert gone.status_code == 404 and gone.json()["errors"][0]["code"] == "no_picture"


def test_the_study_head_is_seen_and_marked(client: APIClient) -> None:
    made = begin(client, kinds=["value"], sources=["study head"])
    shown = client.get(f"/api/practice/rounds/{made['id']}/pictures/0")
    pixels = np.asarray(Image.open(BytesIO(shown.content)).convert("L"))
    assert pixels.max() > 250 and pixels.min() < 20  # its mark
    bare = begin(client, kinds=["value"], sources=["patches"])
    assert client.get(f"/api/practice/rounds/{bare['id']}/pictures/0").status_code == 404


def test_what_cannot_be_asked_is_said(client: APIClient) -> None:
    assert begin(client, 422, sources=["references"])["errors"][0]["code"] == "nothing_to_ask"
    assert begin(client, 400, kinds=["taste"])["errors"]
    made = begin(client, sources=["patches"])
    assert guess(client, made, 30, 5.0, 404)["errors"][0]["code"] == "no_question"
    assert client.get(f"/api/practice/rounds/{uuid4()}").json()["errors"][0]["code"] == "no_round"
    again = begin(client, sources=["patches"])
    # What was begun and not answered is not kept.
    assert client.get(f"/api/practice/rounds/{made['id']}").status_code == 404
    assert Practised.objects.count() == len(again["questions"])


def five(values: tuple[int, ...]) -> bytes:
    """White paper on a grey table, with grey fields on it."""
    sheet = Image.new("RGB", (1200, 900), (96, 92, 88))
    draw = ImageDraw.Draw(sheet)
    draw.rectangle((120, 90, 1080, 810), fill=(240, 239, 236))
    for i, value in enumerate(values):
        left = 200 + i * 165
        draw.rectangle((left, 380, left + 110, 490), fill=(value, value, value))
    noise = np.random.default_rng(0).normal(0, 1.5, (900, 1200, 3))
    held = np.clip(np.asarray(sheet.filter(ImageFilter.GaussianBlur(1))) + noise, 0, 255).astype(np.uint8)
    out = BytesIO()
    Image.fromarray(held).save(out, "JPEG", quality=95)
    return out.getvalue()


def test_five_steps_by_hand_are_measured_and_kept(client: APIClient, artist: User) -> None:
    picture = upload(client, five((210, 175, 140, 105, 70)), "ramp.jpg").json()["id"]
    answer = client.post("/api/practice/ramps", {"picture": picture}, format="json")
    assert answer.status_code == 201, answer.content
    read = answer.json()
    assert len(read["hexes"]) == 5 and list(read["values"]) == sorted(read["values"], reverse=True)
    assert read["errors"][-1] == pytest.approx(0, abs=0.01)
    assert Practised.objects.filter(kind="ramp").count() == 5
    assert {curve["kind"] for curve in client.get("/api/practice").json()["curves"]} == {"ramp"}
    tray = materials.start_tray(artist, "small", "small-tray-24")
    dark = min(tray.sticks.all(), key=lambda stick: stick.hex)
    body = {"picture": picture, "tray": str(tray.pk), "stick": dark.code}
    with_stick = client.post("/api/practice/ramps", body, format="json").json()
    assert with_stick["errors"][-1] > 0.5
    three = upload(client, five((210, 140, 70)), "three.jpg").json()["id"]
    refused = client.post("/api/practice/ramps", {"picture": three}, format="json")
    assert refused.status_code == 422 and refused.json()["errors"][0]["code"] == "not_five"
    wrong = client.post("/api/practice/ramps", body | {"stick": "nothing"}, format="json")
    assert wrong.json()["errors"][0]["code"] == "no_stick"


def test_a_history_is_loaded_taken_away_and_has_a_limit(
    client: APIClient, artist: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    load_practice(artist)
    shown = client.get("/api/practice").json()
    assert shown["count"] == 192 and shown["prejudices"][0]["said"].startswith("Your eye whites are")
    assert all(len(curve["weeks"]) >= 3 for curve in shown["curves"] if curve["kind"] == "value")
    archive = zipfile.ZipFile(BytesIO(b"".join(client.get("/api/practice/file").streaming_content)))
    kept = json.loads(archive.read("practice.json"))["answers"]
    assert len(kept) == 192 and kept[0]["question"]["samples"] and kept[-1]["round"] == 24
    monkeypatch.setattr(services, "MAX_ANSWERS", 100)
    begin(client, sources=["patches"])
    assert Practised.objects.count() == 100
