"""The work sheet, and what was done of it: ticks and notes, a record of its own outside undo."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from core.errors import InputError
from core.limits import LIMITS
from core.method.manner import manner
from core.method.order import Task, WorkSheet, work_sheet
from core.method.steps import ORDERS, Order, Part, Spot, steps_of, tick_of
from core.method.strokes import stroke_of
from core.optics.kit import Kit
from core.optics.media import facts_of, get_medium
from core.optics.medium import PRESSURES
from core.plan.laying import WORKED
from core.surround.ramp import WHERE
from core.surround.region import PARTS
from server.materials.schools import method_for
from server.pieces.document.drawn import Drawn
from server.pieces.document.history import open_piece
from server.pieces.document.schema import Document, Level, PlannedLayer, PlannedPass
from server.pieces.mix.laid_out import kit_for
from server.pieces.models import Comparison, Piece, Tick
from server.pieces.work.values import AroundStep, Change, Job, LaidPart, LaidStep, PickUp, Sheet, Work

MOST = LIMITS.spots * LIMITS.passes
"""Ticks and notes of one piece."""


def work_of(piece: Piece) -> Work:
    """What was ticked and noted of a piece."""
    rows = list(Tick.objects.filter(piece=piece).order_by("pk"))
    return Work(
        done={row.pass_id: row.state for row in rows if row.state},  # type: ignore[misc]  # kept as it was checked
        notes={row.pass_id: row.note for row in rows if row.note},
    )


def ticked(user: User) -> dict[UUID, set[str]]:
    """The ids of the passes that are done or skipped, by piece."""
    found: dict[UUID, set[str]] = defaultdict(set)
    for piece, pass_id in (
        Tick.objects.filter(piece__owner=user, piece__removed=None).exclude(state="").values_list("piece", "pass_id")
    ):
        found[piece].add(pass_id)
    return found


@transaction.atomic
def note_work(user: User, piece_id: UUID, changes: dict[str, Change]) -> None:
    """Note what was done; the same twice changes nothing. Raises NotFoundError, InputError (`too_many_ticks`)."""
    opened = open_piece(user, piece_id)
    held = {row.pass_id: row for row in Tick.objects.filter(piece=opened.piece, pass_id__in=changes)}
    rows = [
        _changed(held.get(pass_id) or Tick(piece=opened.piece, pass_id=pass_id), change)
        for pass_id, change in changes.items()
    ]
    Tick.objects.filter(piece=opened.piece, pass_id__in=[row.pass_id for row in rows if _empty(row)]).delete()
    Tick.objects.bulk_create(
        [row for row in rows if not _empty(row)],
        update_conflicts=True,
        unique_fields=["piece", "pass_id"],
        update_fields=["state", "note", "at"],
    )
    _make_room(opened.piece, opened.document)
    Piece.objects.filter(pk=opened.piece.pk).update(changed=timezone.now())


def _changed(row: Tick, change: Change) -> Tick:
    if change.state is not None and change.state != row.state:
        row.state, row.at = change.state, timezone.now()
    if change.note is not None:
        row.note = change.note.strip()
    return row


def _empty(row: Tick) -> bool:
    return not (row.state or row.note)


def _make_room(piece: Piece, document: Document) -> None:
    """Ticks of passes that were taken out stay for an undo, as long as there is room for them."""
    ticks = Tick.objects.filter(piece=piece)
    if ticks.count() > MOST:
        planned = set(document.pass_ids()) | {layer.id for round_ in rounds_of(piece) for layer in round_.layers}
        gone = [row.pk for row in ticks.only("pk", "pass_id") if row.pass_id not in planned]
        ticks.filter(pk__in=gone).delete()
    if ticks.count() > MOST:
        raise InputError("too_many_ticks", "There are more ticks than a piece can have steps.", "", "passes")


def tasks_of(document: Document) -> list[Task]:
    """The recipes of a document, as the sheet sees them."""
    return [
        Task(spot.id, spot.role, tuple(pass_.bare for pass_ in document.passes_of(spot))) for spot in document.spots
    ]


@dataclass(frozen=True, slots=True)
class Laid:
    """A layer that was laid, or what of it was: levels by spot."""

    id: str
    stick: str
    technique: str
    levels: dict[str, Level]


@dataclass(frozen=True, slots=True)
class Round:
    """Corrections that were taken from a comparison, as layers of the sheet. comparison: its id; numbers: theirs."""

    comparison: UUID
    numbers: tuple[int, ...]
    layers: tuple[PlannedLayer, ...]


def rounds_of(piece: Piece, before: int | None = None) -> list[Round]:
    """The rounds after the plan, one for each comparison of which something was taken. before: of earlier photographs
    than this number alone."""
    rows = Comparison.objects.filter(piece=piece) if before is None else piece.comparisons.filter(number__lt=before)
    return [
        Round(
            row.pk,
            tuple(held["number"] for held in row.taken),
            tuple(
                PlannedLayer(held["id"], held["stick"], {spot: Level(**at) for spot, at in held["levels"].items()})
                for held in row.taken
            ),
        )
        for row in rows
        if row.taken
    ]


def laid_of(piece: Piece, document: Document, before: int | None = None) -> list[Laid]:
    """What lies on the paper, in order: what is ticked as done; the whole plan where nothing is ticked at all. before:
    without the rounds since this photograph."""
    done = {tick for tick, state in work_of(piece).done.items() if state == "done"}
    own = [_alone(pass_, spot.id) for spot in document.spots for pass_ in spot.passes]
    planned = [*document.layers, *own]
    rounds = [layer for round_ in rounds_of(piece, before) for layer in round_.layers]
    found = []
    for layer in (*planned, *rounds):
        assumed = not done and layer in planned
        levels = {
            spot: level
            for spot, level in layer.levels.items()
            if level and (assumed or layer.id in done or tick_of(layer.id, spot) in done)
        }
        if levels:
            found.append(Laid(layer.id, layer.stick, layer.technique, levels))
    return found


def _alone(pass_: PlannedPass, spot: str) -> PlannedLayer:
    """A pass of a recipe of a spot's own, as a layer over that spot."""
    flicked = pass_.technique == "flick"
    level = Level(pass_.pressure, 1 if flicked else pass_.repeats, flicked)
    return PlannedLayer(pass_.id, pass_.stick, {spot: level}, "lay" if flicked else pass_.technique)


def sheet(user: User, drawn: Drawn, order: Order = ORDERS[0], rounds: Sequence[Round] = ()) -> Sheet:
    """The work sheet: layers and pick-ups in working order, the proven minimum, and what to beware of; then the rounds
    that comparisons have added."""
    document = drawn.document
    kit = kit_for(user, document)
    method = method_for(user, document.setup)
    lightness = {stick.code: float(stick.lab[0]) for stick in kit.sticks}
    sign = 1.0 if method.order == "dark_to_light" else -1.0
    made = work_sheet(tasks_of(document), method, lambda code: sign * lightness.get(code, 50.0))
    ids = {(spot.id, i): pass_.id for spot in document.spots for i, pass_ in enumerate(document.passes_of(spot))}
    medium_of = {stick.code: stick.medium for stick in kit.sticks}
    return Sheet(
        steps=(*_steps(drawn, kit, order), *_rounds(document, kit, rounds)),
        around=tuple(_around(document, medium_of)),
        orders=ORDERS,
        pick_ups=tuple(
            PickUp(
                stick=pick_up.stick,
                stage=pick_up.stage,
                jobs=tuple(
                    Job(
                        spot=job.spot,
                        pass_id=ids[job.spot, job.index],
                        index=job.index,
                        stick=job.pass_.stick,
                        pressure=job.pass_.pressure,
                        repeats=job.pass_.repeats,
                        technique=job.pass_.technique,
                        manner=manner(job.pass_, medium_of.get(job.pass_.stick)),
                    )
                    for job in pick_up.jobs
                ),
            )
            for pick_up in made.pick_ups
        ),
        fewest=made.fewest,
        cautions=tuple(facts_of(medium).caution for medium in _media_used(made, kit, medium_of)),
    )


def _rounds(document: Document, kit: Kit, rounds: Sequence[Round]) -> Iterable[LaidStep]:
    """Rounds after the plan, layer by layer, as steps of work."""
    number = len(document.layers)
    for count, round_ in enumerate(rounds, start=2):
        alone = replace(document, layers=round_.layers)
        for step, which in zip(_steps(Drawn(alone), kit, ORDERS[0]), round_.numbers, strict=False):
            number += 1
            yield replace(
                step, number=number, round=count, comparison=str(round_.comparison), correction=which, caution=""
            )


def _steps(drawn: Drawn, kit: Kit, order: Order) -> Iterable[LaidStep]:
    """The layers of the document as steps of work."""
    document = drawn.document
    numbers = {figure.id: number for number, figure in enumerate(document.figures)}
    spots = {spot.id: Spot(spot.id, numbers[spot.figure], spot.name, spot.place, spot.role) for spot in document.spots}
    laid = [[spots[key] for key, level in layer.levels.items() if level and key in spots] for layer in document.layers]
    seen, inked = set[str](), set[str]()
    for step in steps_of(laid, order):
        layer = document.layers[step.layer]
        medium = kit.medium_of(layer.stick) or kit.usual
        places = [spot for part in step.parts for spot in part.spots]
        passes = [held.bare for spot in places if (held := layer.at(spot.id))]
        # Between the spots a map may have more than at any of them.
        most = [layer.laid(drawn.most[layer.id]).bare] if order == ORDERS[0] and layer.id in drawn.most else []
        hardest = max([*passes, *most], key=lambda pass_: (PRESSURES.index(pass_.pressure), pass_.repeats))
        mine = {spot.id for spot in document.spots if numbers[spot.figure] in {place.figure for place in places}}
        stroke = stroke_of(
            medium,
            layer.technique,
            hardest.pressure,
            all(pass_.technique == "flick" for pass_ in passes),
            [spot.role for spot in places],
            everywhere={spot.id for spot in places} >= mine,
            over_ink=any(spot.id in inked for spot in places),
        )
        if get_medium(medium).lies == "ink":
            inked |= {spot.id for spot in places}
        said = kit.medium_of(layer.stick) or None
        yield LaidStep(
            layer.id,
            step.layer + 1,
            layer.stick,
            layer.technique,
            manner(hardest, said),
            stroke.kind,
            stroke.words,
            stroke.first,
            stroke.end,
            "" if medium in seen else facts_of(medium).caution,
            tuple(_part(document, layer, part, said) for part in step.parts),
            layer.technique in WORKED,
        )
        seen.add(medium)


def _around(document: Document, medium_of: dict[str, str]) -> Iterable[AroundStep]:
    """The layers of what surrounds the skin, region by region."""
    for region in document.surroundings:
        for layer in region.layers:
            laid = [layer.at(part) for part in PARTS]
            where = (laid[0] is not None, laid[1] is not None, laid[2] is not None)
            hows = dict.fromkeys(manner(pass_.bare, medium_of.get(layer.stick)) for pass_ in laid if pass_)
            how = " to ".join(list(hows)[:: max(1, len(hows) - 1)])
            yield AroundStep(region.name, layer.id, layer.stick, WHERE[where], how)


def _part(document: Document, layer: PlannedLayer, part: Part, medium: str | None) -> LaidPart:
    levels = sorted((level for spot in part.spots if (level := layer.levels.get(spot.id))), key=Level.much)
    hows = dict.fromkeys(manner(layer.laid(level).bare, medium) for level in levels)
    return LaidPart(
        document.figures[part.figure].name,
        part.feature,
        tuple(spot.name for spot in part.spots),
        " to ".join(list(hows)[:: max(1, len(hows) - 1)]),
        tuple(tick_of(layer.id, spot.id) for spot in part.spots),
        tuple(spot.id for spot in part.spots),
    )


def _media_used(made: WorkSheet, kit: Kit, medium_of: dict[str, str]) -> Iterable[str]:
    laid = (medium_of[pick_up.stick] for pick_up in made.pick_ups if pick_up.stick in medium_of)
    return dict.fromkeys((kit.usual, *laid))
