"""What reaches a real server: addresses and headers that are too long, and two tabs that get in each other's way."""

from __future__ import annotations

import shutil
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.server.conftest import spot
from tools.site import Answer, Json, Server, Visitor, running, to_send


def refused(answer: Answer, status: int, code: str) -> None:
    assert (answer.status, answer.code) == (status, code)
    assert answer.json["errors"][0]["message"]


def a_long_mix(visitor: Visitor, tray: str, picture: str) -> Json:
    """A piece that takes a while to mix: many spots, a large tray of its own."""
    piece = visitor.ask("/api/pieces", {"title": "Long"}).json
    spots = [spot(i, x=0.02 * i + 0.05, y=0.01 * i + 0.1) for i in range(30)]
    document = piece["document"] | {"tray": tray, "picture": picture, "spots": spots}
    saved: Json = visitor.ask(f"/api/pieces/{piece['id']}", to_send(piece | {"document": document}), "PUT").json
    return saved


def mix_meanwhile(visitor: Visitor, piece: Json, meanwhile: Callable[[], None]) -> Answer:
    """Mix, and do something else as soon as it has begun."""
    said: list[Answer] = []
    address = f"/api/pieces/{piece['id']}/solve"
    tab = visitor.beside()
    mixing = threading.Thread(
        target=lambda: said.append(tab.ask_until_done(address, {"version": piece["version"], "spots": []}))
    )
    mixing.start()
    time.sleep(0.05)
    meanwhile()
    mixing.join()
    return said[0]


@pytest.fixture(scope="module")
def server(prepared: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    with running(Path(shutil.copytree(prepared, tmp_path_factory.mktemp("wire") / "data"))) as server:
        yield server


def test_what_is_too_long_is_refused_in_the_envelope(server: Server) -> None:
    refused(Visitor(server).ask("/api/pieces?" + "x" * 9000), 414, "address_too_long")
    refused(Visitor(server).ask("/", Long="x" * 20_000), 431, "headers_too_long")
    refused(Visitor(server).ask("/", Host="elsewhere.example"), 400, "foreign_host")


@pytest.mark.parametrize("kind", ["delete", "undo", "edit"])
def test_what_another_tab_does_while_a_piece_is_mixed_is_said(kind: str, server: Server) -> None:
    visitor = Visitor.signed_in(server)
    picture = visitor.ask(f"/api/pieces/{visitor.ask('/api/pieces').json[-1]['id']}").json["picture"]["id"]
    tray = visitor.ask("/api/trays", {"name": kind, "range": "long-pier-72"}).json["id"]
    # What was worked out for one tray serves every other that holds the same.
    gone = {"delete": "L01", "undo": "L02", "edit": "L03"}[kind]
    visitor.ask(f"/api/trays/{tray}/sticks", {"codes": [gone], "change": {"condition": "dried_out"}}, "PATCH")
    piece = a_long_mix(visitor, tray, picture)
    address = f"/api/pieces/{piece['id']}"

    def meanwhile() -> None:
        if kind == "delete":
            assert visitor.ask(address, method="DELETE").status == 204
            return
        assert visitor.ask(f"{address}/undo", {"version": piece["version"]}).status == 200
        now = visitor.ask(address).json
        if kind == "edit":
            now["document"]["spots"] = [spot(40, x=0.5)]
            assert visitor.ask(address, to_send(now), "PUT").status == 200

    answer = mix_meanwhile(visitor, piece, meanwhile)
    assert answer.status == (404 if kind == "delete" else 409), answer.body[:300]
    if kind != "delete":
        assert answer.json["current"]["version"] > piece["version"]
