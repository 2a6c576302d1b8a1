"""Answers, palettes, ramps, neighbours and the forecast over HTTP; what is kept when mixing anew."""

from __future__ import annotations

import io
import json
from typing import Any

import numpy as np
import pytest
from PIL import Image
from rest_framework.test import APIClient

from tests.conftest import ROOT
from tests.server.conftest import Json, only_tray, save, spot, upload, written
from tools.site import seen


def ask(client: APIClient, piece: Json, what: str, body: Json | None = None) -> Any:
    address = f"/api/pieces/{piece['id']}/{what}"
    return client.get(address) if body is None else client.post(address, body, format="json")


def mix(client: APIClient, piece: Json, *spots: str) -> Any:
    return written(client, piece, "solve", spots=list(spots))


@pytest.fixture
def portrait(client: APIClient, tray_id: str) -> Json:
    """A made-up head with four spots, mixed."""
    folder = ROOT / "demo/references"
    picture = upload(client, (folder / "tavi.jpg").read_bytes(), "a.jpg").json()["id"]
    rows = json.loads((folder / "tavi.json").read_text())["spots"][:6]
    made = client.post("/api/pieces", {"title": "Head"}, format="json").json()
    keys = ("name", "place", "role", "x", "y", "radius")
    spots = [spot(i) | {key: row[key] for key in keys} for i, row in enumerate(rows)]
    document = made["document"] | {"picture": picture, "tray": tray_id, "spots": spots}
    return mix(client, save(client, made, document).json()).json()


def passes(piece: Json, number: int = 0) -> list[Json]:
    return [
        {key: row[key] for key in ("stick", "pressure", "repeats", "technique")}
        for row in piece["document"]["spots"][number]["recipe"]["passes"]
    ]


def edit(client: APIClient, piece: Json, number: int = 0, **change: Any) -> Json:
    spots = [dict(row) for row in piece["document"]["spots"]]
    spots[number] |= change
    return save(client, piece, piece["document"] | {"spots": spots}).json()


def setup(client: APIClient, piece: Json, **change: Any) -> Json:
    return save(client, piece, piece["document"] | {"setup": piece["document"]["setup"] | change}).json()


def test_a_kept_recipe_is_not_mixed_anew_and_all_kept_is_said(client: APIClient, portrait: Json) -> None:
    hand = [{"stick": "G66", "pressure": "light", "repeats": 1, "technique": "lay"}]
    changed = edit(client, portrait, recipe={"passes": hand}, locked=True)
    again = mix(client, changed).json()
    assert passes(again) == hand
    assert again["document"]["spots"][0]["locked"] is True
    first = again["document"]["spots"][0]["id"]
    refused = mix(client, again, first)
    assert refused.json()["errors"][0]["code"] == "all_locked"
    assert ask(client, again, "").status_code in (200, 404)
    assert client.get(f"/api/pieces/{again['id']}").json()["version"] == again["version"]


def test_a_kept_pass_stays_with_its_id_and_its_tick(client: APIClient, portrait: Json) -> None:
    held = {"id": "mine", "stick": "G66", "pressure": "light", "repeats": 1, "technique": "lay", "locked": True}
    changed = edit(client, portrait, 2, recipe={"passes": [held]})
    ask(client, changed, "work", {"passes": {"mine": {"state": "done"}}})
    again = mix(client, changed).json()
    rows = again["document"]["spots"][2]["recipe"]["passes"]
    assert [row["id"] for row in rows if row["stick"] == "G66"] == ["mine"]
    assert next(row for row in rows if row["id"] == "mine")["locked"] is True
    assert again["work"]["done"] == {"mine": "done"}


def test_a_kept_pass_that_the_search_does_not_lay_stays_on_top(client: APIClient, portrait: Json) -> None:
    burnished = {"stick": "G03", "pressure": "heavy", "repeats": 1, "technique": "burnish", "locked": True}
    kept = edit(client, portrait, 2, recipe={"passes": [burnished]})
    again = mix(client, kept, "spot-2").json()
    recipe = again["document"]["spots"][2]["recipe"]
    assert recipe["passes"][-1] == kept["document"]["spots"][2]["recipe"]["passes"][0]
    assert len(recipe["passes"]) > 1
    assert seen(again)[2]["outcome"]["delta_e"] < seen(kept)[2]["outcome"]["delta_e"]


def test_recipes_end_as_the_method_allows_and_other_answers_do_too(client: APIClient, portrait: Json) -> None:
    schools = {row["id"]: row["finishes"] for row in client.get("/api/materials").json()["methods"]}
    assert [row["id"] for row in schools["darks_first"]] == ["layer", "burnish"]
    ended = setup(client, portrait, finish="burnish")
    mixed = mix(client, ended).json()
    assert all(passes(mixed, i)[-1]["technique"] == "burnish" for i in range(6) if passes(mixed, i))
    said = ask(client, mixed, "answers", {"spot": "spot-1"}).json()
    assert all(row["passes"][-1]["technique"] == "burnish" for row in said)
    document = mixed["document"]
    refused = save(client, mixed, document | {"setup": document["setup"] | {"finish": "wet"}})
    assert refused.json()["errors"][0]["code"] == "method_does_not_finish"
    assert client.get(f"/api/pieces/{mixed['id']}").json()["version"] == mixed["version"]


def test_one_undo_takes_all_mixing_back(client: APIClient, portrait: Json) -> None:
    changed = setup(client, portrait, banned=[passes(portrait)[0]["stick"]])
    for names in (["spot-0", "spot-1"], ["spot-2", "spot-3"]):
        assert ask(client, changed, "prepare", {"spots": names}).json() == {"done": 2}
    again = mix(client, changed).json()
    assert passes(again) != passes(changed)
    back = written(client, again, "undo").json()
    assert passes(back) == passes(changed)


def test_answers_are_several_recipes_and_nothing_is_stored(client: APIClient, portrait: Json) -> None:
    said = ask(client, portrait, "answers", {"spot": "spot-2"}).json()
    assert said[0]["kind"] == "closest"
    assert 1 <= len(said) <= 3
    assert all(row["outcome"]["trouble"] == "" and row["passes"] for row in said)
    assert client.get(f"/api/pieces/{portrait['id']}").json()["version"] == portrait["version"]
    assert ask(client, portrait, "answers", {"spot": "none"}).status_code == 404


def test_every_recipe_says_why(portrait: Json) -> None:
    for row in seen(portrait):
        assert row["outcome"]["why"].endswith(".")


def test_a_figure_has_base_departures_and_a_ramp_with_grain(client: APIClient, portrait: Json) -> None:
    said = ask(client, portrait, "figures").json()
    (figure,) = said["figures"]
    assert figure["base"] in {row["id"] for row in portrait["document"]["spots"]}
    assert figure["departures"]
    values = [rung["swatch"]["value"] for rung in figure["ramp"]["rungs"]]
    assert values == sorted(values)
    assert all(len(rung["grain"]) == 8 for rung in figure["ramp"]["rungs"])
    assert len(said["stages"]) == 2


def test_a_palette_of_a_size_or_within_a_tolerance_and_what_to_buy(client: APIClient, portrait: Json) -> None:
    five = ask(client, portrait, "palette", {"size": 5}).json()
    assert len(five["sticks"]) == 5
    assert five["mean"] >= five["mean_of_all"]
    owned = {row["code"] for row in only_tray(client)["sticks"]}
    assert not {row["code"] for row in five["buy"]} & owned
    gains = [row["gain"] for row in five["buy"]]
    assert gains == sorted(gains, reverse=True)
    fewest = ask(client, portrait, "palette", {"within": 3.0}).json()
    more = ask(client, portrait, "palette", {"within": 0.5}).json()
    assert len(fewest["sticks"]) <= len(more["sticks"])
    kept = setup(client, portrait, must_use=["G66"])
    assert "G66" in {row["code"] for row in ask(client, kept, "palette", {"size": 3}).json()["sticks"]}


@pytest.mark.parametrize(
    ("body", "status", "code"),
    [
        ({"size": 60}, 422, "bad_palette"),
        ({"size": 1}, 422, "bad_palette"),
        ({}, 422, "size_or_within"),
        ({"size": 4, "within": 1}, 422, "size_or_within"),
        ({"size": "many"}, 400, ""),
    ],
)
def test_a_palette_that_cannot_be_is_refused(
    body: Json, status: int, code: str, client: APIClient, portrait: Json
) -> None:
    answer = ask(client, portrait, "palette", body)
    assert answer.status_code == status
    assert not code or answer.json()["errors"][0]["code"] == code


def test_wishes_that_break_the_method_keep_the_last_good_state(client: APIClient, portrait: Json) -> None:
    changed = setup(client, portrait, must_use=["G72"], black="avoid", max_sticks=4)
    refused = mix(client, changed)
    assert refused.json()["errors"][0]["code"] == "must_use_breaks_method"
    assert passes(client.get(f"/api/pieces/{portrait['id']}").json()) == passes(portrait)
    both = save(client, changed, changed["document"] | {"setup": changed["document"]["setup"] | {"banned": ["G72"]}})
    assert both.json()["errors"][0]["code"] == "must_use_and_banned"


def test_a_missing_stick_is_mixed_from_the_tray(client: APIClient, portrait: Json) -> None:
    said = ask(client, portrait, "missing", {"code": "L30"}).json()
    assert said["passes"]
    assert said["outcome"]["delta_e"] < 6
    assert ask(client, portrait, "missing", {"code": "none"}).status_code == 404


def test_neighbours_are_read_from_the_reference(client: APIClient, portrait: Json) -> None:
    near = {"id": "hair", "name": "hair", "x": 0.5, "y": 0.1, "radius": 0.01}
    changed = save(client, portrait, portrait["document"] | {"surroundings": [near]}).json()
    said = ask(client, changed, "context", {"spot": "spot-1"}).json()
    assert [row["id"] for row in said] == ["paper", "grey", "hair"]
    assert all(row["words"].startswith("looks") for row in said)
    too_many = [near | {"id": f"n{i}"} for i in range(7)]
    assert save(client, changed, portrait["document"] | {"surroundings": too_many}).status_code == 400


def picture_of(answer: Any) -> np.ndarray:
    assert answer["Content-Type"] == "image/jpeg"
    return np.asarray(Image.open(io.BytesIO(answer.content)), dtype=float)


def test_the_forecast_is_drawn_whole_in_stages_and_in_values(client: APIClient, portrait: Json) -> None:
    whole = picture_of(ask(client, portrait, "forecast"))
    first = picture_of(ask(client, portrait, "forecast?stage=0"))
    greys = picture_of(ask(client, portrait, "forecast?values=1"))
    as_is = picture_of(ask(client, portrait, "forecast?muted=0"))
    assert np.abs(whole - first).mean() > 2
    assert np.abs(greys[..., 0] - greys[..., 2]).max() <= 6
    assert np.abs(whole - as_is).mean() > 2
    refused = ask(client, portrait, "forecast?stage=9")
    assert refused.json()["errors"][0]["code"] == "bad_stage"


def test_without_recipes_there_is_no_forecast(client: APIClient, piece: Json) -> None:
    assert ask(client, piece, "forecast").json()["errors"][0]["code"] == "nothing_mixed"


@pytest.mark.parametrize(
    ("what", "body"),
    [
        ("prepare", {"spots": []}), ("answers", {"spot": "spot-1"}), ("figures", None), ("palette", {"size": 4}),
        ("missing", {"code": "G30"}), ("context", {"spot": "spot-1"}), ("forecast", None),
    ],
)  # fmt: skip
def test_nobody_else_sees_any_of_it(what: str, body: Json | None, other: APIClient, portrait: Json) -> None:
    assert ask(other, portrait, what, body).status_code == 404


def test_compressing_moves_every_target_and_clipping_none(client: APIClient, portrait: Json) -> None:
    def wanted(piece: Json) -> list[float]:
        return [row["outcome"]["target"]["value"] for row in seen(piece)]

    read = [row["reading"]["swatch"]["value"] for row in seen(portrait)]
    assert wanted(portrait) == read
    drawn = setup(client, portrait, fit="compress", paper="cool-mid-grey", medium="pencil")
    assert sorted(range(6), key=wanted(drawn).__getitem__) == sorted(range(6), key=read.__getitem__)
