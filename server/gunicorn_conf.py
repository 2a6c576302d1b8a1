"""Settings of gunicorn. One process with threads: what is worked out is kept in its memory."""

from __future__ import annotations

import os
import sys
from typing import Any

bind = f"127.0.0.1:{os.environ.get('CALTIN_PORT', '8000')}"
workers = 1
threads = 6
worker_class = "server.worker.Worker"
timeout = 120
loglevel = "warning"
control_socket_disable = True


def post_worker_init(worker: Any) -> None:
    """Says how to begin, once the server answers and if the demo was asked for."""
    if demo := os.environ.get("CALTIN_DEMO"):
        from django.core.management import call_command

        print("\033[1mCaltin is ready. Open this link; it signs you in once:\033[0m", file=sys.stderr, flush=True)
        call_command("entrylink", demo)
        sys.stdout.flush()
