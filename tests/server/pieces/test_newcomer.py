"""A medium that was put in a moment ago is everywhere: from what there is to choose from to a recipe and a sheet."""

from __future__ import annotations

import pytest
from rest_framework.test import APIClient

from tests.newcomer import a_medium
from tests.server.conftest import Json, save, written
from tools.site import seen

STICKS = "code,name,medium,hex,opacity\n" + "".join(
    f"w{i},{name},water_pencil,{code},semi\n"
    for i, (name, code) in enumerate(
        {"sand": "#d9b48f", "clay": "#b0754f", "peat": "#4a3226", "bone": "#f2e6d4", "brick": "#9c4a34"}.items()
    )
)


def test_from_the_materials_to_a_recipe_and_the_sheet(
    client: APIClient, piece: Json, monkeypatch: pytest.MonkeyPatch
) -> None:
    medium_id = a_medium(monkeypatch)
    materials = client.get("/api/materials").json()
    (medium,) = [row for row in materials["media"] if row["id"] == medium_id]
    assert (medium["usual_paper"], medium["usual_method"], medium["over"]) == ("medium-white", "washes", ["marker"])
    tray = client.post("/api/trays", {"name": "Washes", "csv": STICKS}, format="json").json()
    setup = {"medium": medium_id, "paper": medium["usual_paper"], "method": medium["usual_method"], "finish": "layer"}
    document = piece["document"] | {"tray": tray["id"], "setup": piece["document"]["setup"] | setup}
    mixed = written(client, save(client, piece, document).json(), "solve", spots=[]).json()
    for spot in seen(mixed):
        assert spot["outcome"]["trouble"] == ""
        assert spot["outcome"]["delta_e"] < 6
        assert {row["pressure"] for row in spot["recipe"]["passes"]} <= {"light", "medium"}
    address = f"/api/pieces/{piece['id']}"
    sheet = client.get(f"{address}/sheet").json()
    assert sheet["cautions"] == ["Let each wash dry before the next."]
    assert sheet["pick_ups"]
    for part in ("figures", "forecast", "study"):
        assert client.get(f"{address}/{part}").status_code == 200
    assert len(client.post(f"{address}/palette", {"size": 3}, format="json").json()["sticks"]) == 3
