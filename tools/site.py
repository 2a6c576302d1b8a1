"""A real server on a data folder of its own, and visitors without a browser: for tests, benches and screenshots."""

from __future__ import annotations

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any, NamedTuple

ROOT = Path(__file__).parents[1]
Json = dict[str, Any]


def manage(data: Path, *arguments: object, before: Sequence[str] = ()) -> subprocess.CompletedProcess[str]:
    """A chore of manage.py on a data folder. before: what the command line begins with."""
    command = [*before, sys.executable, "manage.py", *map(str, arguments)]
    return subprocess.run(command, cwd=ROOT, env=_environment(data), capture_output=True, text=True, check=False)


def link_for(server: Server, name: str) -> str:
    """A one-time sign-in link to a running server."""
    token = manage(server.data, "entrylink", name).stdout.strip().rpartition("/")[2]
    return f"{server.address}/enter/{token}"


def _environment(data: Path, **more: str) -> dict[str, str]:
    return os.environ | {"CALTIN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"} | more


class Answer(NamedTuple):
    """What a server said."""

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
    """A server that runs. before: what its command line begins with."""

    def __init__(self, data: Path, before: Sequence[str] = (), port: int = 0) -> None:
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            probe.bind(("127.0.0.1", port))
            self.port = int(probe.getsockname()[1])
        # Not a pipe: one that nobody reads fills up and stops the server.
        self._said = tempfile.TemporaryFile()  # noqa: SIM115  # closed with the server
        self.data, self.address = data, f"http://127.0.0.1:{self.port}"
        command = [*before, sys.executable, "-m", "gunicorn", "--config", "server/gunicorn_conf.py", "server.wsgi"]
        self.process = subprocess.Popen(
            command,
            cwd=ROOT,
            env=_environment(data, CALTIN_PORT=str(self.port)),
            start_new_session=True,
            stderr=self._said,
        )

    def wait(self) -> Server:
        """Until it answers. Raises RuntimeError with what it said when it ends instead."""
        for _ in range(300):
            if self.process.poll() is not None:
                self._said.seek(0)
                raise RuntimeError(self._said.read().decode())
            try:
                with socket.create_connection(("127.0.0.1", self.port)):
                    Visitor(self).ask("/api/session")
                    return self
            except OSError:
                time.sleep(0.1)
        raise TimeoutError

    def kill(self) -> None:
        """End it as a power cut would."""
        with suppress(ProcessLookupError):
            os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()
        self._said.close()


@contextmanager
def running(data: Path, before: Sequence[str] = ()) -> Iterator[Server]:
    """A server on a prepared data folder, killed afterwards."""
    server = Server(data, before)
    try:
        yield server.wait()
    finally:
        server.kill()


@contextmanager
def demo_server() -> Iterator[Server]:
    """A server with fresh demo data."""
    with tempfile.TemporaryDirectory() as folder:
        for chore in (["prepare"], ["loaddemo", "demo"]):
            done = manage(Path(folder), *chore)
            if done.returncode:
                raise RuntimeError(done.stderr)
        with running(Path(folder)) as server:
            yield server


class Visitor:
    """A browser's cookies and one kept connection, without the browser."""

    def __init__(self, server: Server) -> None:
        self._port, self._cookies = server.port, dict[str, str]()
        self._connection = http.client.HTTPConnection("127.0.0.1", server.port)

    @classmethod
    def signed_in(cls, server: Server, name: str = "demo") -> Visitor:
        visitor, token = cls(server), link_for(server, name).rpartition("/")[2]
        visitor.ask("/")
        answer = visitor.ask("/api/session/link", {"token": token})
        if answer.status != 200:
            raise RuntimeError(answer.body.decode())
        return visitor

    def ask_until_done(self, path: str, body: object) -> Answer:
        """As `ask`, for work that takes a while: its job is asked after until it is done."""
        while (answer := self.ask(path, body)).status == 202:
            job = f"/api/jobs/{answer.json['underway']['job']}"
            while (now := self.ask(job).json)["done"] < now["total"]:
                time.sleep(0.15)
        return answer

    def beside(self) -> Visitor:
        """The same artist over another connection, as a second tab is."""
        other = object.__new__(Visitor)
        other._port, other._cookies = self._port, self._cookies
        other._connection = http.client.HTTPConnection("127.0.0.1", self._port)
        return other

    def ask(self, path: str, body: object = None, method: str = "", **headers: str) -> Answer:
        """An answer of whatever status; bytes are sent as they are, anything else as JSON."""
        data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        sent = {
            "Content-Type": "application/json",
            "Cookie": "; ".join(f"{name}={value}" for name, value in self._cookies.items()),
            "X-CSRFToken": self._cookies.get("csrftoken", ""),
        }
        method = method or ("GET" if body is None else "POST")
        try:
            response = self._asked(method, path, data, sent | headers)
        except (http.client.RemoteDisconnected, BrokenPipeError):
            # The server ends connections that are idle for a while.
            self._connection.close()
            response = self._asked(method, path, data, sent | headers)
        said = response.read()
        for cookie in response.headers.get_all("Set-Cookie") or ():
            name, _, value = cookie.partition(";")[0].partition("=")
            self._cookies[name] = value
        return Answer(response.status, said, response.headers)

    def _asked(self, method: str, path: str, data: bytes | None, headers: dict[str, str]) -> http.client.HTTPResponse:
        self._connection.request(method, path, data, headers)
        return self._connection.getresponse()

    def upload(self, picture: bytes) -> Answer:
        """Put a picture in."""
        form = (
            b'--x\r\nContent-Disposition: form-data; name="file"; filename="a.jpg"\r\n\r\n' + picture + b"\r\n--x--\r\n"
        )
        return self.ask("/api/pictures", form, **{"Content-Type": "multipart/form-data; boundary=x"})


def to_send(piece: Json, **change: Any) -> Json:
    """A piece as a browser sends it: what was decided, and on which version."""
    return {key: piece[key] for key in ("version", "title", "document")} | change


def seen(piece: Json) -> list[Json]:
    """The spots of a piece, each with what was worked out about it."""
    return [spot | piece["found"]["spots"][spot["id"]] for spot in piece["document"]["spots"]]
