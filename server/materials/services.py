"""Trays, ranges, papers and methods."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from functools import cache
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import QuerySet

from core.errors import InputError, NotFoundError
from core.exchange.tray_csv import read_tray
from core.method.method import Method, methods
from core.optics import stick as core_stick
from core.optics.media import MEDIA
from core.optics.stick import CONDITIONS
from core.optics.support import Support, supports
from core.plan import usual_setup
from server.materials.models import Stick, Tray

MAX_TRAYS = 50


def papers() -> list[Support]:
    """All papers."""
    return list(supports().values())


def media() -> list[dict[str, object]]:
    """All media, each with the paper and the method to begin with."""
    rows = []
    for medium in MEDIA.values():
        usual = usual_setup(medium.id)
        row = {key: getattr(medium, key) for key in ("id", "name", "word", "techniques", "pressures")}
        rows.append(row | {"usual_paper": usual.paper, "usual_method": usual.method})
    return rows


def schools() -> list[Method]:
    """All methods."""
    return list(methods().values())


@cache
def ranges() -> dict[str, core_stick.Tray]:
    """The stand-in ranges, by id."""
    found = {}
    for file in sorted(settings.RANGES_DIR.glob("*.csv")):
        sticks = read_tray(file.read_bytes(), file.stem).sticks
        found[file.stem] = core_stick.Tray(file.stem.replace("-", " ").capitalize(), sticks)
    return found


def trays_of(user: User) -> QuerySet[Tray]:
    """The artist's trays with their sticks."""
    return Tray.objects.filter(owner=user).prefetch_related("sticks")


def get_tray(user: User, tray_id: UUID) -> Tray:
    """Raises NotFoundError (`no_tray`), also for somebody else's."""
    tray = trays_of(user).filter(pk=tray_id).first()
    if tray is None:
        raise NotFoundError("no_tray", "There is no such tray.", "Choose one of your own.", "tray")
    return tray


def import_tray(user: User, name: str, data: bytes) -> Tray:
    """A new tray from CSV; nothing is stored unless every row is right."""
    return keep_tray(user, name, read_tray(data, name).sticks)


def start_tray(user: User, name: str, range_id: str) -> Tray:
    """A new tray with everything a range holds."""
    if range_id not in ranges():
        raise InputError("no_range", "There is no such range.", f"Choose from: {', '.join(ranges())}.", "range")
    return keep_tray(user, name, ranges()[range_id].sticks)


@transaction.atomic
def keep_tray(user: User, name: str, sticks: Iterable[core_stick.Stick]) -> Tray:
    """Store a tray. Raises InputError (`too_many_trays`) over the limit."""
    if Tray.objects.filter(owner=user).count() >= MAX_TRAYS:
        raise InputError("too_many_trays", f"You have {MAX_TRAYS} trays.", "Delete one first.")
    tray = Tray.objects.create(owner=user, name=name)
    Stick.objects.bulk_create(
        Stick(tray=tray, place=place, **(asdict(stick) | {"pigments": list(stick.pigments)}))
        for place, stick in enumerate(sticks)
    )
    return get_tray(user, tray.pk)


@transaction.atomic
def set_condition(user: User, tray_id: UUID, code: str, condition: str) -> Tray:
    """Note that a stick is good, low, dried out or wanted."""
    if condition not in CONDITIONS:
        raise InputError(
            "bad_condition", f"“{condition[:40]}” is not a condition.", f"Use {', '.join(CONDITIONS)}.", "condition"
        )
    tray = get_tray(user, tray_id)
    if not Stick.objects.filter(tray=tray, code=code).update(condition=condition):
        raise NotFoundError("no_stick", "There is no such stick in this tray.", "Choose another.", "code")
    tray.save()
    return get_tray(user, tray_id)


def delete_tray(user: User, tray_id: UUID) -> None:
    """Delete a tray; pieces that used it keep their recipes as they were."""
    get_tray(user, tray_id).delete()


def as_core(tray: Tray) -> core_stick.Tray:
    """The tray as the computation knows it."""
    fields = ("code", "name", "medium", "hex", "opacity", "range", "binder", "lightfastness", "condition")
    return core_stick.Tray(
        tray.name,
        tuple(
            core_stick.Stick(**{f: getattr(stick, f) for f in fields}, pigments=tuple(stick.pigments))
            for stick in tray.sticks.all()
        ),
    )
