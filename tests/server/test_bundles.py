"""What an artist has goes out as a bundle and comes in again, the same to the byte and never over anything."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from typing import Any

import jsonschema
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from rest_framework.test import APIClient

from core.exchange.bundle import written
from server.accounts.services import get_or_create_artist
from server.imagined.models import Complexion
from server.materials.models import Paper, Tray
from server.pictures.models import Picture
from server.pieces.models import Comparison, Piece, Revision, Tick
from server.practice.models import Practised
from server.trials.models import Calibration, CardPhoto, TaughtPlaces, TrialCard
from tests.server.conftest import Json, client_of, save, spot
from tools import make_bundle_schema

OWNED: dict[Any, str] = {
    Tray: "owner", Paper: "owner", Complexion: "owner", Picture: "owner", Piece: "owner", Revision: "piece__owner",
    Tick: "piece__owner", Comparison: "piece__owner", Practised: "owner", TrialCard: "owner",
    CardPhoto: "card__owner", Calibration: "tray__owner", TaughtPlaces: "tray__owner",
}  # fmt: skip


def counts(user: User) -> dict[str, int]:
    return {model.__name__: model.objects.filter(**{of: user}).count() for model, of in OWNED.items()}


def fetched(client: APIClient, address: str) -> bytes:
    answer = client.get(address)
    assert answer.status_code == 200, answer.content
    return b"".join(answer.streaming_content)


def put_in(client: APIClient, data: bytes) -> Any:
    return client.post("/api/bundles", {"file": SimpleUploadedFile("a.zip", data)}, format="multipart")


def parts(data: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def changed(data: bytes, name: str, change: Callable[[Any], Any]) -> bytes:
    """The bundle with one JSON part changed; or left out, if nothing comes of it."""
    held = parts(data)
    made = change(json.loads(held[name]) if name in held and name.endswith("json") else None)
    held = {key: part for key, part in held.items() if key != name} | ({} if made is None else {name: made})
    return b"".join(
        written((key, part if isinstance(part, bytes) else json.dumps(part).encode()) for key, part in held.items())
    )


def test_a_whole_account_goes_out_and_in_again_the_same_to_the_byte(artist: User, client: APIClient) -> None:
    call_command("loaddemo", "ines")
    client.post("/api/complexions", {"name": "Brá", "skin": {"depth": 44, "undertone": 30}}, format="json")
    paper = {"name": "Rough cream", "lab": [94, 0.5, 6], "tooth": 0.6, "coats": 5, "media": ["pencil"]}
    client.post("/api/papers", paper, format="json")
    piece = Piece.objects.get(title__startswith="Night watch")
    Tick.objects.create(piece=piece, pass_id="layer-1", state="done", note="softly")
    data = fetched(client, "/api/account/export")
    described = {name: json.loads(part) for name, part in parts(data).items() if name.endswith(".json")}
    jsonschema.validate(described, json.loads(make_bundle_schema.TARGET.read_text()))
    before = counts(artist)
    elsewhere = get_or_create_artist("wren")
    taken = put_in(client_of(elsewhere), data)
    assert taken.status_code == 201, taken.content
    said = taken.json()
    assert said["said"] == [] and len(said["pieces"]) == 3 and said["practised"] == before["Practised"]
    assert counts(elsewhere) | {"Calibration": 1} == before | {"Calibration": 1}
    assert fetched(client_of(elsewhere), "/api/account/export") == data
    # What was learnt is learnt anew from the same boxes.
    was, now = (Calibration.objects.filter(tray__owner=user).last() for user in (artist, elsewhere))
    assert was and now and was.boxes == now.boxes
    for code, fit in was.fits.items():
        assert now.fits[code]["strength"] == pytest.approx(fit["strength"], abs=0.01)
    assert counts(artist) == before
    # A piece of it alone, with its box, its card and its drawings; once more it is a piece more, and the rest is there.
    alone = fetched(client, f"/api/pieces/{piece.pk}/file")
    assert len(parts(alone)) < len(parts(data)) and "pieces/0001/history.json" not in parts(alone)
    again = put_in(client, alone).json()
    assert again | {"pieces": []} == {
        "pieces": [], "trays": [], "papers": 0, "methods": 0, "cards": 0, "complexions": 0, "practised": 0, "said": []
    }  # fmt: skip
    copy = again["pieces"][0]["id"]
    assert copy != str(piece.pk) and fetched(client, f"/api/pieces/{copy}/file") == alone
    assert len(client.get(f"/api/pieces/{copy}/comparisons").json()["rows"]) == 3
    shown = client.get(f"/api/pieces/{copy}").json()
    assert shown["troubles"] == [] and shown["work"]["notes"] == {"layer-1": "softly"}


def test_the_published_schema_is_that_of_the_types_and_refuses_what_is_none(client: APIClient, small: bytes) -> None:
    assert make_bundle_schema.TARGET.read_text() == make_bundle_schema.text(), "python -m tools.make_bundle_schema"
    described = {name: json.loads(part) for name, part in parts(small).items() if name.endswith(".json")}
    held = json.loads(make_bundle_schema.TARGET.read_text())
    jsonschema.validate(described, held)
    described[PIECE]["document"]["spots"][0]["x"] = 7
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(described, held)


@pytest.fixture
def small(client: APIClient, piece: Json) -> bytes:
    """The bundle of a small piece with its history."""
    save(client, piece, piece["document"] | {"spots": [spot(5)]})
    return fetched(client, f"/api/pieces/{piece['id']}/file?history=1")


def test_a_piece_keeps_its_history_and_undo_goes_on_from_there(
    client: APIClient, other: APIClient, small: bytes
) -> None:
    (row,) = put_in(other, small).json()["pieces"]
    shown = other.get(f"/api/pieces/{row['id']}").json()
    assert [one["id"] for one in shown["document"]["spots"]] == ["spot-5"] and shown["can_undo"]
    other.post(f"/api/pieces/{row['id']}/undo", {"version": shown["version"]}, format="json")
    assert len(other.get(f"/api/pieces/{row['id']}").json()["document"]["spots"]) == 2


def test_a_piece_on_a_paper_of_ones_own_brings_it_along(client: APIClient, other: APIClient, piece: Json) -> None:
    paper = {"name": "Rough cream", "lab": [94, 0.5, 6], "tooth": 0.6, "coats": 5, "media": ["pencil"]}
    own = client.post("/api/papers", paper, format="json").json()["id"]
    setup = piece["document"]["setup"] | {"paper": own}
    assert save(client, piece, piece["document"] | {"setup": setup}).status_code == 200
    data = fetched(client, f"/api/pieces/{piece['id']}/file")
    assert own.encode() not in b"".join(parts(data).values())
    (row,) = put_in(other, data).json()["pieces"]
    (theirs,) = other.get("/api/papers").json()
    shown = other.get(f"/api/pieces/{row['id']}").json()
    assert shown["document"]["setup"]["paper"] == theirs["id"] != own and shown["troubles"] == []
    assert fetched(other, f"/api/pieces/{row['id']}/file") == data


def test_trays_complexions_and_practice_go_out_alone(client: APIClient, other: APIClient, tray_id: str) -> None:
    client.patch(f"/api/trays/{tray_id}/sticks", {"codes": ["G01"], "change": {"note": "soft"}}, format="json")
    data = fetched(client, f"/api/trays/{tray_id}/bundle")
    assert put_in(other, data).json()["trays"] == ["small"]
    assert put_in(other, data).json()["trays"] == []  # it is there, to the last stick
    (theirs,) = other.get("/api/trays").json()
    assert fetched(other, f"/api/trays/{theirs['id']}/bundle") == data
    empty = client.post("/api/trays", {"name": "nothing in it"}, format="json").json()["id"]
    assert put_in(other, fetched(client, f"/api/trays/{empty}/bundle")).json()["trays"] == ["nothing in it"]
    refused = put_in(other, fetched(client, "/api/practice/file"))
    assert refused.status_code == 422 and "there is nothing in it" in refused.json()["errors"][0]["message"]


def test_nobody_takes_away_what_is_not_theirs(other: APIClient, piece: Json, tray_id: str) -> None:
    for address in (f"/api/pieces/{piece['id']}/file", f"/api/trays/{tray_id}/bundle"):
        assert other.get(address).status_code == 404


PIECE = "pieces/0001/piece.json"


def of_document(**change: Any) -> Callable[[Any], Any]:
    return lambda held: held | {"document": held["document"] | change}


@pytest.mark.parametrize(
    ("name", "change", "said"),
    [
        (PIECE, lambda held: held | {"title": ""}, "piece.json, title"),
        (PIECE, lambda held: held | {"more": 1}, "piece.json, more: There is no such field"),
        (PIECE, lambda held: held["title"], "holds no document"),
        (PIECE, of_document(spots=[spot(1), spot(1)]), "Two spots have the id"),
        (PIECE, of_document(spots=[spot(1, x=7)]), "document.spots[0].x"),
        (PIECE, of_document(schema="x"), "holds no document"),
        (PIECE, lambda held: held | {"title": "\ud800"}, "half a character"),
        (PIECE, lambda _: b'{"title": 1e999}', "no finite number"),
        (PIECE, lambda _: b"[" * 5000, "not JSON"),
        (PIECE, lambda _: b"[" * 100 + b"]" * 100, "nested too deeply"),
        ("pieces/0001/history.json", lambda held: held | {"at": 99}, "has no state 99"),
        ("pieces/0001/history.json", lambda held: held | {"states": {}}, "has no state"),
        ("caltin.json", lambda _: None, "there is no caltin.json"),
        ("caltin.json", lambda held: held | {"caltin_bundle": 99}, "newer Caltin"),
        ("papers.json", lambda _: [{"id": "x"}], "papers.json, [0].id"),
        ("cards/0001.json", lambda _: {"tray": "x"}, "cards/0001.json, tray"),
        ("practice.json", lambda _: {"answers": [{}]}, "practice.json, answers"),
        ("complexions.json", lambda _: {"complexions": []}, "no complexions"),
        ("../out.json", lambda _: {}, "is no name of a part"),
        ("/etc/passwd", lambda _: b"", "is no name of a part"),
    ],
)  # fmt: skip
def test_a_bundle_that_was_tampered_with_is_refused_by_name_and_nothing_is_kept(
    name: str,
    change: Callable[[Any], Any],
    said: str,
    client: APIClient,
    stranger: User,
    other: APIClient,
    small: bytes,
) -> None:
    refused = put_in(other, changed(small, name, change))
    assert refused.status_code == 422, refused.content
    (error,) = refused.json()["errors"]
    assert said in error["message"] and error["field"] in ("file", "complexions")
    assert counts(stranger) == dict.fromkeys(counts(stranger), 0)


def test_a_tray_is_refused_by_the_row_and_a_picture_by_its_name(stranger: User, other: APIClient, small: bytes) -> None:
    (tray,) = (name for name in parts(small) if name.startswith("trays/"))
    (picture,) = (name for name in parts(small) if name.startswith("pictures/"))

    def bad_row(held: Any) -> Any:
        held["sticks"][2]["hex"] = "beige"
        return held

    assert "row 3, hex" in put_in(other, changed(small, tray, bad_row)).json()["errors"][0]["message"]
    broken = put_in(other, changed(small, picture, lambda _: b"no picture")).json()["errors"][0]
    assert picture in broken["message"]
    # Without it the piece comes all the same, and what is missing is said.
    taken = put_in(other, changed(small, picture, lambda _: None)).json()
    assert len(taken["pieces"]) == 1 and "is not in the file" in taken["said"][0]
    assert counts(stranger)["Picture"] == 0


def test_nothing_is_looked_for_under_the_name_of_something_else(stranger: User, other: APIClient, small: bytes) -> None:
    (tray,) = (name for name in parts(small) if name.startswith("trays/"))
    (picture,) = (name for name in parts(small) if name.startswith("pictures/"))
    name = tray.removeprefix("trays/").removesuffix(".json")
    # A document that names a tray where a picture should be has none.
    lying = changed(small, PIECE, of_document(picture=name))
    lying = changed(lying, "pieces/0001/history.json", lambda _: None)
    taken = put_in(other, lying).json()
    assert other.get(f"/api/pieces/{taken['pieces'][0]['id']}").json()["document"]["picture"] is None
    twice = put_in(other, changed(small, picture.replace(".png", ".jpg"), lambda _: b"x"))
    assert "have one name" in twice.json()["errors"][0]["message"]
    assert counts(stranger)["Piece"] == 1


def test_what_was_not_understood_is_said(other: APIClient, small: bytes) -> None:
    taken = put_in(other, changed(small, "notes/later.txt", lambda _: b"hello")).json()
    assert taken["said"] == ["notes/later.txt was not understood and left where it is."]


def test_limits_hold_for_what_is_taken_in(other: APIClient, small: bytes, monkeypatch: pytest.MonkeyPatch) -> None:
    from server.pieces.piece import carried

    monkeypatch.setattr(carried, "MAX_PIECES", 1)
    assert put_in(other, small).status_code == 201
    refused = put_in(other, small)
    assert refused.json()["errors"][0]["code"] == "too_many_pieces"
    assert len(other.get("/api/pieces").json()) == 1
