"""Long work in a process of its own: told how far it is, shared, given up, begun anew when it was lost."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from rest_framework.test import APIClient

from core.errors import InputError
from server.api import jobs as module
from server.api.jobs import Jobs, Lane, Step, Underway
from tests.server.conftest import Json, written
from tests.server.test_buying import ask
from tests.steps import deadly, priority, said, wrong

pytestmark = pytest.mark.xdist_group("faults")


@pytest.fixture(scope="module")
def apart() -> Iterator[Jobs]:
    """A queue with its process."""
    queue = Jobs()
    queue.start()
    yield queue
    queue.stop()


def finished(ask: Callable[[], Any], within: float = 30.0) -> Any:
    """What asking again and again gives in the end."""
    end = time.monotonic() + within
    while time.monotonic() < end:
        try:
            return ask()
        except Underway:
            time.sleep(0.02)
    raise TimeoutError


def test_work_is_done_elsewhere_and_behind_everything_else(apart: Jobs) -> None:
    ((pid, nice),) = finished(lambda: apart.do("priority", [Step(priority, ())]))
    assert pid != os.getpid()
    assert nice == 19


def test_pictures_have_a_process_of_their_own(apart: Jobs, tmp_path: Path) -> None:
    ((planning, _),) = finished(lambda: apart.do("who plans", [Step(priority, ())]))
    with pytest.raises(Underway):
        apart.do("long", [Step(said, (str(tmp_path / "trace"), "x", 2.0))])
    looking, nice = apart.wait("who looks", Step(priority, ()))
    assert looking != planning
    assert nice == 5
    with pytest.raises(Underway):
        apart.do("long", [Step(said, (str(tmp_path / "trace"), "x", 2.0))])
    apart.cancel("long")


def test_a_short_job_does_not_wait_for_a_long_one_to_end(apart: Jobs, tmp_path: Path) -> None:
    file = str(tmp_path / "trace")
    with pytest.raises(Underway):
        apart.do("long", [Step(said, (file, letter, 0.3)) for letter in "abcdefghij"])
    assert apart.wait("short", Step(said, (file, "!", 0.0)), Lane.PLANS) == "!"
    assert finished(lambda: apart.do("long", [Step(said, (file, letter, 0.3)) for letter in "abcdefghij"]))
    trace = Path(file).read_text()
    assert sorted(trace) == sorted("!abcdefghij")
    assert trace.index("!") <= 5


def test_waiting_ends_with_what_the_step_raises(apart: Jobs) -> None:
    with pytest.raises(InputError) as refused:
        apart.wait("wrong", Step(wrong, ()))
    assert refused.value.code == "no_such_thing"


def test_who_asks_hears_how_far_it_is_and_equal_questions_are_one_job(apart: Jobs, tmp_path: Path) -> None:
    file = str(tmp_path / "trace")
    steps = [Step(said, (file, letter, 0.5)) for letter in "abc"]
    heard = []
    for _ in range(2):
        with pytest.raises(Underway) as underway:
            apart.do("slow", steps)
        heard.append((underway.value.done, underway.value.total))
    assert heard[0] <= heard[1]
    assert heard[1][1] == 3
    assert finished(lambda: apart.do("slow", steps)) == ["a", "b", "c"]
    assert Path(file).read_text() == "abc"


def test_what_a_step_refuses_is_said_whole(apart: Jobs) -> None:
    with pytest.raises(InputError) as refused:
        finished(lambda: apart.do("wrong", [Step(priority, ()), Step(wrong, ())]))
    assert (refused.value.code, refused.value.hint, refused.value.field) == ("no_such_thing", "Take another.", "thing")


def test_what_nobody_asks_for_any_more_is_given_up(
    apart: Jobs, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = str(tmp_path / "trace")
    steps = [Step(said, (file, letter, 0.6)) for letter in "abcdefghijkl"]
    with pytest.raises(Underway):
        apart.do("left", steps)
    monkeypatch.setattr(module, "GIVEN_UP_AFTER_S", 0.1)
    apart._jobs["left"].asked -= 60
    end = time.monotonic() + 20
    while "left" in apart._jobs and time.monotonic() < end:
        time.sleep(0.05)
    assert "left" not in apart._jobs
    monkeypatch.undo()
    assert finished(lambda: apart.do("next", [Step(said, (file, "!"))])) == ["!"]
    assert len(Path(file).read_text()) < 12
    with pytest.raises(Underway):
        apart.do("cancelled", steps)
    apart.cancel("cancelled")
    assert "cancelled" not in apart._jobs


def test_a_job_lost_with_its_process_is_begun_anew(apart: Jobs, tmp_path: Path) -> None:
    file = str(tmp_path / "trace")
    ((pid, _),) = finished(lambda: apart.do("who", [Step(priority, ())]))
    steps = [Step(said, (file, "x", 0.6))]
    with pytest.raises(Underway):
        apart.do("lost", steps)
    os.kill(pid, signal.SIGKILL)
    assert finished(lambda: apart.do("lost", steps)) == ["x"]
    ((other, _),) = finished(lambda: apart.do("who", [Step(priority, ())]))
    assert other != pid


def test_a_job_that_ends_its_process_every_time_is_not_begun_for_ever(apart: Jobs) -> None:
    with pytest.raises(RuntimeError, match="ends its process"):
        finished(lambda: apart.do("deadly", [Step(deadly, ())]))
    assert finished(lambda: apart.do("who", [Step(priority, ())]))


def test_a_piece_is_mixed_by_asking_again(
    client: APIClient, piece: Json, apart: Jobs, monkeypatch: pytest.MonkeyPatch
) -> None:
    for place in ("services", "views", "advice"):
        monkeypatch.setattr(f"server.pieces.mix.{place}.jobs", apart)
    assert client.get("/api/jobs/none").json() == {"done": 0, "total": 0}
    assert client.delete("/api/jobs/none").status_code == 204
    monkeypatch.setattr(module, "PATIENCE_S", 0.0)
    setup = piece["document"]["setup"] | {"max_passes": 3}
    address = f"/api/pieces/{piece['id']}"
    document = piece["document"] | {"setup": setup}
    body = {"version": piece["version"], "title": "T", "document": document}
    piece = client.put(address, body, format="json").json()
    answers = []
    end = time.monotonic() + 60
    while time.monotonic() < end:
        answers.append(written(client, piece, "solve", spots=[], key="once"))
        if answers[-1].status_code != 202:
            break
        job = f"/api/jobs/{answers[-1].json()['underway']['job']}"
        while (progress := client.get(job).json())["done"] < progress["total"]:
            time.sleep(0.02)
    assert len(answers) > 1
    underway = answers[0].json()["underway"]
    assert (underway["done"], underway["total"]) == (0, 1)
    assert answers[-1].status_code == 200
    assert all(spot["recipe"] for spot in answers[-1].json()["document"]["spots"])
    assert answers[-1].json()["version"] == piece["version"] + 1


def test_a_card_is_read_by_asking_again(
    client: APIClient, piece: Json, picture_id: str, apart: Jobs, monkeypatch: pytest.MonkeyPatch
) -> None:
    card = ask(client, f"/api/pieces/{piece['id']}/cards", {"size": "A5", "boxes": 6}, 201)
    monkeypatch.setattr("server.trials.services.jobs", apart)
    monkeypatch.setattr(module, "PATIENCE_S", 0.0)
    address = f"/api/cards/{card['id']}/photos"
    first = client.post(address, {"picture": picture_id}, format="json")
    assert first.status_code == 202 and first.json()["underway"]["total"] > 10
    monkeypatch.setattr(module, "PATIENCE_S", 20.0)
    # No card is to be seen in it.
    again = client.post(address, {"picture": picture_id}, format="json")
    assert (again.status_code, again.json()["errors"][0]["code"]) == (422, "no_card")
