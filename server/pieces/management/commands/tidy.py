"""Delete what nobody needs any more: pictures that no piece names, half written files, old links and sessions."""

from __future__ import annotations

from typing import Any

from server.api.chores import Chore
from server.pieces import garbage


class Command(Chore):
    help = __doc__ or ""

    def handle(self, *args: Any, **options: Any) -> None:
        files, rows = garbage.sweep()
        self.stdout.write(f"Deleted {files} files and {rows} links and sessions that nobody needs.")
