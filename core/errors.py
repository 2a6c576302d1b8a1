"""The small tree of errors that every layer understands."""

from __future__ import annotations


class CaltinError(Exception):
    """Something the artist can understand and mend.

    code: stable identifier; message: what happened; hint: what to do;
    field: where in the input it happened, empty when it is not about one place.
    """

    def __init__(self, code: str, message: str, hint: str = "", field: str = "") -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.hint = hint
        self.field = field

    def __reduce__(self) -> tuple[type[CaltinError], tuple[str, str, str, str]]:
        """So that another process can raise it here."""
        return type(self), (self.code, self.message, self.hint, self.field)

    def __str__(self) -> str:
        where = f"{self.field}: " if self.field else ""
        return f"{where}{self.message} {self.hint}".strip()


class InputError(CaltinError):
    """What came in is not well formed."""


class PictureError(InputError):
    """A picture that cannot be read, or is over a limit."""


class NotFoundError(CaltinError):
    """Something named does not exist (or belongs to somebody else)."""


class ConflictError(CaltinError):
    """A write that started from an older state than the stored one."""
