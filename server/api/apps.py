"""Start-up checks with hints."""

from __future__ import annotations

import os
from typing import Any

from django.apps import AppConfig
from django.conf import settings
from django.core.checks import CheckMessage, Error, Warning, register


class ApiConfig(AppConfig):
    name = "server.api"

    def ready(self) -> None:
        register(check_installation)


def check_installation(**_: Any) -> list[CheckMessage]:
    """Missing data, folders that cannot be written, a front end that was not built, registries that do not fit."""
    from core.plan.registries import faults  # all of the core: chores begin in half the time without it

    found: list[CheckMessage] = []
    if not os.access(settings.DATA_DIR, os.W_OK):
        found.append(
            Error(
                f"{settings.DATA_DIR} cannot be written.",
                hint="Set CALTIN_DATA to a folder that can.",
                id="caltin.E001",
            )
        )
    if not settings.RANGES_DIR.is_dir():
        found.append(Error("The stand-in ranges are missing.", hint="Check out demo/ranges again.", id="caltin.E002"))
    if not (settings.WEB_DIST / "index.html").exists():
        found.append(Warning("The front end is not built.", hint="Run ./caltin build.", id="caltin.W001"))
    found += [Error(fault.said, hint=fault.hint, id="caltin.E003") for fault in faults()]
    return found
