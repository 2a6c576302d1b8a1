"""Make the data folder ready for this version: private, migrated, without what was left half written."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from server.api import archive
from server.api.chores import Chore
from server.api.folder import make_private


class Command(Chore):
    help = __doc__ or ""

    def handle(self, *args: Any, **options: Any) -> None:
        archive.sweep_sides()
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            call_command("migrate", verbosity=0)
        make_private()
        call_command("relearn")
