"""Drawings that are compared: read, judged, corrected, and what they teach."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction

from core.colour.words import closeness
from core.compare import questions
from core.compare.corrections import Advice, There, in_words
from core.compare.judged import Drawn, believed
from core.compare.questions import Advising, Photographed
from core.compare.reading import Beside, Region
from core.errors import InputError, NotFoundError
from core.layers.doses import Dose
from core.layers.natural import Spot as Place
from core.layers.plan import Layer
from core.look.questions import Seen
from core.look.study import MODEL as SEEING
from core.optics.medium import TOOLS
from core.optics.support import Support
from core.plan.laying import WORKED
from core.plan.setup import judged as judged_by
from core.recipe.recipe import MODEL
from server.api.jobs import Lane, Step, jobs
from server.api.memo import digest
from server.materials import services as materials
from server.pictures.services import get_picture, source_of
from server.pieces.comparing import values
from server.pieces.comparing.shown import boxes_of, judged_of, lab_of
from server.pieces.document.history import Opened, open_piece
from server.pieces.document.schema import Document, Level, Spot
from server.pieces.look.readings import Readings, readings_of
from server.pieces.look.services import placement, seen_of
from server.pieces.mix.laid_out import lightness_reach, owned_by
from server.pieces.models import Comparison, Piece
from server.pieces.results import ResultCache
from server.pieces.work.services import Laid, laid_of, work_of
from server.trials import taught

MAX_COMPARISONS = 24
"""Of one piece."""
HOW_HARD = {"light": 1, "medium": 2, "heavy": 3}

_advice: ResultCache[Advice] = ResultCache(Advice, "advice", MODEL)


@dataclass(frozen=True, slots=True)
class ComparedPiece:
    """A piece that can be compared. document: by its maps; expected: where its picture lies on the sheet, row by row
    (3, 3), in parts; px_per_mm: of its picture with SIZES[0] pixels, on the sheet."""

    user: User
    opened: Opened
    document: Document
    seen: Seen
    readings: Readings
    paper: Support
    expected: tuple[float, ...]
    px_per_mm: float

    def spots(self) -> list[Spot]:
        return [spot for spot in self.document.spots if spot.id in self.readings]

    def wanted(self) -> dict[str, tuple[float, float, float]]:
        """CIELAB by spot: moved into what can be reached if the piece is planned so."""
        spots = self.spots()
        labs = np.array([self.readings[spot.id].swatch.lab for spot in spots], dtype=float).reshape(-1, 3)
        if self.document.setup.fit == "compress" and self.document.tray:
            labs = judged_by(labs, "compress", lambda: lightness_reach(self.user, self.document))
        return {spot.id: lab_of(lab) for spot, lab in zip(spots, labs, strict=True)}


def piece_of(user: User, piece_id: UUID) -> ComparedPiece:
    """Raises NotFoundError, InputError (`no_picture_yet`, `no_spots`)."""
    opened = open_piece(user, piece_id)
    document = opened.drawn().document
    if document.picture is None:
        raise InputError("no_picture_yet", "This piece has no reference yet.", "Put in a picture first.", "picture")
    picture = get_picture(user, document.picture)
    readings = readings_of(user, document)
    if not readings:
        raise InputError("no_spots", "This piece has no spot to compare at.", "Set some on the skin in Look.", "spots")
    place = placement(picture, document)
    assert place is not None  # there is a picture
    (left, top), (right, bottom) = place.on_sheet(0.0, 0.0), place.on_sheet(1.0, 1.0)
    wide, high = document.format.width_mm, document.format.height_mm
    expected = (
        (right - left) / wide, 0.0, left / wide, 0.0, (bottom - top) / high, top / high, 0.0, 0.0, 1.0,
    )  # fmt: skip
    paper = materials.paper_for(user, document.setup.paper, document.setup.medium)
    scale = min(1.0, questions.SIZES[0] / max(picture.width, picture.height))
    return ComparedPiece(
        user, opened, document, seen_of(picture, document), readings, paper, expected, scale / place.mm_per_pixel
    )


def all_of(user: User, piece_id: UUID) -> values.Comparisons:
    """Raises NotFoundError."""
    opened = open_piece(user, piece_id)
    rows = tuple(_row(row) for row in Comparison.objects.filter(piece=opened.piece))
    return values.Comparisons(rows, not any(state == "done" for state in work_of(opened.piece).done.values()))


def _row(row: Comparison) -> values.ComparisonRow:
    return values.ComparisonRow(row.pk, row.number, row.made, row.mean, closeness(row.mean), len(row.taken))


def get(user: User, comparison_id: UUID) -> Comparison:
    """One of the artist's. Raises NotFoundError (`no_comparison`)."""
    found = (
        Comparison.objects.filter(piece__in=Piece.objects.filter(owner=user), pk=comparison_id)
        .select_related("piece", "picture")
        .first()
    )
    if found is None:
        raise NotFoundError("no_comparison", "There is no such comparison.", "It may have been deleted.", "comparison")
    return found


def make(user: User, piece_id: UUID, asked: values.AskComparison) -> Comparison:
    """Read a photograph of the drawing. Raises NotFoundError, InputError (see core.compare.reading.laid_over)."""
    piece = piece_of(user, piece_id)
    held = Comparison.objects.filter(piece=piece.opened.piece)
    if held.count() >= MAX_COMPARISONS:
        raise InputError(
            "too_many_comparisons", f"This piece has {MAX_COMPARISONS} photographs.", "Delete one first.", "picture"
        )
    last = held.order_by("-number").values_list("number", flat=True).first() or 0
    row = Comparison(
        piece=piece.opened.piece, picture=get_picture(user, asked.picture), number=last + 1,
        chart=asked.chart and [list(corner) for corner in asked.chart],
    )  # fmt: skip
    _read(piece, row, asked.corners, asked.frame)
    row.save()
    return row


def change(user: User, row: Comparison, asked: values.ChangeComparison) -> Comparison:
    """What the artist says of it. Raises as `make` does; then nothing is changed."""
    if asked.moved is not None:
        row.moved = {spot: list(at) for spot, at in asked.moved.items()}
    if asked.chart is not None:
        row.chart, row.beside = [list(corner) for corner in asked.chart] or None, []
    if asked.beside is not None:
        row.chart, row.beside = None, _swatches(piece_of(user, row.piece_id), asked.beside)
    if any(part is not None for part in (asked.corners, asked.frame, asked.chart, asked.beside, asked.moved)):
        # Other corners of the sheet: the picture is looked for anew, unless a hand says where it lies.
        frame = asked.frame or (None if asked.corners else tuple((x, y) for x, y in row.frame))
        corners = asked.corners or tuple((x, y) for x, y in row.corners)
        _read(piece_of(user, row.piece_id), row, corners, frame)
    if asked.taken is not None:
        row.taken = _taken(user, row, asked.taken)
    if asked.note is not None:
        row.note = asked.note.strip()
    row.save()
    return row


def delete(row: Comparison) -> None:
    """Forget it, and what it taught."""
    with transaction.atomic():
        taught.forget_places(row.pk)
        row.delete()


def _swatches(piece: ComparedPiece, marked: Sequence[values.SwatchBeside]) -> list[dict[str, Any]]:
    """What the artist has marked, with what trial cards know of it. Raises InputError (`no_tray`, `no_such_stick`, and
    see core.compare.questions.swatches_known)."""
    if not marked:
        return []
    document = piece.document
    if document.tray is None:
        raise InputError("no_tray", "This piece has no tray yet.", "Choose what you draw with in Mix.", "beside")
    tried = taught.tried_of(materials.get_tray(piece.user, document.tray), document.setup.medium, piece.paper)
    codes = tuple(one.stick for one in marked)
    missing = sorted(set(codes) - {stick.code for stick in tried.sticks})
    if missing:
        raise InputError("no_such_stick", f"{missing[0]} is not in the tray.", "Choose one that is.", "beside")
    known = jobs.wait(
        digest("swatches beside", MODEL, tried, codes), Step(questions.swatches_known, (tried, codes)), Lane.PICTURES
    )
    return [asdict(one) | {"lab": list(lab), "error": error} for one, (lab, error) in zip(marked, known, strict=True)]


def beside_of(row: Comparison) -> tuple[Beside, ...]:
    return tuple(Beside(one["x"], one["y"], (lab_of(one["lab"]), one["error"])) for one in row.beside)


def _read(piece: ComparedPiece, row: Comparison, corners: values.Corners | None, frame: values.Corners | None) -> None:
    """What is drawn at every spot, put into the row."""
    spots = piece.spots()
    chart = row.chart and tuple((x, y) for x, y in row.chart)
    task = Photographed(
        source_of(row.picture), piece.seen, piece.paper.lab, corners, frame, chart or None, piece.expected,
        beside_of(row),
    )  # fmt: skip
    regions = tuple(_region(spot, row.moved) for spot in spots)
    found = jobs.wait(
        digest("drawing", SEEING, task, regions), Step(questions.read_drawing, (task, regions)), Lane.PICTURES
    )
    wanted = piece.wanted()
    row.corners, row.frame = [list(at) for at in found.corners], [list(at) for at in found.frame]
    row.places = {
        spot.id: asdict(read) | {"wanted": wanted[spot.id]} for spot, read in zip(spots, found.places, strict=True)
    }
    row.edges, row.said, row.bare, row.usual = list(found.edges), list(found.said), found.bare, found.usual
    row.mean = judged_of(piece.document, row)[0].mean
    row.taken = []


def _region(spot: Spot, moved: Mapping[str, Sequence[float]]) -> Region:
    x, y = moved.get(spot.id, (spot.x, spot.y))
    return Region(float(x), float(y), spot.radius)


# What to do about it --------------------------------------------------------------------------------------------------


def advising(user: User, row: Comparison) -> tuple[ComparedPiece, Advising, list[Drawn]]:
    piece = piece_of(user, row.piece_id)
    document = piece.document
    judgement, drawn = judged_of(document, row)
    if not judgement.verdicts:
        raise InputError(
            "nothing_read", "No spot of this photograph could be read.", "Photograph it again.", "comparison"
        )
    owned = owned_by(user, document)
    assert document.tray is not None  # or owned_by had said so
    tray = materials.get_tray(user, document.tray)
    tried = taught.tried_of(tray, document.setup.medium, piece.paper)
    by_id = {spot.id: spot for spot in document.spots}
    labs = believed(drawn)
    there = tuple(
        There(Place(by_id[one.id].name, by_id[one.id].place, one.role, one.wanted), one.figure, lab_of(lab), one.wanted)
        for one, lab in zip(drawn, labs, strict=True)
    )
    # What is in the tray no more has coloured the paper all the same: its colour was read, its tooth is not known.
    held = {stick.code for stick in owned.sticks} - set(document.setup.banned)
    known = [
        layer
        for layer in laid_of(piece.opened.piece, document, row.number)
        if layer.stick in held or (layer.stick in TOOLS and layer.technique in WORKED)
    ]
    laid = _layers(known, [one.id for one in drawn])
    places = tuple(boxes_of(document, row, drawn).values())
    at_hand = tuple(sorted({layer.stick for layer in document.layers}))
    return piece, Advising(owned, tried, laid, there, places, at_hand, row.usual), drawn


def _layers(laid: Sequence[Laid], spots: Sequence[str]) -> tuple[Layer, ...]:
    """What was laid, with its dose at each of these spots."""
    layers = []
    for row in laid:
        levels = tuple(_dose(row.levels.get(spot)) for spot in spots)
        held = [level for level in levels if level]
        if held:
            most = max(held, key=lambda dose: (HOW_HARD.get(dose.pressure, 0), dose.repeats))
            layers.append(Layer(row.stick, most, levels, "", row.technique, row.id))
    return tuple(layers)


def _dose(level: Level | None) -> Dose | None:
    return Dose(level.pressure, level.repeats, level.flicked) if level else None


def advice_of(task: Advising, wait: bool = False) -> Advice:
    """Raises Underway, unless it is waited for."""

    def work() -> Advice:
        key, step = digest("advice", MODEL, task), Step(questions.advice_for, (task,))
        return jobs.wait(key, step, Lane.PLANS) if wait else jobs.do(key, [step])[0]

    return _advice.get(task, work)


def advice(user: User, row: Comparison, wait: bool = False) -> values.SaidAdvice:
    """What to do about the drawing. Raises InputError; Underway, unless it is waited for."""
    piece, task, drawn = advising(user, row)
    found = advice_of(task, wait)
    document = piece.document
    sticks = {stick.code: stick for stick in task.owned.sticks}
    figures = [figure.id for figure in document.figures]
    on_sheet = {one["number"] for one in row.taken}
    said = []
    for number, one in enumerate(found.corrections):
        stick = sticks[one.stick]
        levels = {
            place.id: Level(dose.pressure, dose.repeats, dose.flicked)
            for place, dose in zip(drawn, one.levels, strict=True)
            if dose
        }
        said.append(
            values.SaidCorrection(
                number, figures[one.figure], one.stick, stick.name, stick.hex, one.title, one.area, one.how, levels,
                one.before, one.after, closeness(one.before), closeness(one.after), number in on_sheet,
            )
        )  # fmt: skip
    nothing = tuple(
        values.NothingHelps(tuple(drawn[i].id for i in one.places), one.text, one.caution) for one in found.nothing
    )
    return values.SaidAdvice(*in_words(found), tuple(said), nothing)


def _taken(user: User, row: Comparison, numbers: Sequence[int]) -> list[dict[str, Any]]:
    """The corrections of these numbers, as they stay on the sheet. Raises InputError (`no_correction`), Underway."""
    if not numbers:
        return []
    _, task, drawn = advising(user, row)
    found = advice_of(task).corrections
    if max(numbers) >= len(found):
        raise InputError("no_correction", "There is no such correction.", "Ask for them anew.", "taken")
    kept = []
    for number in sorted(set(numbers)):
        one = found[number]
        levels = {
            place.id: {"pressure": dose.pressure, "repeats": dose.repeats, "flicked": dose.flicked}
            for place, dose in zip(drawn, one.levels, strict=True)
            if dose
        }
        kept.append({"id": f"round-{row.number}-{number + 1}", "number": number, "stick": one.stick,
                     "title": one.title, "area": one.area, "levels": levels})  # fmt: skip
    return kept


# What it teaches ------------------------------------------------------------------------------------------------------


def teach(user: User, row: Comparison, learn: bool) -> values.TaughtBy:
    """Let the sticks learn from the places of a drawing, or forget it. Raises InputError (`nothing_taught`,
    `boxes_disagree`)."""
    if not learn:
        taught.forget_places(row.pk)
        return values.TaughtBy(None, (), 0, False)
    piece = piece_of(user, row.piece_id)
    document = piece.document
    _, drawn = judged_of(document, row)
    boxes = boxes_of(document, row, drawn)
    if not boxes or document.tray is None:
        raise InputError(
            "nothing_taught",
            "No place of this drawing teaches anything: what lies there is not known.",
            "Tick what was laid in Work, as it was laid.",
            "comparison",
        )
    tray = materials.get_tray(user, document.tray)
    found = taught.learn_places(tray, document.setup.medium, piece.paper, row.pk, list(boxes.values()))
    return values.TaughtBy(found.errors, found.words, len(boxes), True)
