"""Put a backup into the data folder."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings

from server.api import archive
from server.api.chores import Chore


class Command(Chore):
    help = __doc__ or ""
    uses_folder = False

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--replace", action="store_true", help="the folder may hold a Caltin, which is kept aside")

    def handle(self, *args: Any, **options: Any) -> None:
        found, aside = archive.restore(options["file"], options["replace"])
        self.stdout.write(f"Restored {found.pictures} pictures and everything about them into {settings.DATA_DIR}.")
        if aside:
            self.stdout.write(f"What was there before is in {aside}; delete it when you no longer need it.")
