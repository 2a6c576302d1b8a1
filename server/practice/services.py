"""Practice: rounds made of what an artist has, answers kept, and what they show."""

from __future__ import annotations

import io
import uuid
from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from typing import cast
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from PIL import Image, ImageDraw

from core.colour.munsell import lab_to_value
from core.colour.spaces import lab_to_hex
from core.errors import CaltinError, InputError, NotFoundError
from core.light.questions import picture_of
from core.light.scene import Scene
from core.optics.medium import TOOLS
from core.optics.stick import Stick
from core.photo.swatches import WHITE_PAPER
from core.practice.asked import FELT, SOURCES, UNITS, Group, Kind, Question, Sample, Source, group_of, marked
from core.practice.ramp import read_ramp
from core.practice.rounds import Asking, MadeRound, PlannedPlaces, make_round
from core.practice.standing import Answer, curves, due, prejudices
from server.api.jobs import Lane, Step, jobs
from server.api.memo import digest
from server.api.values import decode, encode
from server.materials import services as materials
from server.pictures import services as pictures
from server.pictures.values import AskSheet
from server.pieces.document.history import Opened, open_all
from server.pieces.document.schema import Document
from server.pieces.look.readings import readings_of
from server.pieces.mix.laid_out import owned_by
from server.practice import values
from server.practice.models import Practised

MAX_ANSWERS = 20_000
"""Of one artist; beyond that the oldest go."""
_PIECES, _SAMPLES = 12, 240
"""How many pieces, the latest first, and places a round draws from."""
_CROP, _CROP_FROM = 360, 1500
"""Pixels across what is shown of a picture, and of the picture that it is cut from."""
_SHOWN_AROUND = 9.0
"""How many radii of a place are shown around it."""


def standing(user: User) -> values.Standing:
    """What the artist's answers show."""
    answers = _answers(user)
    now = timezone.now().timestamp()
    pictured, with_sticks, planned = _there_is(user)
    begun = Practised.objects.filter(owner=user, at=None).order_by("-made").values_list("round", flat=True).first()
    sources: tuple[Source, ...] = SOURCES if pictured else SOURCES[1:]
    answered = {(row.kind, row.group) for row in answers}
    return values.Standing(
        len(answers),
        begun,
        sources,
        with_sticks,
        planned,
        tuple(
            values.CurveShown(
                row.kind, row.group, UNITS[row.kind], FELT[row.kind],
                tuple(
                    values.WeekShown(datetime.fromtimestamp(week.start, UTC), week.count, week.off, week.low, week.high)
                    for week in row.weeks
                ),
                row.leaning,
            )
            for row in curves(answers)
        ),
        tuple(values.PrejudiceShown(row.kind, row.group, row.error, row.said) for row in prejudices(answers)),
        tuple(
            values.DueShown(row.kind, row.group, row.days, (row.kind, row.group) not in answered)
            for row in due(answers, now)
        ),
    )  # fmt: skip


def _there_is(user: User) -> tuple[bool, bool, bool]:
    """Whether there are references with spots, sticks, and places in more than one layer; nothing is read for that."""
    documents = [opened.document for opened in _latest(user)]
    pictured = [document for document in documents if document.picture and document.spots]
    planned = any(len(document.passes_of(spot)) > 1 for document in pictured for spot in document.spots)
    return bool(pictured), any(tray.sticks.exists() for tray in materials.trays_of(user)), planned


def _latest(user: User) -> list[Opened]:
    return sorted(open_all(user), key=lambda row: row.piece.changed, reverse=True)[:_PIECES]


def _answers(user: User) -> tuple[Answer, ...]:
    rows = Practised.objects.filter(owner=user, at__isnull=False)
    return tuple(
        Answer(cast(Kind, row.kind), cast(Group, row.group), row.error or 0.0, row.at.timestamp())
        for row in rows.only("kind", "group", "error", "at")
        if row.at
    )


def _of_artist(user: User) -> tuple[tuple[Sample, ...], tuple[Stick, ...], tuple[PlannedPlaces, ...]]:
    """Places of the artist's references, sticks of the latest piece with a tray, and what is planned."""
    samples: list[Sample] = []
    plans: list[PlannedPlaces] = []
    sticks: tuple[Stick, ...] = ()
    for opened in _latest(user):
        document = opened.document
        try:
            mine = _samples(user, opened)
        except CaltinError:
            # A picture that cannot be read any more is no reason to ask nothing.
            continue
        samples += mine.values()
        if document.tray is None:
            continue
        try:
            owned = owned_by(user, document)
            plan = _planned(user, opened.drawn().document, owned.sticks, mine)
        except CaltinError:
            # Nor is a box or a paper that is gone.
            continue
        sticks = sticks or tuple(stick for stick in owned.sticks if stick.medium == document.setup.medium)
        if plan:
            plans.append(plan)
    if not sticks and (trays := materials.trays_of(user)):
        sticks = materials.as_core(trays[0]).usable()
    return tuple(samples[:_SAMPLES]), sticks, tuple(plans)


def _samples(user: User, opened: Opened) -> dict[str, Sample]:
    """By spot. An imagined light has no picture to be shown in."""
    document, piece = opened.document, opened.piece
    names = {figure.id: figure.name for figure in document.figures}
    readings = readings_of(user, document) if document.picture else {}
    found = {}
    for spot in document.spots:
        reading = readings.get(spot.id)
        if reading is None:
            continue
        lightness, a, b = np.round(reading.swatch.lab, 2).tolist()
        name = f"{spot.name}, {names[spot.figure]} in {piece.title}"
        found[spot.id] = Sample(
            (lightness, a, b), spot.place, spot.role, name, "references", str(piece.pk), spot.figure,
            spot.x, spot.y, spot.radius,
        )  # fmt: skip
    return found


def _planned(
    user: User, document: Document, sticks: Sequence[Stick], samples: dict[str, Sample]
) -> PlannedPlaces | None:
    """Places that are laid in two layers or more, of sticks alone."""
    places = []
    for spot in document.spots:
        passes = tuple(pass_.bare for pass_ in document.passes_of(spot))
        plain = all(pass_.stick not in TOOLS and pass_.technique == "lay" for pass_ in passes)
        if spot.id in samples and len(passes) > 1 and plain:
            places.append((samples[spot.id], passes))
    used = {pass_.stick for _, passes in places for pass_ in passes}
    held = tuple(stick for stick in sticks if stick.code in used)
    if not places or {stick.code for stick in held} != used:
        return None
    setup = document.setup
    return PlannedPlaces(held, materials.paper_for(user, setup.paper, setup.medium), setup.medium, tuple(places))


# Rounds ---------------------------------------------------------------------------------------------------------------


def begin(user: User, asked: values.AskRound) -> values.PracticeRound:
    """A round of what is weak; one that was begun before and not answered goes. Raises InputError
    (`nothing_to_ask`)."""
    samples, sticks, plans = _of_artist(user)
    made, now = uuid.uuid4(), timezone.now().timestamp()
    seed = made.int % 2**32
    asking = Asking(samples, sticks, plans, _answers(user), now, asked.kinds, asked.sources, seed)
    found: MadeRound = jobs.wait(digest("round", asking), Step(make_round, (asking,)), Lane.PICTURES)
    scene = found.scene and encode(Scene, found.scene)
    with transaction.atomic():
        Practised.objects.filter(owner=user, at=None).delete()
        _make_room(user, len(found.questions))
        Practised.objects.bulk_create(
            Practised(
                owner=user,
                round=made,
                number=number,
                kind=question.kind,
                group=question.group,
                question=encode(Question, question),
                scene=scene if question.samples[0].source == "study head" else None,
            )
            for number, question in enumerate(found.questions)
        )
    return get(user, made)


def _make_room(user: User, more: int) -> None:
    too_many = Practised.objects.filter(owner=user).count() + more - MAX_ANSWERS
    if too_many > 0:
        oldest = Practised.objects.filter(owner=user).order_by("made").values_list("pk", flat=True)[:too_many]
        Practised.objects.filter(pk__in=list(oldest)).delete()


def get(user: User, round_id: UUID) -> values.PracticeRound:
    """Raises NotFoundError (`no_round`)."""
    rows = list(Practised.objects.filter(owner=user, round=round_id).exclude(kind="ramp"))
    if not rows:
        raise NotFoundError("no_round", "There is no such round.", "Begin another.", "round")
    return values.PracticeRound(round_id, rows[0].made, tuple(_shown(row) for row in rows))


def _row(user: User, round_id: UUID, number: int) -> Practised:
    row = Practised.objects.filter(owner=user, round=round_id, number=number).exclude(kind="ramp").first()
    if row is None:
        raise NotFoundError("no_question", "There is no such question.", "It may belong to an earlier round.", "number")
    return row


def _shown(row: Practised) -> values.QuestionShown:
    question = decode(Question, row.question)
    first = question.samples[0]
    given = None
    if row.guess is not None:
        mark = marked(question, row.guess)
        offs = tuple(choice.off for choice in question.choices)
        given = values.AnswerShown(row.guess, question.truth, mark.error, mark.right, mark.said, offs)
    return values.QuestionShown(
        row.number,
        question.kind,
        question.group,
        first.name,
        tuple(lab_to_hex(np.array(sample.lab)) for sample in question.samples),
        lab_to_hex(np.array(first.around)) if first.around else "",
        first.source != "patches",
        tuple(values.ChoiceShown(one.stick, one.name, one.hex, one.how) for one in question.choices),
        given,
    )


def answer(user: User, round_id: UUID, number: int, guess: float) -> values.QuestionShown:
    """Keep an answer; one that was given stays. Raises NotFoundError (`no_round`, `no_question`), InputError
    (`no_such_choice`)."""
    row = _row(user, round_id, number)
    question = decode(Question, row.question)
    if question.choices and not 0 <= guess < len(question.choices):
        raise InputError("no_such_choice", "There is no such choice.", "Choose one of those shown.", "guess")
    if row.guess is None:
        row.guess, row.error, row.at = guess, marked(question, guess).error, timezone.now()
        row.save(update_fields=["guess", "error", "at"])
    return _shown(row)


def take_back(user: User, round_id: UUID, number: int) -> values.QuestionShown:
    """An answer that was a slip: it is asked again. Raises NotFoundError."""
    row = _row(user, round_id, number)
    row.guess = row.error = row.at = None
    row.save(update_fields=["guess", "error", "at"])
    return _shown(row)


def forget(user: User) -> None:
    """All answers."""
    Practised.objects.filter(owner=user).delete()


def picture(user: User, round_id: UUID, number: int) -> tuple[str, Callable[[], bytes]]:
    """The name of what is seen of a question where it is, and what draws it. Raises NotFoundError (`no_picture`)."""
    row = _row(user, round_id, number)
    first = decode(Question, row.question).samples[0]
    if first.source == "study head" and row.scene:
        scene = decode(Scene, row.scene)
        key = digest("practised head", scene, first)
        step = Step(picture_of, (scene, 0, _CROP, "as_it_is"))
        return key, lambda: _marked_in(jobs.wait(key, step, Lane.PICTURES), first, around=0.0)
    opened = next((one for one in open_all(user) if str(one.piece.pk) == first.piece), None)
    if opened is None or opened.document.picture is None:
        raise NotFoundError("no_picture", "Its picture is gone.", "The patch alone is asked about.", "number")
    shown = pictures.get_picture(user, opened.document.picture)
    key = digest("practised place", shown.digest, first)
    return key, lambda: _marked_in(pictures.shown(shown, _CROP_FROM), first, _SHOWN_AROUND)


def _marked_in(data: bytes, sample: Sample, around: float) -> bytes:
    """What is around a place, its middle marked by a dark ring within a light one. around: how many of its radii, 0 for
    all of the picture."""
    with Image.open(io.BytesIO(data)) as opened:
        image = opened.convert("RGB")
    w, h = image.size
    x, y, radius = sample.x * w, sample.y * h, sample.radius * max(w, h)
    if around:
        half = min(max(around * radius, _CROP / 4), w / 2, h / 2)
        left, top = min(max(0.0, x - half), w - 2 * half), min(max(0.0, y - half), h - 2 * half)
        scale = _CROP / (2 * half)
        image = image.resize((_CROP, _CROP), Image.Resampling.LANCZOS, (left, top, left + 2 * half, top + 2 * half))
        x, y, radius = (x - left) * scale, (y - top) * scale, radius * scale
    _brackets(image, x, y, max(radius, 7.0) * 1.4)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=92, subsampling=0)
    return out.getvalue()


def _brackets(image: Image.Image, x: float, y: float, reach: float) -> None:
    """Four short strokes towards a place, which leave it and its neighbours free."""
    draw = ImageDraw.Draw(image)
    for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
        ends = [(x + dx * reach * k, y + dy * reach * k) for k in (1.0, 1.9)]
        draw.line(ends, fill=(255, 255, 255), width=5)
        draw.line(ends, fill=(0, 0, 0), width=2)


# A ramp laid by hand --------------------------------------------------------------------------------------------------


def ramp(user: User, asked: values.AskRamp) -> values.RampShownRead:
    """Five steps of a stick, measured and kept. Raises NotFoundError, InputError (see core.practice.ramp, and
    core.photo.swatches.read_sheet)."""
    darkest = None
    if asked.tray and asked.stick:
        held = materials.as_core(materials.get_tray(user, asked.tray)).sticks
        stick = next((one for one in held if one.code == asked.stick), None)
        if stick is None:
            raise NotFoundError("no_stick", "There is no such colour in the tray.", "Choose one of it.", "stick")
        darkest = stick.lab
    seen = pictures.sheet(user, asked.picture, AskSheet(corners=asked.corners))
    labs = [swatch.swatch.lab for swatch in seen.swatches]
    read = read_ramp([_lab(lab) for lab in labs], WHITE_PAPER, darkest)
    order = np.argsort(-np.array([float(lab_to_value(np.array(lab))) for lab in labs]), kind="stable")
    made, now = uuid.uuid4(), timezone.now()
    with transaction.atomic():
        _make_room(user, len(labs))
        for number, index in enumerate(order):
            lab = _lab(labs[int(index)])
            sample = Sample(lab, "other", "middle", f"step {number + 1}", "patches")
            Practised.objects.create(
                owner=user, round=made, number=number, kind="ramp", group=group_of("ramp", sample),
                guess=read.values[number], error=read.errors[number], at=now,
            )  # fmt: skip
    hexes = tuple(seen.swatches[int(i)].swatch.hex for i in order)
    return values.RampShownRead(read.values, read.wanted, read.errors, hexes, read.said)


def _lab(lab: Sequence[float]) -> tuple[float, float, float]:
    lightness, a, b = (float(v) for v in lab)
    return lightness, a, b
