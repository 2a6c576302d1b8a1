"""A piece always opens, whatever its stored document holds, and reads are of one moment."""

from __future__ import annotations

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import connection
from django.test.utils import CaptureQueriesContext
from rest_framework.test import APIClient

from core.errors import NotFoundError
from server.materials import services as materials
from server.materials.values import NewTray
from server.pictures.models import Picture
from server.pieces.document import history
from server.pieces.mix import services as mixing
from server.pieces.models import Piece, Revision
from server.pieces.piece import services as pieces
from tests.server.conftest import Json, save, spot, written

OUTSIDE = {"x": 1.6, "y": 1.6, "width": 0.2, "height": 0.2}
STROKE = {"add": True, "radius": 0.01, "points": [[0.5, 0.5]]}


def store(piece: Json, **change: Any) -> None:
    """Put something into a stored document, as a version that did not check it would have."""
    held = Piece.objects.get(pk=piece["id"])
    revision = Revision.objects.get(piece=held, position=held.position)
    revision.document = revision.document | change
    revision.save()


def figure(**change: Any) -> Json:
    return {"id": "figure-1", "name": "Mairen", "face": None, "strokes": []} | change


def everything_opens(client: APIClient, piece: Json) -> Json:
    """What only asks answers; the piece."""
    address = f"/api/pieces/{piece['id']}"
    for part in ("study", "transfer/sheet", "sheet", "view?kind=skin", "figures"):
        answer = client.get(f"{address}/{part}")
        assert answer.status_code in (200, 422), (part, answer.content[:300])
    assert client.post(f"{address}/suggest").status_code == 200
    opened = client.get(address)
    assert opened.status_code == 200
    body: Json = opened.json()
    return body


def test_a_stored_face_outside_the_picture_is_named_and_set_aside(client: APIClient, solved: Json) -> None:
    store(solved, figures=[figure(face=OUTSIDE)])
    opened = everything_opens(client, solved)
    assert opened["troubles"] == ["The face of Mairen lay outside the picture and was set aside."]
    assert opened["document"]["figures"] == [figure()]
    assert [s["recipe"] for s in opened["document"]["spots"]] == [s["recipe"] for s in solved["document"]["spots"]]
    saved = save(client, opened, opened["document"]).json()
    assert saved["troubles"] == []


def test_other_things_that_are_stored_wrongly_are_set_aside_too(client: APIClient, solved: Json) -> None:
    spots = [*solved["document"]["spots"], spot(3, figure="figure-9", locked=False)]
    strokes = [STROKE, STROKE | {"points": [[0.5, 7.0]]}]
    paper = solved["document"]["format"] | {"width_mm": 3.0}
    store(solved, figures=[figure(strokes=strokes)], spots=spots, format=paper)
    opened = everything_opens(client, solved)
    assert len(opened["troubles"]) == 3
    assert opened["document"]["figures"][0]["strokes"] == [STROKE]
    assert len(opened["document"]["spots"]) == 2
    assert opened["document"]["format"]["width_mm"] == 210


@pytest.mark.parametrize("key", ["spots", "marks", "balance", "setup", "unit", "grid", "tray", "colour"])
def test_what_nobody_foresaw_costs_a_part_and_not_the_piece(key: str, client: APIClient, solved: Json) -> None:
    wrong: dict[str, Any] = {
        "spots": [row | {"recipe": {"passes": [{}]}} for row in solved["document"]["spots"]],
        "marks": [{"id": "m", "kind": "caliper", "x1": None, "y1": 0, "x2": 1, "y2": 1}],
        "balance": {"x": 9.0, "y": 9.0, "radius": 0.1},
        "setup": solved["document"]["setup"] | {"method": "gone", "medium": "gone", "fit": "gone"},
        "unit": "nothing",
        "grid": {"columns": 0, "rows": "many", "diagonals": None},
        "tray": "the small one",
        "colour": "red",
    }
    store(solved, **{key: wrong[key]})
    opened = client.get(f"/api/pieces/{solved['id']}")
    assert opened.status_code == 200
    body = opened.json()
    assert body["title"] == solved["title"]
    assert [row["id"] for row in body["document"]["spots"]] == ["spot-1", "spot-2"]
    assert body["troubles"] or key in ("unit", "colour")
    assert client.get("/api/pieces").status_code == 200


@pytest.mark.parametrize("stored", [{}, [], {"schema": "x"}, {"schema": 4, "figures": 7}])
def test_a_state_that_cannot_be_read_opens_empty_and_undo_goes_back(
    stored: Any, client: APIClient, piece: Json
) -> None:
    saved = save(client, piece, piece["document"] | {"spots": [spot(5)]}).json()
    held = Piece.objects.get(pk=piece["id"])
    Revision.objects.filter(piece=held, position=held.position).update(document=stored)
    opened = client.get(f"/api/pieces/{piece['id']}").json()
    assert opened["troubles"] == [history.UNREADABLE]
    assert len(client.get("/api/pieces").json()) == 1
    exported = b"".join(client.get("/api/account/export").streaming_content)
    assert exported.startswith(b"PK")
    back = written(client, saved, "undo").json()
    assert back["document"] == piece["document"]


@pytest.mark.parametrize("wrong", [{"face": OUTSIDE}, {"face": OUTSIDE | {"x": -0.9, "width": 0.1}}])
def test_a_face_outside_the_picture_is_not_stored(wrong: Json, client: APIClient, piece: Json) -> None:
    refused = save(client, piece, piece["document"] | {"figures": [figure(**wrong)]})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["field"] == "document.figures[0].face"
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


@pytest.mark.parametrize(
    ("medium", "method", "csv"),
    [
        (
            "marker",
            "light_to_dark",
            "0,blender,marker,#ffffff,transparent\n1,a,marker,#a05030,semi\n2,b,marker,#804020,semi\n",
        ),
        ("pastel", "white_then_glaze", "0,white,pastel,#fbf8f2,transparent\n1,brown,pastel,#704830,semi\n"),
        ("pencil", "pale_base_first", "0,bone black,pencil,#202020,opaque\n"),
    ],
)
def test_a_tray_with_nothing_to_begin_with_opens_and_says_so(
    medium: str, method: str, csv: str, client: APIClient, artist: User, piece: Json
) -> None:
    tray = materials.new_tray(artist, NewTray("few", f"code,name,medium,hex,opacity\n{csv}"))
    setup = piece["document"]["setup"] | {"medium": medium, "method": method, "black": "avoid"}
    setup["paper"] = {"marker": "marker-card", "pastel": "warm-grey", "pencil": "medium-white"}[medium]
    saved = save(client, piece, piece["document"] | {"tray": str(tray.pk), "setup": setup})
    assert saved.status_code == 200
    opened = everything_opens(client, piece)
    if medium == "pencil":
        assert "can be laid first" in opened["troubles"][0]
    body = {"version": opened["version"], "spots": []}
    mixed = client.post(f"/api/pieces/{piece['id']}/solve", body, format="json")
    assert mixed.status_code == (422 if medium == "pencil" else 200)


def test_a_piece_deleted_while_it_is_mixed_is_not_found(client: APIClient, artist: User, piece: Json) -> None:
    before = history.open_piece(artist, piece["id"])
    mixed = mixing.solved(artist, before.document, [])
    assert client.delete(f"/api/pieces/{piece['id']}").status_code == 204
    with pytest.raises(NotFoundError):
        history.write(artist, before, piece["version"], piece["title"], mixed)
    # Nor is it changed where it is kept to be put back.
    assert client.post(f"/api/removed/{piece['id']}").status_code == 204
    assert history.open_piece(artist, piece["id"]).document == before.document


def test_undoing_and_editing_elsewhere_while_it_is_mixed_is_a_conflict(
    client: APIClient, artist: User, piece: Json
) -> None:
    before = history.open_piece(artist, piece["id"])
    mixed = mixing.solved(artist, before.document, [])
    undone = written(client, piece, "undo").json()
    # A new step ends the redo: the state that the mixing began with is gone from the history.
    save(client, undone, undone["document"] | {"spots": [spot(7)]})
    with pytest.raises(history.StaleVersionError) as stale:
        history.write(artist, before, piece["version"], piece["title"], mixed)
    assert [row.id for row in pieces.shown(artist, stale.value.newer).document.spots] == ["spot-7"]


def test_a_picture_deleted_meanwhile_is_not_named(client: APIClient, piece: Json, picture_id: str) -> None:
    new = client.post("/api/pieces", {"title": "b"}, format="json").json()
    for kind in ("pieces", "removed"):
        client.delete(f"/api/{kind}/{piece['id']}")
    Picture.objects.all().delete()
    assert save(client, new, new["document"] | {"picture": picture_id}).status_code == 404


def test_a_long_list_of_pieces_takes_few_queries(client: APIClient, artist: User, piece: Json) -> None:
    held = Revision.objects.get(piece=piece["id"], position=1)
    made = Piece.objects.bulk_create(Piece(owner=artist, title=f"piece {i}") for i in range(499))
    Revision.objects.bulk_create(
        Revision(piece=row, position=0, document=held.document, picture_id=held.picture_id) for row in made
    )
    with CaptureQueriesContext(
        connection,
    ) as asked:
        rows = client.get("/api/pieces").json()
    assert len(rows) == 500
    assert len(asked) <= 10
