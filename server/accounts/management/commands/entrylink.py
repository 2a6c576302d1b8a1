"""Print a one-time sign-in link for an artist; the account is made if need be."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from server.accounts import services


class Command(BaseCommand):
    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")
        parser.add_argument("--address", default="http://127.0.0.1:8000")

    def handle(self, *args: Any, **options: Any) -> None:
        token = services.make_link(services.get_or_create_artist(options["name"]))
        self.stdout.write(f"{options['address']}/enter/{token}")
