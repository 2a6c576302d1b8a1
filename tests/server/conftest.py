"""Artists, clients and a small piece for the server's tests."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

import pytest
import yaml
from django.contrib.auth.models import User
from rest_framework.test import APIClient

from server.accounts.services import get_or_create_artist
from server.materials import services as materials
from tests.conftest import ROOT, picture_bytes
from tools.site import to_send

Json = dict[str, Any]


@cache
def api_schema() -> Json:
    """The schema of the API as it is committed."""
    loader = getattr(yaml, "CSafeLoader", yaml.SafeLoader)  # the slow one takes three seconds
    schema: Json = yaml.load((ROOT / "server/api/schema.yaml").read_bytes(), loader)
    return schema


@pytest.fixture(autouse=True)
def own_folders(settings: Any, tmp_path: Path) -> None:
    """Pictures, views and counters of each test in a folder of its own; and the front end's files looked for only when
    asked for, since every client looks anew."""
    settings.WHITENOISE_AUTOREFRESH = True
    settings.PICTURES_DIR = tmp_path / "pictures"
    settings.VIEWS_DIR = tmp_path / "views"
    settings.CACHES = {"default": settings.CACHES["default"] | {"LOCATION": str(tmp_path)}}


@pytest.fixture
def artist(db: None) -> User:
    return get_or_create_artist("ines")


@pytest.fixture
def stranger(db: None) -> User:
    return get_or_create_artist("bo")


def client_of(user: User) -> APIClient:
    client = APIClient()
    client.force_authenticate(user)
    return client


@pytest.fixture
def client(artist: User) -> APIClient:
    return client_of(artist)


@pytest.fixture
def other(stranger: User) -> APIClient:
    return client_of(stranger)


@pytest.fixture
def tray_id(artist: User) -> str:
    return str(materials.start_tray(artist, "small", "small-tray-24").pk)


def upload(client: APIClient, data: bytes, name: str = "a.png") -> Any:
    from django.core.files.uploadedfile import SimpleUploadedFile

    return client.post("/api/pictures", {"file": SimpleUploadedFile(name, data)}, format="multipart")


@pytest.fixture
def picture_id(client: APIClient) -> str:
    return str(upload(client, picture_bytes((190, 140, 110))).json()["id"])


def spot(number: int, **change: Any) -> Json:
    return {
        "id": f"spot-{number}",
        "figure": "figure-1",
        "name": f"spot {number}",
        "place": "cheek",
        "role": "middle",
        "x": 0.2 + 0.1 * number,
        "y": 0.5,
        "radius": 0.05,
        "outline": None,
        "recipe": None,
    } | change


@pytest.fixture
def piece(client: APIClient, tray_id: str, picture_id: str) -> Json:
    """A piece with a picture, a tray and two spots, as the server shows it."""
    made = client.post("/api/pieces", {"title": "Test"}, format="json").json()
    document = made["document"] | {"picture": picture_id, "tray": tray_id, "spots": [spot(1), spot(2)]}
    return save(client, made, document).json()


def save(client: APIClient, piece: Json, document: Json, **change: Any) -> Any:
    return client.put(f"/api/pieces/{piece['id']}", to_send(piece, document=document, **change), format="json")


@pytest.fixture
def solved(client: APIClient, piece: Json) -> Json:
    return written(client, piece, "solve", spots=[]).json()


def written(client: APIClient, piece: Json, what: str, **body: Any) -> Any:
    """The piece after an undo, a redo or a mixing; or the refusal."""
    address = f"/api/pieces/{piece['id']}"
    answer = client.post(f"{address}/{what}", {"version": piece["version"]} | body, format="json")
    return client.get(address) if answer.status_code == 200 else answer


def only_tray(client: APIClient) -> Json:
    """Everything in the artist's only tray."""
    (row,) = client.get("/api/trays").json()
    held: Json = client.get(f"/api/trays/{row['id']}").json()
    assert len(held["sticks"]) == row["size"]
    return held


def set_condition(client: APIClient, tray_id: str, code: str, condition: str) -> None:
    """A stick of a tray noted as good, low, dried out or wanted."""
    body = {"codes": [code], "change": {"condition": condition}}
    assert client.patch(f"/api/trays/{tray_id}/sticks", body, format="json").status_code == 200


def settled(ask: Callable[[], Any]) -> Any:
    """The answer once what takes a while is done."""
    while (answer := ask()).status_code == 202:
        time.sleep(0.05)
    return answer
