"""Trays and papers as parts of a bundle: see docs/piece-format.md."""

from __future__ import annotations

from uuid import UUID

from django.contrib.auth.models import User

from core.errors import InputError
from core.exchange.bundle import Bundle, as_json, bad
from core.exchange.method_toml import read_method, write_method
from core.exchange.tray_bundle import name_of
from core.exchange.tray_json import read_tray_json, write_tray_json
from core.optics import stick as core_stick
from server.api.values import decode, encode, value
from server.materials import schools, services
from server.materials.models import OwnMethod, Paper, Tray
from server.materials.values import NewPaper


@value
class CarriedPaper:
    """A paper of the artist's own. id: what the rest of the bundle calls it."""

    id: UUID
    paper: NewPaper


def method_out(row: OwnMethod) -> bytes:
    """A method of the artist's own, as TOML."""
    return row.file.encode()


def method_in(bundle: Bundle, name: str) -> str:
    """A method of a bundle, as TOML. Raises InputError that names the part."""
    try:
        return write_method(read_method(bundle.data(name), "new")).decode()
    except InputError as error:
        raise bad(f"{name}: {error.message} {error.hint}".rstrip(" .")) from error


def keep_carried_method(user: User, file: str) -> tuple[str, bool]:
    """The id of the artist's method that is the same, or of a new one; and whether it is new. Raises InputError."""
    if row := OwnMethod.objects.filter(owner=user, file=file).first():
        return str(row.pk), False
    return schools.keep(user, file).id, True


def tray_out(tray: Tray) -> bytes:
    """A tray as a JSON file of sticks."""
    return write_tray_json(services.with_everything(tray))


def tray_in(bundle: Bundle, name: str) -> core_stick.Tray:
    """A tray of a bundle; one without any stick too. Raises InputError that names the part."""
    bundle.json(name)  # whatever is unsound is said first
    try:
        return read_tray_json(bundle.data(name), may_be_empty=True)
    except InputError as error:
        raise bad(f"{name}, {error.field}: {error.message} {error.hint}".rstrip(" .")) from error


def keep_carried(user: User, held: core_stick.Tray) -> tuple[Tray, bool]:
    """The artist's tray that is the same to the last stick, or a new one; and whether it is new. Raises InputError
    (`too_many_trays`)."""
    data = write_tray_json(held)
    for tray in services.trays_of(user).filter(name=held.name):
        if tray_out(tray) == data:
            return tray, False
    return services.keep_tray(user, held.name, held.sticks, held.kept, held.per_row), True


def paper_out(row: Paper) -> CarriedPaper:
    """A paper of the artist's own."""
    paper = decode(NewPaper, {key: getattr(row, key) for key in ("name", "lab", "tooth", "coats", "media")})
    return CarriedPaper(name_of(as_json(encode(NewPaper, paper))), paper)


def papers_in(bundle: Bundle, name: str) -> tuple[CarriedPaper, ...]:
    """The papers of a bundle. Raises ValidationError, InputError."""
    return decode(tuple[CarriedPaper, ...], bundle.json(name))


def keep_carried_paper(user: User, held: CarriedPaper) -> tuple[str, bool]:
    """The id of the artist's paper that is the same, or of a new one; and whether it is new. Raises InputError."""
    for row in Paper.objects.filter(owner=user, name=held.paper.name):
        if paper_out(row).paper == held.paper:
            return str(row.pk), False
    return services.keep_paper(user, held.paper).id, True
