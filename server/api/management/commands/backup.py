"""Write database and pictures into one zip archive, also while the server runs."""

from __future__ import annotations

import sqlite3
import tempfile
import zipfile
from argparse import ArgumentParser
from contextlib import closing
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import connection


class Command(BaseCommand):
    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        target: Path = options["file"]
        partial = target.with_name(target.name + ".partial")
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "caltin.sqlite3"
            connection.ensure_connection()
            with closing(sqlite3.connect(copy)) as out:
                connection.connection.backup(out)
            # Pictures are written before the rows that name them and never change, so copying them second is safe.
            with zipfile.ZipFile(partial, "w", zipfile.ZIP_STORED) as archive:
                archive.write(copy, copy.name)
                for file in sorted(Path(settings.PICTURES_DIR).glob("*/*")):
                    archive.write(file, f"pictures/{file.parent.name}/{file.name}")
        partial.replace(target)
        self.stdout.write(f"Kept in {target} ({target.stat().st_size / 2**20:.1f} MB).")
