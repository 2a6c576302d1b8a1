"""Write database and pictures into one archive, also while the server runs; or check such an archive."""

from __future__ import annotations

import signal
import sys
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from server.api import archive
from server.api.chores import Chore


class Command(Chore):
    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--verify", action="store_true", help="only check an archive")

    def handle(self, *args: Any, **options: Any) -> None:
        file: Path = options["file"]
        # An end from outside must leave no half archive either.
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(143))
        found = archive.verify(file) if options["verify"] else archive.pack(file)
        for note in found.notes:
            self.stderr.write(note)
        said = "is whole" if options["verify"] else "is kept, and was read back"
        made_by = f"Caltin {found.version}" if found.version else "a Caltin before 0.5"
        self.stdout.write(f"{file} {said}: {found.pictures} pictures, {found.size / 2**20:.1f} MB, made by {made_by}.")
