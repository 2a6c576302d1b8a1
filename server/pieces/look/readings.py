"""The colours that are there: a reading for every spot, and how warm each is among its own."""

from __future__ import annotations

from collections.abc import Collection, Iterable

import numpy as np
from django.contrib.auth.models import User

from core.colour.temperature import hue_spread, temperature, temperature_word
from core.errors import InputError
from core.look import questions
from core.look.reading import MODEL, Reading, Region, check_region
from server.api.values import value
from server.pictures.models import Picture
from server.pictures.services import ask, get_picture, source_of
from server.pieces.document.schema import Document, Spot
from server.pieces.results import ResultCache

_readings: ResultCache[Reading] = ResultCache(Reading, "reading", MODEL)

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
    """The reading of every spot that can be read. Raises NotFoundError (`no_picture`)."""
    if document.picture is None:
        return {}
    sound = [spot for spot in document.spots if not _trouble_of(spot)]
    read = read_regions(get_picture(user, document.picture), [spot.region for spot in sound])
    return {spot.id: reading for spot, reading in zip(sound, read, strict=True)}


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
        for spot, lab in zip(spots, labs, strict=True):
            degrees = float(temperature(lab, average))
            said[spot.id] = Temperature(round(degrees, 1), temperature_word(degrees, spread))
    return said
