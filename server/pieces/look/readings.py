"""The colours that are there: a reading for every spot, and how warm each is among its own."""

from __future__ import annotations

from collections.abc import Collection, Iterable

import numpy as np
from django.contrib.auth.models import User

from core.colour.swatch import Swatch
from core.colour.temperature import hue_spread, temperature, temperature_word
from core.errors import InputError
from core.light.families import Family
from core.light.scene import Scene
from core.light.sheet import MODEL as SHEET_MODEL
from core.light.sheet import Aim, aims_of
from core.look import questions
from core.look.reading import MODEL, Disc, Reading, Region, check_region
from core.look.roles import Role
from server.api.jobs import Step, jobs
from server.api.memo import digest
from server.api.values import value
from server.pictures.models import Picture
from server.pictures.services import ask, get_picture, source_of
from server.pieces.document.schema import Document, Spot
from server.pieces.results import ResultCache

_readings: ResultCache[Reading] = ResultCache(Reading, "reading", MODEL)
_aimed_for: ResultCache[Reading | None] = ResultCache(Reading | None, "aim", SHEET_MODEL)

Readings = dict[str, Reading]
"""By the id of the spot; spots that cannot be read are missing."""


@value
class Temperature:
    """degrees of hue towards warm (+) or cool (−), against the average of the figure's spots."""

    degrees: float
    words: str


def read_regions(picture: Picture, regions: Iterable[Region]) -> list[Reading]:
    """The readings of regions of a picture. Raises InputError for a region that cannot be read."""
    asked = list(regions)
    return _readings.get_many(
        [(picture.digest, region) for region in asked],
        lambda missing: ask(questions.readings_of, source_of(picture), tuple(asked[i] for i in missing)),
    )


def readings_of(user: User, document: Document) -> Readings:
    """The reading of every spot that can be read: on the picture, or of what is imagined. Raises NotFoundError
    (`no_picture`), core.light.model.ModelError."""
    aims = _aims(document)
    found = _aimed(document.imagined.scene(), aims) if document.imagined and aims else {}
    sound = [spot for spot in document.spots if spot.id not in aims and not _trouble_of(spot)]
    if document.picture and sound:
        read = read_regions(get_picture(user, document.picture), [spot.region for spot in sound])
        found |= {spot.id: reading for spot, reading in zip(sound, read, strict=True)}
    return {spot.id: found[spot.id] for spot in document.spots if spot.id in found}


_ROLES: dict[Role, Family] = {
    "highlight": "highlight", "light": "light", "middle": "half-tone", "half-shadow": "half-tone",
    "shadow": "core shadow", "deep accent": "core shadow", "reflected light": "reflected light",
}  # fmt: skip


def _aims(document: Document) -> dict[str, Aim]:
    """What each spot of a figure that is described aims for, by its id: what the sheet shows there; else its place in
    its family, and by its role where that is not said. What is read of a picture of one's own has none."""
    held, found = document.imagined, dict[str, Aim]()
    for spot in document.spots if held else ():
        seat = held.seat(spot.figure) if held else None
        if seat is None:
            continue
        if document.on_its_sheet:
            if isinstance(spot.region, Disc) and not _trouble_of(spot):
                found[spot.id] = Aim(seat, spot.region)
        elif spot.family or document.picture is None:
            found[spot.id] = Aim(seat, None, spot.place, spot.family or _ROLES[spot.role])
    return found


def _aimed(scene: Scene, aims: dict[str, Aim]) -> Readings:
    """What the aims look like in the scene; those beside the sitter are missing."""
    asked = list(aims.values())

    def work(missing: list[int]) -> list[Reading | None]:
        some = tuple(asked[i] for i in missing)
        labs = jobs.wait(digest("aims", scene, some), Step(aims_of, (scene, some)))
        return [lab and Reading(Swatch.of(lab), 0.0, 0, False) for lab in labs]

    read = _aimed_for.get_many([(scene, aim) for aim in asked], work)
    return {spot_id: reading for spot_id, reading in zip(aims, read, strict=True) if reading}


def check_spots(document: Document, known: Collection[str] = ()) -> None:
    """Raises InputError (field `document.spots[i]…`) for the first spot that could not be read, but for those known."""
    for i, spot in enumerate(document.spots if document.picture else ()):
        if spot.id not in known and (trouble := _trouble_of(spot)):
            raise InputError(trouble.code, trouble.message, trouble.hint, f"document.spots[{i}].{trouble.field}")


def _trouble_of(spot: Spot) -> InputError | None:
    try:
        check_region(spot.region)
    except InputError as error:
        return error
    return None


def temperatures(document: Document, readings: Readings) -> dict[str, Temperature]:
    """Warm or cool of every spot against its own figure, by spot id."""
    said: dict[str, Temperature] = {}
    for figure in document.figures:
        spots = [spot for spot in document.spots_of(figure.id) if spot.id in readings]
        if not spots:
            continue
        labs = np.array([readings[spot.id].swatch.lab for spot in spots])
        average, spread = labs.mean(axis=0), hue_spread(labs)
        for spot, degrees in zip(spots, temperature(labs, average).tolist(), strict=True):
            said[spot.id] = Temperature(round(degrees, 1), temperature_word(degrees, spread))
    return said
