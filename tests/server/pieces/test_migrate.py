"""Documents of every version load; what no version knows is refused by its path."""

from __future__ import annotations

import copy
import io
import json
import sqlite3
import zipfile
import zlib
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from rest_framework.test import APIClient

from core.errors import ConflictError
from server.api.values import encode
from server.pieces.document.migrate import migrate, schema_of, work_in
from server.pieces.document.schema import SCHEMA, Document, empty_document
from server.pieces.document.soundness import read
from server.pieces.models import Piece
from tests.conftest import ROOT
from tests.server.conftest import Json, save

WRITTEN_BY = {"0.1": 1, "0.2": 2, "0.3": 2, "0.4": 3, "0.5": 4, "0.8": 5, "0.15": 7, "0.17": 8, "0.25": 9}
EMPTY = encode(Document, empty_document())


def document_of(version: str, folder: Path) -> Json:
    """The latest document in the folder that a version left."""
    with zipfile.ZipFile(ROOT / f"tests/folders/{version}.zip") as packed:
        packed.extractall(folder)
    with closing(sqlite3.connect(folder / "caltin.sqlite3")) as database:
        row = database.execute("SELECT document FROM pieces_revision ORDER BY position DESC").fetchone()
    found: Json = json.loads(zlib.decompress(row[0]) if isinstance(row[0], bytes) else row[0])
    return found


@pytest.mark.parametrize("version", WRITTEN_BY)
def test_a_document_of_every_version_is_brought_to_the_present_schema(version: str, tmp_path: Path) -> None:
    old = document_of(version, tmp_path)
    before = copy.deepcopy(old)
    new = migrate(old)
    assert old == before  # steps are pure
    assert (schema_of(old), new["schema"]) == (WRITTEN_BY[version], SCHEMA)
    assert new.keys() == EMPTY.keys()
    assert new["setup"].keys() == EMPTY["setup"].keys()
    assert all(figure.keys() == EMPTY["figures"][0].keys() for figure in new["figures"])
    for was, spot in zip(old["spots"], new["spots"], strict=True):
        assert {key: was[key] for key in spot if key in was and key != "recipe"}.items() <= spot.items()
        assert spot["recipe"].keys() == {"passes"}
        for laid, row in zip(was["recipe"]["passes"], spot["recipe"]["passes"], strict=True):
            assert row == {"locked": False, **laid}
    if WRITTEN_BY[version] < 5:  # since then what was done on paper lies outside
        assert list(work_in(old)["notes"].values()) == ["twice, lightly"]
    decoded, said = read(old)
    assert (encode(Document, decoded), said) == (new, [])
    assert migrate(new) == new


def test_a_way_of_drawing_maps_that_is_none_gives_way_to_the_usual_one() -> None:
    stored = copy.deepcopy(EMPTY) | {"maps": {"areas": "spread", "doses": 2, "least_mm2": 0}}
    document, said = read(stored)
    assert (document.maps.areas, document.maps.doses, document.maps.least_mm2) == ("drawn", 2, 30.0)
    assert set(said) == {"How maps are drawn was none; the usual way stands in its place."}


def test_every_document_and_every_file_says_its_schema(client: APIClient, piece: Json) -> None:
    assert piece["document"]["schema"] == SCHEMA
    data = b"".join(client.get(f"/api/pieces/{piece['id']}/file?history=1").streaming_content)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        states = json.loads(archive.read("pieces/0001/history.json"))["states"]
    assert [state["document"]["schema"] for state in states] == [SCHEMA] * 2


def test_a_page_of_the_version_before_can_still_save_with_its_ticks(client: APIClient, piece: Json) -> None:
    old = copy.deepcopy(piece["document"]) | {"schema": 4, "work": {"done": {"p1": "done"}, "notes": {"p2": "hm"}}}
    old["sheet"] = old.pop("format")
    old["setup"]["kept"] = old["setup"].pop("must_use")
    old["spots"][0]["name"] = "kept by an older page"
    saved = save(client, piece, old)
    assert saved.status_code == 200
    assert saved.json()["document"]["spots"][0]["name"] == "kept by an older page"
    assert saved.json()["document"]["schema"] == SCHEMA
    assert client.get(f"/api/pieces/{piece['id']}").json()["work"] == old["work"]


def test_what_a_newer_version_wrote_is_refused_and_nothing_is_changed(client: APIClient, piece: Json) -> None:
    with pytest.raises(ConflictError):
        migrate({"schema": SCHEMA + 1})
    refused = save(client, piece, piece["document"] | {"schema": SCHEMA + 1})
    assert refused.status_code == 409
    assert refused.json()["errors"][0]["code"] == "newer_document"
    assert Piece.objects.get().version == piece["version"]


@pytest.mark.parametrize("number", [0, -1, "four", 4.5, None, True])
def test_a_number_that_no_schema_has_is_refused(number: Any, client: APIClient, piece: Json) -> None:
    refused = save(client, piece, piece["document"] | {"schema": number})
    assert refused.status_code == 400
    assert refused.json()["errors"][0]["field"] == "document.schema"


@pytest.mark.parametrize(
    ("path", "field"),
    [
        ((), "document.colour"),
        (("setup",), "document.setup.colour"),
        (("spots", 1), "document.spots[1].colour"),
        (("figures", 0), "document.figures[0].colour"),
        (("format",), "document.format.colour"),
    ],
)
def test_a_key_that_nobody_knows_is_refused_by_its_path(
    path: tuple[Any, ...], field: str, client: APIClient, piece: Json
) -> None:
    document = copy.deepcopy(piece["document"])
    place: Any = document
    for step in path:
        place = place[step]
    place["colour"] = "red"
    body = {"version": piece["version"], "title": "a", "document": document}
    refused = client.put(f"/api/pieces/{piece['id']}", body, format="json")
    assert refused.status_code == 400
    assert [row["field"] for row in refused.json()["errors"]] == [field]
