"""What must survive: a killed server, a backup and its restoring, the demo loaded twice."""

import json
import os
import signal
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from rest_framework.test import APIClient

from server.pieces.models import Piece
from tests.conftest import ROOT

PORT = 8179


def manage(data: Path, *arguments: object) -> subprocess.CompletedProcess[str]:
    environment = os.environ | {"CALTIN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"}
    command = [sys.executable, "manage.py", *map(str, arguments)]
    return subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)


class Visitor:
    """A signed-in browser's cookies, without the browser."""

    def __init__(self, address: str, link: str) -> None:
        import http.cookiejar

        self.address = address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.opener.open(link).read()

    def ask(self, path: str, body: object = None, method: str = "GET") -> dict:
        token = next((c.value for c in self.jar if c.name == "csrftoken"), "")
        request = urllib.request.Request(
            self.address + path,
            data=json.dumps(body).encode() if body is not None else None,
            headers={"Content-Type": "application/json", "X-CSRFToken": token or ""},
            method=method,
        )
        return json.loads(self.opener.open(request).read())


def serve(data: Path) -> subprocess.Popen[bytes]:
    environment = os.environ | {"CALTIN_DATA": str(data)}
    command = [sys.executable, "-m", "gunicorn", "server.wsgi", "--bind", f"127.0.0.1:{PORT}", "--threads", "2"]
    command += ["--log-level", "error", "--no-control-socket"]
    server = subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True)
    for _ in range(100):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/session").close()
            return server
        except OSError:
            time.sleep(0.1)
    raise TimeoutError


def kill(server: subprocess.Popen[bytes]) -> None:
    os.killpg(server.pid, signal.SIGKILL)
    server.wait()


def test_what_was_saved_survives_kill_9_and_goes_through_backup_and_restore(tmp_path: Path) -> None:
    data, address = tmp_path / "data", f"http://127.0.0.1:{PORT}"
    assert manage(data, "migrate", "--verbosity", 0).returncode == 0
    assert manage(data, "loaddemo", "demo").returncode == 0
    server = serve(data)
    try:
        visitor = Visitor(address, manage(data, "entrylink", "demo", "--address", address).stdout.strip())
        piece = visitor.ask(f"/api/pieces/{visitor.ask('/api/pieces')[0]['id']}")
        spots = [
            {k: v for k, v in s.items() if k not in ("reading", "temperature")}
            | {"recipe": {"passes": s["recipe"]["passes"]}}
            for s in piece["document"]["spots"]
        ]
        spots[0]["name"] = "just before the lights went out"
        body = {"version": piece["version"], "title": piece["title"], "document": piece["document"] | {"spots": spots}}
        saved = visitor.ask(f"/api/pieces/{piece['id']}", body, "PUT")
    finally:
        kill(server)

    archive, restored = tmp_path / "backup.zip", tmp_path / "restored"
    assert manage(data, "backup", archive).returncode == 0
    assert manage(restored, "restore", archive).returncode == 0
    again = manage(restored, "restore", archive)
    assert again.returncode != 0
    assert "Nothing was changed" in again.stderr
    for folder in (data, restored):
        server = serve(folder)
        try:
            visitor = Visitor(address, manage(folder, "entrylink", "demo", "--address", address).stdout.strip())
            assert visitor.ask(f"/api/pieces/{piece['id']}") == saved
            picture = visitor.opener.open(f"{address}/api/pictures/{saved['document']['picture']}").read()
            assert picture.startswith(b"\xff\xd8")
        finally:
            kill(server)


@pytest.mark.parametrize("content", [b"no zip at all", None])
def test_only_a_backup_is_restored(content: bytes | None, tmp_path: Path) -> None:
    import zipfile

    file = tmp_path / "x.zip"
    if content is None:
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr("caltin.sqlite3", b"")
            archive.writestr("../outside", b"")
    else:
        file.write_bytes(content)
    done = manage(tmp_path / "data", "restore", file)
    assert done.returncode != 0
    assert not (tmp_path / "outside").exists()
    assert not (tmp_path / "data/caltin.sqlite3").exists()


def test_the_demo_is_loaded_once_and_is_solved(db: None) -> None:
    for _ in range(2):
        call_command("loaddemo", "demo")
    assert Piece.objects.count() == 2
    client = APIClient()
    client.force_authenticate(User.objects.get(username="demo"))
    assert len(client.get("/api/trays").json()) == 6
    for row in client.get("/api/pieces").json():
        piece = client.get(f"/api/pieces/{row['id']}").json()
        by_figure = {figure["id"]: 0 for figure in piece["document"]["figures"]}
        for spot in piece["document"]["spots"]:
            by_figure[spot["figure"]] += 1
            outcome = spot["recipe"]["outcome"]
            assert outcome["trouble"] == ""
            # Good recipes deserve no caution; two accents of the darkest shade lie beyond what pencils reach.
            assert {caution["code"] for caution in outcome["cautions"]} <= {"too_dark_for_tray"}
            assert not outcome["cautions"] or outcome["target"]["value"] < piece["reach"]["darkest"]
        assert len(by_figure) == 2
        assert min(by_figure.values()) >= 12
