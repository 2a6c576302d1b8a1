"""Methods that artists put in, beside those that Caltin knows."""

from __future__ import annotations

import logging
from uuid import UUID

from django.contrib.auth.models import User

from core.errors import InputError, NotFoundError
from core.exchange.method_toml import read_method, write_method
from core.method.method import Method, get_method, methods
from core.plan.setup import Setup
from server.api.removable import remove
from server.materials import values
from server.materials.models import OwnMethod
from server.materials.services import method_shown

log = logging.getLogger(__name__)
MAX_METHODS = 50


def of(user: User) -> list[values.Method]:
    """Those that the artist has put in."""
    return [method_shown(method) for row in OwnMethod.objects.filter(owner=user) if (method := _as_core(row))]


def own_method(user: User, method_id: str) -> Method | None:
    """The artist's own method with this id, None if there is none."""
    if method_id in methods():
        return None
    try:
        row = OwnMethod.objects.filter(owner=user, pk=UUID(method_id)).first()
    except ValueError:
        return None
    return _as_core(row) if row else None


def _as_core(row: OwnMethod) -> Method | None:
    try:
        return read_method(row.file.encode(), str(row.pk))
    except InputError:
        # Kept by a version that understood it: everything else must go on.
        log.exception("method %s", row.pk)
        return None


def method_for(user: User, setup: Setup) -> Method:
    """The method of a set-up. Raises InputError (`unknown_method`)."""
    return get_method(setup.method, setup.medium, own_method(user, setup.method))


def name_in(user: User, setup: Setup) -> str:
    """What the method of a set-up is called; nothing where it is gone."""
    try:
        return method_for(user, setup).name
    except InputError:
        return ""


def keep(user: User, file: str) -> values.Method:
    """A new method out of a file. Raises InputError (`bad_method`, `bad_row`, `too_many_methods`)."""
    method = read_method(file.encode("utf-8", "surrogatepass"), "new")
    if OwnMethod.objects.filter(owner=user).count() >= MAX_METHODS:
        raise InputError("too_many_methods", f"You have {MAX_METHODS} methods.", "Delete one first.", "file")
    row = OwnMethod.objects.create(owner=user, name=method.name.strip(), file=write_method(method).decode())
    return method_shown(read_method(row.file.encode(), str(row.pk)))


def delete(user: User, method_id: UUID) -> None:
    """Remove a method; it can be put back for a while. Pieces that use it keep their layers as they were. Raises
    NotFoundError (`no_method`)."""
    if not remove(OwnMethod, user, pk=method_id):
        raise _no_method()


def file_of(user: User, method_id: str) -> tuple[bytes, str]:
    """A method as a file, of the artist's own or one that Caltin knows, and its name. Raises NotFoundError."""
    method = methods().get(method_id) or own_method(user, method_id)
    if method is None:
        raise _no_method()
    return write_method(method), method.name


def _no_method() -> NotFoundError:
    return NotFoundError("no_method", "There is no such method.", "Choose another.", "method")
