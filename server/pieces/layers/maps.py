"""Maps of layers, and the reference after so many of them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from django.contrib.auth.models import User

from core.colour.spaces import Floats, hex_to_lab
from core.errors import CaltinError, InputError, NotFoundError
from core.look.reading import Disc
from core.look.study import MODEL as SEEING
from core.plan import map_questions as questions
from core.plan.hatch import LONGEST
from core.plan.map_questions import PARTS, SMALL, KeptMaps, MapsTask, Shown, Sketch
from core.plan.mapped import free_from
from core.recipe.recipe import MODEL
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.pictures.services import LONGEST_SHOWN, get_picture
from server.pieces.document.drawn import FigureRead, LayerRead, note
from server.pieces.document.history import Opened
from server.pieces.document.schema import Document, Level, Spot
from server.pieces.layers.services import as_it_is, level_of, places_of
from server.pieces.layers.values import AskMaps, DosedArea, FigureMaps, LayerMap, Maps
from server.pieces.look.services import placement, seen_of
from server.pieces.results import ResultCache

SIZES = (SMALL, 2 * SMALL, LONGEST_SHOWN)
MAP_SIZES = (LONGEST // 3, LONGEST, 2 * LONGEST)
SKETCH = 240
"""The longer side of what a plan that is only offered would make of a figure."""
_maps: ResultCache[KeptMaps] = ResultCache(KeptMaps, "maps", MODEL, SEEING)
_drawn: SingleFlightCache[str, bytes] = SingleFlightCache(60)


def made(user: User, opened: Opened, asked: AskMaps) -> Maps:
    """The maps of every figure that is planned in layers; what they have at the spots is noted, if they are as the
    piece wants them. Raises InputError (`no_picture_yet`), Underway."""
    document = opened.document
    if document.picture is None:
        raise _no_picture_yet()
    rows, wanted, noted = [], asked.of(document.maps), False
    for number, figure in enumerate(document.figures):
        try:
            task = _task(user, document, number, wanted.doses, wanted.least_mm2, wanted.areas == "named")
            kept = _kept(task)
        except InputError as error:
            if error.code != "no_layers":
                rows.append(FigureMaps(figure.id, "", (), 0.0, 0.0, f"{error.message} {error.hint}"))
            continue
        words = [tuple(DosedArea(*part) for part in parts) for parts in kept.words or ((),) * len(kept.layers)]
        levels = _levels(kept, document.spots_of(figure.id))
        layers = tuple(map(LayerMap, kept.layers, kept.doses, levels, words, kept.in_flecks))
        rows.append(FigureMaps(figure.id, f"{figure.id}.{_maps.key(task)}", layers, kept.mean, kept.p90, ""))
        if wanted == document.maps:
            noted |= note(opened.piece.pk, document, figure.id, _read(document, layers))
    return Maps(tuple(rows), noted)


def _read(document: Document, layers: Sequence[LayerMap]) -> FigureRead:
    """What maps have, as it is noted: of the spots that are planned."""
    planned = {spot for layer in document.layers for spot in layer.levels}
    return FigureRead(
        {
            row.layer: LayerRead(
                {spot: level for spot, level in row.levels.items() if spot in planned},
                max(map(level_of, row.doses), key=Level.much, default=None),
            )
            for row in layers
        }
    )


def _levels(kept: KeptMaps, spots: Sequence[Spot]) -> list[dict[str, Level | None]]:
    """What the maps say of these spots, layer by layer."""
    found: list[dict[str, Level | None]] = [{} for _ in kept.layers]
    places = [(Disc(spot.x, spot.y, spot.radius), spot.role) for spot in spots]
    for spot, doses in zip(spots, kept.doses_at(places), strict=True):
        for number, layer in enumerate(kept.layers):
            if layer in doses:
                dose = doses[layer]
                found[number][spot.id] = level_of(dose) if dose else None
    return found


def _task(
    user: User, document: Document, number: int, doses: int = 1, least_mm2: float = 1.0, named: bool = False
) -> MapsTask:
    """Raises InputError (`no_layers`), NotFoundError."""
    planned, layers = as_it_is(user, document, document.figures[number].id)
    assert document.picture is not None  # asked before
    picture = get_picture(user, document.picture)
    place = placement(picture, document)
    assert place is not None  # there is a picture
    scale = min(1.0, SMALL / max(picture.width, picture.height))
    seen = seen_of(picture, document)
    free = free_from(planned.places, layers.owned.setup.reserve)
    px_per_mm = scale / place.mm_per_pixel
    held = tuple(sorted(layers.locked))
    discs = tuple(Disc(spot.x, spot.y, spot.radius) for spot in planned.spots)
    return MapsTask(
        layers.owned, seen, number, layers.layers, px_per_mm, doses, least_mm2, planned.places, discs, named, free, held
    )


def _kept(task: MapsTask) -> KeptMaps:
    """The maps of a figure. Raises Underway."""

    def work() -> KeptMaps:
        last = jobs.do(digest("maps", task), [Step(questions.maps_part, (task, part)) for part in range(PARTS)])[-1]
        assert last is not None  # the last part has them
        return last

    return _maps.get(task, work)


@dataclass(frozen=True, slots=True)
class MappedPicture:
    """A picture that can be drawn: figures as far as there are maps of them."""

    shown: tuple[Shown, ...]

    def key(self, size: int, muted: bool, in_values: bool) -> str:
        """Its name, by all that it depends on."""
        return digest("mapped", MODEL, SEEING, self.shown, size, muted, in_values)

    def drawn(self, size: int, muted: bool, in_values: bool) -> bytes:
        """As JPEG."""
        key = self.key(size, muted, in_values)
        step = Step(questions.picture_after, (self.shown, size, muted, in_values))
        return _drawn.get(key, lambda: jobs.wait(key, step, Lane.PICTURES))


def picture(user: User, document: Document, names: Sequence[str], upto: int) -> MappedPicture:
    """The reference after the first `upto` layers of the document, by maps of these names. Raises NotFoundError
    (`no_maps`)."""
    rows = []
    first = {layer.id for layer in document.layers[:upto]}
    for task, kept in _named(user, document, names):
        layers = [layer.id for layer in task.layers if layer.id in kept.layers]
        rows.append(Shown(task, kept, sum(layer in first for layer in layers)))
    return MappedPicture(tuple(rows))


def map_of(
    user: User, document: Document, names: Sequence[str], layer_id: str, longest: int, ghost: bool = True
) -> tuple[str, Callable[[], bytes]]:
    """The name of a layer's map, and what draws it. ghost: whether the reference shows through. Raises
    NotFoundError (`no_maps`)."""
    for task, kept in _named(user, document, names):
        if layer_id in kept.layers and layer_id in {layer.id for layer in task.layers}:
            return _one_map(Shown(task, kept, 0), layer_id, longest, ghost)
    raise _no_maps()


def _one_map(shown: Shown, layer_id: str, longest: int, ghost: bool) -> tuple[str, Callable[[], bytes]]:
    key, step = (
        digest("map", MODEL, SEEING, shown, layer_id, longest, ghost),
        Step(questions.map_of, (shown, layer_id, longest, ghost)),
    )
    return key, lambda: _drawn.get(key, lambda: jobs.wait(key, step, Lane.PICTURES))


def sketch(user: User, document: Document, figure_id: str, gives: Mapping[str, str]) -> tuple[str, Callable[[], bytes]]:
    """The name of a figure's picture with these colours (sRGB hex) at its spots, as wanted where nothing is said, and
    what draws it. Raises InputError (`no_picture_yet`, `bad_hex`), NotFoundError (`no_figure`)."""
    if document.picture is None:
        raise _no_picture_yet()
    places = places_of(user, document, figure_id)
    number = [figure.id for figure in document.figures].index(figure_id)
    wanted = tuple(place.lab for _, place in places)
    given = tuple(_lab(hex_to_lab(gives[spot.id])) if spot.id in gives else place.lab for spot, place in places)
    task = Sketch(
        seen_of(get_picture(user, document.picture), document),
        number,
        tuple((spot.x, spot.y) for spot, _ in places),
        wanted,
        given,
    )
    key = digest("sketch", SEEING, task)
    return key, lambda: _drawn.get(
        key, lambda: jobs.wait(key, Step(questions.sketch_of, (task, SKETCH)), Lane.PICTURES)
    )


def _lab(lab: Floats) -> tuple[float, float, float]:
    lightness, a, b = lab.round(2).tolist()
    return lightness, a, b


def _named(user: User, document: Document, names: Sequence[str]) -> list[tuple[MapsTask, KeptMaps]]:
    """The figures of which there are maps of these names, as they are now. Raises NotFoundError (`no_maps`)."""
    numbers = {figure.id: number for number, figure in enumerate(document.figures)}
    found = []
    for name in names[: len(numbers)]:
        figure, _, key = name.partition(".")
        kept = _maps.kept(key) if figure in numbers and document.picture else None
        if kept is None:
            raise _no_maps()
        try:
            task = _task(user, document, numbers[figure])
        except CaltinError:
            continue  # its layers are gone, or cannot be laid: the others are shown
        if {layer.id for layer in task.layers} & set(kept.layers):
            found.append((task, kept))  # otherwise it is planned anew, and these maps are of no layer of now
    if not found:
        raise _no_maps()
    return found


def _no_picture_yet() -> InputError:
    return InputError("no_picture_yet", "This piece has no reference yet.", "Put in a picture first.", "picture")


def _no_maps() -> NotFoundError:
    return NotFoundError("no_maps", "There are no such maps any more.", "Ask for the maps anew.", "maps")
