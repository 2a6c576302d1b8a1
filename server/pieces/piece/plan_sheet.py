"""The plan of a piece as a sheet to take along, and its pictures as files."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any, TypeVar
from uuid import UUID

from django.contrib.auth.models import User

from core.errors import CaltinError, InputError
from core.exchange.pen import PNG_DPI, FileKind, pictures
from core.exchange.plan_sheet import LayerOnSheet, PlanSheet, Where, cropped, pages_of, write_plan
from core.light.words import side_of
from core.limits import LIMITS
from core.method.manner import manner
from core.method.steps import ORDERS, Order
from core.optics.medium import TOOLS, Pass
from core.optics.stick import Stick
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.api.names import file_name
from server.materials import schools
from server.materials import services as materials
from server.pictures.services import get_picture
from server.pictures.services import shown as picture_shown
from server.pieces.comparing import pictured
from server.pieces.comparing import services as comparing
from server.pieces.document.history import Opened, open_piece
from server.pieces.document.schema import Document
from server.pieces.layers import maps
from server.pieces.layers.values import AskMaps, FigureMaps
from server.pieces.piece.values import Pictured
from server.pieces.work.services import rounds_of, sheet, work_of
from server.pieces.work.values import LaidStep, Work

T = TypeVar("T")
_SHOWN, _MAP, _FINE, _LARGE = 900, maps.MAP_SIZES[1], maps.MAP_SIZES[-1], maps.SIZES[-1]
_files: SingleFlightCache[str, bytes] = SingleFlightCache(24)


@dataclass(frozen=True, slots=True)
class _Drawn:
    """A piece with its maps. ghost: whether the reference shows through them."""

    user: User
    opened: Opened
    figures: tuple[FigureMaps, ...]
    ghost: bool

    @property
    def document(self) -> Document:
        return self.opened.document

    def names(self) -> list[str]:
        return [figure.maps for figure in self.figures if figure.maps]

    def where(self, figure: str) -> list[tuple[float, float]]:
        return [(spot.x, spot.y) for spot in self.document.spots_of(figure)]

    def maps_of(self, layer: str, size: int) -> Iterator[tuple[str, bytes]]:
        """Of every figure that a layer lies on, by its name, each cut to it."""
        names = {figure.id: figure.name for figure in self.document.figures}
        for figure in self.figures:
            if layer in {row.layer for row in figure.layers}:
                _, draw = maps.map_of(self.user, self.document, [figure.maps], layer, size, self.ghost)
                yield names[figure.id], cropped(draw(), self.where(figure.id))

    def by_name(self, layer: str, medium: str | None, stick: str) -> tuple[str, ...]:
        """Which areas a layer lies on, if they have names: a sentence for each of its doses, and figure."""
        said, several = [], len(self.document.figures) > 1
        names = {figure.id: figure.name for figure in self.document.figures}
        for figure in self.figures:
            for row in figure.layers:
                for number, dose in enumerate(row.doses if row.layer == layer else (), start=1):
                    areas = "; ".join(part.area for part in row.where if part.dose == number)
                    how = manner(Pass(stick, dose.pressure, dose.repeats, "flick" if dose.flicked else "lay"), medium)
                    whose = f"{names[figure.id]}, " if several else ""
                    said += [f"{whose}{how}: {areas}."] if areas else []
        return tuple(f"{each[0].upper()}{each[1:]}" for each in said)

    def after(self, size: int) -> bytes | None:
        """The picture after all layers."""
        if not self.names():
            return None
        return maps.picture(self.user, self.document, self.names(), LIMITS.layers).drawn(size, True, False)


def _drawn(user: User, opened: Opened, ghost: bool = True) -> _Drawn:
    """Raises Underway, until the maps are there."""
    figures: tuple[FigureMaps, ...] = ()
    if opened.document.picture and opened.document.layers:
        figures = maps.made(user, opened, AskMaps()).figures
    return _Drawn(user, opened, figures, ghost)


@dataclass(frozen=True, slots=True)
class Printed:
    """How a plan is to be printed. maps: on pages of their own, so many on each (1 or 4), or none; pages: those that
    are wanted, from 1, all if there are none; dpi: of PNG."""

    order: Order = ORDERS[0]
    maps: int = 0
    pages: tuple[int, ...] = ()
    dpi: int = int(PNG_DPI)


def plan_file(user: User, piece_id: UUID, kind: FileKind, printed: Printed) -> tuple[bytes, str]:
    """The plan, and what to call the file. Raises NotFoundError, InputError (`nothing_planned`, `no_such_page`),
    Underway."""
    opened = open_piece(user, piece_id)
    ask = (plan_of(user, opened, True, printed), kind, printed.pages, printed.dpi)
    made = _files.get(digest("plan sheet", ask), lambda: _asked(write_plan, *ask))
    return made, f"{file_name(opened.piece.title, 'plan')}-plan"


def pages(user: User, piece_id: UUID, printed: Printed) -> int:
    """How many pages that takes. Raises as `plan_file` does."""
    plan = plan_of(user, open_piece(user, piece_id), True, printed)
    return _asked(pages_of, plan)


def _asked(function: Callable[..., T], *arguments: Any) -> T:
    step = Step(function, arguments)
    return jobs.wait(digest(function.__name__, arguments), step, Lane.PICTURES)


def plan_of(user: User, opened: Opened, reference: bool, printed: Printed = Printed()) -> PlanSheet:
    """The plan as a sheet. reference: whether the reference is shown, and through the maps.

    Raises InputError (`nothing_planned`), Underway.
    """
    piece, document = opened.piece, opened.document
    drawn = _drawn(user, opened, ghost=reference)
    sticks = _sticks(user, document)
    made = sheet(user, opened.drawn(), printed.order, rounds_of(piece))
    work = work_of(piece)
    layers = [_layer(drawn, step, sticks, work) for step in made.steps]
    if not layers:
        names = {spot.id: spot.name for spot in document.spots}
        for number, pick_up in enumerate(made.pick_ups, start=1):
            where = tuple(
                Where(names.get(job.spot, job.spot), job.manner, "", job.pass_id in work.done) for job in pick_up.jobs
            )
            layers.append(LayerOnSheet(number, pick_up.stick, *_called(pick_up.stick, sticks), "", where))
    for number, step in enumerate(made.around, start=len(layers) + 1):
        where = (Where(step.where, step.how, "", step.layer in work.done),)
        layers.append(LayerOnSheet(number, step.stick, *_called(step.stick, sticks), f"{step.region}.", where))
    if not layers:
        raise InputError("nothing_planned", "Nothing is planned yet.", "Plan it in Mix first.", "layers")
    notes = [work.notes[key] for key in ("piece",) if key in work.notes]
    notes += [f"Next time: {work.notes['next-time']}"] if "next-time" in work.notes else []
    shown = tuple(_large(drawn, made.steps, sticks)) if printed.maps else ()
    return PlanSheet(
        piece.title, _about(user, document), _shown(drawn, reference), tuple(layers), (), tuple(notes),
        made.cautions, shown, printed.maps or 1,
    )  # fmt: skip


def _large(drawn: _Drawn, steps: Sequence[LaidStep], sticks: Mapping[str, Stick]) -> Iterator[tuple[str, bytes]]:
    """The maps of the plan's layers, each once, as they fill a page."""
    for step in {step.layer: step for step in steps if not step.comparison}.values():
        name, _ = _called(step.stick, sticks)
        for figure, data in drawn.maps_of(step.layer, _FINE):
            yield f"{step.number}  {step.stick}  {name}: {figure}", data


def _about(user: User, document: Document) -> str:
    setup = document.setup
    said = [" and ".join(figure.name for figure in document.figures)]
    with suppress(CaltinError):
        said.append(materials.paper_for(user, setup.paper, setup.medium).name)
    said += [name] if (name := schools.name_in(user, setup)) else []
    if document.light:
        said.append(f"light from {side_of(document.light.from_deg)}")
    return " · ".join(said)


def _shown(drawn: _Drawn, reference: bool) -> tuple[tuple[str, bytes], ...]:
    document, rows = drawn.document, []
    if reference and document.picture:
        rows.append(("The reference", picture_shown(get_picture(drawn.user, document.picture), _SHOWN)))
    if reference and (after := drawn.after(maps.SIZES[1])):
        rows.append(("What it becomes", after))
    return tuple(rows)


def _sticks(user: User, document: Document) -> Mapping[str, Stick]:
    if document.tray is None:
        return {}
    with suppress(CaltinError):
        return {stick.code: stick for stick in materials.as_core(materials.get_tray(user, document.tray)).sticks}
    return {}


def _called(code: str, sticks: Mapping[str, Stick]) -> tuple[str, str]:
    """Name and colour of a stick or a tool."""
    stick = sticks.get(code)
    return (stick.name, stick.solid_hex) if stick else (TOOLS.get(code, ""), "")


def _layer(drawn: _Drawn, step: LaidStep, sticks: Mapping[str, Stick], work: Work) -> LayerOnSheet:
    several = len(drawn.document.figures) > 1
    where = tuple(
        Where(
            f"{part.figure}: {part.feature}" if several else part.feature, part.how, ", ".join(part.places),
            all(work.done.get(tick, work.done.get(step.layer)) == "done" for tick in part.ticks),
        )
        for part in step.parts
    )  # fmt: skip
    stick = sticks.get(step.stick)
    areas = () if step.comparison else drawn.by_name(step.layer, stick.medium if stick else None, step.stick)
    how = " ".join(part for part in (f"{step.stroke}, {step.how}.", step.first, step.end, step.caution) if part)
    shown = _corrected(drawn, step) if step.comparison else tuple(data for _, data in drawn.maps_of(step.layer, _MAP))
    note = work.notes.get(step.layer, "")
    return LayerOnSheet(step.number, step.stick, *_called(step.stick, sticks), how, where, shown, note, areas)


def _corrected(drawn: _Drawn, step: LaidStep) -> tuple[bytes, ...]:
    """The map of a correction; nothing where its photograph tells it no more, or the reference is not to be seen."""
    if not drawn.ghost:
        return ()
    try:
        row = comparing.get(drawn.user, UUID(step.comparison))
        _, draw = pictured.correction_picture(drawn.user, row, step.correction, "map", _MAP)
        return (draw(),)
    except CaltinError:
        return ()


# Pictures -------------------------------------------------------------------------------------------------------------


def pictures_file(user: User, piece_id: UUID, what: Pictured, kind: FileKind, layer: str) -> tuple[bytes, str]:
    """What is seen of a plan, and what to call the file: the reference after all layers, or the map of one layer, or
    of all. Raises NotFoundError (`no_maps`), InputError (`no_picture_yet`), Underway."""
    opened = open_piece(user, piece_id)
    drawn = _drawn(user, opened)
    title, shown = opened.piece.title, list[bytes]()
    if what == "after":
        shown = [after] if (after := drawn.after(_LARGE)) else []
    else:
        wanted = [row.id for row in opened.document.layers if layer in ("", row.id)]
        shown = [data for one in wanted for _, data in drawn.maps_of(one, _MAP)]
    if not shown:
        raise InputError("no_maps", "There is no map of that.", "Plan it in layers on a picture first.", "layer")
    name = f"{file_name(title, 'piece')}-{'map' if layer else 'maps' if what == 'maps' else 'after'}"
    return _asked(pictures, kind, title, tuple(shown)), name
