"""Make the data folder ready for this version: private, migrated, without what was left half written."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command

from server.api import archive
from server.api.chores import Chore
from server.api.folder import make_private


class Command(Chore):
    help = __doc__ or ""

    def handle(self, *args: Any, **options: Any) -> None:
        archive.sweep_sides()
        call_command("migrate", verbosity=0)
        make_private()
