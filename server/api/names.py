"""What files are called that an artist takes away."""

from __future__ import annotations

import re


def file_name(title: str, otherwise: str) -> str:
    """A title as the name of a file, without its ending. otherwise: where nothing of it is left."""
    return re.sub(r"[^A-Za-z0-9]+", "-", title).strip("-").lower()[:60] or otherwise
