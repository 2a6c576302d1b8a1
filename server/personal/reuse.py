"""A plan of the notebook used for another figure: its manner and its sticks, as far as the tray of today has them."""

from __future__ import annotations

from dataclasses import replace

from django.contrib.auth.models import User

from core.errors import InputError, NotFoundError
from core.notebook.again import again
from core.optics.medium import TOOLS
from server.materials import services as materials
from server.personal.values import StickAgain, UseAgain, UsedAgain
from server.pieces.document.history import open_piece
from server.pieces.mix.laid_out import tray_of
from server.pieces.piece import services as pieces


def use(user: User, asked: UseAgain) -> UsedAgain:
    """Sets a piece up as an earlier one was for a figure; it is planned in Mix then, and undone by one step. Raises
    NotFoundError, InputError (`not_planned`, `no_tray_chosen`, `nothing_alike`)."""
    source = open_piece(user, asked.piece).drawn().document
    into = open_piece(user, asked.into)
    if asked.figure not in {figure.id for figure in source.figures}:
        raise NotFoundError("no_figure", "There is no such figure.", "Choose another.", "figure")
    passes = [pass_ for spot in source.spots_of(asked.figure) for pass_ in source.passes_of(spot)]
    codes = tuple(dict.fromkeys(pass_.stick for pass_ in passes if pass_.stick not in TOOLS))
    if not codes or source.tray is None:
        raise InputError("not_planned", "This figure is not planned any more.", "Choose another plan.", "figure")
    known = {stick.code: stick for stick in materials.as_core(materials.get_tray(user, source.tray)).sticks}
    used = [known[code] for code in codes if code in known]
    held = tray_of(user, into.document).usable(source.setup.medium)
    found = again([stick for stick in used if stick.medium == source.setup.medium], held)
    sticks = tuple(row.now.code for row in found if row.now)
    if not sticks:
        raise InputError(
            "nothing_alike",
            "The tray of that piece holds nothing that comes near these colours.",
            "Choose another tray for it first. Nothing was changed.",
            "into",
        )
    setup = replace(
        into.document.setup,
        medium=source.setup.medium,
        method=source.setup.method,
        black=source.setup.black,
        finish=source.setup.finish,
        reserve=source.setup.reserve,
        under="",
        must_use=sticks,
        banned=tuple(code for code in into.document.setup.banned if code not in sticks),
        max_sticks=max(into.document.setup.max_sticks, len(sticks)) if into.document.setup.max_sticks else 0,
    )
    document = replace(into.document, setup=setup)
    pieces.write(user, asked.into, into.piece.version, into.piece.title, document)
    return UsedAgain(
        asked.into,
        tuple(
            StickAgain(f"{row.was.code} {row.was.name}", f"{row.now.code} {row.now.name}" if row.now else "", row.close)
            for row in found
        ),
    )
