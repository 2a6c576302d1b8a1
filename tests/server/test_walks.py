"""Boxes and pieces changed, undone and done again by chance, against lists of what they were."""

import random
from collections.abc import Callable
from typing import Any

import pytest
from rest_framework.test import APIClient

from tests.server.conftest import only_tray, save, spot, written

Json = dict[str, Any]
STEPS = 25


class Walk:
    """What something was, state by state, and where in it one stands."""

    def __init__(self, state: object) -> None:
        self.states, self.at = [state], 0

    def now(self) -> object:
        return self.states[self.at]

    def put(self, state: object) -> None:
        """What is the same as before is no step; a new one ends what could have been done again."""
        if state != self.now():
            self.states = [*self.states[: self.at + 1], state]
            self.at += 1

    def step(self, by: int) -> bool:
        """Whether one can go so far."""
        if not 0 <= self.at + by < len(self.states):
            return False
        self.at += by
        return True


def box_as_told(client: APIClient) -> object:
    tray = only_tray(client)
    return tray["name"], tray["per_row"], tray["sticks"]


@pytest.mark.parametrize("seed", range(3))
def test_a_box_is_always_as_it_was(seed: int, client: APIClient, tray_id: str) -> None:
    pick, walk = random.Random(seed), Walk(box_as_told(client))

    def change(number: int) -> tuple[str, str, Json]:
        codes = [stick["code"] for stick in only_tray(client)["sticks"]]
        some = pick.sample(codes, min(len(codes), pick.randint(1, 3)))
        new = {"code": f"N{number}", "name": f"new {number}", "medium": "pencil", "hex": "#8a4b2f", "source": "guessed"}
        ways: list[tuple[str, str, Json]] = [
            ("sticks", "post", {"sticks": [new]}),
            ("sticks", "patch", {"codes": some, "change": {"condition": pick.choice(["low", "good"])}}),
            ("sticks", "patch", {"codes": some[:1], "change": {"note": f"note {number}"}}),
            ("away", "post", {"codes": some[: max(0, len(codes) - 2)] or some[:1]}),
            ("order", "put", {"codes": pick.sample(codes, len(codes))}),
            ("", "patch", {"name": f"Box {pick.randint(0, 2)}", "per_row": pick.choice([6, 12, 24])}),
        ]
        return pick.choice(ways)

    for number in range(STEPS):
        way = pick.choice(["change", "change", "undo", "redo"])
        if way == "change":
            part, method, body = change(number)
            answer = getattr(client, method)(f"/api/trays/{tray_id}/{part}".rstrip("/"), body, format="json")
            assert answer.status_code in (200, 422), answer.content
            if answer.status_code == 200:
                walk.put(box_as_told(client))
        else:
            went = walk.step(-1 if way == "undo" else 1)
            answer = client.post(f"/api/trays/{tray_id}/{way}")
            assert (answer.status_code == 200) == went, answer.content
        assert box_as_told(client) == walk.now()
    assert len(walk.states) > 4


def edits(pick: random.Random, number: int) -> Callable[[Json], Json]:
    """A change of a document: a spot named, put in, taken out or turned round, or the finish."""

    def edited(document: Json) -> Json:
        spots = document["spots"]
        what = pick.randrange(5)
        if what == 0 and spots:
            one = pick.randrange(len(spots))
            spots = [row | {"name": f"name {pick.randint(0, 2)}"} if i == one else row for i, row in enumerate(spots)]
        elif what == 1:
            spots = [*spots, spot(number + 10, x=0.4)]
        elif what == 2 and spots:
            spots = [row for row in spots if row is not spots[-1]]
        elif what == 3:
            spots = spots[::-1]
        else:
            return document | {"setup": document["setup"] | {"finish": pick.choice(["layer", "burnish"])}}
        return document | {"spots": spots}

    return edited


@pytest.mark.parametrize("seed", range(3))
def test_a_piece_is_always_as_it_was(seed: int, client: APIClient, piece: Json) -> None:
    pick = random.Random(100 + seed)
    first = written(client, piece, "undo").json()
    walk, now = Walk(first["document"]), written(client, first, "redo").json()
    walk.put(piece["document"])
    for number in range(STEPS):
        way = pick.choice(["change", "change", "undo", "redo"])
        if way == "change":
            answer = save(client, now, edits(pick, number)(now["document"]))
            assert answer.status_code == 200, answer.content
            walk.put(answer.json()["document"])
        else:
            went = walk.step(-1 if way == "undo" else 1)
            answer = written(client, now, way)
            assert (answer.status_code == 200) == went, answer.content
        now = client.get(f"/api/pieces/{piece['id']}").json()
        assert now["document"] == walk.now()
        assert (now["can_undo"], now["can_redo"]) == (walk.at > 0, walk.at < len(walk.states) - 1)
    assert len(walk.states) > 4
