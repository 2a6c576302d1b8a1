"""Trial cards over HTTP: made for a piece, printed, filled by a nature of other physics, read, and taken back."""

import json
from dataclasses import replace
from typing import Any
from uuid import UUID

import numpy as np
import pypdfium2
from django.core.management import call_command
from rest_framework.test import APIClient

from core.exchange.card_json import read_card_json
from core.optics.support import get_support
from core.recipe.recipe import MODEL
from server.materials import services as materials
from server.pictures.services import get_picture
from server.pieces.document.history import document_of, new_piece
from server.pieces.document.schema import Document, Level, PlannedLayer
from server.pieces.mix.laid_out import kit_for, owned_by
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
    pdf = client.get(f"/api/cards/{card['id']}/sheet").content
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
    pdf = client.get(f"/api/cards/{card['id']}/sheet")
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


def test_cards_and_what_they_taught_go_with_their_paper_for_good(client: APIClient, artist: Any, tray_id: str) -> None:
    own = {"name": "Old card", "lab": [88.0, 2.0, 10.0], "tooth": 0.3, "coats": 9, "media": ["pencil"]}
    paper = client.post("/api/papers", own, format="json").json()["id"]
    of = {"tray_id": tray_id, "medium": "pencil"}
    for held in (paper, "smooth-white"):
        TrialCard.objects.create(owner=artist, paper=held, number=1, card={}, foreseen=[], **of)
        Calibration.objects.create(paper=held, boxes=12, fits={}, lab=[90, 0, 0], touch={}, doubt=4.0, **of)
    assert client.delete(f"/api/papers/{paper}").status_code == 204
    assert client.delete(f"/api/removed/{paper}").status_code == 204
    assert [card.paper for card in TrialCard.objects.all()] == ["smooth-white"]
    assert [row.paper for row in Calibration.objects.all()] == ["smooth-white"]


def test_plans_are_made_with_what_cards_have_shown(client: APIClient, artist: Any, piece: Json) -> None:
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
    number = next(box["number"] for box in card["boxes"] if code not in box["sticks"])
    again = client.patch(f"/api/card-photos/{photo}", {"left_out": [number]}, format="json")
    assert again.status_code == 200
    assert trials(client, piece)["learnt"]["boxes"] < 15


def test_what_cannot_be_is_refused_and_what_was_learnt_is_kept(
    client: APIClient, artist: Any, piece: Json, picture_id: str
) -> None:
    demo_card(client, artist, piece, picture_id)
    before = trials(client, piece)
    learnt, (card,) = before["learnt"], before["cards"]
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
        ("get", f"cards/{card.pk}/sheet", None), ("delete", f"cards/{card.pk}", None),
        ("post", f"cards/{card.pk}/photos", {"picture": photo["picture"]}),
        ("patch", f"card-photos/{photo['id']}", {"left_out": []}), ("delete", f"card-photos/{photo['id']}", None),
    ):  # fmt: skip
        assert getattr(other, method)(f"/api/{address}", body, format="json").status_code == 404
    assert trials(client, piece)["learnt"]["words"] == held["calibration"]["words"]


def demo_card(client: APIClient, artist: Any, piece: Json, picture_id: str) -> Json:
    """A card that was read, and what it taught, on the range that it is of; its photograph as it is shown."""
    held = json.loads((ROOT / "demo/cards/morning-relief.json").read_text())
    tray = materials.get_tray(artist, piece["document"]["tray"])
    keep_filled(artist, tray, "Test", get_picture(artist, UUID(picture_id)), held)
    photo: Json = trials(client, piece)["cards"][0]["photos"][0]
    return photo


def test_sticks_of_boxes_that_are_liked_are_preferred_and_nothing_is_learnt_anew(
    client: APIClient, artist: Any, piece: Json, picture_id: str
) -> None:
    photo = demo_card(client, artist, piece, picture_id)
    card = trials(client, piece)["cards"][0]
    document = document_of(artist, piece["id"])
    held = Calibration.objects.count()
    seen = client.patch(f"/api/card-photos/{photo['id']}", {"liked": [2, 60]}, format="json").json()
    assert [box["number"] for box in seen["boxes"] if box["liked"]] == [2]
    liked = {stick.code for stick in owned_by(artist, document).sticks if stick.fit.liked}
    assert liked == set(card["boxes"][1]["sticks"])
    client.patch(f"/api/card-photos/{photo['id']}", {"left_out": []}, format="json")
    assert trials(client, piece)["cards"][0]["photos"][0]["boxes"][1]["liked"]
    client.patch(f"/api/card-photos/{photo['id']}", {"liked": []}, format="json")
    assert not any(stick.fit.liked for stick in owned_by(artist, document).sticks)
    assert Calibration.objects.count() == held


def test_a_stick_and_all_boxes_are_taken_back_and_taken_in_again(
    client: APIClient, artist: Any, piece: Json, picture_id: str
) -> None:
    photo = demo_card(client, artist, piece, picture_id)
    before = trials(client, piece)
    stick = before["learnt"]["sticks"][0]
    holding = [box["number"] for box in before["cards"][0]["boxes"] if stick in box["sticks"]]
    address = f"/api/pieces/{piece['id']}/cards/taken-back"
    without = client.post(address, {"stick": stick}, format="json").json()
    left_out = [box["number"] for box in without["cards"][0]["photos"][0]["boxes"] if not box["learnt"]]
    assert left_out == holding and stick not in without["learnt"]["sticks"]
    assert [row["boxes"] for row in without["learnt"]["history"]] == [48, 48 - len(holding)]
    nothing = client.post(address, {}, format="json").json()
    assert nothing["learnt"] is None and nothing["doubt"] == nothing["untried"]
    client.patch(f"/api/card-photos/{photo['id']}", {"left_out": []}, format="json")
    assert trials(client, piece)["learnt"]["boxes"] == 48


def test_what_another_model_learnt_is_learnt_anew_when_the_data_are_made_ready(
    client: APIClient, artist: Any, piece: Json, picture_id: str
) -> None:
    demo_card(client, artist, piece, picture_id)
    Calibration.objects.update(model=MODEL - 1)
    call_command("relearn")
    assert [row.model for row in Calibration.objects.all()] == [MODEL - 1, MODEL]
    call_command("relearn")
    assert Calibration.objects.count() == 2 and trials(client, piece)["learnt"]["boxes"] == 48
    # What a server that ended did not come to learn is learnt at the next start.
    Calibration.objects.all().delete()
    call_command("relearn")
    assert [row.boxes for row in Calibration.objects.all()] == [48]
    # On a paper that is gone nothing is known any more.
    Calibration.objects.update(model=MODEL - 1, paper="gone")
    TrialCard.objects.update(paper="gone")
    call_command("relearn")
    assert Calibration.objects.order_by("made").last().boxes == 0  # type: ignore[union-attr]


def test_other_pieces_with_the_same_sticks_on_the_same_paper_are_named(
    client: APIClient, artist: Any, piece: Json, picture_id: str
) -> None:
    demo_card(client, artist, piece, picture_id)
    assert trials(client, piece)["pieces"] == []
    other = new_piece(artist, "Second", layered(document_of(artist, piece["id"])))
    assert trials(client, piece)["pieces"] == [{"id": str(other.piece.pk), "title": "Second"}]
    assert trials(client, {"id": other.piece.pk})["pieces"] == []


def layered(document: Document) -> Document:
    """With a layer."""
    spot = document.spots[0]
    layer = PlannedLayer("l1", "G16", {spot.id: Level("light", 1)})
    return replace(document, layers=(layer,))


def test_crosses_say_what_shows_through(client: APIClient, piece: Json) -> None:
    card = make(client, piece, kind="crosses")
    photo = put(client, card, photo_of(client, card))
    crossed = [box["crossed"] for box in photo["boxes"] if card["boxes"][box["number"] - 1]["bare"]]
    assert crossed and set(crossed) <= {"shows", "ghost", "gone", ""}
