"""Pieces on papers of one's own, in several media, with grain."""

from __future__ import annotations

from uuid import UUID

import numpy as np
import pytest
from django.contrib.auth.models import User
from PIL import Image, ImageDraw
from rest_framework.test import APIClient

from core.colour.difference import ciede2000
from core.colour.spaces import hex_to_lab
from core.optics.stick import Kept
from core.tray.editing import put
from server.materials import services as materials
from tests.conftest import picture_bytes
from tests.server.conftest import Json, save, upload
from tests.server.materials.test_materials import PAPER
from tools.site import seen


@pytest.fixture
def mixed_tray(artist: User, tray_id: str) -> str:
    tray = materials.get_tray(artist, UUID(tray_id))
    held = materials.with_everything(tray)
    for range_id in ("ebb-24", "lantern-16"):
        held = put(held, [(stick, Kept()) for stick in materials.get_range(range_id).sticks])
    materials.store_sticks(tray, held)
    tray.save()
    return tray_id


def with_passes(piece: Json, *passes: tuple[str, str, str]) -> Json:
    rows = [{"stick": s, "pressure": p, "repeats": 1, "technique": t} for s, p, t in passes]
    first, *rest = piece["document"]["spots"]
    return piece["document"] | {"spots": [first | {"recipe": {"passes": rows}}, *rest]}


def outcome(piece: Json) -> Json:
    return seen(piece)[0]["outcome"]


def test_pencil_over_marker_with_white_and_liner_is_worked_out(client: APIClient, piece: Json, mixed_tray: str) -> None:
    stack = [("E013", "light", "lay"), ("G30", "light", "lay"), ("putty", "light", "lift"), ("N01", "heavy", "lay")]
    said = outcome(save(client, piece, with_passes(piece, *stack)).json())
    assert said["trouble"] == ""
    assert len(said["steps"]) == 4
    assert said["steps"][3]["after"]["value"] > said["steps"][2]["after"]["value"] + 1
    assert len(said["grain"]) == 8


def test_what_does_not_hold_is_said_in_one_sentence_and_kept(client: APIClient, piece: Json, mixed_tray: str) -> None:
    answer = save(client, piece, with_passes(piece, ("G30", "light", "lay"), ("E013", "light", "lay")))
    assert answer.status_code == 200
    assert "does not hold over" in outcome(answer.json())["trouble"]


def test_the_work_sheet_speaks_of_each_pass_and_warns_of_each_medium(
    client: APIClient, piece: Json, mixed_tray: str
) -> None:
    save(client, piece, with_passes(piece, ("E013", "light", "lay"), ("G30", "medium", "lay"), ("N01", "heavy", "lay")))
    sheet = client.get(f"/api/pieces/{piece['id']}/sheet").json()
    assert [job["manner"] for row in sheet["pick_ups"] for job in row["jobs"]] == [
        "one coat, let it dry", "medium, once over", "heavy, once over",
    ]  # fmt: skip
    assert len(sheet["cautions"]) == 3
    assert any("solvent" in text for text in sheet["cautions"])


def test_a_piece_on_a_paper_of_ones_own_outlives_the_paper(client: APIClient, piece: Json, other: APIClient) -> None:
    paper = client.post("/api/papers", PAPER, format="json").json()
    setup = piece["document"]["setup"] | {"paper": paper["id"]}
    made = save(client, piece, with_passes(piece, ("G30", "light", "lay")) | {"setup": setup}).json()
    assert outcome(made)["paper"]["lab"] == pytest.approx(PAPER["lab"], abs=0.05)
    client.delete(f"/api/papers/{paper['id']}")
    left = client.get(f"/api/pieces/{piece['id']}").json()
    assert "no paper" in outcome(left)["trouble"]
    renamed = save(client, left, left["document"], title="Renamed")
    assert renamed.status_code == 200
    theirs = other.post("/api/papers", PAPER, format="json").json()
    stolen = save(client, renamed.json(), left["document"] | {"setup": setup | {"paper": theirs["id"]}})
    assert stolen.json()["errors"][0]["code"] == "unknown_paper"


TAN = "#ad977c"


def photograph() -> bytes:
    """A tan paper beside a white sheet, under a yellow lamp that gives half the light."""
    lamp = np.array([0.62, 0.52, 0.38])
    image = Image.new("RGB", (200, 100), (20, 20, 20))
    draw = ImageDraw.Draw(image)
    for box, linear in (((10, 10, 90, 90), (0.42, 0.31, 0.20)), ((110, 10, 190, 90), (0.87, 0.87, 0.87))):
        seen = np.array(linear) * lamp
        draw.rectangle(box, fill=tuple(int(v) for v in np.round(255 * (1.055 * seen ** (1 / 2.4) - 0.055))))
    return picture_bytes(np.asarray(image))


def test_a_photographed_paper_is_read_beside_white_whatever_the_lamp(client: APIClient, other: APIClient) -> None:
    picture = upload(client, photograph()).json()["id"]
    body = {"paper": {"x": 0.25, "y": 0.5, "radius": 0.05}, "white": {"x": 0.75, "y": 0.5, "radius": 0.05}}
    said = client.post(f"/api/pictures/{picture}/patch", body, format="json").json()
    assert ciede2000(said["lab"], hex_to_lab(TAN)) < 1.5
    assert other.post(f"/api/pictures/{picture}/patch", body, format="json").status_code == 404
    body["white"]["x"] = 0.5
    refused = client.post(f"/api/pictures/{picture}/patch", body, format="json")
    assert refused.json()["errors"][0]["code"] == "too_dark_to_balance"
