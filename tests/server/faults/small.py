"""Fill the data folder that CALTIN_DATA names with a small piece. Run: python -m tests.server.faults.small"""

from __future__ import annotations

import os
from dataclasses import replace

import django


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    django.setup()
    from django.core.management import call_command

    call_command("prepare")

    from server.accounts.services import get_or_create_artist
    from server.api.values import decode
    from server.materials import services as materials
    from server.pictures import services as pictures
    from server.pieces.document.schema import Spot, empty_document
    from server.pieces.piece import services as pieces
    from server.pieces.piece.values import Solve
    from tests.conftest import picture_bytes
    from tests.server.conftest import spot

    user = get_or_create_artist("demo")
    tray = materials.start_tray(user, "small", "small-tray-24")
    picture = pictures.store_picture(user, picture_bytes((190, 140, 110)))
    made = pieces.create(user, "Small").piece
    spots = tuple(decode(Spot, spot(number)) for number in (1, 2))
    document = replace(empty_document(), tray=tray.pk, picture=picture.pk, spots=spots)
    piece = pieces.write(user, made.pk, made.version, made.title, document).piece
    pieces.solve(user, piece.pk, Solve(piece.version, ()))


if __name__ == "__main__":
    main()
