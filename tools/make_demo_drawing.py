"""Photographs of the demo's first piece as it grows, with how they were read: `python -m tools.make_demo_drawing`,
after a change of what comparing reads. Drawn by a hand that is not there (tools.drawn), photographed by a camera that
is not there (tools.camera)."""

from __future__ import annotations

import json
import os
import tempfile
from dataclasses import dataclass

import django
from django.core.management import call_command

from tools.camera import Camera, photograph
from tools.drawn import Drawing, places_of
from tools.site import ROOT

PIECE, TITLE = "night-watch", "Night watch"
FOLDER = ROOT / "demo/drawings"
_SIZE = (1200, 1600)
_FIELDS = (
    "number", "corners", "frame", "chart", "moved", "places", "edges", "said", "bare", "usual", "mean",
    "note",
)  # fmt: skip


@dataclass(frozen=True)
class State:
    """layers: how many of each place's passes are laid; wrong: mistakes; surround: see Drawing; note: the artist's."""

    layers: int
    wrong: int
    surround: str
    note: str


STATES = (
    State(2, 0, "outlined", "first evening, only the first layers"),
    State(9, 1, "outlined", "all layers, coat and caps still bare"),
    State(9, 0, "coloured", "caps and coats in"),
)


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    photos = []
    for number, state in enumerate(STATES, start=1):
        drawing = Drawing(PIECE, seed=4, wrong=state.wrong, surround=state.surround)
        if state.layers < 9:
            held = tuple(place.passes[: state.layers] for place in places_of(PIECE))
            drawing.__dict__["laid"] = held
        data, _ = photograph(drawing.on_sheet, Camera(10 + number, "mild", 0.05, size=_SIZE))
        path = FOLDER / f"{PIECE}-{number}.jpg"
        path.write_bytes(data)
        photos.append(path)
    with tempfile.TemporaryDirectory() as folder:
        os.environ["CALTIN_DATA"] = folder
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
        django.setup()
        call_command("migrate", verbosity=0)
        call_command("loaddemo", "demo")
        _read(photos)


def _read(photos: list[object]) -> None:
    from django.contrib.auth.models import User

    from server.pictures.services import store_picture
    from server.pieces.comparing import services
    from server.pieces.comparing.values import AskComparison
    from server.pieces.models import Piece

    user = User.objects.get(username="demo")
    piece = Piece.objects.get(owner=user, title__startswith=TITLE)
    piece.comparisons.all().delete()
    rows = []
    for path, state in zip(photos, STATES, strict=True):
        picture = store_picture(user, path.read_bytes())  # type: ignore[attr-defined]
        row = services.make(user, piece.pk, AskComparison(picture.pk))
        row.note = state.note
        rows.append({field: getattr(row, field) for field in _FIELDS} | {"photo": path.name})  # type: ignore[attr-defined]
        print(f"{path}: off by {row.mean} in the mean, {row.said or 'nothing wrong with it'}, {row.usual}")
    held = FOLDER / f"{PIECE}.json"
    held.write_text(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")


if __name__ == "__main__":
    main()
