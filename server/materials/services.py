"""Trays, ranges, papers and methods."""

from __future__ import annotations

import io
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from functools import cache
from types import MappingProxyType
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Count, QuerySet
from PIL import Image

from core.colour.munsell import value_greys
from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.exchange.tray_csv import read_tray
from core.exchange.tray_json import read_tray_json
from core.limits import LIMITS
from core.look.measuring import sheet_sizes
from core.look.roles import PLACES, ROLES
from core.look.ways import WAYS, Way
from core.method.method import Method, methods
from core.optics import paper_words
from core.optics import stick as core_stick
from core.optics.media import MEDIA, facts_of, get_medium, layers_to_expect
from core.optics.medium import MAX_REPEATS, TOOLS, Medium
from core.optics.support import Support, own_support, supports
from core.optics.texture import tooth_tile
from core.plan.setup import usual_setup
from core.recipe.cautions import cautions_of
from core.recipe.finish import FINISHES
from core.recipe.rules import BLACK_POLICIES
from core.recipe.search import DEEPEST
from core.tray.alike import Alike, alike
from server.api.memo import SingleFlightCache
from server.api.removable import remove, removed_of
from server.materials import values
from server.materials.models import Paper, Stick, Tray

MAX_TRAYS = 50
_trays: SingleFlightCache[tuple[UUID, datetime], core_stick.Tray] = SingleFlightCache(100)
_alike: SingleFlightCache[tuple[UUID, datetime], tuple[Alike, ...]] = SingleFlightCache(100)
MAX_PAPERS = 50
_TEXTS = (
    "code", "name", "medium", "hex", "opacity", "range", "binder", "lightfastness", "condition",
    "light_hex", "heavy_hex", "black_hex",
)  # fmt: skip


def papers_of(user: User) -> list[Support]:
    """The artist's own papers."""
    return [as_support(paper) for paper in Paper.objects.filter(owner=user)]


def own_paper(user: User, paper_id: str, removed_too: bool = False) -> Support | None:
    """The artist's own paper with this id, None if there is none. removed_too: whether one that was removed is one."""
    try:
        paper = (Paper.every if removed_too else Paper.objects).filter(owner=user, pk=UUID(paper_id)).first()
    except ValueError:
        return None
    return as_support(paper) if paper else None


def paper_for(user: User, paper_id: str, medium: str, removed_too: bool = False) -> Support:
    """A paper by its id, or the usual one of a medium where none is named. Raises NotFoundError (`no_paper`)."""
    key = paper_id or usual_setup(medium).paper
    support = supports().get(key) or own_paper(user, key, removed_too)
    if support is None:
        raise NotFoundError("no_paper", "There is no such paper.", "Choose another.", "paper")
    return support


def as_support(paper: Paper) -> Support:
    """The paper as the computation knows it."""
    return own_support(str(paper.pk), paper.name, paper.lab, paper.tooth, paper.coats, paper.media)


def removed_papers(user: User) -> list[str]:
    """The ids of the artist's papers that were removed and can be put back."""
    return [str(pk) for pk in removed_of(Paper, user).values_list("pk", flat=True)]


def keep_paper(user: User, new: values.NewPaper) -> Support:
    """A new paper of one's own. Raises InputError for what no paper can be, and over the limit."""
    for medium in new.media:
        get_medium(medium)
    own_support("new", new.name, new.lab, new.tooth, new.coats, new.media)
    if Paper.objects.filter(owner=user).count() >= MAX_PAPERS:
        raise InputError("too_many_papers", f"You have {MAX_PAPERS} papers.", "Delete one first.")
    made = Paper.objects.create(
        owner=user, name=new.name, lab=list(new.lab), tooth=new.tooth, coats=new.coats, media=list(new.media)
    )
    return as_support(made)


@transaction.atomic
def delete_paper(user: User, paper_id: UUID) -> None:
    """Remove a paper; it can be put back for a while, with what trial cards on it have taught. Pieces on it keep their
    recipes as they were. Raises NotFoundError (`no_paper`)."""
    if not remove(Paper, user, pk=paper_id):
        raise NotFoundError("no_paper", "There is no such paper.", "Choose one of your own.", "paper")


def tooth_picture(user: User, paper_id: str) -> bytes:
    """A piece of a paper's tooth as a grey PNG that repeats without a seam. Raises NotFoundError (`no_paper`)."""
    out = io.BytesIO()
    Image.fromarray(tooth_tile(paper_for(user, paper_id, ""))).save(out, "PNG")
    return out.getvalue()


def everything() -> values.Materials:
    """What there is to choose from."""
    return values.Materials(
        ranges=tuple(
            values.Range(key, held.name, len(held.sticks), _medium_of(held)) for key, held in ranges().items()
        ),
        papers=tuple(map(paper_shown, supports().values())),
        paper_words=values.PaperWords(
            shades=tuple(values.PaperShade(it.name, it.lab, Swatch.of(it.lab)) for it in paper_words.SHADES),
            teeth=paper_words.TEETH,
            weights=paper_words.WEIGHTS,
            usual=(paper_words.USUAL_SHADE, paper_words.USUAL_TOOTH, paper_words.USUAL_WEIGHT),
        ),
        methods=tuple(map(method_shown, methods().values())),
        media=tuple(map(_medium, MEDIA.values())),
        ways=tuple(map(_way, WAYS.values())),
        roles=ROLES,
        places=PLACES,
        black_policies=BLACK_POLICIES,
        value_greys=value_greys(),
        sheets=tuple(values.PaperSize(name, width, height) for name, (width, height) in sheet_sizes().items()),
        repeats=tuple(range(1, MAX_REPEATS + 1)),
        max_passes=DEEPEST,
        limits=LIMITS,
    )


def paper_shown(paper: Support) -> values.Paper:
    """A paper as it is sent."""
    return values.Paper(
        id=paper.id,
        name=paper.name,
        note=paper.note,
        swatch=Swatch.of(paper.lab),
        tooth=paper.tooth,
        coats=paper.coats,
        media=paper.media,
        layers={medium: layers_to_expect(medium, paper) for medium in paper.media},
    )


def _medium(medium: Medium) -> values.Medium:
    usual = usual_setup(medium.id)
    return values.Medium(
        id=medium.id,
        name=medium.name,
        word=medium.word,
        techniques=medium.techniques,
        pressures=medium.pressures,
        tools=tuple(values.Tool(code, TOOLS[code], fit) for code, fit in medium.tools.items()),
        lies=medium.lies,
        over=facts_of(medium.id).over,
        usual_paper=usual.paper,
        usual_method=usual.method,
        finishing=medium.finishing,
    )


def method_shown(method: Method) -> values.Method:
    """A method as it is sent."""
    return values.Method(
        id=method.id,
        name=method.name,
        medium=method.medium,
        explanation=method.explanation,
        reserve=method.reserve,
        finishes=tuple(values.Finish(finish, FINISHES[finish]) for finish in method.finishes),
    )


def _way(way: Way) -> values.Way:
    amount = values.Amount(way.amounts[0], way.usual, way.amounts[1], way.says) if way.amounts else None
    return values.Way(way.id, way.name, amount)


def tray_shown(tray: Tray, did: str = "") -> values.Tray:
    """A tray as it is sent. did: what was undone or done again."""
    steps = {step.number: step.said for step in tray.steps.filter(number__in=(tray.at - 1, tray.at))}
    return values.Tray(
        id=tray.pk,
        name=tray.name,
        per_row=tray.per_row,
        undoes=steps.get(tray.at - 1, ""),
        redoes=steps.get(tray.at, ""),
        did=did,
        sticks=_shown(with_everything(tray), _alike_in(tray)),
    )


def range_shown(range_id: str) -> values.RangeSticks:
    """A range as it is sent. Raises InputError (`no_range`)."""
    held = get_range(range_id)
    return values.RangeSticks(range_id, held.name, _shown(held, (Alike(),) * len(held.sticks)))


def _shown(tray: core_stick.Tray, likes: Sequence[Alike]) -> tuple[values.Stick, ...]:
    kept = tray.kept or (core_stick.Kept(),) * len(tray.sticks)
    return tuple(
        values.Stick(
            code=stick.code,
            name=stick.name,
            medium=stick.medium,
            hex=stick.hex,
            opacity=stick.opacity,
            range=stick.range,
            condition=stick.condition,
            lightfastness=stick.lightfastness,
            binder=stick.binder,
            pigments=stick.pigments,
            count=known.count,
            note=known.note,
            feel=known.feel,
            source=known.source,
            equal=like.equal,
            mistaken=like.mistaken,
            cautions=tuple(caution.text for caution in cautions_of(stick)),
            swatch=Swatch.of_hex(stick.hex),
        )
        for stick, known, like in zip(tray.sticks, kept, likes, strict=True)
    )


def _alike_in(tray: Tray) -> tuple[Alike, ...]:
    return _alike.get((tray.pk, tray.changed), lambda: alike(as_core(tray).sticks))


@cache
def _medium_of(tray: core_stick.Tray) -> str:
    """The medium of most of its sticks."""
    return Counter(stick.medium for stick in tray.sticks).most_common(1)[0][0]


@cache
def ranges() -> Mapping[str, core_stick.Tray]:
    """The stand-in ranges, by id: they come with the application, so they are read once."""
    files = sorted(settings.RANGES_DIR.glob("*.csv"))
    return MappingProxyType(
        {file.stem: read_tray(file.read_bytes(), file.stem.replace("-", " ").title()) for file in files}
    )


def trays_of(user: User) -> QuerySet[Tray]:
    """The artist's trays with their sticks."""
    return Tray.objects.filter(owner=user).prefetch_related("sticks")


def tray_rows(user: User) -> list[values.TrayRow]:
    """The artist's trays in short."""
    counted: dict[UUID, Counter[str]] = {}
    rows = Stick.objects.filter(tray__owner=user).values_list("tray", "medium").annotate(Count("pk"))
    for tray, medium, count in rows.order_by():
        counted.setdefault(tray, Counter())[medium] = count
    held = [(row, counted.get(row.pk, Counter())) for row in Tray.objects.filter(owner=user)]
    return [
        values.TrayRow(row.pk, row.name, media.total(), next((m for m, _ in media.most_common(1)), ""))
        for row, media in held
    ]


def get_tray(user: User, tray_id: UUID) -> Tray:
    """Raises NotFoundError (`no_tray`), also for somebody else's."""
    tray = Tray.objects.filter(owner=user, pk=tray_id).first()
    if tray is None:
        raise _no_tray()
    return tray


def _no_tray() -> NotFoundError:
    return NotFoundError("no_tray", "There is no such tray.", "Choose one of your own.", "tray")


def new_tray(user: User, new: values.NewTray) -> Tray:
    """A new tray from a file as it is exported, from a range, or with nothing in it yet; nothing is stored unless every
    row is right.

    Raises InputError (`csv_or_range`, or what is wrong with either).
    """
    if new.csv is not None and new.range is not None:
        raise InputError("csv_or_range", "A tray begins with a list or with a range.", "Give one of the two.", "csv")
    if new.range is not None:
        return start_tray(user, new.name, new.range)
    held = _read(new) if new.csv is not None else core_stick.Tray(new.name)
    return keep_tray(user, new.name, held.sticks, held.kept, held.per_row)


def _read(new: values.NewTray) -> core_stick.Tray:
    assert new.csv is not None
    is_json = new.csv.lstrip("\ufeff \r\n\t").startswith("{")
    return (read_tray_json if is_json else read_tray)(new.csv.encode("utf-8", "surrogatepass"), new.name)


def start_tray(user: User, name: str, range_id: str) -> Tray:
    """A new tray with everything a range holds. Raises InputError (`no_range`)."""
    return keep_tray(user, name, get_range(range_id).sticks)


def get_range(range_id: str) -> core_stick.Tray:
    """Raises InputError (`no_range`)."""
    if range_id not in ranges():
        raise InputError("no_range", "There is no such range.", f"Choose from: {', '.join(ranges())}.", "range")
    return ranges()[range_id]


@transaction.atomic
def keep_tray(
    user: User, name: str, sticks: Sequence[core_stick.Stick], kept: Sequence[core_stick.Kept] = (), per_row: int = 0
) -> Tray:
    """Store a tray. Raises InputError (`too_many_trays`) over the limit."""
    if Tray.objects.filter(owner=user).count() >= MAX_TRAYS:
        raise InputError("too_many_trays", f"You have {MAX_TRAYS} trays.", "Delete one first.")
    tray = Tray.objects.create(owner=user, name=name, per_row=per_row)
    store_sticks(tray, core_stick.Tray(name, tuple(sticks), tuple(kept)))
    return get_tray(user, tray.pk)


def store_sticks(tray: Tray, held: core_stick.Tray) -> None:
    """The sticks of a tray in the place of those that are stored."""
    tray.sticks.all().delete()
    kept = held.kept or (core_stick.Kept(),) * len(held.sticks)
    Stick.objects.bulk_create(
        Stick(
            tray=tray,
            place=place,
            **{field: getattr(stick, field) for field in _TEXTS},
            pigments=list(stick.pigments),
            spectrum=list(stick.spectrum),
            count=known.count,
            note=known.note,
            feel=list(known.feel),
            source=known.source,
            price=known.price,
            sets=[list(part) for part in known.sets],
        )
        for place, (stick, known) in enumerate(zip(held.sticks, kept, strict=True))
    )


def delete_tray(user: User, tray_id: UUID) -> None:
    """Remove a tray; it can be put back for a while. Pieces that used it keep their recipes as they were. Raises
    NotFoundError (`no_tray`)."""
    if not remove(Tray, user, pk=tray_id):
        raise _no_tray()


def as_core(tray: Tray) -> core_stick.Tray:
    """The tray as the computation knows it; made once for every change of it."""
    return _trays.get((tray.pk, tray.changed), lambda: _as_core(tray))


def _as_core(tray: Tray) -> core_stick.Tray:
    return core_stick.Tray(
        tray.name,
        tuple(
            core_stick.Stick(
                **{field: getattr(stick, field) for field in _TEXTS},
                pigments=tuple(stick.pigments),
                spectrum=tuple(stick.spectrum),
            )
            for stick in tray.sticks.all()
        ),
    )


def with_everything(tray: Tray) -> core_stick.Tray:
    """The tray with what is known of its sticks besides what plans are made with."""
    kept = tuple(
        core_stick.Kept(
            stick.count,
            stick.note,
            tuple(stick.feel),
            stick.source,
            stick.price,
            tuple((name, cost) for name, cost in stick.sets),
        )
        for stick in tray.sticks.all()
    )
    return replace(as_core(tray), kept=kept, per_row=tray.per_row)
