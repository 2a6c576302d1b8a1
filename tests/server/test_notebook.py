"""The notebook over HTTP: what was planned, laid, noted and compared is found again, by its artist alone."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from urllib.parse import urlencode

import pytest
from django.contrib.auth.models import User
from django.utils import timezone
from rest_framework.test import APIClient

from core.tray.editing import StickChange
from server.materials import boxes
from server.materials import services as materials
from server.personal.management.commands.loaddemo import load_card, load_drawings
from server.pieces.models import Tick
from server.trials.models import Calibration
from tests import night_watch

Json = dict[str, Any]


NOTED = night_watch.LAYERS[0]["stick"]
"""A stick of the plan, with a note."""


@pytest.fixture
def full(artist: User) -> str:
    """The id of a piece that is planned, with a note, ticks, a card and photographs of its drawing."""
    tray = night_watch.box(artist, "Pier box")
    piece, layers = night_watch.planned(artist, tray), night_watch.LAYERS
    load_drawings(artist, piece, "night-watch")
    load_card(artist, "Morning relief", "morning-relief", tray.pk)
    boxes.change(artist, tray.pk, ["L52"], StickChange(note="streaky, never again"))
    now = timezone.now()
    for number, minutes in enumerate((0, 30, 50, 300)):
        at = now + timedelta(minutes=minutes)
        Tick.objects.create(piece=piece, pass_id=f"tick-{number}", state="done", at=at)
    for key, text in (
        ("next-time", "a more neutral brown"),
        (f"stick-{NOTED}", "too dusty"),
        (layers[0]["id"], "softly"),
    ):
        Tick.objects.create(piece=piece, pass_id=key, note=text)
    return str(piece.pk)


def entries(client: APIClient, text: str = "", colour: str = "", *kinds: str) -> list[Json]:
    query = urlencode([("text", text), ("colour", colour), *(("kind", kind) for kind in kinds)])
    answer = client.get(f"/api/notebook?{query}")
    assert answer.status_code == 200, answer.content
    held: list[Json] = answer.json()["entries"]
    return held


def test_everything_comes_by_itself_and_leads_back_to_its_piece(client: APIClient, full: str) -> None:
    held = entries(client)
    assert {row["kind"] for row in held} == {"complexion", "plan", "recipe", "comparison", "card", "note", "stick"}
    plan = next(row for row in held if row["title"] == "Odelo in Night watch")
    assert (plan["piece"], plan["step"]) == (full, "mix") and plan["text"].startswith("deep")
    # Half an hour, twenty minutes, and a pause that counts three quarters of an hour at most.
    deep = next(row for row in entries(client, "deep", "", "complexion"))
    assert deep["title"].startswith("Deep") and deep["sticks"] == plan["sticks"] and deep["figure"] == plan["figure"]
    assert deep["text"].startswith("Odelo in Night watch (") and "not compared" not in deep["text"]
    assert "6 layers" in plan["text"] and "1 h 35 on it" in plan["text"] and "L52 dark umber" in plan["text"]
    notes = {row["title"]: row["text"] for row in entries(client, "", "", "note")}
    assert (
        notes["Next time: Night watch"] == "a more neutral brown" and notes[f"On {NOTED}: Night watch"] == "too dusty"
    )
    assert any(title.startswith("On layer 1, ") for title in notes)
    compared = entries(client, "photograph", "", "comparison")
    assert len(compared) == 3 and compared[0]["title"] == "Night watch, photograph 3"


def test_it_is_found_by_place_stick_depth_medium_paper_and_month(client: APIClient, full: str) -> None:
    month = timezone.localtime().strftime("%B")
    for text in ("chin deep", "l52", '"dark umber"', f"{month} recipe", '"pier box" pencil', "neutral brown"):
        assert entries(client, text), text
    assert entries(client, "chin light zebra") == []
    for row in entries(client, "chin", "", "recipe"):
        assert "chin" in row["title"] and row["swatch"]
    nearest = entries(client, "", "5a3b2c", "recipe")
    assert nearest[0]["close"] and all(row["swatch"] for row in nearest)
    refused = client.get("/api/notebook?colour=nothing")
    assert refused.status_code == 422 and refused.json()["errors"][0]["code"] == "bad_hex"


def test_a_stick_says_where_it_served_what_was_noted_and_how_it_drifts(
    client: APIClient, full: str, artist: User
) -> None:
    row = next(row for row in entries(client, "", "", "stick") if row["title"].startswith("L52"))
    assert row["text"].startswith("Serves at ") and "% of the places" in row["text"]
    assert row["text"].endswith("streaky, never again.")
    assert "too dusty" in next(row for row in entries(client, NOTED, "", "stick"))["text"]
    first = Calibration.objects.get()
    first.fits = {"L52": {"strength": 1.0}}
    first.save()
    Calibration.objects.create(
        tray=first.tray, medium=first.medium, paper=first.paper, boxes=9, fits={"L52": {"strength": 0.7}},
        lab=first.lab, touch=first.touch, doubt=2.0,
    )  # fmt: skip
    row = next(row for row in entries(client, "", "", "stick") if row["title"].startswith("L52"))
    assert "Leaves 30% less than on the first card" in row["text"]


def test_nobody_reads_somebody_elses(other: APIClient, full: str) -> None:
    assert entries(other) == []


def test_a_plan_is_used_for_another_piece_with_the_sticks_of_today(client: APIClient, full: str, artist: User) -> None:
    new = client.post("/api/pieces", {"title": "New"}, format="json").json()
    body = {"piece": full, "figure": "figure-2", "into": new["id"]}
    other_box = materials.start_tray(artist, "small", "small-tray-24")
    document = new["document"] | {"tray": str(other_box.pk)}
    written = {"version": new["version"], "title": "New", "document": document}
    assert client.put(f"/api/pieces/{new['id']}", written, format="json").status_code == 200
    done = client.post("/api/notebook/use", body, format="json")
    assert done.status_code == 200, done.content
    rows = done.json()["sticks"]
    assert rows[0]["was"].startswith("L") and any(row["now"].startswith("G") and row["close"] for row in rows)
    after = client.get(f"/api/pieces/{new['id']}").json()["document"]["setup"]
    assert after["method"] == "darks_first" and len(after["must_use"]) == sum(bool(row["now"]) for row in rows)
    client.post(f"/api/pieces/{new['id']}/undo", {"version": new["version"] + 2}, format="json")
    assert client.get(f"/api/pieces/{new['id']}").json()["document"]["setup"]["must_use"] == []
    for wrong, code in (
        ({"figure": "figure-9"}, "no_figure"),
        ({"piece": new["id"], "figure": "figure-1"}, "not_planned"),
    ):
        refused = client.post("/api/notebook/use", body | wrong, format="json").json()
        assert refused["errors"][0]["code"] == code
