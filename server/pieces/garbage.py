"""What nobody needs any more, deleted."""

from __future__ import annotations

from datetime import timedelta

from server.accounts import services as accounts
from server.api.folder import sweep_parts
from server.api.removable import sweep_removed
from server.pictures.services import GRACE, sweep_pictures
from server.pieces.document.history import forget_writes
from server.pieces.results import prune

_UPLOADING_S = 60 * 60
"""No upload takes longer."""


def sweep(grace: timedelta = GRACE) -> tuple[int, int]:
    """Delete pictures that nothing names with their shown copies, half written files, old links, sessions and results,
    and for good what was removed long ago.

    Returns how many files and how many links and sessions that were.
    """
    prune()
    forget_writes()
    sweep_removed()
    return sweep_parts(_UPLOADING_S) + sweep_pictures(grace), accounts.sweep()
