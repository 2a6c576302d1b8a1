import copy
import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from PIL import Image
from rest_framework.test import APIClient

from core.colour.spaces import hex_to_lab
from server.materials import services as materials
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces.document import history
from server.pieces.models import Revision, Tick
from tests.conftest import picture_bytes
from tests.server.conftest import Json, save, set_condition, spot, upload, written
from tools.site import seen


def test_a_new_piece_is_empty_and_takes_the_only_tray(client: APIClient, tray_id: str) -> None:
    made = client.post("/api/pieces", {"title": "Ferry"}, format="json")
    assert made.status_code == 201
    piece = made.json()
    assert piece["version"] == 1
    assert piece["document"]["tray"] == tray_id
    assert piece["document"]["spots"] == []
    assert not piece["can_undo"]
    assert piece["found"]["reach"]["darkest"] < 3 < 9 < piece["found"]["reach"]["lightest"]


def test_spots_are_read_when_they_are_saved(piece: Json) -> None:
    assert piece["version"] == 2
    for row in seen(piece):
        assert np.allclose(row["reading"]["swatch"]["lab"], hex_to_lab("#be8c6e"), atol=0.05)
        assert row["temperature"]["words"] == "about as warm as the rest"


def test_what_a_client_claims_to_have_read_is_refused(client: APIClient, piece: Json) -> None:
    document = copy.deepcopy(piece["document"])
    document["spots"][0]["reading"] = {"swatch": {"lab": [1, 2, 3]}, "spread": 0, "pixels": 1}
    body = {"version": piece["version"], "title": "x", "document": document}
    answer = client.put(f"/api/pieces/{piece['id']}", body, format="json")
    assert answer.json()["errors"][0]["field"] == "document.spots[0].reading"
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


def test_solving_gives_every_spot_a_recipe_that_stays(client: APIClient, solved: Json) -> None:
    for row in seen(solved):
        outcome = row["outcome"]
        assert outcome["trouble"] == ""
        assert outcome["delta_e"] < 1.5
        assert len(outcome["steps"]) == len(row["recipe"]["passes"])
        assert all(pass_["id"] for pass_ in row["recipe"]["passes"])
    assert client.get(f"/api/pieces/{solved['id']}").json() == solved


def test_one_spot_can_be_solved_alone(client: APIClient, piece: Json) -> None:
    answer = written(client, piece, "solve", spots=["spot-2"]).json()
    assert [row["recipe"] is None for row in answer["document"]["spots"]] == [True, False]


def test_an_edited_pass_changes_the_outcome_as_predicted(client: APIClient, solved: Json) -> None:
    document = copy.deepcopy(solved["document"])
    row = document["spots"][0]
    row["recipe"]["passes"][0] |= {"pressure": "heavy", "repeats": 3}
    lab = seen(solved)[0]["reading"]["swatch"]["lab"]
    body = {"target": lab, "role": row["role"], "passes": row["recipe"]["passes"]}
    tried = client.post(f"/api/pieces/{solved['id']}/predict", body, format="json").json()
    saved = seen(save(client, solved, document).json())[0]
    assert saved["outcome"] == tried
    assert saved["outcome"]["result"] != seen(solved)[0]["outcome"]["result"]
    assert [p["id"] for p in saved["recipe"]["passes"]] == [p["id"] for p in row["recipe"]["passes"]]


@pytest.mark.parametrize(
    ("change", "code", "field"),
    [
        ({"stick": "nope"}, "unknown_stick", "passes[0].stick"),
        ({"pressure": "crush"}, "bad_pressure", "passes[0].pressure"),
        ({"technique": "pour"}, "bad_technique", "passes[0].technique"),
    ],
)
def test_a_pass_that_cannot_be_made_is_refused_by_name(
    change: Json, code: str, field: str, client: APIClient, solved: Json
) -> None:
    row = solved["document"]["spots"][0]
    passes = [row["recipe"]["passes"][0] | change]
    body = {"target": [50, 10, 10], "role": "middle", "passes": passes}
    answer = client.post(f"/api/pieces/{solved['id']}/predict", body, format="json")
    assert answer.status_code == 422
    assert (answer.json()["errors"][0]["code"], answer.json()["errors"][0]["field"]) == (code, field)


def test_a_recipe_with_a_missing_pencil_says_so_and_is_kept(client: APIClient, solved: Json, tray_id: str) -> None:
    passes = solved["document"]["spots"][0]["recipe"]["passes"]
    gone = passes[0]["stick"]
    set_condition(client, tray_id, gone, "dried_out")
    row = seen(client.get(f"/api/pieces/{solved['id']}").json())[0]
    assert gone in row["outcome"]["trouble"]
    assert row["recipe"]["passes"] == passes


def test_a_deleted_tray_leaves_the_recipes_standing(client: APIClient, solved: Json, tray_id: str) -> None:
    client.delete(f"/api/trays/{tray_id}")
    shown = client.get(f"/api/pieces/{solved['id']}").json()
    assert shown["found"]["reach"] is None
    row = seen(shown)[0]
    assert row["recipe"]["passes"] == solved["document"]["spots"][0]["recipe"]["passes"]
    assert "no such tray" in row["outcome"]["trouble"]
    # And everything else can still be saved.
    assert save(client, shown, shown["document"], title="after").status_code == 200


def test_two_windows_cannot_overwrite_each_other(client: APIClient, piece: Json) -> None:
    mine, theirs = copy.deepcopy(piece["document"]), copy.deepcopy(piece["document"])
    theirs["spots"][0]["name"] = "theirs"
    mine["spots"][0]["name"] = "mine"
    newer = save(client, piece, theirs).json()
    refused = save(client, piece, mine)
    assert refused.status_code == 409
    assert refused.json()["errors"][0]["code"] == "stale_version"
    assert refused.json()["current"] == newer
    assert client.get(f"/api/pieces/{piece['id']}").json() == newer
    kept = save(client, newer, mine).json()
    assert kept["document"]["spots"][0]["name"] == "mine"
    undone = written(client, kept, "undo").json()
    assert undone["document"]["spots"][0]["name"] == "theirs"


@pytest.mark.parametrize("what", ["undo", "redo", "solve"])
def test_other_writes_from_an_old_version_are_refused_too(what: str, client: APIClient, solved: Json) -> None:
    body = {"version": solved["version"] - 1} | ({"spots": []} if what == "solve" else {})
    answer = client.post(f"/api/pieces/{solved['id']}/{what}", body, format="json")
    assert answer.status_code == 409
    if what != "redo":
        assert answer.json()["current"]["version"] == solved["version"]


def test_undo_and_redo_walk_through_everything(client: APIClient, solved: Json) -> None:
    states = [client.get(f"/api/pieces/{solved['id']}").json()]
    while states[-1]["can_undo"]:
        states.append(step(client, states[-1], "undo"))
    assert len(states) == 3
    assert states[-1]["document"]["spots"] == []
    assert (
        client.post(f"/api/pieces/{solved['id']}/undo", {"version": states[-1]["version"]}, format="json").status_code
        == 409
    )
    back = step(client, step(client, states[-1], "redo"), "redo")
    assert back["document"] == solved["document"]
    assert not back["can_redo"]


def step(client: APIClient, piece: Json, way: str) -> Json:
    answer = written(client, piece, way)
    assert answer.status_code == 200
    return answer.json()


def test_a_new_edit_after_undo_ends_the_redo(client: APIClient, solved: Json) -> None:
    undone = step(client, solved, "undo")
    assert undone["can_redo"]
    document = copy.deepcopy(undone["document"])
    document["spots"][0]["name"] = "new way"
    saved = save(client, undone, document).json()
    assert not saved["can_redo"]
    assert saved["can_undo"]


def test_saving_the_same_again_makes_no_step_in_the_history(client: APIClient, piece: Json) -> None:
    before = Revision.objects.count()
    saved = save(client, piece, piece["document"], title="Only a new title").json()
    assert saved["title"] == "Only a new title"
    assert saved["version"] == piece["version"] + 1
    assert Revision.objects.count() == before


def test_the_history_has_a_limit(client: APIClient, piece: Json, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(history, "KEPT_REVISIONS", 3)
    now = piece
    for i in range(6):
        document = copy.deepcopy(now["document"])
        document["spots"][0]["name"] = f"name {i}"
        now = save(client, now, document).json()
    assert Revision.objects.count() == 4
    assert now["can_undo"]


def tick(client: APIClient, piece: Json, **passes: Json) -> Any:
    return client.post(f"/api/pieces/{piece['id']}/work", {"passes": passes}, format="json")


def test_ticks_and_notes_are_kept_outside_the_history(client: APIClient, solved: Json) -> None:
    one, two = (row["id"] for row in solved["document"]["spots"][0]["recipe"]["passes"][:2])
    undone = step(client, solved, "undo")
    for _ in range(2):  # the same twice is noted once
        assert tick(client, solved, **{one: {"state": "done"}, two: {"note": " too dark? "}}).status_code == 204
    assert tick(client, solved, **{two: {"state": "skipped"}}).status_code == 204
    now = client.get(f"/api/pieces/{solved['id']}").json()
    assert now["work"] == {"done": {one: "done", two: "skipped"}, "notes": {two: "too dark?"}}
    assert now["can_redo"]
    assert now["version"] == undone["version"]
    solved = step(client, now, "redo")
    (row,) = client.get("/api/pieces").json()
    assert row["done"] == 2
    assert row["steps"] >= 2
    tick(client, solved, **{one: {"state": ""}, two: {"state": "", "note": ""}})
    assert client.get(f"/api/pieces/{solved['id']}").json()["work"] == {"done": {}, "notes": {}}
    assert not Tick.objects.exists()


@pytest.mark.parametrize(
    ("passes", "field"),
    [
        ({"a": {"state": "perhaps"}}, "passes.a.state"),
        ({"a": {"note": "n" * 501}}, "passes.a.note"),
        ({"a": {"colour": "red"}}, "passes.a.colour"),
        ({"<b>": {"state": "done"}}, "passes.<b>"),
        ({}, "passes"),
        ({f"p{i}": {"state": "done"} for i in range(501)}, "passes"),
    ],
)
def test_work_that_cannot_be_is_refused(passes: Json, field: str, client: APIClient, solved: Json) -> None:
    refused = client.post(f"/api/pieces/{solved['id']}/work", {"passes": passes}, format="json")
    assert refused.status_code == 400
    assert refused.json()["errors"][0]["field"].startswith(field)
    assert not Tick.objects.exists()


def test_ticks_of_passes_that_are_gone_make_room(
    client: APIClient, solved: Json, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("server.pieces.work.services.MOST", 2)
    ids = [row["id"] for row in solved["document"]["spots"][0]["recipe"]["passes"]]
    tick(client, solved, gone={"state": "done"}, lost={"note": "x"})
    assert tick(client, solved, **{ids[0]: {"state": "done"}}).status_code == 204
    assert client.get(f"/api/pieces/{solved['id']}").json()["work"]["done"] == {ids[0]: "done"}


def test_the_work_sheet_holds_every_pass_once(client: APIClient, solved: Json) -> None:
    sheet = client.get(f"/api/pieces/{solved['id']}/sheet").json()
    jobs = [job["pass_id"] for pick_up in sheet["pick_ups"] for job in pick_up["jobs"]]
    passes = [p["id"] for row in solved["document"]["spots"] for p in row["recipe"]["passes"]]
    assert sorted(jobs) == sorted(passes)
    assert 1 <= sheet["fewest"] <= len(sheet["pick_ups"])
    assert "safety sheet" in sheet["cautions"][0]


def test_without_tray_or_spots_mixing_says_what_to_do(client: APIClient, picture_id: str) -> None:
    made = client.post("/api/pieces", {"title": "x"}, format="json").json()
    answer = client.post(f"/api/pieces/{made['id']}/solve", {"version": 1, "spots": []}, format="json")
    assert answer.json()["errors"][0]["code"] == "no_tray_chosen"
    assert client.get(f"/api/pieces/{made['id']}/sheet").json()["errors"][0]["code"] == "no_tray_chosen"


BAD_DOCUMENTS: dict[str, tuple[Any, str, int]] = {
    "a spot outside": (lambda d: d["spots"][0].update(x=1.4), "document.spots[0].x", 400),
    "a spot beyond all numbers": (lambda d: d["spots"][0].update(y="NaN"), "document.spots[0].y", 400),
    "a radius of nothing": (lambda d: d["spots"][1].update(radius=0), "document.spots[1].radius", 400),
    "an unknown role": (lambda d: d["spots"][0].update(role="glow"), "document.spots[0].role", 400),
    "an unknown place": (lambda d: d["spots"][0].update(place="tail"), "document.spots[0].place", 400),
    "two spots with one id": (lambda d: d["spots"][0].update(id="spot-2"), "document.spots", 422),
    "a spot of nobody": (lambda d: d["spots"][0].update(figure="ghost"), "document.spots[0].figure", 422),
    "no figure": (lambda d: d.update(figures=[]), "document.figures", 400),
    "too many spots": (lambda d: d.update(spots=[spot(1, id=f"s{i}") for i in range(201)]), "document.spots", 400),
    "a script for an id": (lambda d: d["spots"][0].update(id="<script>"), "document.spots[0].id", 400),
    "a medium that does not exist": (lambda d: d["setup"].update(medium="watercolour"), "medium", 422),
    "a paper that does not exist": (lambda d: d["setup"].update(paper="sand"), "paper", 422),
    "a method that does not exist": (lambda d: d["setup"].update(method="guess"), "method", 422),
    "an impossible number of sticks": (lambda d: d["setup"].update(max_sticks=1), "sticks", 422),
    "somebody else's picture": (lambda d: d.update(picture="00000000-0000-4000-8000-000000000000"), "picture", 404),
    "somebody else's tray": (lambda d: d.update(tray="00000000-0000-4000-8000-000000000000"), "tray", 404),
    "too many passes": (
        lambda d: d["spots"][0].update(
            recipe={"passes": [{"stick": "G48", "pressure": "light", "repeats": 1, "technique": "lay"}] * 13}
        ),
        "document.spots[0].recipe.passes",
        400,
    ),
}


@pytest.mark.parametrize("name", BAD_DOCUMENTS)
def test_a_wrong_document_is_refused_by_field_and_nothing_changes(name: str, client: APIClient, piece: Json) -> None:
    spoil, field, status = BAD_DOCUMENTS[name]
    document = copy.deepcopy(piece["document"])
    spoil(document)
    answer = save(client, piece, document)
    assert answer.status_code == status
    assert any(row["field"].startswith(field) for row in answer.json()["errors"]), answer.json()
    assert client.get(f"/api/pieces/{piece['id']}").json() == piece


def test_an_artist_sees_only_their_own(other: APIClient, client: APIClient, solved: Json, picture_id: str) -> None:
    address = f"/api/pieces/{solved['id']}"
    assert other.get("/api/pieces").json() == []
    mark = {"id": "m1", "kind": "caliper", "x1": 0.2, "y1": 0.5, "x2": 0.7, "y2": 0.5}
    asked = [
        other.get(address),
        other.delete(address),
        save(other, solved, solved["document"]),
        other.get(f"{address}/sheet"),
        other.post(f"{address}/undo", {"version": 1}, format="json"),
        other.post(f"{address}/solve", {"version": 1, "spots": []}, format="json"),
        other.post(f"{address}/predict", {"target": [1, 1, 1], "role": "light", "passes": []}, format="json"),
        other.get(f"/api/pictures/{picture_id}"),
        other.get(f"{address}/study"),
        other.post(f"{address}/suggest"),
        other.post(f"{address}/measure", {"mark": mark}, format="json"),
        other.get(f"{address}/view?kind=values"),
        other.get(f"{address}/transfer/sheet"),
        tick(other, solved, a={"state": "done"}),
    ]
    assert [answer.status_code for answer in asked] == [404] * len(asked)
    assert client.get(address).json() == solved


def test_a_stranger_cannot_use_a_picture_or_tray_in_their_own_piece(
    other: APIClient, picture_id: str, tray_id: str
) -> None:
    made = other.post("/api/pieces", {"title": "theft"}, format="json").json()
    for key, value in (("picture", picture_id), ("tray", tray_id)):
        assert save(other, made, made["document"] | {key: value}).status_code == 404


def test_the_same_picture_of_two_artists_is_stored_once_but_owned_twice(
    client: APIClient, other: APIClient, settings: Any
) -> None:
    data = picture_bytes((10, 20, 30))
    mine, theirs = upload(client, data).json(), upload(other, data).json()
    assert mine["id"] != theirs["id"]
    assert upload(client, data).json()["id"] == mine["id"]
    assert len(list(Path(settings.PICTURES_DIR).glob("*/*"))) == 1
    assert Picture.objects.count() == 2


def test_a_picture_is_made_for_the_screen_once(client: APIClient, picture_id: str, settings: Any) -> None:
    first, second = (client.get(f"/api/pictures/{picture_id}") for _ in range(2))
    assert first.headers["Content-Type"] == "image/jpeg"
    assert "private" in first.headers["Cache-Control"]
    assert first.content == second.content
    assert len(list(Path(settings.VIEWS_DIR).iterdir())) == 1


def test_a_picture_is_shown_in_the_size_asked_for_and_from_near(client: APIClient, other: APIClient) -> None:
    left, right = np.full((1000, 1000, 3), (200, 60, 60), np.uint8), np.full((1000, 1000, 3), (60, 60, 200), np.uint8)
    picture = upload(client, picture_bytes(np.concatenate([left, right], axis=1))).json()["id"]
    for size in (600, 900, 1800):
        shown = Image.open(io.BytesIO(client.get(f"/api/pictures/{picture}?size={size}").content))
        assert shown.size == (size, size // 2)
    near = client.get(f"/api/pictures/{picture}/near?x=0.5&y=0.5&part=0.1")
    pixels = np.asarray(Image.open(io.BytesIO(near.content)))
    assert pixels.shape[:2] == (180, 180)
    assert pixels[90, 20, 0] > 150 > 100 > pixels[90, 160, 0]
    corner = np.asarray(Image.open(io.BytesIO(client.get(f"/api/pictures/{picture}/near?x=1&y=0&part=0.1").content)))
    assert np.abs(corner[20, 160].astype(int) - 128).max() < 6  # beyond the edge
    assert corner[160, 20, 2] > 150
    for query in ("?size=601", "/near?x=2", "/near?part=nan", "/near?y=up"):
        assert client.get(f"/api/pictures/{picture}{query}").status_code == 422
    assert other.get(f"/api/pictures/{picture}/near").status_code == 404


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "picture_empty"),
        (b"hello", "picture_unreadable"),
        (picture_bytes(size=(1, 1)), "picture_too_small"),
        (
            picture_bytes(np.random.default_rng(0).integers(0, 255, (90, 90, 3), dtype=np.uint8))[:3000],
            "picture_truncated",
        ),
    ],
)
def test_a_picture_that_cannot_be_read_leaves_nothing_behind(
    data: bytes, code: str, client: APIClient, settings: Any
) -> None:
    answer = upload(client, data)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["code"] == code
    assert not Picture.objects.exists()
    assert not Path(settings.PICTURES_DIR).exists()


def test_pictures_fill_their_space_only(client: APIClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pictures, "MAX_TOTAL_BYTES", 10)
    assert upload(client, picture_bytes()).json()["errors"][0]["code"] == "no_space"


def test_there_is_a_limit_to_pieces(client: APIClient, artist: User, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(history, "MAX_PIECES", 1)
    assert client.post("/api/pieces", {"title": "one"}, format="json").status_code == 201
    answer = client.post("/api/pieces", {"title": "two"}, format="json")
    assert answer.json()["errors"][0]["code"] == "too_many_pieces"


@pytest.mark.parametrize(
    ("medium", "range_id", "paper", "method", "word"),
    [
        ("marker", "ebb-24", "marker-card", "light_to_dark", "solvent"),
        ("oil_pastel", "winch-48", "oil-paper", "lights_reserved", "Wipe"),
        ("pastel", "quay-chalk-48", "warm-grey", "pastel_dark_to_light", "dust"),
    ],
)
def test_a_piece_can_be_mixed_in_any_medium(
    medium: str, range_id: str, paper: str, method: str, word: str, client: APIClient, artist: User, piece: Json
) -> None:
    tray = materials.start_tray(artist, "mine", range_id)
    setup = piece["document"]["setup"] | {"medium": medium, "paper": paper, "method": method}
    changed = save(client, piece, piece["document"] | {"setup": setup, "tray": str(tray.pk)}).json()
    mixed = written(client, changed, "solve", spots=[]).json()
    codes = {stick.code for stick in tray.sticks.all()}
    for row in seen(mixed):
        assert row["outcome"]["delta_e"] < 6
        assert {p["stick"] for p in row["recipe"]["passes"]} <= codes
    sheet = client.get(f"/api/pieces/{piece['id']}/sheet").json()
    assert word in sheet["cautions"][0]


def test_a_method_of_another_medium_is_refused(client: APIClient, piece: Json) -> None:
    setup = piece["document"]["setup"] | {"medium": "marker", "method": "darks_first"}
    answer = save(client, piece, piece["document"] | {"setup": setup})
    assert answer.json()["errors"][0]["code"] == "unknown_method"
