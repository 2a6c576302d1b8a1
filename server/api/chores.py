"""What the chores of the command line share: one clear line instead of a traceback."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from core.errors import CaltinError
from server.api.folder import Hold, refuse_newer
from server.api.storage import storage_error


def one_line(error: BaseException) -> str | None:
    """What to say of an error that is nobody's fault of ours; None for a failure that needs its traceback."""
    said = error if isinstance(error, CaltinError) else storage_error(error)
    if said is not None:
        return f"{said.message} {said.hint}"
    if isinstance(error, OSError):
        where = f"{error.filename}: " if error.filename else ""
        return f"{where}{error.strerror or error}. Nothing was changed."
    return None


class Chore(BaseCommand):
    """A command that does not work on a folder of a newer version, and says what is wrong in one line."""

    requires_system_checks = []
    uses_folder = True
    """Whether it works on the data as they are, beside a server and other chores."""

    def execute(self, *args: Any, **options: Any) -> str | None:
        """Raises CommandError with that line."""
        hold = Hold()
        try:
            if self.uses_folder:
                hold.shared()
                refuse_newer()
            return super().execute(*args, **options)
        except Exception as error:
            line = one_line(error)
            if line is None:
                raise
            raise CommandError(line) from error
        finally:
            hold.release()
