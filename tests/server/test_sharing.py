"""Plans shown to others: by a link that cannot be guessed, ends by itself and can be taken back."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.utils import timezone
from rest_framework.test import APIClient

from server.pieces.models import Tick
from server.pieces.work.services import note_work
from server.pieces.work.values import Change
from server.sharing import services
from server.sharing.models import SharedPicture, SharedPlan
from tests import night_watch
from tests.server.conftest import Json, settled


@pytest.fixture
def planned(artist: User) -> str:
    return str(night_watch.planned(artist, longest=260, layers=3).pk)


def shared(client: APIClient, piece: str, **asked: Any) -> Json:
    answer = settled(lambda: client.post(f"/api/pieces/{piece}/shares", asked, format="json"))
    assert answer.status_code == 201, answer.content
    held: Json = answer.json()
    return held


def test_a_plan_is_read_by_anybody_with_the_link_and_by_nobody_else(
    artist: User, client: APIClient, other: APIClient, planned: str
) -> None:
    note_work(artist, planned, {"piece": Change(note="my secret worry"), "layer-1": Change(state="done")})
    row = shared(client, planned, days=7, reference=False)
    page = Client().get(row["path"])
    text = page.content.decode()
    assert page.status_code == 200 and "Night watch" in text and "script" not in text
    assert "Where layer 1 goes" in text and "my secret worry" not in text and "The reference" not in text
    assert page.headers["Cache-Control"] == "private, no-store" and page.headers["Referrer-Policy"] == "no-referrer"
    assert "noindex" in page.headers["X-Robots-Tag"] and "style=" not in text
    picture = Client().get(f"{row['path']}/0.jpg")
    assert picture.status_code == 200 and picture.content.startswith(b"\xff\xd8")
    assert Client().get(f"{row['path']}/99.jpg").status_code == 404
    # What is done to the piece later is not shown, and nothing of the account either.
    Tick.objects.all().delete()
    client.patch(f"/api/pieces/{planned}", {"version": 2, "changes": {}, "title": "Renamed"}, format="json")
    assert "Renamed" not in Client().get(row["path"]).content.decode()
    # Its artist finds it again, nobody else does.
    assert client.get(f"/api/pieces/{planned}/shares").json() == [row]
    assert other.get(f"/api/pieces/{planned}/shares").status_code == 404
    assert other.delete(f"/api/shares/{row['id']}").status_code == 404
    assert Client().get("/shared/" + "0" * 64).status_code == 404
    # With the piece it goes, and comes back.
    assert client.delete(f"/api/pieces/{planned}").status_code == 204
    assert Client().get(row["path"]).status_code == Client().get(f"{row['path']}/0.jpg").status_code == 404
    assert client.post(f"/api/removed/{planned}").status_code == 204
    assert Client().get(row["path"]).status_code == 200
    assert client.delete(f"/api/shares/{row['id']}").status_code == 204
    gone = Client().get(row["path"])
    assert gone.status_code == 404 and "was taken back" in gone.content.decode()
    assert not SharedPicture.objects.exists()


def test_with_the_reference_it_is_another_page_and_each_ends_in_its_time(client: APIClient, planned: str) -> None:
    plain, full = (shared(client, planned, days=1, reference=reference) for reference in (False, True))
    assert plain["path"] != full["path"]
    assert "The reference" in Client().get(full["path"]).content.decode()
    maps = [
        bytes(SharedPicture.objects.get(plan=one["id"], number=number).data) for one, number in ((plain, 0), (full, 2))
    ]
    assert maps[0] != maps[1]  # through the one shows the reference, through the other nothing
    SharedPlan.objects.filter(pk=plain["id"]).update(expires=timezone.now() - timedelta(seconds=1))
    assert Client().get(plain["path"]).status_code == 404
    assert [row["id"] for row in client.get(f"/api/pieces/{planned}/shares").json()] == [full["id"]]


def test_the_database_alone_lets_nobody_in(client: APIClient, planned: str, settings: Any) -> None:
    row = shared(client, planned)
    held = SharedPlan.objects.get()
    assert held.digest not in row["path"] and len(row["path"]) > 60
    settings.SECRET_KEY = "another"
    (now,) = client.get(f"/api/pieces/{planned}/shares").json()
    assert now["path"] == ""
    assert Client().get(row["path"]).status_code == 200  # whoever had it has it still


def test_nothing_planned_and_too_many_links_are_refused(
    client: APIClient, piece: Json, planned: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    refused = client.post(f"/api/pieces/{piece['id']}/shares", {}, format="json")
    assert refused.status_code == 422 and refused.json()["errors"][0]["code"] == "nothing_planned"
    monkeypatch.setattr(services, "MOST_LINKS", 0)
    many = client.post(f"/api/pieces/{planned}/shares", {}, format="json")
    assert many.json()["errors"][0]["code"] == "too_many_links"
    assert client.post(f"/api/pieces/{planned}/shares", {"days": 999}, format="json").status_code == 400


def test_the_plan_and_its_pictures_go_out_as_files(client: APIClient, planned: str) -> None:
    for address, kind, begins in (
        ("plan?kind=pdf", "application/pdf", b"%PDF"), ("plan?kind=svg", "image/svg+xml", b"<?xml"),
        ("layers/pictures?what=after&kind=png", "image/png", b"\x89PNG"),
        ("layers/pictures?what=maps&kind=pdf", "application/pdf", b"%PDF"),
    ):  # fmt: skip
        answer = settled(lambda address=address: client.get(f"/api/pieces/{planned}/{address}"))
        assert answer.status_code == 200 and answer.headers["Content-Type"] == kind
        assert answer.content.startswith(begins)
        assert 'filename="night-watch' in answer.headers["Content-Disposition"]
    wrong = client.get(f"/api/pieces/{planned}/plan?kind=gif")
    assert wrong.status_code == 422 and wrong.json()["errors"][0]["field"] == "kind"
    none = settled(lambda: client.get(f"/api/pieces/{planned}/layers/pictures?what=maps&layer=nothing"))
    assert none.json()["errors"][0]["code"] == "no_maps"


def test_the_page_for_scripts_names_everything_that_can_be_asked_for() -> None:
    text = Client().get("/reference").content.decode()
    assert "/api/pieces/{piece_id}/layers" in text and 'id="schema-Document"' in text and "<script" not in text
    file = Client().get("/openapi.yaml")
    assert file.headers["Content-Type"] == "application/yaml" and file.content.startswith(b"openapi: 3.1")
