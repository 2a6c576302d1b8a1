"""The demo's first piece for any artist, planned, with no more sticks than its plan needs."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from PIL import Image

from server.materials import services as materials
from server.materials.models import Tray
from server.personal.management.commands.loaddemo import REFERENCES, load_piece
from server.pictures.services import store_picture
from server.pieces.document.history import open_piece, write
from server.pieces.models import Piece
from tests.conftest import ROOT

LAYERS: list[dict[str, Any]] = json.loads((ROOT / "demo/plans/night-watch.json").read_text())
SURROUND: list[dict[str, Any]] = json.loads((ROOT / "demo/surrounds/night-watch.json").read_text())


def box(artist: User, name: str = "Used", surround: bool = False) -> Tray:
    """A tray of the sticks that the plan uses. surround: those around the skin, too."""
    used = {layer["stick"] for layer in LAYERS}
    if surround:
        used |= {layer["stick"] for region in SURROUND for layer in region["layers"]}
    return materials.keep_tray(
        artist, name, [stick for stick in materials.get_range("long-pier-72").sticks if stick.code in used]
    )


def planned(artist: User, tray: Tray | None = None, longest: int | None = None, layers: int | None = None) -> Piece:
    """The piece, drawn with a tray. longest: pixels of its picture's longer side, and layers: how many are kept,
    so that its maps are drawn soon."""
    piece = load_piece(artist, "Night watch", "night-watch", (tray or box(artist)).pk, "darks_first", 16)
    if longest:
        held = io.BytesIO()
        with Image.open(REFERENCES / "night-watch.jpg") as picture:
            picture.thumbnail((longest, longest))
            picture.save(held, "JPEG", quality=92)
        small = store_picture(artist, held.getvalue())
        before = open_piece(artist, piece.pk)
        few = replace(before.document, picture=small.pk, layers=before.document.layers[:layers])
        write(artist, before, before.piece.version, piece.title, few)
    return piece
