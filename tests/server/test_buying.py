"""What to buy for one's pieces over HTTP, the cheapest way to it, and what runs out first."""

from typing import Any

from rest_framework.test import APIClient

from core.method.steps import tick_of
from tests.server.conftest import only_tray, save

Json = dict[str, Any]


def ask(client: APIClient, address: str, body: Json, status: int = 200) -> Json:
    answer = client.post(address, body, format="json")
    while answer.status_code == 202:
        answer = client.post(address, body, format="json")
    assert answer.status_code == status, answer.content
    held: Json = answer.json()
    return held


def test_what_would_help_is_named_in_order_with_what_it_brings_and_costs(
    client: APIClient, other: APIClient, tray_id: str, piece: Json
) -> None:
    address = f"/api/trays/{tray_id}/to-buy"
    advice = ask(client, address, {"count": 3})
    (wanted,) = advice["pieces"]
    assert (wanted["id"], wanted["title"]) == (piece["id"], "Test")
    owned = {stick["code"] for stick in only_tray(client)["sticks"]}
    assert advice["sticks"] and not owned & {row["stick"]["code"] for row in advice["sticks"]}
    after = [wanted["off"], *(row["after"][0] for row in advice["sticks"])]
    assert after == sorted(after, reverse=True)
    assert all(row["stick"]["price"] > 0 for row in advice["sticks"])
    assert all(0 <= one["used"] <= one["size"] for one in advice["sets"])
    assert ask(client, address, {"medium": "marker"})["pieces"] == []

    sticks = [{"place": row["stick"]["place"], "code": row["stick"]["code"]} for row in advice["sticks"]]
    best = ask(client, f"/api/trays/{tray_id}/cheapest", {"sticks": sticks})
    assert 0 < best["total"] <= best["alone"]
    # Everything of a range is cheapest as its set.
    all_of = [{"place": "Gangway 36", "code": f"G{i:02d}"} for i in (1, 3, 5, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26)]
    all_of += [{"place": "Gangway 36", "code": f"G{i}"} for i in range(28, 73, 2)]
    whole = ask(client, f"/api/trays/{tray_id}/cheapest", {"sticks": all_of})
    assert [one["name"] for one in whole["sets"]] == ["All 36"] and whole["singles"] == []
    assert whole["total"] < whole["alone"]
    none = ask(client, f"/api/trays/{tray_id}/cheapest", {"sticks": [{"place": "x", "code": "y"}]}, 404)
    assert none["errors"][0]["code"] == "no_stick"
    for part, body in (("to-buy", {}), ("cheapest", {"sticks": sticks})):
        assert other.post(f"/api/trays/{tray_id}/{part}", body, format="json").status_code == 404
    assert other.get(f"/api/trays/{tray_id}/runs-out").status_code == 404


def test_what_plans_still_ask_for_is_told_the_scarcest_first(client: APIClient, tray_id: str, piece: Json) -> None:
    address = f"/api/trays/{tray_id}/runs-out"
    assert client.get(address).json() == []
    first, second = (stick["code"] for stick in only_tray(client)["sticks"][3:5])
    level = {"pressure": "heavy", "repeats": 2, "flicked": False}
    lies = {"spot-1": level, "spot-2": level}
    layers = [
        {"id": "layer-1", "stick": first, "levels": {"spot-1": level}, "technique": "lay", "locked": False},
        {"id": "layer-2", "stick": second, "levels": lies, "technique": "lay", "locked": False},
    ]
    save(client, piece, piece["document"] | {"layers": layers})
    rows = client.get(address).json()
    assert [row["code"] for row in rows] == [second, first]
    assert rows[0]["cm2"] == 2 * rows[1]["cm2"] > 0
    # Ticked at one of its two places it asks for half, ticked as a whole for nothing.
    work = f"/api/pieces/{piece['id']}/work"
    client.post(work, {"passes": {tick_of("layer-2", "spot-1"): {"state": "done"}}}, format="json")
    assert [row["cm2"] for row in client.get(address).json()] == [rows[1]["cm2"]] * 2
    client.post(work, {"passes": {"layer-2": {"state": "done"}}}, format="json")
    assert [row["code"] for row in client.get(address).json()] == [first]
    change = {"codes": [first], "change": {"condition": "low"}}
    client.patch(f"/api/trays/{tray_id}/sticks", change, format="json")
    assert client.get(address).json()[0]["times"] < rows[1]["times"]
