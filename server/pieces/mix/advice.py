"""What is worth knowing around the recipes: ramps, palettes, what to buy, substitutes, neighbours; nothing is kept."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib.auth.models import User

from core.colour.swatch import Swatch
from core.colour.words import matters
from core.errors import InputError, NotFoundError
from core.exchange.pen import FileKind
from core.exchange.ramp_sheet import RampOf, Rung, write_ramps
from core.optics.stick import Stick
from core.plan.job_sticks import sticks_for
from core.plan.questions import (
    BestPalette,
    Owned,
    Task,
    palette_for,
    replacement_for,
)
from core.recipe.context import beside
from core.recipe.figure import Mixed, figure_plan
from core.recipe.ramp import ramp
from core.recipe.reach import fitted, under_a_light
from core.recipe.recipe import Asked, work_out, work_out_all
from server.api.jobs import Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.api.names import file_name
from server.materials import schools
from server.materials import services as materials
from server.pictures.services import get_picture
from server.pieces.document.schema import Document
from server.pieces.look.readings import Readings, read_regions, readings_of
from server.pieces.mix.laid_out import kit_for, lightness_reach, owned_by, reach
from server.pieces.mix.outcomes import Lab, Outcome, labs_of, outcomes_of, seen_colours, targets_of
from server.pieces.mix.services import no_spot, nothing_to_mix, planned
from server.pieces.mix.values import (
    AtHand,
    Buy,
    FigurePlan,
    Figures,
    Neighbour,
    Palette,
    PaletteStick,
    StickForJob,
    TriedRecipe,
)

_MOST_FROM_RANGES = 100
_WORTH_BUYING = 0.01
_MID_GREY_L = 50.0
_WHITE_PAPER = (96.0, 0.0, 1.5)

_palettes: SingleFlightCache[tuple[object, ...], BestPalette] = SingleFlightCache(200)
Ranges = dict[str, tuple[str, Stick]]
"""Sticks of ranges by code, with the name of their range."""


def at_hand(user: User, document: Document, labs: Sequence[Lab], values: Sequence[float]) -> AtHand:
    """A stick for each job, of what the document is made with, what that can reach, and which places it cannot."""
    medium = document.setup.medium
    if document.tray is None:
        return AtHand(medium, None, (), (), "")
    kit = kit_for(user, document)
    names = {stick.code: stick.name for stick in kit.sticks}
    chosen = sticks_for(kit, medium, labs)
    rows = tuple(StickForJob(row.code, names[row.code], Swatch.of(row.lab), row.off, row.of_family) for row in chosen)
    held = reach(user, document)
    out, said = under_a_light(values, held.darkest, held.lightest) if held else ((), "")
    return AtHand(medium, held, rows, out, said)


def figures(user: User, document: Document) -> Figures:
    """Each figure's base, departures, undertones and ramp, and the stages of the method."""
    kit, setup = kit_for(user, document), document.setup
    method = schools.method_for(user, setup)
    box = kit.boxes[setup.medium]
    targets = targets_of(user, document, readings_of(user, document))
    rows = []
    for figure in document.figures:
        spots = [spot for spot in document.spots_of(figure.id) if document.is_planned(spot) and spot.id in targets]
        asked = [
            Asked([pass_.bare for pass_ in document.passes_of(spot)], targets[spot.id], spot.role) for spot in spots
        ]
        mixed = [
            Mixed(spot.id, spot.place, spot.role, recipe)
            for spot, recipe in zip(spots, work_out_all(kit, asked), strict=True)
            if not isinstance(recipe, InputError)
        ]
        plan = figure_plan(mixed, kit)
        parts = {field: getattr(plan, field) for field in ("base", "departures", "undertones", "sticks")}
        rows.append(FigurePlan(id=figure.id, ramp=ramp(box, plan.sticks), **parts))
    return Figures(tuple(rows), method.stage_names())


def ramps_file(user: User, title: str, document: Document, kind: FileKind) -> tuple[bytes, str]:
    """The ramp of every figure that is planned as a sheet, and what to call the file. Raises InputError
    (`nothing_mixed`)."""
    names = {figure.id: figure.name for figure in document.figures}
    ramps = [
        RampOf(
            names[plan.id],
            tuple(Rung(rung.stick, rung.name, rung.swatch.hex, rung.swatch.value) for rung in plan.ramp.rungs),
            tuple(gap.words for gap in plan.ramp.gaps if gap.words) + tuple(row.words for row in plan.ramp.calmings),
        )
        for plan in figures(user, document).figures
        if plan.ramp.rungs
    ]
    if not ramps:
        raise InputError("nothing_mixed", "Nothing is mixed yet.", "Mix the spots first.", "spots")
    return write_ramps(title, ramps, kind), f"{file_name(title, 'piece')}-ramps"


def palette(user: User, document: Document, size: int | None, within: float | None) -> Palette:
    """The best palette of a size, or the smallest within a tolerance; what each stick is worth; what to buy.

    Raises InputError (`size_or_within`, `nothing_to_mix`, `bad_palette`, or what the core raises).
    """
    if (size is None) == (within is None):
        raise InputError(
            "size_or_within", "A palette has a size, or is within a tolerance.", "Say one of the two.", "size"
        )
    owned = owned_by(user, document)
    owned.kit()  # what is wrong with either is said first
    _, seen = seen_colours(document, readings_of(user, document))
    if not len(seen):
        raise nothing_to_mix()
    aims = fitted(seen, *lightness_reach(user, document), owned.setup.fit)
    more = _not_owned(owned)
    question = (Task(owned, labs_of(aims)), labs_of(seen), tuple(stick for _, stick in more.values()), size, within)

    def ask() -> BestPalette:
        (found,) = jobs.do(digest("palette", question), [Step(palette_for, question)])
        return found

    best = _palettes.get(question, ask)
    return Palette(
        sticks=tuple(
            PaletteStick(code, loss, matters(loss)) for code, loss in zip(best.sticks, best.losses, strict=True)
        ),
        mean=round(best.cost, 2),
        mean_of_all=round(best.cost_of_all, 2),
        farther=matters(best.cost - best.cost_of_all),
        buy=tuple(_to_buy(*more[code], gain) for code, gain in best.gains if gain > _WORTH_BUYING),
    )


def _not_owned(owned: Owned) -> Ranges:
    """Sticks of the ranges that are not in the tray."""
    held, medium = {stick.code for stick in owned.sticks}, owned.setup.medium
    found: Ranges = {}
    for range_ in materials.ranges().values():
        for stick in range_.usable(medium):
            if stick.code not in held and not stick.colourless:
                found.setdefault(stick.code, (stick.range, stick))
    return dict(list(found.items())[:_MOST_FROM_RANGES])


def _to_buy(range_name: str, stick: Stick, gain: float) -> Buy:
    swatch = Swatch.of(stick.lab)
    return Buy(stick.code, stick.name, range_name, round(gain, 2), matters(gain), swatch)


def missing(user: User, document: Document, code: str) -> TriedRecipe:
    """The best mix in the place of a stick of the tray or of a range. Raises NotFoundError (`no_stick`)."""
    owned, kit = owned_by(user, document), kit_for(user, document)
    assert document.tray is not None  # owned_by has said so otherwise
    tray = materials.as_core(materials.get_tray(user, document.tray))
    everywhere = [*tray.sticks, *(s for range_ in materials.ranges().values() for s in range_.sticks)]
    stick = next((s for s in everywhere if s.code == code), None)
    if stick is None:
        raise NotFoundError("no_stick", "There is no such colour.", "Choose another.", "code")
    (passes,) = jobs.do(digest("replacement", owned, stick), [Step(replacement_for, (owned, stick))])
    return TriedRecipe(planned(passes), Outcome.of(work_out(kit, passes, stick.lab), kit))


def context(user: User, document: Document, spot_id: str) -> list[Neighbour]:
    """A spot's colour on paper white, on mid grey, and beside the surroundings of the piece, with a word on each."""
    spot = next((spot for spot in document.spots if spot.id == spot_id), None)
    readings = readings_of(user, document) if spot else Readings()
    if spot is None or spot_id not in readings:
        raise no_spot()
    outcome = outcomes_of(user, document.with_spots([spot]), readings).by_spot.get(spot_id, Outcome())
    own = outcome.result or readings[spot_id].swatch
    paper = outcome.paper.lab if outcome.paper else _WHITE_PAPER
    around: list[tuple[str, str, Lab]] = [
        ("paper", "on the bare paper", paper),
        ("grey", "on mid grey", (_MID_GREY_L, 0.0, 0.0)),
    ]
    if document.surroundings and document.picture:
        read = read_regions(get_picture(user, document.picture), [place.disc for place in document.surroundings])
        for place, reading in zip(document.surroundings, read, strict=True):
            around.append((place.id, f"beside {place.name}", reading.swatch.lab))
    return [
        Neighbour(id=key, name=name, swatch=Swatch.of(lab), own=own, words=beside(own.lab, lab))
        for key, name, lab in around
    ]
