"""The key that signs sessions: made once, kept beside the data, readable by its owner alone."""

from __future__ import annotations

import os
import secrets
from pathlib import Path


def secret_key(folder: Path) -> str:
    """The key in `folder`/secret.key, which is made if there is none."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    file = folder / "secret.key"
    try:
        descriptor = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return file.read_text().strip()
    key = secrets.token_urlsafe(64)
    with os.fdopen(descriptor, "w") as out:
        out.write(key)
        out.flush()
        os.fsync(out.fileno())
    return key
