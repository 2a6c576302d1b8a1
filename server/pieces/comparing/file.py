"""A comparison to take away: what was read and advised as JSON, and its pictures."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.utils import timezone

from core.errors import InputError
from core.exchange.pen import FileKind
from core.exchange.plan_sheet import LayerOnSheet, PlanSheet, Where, write_plan
from server.api.jobs import Lane, Step, jobs
from server.api.memo import digest
from server.api.names import file_name
from server.api.values import encode
from server.pictures.services import file_of, kind_of
from server.pieces.comparing import pictured, services, shown, values
from server.pieces.document.history import drawn_of
from server.pieces.models import Comparison

FORMAT = 1
_LARGE = 960


def packed(user: User, row: Comparison) -> bytes:
    """The archive; its dates are the photograph's, so that the same comparison gives the same file.

    Raises OSError.
    """
    document = drawn_of(user, row.piece_id)
    told: dict[str, Any] = {
        "caltin_comparison": FORMAT,
        "version": settings.VERSION,
        "piece": {"id": row.piece_id, "title": row.piece.title},
        "medium": document.setup.medium,
        "paper": document.setup.paper,
        "names": {spot.id: spot.name for spot in document.spots},
        "figures": {figure.id: figure.name for figure in document.figures},
        "comparison": encode(values.Compared, shown.shown(row, document)),
        "advice": None,
    }
    corrections: tuple[values.SaidCorrection, ...] = ()
    try:
        advice = services.advice(user, row, wait=True)
        told["advice"] = encode(values.SaidAdvice, advice)
        corrections = advice.corrections
    except InputError as error:
        told["no_advice"] = str(error)
    out = io.BytesIO()
    made = timezone.localtime(row.made).timetuple()[:6]
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def add(name: str, data: bytes) -> None:
            entry = zipfile.ZipInfo(name, made)
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)

        add("comparison.json", json.dumps(told, indent=1, ensure_ascii=False, default=str).encode())
        for side in values.SIDES:
            _, draw = pictured.picture(user, row, side, "as_it_is", _LARGE)
            add(f"{side}.jpg", draw())
        for one in corrections:
            _, draw = pictured.correction_picture(user, row, one.number, "map", _LARGE)
            add(f"corrections/{one.number + 1}.jpg", draw())
        photo = file_of(row.picture.digest)
        # Deleted meanwhile: what was read from it is what counts.
        if photo.exists():
            add(f"photograph.{kind_of(photo)}", photo.read_bytes())
    return out.getvalue()


def sheet(user: User, row: Comparison, kind: FileKind) -> tuple[bytes, str]:
    """A comparison on paper: both pictures, what was seen, and what to do, to be ticked; and what to call the file.

    Raises NotFoundError, InputError; Underway, until the advice is there.
    """
    document = drawn_of(user, row.piece_id)
    compared = shown.shown(row, document)
    sides = {"The drawing": "drawing", "The picture": "reference"}
    pictures = tuple((said, pictured.picture(user, row, side, "as_it_is", _LARGE)[1]()) for said, side in sides.items())
    said = [finding.text for finding in compared.found]
    layers: list[LayerOnSheet] = []
    try:
        advice = services.advice(user, row)
        for one in advice.corrections:
            _, draw = pictured.correction_picture(user, row, one.number, "map", _LARGE)
            where = (Where(one.area, one.how, ""),)
            layers.append(LayerOnSheet(one.number + 1, one.stick, one.name, one.hex, f"{one.title}.", where, (draw(),)))
        said += [f"{row.text} {row.caution}".strip() for row in advice.nothing]
    except InputError as error:
        said.append(str(error))
    made = timezone.localtime(row.made)
    about = f"Photograph {row.number}, {made.day} {made:%B %Y}: {compared.close} in the mean"
    plan = PlanSheet(row.piece.title, about, pictures, tuple(layers), tuple(said))
    step = Step(write_plan, (plan, kind))
    name = f"{file_name(row.piece.title, 'piece')}-photograph-{row.number}"
    return jobs.wait(digest("comparison sheet", plan, kind), step, Lane.PICTURES), name
