"""Fill the data folder that CALTIN_DATA names with a small piece. Run: python -m tests.server.faults.small"""

from __future__ import annotations

import os

import django


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    django.setup()
    from django.core.management import call_command

    call_command("prepare")

    from server.accounts.services import get_or_create_artist
    from server.materials import services as materials
    from server.pieces.services import history, pictures, pieces
    from tests.conftest import picture_bytes
    from tests.server.conftest import spot

    user = get_or_create_artist("demo")
    tray = materials.start_tray(user, "small", "small-tray-24")
    picture = pictures.store_picture(user, picture_bytes((190, 140, 110)))
    made = pieces.create(user, "Small").piece
    document = history.empty_document() | {
        "tray": str(tray.pk),
        "picture": str(picture.pk),
        "spots": [spot(1, locked=False), spot(2, locked=False)],
    }
    piece = pieces.write(user, made.pk, made.version, made.title, document).piece
    pieces.solve(user, piece.pk, piece.version, [])


if __name__ == "__main__":
    main()
