"""Trial cards over HTTP: made for a piece, printed, filled by a nature of other physics, read, and taken back."""

import json
from typing import Any
from uuid import UUID

import numpy as np
import pypdfium2
from rest_framework.test import APIClient

from core.exchange.card_json import read_card_json
from core.optics.support import get_support
from server.materials import services as materials
from server.pictures.services import get_picture
from server.trials.models import Calibration, TrialCard
from server.trials.services import keep_filled
from tests.conftest import ROOT
from tests.core.photo.sheets import filled_page
from tests.server.conftest import upload
from tests.server.test_buying import ask
from tools.camera import Camera, photograph
from tools.nature import Nature

Json = dict[str, Any]


def make(client: APIClient, piece: Json, status: int = 201, **body: object) -> Json:
    return ask(client, f"/api/pieces/{piece['id']}/cards", {"size": "A5", "boxes": 16} | body, status)


def trials(client: APIClient, piece: Json) -> Json:
    held: Json = client.get(f"/api/pieces/{piece['id']}/cards").json()
    return held


def photo_of(client: APIClient, card: Json, seed: int = 3, wild: bool = False) -> str:
    """The id of a photograph of the card, filled."""
    from server.materials.services import as_core

    row = TrialCard.objects.get(pk=card["id"])
    held = read_card_json(row.card.encode())
    nature = Nature(seed, as_core(row.tray).sticks, get_support(held.paper))
    labs = [nature.lab(cell.passes, hand=0.15).tolist() for cell in held.card.cells]
    if wild:
        rng = np.random.default_rng(1)
        labs = rng.uniform((10, -50, -50), (85, 50, 50), (len(labs), 3)).tolist()
    pdf = client.get(f"/api/cards/{card['id']}/pdf").content
    xyz, _ = filled_page(pdf, held.card.pages()[0], 0, labs, seed, nature.support.lab)
    return str(
        upload(client, photograph(xyz, Camera(seed, "mild", 0.06, size=(1200, 900)))[0], "card.jpg").json()["id"]
    )


def put(client: APIClient, card: Json, picture: str, status: int = 201, **body: object) -> Json:
    answer = client.post(f"/api/cards/{card['id']}/photos", {"picture": picture} | body, format="json")
    assert answer.status_code == status, answer.content
    held: Json = answer.json()
    return held


def test_a_card_is_made_printed_filled_and_teaches_until_it_is_taken_back(client: APIClient, piece: Json) -> None:
    before = trials(client, piece)
    assert (before["cards"], before["learnt"], before["doubt"]) == ([], None, before["untried"])
    assert "safety sheet" in before["caution"] and {kind["id"] for kind in before["kinds"]} >= {"teach", "crosses"}
    card = make(client, piece)
    assert (card["kind"], len(card["boxes"]), card["pages"], card["title"]) == ("teach", 16, 1, "Test")
    assert card["bands"][1] < card["bands"][0] and all(box["lines"] for box in card["boxes"])
    pdf = client.get(f"/api/cards/{card['id']}/pdf")
    assert pdf["Content-Type"] == "application/pdf" and len(pypdfium2.PdfDocument(pdf.content)) == 1

    photo = put(client, card, photo_of(client, card))
    assert len(photo["boxes"]) == 16 and sum(box["learnt"] for box in photo["boxes"]) >= 12
    after = trials(client, piece)
    assert after["learnt"]["boxes"] == sum(box["learnt"] for box in photo["boxes"])
    assert after["learnt"]["errors"]["after"] < after["learnt"]["errors"]["before"] and after["learnt"]["words"]
    assert after["doubt"] < after["untried"]
    assert after["cards"][0]["photos"][0]["id"] == photo["id"]

    address = f"/api/card-photos/{photo['id']}"
    changed = client.patch(address, {"left_out": [1, 2, 3]}, format="json").json()
    assert [box["learnt"] for box in changed["boxes"][:3]] == [False] * 3
    turned = client.patch(address, {"left_out": [1, 2, 3], "exchange": [5, 6]}, format="json").json()
    assert [turned["boxes"][i]["seen"] for i in (4, 5)] == [photo["boxes"][i]["seen"] for i in (5, 4)]
    back = client.patch(address, {"exchange": [5, 6], "taken_in": [4]}, format="json").json()
    assert [box["seen"] for box in back["boxes"]] == [box["seen"] for box in photo["boxes"]]
    refused = client.patch(address, {"exchange": [5, 5]}, format="json")
    assert (refused.status_code, refused.json()["errors"][0]["code"]) == (422, "no_box")
    client.patch(address, {"left_out": [1, 2, 3]}, format="json")
    assert trials(client, piece)["learnt"]["boxes"] < after["learnt"]["boxes"]
    assert client.delete(f"/api/card-photos/{photo['id']}").status_code == 204
    gone = trials(client, piece)
    assert (gone["learnt"], gone["doubt"], gone["cards"][0]["photos"]) == (None, before["untried"], [])
    assert client.delete(f"/api/cards/{card['id']}").status_code == 204
    assert trials(client, piece)["cards"] == []


def test_plans_are_made_with_what_cards_have_shown(client: APIClient, artist: Any, piece: Json) -> None:
    from server.pieces.document.history import document_of
    from server.pieces.mix.laid_out import kit_for, owned_by

    document = document_of(artist, piece["id"])
    listed = owned_by(artist, document)
    card = make(client, piece)
    put(client, card, photo_of(client, card))
    shown = owned_by(artist, document)
    used = {code for box in card["boxes"] for code in box["sticks"]}
    for old, new in zip(listed.sticks, shown.sticks, strict=True):
        assert old.code == new.code and 0 < new.fit.doubt < 5
        assert (new.fit.strength != 1.0) == (new.code in used)
    assert listed.paper is None and shown.paper is not None and shown.paper.touch("pencil").film != (1, 1, 1)
    assert kit_for(artist, document).sticks == shown.sticks
    # A stick that is gone meanwhile does no harm.
    code = min(used)
    away = f"/api/trays/{piece['document']['tray']}/away"
    assert client.post(away, {"codes": [code]}, format="json").status_code == 200
    assert len(owned_by(artist, document).sticks) == len(shown.sticks) - 1
    photo = trials(client, piece)["cards"][0]["photos"][0]["id"]
    again = client.patch(f"/api/card-photos/{photo}", {"left_out": []}, format="json")
    assert again.status_code == 200
    assert trials(client, piece)["learnt"]["boxes"] < 16


def test_what_cannot_be_is_refused_and_what_was_learnt_is_kept(client: APIClient, piece: Json, picture_id: str) -> None:
    card = make(client, piece)
    put(client, card, photo_of(client, card))
    learnt = trials(client, piece)["learnt"]
    other = make(client, piece, kind="plan")
    assert other["number"] == card["number"] + 1
    for picture, code in ((picture_id, "no_card"), (photo_of(client, other), "another_card")):
        refused = put(client, card, picture, 422)
        assert refused["errors"][0]["code"] == code
    wild = put(client, other, photo_of(client, other, wild=True))
    assert "cannot make" in wild["said"] and not any(box["learnt"] for box in wild["boxes"])
    assert trials(client, piece)["learnt"] == learnt
    make(client, piece, 422, kind="tarot")
    make(client, piece, 400, boxes=0)
    assert Calibration.objects.count() == 1


def test_cards_are_nobody_elses(client: APIClient, other: APIClient, artist: Any, piece: Json, picture_id: str) -> None:
    held = json.loads((ROOT / "demo/cards/morning-relief.json").read_text())
    tray = materials.get_tray(artist, piece["document"]["tray"])
    card = keep_filled(artist, tray, "Test", get_picture(artist, UUID(picture_id)), held)
    photo = trials(client, piece)["cards"][0]["photos"][0]
    for method, address, body in (
        ("get", f"pieces/{piece['id']}/cards", None), ("post", f"pieces/{piece['id']}/cards", {}),
        ("get", f"cards/{card.pk}/pdf", None), ("delete", f"cards/{card.pk}", None),
        ("post", f"cards/{card.pk}/photos", {"picture": photo["picture"]}),
        ("patch", f"card-photos/{photo['id']}", {"left_out": []}), ("delete", f"card-photos/{photo['id']}", None),
    ):  # fmt: skip
        assert getattr(other, method)(f"/api/{address}", body, format="json").status_code == 404
    assert trials(client, piece)["learnt"]["words"] == held["calibration"]["words"]


def test_crosses_say_what_shows_through(client: APIClient, piece: Json) -> None:
    card = make(client, piece, kind="crosses")
    photo = put(client, card, photo_of(client, card))
    crossed = [box["crossed"] for box in photo["boxes"] if card["boxes"][box["number"] - 1]["bare"]]
    assert crossed and set(crossed) <= {"shows", "ghost", "gone", ""}
