"""Complexions kept, and pictures, families, targets and maps of an imagined light."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import asdict
from typing import Any, TypeVar
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction

from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.exchange.map_questions import map_of
from core.exchange.scene_json import NamedComplexion, read_complexions, write_complexions
from core.light import questions
from core.light.families import Target
from core.light.lamps import NAMED
from core.light.scene import Scene, check_scene
from core.light.sheet import MODEL, Told
from core.light.ways import WAYS
from core.light.words import PRESETS, edge_of, lamp_words, where_from
from core.look.reading import Disc
from core.skin.describe import Description
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.api.removable import remove
from server.api.values import adapter_of
from server.imagined.models import Complexion
from server.imagined.values import (
    MOST_COMPLEXIONS,
    AskMap,
    AskPicture,
    AskTold,
    Choices,
    ComplexionShown,
    JobShown,
    NamedLamp,
    PresetShown,
    RampShown,
    SceneTold,
    TakenIn,
    TargetShown,
    WayShown,
    WriteComplexion,
)

T = TypeVar("T")
_explained: SingleFlightCache[str, questions.Explained] = SingleFlightCache(60)


def complexions(user: User) -> list[ComplexionShown]:
    """All that the artist keeps, the oldest first."""
    return [_shown(row) for row in Complexion.objects.filter(owner=user)]


def _shown(row: Complexion) -> ComplexionShown:
    skin: Description = adapter_of(Description).validate_python(row.skin)
    return ComplexionShown(row.pk, row.name, skin, row.note, skin.words, Swatch.of(skin.lab), row.changed)


def keep(user: User, asked: WriteComplexion) -> ComplexionShown:
    """A complexion more. Raises InputError (`too_many`)."""
    with transaction.atomic():
        _check_room(user, 1)
        made = Complexion.objects.create(owner=user, name=asked.name, skin=asdict(asked.skin), note=asked.note)
    return _shown(made)


def _check_room(user: User, more: int) -> None:
    if Complexion.objects.filter(owner=user).count() + more > MOST_COMPLEXIONS:
        raise InputError(
            "too_many", f"More than {MOST_COMPLEXIONS} complexions cannot be kept.", "Delete one first.", "complexions"
        )


def change(user: User, complexion_id: UUID, asked: WriteComplexion) -> ComplexionShown:
    """A complexion as it is now. Raises NotFoundError."""
    row = _get(user, complexion_id)
    row.name, row.skin, row.note = asked.name, asdict(asked.skin), asked.note
    row.save()
    return _shown(row)


def delete(user: User, complexion_id: UUID) -> None:
    """Remove a complexion; it can be put back for a while. Pieces that use it keep what it was. Raises
    NotFoundError."""
    if not remove(Complexion, user, pk=complexion_id):
        raise _no_complexion()


def _get(user: User, complexion_id: UUID) -> Complexion:
    row = Complexion.objects.filter(owner=user, pk=complexion_id).first()
    if row is None:
        raise _no_complexion()
    return row


def _no_complexion() -> NotFoundError:
    return NotFoundError("no_complexion", "There is no such complexion.", "Choose another.", "complexion")


def file_of(user: User) -> bytes:
    """All complexions as one JSON file."""
    return write_complexions(tuple(NamedComplexion(row.name, row.skin, row.note) for row in complexions(user)))


def take_in(user: User, file: str) -> TakenIn:
    """Those of a file that are not there yet. Raises InputError."""
    new = take_rows(user, read_complexions(file.encode()))
    return TakenIn(tuple(complexions(user)), new)


@transaction.atomic
def take_rows(user: User, rows: Sequence[NamedComplexion]) -> int:
    """Keep complexions that are not there yet; how many that were. Raises InputError (`too_many`)."""
    held = {(row.name, row.skin) for row in complexions(user)}
    new = [row for row in dict.fromkeys(rows) if (row.name, row.skin) not in held]
    _check_room(user, len(new))
    Complexion.objects.bulk_create(
        Complexion(owner=user, name=row.name.strip(), skin=asdict(row.skin), note=row.note) for row in new
    )
    return len(new)


def choices() -> Choices:
    """What there is to choose from."""
    return Choices(
        tuple(PresetShown(key, row.name, row.key, row.around) for key, row in PRESETS.items()),
        tuple(NamedLamp(name, lamp) for name, lamp in NAMED.items()),
        tuple(WayShown(way.id, way.name) for way in WAYS.values()),
    )


def picture(asked: AskPicture) -> bytes:
    """A sitter in a scene, as JPEG or PNG. Raises InputError, ModelError."""
    check_scene(asked.scene)
    return _ask(questions.picture_of, asked.scene, asked.number, asked.size, asked.way)


def sheet(scene: Scene) -> bytes:
    """All sitters on one sheet, as PNG. Raises InputError, ModelError."""
    check_scene(scene)
    return _ask(questions.sheet_of, scene)


def proposals(scene: Scene) -> tuple[Told, ...]:
    """The spots that are proposed for every sitter on its sheet. Raises InputError, ModelError."""
    check_scene(scene)
    return _ask(questions.proposals, scene)


def told(asked: AskTold) -> SceneTold:
    """All that is said of a scene and one of its sitters. Raises InputError, ModelError."""
    scene, number, key = asked.scene, asked.number, asked.scene.key
    check_scene(scene)
    said = _explained.get(
        digest("explained", MODEL, scene, number, asked.steps),
        lambda: _ask(questions.explained, scene, number, asked.steps),
    )
    return SceneTold(
        where_from(key),
        edge_of(key),
        lamp_words(key.lamp),
        scene.sitters[number].skin.words,
        tuple(_target(*spot) for spot in zip(said.told.proposed, said.told.discs, strict=True)),
        tuple(JobShown(job.name, Swatch.of(job.lab), job.share) for job in said.jobs),
        tuple(RampShown(name, colours) for name, colours in said.ramps.items()),
    )


def _target(row: Target, disc: Disc) -> TargetShown:
    return TargetShown(
        row.name, row.place, row.family, row.role, Swatch.of(row.lab), row.share, row.x, row.y, row.radius, disc
    )


def shading_map(asked: AskMap) -> bytes:
    """A shading map at true size. Raises InputError, ModelError."""
    check_scene(asked.scene)
    return _ask(map_of, asked.scene, asked.opposite, asked.kind, asked.side_mm)


def _ask(function: Callable[..., T], scene: Scene, *rest: Any) -> T:
    return jobs.wait(digest(function.__name__, MODEL, scene, rest), Step(function, (scene, *rest)), Lane.PICTURES)
