"""Every operation of the schema: its example succeeds, and whatever a fuzzer makes of the schema is answered in its
terms. Signed in, with a fixed seed, each request on the same state."""

from __future__ import annotations

import copy
import functools
import json
import random
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import timedelta
from pathlib import Path
from typing import Any
from urllib.parse import urlencode
from uuid import UUID

import pytest
import schemathesis
from django.contrib.auth.hashers import make_password
from django.contrib.auth.models import User
from django.core.signals import request_finished, request_started
from django.core.wsgi import get_wsgi_application
from django.db import close_old_connections, transaction
from django.test import Client, override_settings
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis.checks import not_a_server_error
from schemathesis.core.parameters import ParameterLocation
from schemathesis.generation.meta import TestPhase
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from core.light.scene import Scene
from core.practice.asked import Question
from core.practice.rounds import Asking, make_round
from core.tray.editing import StickChange
from server.accounts.models import EntryLink
from server.accounts.services import digest_of, get_or_create_artist, sessions_of
from server.api.schema import EXAMPLE_IDS, EXAMPLE_VERSION
from server.api.values import decode, encode
from server.imagined.models import Complexion
from server.materials import boxes
from server.materials import services as materials
from server.materials.models import OwnMethod, Paper, Tray
from server.materials.values import EXAMPLE_METHOD
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces.document import history
from server.pieces.document.schema import Cross, Document, empty_document
from server.pieces.models import Comparison, Piece, Revision
from server.pieces.piece import services as pieces
from server.pieces.piece.values import example_document
from server.practice.models import Practised
from server.sharing.models import SharedPlan
from server.trials.models import CardPhoto, TrialCard
from tests.conftest import ROOT, picture_bytes
from tests.server.conftest import Json, api_schema

EACH = 3
"""How many requests the fuzzer makes up for every operation."""
COVERED, THEN_EVERY = {True: 2, False: 5}, {True: 100, False: 40}
"""Of those in which it goes through all that a schema says, some hundreds where there are many parameters, so many are
sent and then one of so many. The lawful ones (True) may ask for a long computation each, the others end at once."""
LED = 0.85
CSRF = "c" * 32
PASSWORD = make_password("salt-wind-77")
"""Made once: it is meant to take long."""
TOKEN = "Zm9yIHRoZSBleGFtcGxlIG9ubHksIG5ldmVyIG1hZGU"
SCHEMA = api_schema()
IDS = {name: UUID(value) for name, value in EXAMPLE_IDS.items() if name != "range_id"}


application = get_wsgi_application()


def app(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
    """The application, and its schema where the fuzzer looks for it."""
    if environ["PATH_INFO"] == "/schema.json":
        start_response("200 OK", [("Content-Type", "application/json")])
        return [json.dumps(SCHEMA).encode()]
    # The checks read an answer as it comes and unpack nothing.
    environ.pop("HTTP_ACCEPT_ENCODING", None)
    return application(environ, start_response)


schemathesis.openapi.format(
    "uuid", st.sampled_from([*map(str, IDS.values()), *map(str, IDS.values()), str(UUID(int=7))])
)
schemathesis.openapi.format("binary", st.sampled_from([picture_bytes(), b"", b"\xff\xd8\xff no picture"]))
schema = schemathesis.openapi.from_wsgi("/schema.json", app)
# A test of its own sends them.
schema.config.phases.examples.enabled = False


@dataclass(frozen=True)
class Held:
    """Everything that the examples name. pictures: the folder; cookies: of a browser that is signed in."""

    artist: User
    pictures: Path
    cookies: dict[str, str]


@pytest.fixture(scope="module")
def held(django_db_setup: None, django_db_blocker: Any, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Held]:
    """Made once, since every request is taken back."""
    folder = tmp_path_factory.mktemp("pictures")
    # The connection holds a transaction: no request may close it when it is done.
    request_started.disconnect(close_old_connections)
    request_finished.disconnect(close_old_connections)
    with django_db_blocker.unblock(), transaction.atomic():
        with override_settings(PICTURES_DIR=folder):
            artist = everything()
        browser = Client()
        browser.force_login(artist)
        key = browser.cookies["sessionid"].value
        assert len(sessions_of(artist, key)) == 1
        yield Held(artist, folder, {"sessionid": key, "csrftoken": CSRF})
        transaction.set_rollback(True)
    request_started.connect(close_old_connections)
    request_finished.connect(close_old_connections)


@pytest.fixture
def artist(held: Held) -> User:
    return held.artist


@pytest.fixture
def visitor(held: Held, db: None, settings: Any) -> dict[str, str]:
    settings.PICTURES_DIR = held.pictures
    return held.cookies


def everything() -> User:
    """Everything that the examples name; its owner."""
    artist = get_or_create_artist("ines")
    artist.password = PASSWORD
    artist.save()
    EntryLink.objects.create(digest=digest_of(TOKEN), user=artist, expires=timezone.now() + timedelta(hours=1))
    tray = Tray.objects.create(pk=IDS["tray_id"], owner=artist, name="small")
    materials.store_sticks(tray, materials.get_range("small-tray-24"))
    for count in (2, 3):
        boxes.change(artist, tray.pk, ["G48"], StickChange(count=count))
    boxes.undo(artist, tray.pk)
    made = pictures.store_picture(artist, picture_bytes((190, 140, 110)))
    Picture.objects.filter(pk=made.pk).update(id=IDS["picture_id"])
    Paper.objects.create(
        pk=IDS["paper_id"], owner=artist, name="Cream", lab=[94, 0, 6], tooth=0.6, coats=5, media=["pencil"]
    )
    Paper.objects.create(
        pk=IDS["removed_id"], owner=artist, name="Grey", lab=[60, 0, 0], tooth=0.6, coats=5, media=["pencil"],
        removed=timezone.now(),
    )  # fmt: skip
    piece = Piece.objects.create(pk=IDS["piece_id"], owner=artist, title="Lamp trimmer")
    Revision.objects.create(piece=piece, position=0, document=encode(Document, empty_document()))
    document = decode(Document, example_document())
    pieces.write(artist, piece.pk, 1, piece.title, document)
    pieces.write(artist, piece.pk, 2, piece.title, replace(document, cross=Cross(0.5, 0.5)))
    assert history.step(artist, piece.pk, 3, -1).piece.version == EXAMPLE_VERSION
    filled = json.loads((ROOT / "demo/cards/morning-relief.json").read_text())
    row = {key: filled[key] for key in ("medium", "paper", "number", "card", "foreseen")}
    card = TrialCard.objects.create(pk=IDS["card_id"], owner=artist, tray=tray, title="Lamp trimmer", **row)
    # A few of its boxes, so that learning anew is quick.
    photo = filled["photo"] | {part: filled["photo"][part][:4] for part in ("places", "rows")}
    Complexion.objects.create(pk=IDS["complexion_id"], owner=artist, name="Brá", skin={"depth": 44})
    CardPhoto.objects.create(pk=IDS["photo_id"], card=card, picture_id=IDS["picture_id"], **photo)
    inside = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]]
    read = {"lab": [70, 14, 16], "wanted": [60, 18, 22], "spread": 1, "doubt": 2.6, "trouble": "", "x": 0.5, "y": 0.5}
    Comparison.objects.create(
        pk=IDS["comparison_id"], piece=piece, picture_id=IDS["picture_id"], number=1, usual=2.4, mean=10.0,
        corners=[[0, 0], [1, 0], [1, 1], [0, 1]], frame=inside, places={"spot-1": read, "spot-2": read},
    )  # fmt: skip
    made = make_round(Asking((), (), (), (), 0.0, ("value",), ("study head",), 1))
    asked, scene = made.questions[0], encode(Scene, made.scene)
    Practised.objects.create(
        owner=artist, round=IDS["round_id"], number=0, kind="value", group=asked.group,
        question=encode(Question, asked), scene=scene,
    )  # fmt: skip
    OwnMethod.objects.create(pk=IDS["method_id"], owner=artist, name="Loosely", file=EXAMPLE_METHOD)
    SharedPlan.objects.create(
        pk=IDS["link_id"], owner=artist, piece=piece, digest="x", reference=False, page={},
        expires=timezone.now() + timedelta(days=1),
    )  # fmt: skip
    return artist


def varied(case: schemathesis.Case) -> ParameterLocation | None:
    """Where it is that this request differs from the others, if that is known."""
    return getattr(case.meta.phase.data, "parameter_location", None) if case.meta else None


def send(case: schemathesis.Case, visitor: dict[str, str], artist: User) -> Any:
    """The answer, and everything as it was before. Most requests are led to what is there, so that they go deep."""
    if varied(case) is not ParameterLocation.PATH and random.Random(str(case.path_parameters)).random() < LED:
        case.path_parameters |= {name: EXAMPLE_IDS[name] for name in case.path_parameters if name in EXAMPLE_IDS}
    if isinstance(case.body, dict) and isinstance(case.body.get("version"), int) and case.body["version"] % 4:
        case.body["version"] = EXAMPLE_VERSION
    if case.path_parameters.get("session_id") == EXAMPLE_IDS["session_id"]:
        case.path_parameters["session_id"] = sessions_of(artist, None)[0].id
    with transaction.atomic():
        answer = case.call(headers={"X-CSRFToken": CSRF}, cookies=visitor)
        transaction.set_rollback(True)
    return answer


covered: Counter[tuple[str, bool]] = Counter()


def check(case: schemathesis.Case, visitor: dict[str, str], artist: User) -> None:
    if case.meta and case.meta.phase.name is TestPhase.COVERAGE:
        if varied(case) is ParameterLocation.COOKIE:
            return  # the cookies are ours: it would be the same request again
        lawful = case.meta.generation.mode.is_positive
        covered[case.operation.label, lawful] += 1
        if (number := covered[case.operation.label, lawful]) > COVERED[lawful] and number % THEN_EVERY[lawful]:
            return
    answer = send(case, visitor, artist)
    checks = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
    case.validate_response(answer, checks=checks, headers={"X-CSRFToken": CSRF})


WRITE = {"path": "/api/pieces/{piece_id}", "method": "PUT"}
FIXED = settings(deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck))


@schema.exclude(**WRITE).parametrize()
@settings(FIXED, max_examples=EACH)
def test_whatever_is_asked_is_answered_as_the_schema_says(
    case: schemathesis.Case, visitor: dict[str, str], artist: User
) -> None:
    check(case, visitor, artist)


# Whole documents take long to make up; what goes wrong deep inside one is found sooner by the test after this.
whole = schemathesis.openapi.from_wsgi("/schema.json", app)
whole.config.phases.coverage.enabled = False


@whole.include(**WRITE).parametrize()
@settings(FIXED, max_examples=6)
def test_whatever_is_written_is_answered_as_the_schema_says(
    case: schemathesis.Case, visitor: dict[str, str], artist: User
) -> None:
    check(case, visitor, artist)


ODD: list[Any] = [
    None, True, -1, 0, 1, 10**9, 0.5, -0.0, 1e-300, 1e300, "", "x", "\x00", "é" * 300, "G01", "spot-1", "figure-9",
    [], [[]], [0.5, 0.5], [[0.1, 0.1], [0.9, 0.1], [0.5, 0.9]], [[0.1, 0.1]] * 3, {}, {"x": 0.5}, str(IDS["piece_id"]),
    {"x": 1.5, "y": 1.5, "width": 0.1, "height": 0.1}, {"x": 0.5, "y": 0.5, "radius": 0.2}, "shadow", "marker", "deep",
]  # fmt: skip
MISSING = object()


def places_in(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The path of everything inside a JSON value."""
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, held in inner:
        yield (*path, key)
        yield from places_in(held, (*path, key))


def rich_document() -> Json:
    """A document that holds something of every kind."""
    document = example_document()
    place = {"x": 0.3, "y": 0.3, "radius": 0.05}
    document["figures"][0] |= {
        "face": {"x": 0.2, "y": 0.2, "width": 0.4, "height": 0.5},
        "strokes": [{"add": True, "radius": 0.05, "points": [[0.4, 0.4], [0.5, 0.5]]}],
    }
    outlined = document["spots"][0] | {"id": "spot-2", "outline": [[0.2, 0.2], [0.6, 0.2], [0.4, 0.6]], "recipe": None}
    return document | {
        "balance": place,
        "light": {"from_deg": 120.0},
        "grid": {"columns": 4, "rows": 5, "diagonals": True},
        "cross": {"x": 0.5, "y": 0.5},
        "marks": [{"id": "mark-1", "kind": "caliper", "x1": 0.1, "y1": 0.1, "x2": 0.4, "y2": 0.2}],
        "unit": "mark-1",
        "spots": [*document["spots"], outlined],
        "surroundings": [place | {"id": "hair", "name": "hair"}],
    }


@settings(FIXED, max_examples=100)
@given(data=st.data())
def test_a_document_with_something_odd_in_it_is_refused_or_opens(
    data: st.DataObject, visitor: dict[str, str], artist: User
) -> None:
    document = copy.deepcopy(rich_document())
    for _ in range(data.draw(st.integers(0, 2))):
        path = data.draw(st.sampled_from(list(places_in(document))))
        *way, last = path
        parent = functools.reduce(lambda held, key: held[key], way, document)
        odd = data.draw(st.sampled_from([MISSING, *ODD]))
        if odd is MISSING:
            del parent[last]
        else:
            parent[last] = copy.deepcopy(odd)
    browser = Client(headers={"X-CSRFToken": CSRF})
    browser.cookies.load(visitor)
    address, kind = f"/api/pieces/{IDS['piece_id']}", "application/json"
    with transaction.atomic():
        body = {"version": EXAMPLE_VERSION, "title": "Lamp trimmer", "document": document}
        written = browser.put(address, body, content_type=kind)
        assert written.status_code in (200, 400, 404, 422), written.content[:300]
        opened = browser.get(address)
        assert opened.status_code == 200
        assert (opened.json()["version"] > EXAMPLE_VERSION) == (written.status_code == 200)
        if written.status_code == 200:
            for part in (
                "study",
                "transfer/sheet",
                "sheet",
                "figures",
                "layers",
                "view?kind=skin&balanced=1",
                "forecast",
                "around",
            ):
                assert browser.get(f"{address}/{part}").status_code in (200, 422), part
            assert browser.post(f"{address}/suggest").status_code in (200, 422)
        transaction.set_rollback(True)


def test_the_example_of_every_operation_succeeds(visitor: dict[str, str], artist: User) -> None:
    for path, ways in SCHEMA["paths"].items():
        for method, operation in ways.items():
            with transaction.atomic():
                answer = with_example(method, path, operation, visitor, artist)
                if path.endswith(("/layers/picture", "/layers/map")):
                    # Maps have a name only once they are made.
                    assert answer.json()["errors"][0]["code"] == "no_maps"
                elif path.endswith("/stick-list/file"):
                    # It is a picture.
                    assert answer.json()["errors"][0]["code"] == "list_not_text"
                elif path.endswith("/bundles"):
                    assert answer.json()["errors"][0]["code"] == "bad_bundle"
                elif path.endswith("/layers/pictures"):
                    # The example's picture is all of one colour: there may be no skin to draw a map of.
                    assert answer.status_code in (200, 202, 422)
                elif path.endswith("practice/ramps"):
                    assert answer.json()["errors"][0]["code"] == "not_five"
                elif path.endswith("/photos"):
                    # The example's picture is no card.
                    assert answer.json()["errors"][0]["code"] == "no_card"
                else:
                    assert 200 <= answer.status_code < 300, (method, path, answer.content[:500])
                transaction.set_rollback(True)


def with_example(method: str, path: str, operation: Json, visitor: dict[str, str], artist: User) -> Any:
    """The answer to an operation's own example; files come from here."""
    address = path.format(**EXAMPLE_IDS | {"session_id": sessions_of(artist, None)[0].id, "number": "0"})
    query = {
        row["name"]: row["examples"]["Example"]["value"]
        for row in operation.get("parameters", ())
        if row["in"] == "query" and "examples" in row
    }
    address += f"?{urlencode(query)}" if query else ""
    content = operation.get("requestBody", {}).get("content", {})
    kind, body = next(iter(content), "application/json"), b""
    if kind == "multipart/form-data":
        kind += "; boundary=x"
        head = b'--x\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\n'
        body = head + picture_bytes() + b"\r\n--x--\r\n"
    elif content:
        body = json.dumps(content[kind]["examples"]["Example"]["value"]).encode()
    browser = Client(headers={"X-CSRFToken": CSRF}, enforce_csrf_checks=True)
    browser.cookies.load(visitor)
    return browser.generic(method.upper(), address, body, content_type=kind)
