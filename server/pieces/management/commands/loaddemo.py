"""Load the night ferry: trays of the stand-in ranges and two solved double portraits. Does nothing twice."""

from __future__ import annotations

import json
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User

from server.accounts import services as accounts
from server.api.chores import Chore
from server.materials import services as materials
from server.pieces.models import Piece
from server.pieces.services import history, pictures, pieces

REFERENCES = Path(settings.ROOT) / "demo/references"
TRAYS = {
    "My small tray": ("small-tray-24", "lantern-16"),
    "Gangway 36": ("gangway-36",),
    "Long Pier 72": ("long-pier-72", "lantern-16"),
    "Markers, pencils on top": ("ebb-24", "small-tray-24", "lantern-16"),
    "Quay Chalk 48, pastels": ("quay-chalk-48",),
    "Keel 24, oil pastels": ("keel-24", "lantern-16"),
}
PIECES = (
    ("Night watch, two at the rail", "night-watch", "Long Pier 72", "darks_first", 16),
    ("Morning relief", "morning-relief", "My small tray", "pale_base_first", 12),
)


class Command(Chore):
    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        user = accounts.get_or_create_artist(options["name"])
        trays = {tray.name: str(tray.pk) for tray in materials.trays_of(user)}
        for name, (first, *more) in TRAYS.items():
            if name not in trays:
                tray = materials.start_tray(user, name, first)
                for range_id in more:
                    materials.add_range(user, tray.pk, range_id)
                trays[name] = str(tray.pk)
        for title, reference, tray_name, method, max_sticks in reversed(PIECES):
            if not Piece.objects.filter(owner=user, title=title).exists():
                load_piece(user, title, reference, trays[tray_name], method, max_sticks)


def load_piece(user: User, title: str, reference: str, tray_id: str, method: str, max_sticks: int) -> Piece:
    """A piece with the reference's own spots, solved."""
    picture = pictures.store_picture(user, (REFERENCES / f"{reference}.jpg").read_bytes())
    rows = json.loads((REFERENCES / f"{reference}.json").read_text())["spots"]
    names = list(dict.fromkeys(row["figure"] for row in rows))
    figures = {name: f"figure-{number}" for number, name in enumerate(names, start=1)}
    document = history.empty_document()
    document["setup"] |= {"method": method, "max_sticks": max_sticks}
    document |= {
        "tray": tray_id,
        "picture": str(picture.pk),
        "figures": [
            {"id": figure_id, "name": name, "face": None, "strokes": []} for name, figure_id in figures.items()
        ],
        "spots": [
            {key: row[key] for key in ("name", "place", "role", "x", "y", "radius")}
            | {
                "id": f"spot-{number}",
                "figure": figures[row["figure"]],
                "outline": None,
                "recipe": None,
                "locked": False,
            }
            for number, row in enumerate(rows, start=1)
        ],
    }
    piece = history.new_piece(user, title, history.empty_document()).piece
    piece = pieces.write(user, piece.pk, piece.version, title, document).piece
    return pieces.solve(user, piece.pk, piece.version, []).piece
