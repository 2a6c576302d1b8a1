"""What to buy for the pieces an artist has, and what of one's own runs out first."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from uuid import UUID

from django.contrib.auth.models import User

from core.colour.swatch import Swatch
from core.errors import NotFoundError
from core.method.steps import tick_of
from core.optics.media import MEDIA
from core.plan.buying import ToBuy, to_buy
from core.plan.questions import Lab, Owned
from core.plan.setup import usual_setup
from core.recipe.cautions import cautions_of
from core.tray.lasting import Asked, lasting
from core.tray.purchase import cheapest
from core.tray.shelf import ForSale, not_owned, same_in_use, shelf_of
from server.api.jobs import Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.materials import services as materials
from server.personal.values import (
    MOST_PIECES,
    Advice,
    AskBuy,
    AskCheapest,
    CheapestPurchase,
    OfShop,
    PieceWanted,
    SetToBuy,
    SetWorth,
    ShopStick,
    StickLasts,
    WorthBuying,
)
from server.pieces.document import history
from server.pieces.document.schema import Document
from server.pieces.look.readings import readings_of
from server.pieces.mix.outcomes import labs_of, seen_colours
from server.pieces.work.services import ticked

_MOST_ON_SHELF = 120
_SKIN_PART = 0.3
"""How much of a sheet the skin of its figures takes (assumption)."""
_found: SingleFlightCache[tuple[object, ...], ToBuy] = SingleFlightCache(50)


def advice(user: User, tray_id: UUID, asked: AskBuy) -> Advice:
    """Which sticks to buy, one after the other, and what the sets would be worth. Raises NotFoundError (`no_tray`),
    what `core.plan.buying.to_buy` raises."""
    tray = materials.get_tray(user, tray_id)
    held = materials.as_core(tray)
    media = [stick.medium for stick in held.sticks]
    medium = asked.medium or max(sorted(set(media)), key=media.count, default="pencil")
    wanted = _wanted(user, set(asked.pieces), medium)
    own = tuple(stick for stick in held.usable(medium) if not stick.colourless)
    shelf, sets = not_owned(shelf_of(materials.ranges().values(), medium), own, _MOST_ON_SHELF)
    if not wanted or not shelf:
        return Advice(tuple(PieceWanted(id_, title, None) for id_, title, _ in wanted), (), ())
    question = (
        Owned(own, replace(usual_setup(medium), medium=medium)),
        tuple(labs for _, _, labs in wanted),
        tuple(row.stick for row in shelf),
        asked.count,
        tuple(one.members for one in sets),
    )

    def ask() -> ToBuy:
        (found,) = jobs.do(digest("to buy", question), [Step(to_buy, question)])
        return found

    best = _found.get(question, ask)
    worth = [
        SetWorth(one.place, one.name, one.price, one.size, used) for one, used in zip(sets, best.used, strict=True)
    ]
    return Advice(
        pieces=tuple(
            PieceWanted(id_, title, off if own else None)
            for (id_, title, _), off in zip(wanted, best.before, strict=True)
        ),
        sticks=tuple(
            WorthBuying(
                _sold(shelf[row.number]),
                medium,
                shelf[row.number].stick.opacity,
                row.gain,
                row.after,
                tuple(map(_sold, _same(user, shelf, row.number)[1:])),
                tuple(caution.text for caution in cautions_of(shelf[row.number].stick)),
                Swatch.of(shelf[row.number].stick.lab),
            )
            for row in best.bought
        ),
        sets=tuple(sorted(worth, key=lambda one: -one.used / one.size)),
    )


def _wanted(user: User, chosen: set[UUID], medium: str) -> list[tuple[UUID, str, tuple[Lab, ...]]]:
    """The colours wanted in pieces of a medium: id, title, CIELAB."""
    found = []
    for opened in sorted(history.open_all(user), key=lambda row: row.piece.changed, reverse=True):
        document = opened.document
        if document.setup.medium != medium or (chosen and opened.piece.pk not in chosen) or not document.picture:
            continue
        _, seen = seen_colours(document, readings_of(user, document))
        if len(seen):
            found.append((opened.piece.pk, opened.piece.title, labs_of(seen)))
    return found[:MOST_PIECES]


def _sold(row: ForSale) -> ShopStick:
    return ShopStick(row.place, row.stick.code, row.stick.name, row.kept.price)


def _same(user: User, shelf: Sequence[ForSale], number: int) -> list[ForSale]:
    """What can hardly be told from a stick in use, itself first."""
    support = materials.paper_for(user, "", shelf[number].stick.medium)
    return [shelf[i] for i in same_in_use(shelf, number, support)]


def purchase(user: User, tray_id: UUID, asked: AskCheapest) -> CheapestPurchase:
    """The cheapest way to what is wanted, where what can hardly be told apart is one. Raises NotFoundError (`no_tray`,
    `no_stick`)."""
    materials.get_tray(user, tray_id)
    shelves = [shelf_of(materials.ranges().values(), medium) for medium in MEDIA]
    named, offers = [], []
    for each in asked.sticks:
        shelf, number = _on_shelf(shelves, each)
        named.append(_sold(shelf[number]))
        offers.append([row.offer for row in _same(user, shelf, number)])
    rows = [row for shelf in shelves for row in shelf]
    sold = {(row.place, row.stick.code): _sold(row) for row in rows}
    best = cheapest(offers, [row.offer for row in rows])
    return CheapestPurchase(
        sets=tuple(
            SetToBuy(one.place, one.name, one.price, one.size, tuple(named[i] for i in one.covers)) for one in best.sets
        ),
        singles=tuple(sold[offer.place, offer.code] for _, offer in best.singles),
        total=best.total,
        alone=best.alone,
        unpriced=tuple(named[i] for i in best.unpriced),
    )


def _on_shelf(shelves: Sequence[list[ForSale]], wanted: OfShop) -> tuple[list[ForSale], int]:
    for shelf in shelves:
        for number, row in enumerate(shelf):
            if (row.place, row.stick.code) == (wanted.place, wanted.code):
                return shelf, number
    raise NotFoundError("no_stick", f"{wanted.code[:20]} is in no range.", "Choose another.", "sticks")


def runs_out(user: User, tray_id: UUID) -> list[StickLasts]:
    """What plans still ask of the sticks of a tray, those that run out first before others. Raises NotFoundError."""
    held = materials.with_everything(materials.get_tray(user, tray_id))
    mine = [opened for opened in history.open_all(user) if opened.document.tray == tray_id]
    done = ticked(user)
    asked = [one for opened in mine for one in _asked(opened.drawn().document, done.get(opened.piece.pk, set()))]
    return [StickLasts(row.code, row.cm2, row.times, row.words) for row in lasting(held.sticks, held.kept, asked)]


def _asked(document: Document, done: set[str]) -> Iterator[Asked]:
    """What the layers of a piece that are not ticked ask for, spread over the skin of its figures."""
    format_ = document.format
    inner = (format_.width_mm - 2 * format_.margin_mm) * (format_.height_mm - 2 * format_.margin_mm) / 100
    cm2 = inner * _SKIN_PART / max(1, len(document.figures))
    for layer in document.layers:
        for figure in document.figures:
            levels = [
                None if {layer.id, tick_of(layer.id, spot.id)} & done else layer.levels.get(spot.id)
                for spot in document.spots_of(figure.id)
            ]
            if any(levels):
                yield Asked(layer.stick, cm2, tuple((it.pressure, it.repeats) if it else None for it in levels))
