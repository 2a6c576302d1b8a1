"""A key for each part of a piece that is asked for by itself, made of everything its answer depends on."""

from __future__ import annotations

from django.contrib.auth.models import User

from core.errors import CaltinError
from core.plan.questions import Owned
from core.recipe.recipe import MODEL
from server.api.memo import digest
from server.materials import services as materials
from server.pieces.document.drawn import Drawn
from server.pieces.document.schema import Document
from server.pieces.look import services as looking
from server.pieces.look.readings import readings_of
from server.pieces.mix.laid_out import colour_name, owned_by
from server.pieces.mix.outcomes import Outcomes, outcomes_of
from server.pieces.piece.values import Keys
from server.pieces.work.services import tasks_of


def keys_of(
    user: User, document: Document, drawn: Drawn, outcomes: Outcomes, found: str = "", owned: Owned | None = None
) -> Keys:
    """The keys of the parts, from everything that their answers depend on. drawn: the document by its maps."""
    setup, look = document.setup, looking.look_key(document)
    try:
        owned = owned or owned_by(user, document)
        sticks, paper = owned.sticks, owned.paper
    except CaltinError:
        sticks, paper = (), materials.own_paper(user, setup.paper)
    used = {pass_.stick for spot in document.spots for pass_ in drawn.document.passes_of(spot)}
    tasks = [
        (task, [pass_.id for pass_ in drawn.document.passes_of(spot)])
        for task, spot in zip(tasks_of(drawn.document), document.spots, strict=True)
    ]
    where: list[object] = [(spot.id, spot.figure, spot.place, spot.role, spot.region) for spot in document.spots]
    if document.imagined:
        where += [document.imagined, [spot.family for spot in document.spots]]
    laid = sorted(outcomes.keys.items())
    # Named once: written out, a box of sticks is longer than everything else.
    colours = digest([colour_name(stick) for stick in sticks])
    conditions = [(stick.code, stick.condition, stick.range) for stick in sticks]
    planned = document.layers and (
        document.layers, MODEL, document.maps, setup, paper, document.picture, document.spots, colours,
    )  # fmt: skip
    places = [(spot.x, spot.y) for spot in document.spots]
    return Keys(
        found=found,
        look=look,
        study=digest("study", look, where, document.light),
        transfer=digest("transfer", look, document.format, document.grid, document.light, places),
        sheet=digest(
            "sheet",
            MODEL,
            setup.medium,
            setup.method,
            tasks,
            [(figure.id, figure.name) for figure in document.figures],
            [(spot.figure, spot.name, spot.place) for spot in document.spots],
            [(layer.id, layer.technique, drawn.most.get(layer.id)) for layer in document.layers],
            [(region.name, region.layers) for region in document.surroundings if region.layers],
            [colour_name(stick) for stick in sticks if stick.code in used],
        ),
        figures=digest("figures", MODEL, setup, paper, where, laid, colours),
        palette=digest("palette", MODEL, setup, paper, document.picture, where, colours, conditions),
        forecast=digest("forecast", MODEL, look, setup.method, where, laid),
        maps=digest("maps", planned),
        layers=digest("layers", planned, drawn.document.layers, drawn.most),
        surroundings=digest("surroundings", MODEL, look, setup, paper, where, document.surroundings, laid, colours),
    )


def forecast_key(user: User, drawn: Drawn) -> str:
    """The key of the drawing foreseen."""
    document = drawn.document
    return keys_of(user, document, drawn, outcomes_of(user, document, readings_of(user, document))).forecast
