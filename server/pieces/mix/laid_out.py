"""The artist's sticks and paper laid out for a piece, by their content: an unused stick changes nothing."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from django.contrib.auth.models import User

from core.errors import InputError
from core.optics.kit import Kit
from core.optics.stick import Stick, Tray
from core.optics.support import supports
from core.plan.questions import Owned
from core.plan.setup import in_values
from core.recipe.recipe import MODEL
from server.api.memo import digest
from server.api.values import value
from server.materials import schools
from server.materials import services as materials
from server.pieces.document.schema import Document
from server.pieces.results import ResultCache
from server.trials.taught import calibrated_sticks

_reaches: ResultCache[tuple[float, float]] = ResultCache(tuple[float, float], "reach of four", MODEL)


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


@lru_cache(maxsize=4000)
def colour_of(stick: Stick) -> Stick:
    """The stick without what changes nothing about the colour it lays."""
    return replace(stick, condition="good", range="")


@lru_cache(maxsize=4000)
def colour_name(stick: Stick) -> str:
    """A short name for the colour that a stick lays: another one where that may be another colour."""
    return digest(colour_of(stick))


def kit_for(user: User, document: Document, owned: Owned | None = None) -> Kit:
    """Everything that passes may be made with. owned: where it is known already, see `owned_by`. Raises what that and
    core.plan.setup.lay_out_kit raise."""
    return _kit((owned or owned_by(user, document)).bare())


@lru_cache(maxsize=16)
def _kit(owned: Owned) -> Kit:
    """Kept, since making sticks ready takes longer than laying a few."""
    return owned.kit()


def owned_by(user: User, document: Document) -> Owned:
    """Everything of the artist's that recipes are made with, as trial cards have shown it. Raises what `tray_of`
    raises."""
    sticks, setup = tray_of(user, document).sticks, document.setup
    own, method = materials.own_paper(user, setup.paper), schools.own_method(user, setup.method)
    paper = own or supports().get(setup.paper)
    if document.tray is None or paper is None:
        return Owned(sticks, setup, own, method)
    tried, shown = calibrated_sticks(document.tray, sticks, paper)
    return Owned(tried, setup, own if shown is paper else shown, method)


def lightness_reach(user: User, document: Document, owned: Owned | None = None) -> tuple[float, float]:
    """Darkest and lightest L* of what can be laid. Raises what `tray_of` and core.plan.setup.lay_out raise."""
    owned, setup = owned or owned_by(user, document), document.setup
    of_medium = tuple(
        colour_of(stick) for stick in owned.sticks if stick.medium == setup.medium and stick.code not in setup.banned
    )
    content = replace(owned.bare(), sticks=of_medium, setup=replace(owned.bare().setup, banned=()))
    return _reaches.get(content, lambda: owned.laid_out().table.lightness_reach())


def reach(user: User, document: Document, owned: Owned | None = None) -> Reach | None:
    """The reach in Munsell values; None as long as no tray is chosen. Raises what `lightness_reach` raises."""
    if document.tray is None:
        return None
    return Reach(*in_values(*lightness_reach(user, document, owned)))
