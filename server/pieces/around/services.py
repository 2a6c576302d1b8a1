"""What surrounds the skin: found in the picture, planned with the artist's sticks, shown with the skin inside."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from django.contrib.auth.models import User

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.swatch import Swatch
from core.colour.words import closeness
from core.errors import CaltinError, InputError
from core.look.study import MODEL as SEEING
from core.method.manner import manner
from core.optics.kit import Kit
from core.optics.media import counted, facts_of
from core.optics.medium import TOOLS
from core.optics.stack import colours_after
from core.plan.questions import Owned
from core.recipe.recipe import MODEL
from core.surround import questions
from core.surround.questions import AroundTold, FigureShown, Surround, Surrounded, SurroundOffer, Way
from core.surround.ramp import SHADES, WHERE, PlannedRamp, RampLayer, Shade
from core.surround.region import PARTS, Lab, Tones
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.materials import services as materials
from server.pictures.services import get_picture
from server.pieces.around import values
from server.pieces.document.schema import Document, Level, PlannedLayer, Surrounding
from server.pieces.look.readings import readings_of
from server.pieces.look.services import seen_of
from server.pieces.mix.laid_out import kit_for, owned_by
from server.pieces.mix.outcomes import outcomes_of
from server.pieces.results import ResultCache

T = TypeVar("T")
GROWING = 2
"""Grows with every change of how regions are found, planned or judged."""
_LIT = ("highlight", "light", "middle")
_Planned = tuple[PlannedRamp | None, str]
_told: ResultCache[AroundTold] = ResultCache(AroundTold, "around", MODEL, SEEING, GROWING)
_ramps: ResultCache[_Planned] = ResultCache(_Planned, "region ramp", MODEL, GROWING)
_offers: ResultCache[tuple[SurroundOffer, ...]] = ResultCache(tuple[SurroundOffer, ...], "regions", SEEING, GROWING)
_drawn: SingleFlightCache[str, bytes] = SingleFlightCache(40)


@dataclass(frozen=True, slots=True)
class _Asked:
    """A document with all that its surround is told from. owned, kit: None as long as there is no tray."""

    document: Document
    task: Surrounded
    owned: Owned | None
    kit: Kit | None
    skin: frozenset[str]


def _asked(user: User, document: Document) -> _Asked:
    """Raises InputError (`no_picture_yet`), NotFoundError."""
    if document.picture is None:
        raise InputError("no_picture_yet", "This piece has no reference yet.", "Put in a picture first.", "picture")
    seen = seen_of(get_picture(user, document.picture), document)
    owned, kit = None, None
    if document.tray is not None:
        try:
            owned, kit = owned_by(user, document), kit_for(user, document)
        except CaltinError:
            # A tray that is gone or empty: regions are shown all the same.
            owned, kit = None, None
    regions = tuple(Surround(row.name, row.seed, _labs(row, kit)) for row in document.surroundings)
    paper = materials.paper_for(user, document.setup.paper, document.setup.medium).lab
    skin = frozenset(p.stick for spot in document.spots for p in document.passes_of(spot) if p.stick not in TOOLS)
    return _Asked(document, Surrounded(seen, _figures(user, document), regions, paper), owned, kit, skin)


def _labs(region: Surrounding, kit: Kit | None) -> tuple[Lab, ...]:
    """What its ramp will be in light, middle and shade; nothing where it has none, or a stick of it is gone."""
    if kit is None or not region.layers:
        return ()
    try:
        found = [colours_after(kit, region.passes_in(part))[-1] for part in PARTS]
    except (CaltinError, IndexError):
        return ()
    return tuple(_lab(lab) for lab in found)


def _figures(user: User, document: Document) -> tuple[FigureShown, ...]:
    readings = readings_of(user, document)
    outcomes = outcomes_of(user, document, readings).by_spot
    rows = []
    for figure in document.figures:
        pairs = [
            (spot.role, _lab(readings[spot.id].swatch.lab), _lab(result.lab))
            for spot in document.spots_of(figure.id)
            if spot.id in readings and spot.id in outcomes and (result := outcomes[spot.id].result)
        ]
        wanted, planned = tuple(row[1] for row in pairs), tuple(row[2] for row in pairs)
        lights = [(row[1], row[2]) for row in pairs if row[0] in _LIT]
        off = 0.0
        if lights:
            values_ = [np.asarray(lab_to_value(np.array(labs))) for labs in zip(*lights, strict=True)]
            off = round(float((values_[1] - values_[0]).mean()), 2)
        rows.append(FigureShown(figure.name, wanted, planned, off))
    return tuple(rows)


def around(user: User, document: Document) -> values.AroundShown:
    """What surrounds the skin of a piece. Raises InputError, NotFoundError, Underway."""
    held = _asked(user, document)
    seen = held.task.seen
    names = tuple(figure.name for figure in document.figures)
    told = _told.get(held.task, lambda: _now(questions.told, held.task))
    offers = _offers.get((seen, names), lambda: _now(questions.offers, seen, names))
    planned = _planned(held, told.tones)
    regions = tuple(
        _region(held, row, told.tones[i], told.troubles[i], held.task.regions[i].labs, planned)
        for i, row in enumerate(document.surroundings)
    )
    ids = [row.id for row in document.surroundings] + [figure.id for figure in document.figures]
    melting = tuple(
        values.Melting(ids[row.one - 1], ids[row.other - 1], row.steps, row.said) for row in told.borders if row.said
    )
    return values.AroundShown(
        regions,
        melting,
        tuple(row.said for row in told.looks),
        tuple(row.said for row in told.raised),
        tuple(values.RegionOffer(one.kind, one.name, one.x, one.y) for one in offers),
        _shared(held),
        told.skin,
        facts_of(document.setup.medium).caution if document.tray else "",
        digest("around picture", held.task),
    )


def _now(function: Callable[..., T], *arguments: object) -> T:
    (found,) = jobs.do(digest(function.__name__, MODEL, SEEING, arguments), [Step(function, arguments)], Lane.PICTURES)
    return found


def _planned(held: _Asked, found_tones: Sequence[Tones | None]) -> dict[tuple[Tones, Shade], _Planned]:
    """What could be laid, for every region that was found. Raises Underway."""
    owned = held.owned
    if owned is None:
        return {}
    asked = [(tones, shade) for tones in dict.fromkeys(found_tones) if tones for shade in SHADES]
    found = _ramps.get_many(
        [(owned.bare(), tones, shade, sorted(held.skin)) for tones, shade in asked],
        lambda missing: jobs.do(
            digest("ramps", MODEL, GROWING, owned, [asked[i] for i in missing], sorted(held.skin)),
            [Step(questions.ramp_for, (owned, *asked[i], held.skin)) for i in missing],
        ),
    )
    return dict(zip(asked, found, strict=True))


def _region(
    held: _Asked,
    row: Surrounding,
    tones: Tones | None,
    trouble: str,
    labs: tuple[Lab, ...],
    planned: dict[tuple[Tones, Shade], _Planned],
) -> values.RegionShown:
    wanted = tones.labs() if tones else np.empty((0, 3))
    off = float(np.asarray(ciede2000(np.array(labs), wanted)).mean()) if labs and tones else None
    return values.RegionShown(
        row.id,
        trouble,
        tones.share if tones else 0.0,
        Swatch.of_all(wanted) if tones else (),
        Swatch.of_all(np.array(labs)) if labs else (),
        _lines(held, row.layers),
        "" if off is None else closeness(off),
        tuple(
            _offer(held, row.id, shade, *planned[tones, shade])
            for shade in SHADES
            if tones and (tones, shade) in planned
        ),
    )


def _offer(held: _Asked, region: str, shade: Shade, found: PlannedRamp | None, trouble: str) -> values.RampOffer:
    if found is None:
        return values.RampOffer(shade, trouble, (), (), (), 0.0, "", 0)
    layers = tuple(_layer(region, shade, number, layer) for number, layer in enumerate(found.layers))
    swatches = Swatch.of_all(np.array(found.labs))
    return values.RampOffer(
        shade,
        "",
        tuple(values.RegionLayer(row.id, row.stick, row.levels, row.technique, row.locked) for row in layers),
        _lines(held, layers),
        swatches,
        found.off,
        closeness(found.off),
        found.shared,
    )


def _layer(region: str, shade: Shade, number: int, layer: RampLayer) -> PlannedLayer:
    levels: dict[str, Level | None] = {
        part: Level(dose.pressure, dose.repeats, dose.flicked) if dose else None
        for part, dose in zip(PARTS, layer.doses, strict=True)
    }
    return PlannedLayer(digest("region layer", region, shade, number, layer)[:16], layer.stick, levels)


def _lines(held: _Asked, layers: Sequence[PlannedLayer]) -> tuple[values.RampLine, ...]:
    sticks = {stick.code: stick for stick in held.kit.sticks} if held.kit else {}
    found = []
    for layer in layers:
        stick = sticks.get(layer.stick)
        hows = dict.fromkeys(
            manner(pass_.bare, stick.medium if stick else None) for part in PARTS if (pass_ := layer.at(part))
        )
        where = (layer.at(PARTS[0]) is not None, layer.at(PARTS[1]) is not None, layer.at(PARTS[2]) is not None)
        found.append(
            values.RampLine(
                layer.stick, stick.name if stick else "", stick.hex if stick else "", WHERE[where],
                " to ".join(list(hows)[:: max(1, len(hows) - 1)]),
            )
        )  # fmt: skip
    return tuple(found)


def _shared(held: _Asked) -> str:
    used = {layer.stick for row in held.document.surroundings for layer in row.layers}
    if not used or not held.skin:
        return ""
    both = len(used & held.skin)
    media = [held.kit.medium_of(code) for code in used] if held.kit else []
    sticks = counted(len(used), filter(None, media))
    ties = "that ties all of it together" if 2 * both >= len(used) else "more in common would tie it together"
    return f"{both} of {sticks} around it {'is' if both == 1 else 'are'} the skin’s too: {ties}."


def picture(user: User, document: Document, way: Way, size: int) -> tuple[str, Callable[[], bytes]]:
    """The name of a picture of the surround, and what draws it. Raises InputError, NotFoundError."""
    task = _asked(user, document).task
    key = digest("around", MODEL, SEEING, GROWING, task, way, size)
    step = Step(questions.picture_of, (task, way, size))
    return key, lambda: _drawn.get(key, lambda: jobs.wait(key, step, Lane.PICTURES))


def _lab(lab: Sequence[float]) -> Lab:
    lightness, a, b = (round(float(v), 2) for v in lab)
    return lightness, a, b
