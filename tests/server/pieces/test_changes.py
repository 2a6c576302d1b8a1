"""Parts of a document: what is sent, what comes back, what is written once however often it is sent."""

from __future__ import annotations

import copy
import json
from typing import Any

import pytest
from rest_framework.test import APIClient

from server.pieces.document.parts import changed, changes, document_from, parts_of
from server.pieces.models import Piece, Result, Revision, Written
from tests.conftest import ROOT
from tests.server.conftest import Json, only_tray, save, set_condition, spot, upload, written

CASES = json.loads((ROOT / "tests/parts.json").read_text())


def patch(client: APIClient, piece: Json, some: Json, **more: Any) -> Any:
    body = {"version": piece["version"], "changes": some, "known": piece["keys"]["found"]} | more
    return client.patch(f"/api/pieces/{piece['id']}", body, format="json")


def applied(piece: Json, some: Json, answer: Json) -> Json:
    """The piece as a browser holds it after the answer to its changes."""
    document = changed(changed(piece["document"], some), answer["document"])
    ids = [row["id"] for row in document["spots"]]
    spots = {key: piece["found"]["spots"].get(key, {}) | answer["spots"].get(key, {}) for key in ids}
    measured = piece["found"]["measured"] if answer["measured"] is None else answer["measured"]
    found = {"spots": spots, "measured": measured} | {key: answer[key] for key in ("reach", "placement")}
    head = {key: part for key, part in answer.items() if key in piece and key not in ("document", "found")}
    return piece | head | {"document": document, "found": found}


def test_a_document_is_its_parts() -> None:
    assert parts_of(CASES["document"]) == CASES["parts"]
    assert document_from(CASES["parts"]) == CASES["document"]


@pytest.mark.parametrize("case", CASES["changes"], ids=lambda case: case["name"])
def test_changes_are_put_in_and_found_again(case: Json) -> None:
    after = changed(CASES["document"], case["some"])
    assert changes(CASES["parts"], parts_of(after)) == case["gives"]


@pytest.mark.parametrize(
    ("some", "field", "status"),
    [
        ({"spots/spot-1/x": 7}, "document.spots[0].x", 400),
        ({"spots/spot-1/colour": 1}, "document.spots[0].colour", 400),
        ({"spots/spot-1/x/y": 1}, "changes", 400),
        ({"setup": {}}, "changes", 400),
        ({"spots": ["spot-1", "spot-1"]}, "changes", 400),
        ({"spots": "spot-1"}, "changes", 400),
        ({"spots": ["spot-1", "spot-7"]}, "document.spots[1]", 400),
        ({"colour": "red"}, "document.colour", 400),
        ({"schema": 3}, "document.schema", 400),
        ({"figures": []}, "document.figures", 400),
        ({"spots/spot-1/figure": "ghost"}, "document.spots[0].figure", 422),
        ({"setup/medium": "lard"}, "medium", 422),
    ],
)
def test_changes_that_no_document_can_take_are_refused(
    some: Json, field: str, status: int, client: APIClient, piece: Json
) -> None:
    refused = patch(client, piece, some)
    assert refused.status_code == status
    assert refused.json()["errors"][0]["field"].startswith(field)
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


@pytest.mark.parametrize(
    "some",
    [
        {"spots/spot-1/name": "left cheek"},
        {"spots/spot-1/x": 0.31, "setup/fit": "compress"},
        {"spots": ["spot-2"]},
        {"spots/spot-2/outline": [[0.4, 0.4], [0.6, 0.4], [0.6, 0.6]]},
        {"tray": None},
        {"marks": ["m1"], "marks/m1/kind": "level", "marks/m1/x1": 0, "marks/m1/y1": 0, "marks/m1/x2": 1,
         "marks/m1/y2": 1},
    ],
)  # fmt: skip
def test_what_comes_back_completes_what_was_sent(some: Json, client: APIClient, solved: Json) -> None:
    answer = patch(client, solved, some).json()
    now = client.get(f"/api/pieces/{solved['id']}").json()
    assert applied(solved, some, answer) == now
    unknown = patch(client, now, {}, known="something-else").json()
    assert (
        applied(now | {"found": {"spots": {}, "measured": []}}, {}, unknown)
        == client.get(f"/api/pieces/{solved['id']}").json()
    )


def test_an_edit_sends_and_gets_little(client: APIClient, solved: Json) -> None:
    answer = patch(client, solved, {"spots/spot-1/name": "left cheek"})
    assert answer.json()["document"] == {}
    assert answer.json()["spots"] == {}
    assert len(answer.content) < 2000
    moved = patch(client, answer.json() | {"id": solved["id"]}, {"spots/spot-1/x": 0.4})
    assert set(moved.json()["spots"]) <= {"spot-1"}


def test_undo_redo_and_mixing_answer_with_what_changed(client: APIClient, piece: Json) -> None:
    now = piece
    for what, more in (("solve", {"spots": []}), ("undo", {}), ("redo", {})):
        body = {"version": now["version"], "known": now["keys"]["found"], **more}
        answer = client.post(f"/api/pieces/{piece['id']}/{what}", body, format="json").json()
        now = applied(now, {}, answer)
        assert now == client.get(f"/api/pieces/{piece['id']}").json()


def test_what_is_sent_twice_is_written_once(client: APIClient, other: APIClient, solved: Json) -> None:
    def latest() -> tuple[int, int]:
        return Piece.objects.get(pk=solved["id"]).version, Revision.objects.count()

    address = f"/api/pieces/{solved['id']}"
    patched = {"version": solved["version"], "changes": {"spots/spot-1/name": "a"}, "key": "k1"}
    document = copy.deepcopy(solved["document"])
    document["spots"][1]["name"] = "b"
    writes: list[tuple[Any, str, Json]] = [
        (client.patch, address, patched),
        (client.put, address, {"version": 0, "title": "T", "document": document, "key": "k2"}),
        (client.post, f"{address}/undo", {"version": 0, "key": "k3"}),
        (client.post, f"{address}/redo", {"version": 0, "key": "k4"}),
        (client.post, f"{address}/solve", {"version": 0, "spots": [], "key": "k5"}),
    ]
    for ask, where, body in writes:
        now = body | {"version": latest()[0]}
        first = ask(where, now, format="json")
        assert first.status_code == 200
        after = latest()
        again = ask(where, now, format="json")
        assert (again.status_code, again.json()["version"]) == (200, first.json()["version"])
        assert latest() == after
    # A key is its sender's own, and a write that was refused has used up none.
    theirs = other.post("/api/pieces", {"title": "x", "key": "k1"}, format="json").json()
    assert theirs["id"] != solved["id"]
    refused = {"version": 1, "changes": {"spots/s/x": 7}, "key": "k9"}
    assert other.patch(f"/api/pieces/{theirs['id']}", refused, format="json").status_code == 200
    assert Written.objects.filter(key="k9").count() == 1


def test_a_new_piece_is_made_once(client: APIClient) -> None:
    made = [client.post("/api/pieces", {"title": "New", "key": "once"}, format="json") for _ in range(4)]
    assert {answer.status_code for answer in made} == {201}
    assert len({answer.json()["id"] for answer in made}) == Piece.objects.count() == 1


def test_a_late_repetition_gets_the_piece_as_it_is_by_now(client: APIClient, piece: Json) -> None:
    mine = {"version": piece["version"], "changes": {"spots/spot-1/name": "mine"}, "key": "lost"}
    client.patch(f"/api/pieces/{piece['id']}", mine, format="json")
    now = client.get(f"/api/pieces/{piece['id']}").json()
    patch(client, now, {"spots/spot-2/name": "theirs"})
    late = client.patch(f"/api/pieces/{piece['id']}", mine, format="json").json()
    assert [late["document"][f"spots/spot-{i}/name"] for i in (1, 2)] == ["mine", "theirs"]


# Results out of history.


def keys_of(piece: Json) -> Json:
    return {key: part for key, part in piece["keys"].items() if key != "palette"}


def test_touching_an_unused_stick_changes_no_key_and_works_nothing_out(
    client: APIClient, solved: Json, tray_id: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    used = {row["stick"] for held in solved["document"]["spots"] for row in held["recipe"]["passes"]}
    unused = next(row["code"] for row in only_tray(client)["sticks"] if row["code"] not in used)
    before = Result.objects.count()
    set_condition(client, tray_id, unused, "low")

    def never(*_: Any) -> Any:
        raise AssertionError("worked out anew")

    monkeypatch.setattr("server.pieces.mix.outcomes.work_out_all", never)
    monkeypatch.setattr("core.plan.questions.lay_out", never)
    monkeypatch.setattr("core.look.questions.read_spot", never)
    now = client.get(f"/api/pieces/{solved['id']}").json()
    assert keys_of(now) == keys_of(solved)
    assert now["found"] == solved["found"]
    assert Result.objects.count() == before


def test_a_used_stick_changes_only_what_it_is_used_for(client: APIClient, solved: Json, tray_id: str) -> None:
    used = solved["document"]["spots"][0]["recipe"]["passes"][0]["stick"]
    set_condition(client, tray_id, used, "dried_out")
    now = client.get(f"/api/pieces/{solved['id']}").json()
    assert {name for name in now["keys"] if now["keys"][name] != solved["keys"][name]} == {
        "found", "sheet", "figures", "palette", "forecast", "surroundings",
    }  # fmt: skip


@pytest.mark.parametrize("what", ["rename", "tick", "model", "tray"])
def test_what_is_no_decision_keeps_the_redo(
    what: str, client: APIClient, solved: Json, tray_id: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    undone = written(client, solved, "undo").json()
    if what == "tray":
        set_condition(client, tray_id, "G66", "dried_out")
    if what == "model":
        from server.pieces.mix import outcomes

        monkeypatch.setattr(outcomes, "_outcomes", outcomes.ResultCache(outcomes.Outcome, "outcome", 999))
    if what == "tick":
        body = {"passes": {"p": {"state": "done"}}}
        assert client.post(f"/api/pieces/{solved['id']}/work", body, format="json").status_code == 204
    renamed = save(client, undone, undone["document"], title="Another title").json()
    assert renamed["can_redo"]
    assert written(client, renamed, "redo").json()["document"] == solved["document"]


def test_results_can_be_deleted_at_any_time_and_are_bounded(client: APIClient, solved: Json) -> None:
    from server.pieces.look.readings import _readings
    from server.pieces.mix.laid_out import _reaches
    from server.pieces.mix.outcomes import _outcomes
    from server.pieces.results import prune

    for _ in range(2):
        for cache in (_readings, _outcomes, _reaches):
            cache.forget()
        assert client.get(f"/api/pieces/{solved['id']}").json() == solved  # from the database, or anew
        assert Result.objects.count() >= 3
        Result.objects.all().delete()
    Result.objects.bulk_create(Result(key=f"k{i:02}", held={}) for i in range(20))
    assert prune(12) >= 8
    assert Result.objects.count() <= 12


# Keys of parts.

EDITS: dict[str, tuple[Json, set[str]]] = {
    "a title": ({}, set()),
    "a name of a spot": ({"spots/spot-1/name": "x"}, {"sheet"}),
    "a place on the sheet": ({"format/width_mm": 300.0}, {"found", "transfer"}),
    "the light": ({"light": {"from_deg": 20.0}}, {"study", "transfer"}),
    "a role": ({"spots/spot-1/role": "shadow"}, {"study", "sheet", "figures", "palette", "forecast", "surroundings"}),
    "a stroke": (
        {"figures/figure-1/strokes": [{"add": True, "radius": 0.1, "points": [[0.5, 0.5]]}]},
        {"look", "study", "transfer", "forecast", "surroundings"},
    ),
    "a neighbour": (
        {"surroundings": ["n"], "surroundings/n/name": "hair", "surroundings/n/x": 0.5, "surroundings/n/y": 0.5,
         "surroundings/n/radius": 0.01},
        {"surroundings"},
    ),
    "the paper": ({"setup/paper": "toothy-white"}, {"found", "figures", "palette", "forecast", "surroundings"}),
    "the method": (
        {"setup/method": "pale_base_first"},
        {"found", "sheet", "figures", "palette", "forecast", "surroundings"},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", EDITS)
def test_an_edit_changes_the_keys_of_the_parts_it_concerns(name: str, client: APIClient, solved: Json) -> None:
    some, concerned = EDITS[name]
    now = patch(client, solved, some, title="New").json()["keys"]
    changed_keys = {part for part, key in now.items() if key != solved["keys"][part]}
    # What was worked out may come to the same.
    assert concerned - {"found"} <= changed_keys <= concerned | {"found"}


def test_views_answer_304_to_who_holds_them(client: APIClient, solved: Json, other: APIClient) -> None:
    address = f"/api/pieces/{solved['id']}"
    for part in ("/view?kind=values", "/forecast"):
        first = client.get(address + part)
        assert first.status_code == 200
        held = {"HTTP_IF_NONE_MATCH": first.headers["ETag"]}
        assert client.get(address + part, **held).status_code == 304
        assert other.get(address + part, **held).status_code == 404
    picture = f"/api/pictures/{solved['document']['picture']}"
    held = {"HTTP_IF_NONE_MATCH": client.get(picture).headers["ETag"]}
    assert client.get(picture, **held).status_code == 304
    assert other.get(picture, **held).status_code == 404


# Sizes.


def test_a_document_of_thirty_spots_and_a_history_of_two_hundred_stay_small(client: APIClient, solved: Json) -> None:
    recipe = {"passes": [{"stick": "G30", "pressure": "medium", "repeats": 2, "technique": "lay"}] * 3}
    many = [spot(i % 7, id=f"spot-{i}", name=f"place number {i}", recipe=recipe) for i in range(200)]
    saved = save(client, solved, solved["document"] | {"spots": many[:30]}).json()
    assert len(json.dumps(saved["document"], separators=(",", ":"))) < 16_000
    before = saved
    now = save(client, saved, saved["document"] | {"spots": many}).json()
    for i in range(4):
        answer = patch(client, now, {f"spots/spot-{i}/name": f"moved {i}"}).json()
        now |= {"version": answer["version"], "keys": answer["keys"]}
    sizes = [len(bytes(row)) for row in stored(before["id"])[-4:]]
    assert 200 * max(sizes) < 5 * 2**20


def stored(piece_id: str) -> list[bytes]:
    """The documents of a piece as the database holds them."""
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT document FROM pieces_revision WHERE piece_id = %s ORDER BY position", [piece_id.replace("-", "")]
        )
        return [row[0] for row in cursor.fetchall()]


def test_a_picture_named_by_anything_is_named(client: APIClient, piece: Json) -> None:
    from server.pictures.models import Picture
    from server.pictures.services import _with_named

    upload(client, b"\x89PNG")
    assert list(_with_named(Picture.objects.all()).values_list("named", flat=True)) == [True]
