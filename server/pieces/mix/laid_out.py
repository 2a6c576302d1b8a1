"""The artist's sticks and paper laid out for a piece, by their content: an unused stick changes nothing."""

from __future__ import annotations

from dataclasses import replace

from django.contrib.auth.models import User

from core.errors import InputError
from core.optics.kit import Kit
from core.optics.stick import Stick, Tray
from core.optics.support import Support
from core.plan.setup import LaidOutTray, Setup, in_values, lay_out, lay_out_kit
from core.recipe.recipe import MODEL
from server.api.memo import SingleFlightCache
from server.api.values import value
from server.materials import services as materials
from server.pieces.document.schema import Document
from server.pieces.results import ResultCache

Key = tuple[tuple[Stick, ...], Setup, Support | None]
"""Everything that a laid out tray depends on."""

_laid_out: SingleFlightCache[Key, LaidOutTray] = SingleFlightCache(8)
_reaches: ResultCache[tuple[float, float]] = ResultCache(tuple[float, float], "reach", MODEL)


@value
class Reach:
    """Darkest and lightest Munsell value that tray and paper can hold."""

    darkest: float
    lightest: float


def tray_of(user: User, document: Document) -> Tray:
    """The usable sticks of the document's tray.

    Raises InputError (`no_tray_chosen`), NotFoundError (`no_tray`).
    """
    if document.tray is None:
        raise InputError(
            "no_tray_chosen", "No tray is chosen for this piece.", "Choose the pencils you own first.", "tray"
        )
    tray = materials.as_core(materials.get_tray(user, document.tray))
    return Tray("", tray.usable())


def colour_of(stick: Stick) -> Stick:
    """The stick without what changes nothing about the colour it lays."""
    return replace(stick, condition="good", range="")


def kit_for(user: User, document: Document) -> Kit:
    """Everything that passes may be made with. Raises what `tray_of` and core.plan.setup.lay_out_kit raise."""
    own = materials.own_paper(user, document.setup.paper)
    return lay_out_kit(tray_of(user, document), document.setup, own)


def laid_out_for(user: User, document: Document) -> LaidOutTray:
    """Tray, paper and method of the document, laid out.

    Raises what `tray_of` and core.plan.setup.lay_out raise.
    """
    return keyed(user, document)[0]


def keyed(user: User, document: Document) -> tuple[LaidOutTray, Key]:
    """As `laid_out_for`, with what it depends on."""
    return _laid(*_key(user, document), document.setup)


def _key(user: User, document: Document) -> tuple[Tray, Key]:
    tray, setup = tray_of(user, document), document.setup
    own = materials.own_paper(user, setup.paper)
    # Only these choices change what is laid out; the rest says what is looked for in it.
    used = Setup(medium=setup.medium, paper=setup.paper, method=setup.method, black=setup.black, banned=setup.banned)
    return tray, (tray.sticks, used, own)


def _laid(tray: Tray, key: Key, setup: Setup) -> tuple[LaidOutTray, Key]:
    laid_out = _laid_out.get(key, lambda: lay_out(tray, key[1], key[2]))
    return replace(laid_out, setup=setup), key


def lightness_reach(user: User, document: Document) -> tuple[float, float]:
    """Darkest and lightest L* of what can be laid. Raises what `laid_out_for` raises."""
    tray, key = _key(user, document)
    of_medium = tuple(
        colour_of(stick) for stick in tray.usable(document.setup.medium) if stick.code not in document.setup.banned
    )
    content = (of_medium, replace(key[1], banned=()), key[2])
    return _reaches.get(content, lambda: _laid(tray, key, document.setup)[0].table.lightness_reach())


def reach(user: User, document: Document) -> Reach | None:
    """The reach in Munsell values; None as long as no tray is chosen. Raises what `laid_out_for` raises for a tray."""
    if document.tray is None:
        return None
    return Reach(*in_values(*lightness_reach(user, document)))
