"""The drawing foreseen: the reference in nothing but the recipes' colours."""

from __future__ import annotations

import numpy as np
from django.contrib.auth.models import User

from core.errors import InputError
from core.method.method import Method
from core.optics.kit import Kit
from core.optics.stack import colours_after
from core.plan.questions import Foreseen, forecast_for
from core.recipe.forecast import Palette
from server.api.jobs import Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.materials.schools import method_for
from server.pictures.services import LONGEST_SHOWN, get_picture
from server.pieces.document.schema import Document
from server.pieces.look.readings import Readings, readings_of
from server.pieces.look.services import seen_of
from server.pieces.mix.laid_out import kit_for

_forecasts: SingleFlightCache[str, bytes] = SingleFlightCache(24)


def foreseen(
    user: User, document: Document, key: str, stage: int | None, grained: bool, muted: bool, in_values: bool
) -> bytes:
    """The drawing as JPEG; up to a stage of the method if one is named. key: of the forecast (see piece.services).

    Raises InputError (`nothing_mixed`, `bad_stage`).
    """
    kit = kit_for(user, document)
    method = method_for(user, document.setup)
    stages = len(method.stage_names())
    if stage is not None and not 0 <= stage < stages:
        raise InputError("bad_stage", f"There is no stage {stage}.", f"Use 0 to {stages - 1}.", "stage")
    if document.picture is None or not any(document.is_planned(spot) for spot in document.spots):
        raise InputError("nothing_mixed", "Nothing is mixed yet.", "Mix the spots first.", "spots")
    seen = seen_of(get_picture(user, document.picture), document)
    readings = readings_of(user, document)

    def draw() -> bytes:
        palettes = tuple(_palette(kit, method, document, readings, figure.id, stage) for figure in document.figures)
        asked = Foreseen(seen, palettes, kit.support if grained else None, kit.support.tooth, muted, stage is None)
        step = Step(forecast_for, (asked, LONGEST_SHOWN, in_values))
        return jobs.wait(digest("forecast", key, stage, grained, muted, in_values), step)

    return _forecasts.get(f"{key} {stage} {grained} {muted} {in_values}", draw)


def _palette(
    kit: Kit, method: Method, document: Document, readings: Readings, figure: str, stage: int | None
) -> Palette | None:
    targets, results = [], []
    for spot in document.spots_of(figure):
        if spot.id not in readings or not document.is_planned(spot):
            continue
        passes = [
            pass_.bare
            for i, pass_ in enumerate(document.passes_of(spot))
            if stage is None or method.stage(spot.role, i) <= stage
        ]
        try:
            results.append(colours_after(kit, passes)[-1])
        except InputError:
            continue
        targets.append(readings[spot.id].swatch.lab)
    return Palette(np.array(targets), np.array(results)) if targets else None
