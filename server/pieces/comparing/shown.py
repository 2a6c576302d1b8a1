"""A comparison as its artist sees it: judged, and what of it could teach."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from core.colour.swatch import Swatch
from core.colour.words import closeness
from core.compare.judged import Drawn, Judgement, judged
from core.compare.reading import BARE
from core.optics.medium import Pass
from core.trial.joint import MeasuredBox
from core.trial.space import SHARED
from server.pieces.comparing import values
from server.pieces.document.schema import Document, Spot
from server.pieces.models import Comparison
from server.pieces.work.services import laid_of
from server.trials import taught


def judged_of(document: Document, row: Comparison) -> tuple[Judgement, list[Drawn]]:
    figures = {figure.id: number for number, figure in enumerate(document.figures)}
    drawn = [
        Drawn(
            spot.id, figures[spot.figure], spot.name, spot.role, lab_of(held["wanted"]), lab_of(held["lab"]),
            held["doubt"], *at(spot, row),
        )
        for spot in document.spots
        if (held := row.places.get(spot.id)) and not held["trouble"]
    ]  # fmt: skip
    edges = row.edges if len(row.edges) == len(figures) else []
    return judged(drawn, [figure.name for figure in document.figures], edges), drawn


def at(spot: Spot, row: Comparison) -> tuple[float, float]:
    x, y = row.moved.get(spot.id, (spot.x, spot.y))
    return x, y


def shown(row: Comparison, document: Document) -> values.Compared:
    """A comparison as the artist sees it."""
    judgement, drawn = judged_of(document, row)
    said = {verdict.id: verdict for verdict in judgement.verdicts}
    spots = []
    for spot in document.spots:
        held = row.places.get(spot.id)
        if held is None:
            continue
        verdict = said.get(spot.id)
        x, y = at(spot, row)
        spots.append(
            values.SpotCompared(
                spot.id, Swatch.of(held["wanted"]), Swatch.of(held["lab"]) if verdict else None,
                verdict.steps if verdict else 0.0, verdict.off if verdict else 0.0, held["doubt"],
                verdict.word if verdict else "", closeness(verdict.off) if verdict else "", held["trouble"], x, y,
            )
        )  # fmt: skip
    figures = [figure.id for figure in document.figures]
    return values.Compared(
        id=row.pk,
        number=row.number,
        made=row.made,
        picture=row.picture_id,
        corners=tuple((x, y) for x, y in row.corners),
        frame=tuple((x, y) for x, y in row.frame),
        chart=row.chart and tuple((x, y) for x, y in row.chart),
        beside=tuple(values.SwatchBeside(one["x"], one["y"], one["stick"]) for one in row.beside),
        said=tuple(row.said),
        bare=row.bare,
        mean=judgement.mean,
        close=closeness(judgement.mean),
        usual=row.usual,
        spots=tuple(spots),
        found=(
            *(
                values.SaidFinding(one.stage, figures[one.figure], one.kind, one.text, one.places)
                for one in judgement.findings
            ),
            *_bare(document, row),
        ),
        taken=tuple(values.TakenCorrection(one["id"], one["title"], one["stick"]) for one in row.taken),
        note=row.note,
        teaches=len(boxes_of(document, row, drawn)),
        taught=taught.has_taught(row.pk),
    )


def _bare(document: Document, row: Comparison) -> Iterable[values.SaidFinding]:
    """Places that are still paper, which the plan is for and no correction."""
    for figure in document.figures:
        its = [
            spot
            for spot in document.spots_of(figure.id)
            if row.places.get(spot.id, {}).get("trouble") == BARE and any(document.passes_of(spot))
        ]
        if its:
            text = f"{figure.name}: still paper at {', '.join(spot.name for spot in its)}."
            yield values.SaidFinding("places", figure.id, "bare", text, tuple(spot.id for spot in its))


def boxes_of(document: Document, row: Comparison, drawn: Sequence[Drawn]) -> dict[str, MeasuredBox]:
    """Places whose layers are known, as boxes, by spot."""
    medium = document.setup.medium
    if medium not in SHARED:
        return {}
    laid = laid_of(row.piece, document, row.number)
    found = {}
    for place in drawn:
        passes = tuple(
            Pass(layer.stick, level.pressure, level.repeats, "flick" if level.flicked else layer.technique)
            for layer in laid
            if (level := layer.levels.get(place.id))
        )
        if passes and all(pass_.technique in ("lay", "flick") for pass_ in passes):
            found[place.id] = MeasuredBox(passes, place.seen, place.doubt)
    return found


def lab_of(lab: Any) -> tuple[float, float, float]:
    lightness, a, b = (round(float(v), 2) for v in lab)
    return lightness, a, b
