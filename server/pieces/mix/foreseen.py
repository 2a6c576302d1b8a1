"""The drawing foreseen: the reference in nothing but the recipes' colours."""

from __future__ import annotations

import io

import numpy as np
from django.contrib.auth.models import User
from PIL import Image

from core.colour.spaces import SRGB
from core.errors import InputError
from core.look import views
from core.method.method import Method, get_method
from core.optics.kit import Kit
from core.optics.stack import colours_after
from core.optics.texture import tooth_tile
from core.recipe.forecast import Palette, forecast
from server.api.memo import SingleFlightCache
from server.pictures.services import LONGEST_SHOWN, get_picture, small_of
from server.pieces.document.schema import Document
from server.pieces.look.readings import Readings, readings_of
from server.pieces.look.services import study_of
from server.pieces.mix.laid_out import kit_for

_forecasts: SingleFlightCache[str, bytes] = SingleFlightCache(24)


def foreseen(
    user: User, document: Document, key: str, stage: int | None, grained: bool, muted: bool, in_values: bool
) -> bytes:
    """The drawing as JPEG; up to a stage of the method if one is named. key: of the forecast (see piece.services).

    Raises InputError (`nothing_mixed`, `bad_stage`).
    """
    kit = kit_for(user, document)
    method = get_method(document.setup.method, document.setup.medium)
    stages = len(method.stage_names())
    if stage is not None and not 0 <= stage < stages:
        raise InputError("bad_stage", f"There is no stage {stage}.", f"Use 0 to {stages - 1}.", "stage")
    if document.picture is None or not any(spot.recipe for spot in document.spots):
        raise InputError("nothing_mixed", "Nothing is mixed yet.", "Mix the spots first.", "spots")
    picture = get_picture(user, document.picture)
    readings = readings_of(user, document)

    def draw() -> bytes:
        small = small_of(picture.digest, LONGEST_SHOWN)
        owners = views.enlarged(study_of(picture, document).owners, small)
        palettes = [_palette(kit, method, document, readings, figure.id, stage) for figure in document.figures]
        tooth = tooth_tile(kit.support) if grained else None
        pixels = forecast(small, owners, palettes, muted, tooth, kit.support.tooth, stage is None)
        if in_values:
            pixels = np.repeat(views.values(views.Small(pixels, SRGB), views.MOST_STEPS)[..., :1], 3, axis=-1)
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, "JPEG", quality=90, subsampling=0)
        return out.getvalue()

    return _forecasts.get(f"{key} {stage} {grained} {muted} {in_values}", draw)


def _palette(
    kit: Kit, method: Method, document: Document, readings: Readings, figure: str, stage: int | None
) -> Palette | None:
    targets, results = [], []
    for spot in document.spots_of(figure):
        if spot.id not in readings or not spot.recipe:
            continue
        passes = [
            pass_.bare for i, pass_ in enumerate(spot.passes) if stage is None or method.stage(spot.role, i) <= stage
        ]
        try:
            results.append(colours_after(kit, passes)[-1])
        except InputError:
            continue
        targets.append(readings[spot.id].swatch.lab)
    return Palette(np.array(targets), np.array(results)) if targets else None
