"""How gunicorn serves: `gunicorn --config server/gunicorn_conf.py server.wsgi`."""

from __future__ import annotations

import json
import socket
from typing import Any

from gunicorn.http.errors import (
    InvalidResponseHeader,
    InvalidResponseHeaderName,
    LimitRequestHeaders,
    LimitRequestLine,
    ParseException,
)
from gunicorn.workers.gthread import ThreadWorker

from server.api.errors import STATUSES, envelope

_CODES = {400: "malformed", 414: "address_too_long", 431: "headers_too_long"}


class Worker(ThreadWorker):  # type: ignore[misc]  # gunicorn has no types
    """A thread worker that refuses what it cannot read in Caltin's own envelope."""

    def handle_error(self, req: Any, client: socket.socket, addr: Any, exc: BaseException) -> None:
        """Answers a request that no application has seen."""
        if not isinstance(exc, ParseException) or isinstance(exc, InvalidResponseHeader | InvalidResponseHeaderName):
            super().handle_error(req, client, addr, exc)
            return
        status = 414 if isinstance(exc, LimitRequestLine) else 431 if isinstance(exc, LimitRequestHeaders) else 400
        self.log.warning("Unreadable request from %s: %s", addr[0] if addr else "?", exc)
        body = json.dumps(envelope(_CODES[status], STATUSES[status], "Nothing was changed.")).encode()
        head = (
            f"HTTP/1.1 {status} Refused\r\nConnection: close\r\nContent-Type: application/json\r\n"
            f"Cache-Control: no-store\r\nContent-Length: {len(body)}\r\n\r\n"
        )
        try:
            client.sendall(head.encode() + body)
        except OSError:
            self.log.debug("The refusal could not be sent.")
