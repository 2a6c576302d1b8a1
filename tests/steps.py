"""Steps of jobs for the tests: a module that any process can load."""

from __future__ import annotations

import os
import time
from pathlib import Path

from core.errors import InputError


def said(file: str, text: str, seconds: float = 0.0) -> str:
    """A step that leaves a trace."""
    time.sleep(seconds)
    with Path(file).open("a") as out:
        out.write(text)
    return text


def priority() -> tuple[int, int]:
    return os.getpid(), os.nice(0)


def wrong() -> None:
    raise InputError("no_such_thing", "There is no such thing.", "Take another.", "thing")


def deadly() -> None:
    os._exit(1)
