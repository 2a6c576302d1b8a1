"""Print a one-time sign-in link for an artist; the account is made if need be."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.conf import settings

from server.accounts import services
from server.api.chores import Chore


class Command(Chore):
    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        token = services.make_link(services.get_or_create_artist(options["name"]))
        self.stdout.write(f"{settings.ADDRESS}/enter/{token}")
