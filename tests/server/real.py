"""A real server on a data folder of its own, and visitors without a browser."""

from __future__ import annotations

import http.cookiejar
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

from tests.conftest import ROOT

Json = dict[str, Any]


def environment(data: Path, **more: str) -> dict[str, str]:
    return os.environ | {"CALTIN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"} | more


def manage(data: Path, *arguments: object, before: Sequence[str] = ()) -> subprocess.CompletedProcess[str]:
    command = [*before, sys.executable, "manage.py", *map(str, arguments)]
    return subprocess.run(command, cwd=ROOT, env=environment(data), capture_output=True, text=True, check=False)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Answer(NamedTuple):
    status: int
    body: bytes
    headers: Any

    @property
    def json(self) -> Any:
        return json.loads(self.body)

    @property
    def code(self) -> str:
        """The code of the first error in the envelope."""
        return str(self.json["errors"][0]["code"])


class Server:
    """A server that runs; `kill` ends it as a power cut would."""

    def __init__(self, data: Path, before: Sequence[str] = ()) -> None:
        port = free_port()
        self.data, self.address = data, f"http://127.0.0.1:{port}"
        command = [*before, sys.executable, "-m", "gunicorn", "--config", "server/gunicorn_conf.py", "server.wsgi"]
        self.process = subprocess.Popen(
            command,
            cwd=ROOT,
            env=environment(data, CALTIN_PORT=str(port)),
            start_new_session=True,
            stderr=subprocess.PIPE,
            text=True,
        )

    def wait(self) -> Server:
        for _ in range(300):
            if self.process.poll() is not None:
                raise AssertionError(self.process.communicate()[1])
            try:
                urllib.request.urlopen(f"{self.address}/api/session").close()
                return self
            except urllib.error.HTTPError:
                return self
            except OSError:
                time.sleep(0.1)
        raise TimeoutError

    def kill(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.communicate()


@contextmanager
def running(data: Path, before: Sequence[str] = ()) -> Iterator[Server]:
    server = Server(data, before)
    try:
        yield server.wait()
    finally:
        server.kill()


class Visitor:
    """A browser's cookies, without the browser."""

    def __init__(self, server: Server) -> None:
        self.address = server.address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.ask("/")

    @classmethod
    def signed_in(cls, server: Server, name: str = "demo") -> Visitor:
        visitor, link = cls(server), manage(server.data, "entrylink", name).stdout.strip()
        answer = visitor.ask("/api/session/link", {"token": link.rpartition("/")[2]})
        assert answer.status == 200, answer.body
        return visitor

    def ask(self, path: str, body: object = None, method: str = "", **headers: str) -> Answer:
        """An answer of whatever status; bytes are sent as they are, anything else as JSON."""
        token = next((c.value for c in self.jar if c.name == "csrftoken"), "") or ""
        data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            self.address + path,
            data=data,
            headers={"Content-Type": "application/json", "X-CSRFToken": token} | headers,
            method=method or ("GET" if body is None else "POST"),
        )
        try:
            with self.opener.open(request) as answer:
                return Answer(answer.status, answer.read(), answer.headers)
        except urllib.error.HTTPError as error:
            return Answer(error.code, error.read(), error.headers)

    def upload(self, data: bytes) -> Answer:
        form = b'--x\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\n' + data + b"\r\n--x--\r\n"
        return self.ask("/api/pictures", form, **{"Content-Type": "multipart/form-data; boundary=x"})


def to_send(piece: Json, **change: Any) -> Json:
    """A piece as a browser sends it: without what the server works out."""
    document = piece["document"]
    spots = [
        {key: value for key, value in row.items() if key not in ("reading", "temperature", "beyond")}
        | {"recipe": row["recipe"] and {"passes": row["recipe"]["passes"]}}
        for row in document["spots"]
    ]
    held = {"version": piece["version"], "title": piece["title"], "document": document | {"spots": spots}}
    return held | change
