"""Plans in layers over HTTP: planned, looked at, taken, changed, mapped; what is wrong is said and changes nothing."""

import io
from typing import Any
from uuid import UUID

import numpy as np
import pytest
from django.contrib.auth.models import User
from PIL import Image
from rest_framework.test import APIClient

from server.pieces.document.history import open_piece
from server.pieces.piece.plan_sheet import plan_of
from tests.conftest import picture_bytes
from tests.server.conftest import Json, save, spot, upload

STRIPES = [(226, 180, 150), (196, 148, 118), (150, 106, 82), (98, 66, 52)]
ROLES = ("light", "middle", "half-shadow", "shadow")


@pytest.fixture
def striped(client: APIClient, tray_id: str) -> Json:
    """A piece with four spots of one figure, from light to dark, and two of another."""
    pixels = np.repeat(np.repeat(np.array([STRIPES], dtype=np.uint8), 24, axis=1), 80, axis=0)
    picture = upload(client, picture_bytes(pixels)).json()
    made = client.post("/api/pieces", {"title": "Striped"}, format="json").json()
    spots = [spot(i, x=0.125 + 0.25 * i, role=role, name=role, radius=0.04) for i, role in enumerate(ROLES)]
    spots += [
        spot(i + 4, x=0.125 + 0.25 * i, y=0.2, role=ROLES[i], name=ROLES[i], figure="figure-2", radius=0.04)
        for i in (1, 3)
    ]
    document = made["document"] | {
        "picture": picture["id"],
        "tray": tray_id,
        "figures": [{"id": f"figure-{n}", "name": f"Figure {n}"} for n in (1, 2)],
        "spots": spots,
    }
    return save(client, made, document).json()


@pytest.fixture
def planned(client: APIClient, striped: Json) -> Json:
    assert post(client, striped, "layers", layers=2).status_code == 200
    return opened(client, striped)


def opened(client: APIClient, piece: Json) -> Json:
    held: Json = client.get(f"/api/pieces/{piece['id']}").json()
    return held


def post(client: APIClient, piece: Json, what: str, **body: Any) -> Any:
    version = {} if "/" in what and not what.endswith("take") else {"version": piece["version"]}
    return client.post(f"/api/pieces/{piece['id']}/{what}", version | body, format="json")


def passes_of(piece: Json, spot_id: str) -> list[tuple[str, str, int]]:
    """The recipe of a spot, read off the layers here once more."""
    levels = [(layer["stick"], layer["levels"].get(spot_id)) for layer in piece["document"]["layers"]]
    return [(stick, level["pressure"], level["repeats"]) for stick, level in levels if level]


def code_of(answer: Any) -> tuple[int, str]:
    return answer.status_code, answer.json()["errors"][0]["code"]


def test_figures_are_planned_in_layers_and_every_spot_is_read_off_them(client: APIClient, planned: Json) -> None:
    layers = planned["document"]["layers"]
    assert 2 <= len(layers) <= 4
    for row in planned["document"]["spots"]:
        assert row["recipe"] is None
        outcome = planned["found"]["spots"][row["id"]]["outcome"]
        assert outcome["trouble"] == ""
        assert len(outcome["steps"]) == len(passes_of(planned, row["id"])) >= 1
        assert outcome["delta_e"] < 15
    sheet = client.get(f"/api/pieces/{planned['id']}/sheet").json()
    assert {job["pass_id"] for pick_up in sheet["pick_ups"] for job in pick_up["jobs"]} == {r["id"] for r in layers}
    # The same as steps of work, each place of each layer once, whatever the order.
    laid = [row["id"] for row in layers if any(row["levels"].values())]
    assert [step["layer"] for step in sheet["steps"]] == laid
    assert sheet["steps"][0]["caution"] and sheet["steps"][0]["stroke"]
    ticks = sorted(tick for step in sheet["steps"] for part in step["parts"] for tick in part["ticks"])
    assert len(set(ticks)) == sum(level is not None for row in layers for level in row["levels"].values())
    for order in sheet["orders"]:
        other = client.get(f"/api/pieces/{planned['id']}/sheet", {"order": order}).json()
        assert sorted(tick for step in other["steps"] for part in step["parts"] for tick in part["ticks"]) == ticks
    wrong = client.get(f"/api/pieces/{planned['id']}/sheet", {"order": "backwards"})
    assert wrong.status_code == 422
    assert wrong.json()["errors"][0]["code"] == "bad_order"
    (row,) = client.get("/api/pieces").json()
    assert row["steps"] == len(layers)


def test_what_is_to_be_expected_is_said_of_each_figure(client: APIClient, planned: Json) -> None:
    said = client.get(f"/api/pieces/{planned['id']}/layers").json()
    assert [figure["id"] for figure in said["figures"]] == ["figure-1", "figure-2"]
    for figure in said["figures"]:
        assert figure["keeps_the_rules"] and not figure["trouble"]
        assert all(layer["area"] and layer["why"] and layer["without"] for layer in figure["layers"])
        assert len(figure["holes"][0]["colours"]) == len(figure["layers"]) + 1
        expected = figure["expected"]
        assert 0 < expected["planned"] < expected["by_hand"] < expected["on_paper"]
    assert said["fewest"] <= said["pick_ups"] <= len(planned["document"]["layers"])


def test_plans_are_looked_at_and_one_of_them_is_taken(client: APIClient, striped: Json) -> None:
    first = post(client, striped, "layers/plans", figure="figure-1", first=True, most=3).json()
    assert first["plans"]
    said = post(client, striped, "layers/plans", figure="figure-1", most=3).json()
    errors = [plan["expected"]["by_hand"] for plan in said["plans"]]
    assert errors == sorted(errors, reverse=True)
    assert opened(client, striped)["document"]["layers"] == []
    chosen = said["plans"][1]
    rows = [row["layer"] for row in chosen["layers"]]
    assert post(client, striped, "layers/take", figure="figure-1", layers=rows).status_code == 200
    now = opened(client, striped)
    assert [row["stick"] for row in now["document"]["layers"]] == [row["stick"] for row in rows]
    held = client.get(f"/api/pieces/{striped['id']}/layers").json()["figures"]
    assert [(row["id"], row["expected"]) for row in held] == [("figure-1", chosen["expected"])]


def test_another_school_and_fewer_sticks_stand_beside_it(client: APIClient, striped: Json) -> None:
    usual = post(client, striped, "layers/plans", figure="figure-1", most=3).json()
    other = post(client, striped, "layers/plans", figure="figure-1", method="pale_base_first", most=3).json()
    assert usual["plans"] != other["plans"]
    few = post(client, striped, "layers/plans", figure="figure-1", max_sticks=2, most=3).json()
    for plan in few["plans"]:
        assert len({row["layer"]["stick"] for row in plan["layers"]}) <= 2
    stick = usual["plans"][-1]["layers"][0]["layer"]["stick"]
    without = post(client, striped, "layers/plans", figure="figure-1", banned=[stick], most=3).json()
    assert all(row["layer"]["stick"] != stick for plan in without["plans"] for row in plan["layers"])


def test_a_change_of_one_level_is_a_change_of_one_part_and_is_foreseen_at_once(
    client: APIClient, planned: Json
) -> None:
    layer = planned["document"]["layers"][0]
    spot_id = next(key for key, level in layer["levels"].items() if level)
    other = {"pressure": "light", "repeats": 3 if layer["levels"][spot_id]["repeats"] < 3 else 1, "flicked": False}
    levels = layer["levels"] | {spot_id: other}
    body = {"version": planned["version"], "changes": {f"layers/{layer['id']}/levels": levels}, "known": ""}
    answer = client.patch(f"/api/pieces/{planned['id']}", body, format="json")
    assert answer.status_code == 200
    now = opened(client, planned)
    assert now["document"]["layers"][0]["levels"][spot_id] == other
    first = now["found"]["spots"][spot_id]["outcome"]["steps"][0]["after"]["hex"]
    assert first != planned["found"]["spots"][spot_id]["outcome"]["steps"][0]["after"]["hex"]
    others = [row["id"] for row in planned["document"]["spots"] if row["id"] != spot_id]
    assert all(now["found"]["spots"][key] == planned["found"]["spots"][key] for key in others)


def test_sticks_accents_and_doses_are_offered_and_taken(client: APIClient, planned: Json) -> None:
    layer = next(row for row in planned["document"]["layers"] if "spot-0" in row["levels"])
    offers = post(client, planned, "layers/sticks", figure="figure-1", layer=layer["id"]).json()
    assert offers and all(offer["stick"] != layer["stick"] for offer in offers)
    for offer in offers:
        (changed,) = (row for row in offer["plan"]["layers"] if row["layer"]["id"] == layer["id"])
        assert changed["layer"]["stick"] == offer["stick"]
    rows = [row["layer"] for row in offers[0]["plan"]["layers"]]
    assert post(client, planned, "layers/take", figure="figure-1", layers=rows).status_code == 200
    now = opened(client, planned)
    assert offers[0]["stick"] in {row["stick"] for row in now["document"]["layers"]}
    assert now["can_undo"]
    assert post(client, now, "layers/fitted", figure="figure-1").json()["expected"]["planned"] > 0
    accent = post(client, now, "layers/accent", spot="spot-3")
    if accent.status_code == 200:
        assert len(accent.json()["layers"]) == len(rows) + 1
    else:
        assert code_of(accent) == (422, "no_better_accent")


def test_locked_layers_stay_and_are_planned_around(client: APIClient, planned: Json) -> None:
    layer = planned["document"]["layers"][-1]
    body = {"version": planned["version"], "changes": {f"layers/{layer['id']}/locked": True}, "known": ""}
    client.patch(f"/api/pieces/{planned['id']}", body, format="json")
    now = opened(client, planned)
    assert post(client, now, "layers", layers=3).status_code == 200
    again = opened(client, planned)
    (kept,) = (row for row in again["document"]["layers"] if row["id"] == layer["id"])
    assert kept["levels"].items() >= {key: level for key, level in layer["levels"].items() if level}.items()
    assert (kept["stick"], kept["locked"]) == (layer["stick"], True)


def test_recipes_made_before_stay_until_they_are_planned_anew(client: APIClient, striped: Json) -> None:
    post(client, striped, "solve", spots=[])
    mixed = opened(client, striped)
    assert all(row["recipe"] for row in mixed["document"]["spots"])
    post(client, mixed, "layers", figures=["figure-1"], layers=2)
    now = opened(client, striped)
    recipes = {row["id"]: row["recipe"] for row in now["document"]["spots"]}
    assert all((recipes[row["id"]] is None) == (row["figure"] == "figure-1") for row in now["document"]["spots"])
    # An exact recipe for one place takes it out of the layers, so that sheet and recipe agree.
    post(client, now, "solve", spots=["spot-1"])
    exact = opened(client, striped)
    assert all("spot-1" not in row["levels"] for row in exact["document"]["layers"])
    assert exact["found"]["spots"]["spot-1"]["outcome"]["result"]
    # What is said of the layers leaves it out, and another stick in a layer leaves it alone.
    (figure,) = client.get(f"/api/pieces/{striped['id']}/layers").json()["figures"]
    assert figure["expected"]["planned"] < 12
    rows = [row for row in exact["document"]["layers"] if "spot-0" in row["levels"] or "spot-3" in row["levels"]]
    assert post(client, exact, "layers/take", figure="figure-1", layers=rows).status_code == 200
    spots = {row["id"]: row for row in opened(client, striped)["document"]["spots"]}
    assert spots["spot-1"]["recipe"] == next(r for r in exact["document"]["spots"] if r["id"] == "spot-1")["recipe"]
    assert code_of(post(client, exact, "layers/accent", spot="spot-1")) == (422, "spot_has_its_own_recipe")


def test_spots_that_go_leave_their_layers(client: APIClient, planned: Json) -> None:
    document = planned["document"]
    left = [row for row in document["spots"] if row["id"] != "spot-1"]
    now = save(client, planned, document | {"spots": left}).json()
    assert all("spot-1" not in row["levels"] for row in now["document"]["layers"])
    assert now["troubles"] == []


def test_what_cannot_be_planned_is_said_and_changes_nothing(client: APIClient, striped: Json, planned: Json) -> None:
    assert code_of(post(client, planned, "layers", figures=["figure-9"])) == (404, "no_figure")
    assert post(client, planned, "layers", layers=40).status_code == 400
    assert code_of(post(client, striped, "layers")) == (409, "stale_version")
    assert code_of(post(client, planned, "layers/sticks", figure="figure-1", layer="nope")) == (422, "no_such_layer")
    assert code_of(post(client, planned, "layers/accent", spot="nope")) == (404, "no_spot")
    row = planned["document"]["layers"][0]
    twice = post(client, planned, "layers/take", figure="figure-1", layers=[row, row])
    assert code_of(twice) == (422, "same_id")
    assert code_of(post(client, planned, "layers/plans", figure="figure-1", method="none"))[1] == "unknown_method"
    locked = [row | {"recipe": {"passes": []}, "locked": True} for row in planned["document"]["spots"]]
    assert save(client, opened(client, planned), planned["document"] | {"spots": locked}).status_code == 200
    now = opened(client, planned)
    assert code_of(post(client, now, "layers")) == (422, "all_locked")
    assert opened(client, planned) == now


def test_layers_that_have_lost_their_stick_are_named_and_the_piece_opens(client: APIClient, planned: Json) -> None:
    layer = planned["document"]["layers"][0]
    changes = {f"layers/{layer['id']}/stick": "Z99"}
    body = {"version": planned["version"], "changes": changes, "known": ""}
    assert client.patch(f"/api/pieces/{planned['id']}", body, format="json").status_code == 200
    said = client.get(f"/api/pieces/{planned['id']}/layers").json()
    assert any("Z99" in figure["trouble"] for figure in said["figures"])
    mapped = post(client, planned, "layers/maps").json()["figures"]
    assert all(bool(row["trouble"]) != bool(row["maps"]) for row in mapped)
    now = opened(client, planned)
    assert any("Z99" in row["outcome"]["trouble"] for row in now["found"]["spots"].values())
    assert post(client, now, "layers", layers=2).status_code == 200


@pytest.fixture
def painted(client: APIClient, planned: Json) -> Json:
    """The same with all of the picture painted in as the skin of the first figure."""
    points = [[x, y] for y in (0.2, 0.5, 0.8) for x in (0.1, 0.4, 0.6, 0.9)]
    strokes = [{"add": True, "radius": 0.2, "points": points}]
    body = {"version": planned["version"], "changes": {"figures/figure-1/strokes": strokes}, "known": ""}
    assert client.patch(f"/api/pieces/{planned['id']}", body, format="json").status_code == 200
    return opened(client, planned)


def test_a_piece_has_its_maps_as_it_wants_them(client: APIClient, painted: Json, artist: User) -> None:
    usual = post(client, painted, "layers/maps").json()["figures"][0]
    assert usual["maps"] == post(client, painted, "layers/maps", areas="drawn", doses=3).json()["figures"][0]["maps"]
    body = {"version": painted["version"], "changes": {"maps/areas": "named", "maps/doses": 2}, "known": ""}
    changed = client.patch(f"/api/pieces/{painted['id']}", body, format="json").json()
    assert changed["keys"]["layers"] != painted["keys"]["layers"]
    assert changed["keys"]["palette"] == painted["keys"]["palette"]
    wanted = post(client, painted, "layers/maps").json()["figures"][0]
    assert all(row["where"] and len(row["doses"]) <= 2 for row in wanted["layers"])
    # What is asked for goes before what the piece has.
    again = post(client, painted, "layers/maps", areas="drawn", doses=3).json()["figures"][0]
    assert again["maps"] == usual["maps"] and not any(row["where"] for row in again["layers"])
    # The sheet says the names too.
    printed = plan_of(artist, open_piece(artist, UUID(painted["id"])), False)
    for row in wanted["layers"]:
        called = [part["area"] for part in row["where"]]
        said = [" ".join(layer.areas) for layer in printed.layers]
        assert any(all(area in one for area in called) for one in said), called
    for part in ("areas", "doses", "least_mm2"):
        body = {"version": changed["version"], "changes": {f"maps/{part}": "no way"}, "known": ""}
        refused = client.patch(f"/api/pieces/{painted['id']}", body, format="json")
        assert refused.status_code == 400 and part in refused.json()["errors"][0]["field"]


def test_layers_have_maps_and_the_picture_after_each_of_them(client: APIClient, painted: Json) -> None:
    address = f"/api/pieces/{painted['id']}/layers"
    first, second = post(client, painted, "layers/maps", doses=2, least_mm2=20).json()["figures"]
    assert 0 < first["mean"] <= first["p90"]
    assert second["trouble"].startswith("Too little skin")
    mine = [row["id"] for row in painted["document"]["layers"] if "spot-1" in row["levels"]]
    assert [row["layer"] for row in first["layers"]] == mine
    assert all(1 <= len(row["doses"]) <= 2 for row in first["layers"])

    def pixels(what: str, **query: Any) -> np.ndarray:
        answer = client.get(f"{address}/{what}", {"maps": first["maps"], **query})
        kind = "image/webp" if what == "map" else "image/jpeg"  # lines weigh less as the former
        assert (answer.status_code, answer["Content-Type"]) == (200, kind)
        return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(float)

    after = pixels("picture", muted=0)
    bare = pixels("picture", muted=0, upto=0)
    target = np.repeat(np.repeat(np.array([STRIPES]), 24, axis=1), 80, axis=0)
    assert after.shape == target.shape
    inside = np.s_[10:70, 5:91]
    assert np.abs(after - target)[inside].mean() < np.abs(bare - target)[inside].mean() / 2
    grey = pixels("picture", values=1)
    assert np.abs(grey[..., 0] - grey[..., 2]).max() < 3
    shown = pixels("map", layer=mine[-1])
    assert shown.std() > 5
    assert pixels("picture", size=1800).shape == after.shape

    # In areas that have names, every one is laid evenly.
    named = post(client, painted, "layers/maps", areas="named").json()["figures"][0]
    assert all(row["where"] for row in named["layers"])
    assert all(
        1 <= dose <= len(row["doses"]) for row in named["layers"] for dose in (part["dose"] for part in row["where"])
    )
    assert all(
        "light" in part["area"] or "shadow" in part["area"] or "tones" in part["area"]
        for row in named["layers"]
        for part in row["where"]
    )

    # What the maps say of the spots makes recipes that give what the picture shows there.
    read = {f"layers/{row['layer']}/levels": row["levels"] for row in first["layers"]}
    assert all(levels.keys() == {f"spot-{i}" for i in range(4)} for levels in read.values())
    body = {"version": painted["version"], "changes": read, "known": ""}
    assert client.patch(f"/api/pieces/{painted['id']}", body, format="json").status_code == 200
    painted = opened(client, painted)
    for i in range(4):
        (*_, last) = painted["found"]["spots"][f"spot-{i}"]["outcome"]["steps"]
        promised = [int(last["after"]["hex"][k : k + 2], 16) for k in (1, 3, 5)]
        assert np.abs(after[40, 12 + 24 * i] - promised).max() < 8

    # Another stick in a layer is shown with the maps as they are.
    body = {"version": painted["version"], "changes": {f"layers/{mine[0]}/stick": "G66"}, "known": ""}
    assert client.patch(f"/api/pieces/{painted['id']}", body, format="json").status_code == 200
    assert np.abs(pixels("picture", muted=0) - after).max() > 10


def test_maps_that_are_not_there_and_limits_are_said(client: APIClient, painted: Json, other: APIClient) -> None:
    address = f"/api/pieces/{painted['id']}/layers"
    assert post(client, painted, "layers/maps", doses=40).status_code == 400
    assert post(client, painted, "layers/maps", least_mm2=0).status_code == 400
    for name in ("", "figure-1.nothing", "figure-9.x", "x" * 300):
        assert code_of(client.get(f"{address}/picture", {"maps": name})) == (404, "no_maps")
        assert code_of(client.get(f"{address}/map", {"maps": name, "layer": "a"})) == (404, "no_maps")
    assert client.get(f"{address}/picture", {"upto": "many"}).status_code == 422
    assert other.get(f"{address}/picture", {"maps": "figure-1.x"}).status_code == 404
    assert other.post(f"{address}/maps", {}, format="json").status_code == 404


def test_nobody_elses_layers_are_seen(other: APIClient, planned: Json) -> None:
    assert other.get(f"/api/pieces/{planned['id']}/layers").status_code == 404
    bodies: dict[str, Json] = {
        "layers": {"version": 1},
        "layers/plans": {"figure": "figure-1"},
        "layers/take": {"version": 1, "figure": "figure-1", "layers": []},
        "layers/fitted": {"figure": "figure-1"},
        "layers/accent": {"spot": "spot-1"},
        "layers/sticks": {"figure": "figure-1", "layer": "a"},
    }
    for what, body in bodies.items():
        assert other.post(f"/api/pieces/{planned['id']}/{what}", body, format="json").status_code == 404
