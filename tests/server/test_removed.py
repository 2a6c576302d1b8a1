"""What was removed stays for a while, and comes back as it was."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.utils import timezone
from rest_framework.test import APIClient

from server.api import removable
from server.materials.models import Tray
from server.materials.values import EXAMPLE_METHOD
from server.pieces import garbage
from server.pieces.models import Piece, Revision
from server.trials.models import Calibration, TrialCard
from server.trials.taught import calibrations_of, relearn
from tests.server.conftest import Json, save, written

OWN_PAPER = {"name": "Old card", "lab": [88.0, 2.0, 10.0], "tooth": 0.3, "coats": 9, "media": ["pencil"]}


def removed(client: APIClient) -> list[Json]:
    return list(client.get("/api/removed").json())


def take_away(client: APIClient, kind: str, its_id: str) -> None:
    assert client.delete(f"/api/{kind}/{its_id}").status_code == 204


def put_back(client: APIClient, its_id: str, status: int = 204) -> Any:
    answer = client.post(f"/api/removed/{its_id}")
    assert answer.status_code == status, answer.content
    return answer


def days_pass(days: int) -> None:
    for kind in (Piece, Tray):
        kind.every.exclude(removed=None).update(removed=timezone.now() - timedelta(days=days))


def test_a_piece_comes_back_with_its_history(client: APIClient, other: APIClient, piece: Json) -> None:
    moved = save(client, piece, piece["document"] | {"spots": []}).json()
    take_away(client, "pieces", piece["id"])
    assert client.get("/api/pieces").json() == []
    assert client.get(f"/api/pieces/{piece['id']}").status_code == 404
    assert client.get("/api/notebook").json()["entries"] == []
    assert save(client, moved, piece["document"]).status_code == 404
    assert client.delete(f"/api/pieces/{piece['id']}").status_code == 404
    (row,) = removed(client)
    assert (row["kind"], row["id"], row["name"]) == ("piece", piece["id"], piece["title"])
    assert row["until"] > row["removed"]
    # Nobody else's, and only once.
    assert removed(other) == []
    put_back(other, piece["id"], 404)
    assert other.delete(f"/api/removed/{piece['id']}").status_code == 404
    put_back(client, piece["id"])
    put_back(client, piece["id"], 404)
    assert removed(client) == []
    back = client.get(f"/api/pieces/{piece['id']}").json()
    assert {key: back[key] for key in ("document", "version", "changed")} == {
        key: moved[key] for key in ("document", "version", "changed")
    }
    assert written(client, back, "undo").json()["document"] == piece["document"]


def test_a_request_that_is_sent_again_makes_no_second_piece_of_a_removed_one(client: APIClient) -> None:
    def begun() -> Any:
        return client.post("/api/pieces", {"title": "b", "key": "k" * 20}, format="json")

    first = begun().json()
    assert begun().json()["id"] == first["id"]
    take_away(client, "pieces", first["id"])
    assert begun().status_code == 404
    put_back(client, first["id"])
    assert begun().json()["id"] == first["id"]


def test_a_tray_comes_back_with_its_cards_and_pieces_find_it_again(
    client: APIClient, artist: User, piece: Json, tray_id: str
) -> None:
    before = client.get(f"/api/trays/{tray_id}").json()
    TrialCard.objects.create(
        owner=artist, tray_id=tray_id, medium="pencil", paper="smooth-white", number=1, card={}, foreseen=[]
    )
    take_away(client, "trays", tray_id)
    assert client.get("/api/trays").json() == []
    assert client.get("/api/notebook").status_code == 200  # which would name the card
    assert client.get(f"/api/pieces/{piece['id']}").status_code == 200
    assert client.get("/api/account/export").status_code == 200
    put_back(client, tray_id)
    assert client.get(f"/api/trays/{tray_id}").json() == before
    assert TrialCard.objects.get().tray_id == Tray.objects.get().pk
    assert client.get(f"/api/pieces/{piece['id']}").json()["document"]["tray"] == tray_id


def test_a_paper_comes_back_with_what_cards_on_it_have_taught(client: APIClient, tray_id: str) -> None:
    paper = client.post("/api/papers", OWN_PAPER, format="json").json()["id"]
    Calibration.objects.create(
        tray_id=tray_id, medium="pencil", paper=paper, boxes=12, fits={}, lab=[90, 0, 0], touch={}, doubt=4.0
    )
    take_away(client, "papers", paper)
    assert client.get("/api/papers").json() == []
    # A new version learns anew from all cards; those of a paper that was removed must not be lost by that.
    relearn()
    put_back(client, paper)
    assert [row["name"] for row in client.get("/api/papers").json()] == ["Old card"]
    assert calibrations_of(Tray.objects.get(), "pencil", paper).count() > 0


def test_complexions_and_methods_come_back_too(client: APIClient, artist: User) -> None:
    skin = client.post("/api/complexions", {"name": "Brá", "skin": {"depth": 44}}, format="json").json()
    method = client.post("/api/methods", {"file": EXAMPLE_METHOD}, format="json").json()
    for kind, its_id in (("complexions", skin["id"]), ("methods", method["id"])):
        before = client.get(f"/api/{kind}").json()
        take_away(client, kind, its_id)
        assert its_id not in [row["id"] for row in client.get(f"/api/{kind}").json()]
        assert client.get("/api/account/export").status_code == 200
        put_back(client, its_id)
        assert client.get(f"/api/{kind}").json() == before


def test_what_was_removed_goes_for_good_after_its_time(client: APIClient, piece: Json, tray_id: str) -> None:
    take_away(client, "pieces", piece["id"])
    take_away(client, "trays", tray_id)
    days_pass(29)
    garbage.sweep()
    assert {row["kind"] for row in removed(client)} == {"piece", "tray"}
    days_pass(31)
    garbage.sweep()
    assert removed(client) == []
    assert not Piece.every.exists() and not Revision.objects.exists() and not Tray.every.exists()


def test_only_so_much_is_kept_and_the_oldest_goes_first(client: APIClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(removable, "MOST_KEPT", 2)
    made = [client.post("/api/pieces", {"title": f"piece {n}"}, format="json").json()["id"] for n in range(3)]
    for its_id in made:
        take_away(client, "pieces", its_id)
    assert [row["name"] for row in removed(client)] == ["piece 2", "piece 1"]
    put_back(client, made[0], 404)


def test_nothing_is_put_back_where_there_is_no_room(client: APIClient, monkeypatch: pytest.MonkeyPatch) -> None:
    paper = client.post("/api/papers", OWN_PAPER, format="json").json()["id"]
    take_away(client, "papers", paper)
    from server.personal import services

    kind, named, _ = services._SHELVES["paper"]
    monkeypatch.setitem(services._SHELVES, "paper", (kind, named, 0))
    refused = put_back(client, paper, 422).json()["errors"][0]
    assert refused["code"] == "no_room" and "both are kept" in refused["hint"]
    assert [row["id"] for row in removed(client)] == [paper]
