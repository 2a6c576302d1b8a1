"""Put a backup into an empty data folder."""

from __future__ import annotations

import re
import zipfile
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

_KNOWN = re.compile(r"caltin\.sqlite3|pictures/[0-9a-f]{2}/[0-9a-f]{62}")


class Command(BaseCommand):
    help = __doc__ or ""
    requires_system_checks = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        database = settings.DATA_DIR / "caltin.sqlite3"
        if database.exists():
            raise CommandError(
                f"{database} is there already; move {settings.DATA_DIR} away first. Nothing was changed."
            )
        try:
            with zipfile.ZipFile(options["file"]) as archive:
                names = archive.namelist()
                if "caltin.sqlite3" not in names or not all(_KNOWN.fullmatch(name) for name in names):
                    raise CommandError("This is not a Caltin backup. Nothing was changed.")
                # The database last: without it the folder counts as empty, and restoring can be tried again.
                for name in sorted(names, key=lambda name: name == "caltin.sqlite3"):
                    archive.extract(name, settings.DATA_DIR)
        except (OSError, zipfile.BadZipFile) as error:
            raise CommandError(f"The backup cannot be read ({error}).") from error
        self.stdout.write(f"Restored into {settings.DATA_DIR}.")
