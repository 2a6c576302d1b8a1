"""Practice as a part of a bundle: see docs/piece-format.md."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Annotated

from annotated_types import Interval, MaxLen
from django.contrib.auth.models import User

from core.errors import InputError
from core.exchange.bundle import Bundle, bad
from core.light.scene import Scene, check_scene
from core.practice.asked import Group, Kind, Question, Sample
from server.api.values import decode, encode, value
from server.practice.models import Practised
from server.practice.services import MAX_ANSWERS

_MOST_PARTS = 40


@value
class CarriedAnswer:
    """A question that was answered, or a step of a ramp. round: which were asked together, from 1; question: none for a
    ramp, its samples' `piece` by its name in the bundle, empty where that is not in it."""

    round: Annotated[int, Interval(ge=1, le=MAX_ANSWERS)]
    number: Annotated[int, Interval(ge=0, le=1000)]
    made: datetime
    kind: Kind
    group: Group
    question: Question | None
    scene: Scene | None
    guess: Annotated[float, Interval(ge=-1e6, le=1e6)] | None
    error: Annotated[float, Interval(ge=-1e6, le=1e6)] | None
    at: datetime | None


Answers = Annotated[tuple[CarriedAnswer, ...], MaxLen(MAX_ANSWERS)]


@value
class CarriedPractice:
    answers: Answers


def practice_out(user: User, pieces: Mapping[str, str]) -> CarriedPractice:
    """All answers, the oldest first. pieces: what the bundle calls them, by their own ids."""
    rows = Practised.objects.filter(owner=user).exclude(at=None).order_by("made", "number", "pk")
    rounds: dict[uuid.UUID, int] = {}
    return CarriedPractice(
        tuple(
            CarriedAnswer(
                rounds.setdefault(row.round, len(rounds) + 1), row.number, row.made,
                row.kind, row.group,  # type: ignore[arg-type]  # kept as they were checked
                _told_of(decode(Question, row.question), pieces) if row.question else None,
                decode(Scene, row.scene) if row.scene else None, row.guess, row.error, row.at,
            )
            for row in rows
        )
    )  # fmt: skip


def _told_of(question: Question, pieces: Mapping[str, str]) -> Question:
    return replace(question, samples=tuple(replace(one, piece=pieces.get(one.piece, "")) for one in question.samples))


def practice_in(bundle: Bundle, name: str) -> CarriedPractice:
    """The practice of a bundle. Raises ValidationError, InputError that names the answer."""
    held = decode(CarriedPractice, bundle.json(name))
    for i, row in enumerate(held.answers):
        where = f"{name}, answers[{i}]"
        if (row.kind == "ramp") != (row.question is None):
            raise bad(f"{where}: a ramp alone has no question")
        if row.question and not (0 < len(row.question.samples) <= _MOST_PARTS):
            raise bad(f"{where}: it asks about nothing")
        if row.question and not all(map(_possible, row.question.samples)):
            raise bad(f"{where}: it asks about what no picture has")
        if row.question and len(row.question.choices) > _MOST_PARTS:
            raise bad(f"{where}: it has {len(row.question.choices)} choices")
        if row.scene:
            try:
                check_scene(row.scene)
            except InputError as error:
                raise bad(f"{where}: {error.message}") from error
    if len({(row.round, row.number) for row in held.answers}) < len(held.answers):
        raise bad(f"{name}: two answers have one number in one round")
    return held


def _possible(sample: Sample) -> bool:
    """Whether a sample lies in a picture, and is a colour."""
    inside = all(0 <= part <= 1 for part in (sample.x, sample.y, sample.radius))
    return inside and all(abs(part) <= 200 for lab in (sample.lab, sample.around or ()) for part in lab)


def keep_carried(user: User, answers: Sequence[CarriedAnswer], pieces: Mapping[str, str]) -> int:
    """Keep the answers that are not there yet; how many that were. pieces: their ids here, by their names in the
    bundle. Raises InputError (`too_many_answers`)."""
    there = set(Practised.objects.filter(owner=user).values_list("made", "number", "kind", "guess"))
    new = [row for row in answers if (row.made, row.number, row.kind, row.guess) not in there]
    if len(there) + len(new) > MAX_ANSWERS:
        raise InputError(
            "too_many_answers", f"There would be more than {MAX_ANSWERS} answers.", "Nothing was taken in.", "file"
        )
    rounds = {row.round: uuid.uuid4() for row in new}
    Practised.objects.bulk_create(
        Practised(
            owner=user, round=rounds[row.round], number=row.number, made=row.made, kind=row.kind, group=row.group,
            question=encode(Question, _told_of(row.question, pieces)) if row.question else {},
            scene=encode(Scene, row.scene) if row.scene else None, guess=row.guess, error=row.error, at=row.at,
        )
        for row in new
    )  # fmt: skip
    # The moment of making is the database's own unless it is said again.
    rows = Practised.objects.filter(owner=user, round__in=rounds.values())
    told = {(rounds[row.round], row.number): row.made for row in new}
    for row in rows:
        row.made = told[row.round, row.number]
    Practised.objects.bulk_update(rows, ["made"], batch_size=500)
    return len(new)
