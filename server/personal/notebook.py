"""The notebook: every plan, recipe, comparison, card and note, and what is known of each stick, in one list."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.utils import timezone

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, hex_to_lab
from core.colour.swatch import Swatch
from core.colour.words import closeness
from core.errors import CaltinError
from core.method.manner import manner
from core.notebook.found import KINDS, Entry, Kind, Lab, found
from core.optics.media import counted, get_medium
from core.optics.medium import TOOLS
from core.optics.stick import Stick
from core.optics.support import supports
from core.skin.complexion import read_complexion
from core.trial.card import KINDS as CARD_KINDS
from server.materials import schools
from server.materials import services as materials
from server.materials.models import Tray
from server.personal.values import Notebook, NotebookEntry
from server.pieces.document.history import Opened, open_all
from server.pieces.document.schema import Figure, Spot
from server.pieces.look.readings import Readings, readings_of
from server.pieces.models import Tick
from server.pieces.work.services import work_of
from server.trials.models import Calibration
from server.trials.services import standing_cards
from server.trials.taught import card_of

MOST = 200
"""Entries that are shown at once."""
_PAUSE = timedelta(minutes=45)
"""Between ticks that are farther apart nobody was drawing."""
_LIT = ("light", "middle")
_DRIFTED = 0.1
_NAMED = 8


@dataclass
class _Served:
    """Where a stick has served, in all pieces. spots: how many of how many planned ones of its pieces it lies on."""

    places: dict[str, None] = field(default_factory=dict)
    pieces: dict[str, None] = field(default_factory=dict)
    spots: int = 0
    of: int = 0
    notes: list[str] = field(default_factory=list)
    at: datetime | None = None


@dataclass(frozen=True)
class _Series:
    """Sticks that a figure's skin is planned with. off: ΔE00 of its drawing in the mean, None if none was compared."""

    skin: Lab
    title: str
    said: str
    codes: tuple[str, ...]
    piece: str
    figure: str
    off: float | None
    at: datetime


def notebook(user: User, text: str, kinds: Sequence[Kind], colour: str) -> Notebook:
    """What is found. colour: hex, the nearest to which comes first; empty for the latest first. Raises InputError
    (`bad_hex`)."""
    lab = _lab(hex_to_lab(colour)) if colour else None
    hits = found(_entries(user), text, kinds, lab, MOST)
    return Notebook(
        tuple(
            NotebookEntry(
                kind=hit.entry.kind,
                title=hit.entry.title,
                text=hit.entry.text,
                at=datetime.fromtimestamp(hit.entry.at, UTC),
                swatch=Swatch.of(hit.entry.lab) if hit.entry.lab else None,
                sticks=hit.entry.sticks,
                piece=UUID(hit.entry.piece) if hit.entry.piece else None,
                step=hit.entry.step,
                figure=hit.entry.figure,
                close="" if hit.off is None else closeness(hit.off),
            )
            for hit in hits
        ),
        KINDS,
    )


def _entries(user: User) -> Iterator[Entry]:
    served: dict[tuple[str, str], _Served] = defaultdict(_Served)
    trays = {tray.pk: tray for tray in materials.trays_of(user)}
    papers = {paper.id: paper.name for paper in (*supports().values(), *materials.papers_of(user))}
    series: list[_Series] = []
    for opened in open_all(user):
        yield from _of_piece(user, opened, trays, papers, served, series)
    yield from _complexions(series)
    yield from _cards(user, papers)
    yield from _sticks(trays.values(), served)


def _of_piece(
    user: User,
    opened: Opened,
    trays: dict[UUID, Tray],
    papers: dict[str, str],
    served: dict[tuple[str, str], _Served],
    series: list[_Series],
) -> Iterator[Entry]:
    opened = replace(opened, document=opened.drawn().document)
    piece, document = opened.piece, opened.document
    try:
        readings = readings_of(user, document)
    except CaltinError:
        readings = {}
    tray = trays.get(document.tray) if document.tray else None
    sticks = {stick.code: stick for stick in materials.as_core(tray).sticks} if tray else {}
    about = (
        piece.title,
        get_medium(document.setup.medium).name,
        papers.get(document.setup.paper, ""),
        tray.name if tray else "",
        *_date_words(piece.changed),
    )
    hours = _hours(opened)
    for figure in document.figures:
        spots = [spot for spot in document.spots_of(figure.id) if document.passes_of(spot)]
        if not spots:
            continue
        skin = _skin(spots, readings)
        told = _complexion(skin)
        plan = _plan(opened, figure, spots, sticks, skin, (*about, *told), hours)
        yield plan
        if skin:
            said, off = _listed(plan.sticks, sticks), _off(opened, spots)
            series.append(
                _Series(skin, plan.title, said, plan.sticks, plan.piece, figure.id, off, opened.piece.changed)
            )
        for spot in spots:
            yield _recipe(opened, figure, spot, sticks, readings, (*about, *told))
            _serve(served, opened, spot, sticks, tray.name if tray else "")
    yield from _notes(opened, about, served, tray.name if tray else "")
    for row in piece.comparisons.all():
        taken = f", {len(row.taken)} corrections taken" if row.taken else ""
        said = f"{closeness(row.mean)} in the mean{taken}. {row.note}".strip()
        yield Entry(
            "comparison",
            f"{piece.title}, photograph {row.number}",
            said,
            about,
            row.made.timestamp(),
            None,
            (),
            str(piece.pk),
            "compare",
        )


def _plan(
    opened: Opened,
    figure: Figure,
    spots: Sequence[Spot],
    sticks: dict[str, Stick],
    skin: Lab | None,
    about: tuple[str, ...],
    hours: str,
) -> Entry:
    document = opened.document
    codes = tuple(dict.fromkeys(p.stick for spot in spots for p in document.passes_of(spot) if p.stick not in TOOLS))
    layers = sum(any(layer.levels.get(spot.id) for spot in spots) for layer in document.layers)
    method = schools.name_in(opened.piece.owner, document.setup)
    complexion = ", ".join(_complexion(skin))
    parts = [
        complexion,
        f"{layers} layers" if layers else "spot by spot",
        counted(len(codes), (sticks[code].medium for code in codes if code in sticks)),
        method.lower(),
        hours,
    ]
    text = ", ".join(part for part in parts if part) + ": " + _listed(codes, sticks)
    return Entry(
        "plan",
        f"{figure.name} in {opened.piece.title}",
        text,
        about,
        opened.piece.changed.timestamp(),
        skin,
        codes,
        str(opened.piece.pk),
        "mix",
        figure.id,
    )


def _off(opened: Opened, spots: Sequence[Spot]) -> float | None:
    """How far off a figure was in its last photograph, in the mean of the places that could be read."""
    last = opened.piece.comparisons.last()
    read = [last.places[spot.id] for spot in spots if spot.id in last.places] if last else []
    read = [row for row in read if not row["trouble"]]
    if not read:
        return None
    seen, wanted = (np.array([row[key] for row in read], dtype=float) for key in ("lab", "wanted"))
    return float(ciede2000(seen, wanted).mean())


def _complexions(series: Sequence[_Series]) -> Iterator[Entry]:
    """Of every depth and undertone the sticks that have served it, what came nearest in the drawing first."""
    alike: dict[tuple[str, ...], list[_Series]] = defaultdict(list)
    for row in series:
        alike[_complexion(row.skin)].append(row)
    for words, rows in alike.items():
        rows.sort(key=lambda row: (row.off is None, row.off or 0.0, -row.at.timestamp()))
        best = rows[0]
        said = "; ".join(
            f"{row.title} ({'not compared yet' if row.off is None else closeness(row.off)}): {row.said}"
            for row in rows[:_NAMED]
        )
        yield Entry(
            "complexion",
            ", ".join(words).capitalize(),
            f"{said}.",
            words,
            max(row.at for row in rows).timestamp(),
            _lab(np.mean([row.skin for row in rows], axis=0)),
            best.codes,
            best.piece,
            "mix",
            best.figure,
        )


def _recipe(
    opened: Opened,
    figure: Figure,
    spot: Spot,
    sticks: dict[str, Stick],
    readings: Readings,
    about: tuple[str, ...],
) -> Entry:
    passes = opened.document.passes_of(spot)
    said = "; ".join(
        f"{p.stick} {sticks[p.stick].name if p.stick in sticks else ''}".strip()
        + f", {manner(p.bare, sticks[p.stick].medium if p.stick in sticks else None)}"
        for p in passes
    )
    lab = _lab(np.array(readings[spot.id].swatch.lab)) if spot.id in readings else None
    codes = tuple(dict.fromkeys(p.stick for p in passes if p.stick not in TOOLS))
    words = (*about, spot.place, spot.role, figure.name)
    return Entry(
        "recipe",
        f"{spot.name}, {figure.name}",
        f"{said}. {opened.piece.title}",
        words,
        opened.piece.changed.timestamp(),
        lab,
        codes,
        str(opened.piece.pk),
        "mix",
    )


def _serve(
    served: dict[tuple[str, str], _Served], opened: Opened, spot: Spot, sticks: dict[str, Stick], tray: str
) -> None:
    mine = {pass_.stick for pass_ in opened.document.passes_of(spot)}
    for code in sticks:
        row = served[tray, code]
        row.of += 1
        if code in mine:
            row.spots += 1
            row.places[spot.place] = None
            row.pieces[opened.piece.title] = None
            row.at = max(row.at or opened.piece.changed, opened.piece.changed)


_ABOUT_PIECE = {"piece": "On the piece", "next-time": "Next time"}


def _notes(
    opened: Opened, about: tuple[str, ...], served: dict[tuple[str, str], _Served], tray: str
) -> Iterator[Entry]:
    layers = {layer.id: layer for layer in opened.document.layers}
    for key, text in work_of(opened.piece).notes.items():
        title, sticks = _ABOUT_PIECE.get(key, ""), tuple[str, ...]()
        if key.startswith("stick-"):
            title, sticks = f"On {key[6:]}", (key[6:],)
            served[tray, key[6:]].notes.append(text)
        elif key in layers:
            sticks = (layers[key].stick,)
            title = f"On layer {list(layers).index(key) + 1}, {sticks[0]}"
        yield Entry(
            "note",
            f"{title or 'On a step'}: {opened.piece.title}",
            text,
            about,
            opened.piece.changed.timestamp(),
            None,
            sticks,
            str(opened.piece.pk),
            "work",
        )


def _cards(user: User, papers: dict[str, str]) -> Iterator[Entry]:
    for row in standing_cards(user).prefetch_related("photos"):
        card = card_of(row)
        read = sum(len(photo.rows) for photo in row.photos.all())
        codes = tuple(dict.fromkeys(p.stick for cell in card.cells for p in cell.passes if p.stick not in TOOLS))
        text = f"{CARD_KINDS[card.kind].name}, {len(card.cells)} boxes, {f'{read} read' if read else 'not read yet'}"
        words = (row.tray.name, papers.get(row.paper, ""), get_medium(row.medium).name, *codes, *_date_words(row.made))
        yield Entry(
            "card", f"Card {card.number}: {row.title or row.tray.name}", text, words, row.made.timestamp(), None, codes
        )


def _sticks(trays: Iterable[Tray], served: dict[tuple[str, str], _Served]) -> Iterator[Entry]:
    for tray in trays:
        drift = _drifts(tray)
        for stick in tray.sticks.all():
            row = served.get((tray.name, stick.code))
            noted = [stick.note, *stick.feel, *(row.notes if row else ())]
            drifted = drift.get(stick.code, "")
            if not (row and row.spots) and not any(noted) and not drifted:
                continue
            parts = []
            if row and row.spots:
                where = ", ".join(list(row.places)[:_NAMED])
                parts.append(
                    f"Serves at {where} ({100 * row.spots / row.of:.0f} % of the places planned with this box)"
                )
            parts += [drifted, *noted]
            text = ". ".join(part.rstrip(".") for part in parts if part) + "."
            words = (tray.name, get_medium(stick.medium).name, *(row.pieces if row else ()))
            at = row.at if row and row.at else tray.changed
            yield Entry(
                "stick",
                f"{stick.code} {stick.name}",
                text,
                words,
                at.timestamp(),
                _lab(hex_to_lab(stick.hex)),
                (stick.code,),
            )


def _drifts(tray: Tray) -> dict[str, str]:
    """How much more or less each stick leaves than when cards first showed it, where that is worth a word."""
    first: dict[tuple[str, str, str], float] = {}
    said = {}
    for row in Calibration.objects.filter(tray=tray, boxes__gt=0):
        for code, fit in row.fits.items():
            strength = float(fit.get("strength", 1.0))
            began = first.setdefault((row.medium, row.paper, code), strength)
            change = strength / began - 1 if began else 0.0
            said[code] = (
                f"Leaves {abs(change):.0%} {'more' if change > 0 else 'less'} than on the first card"
                if abs(change) >= _DRIFTED
                else ""
            )
    return said


def _hours(opened: Opened) -> str:
    """How long was drawn, told from the ticks."""
    at = sorted(tick.at for tick in Tick.objects.filter(piece=opened.piece) if tick.at)
    spent = sum((min(after - before, _PAUSE) for before, after in pairwise(at)), timedelta())
    minutes = int(spent.total_seconds() // 60)
    return f"{minutes // 60} h {minutes % 60:02d} on it" if minutes >= 60 else f"{minutes} min on it" if minutes else ""


def _skin(spots: Sequence[Spot], readings: Readings) -> Lab | None:
    """The mean of the evenly lit places of a figure."""
    labs = [readings[spot.id].swatch.lab for spot in spots if spot.role in _LIT and spot.id in readings]
    return _lab(np.mean(labs, axis=0)) if labs else None


def _complexion(skin: Lab | None) -> tuple[str, ...]:
    if skin is None:
        return ()
    told = read_complexion(skin)
    return told.depth, told.undertone


def _listed(codes: Sequence[str], sticks: dict[str, Stick]) -> str:
    return ", ".join(f"{code} {sticks[code].name}" if code in sticks else code for code in codes)


def _date_words(at: datetime) -> tuple[str, ...]:
    local = timezone.localtime(at)
    return f"{local:%Y-%m-%d}", f"{local:%B}", f"{local:%Y}"


def _lab(lab: Floats) -> Lab:
    lightness, a, b = lab.round(2).tolist()
    return lightness, a, b
