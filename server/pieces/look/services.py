"""Looking at a piece's reference: study, ways of seeing, suggestions, measures and the transfer page."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar

from django.contrib.auth.models import User

from core.colour.spaces import lab_to_xyz, xyz_to_lab
from core.colour.swatch import Swatch
from core.errors import InputError
from core.exchange.pen import FileKind
from core.exchange.transfer_sheet import Line, Rect, TransferSheet, write_transfer
from core.light.sheet import SheetMasks
from core.limits import LIMITS
from core.look import measuring, naming, neutrals, questions, suggest
from core.look import study as core_study
from core.look.balance import Balance, Neutral
from core.look.faces import Face
from core.look.places import SeenSpot, doubt, measured_note, notes
from core.look.questions import Seen
from core.look.reading import Corners, Disc, Outline, Reading, Region
from core.look.ways import get_way
from server.api.jobs import Lane, Step, jobs
from server.api.memo import SingleFlightCache, digest
from server.pictures.models import Picture
from server.pictures.services import LONGEST_SHOWN, ask, get_picture, source_of
from server.pieces.document.schema import Document, Figure, Spot
from server.pieces.look.readings import Readings, read_regions, readings_of
from server.pieces.look.values import (
    Effect,
    FigureStudy,
    Offer,
    SpotStudy,
    Study,
    SuggestedFigure,
    SuggestedSpot,
    Suggestion,
)
from server.pieces.look.words import DOUBTS, places_of, trouble_of, untold_of

T = TypeVar("T")

_studies: SingleFlightCache[Seen, core_study.Study] = SingleFlightCache(6)
_balances: SingleFlightCache[tuple[str, Neutral], Balance] = SingleFlightCache(20)
_views: SingleFlightCache[tuple[object, ...], bytes] = SingleFlightCache(60)


def check_balance(user: User, document: Document) -> None:
    """Raises InputError (field `document.balance`) unless the picture can be balanced as the document says."""
    if document.balance and document.picture:
        _balance(get_picture(user, document.picture), document)


def look_key(document: Document) -> str:
    """Changes whenever what is seen of the reference could."""
    people = [(figure.id, figure.face, figure.strokes) for figure in document.figures]
    return digest(
        "look", core_study.MODEL, document.picture, document.balance, people, document.no_faces, document.imagined
    )


def placement(picture: Picture | None, document: Document) -> measuring.Placement | None:
    """How the reference sits on the sheet. Raises InputError for a sheet that cannot be."""
    return measuring.place_on(document.format, picture.width, picture.height) if picture else None


def measured(picture: Picture | None, document: Document) -> list[measuring.Measured]:
    """Every mark of the document on the reference and on the sheet."""
    place = placement(picture, document)
    if picture is None or place is None:
        return []
    return measuring.measure(document.marks, document.unit, picture.width, picture.height, place)


def measured_one(user: User, document: Document, mark: measuring.Mark) -> measuring.Measured:
    """A mark that is being drawn; nothing is stored."""
    marks = (*(other for other in document.marks if other.id != mark.id), mark)
    return measured(_picture(user, document), replace(document, marks=marks))[-1]


def _picture(user: User, document: Document) -> Picture:
    if document.picture is None:
        raise InputError("no_picture_yet", "This piece has no reference yet.", "Put in a picture first.", "picture")
    return get_picture(user, document.picture)


def _balance(picture: Picture, document: Document) -> Balance | None:
    on = document.balance
    if on is None:
        return None
    try:
        return _balances.get((picture.digest, on), lambda: ask(questions.balance_of, source_of(picture), on))
    except InputError as error:
        raise InputError(error.code, error.message, error.hint, "document.balance") from error


def seen_of(picture: Picture, document: Document) -> Seen:
    """The picture with what the document says about it. Raises InputError (`document.balance`)."""
    _balance(picture, document)
    people = tuple(figure.person for figure in document.figures)
    return Seen(source_of(picture), document.balance, people, document.no_faces, _known(document))


def _known(document: Document) -> SheetMasks | None:
    """Whose skin is where on a sheet that was drawn of figures that are described."""
    held = document.imagined
    if held is None or not document.on_its_sheet:
        return None
    numbers = {figure.id: number for number, figure in enumerate(document.figures, start=1)}
    return SheetMasks(held.scene(), tuple(numbers.get(seat.figure, 0) for seat in held.seats))


def study_of(seen: Seen) -> core_study.Study:
    """What a reference shows of the people in it. Raises Underway."""
    return _studies.get(seen, lambda: _asked(questions.study_of, seen))


def _asked(function: Callable[..., T], seen: Seen, *rest: int) -> T:
    """The answer to a question that may take seconds. Raises Underway."""
    (said,) = jobs.do(digest(function.__name__, seen, rest), [Step(function, (seen, *rest))], Lane.PICTURES)
    return said


def studied(user: User, document: Document) -> Study:
    """What the reference shows about its figures and spots. Raises InputError (`no_picture_yet`)."""
    picture = _picture(user, document)
    seen = study_of(seen_of(picture, document))
    balance = _balance(picture, document)
    readings = readings_of(user, document)
    return Study(
        figures=tuple(_figure(figure, found) for figure, found in zip(document.figures, seen.figures, strict=True)),
        spots=tuple(_spot(spot, document, readings, seen, balance) for spot in document.spots),
        colourless=seen.colourless,
        trouble=trouble_of(seen),
        light_from_deg=seen.light_from_deg,
        light_sure=seen.lighting is not None and seen.lighting.sure,
        light_words=seen.lighting.words if seen.lighting else "",
        offers=tuple(
            _offer(offer, effects, seen, document) for offer, effects in zip(seen.offers, seen.effects, strict=True)
        ),
    )


def _figure(figure: Figure, found: core_study.FigureStudy) -> FigureStudy:
    return FigureStudy(
        id=figure.id,
        found=found.found,
        certain=found.certain,
        face=found.face,
        lightest=found.lightest,
        darkest=found.darkest,
        border=found.border,
        average=Swatch.of(found.average) if found.average else None,
        complexion=found.complexion,
        untold=untold_of(found),
        places=places_of(found),
    )


def _offer(
    offer: neutrals.Offer, effects: tuple[core_study.Told, ...], seen: core_study.Study, document: Document
) -> Offer:
    return Offer(
        kind=offer.kind,
        on=offer.neutral,
        seen=Swatch.of(offer.lab),
        sure=offer.sure,
        effects=tuple(
            Effect(
                figure=figure.id,
                seen=Swatch.of(lit) if lit else None,
                skin=Swatch.of(told.lab) if told.lab else None,
                complexion=told.complexion,
                untold=untold_of(told),
            )
            for figure, lit, told in zip(document.figures, seen.lit, effects, strict=True)
        ),
    )


def _spot(
    spot: Spot, document: Document, readings: Readings, seen: core_study.Study, balance: Balance | None
) -> SpotStudy:
    note = notes()[spot.place]
    skin = seen.figures[_number(spot, document)].complexion
    number = _number(spot, document)
    seen_as = naming.name_of_place(seen, number, spot.x, spot.y) if spot.place == "other" else "other"
    said = SpotStudy(
        id=spot.id,
        note=note.text,
        note_source=note.source,
        measured=measured_note(spot.place, skin.ita_deg) if skin else "",
        seen_as="" if seen_as == "other" else seen_as,
        place_outline=_place_outline(seen, number, spot),
    )
    reading = readings.get(spot.id)
    if reading is None:
        return said
    others = [
        _seen(other, readings[other.id])
        for other in document.spots_of(spot.figure)
        if other.id in readings and other.id != spot.id
    ]
    from_deg = document.light.from_deg if document.light else seen.light_from_deg
    said = replace(
        said,
        family=_family(spot, document, reading, seen),
        doubt=doubt(_seen(spot, reading), others, from_deg is None or from_deg < 180),
    )
    if balance is not None:
        xyz = lab_to_xyz(reading.swatch.lab)
        said = replace(said, balanced=Swatch.of(xyz_to_lab(balance.apply(xyz))))
    return said


def _place_outline(seen: core_study.Study, figure: int, spot: Spot) -> Corners | None:
    """The outline of a narrow place that is read by a disc."""
    if spot.outline or spot.place not in naming.NARROW:
        return None
    return naming.outline_of(seen, figure, spot.place, spot.x, spot.y)


def _family(spot: Spot, document: Document, reading: Reading, seen: core_study.Study) -> str:
    """`light` or `shadow`, as the study sees it there, or else by the border of values; empty if nobody can tell."""
    h, w = seen.owners.shape
    at = min(h - 1, int(spot.y * h)), min(w - 1, int(spot.x * w))
    border = seen.figures[_number(spot, document)].border
    if seen.owners[at]:
        return "light" if seen.light[at] else "shadow"
    if border is not None:
        return "light" if reading.swatch.value >= border else "shadow"
    return ""


def _number(spot: Spot, document: Document) -> int:
    return [figure.id for figure in document.figures].index(spot.figure)


def _seen(spot: Spot, reading: Reading) -> SeenSpot:
    return SeenSpot(spot.place, spot.role, reading.swatch.lab, reading.swatch.value)


def suggested(user: User, document: Document) -> Suggestion:
    """Figures and spots that Caltin would mark; nothing is stored.

    Faces that nobody has yet become figures without a face first, then new figures.
    """
    picture = _picture(user, document)
    shown = study_of(seen_of(picture, document))
    held = [replace(figure, face=found.face) for figure, found in zip(document.figures, shown.figures, strict=True)]
    extra = [face for face in shown.faces if face not in [figure.face for figure in held]]
    added = [
        Figure(_id_of(face, document), f"Figure {number}", face)
        for number, face in enumerate(extra[: LIMITS.figures - len(held)], start=len(held) + 1)
    ]
    figures = (*held, *added)
    seen = seen_of(picture, replace(document, figures=figures if extra else document.figures))
    hits = [
        (figure, hit)
        for figure, rows in zip(figures, _asked(questions.suggestions_of, seen), strict=False)
        for hit in rows
    ]
    read = read_regions(picture, [_region(hit) for _, hit in hits])
    spots = [_suggested(figure, hit, reading) for (figure, hit), reading in zip(hits, read, strict=True)]
    rows = [
        SuggestedFigure(figure.id, figure.name, figure.face, is_new)
        for some, is_new in ((held, False), (added, True))
        for figure in some
    ]
    return Suggestion(tuple(rows), tuple(spots), trouble_of(study_of(seen)))


def _region(hit: suggest.Suggestion) -> Region:
    return Outline(hit.outline) if hit.outline else Disc(hit.x, hit.y, hit.radius)


def _suggested(figure: Figure, hit: suggest.Suggestion, reading: Reading) -> SuggestedSpot:
    doubt = hit.doubt or ("mixed" if reading.straddles and hit.outline is None else "")
    return SuggestedSpot(
        figure=figure.id,
        place=hit.place,
        role=hit.role,
        x=hit.x,
        y=hit.y,
        radius=hit.radius,
        name=hit.name,
        outline=hit.outline,
        doubt=DOUBTS.get(doubt, ""),
        swatch=reading.swatch,
    )


def _id_of(face: Face, document: Document) -> str:
    """An id for the figure with a new face: the same whenever it is asked for, since asking may take several goes."""
    return f"figure-{digest(face, [figure.id for figure in document.figures])[:8]}"


def view(
    user: User, document: Document, kind: str, amount: int, borders: bool, balanced: bool, size: int = LONGEST_SHOWN
) -> bytes:
    """A way of seeing the reference, as JPEG of at most `size` pixels on its longer side.

    Raises InputError (`bad_view`, or what core.look.views raises).
    """
    get_way(kind)
    picture = _picture(user, document)
    seen = seen_of(picture, document)
    return _views.get(
        (seen, kind, amount, borders, balanced, size),
        lambda: ask(questions.view_of, seen, size, kind, amount, borders, balanced),
    )


def transfer_sheet(
    user: User, title: str, document: Document, steps: int, mirrored: bool, in_parts: bool, kind: FileKind
) -> bytes:
    """Borders and spots as far as the sheet shows them, at true size; see core.exchange.transfer_sheet.

    Raises Underway, and InputError (`no_picture_yet`)."""
    picture = _picture(user, document)
    place = measuring.place_on(document.format, picture.width, picture.height)
    left, top, right, bottom = place.crop
    grid, paper = document.grid, document.format
    made = TransferSheet(
        title,
        paper.width_mm,
        paper.height_mm,
        Rect(place.left_mm, place.top_mm, place.width_mm, place.height_mm),
        tuple(
            Line(line.kind, tuple(place.on_sheet(x, y) for x, y in line.points))
            for line in _asked(questions.lines_of, seen_of(picture, document), steps)
        ),
        tuple(
            place.on_sheet(spot.x, spot.y)
            for spot in document.spots
            if left <= spot.x <= right and top <= spot.y <= bottom
        ),
        (grid.columns, grid.rows, grid.diagonals) if grid else None,
        document.light.from_deg if document.light else None,
        mirrored,
        in_parts,
    )
    return write_transfer(made, kind)
