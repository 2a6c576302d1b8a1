"""What a server does when it starts, and once a day from then on."""

from __future__ import annotations

import atexit
import gc
import logging
import os
import sys
import threading
import time

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.urls import get_resolver

from server.api.chores import one_line
from server.api.folder import FolderError, Hold, refuse_newer, sweep_parts
from server.api.jobs import jobs
from server.pieces import garbage
from server.pieces.results import start_writing

log = logging.getLogger(__name__)

GIVE_UP = 4
"""Gunicorn stops at this exit status of a worker, instead of starting another one for ever."""
DAY_S = 24 * 60 * 60

_kept: list[object] = []
"""What lives as long as the process: the hold on the folder, and one connection to the database. While that is open the
files that SQLite's readers share stay there, so that reading goes on when there is no room to make them."""


def start() -> None:
    """Take the data folder into use. Ends the process with one line if it cannot be used."""
    try:
        _take_into_use()
    except Exception as error:
        line = one_line(error)
        if line is None:
            raise
        print(f"caltin: {line}", file=sys.stderr)
        sys.exit(GIVE_UP)
    jobs.start()
    get_resolver().url_patterns  # noqa: B018  # loads every view, and the computation with them
    start_writing()
    # What was loaded by now lives as long as the process: looking for garbage in it would only make answers wait.
    gc.collect()
    gc.freeze()
    threading.Thread(target=_daily, name="daily", daemon=True).start()


def _take_into_use() -> None:
    refuse_newer()
    if os.environ.get("CALTIN_PREPARE"):
        # In this process, since each of its own would take as long to begin as the server itself.
        call_command("prepare")
        if demo := os.environ.get("CALTIN_DEMO"):
            call_command("loaddemo", demo)
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        raise FolderError("not_prepared", f"{settings.DATA_DIR} is not ready for this version.", "Run ./caltin serve.")
    hold = Hold()
    if hold.alone():
        sweep_parts()
    hold.shared()
    keeper = connection.copy()
    keeper.ensure_connection()
    with keeper.cursor() as cursor:
        cursor.execute("SELECT 1 FROM django_migrations")  # only now are the files opened
    # The last to be closed, and closed in order, it leaves one whole file behind.
    connection.close()
    atexit.register(keeper.close)
    _kept.extend((hold, keeper))


def _daily() -> None:
    while True:
        try:
            garbage.sweep()
        except Exception as error:
            line = one_line(error)
            log.warning("The daily sweep could not be finished. %s", line or "", exc_info=None if line else error)
        finally:
            connection.close()
        time.sleep(DAY_S)
