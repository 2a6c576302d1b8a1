"""Pictures of a comparison: the drawing as its picture lies, and what corrections are about."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib.auth.models import User

from core.compare import questions
from core.compare.questions import Photographed, Planned
from core.errors import NotFoundError
from core.look.study import MODEL as SEEING
from core.recipe.recipe import MODEL
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.pictures.services import source_of
from server.pieces.comparing.services import HOW_HARD, ComparedPiece, advice_of, advising, beside_of, piece_of
from server.pieces.comparing.shown import at, lab_of
from server.pieces.models import Comparison

_drawn: SingleFlightCache[str, bytes] = SingleFlightCache(60)


def _photographed(piece: ComparedPiece, row: Comparison) -> Photographed:
    """The drawing where it was found to lie."""
    chart = row.chart and tuple((x, y) for x, y in row.chart)
    corners, frame = (tuple((x, y) for x, y in part) for part in (row.corners, row.frame))
    return Photographed(
        source_of(row.picture), piece.seen, piece.paper.lab, corners, frame, chart or None, None, beside_of(row)
    )


def picture(user: User, row: Comparison, side: str, way: str, size: int) -> tuple[str, Callable[[], bytes]]:
    """The name of a picture of a comparison, and what draws it."""
    task = _photographed(piece_of(user, row.piece_id), row)
    return _pictured("compared", questions.picture_of, task, side, way, size)


def correction_picture(
    user: User, row: Comparison, number: int, kind: str, size: int
) -> tuple[str, Callable[[], bytes]]:
    """The name of a correction's map, or of what it is about now and then, and what draws it. Raises InputError
    (`no_correction`), Underway."""
    piece, task, drawn = advising(user, row)
    found = advice_of(task).corrections
    if number >= len(found):
        raise NotFoundError("no_correction", "There is no such correction.", "Ask for them anew.", "number")
    one = found[number]
    by_id = {spot.id: spot for spot in piece.document.spots}
    mine = [i for i, place in enumerate(drawn) if place.figure == one.figure]
    doses = sorted({dose for dose in one.levels if dose}, key=lambda dose: (HOW_HARD[dose.pressure], dose.repeats))
    stick = next(stick for stick in task.owned.sticks if stick.code == one.stick)
    planned = Planned(
        one.figure,
        tuple(at(by_id[drawn[i].id], row) for i in mine),
        tuple(doses.index(dose) + 1 if (dose := one.levels[i]) else 0 for i in mine),
        len(doses),
        tuple(one.moved[i] for i in mine),
        lab_of(stick.lab),
        piece.px_per_mm,
    )
    photo = _photographed(piece, row)
    if kind == "map":
        return _pictured("correction", questions.map_of, photo, planned, size)
    return _pictured("now and then", questions.now_and_then, photo, planned)


def _pictured(kind: str, function: Callable[..., bytes], *arguments: Any) -> tuple[str, Callable[[], bytes]]:
    key = digest(kind, MODEL, SEEING, arguments)
    step = Step(function, arguments)
    return key, lambda: _drawn.get(key, lambda: jobs.wait(key, step, Lane.PICTURES))
