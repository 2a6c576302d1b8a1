"""Load the night ferry: trays of the stand-in ranges, two double portraits, one of them planned, and two of the crew in
a light that is imagined, and weeks of practice. Nothing twice."""

from __future__ import annotations

import json
import uuid
from argparse import ArgumentParser
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.utils import timezone

from server.accounts import services as accounts
from server.api.chores import Chore
from server.api.values import decode
from server.materials import services as materials
from server.pictures import services as pictures
from server.pieces import results
from server.pieces.document import history
from server.pieces.document.drawn import FigureRead, note
from server.pieces.document.schema import Document, Figure, Imagined, PlannedLayer, Spot, Surrounding, empty_document
from server.pieces.look.seated import arrow_of
from server.pieces.models import Comparison, Piece
from server.pieces.piece import services as pieces
from server.practice.models import Practised
from server.trials import services as cards

REFERENCES = Path(settings.ROOT) / "demo/references"
CARDS, PHOTOS = Path(settings.ROOT) / "demo/cards", Path(settings.ROOT) / "demo/photos"
"""Filled cards and what they taught, as `tools.make_demo_card` keeps them."""
PLANS = Path(settings.ROOT) / "demo/plans"
"""Layers of pieces that are planned, and what their maps have at the spots, as `tools.make_demo_plan` keeps them."""
SURROUNDS = Path(settings.ROOT) / "demo/surrounds"
"""Hair and cloth of pieces, as `tools.make_demo_surround` keeps them."""
TRAYS = {
    "My small tray": ("small-tray-24", "lantern-16"),
    "Gangway 36": ("gangway-36",),
    "Long Pier 72": ("long-pier-72", "lantern-16"),
    "Markers, pencils on top": ("ebb-24", "small-tray-24", "lantern-16"),
    "Quay Chalk 48, pastels": ("quay-chalk-48",),
    "Keel 24, oil pastels": ("keel-24", "lantern-16"),
}
DRAWINGS = Path(settings.ROOT) / "demo/drawings"
"""Photographs of drawings, and how they were read, as `tools.make_demo_drawing` keeps them."""
PRACTICE = Path(settings.ROOT) / "demo/practice.json"
"""Rounds that were answered, as `tools.make_demo_practice` keeps them."""
RESULTS = Path(settings.ROOT) / "demo/results.json"
"""What its screens show at first, as `tools.make_demo_results` keeps it."""
PER_ROW = 24
PIECES = (
    ("Night watch, two at the rail", "night-watch", "Long Pier 72", "darks_first", 16),
    ("Morning relief", "morning-relief", "My small tray", "pale_base_first", 12),
)


SCENES = Path(settings.ROOT) / "demo/scenes"
"""Figures that are described, and their spots, as `tools.make_demo_scene` keeps them."""
IMAGINED = ("Below deck, red and blue", "below-deck", "Long Pier 72")


class Command(Chore):
    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        user = accounts.get_or_create_artist(options["name"])
        trays = {tray.name: tray.pk for tray in materials.trays_of(user)}
        for name, ranges in TRAYS.items():
            if name not in trays:
                sticks = [stick for range_id in ranges for stick in materials.get_range(range_id).sticks]
                trays[name] = materials.keep_tray(user, name, sticks, per_row=PER_ROW).pk
        title, scene, tray_name = IMAGINED
        if not Piece.objects.filter(owner=user, title=title).exists():
            load_scene(user, title, scene, trays[tray_name])
        for title, reference, tray_name, method, max_sticks in reversed(PIECES):
            if not Piece.objects.filter(owner=user, title=title).exists():
                piece = load_piece(user, title, reference, trays[tray_name], method, max_sticks)
                load_drawings(user, piece, reference)
                load_card(user, title, reference, trays[tray_name])
        if not Practised.objects.filter(owner=user).exists():
            load_practice(user)
        results.put_in(json.loads(RESULTS.read_text())["results"])


def load_practice(user: User) -> None:
    """Weeks of answers, the last of them yesterday."""
    rows = []
    for held in json.loads(PRACTICE.read_text()):
        at, made = timezone.now() - timedelta(days=held["days_ago"]), uuid.uuid4()
        for number, row in enumerate(held["answers"]):
            question = row["question"]
            rows.append(
                Practised(
                    owner=user, round=made, number=number, made=at, kind=question["kind"], group=question["group"],
                    question=question, guess=row["guess"], error=row["error"], at=at,
                )
            )  # fmt: skip
    Practised.objects.bulk_create(rows)


def load_card(user: User, title: str, reference: str, tray_id: UUID) -> None:
    """The card of a piece that was filled and photographed, if there is one."""
    held = CARDS / f"{reference}.json"
    if held.exists():
        picture = pictures.store_picture(user, (PHOTOS / f"{reference}-card.jpg").read_bytes())
        cards.keep_filled(user, materials.get_tray(user, tray_id), title, picture, json.loads(held.read_text()))


def load_drawings(user: User, piece: Piece, reference: str) -> None:
    """The photographs of a piece's drawing, if there are any."""
    held = DRAWINGS / f"{reference}.json"
    for row in json.loads(held.read_text()) if held.exists() else ():
        picture = pictures.store_picture(user, (DRAWINGS / row.pop("photo")).read_bytes())
        Comparison.objects.create(piece=piece, picture=picture, **row)


def load_piece(user: User, title: str, reference: str, tray_id: UUID, method: str, max_sticks: int) -> Piece:
    """A piece with the reference's own spots, and its layers if there is a plan."""
    picture = pictures.store_picture(user, (REFERENCES / f"{reference}.jpg").read_bytes())
    rows = json.loads((REFERENCES / f"{reference}.json").read_text())["spots"]
    names = list(dict.fromkeys(row["figure"] for row in rows))
    figures = {name: f"figure-{number}" for number, name in enumerate(names, start=1)}
    document = replace(
        empty_document(),
        setup=replace(empty_document().setup, method=method, max_sticks=max_sticks),
        tray=tray_id,
        picture=picture.pk,
        figures=tuple(Figure(figure_id, name) for name, figure_id in figures.items()),
        spots=tuple(
            Spot(
                id=f"spot-{number}",
                figure=figures[row["figure"]],
                **{key: row[key] for key in ("name", "place", "role", "x", "y", "radius")},
            )
            for number, row in enumerate(rows, start=1)
        ),
        layers=_layers(reference),
        surroundings=_surroundings(reference),
    )
    return _kept(user, title, document, reference)


def _surroundings(name: str) -> tuple[Surrounding, ...]:
    held = SURROUNDS / f"{name}.json"
    return decode(tuple[Surrounding, ...], json.loads(held.read_text())) if held.exists() else ()


def _layers(name: str) -> tuple[PlannedLayer, ...]:
    plan = PLANS / f"{name}.json"
    return decode(tuple[PlannedLayer, ...], json.loads(plan.read_text())) if plan.exists() else ()


def _kept(user: User, title: str, document: Document, name: str) -> Piece:
    piece = history.new_piece(user, title, empty_document()).piece
    kept = pieces.write(user, piece.pk, piece.version, title, document)
    maps = PLANS / f"{name}-maps.json"
    for figure, read in json.loads(maps.read_text()).items() if maps.exists() else ():
        note(piece.pk, kept.document, figure, decode(FigureRead, read))
    return kept.piece


def load_scene(user: User, title: str, name: str, tray_id: UUID) -> Piece:
    """A piece whose figures are described, with the sheet that was drawn of them."""
    picture = pictures.store_picture(user, (REFERENCES / f"{name}.jpg").read_bytes())
    held = json.loads((SCENES / f"{name}.json").read_text())
    imagined = replace(decode(Imagined, held["imagined"]), sheet=picture.pk)
    document = replace(
        empty_document(),
        tray=tray_id,
        picture=picture.pk,
        imagined=imagined,
        light=arrow_of(imagined),
        figures=tuple(Figure(seat.figure, seat.sitter.name) for seat in imagined.seats),
        spots=tuple(decode(Spot, row) for row in held["spots"]),
        layers=_layers(name),
    )
    return _kept(user, title, document, name)
