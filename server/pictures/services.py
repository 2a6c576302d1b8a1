"""Pictures: stored by digest, decoded on demand, served only to their owner."""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Callable, Sequence
from datetime import timedelta
from pathlib import Path
from typing import Any, TypeVar
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Exists, ForeignObjectRel, OuterRef, Q, QuerySet, Sum
from django.utils import timezone
from PIL import Image, UnidentifiedImageError

from core.colour.swatch import Swatch
from core.colour.words import closeness
from core.errors import InputError, NotFoundError
from core.look import questions
from core.look.page import first_page, is_pdf
from core.look.picture import MAX_BYTES
from core.look.questions import Facts, Seen, Source
from core.look.reading import Disc
from core.look.traces import without_traces
from core.photo import questions as photo_questions
from core.photo.squared import Corner
from core.photo.swatches import grid
from server.api.folder import finish_part, is_part, write_part, write_whole
from server.api.jobs import Step, jobs
from server.api.memo import digest
from server.pictures.models import Picture
from server.pictures.values import AskSheet, SeenSheet, SeenSwatch

log = logging.getLogger(__name__)

MAX_TOTAL_BYTES = 4 * 1024**3
SIZES = (600, 750, 900, 1200, 1500, 1800)
"""Longer sides in pixels in which pictures are shown; a browser asks for the smallest that is sharp for it."""
LONGEST_SHOWN = SIZES[-1]
GRACE = timedelta(days=3)
"""How long a picture that nothing names is kept: a browser may still hold a draft that does."""
FRESH = timedelta(hours=1)
"""How long a picture counts as used after it was put in, even while nothing names it yet."""
_AT_ONCE = 100
"""Files looked at under one lock for writing."""

T = TypeVar("T")


def store_picture(user: User, data: bytes) -> Picture:
    """Keep a picture that can be read, or the first page of a PDF, without what its file tells besides; nothing is
    stored otherwise.

    Raises PictureError, or InputError (`no_space`) when the artist's pictures fill their space.
    """
    data = without_traces(_page_of(data) if is_pdf(data) else data)
    name = hashlib.sha256(data).hexdigest()
    path = file_of(name)
    read = ask(questions.facts_of, Source(name, data))
    with write_part(path.parent) as part:
        try:
            part.write(data)
            # File and row come together under the one lock for writing: a sweep sees both or neither.
            with transaction.atomic():
                picture, given_up = _keep_row(user, name, len(data), read)
                if not path.exists():
                    finish_part(part, path)
        finally:
            Path(part.name).unlink(missing_ok=True)
    if given_up:
        _delete_orphans(
            [
                file
                for digest_ in given_up
                for file in (file_of(digest_), *(_shown_file(digest_, size) for size in SIZES))
            ]
        )
    return picture


def _page_of(data: bytes) -> bytes:
    """The first page of a PDF as a picture, by the process for pictures. Raises PictureError."""
    if len(data) > MAX_BYTES:
        return data  # what is too large is said when it is read
    return jobs.wait(digest("page", hashlib.sha256(data).hexdigest()), Step(first_page, (data,)))


def _keep_row(user: User, digest: str, size: int, read: Facts) -> tuple[Picture, list[str]]:
    """The row of a picture, and the digests of those that had to make room for it: where space is short, what nothing
    names goes before its time of grace is over."""
    held = Picture.objects.filter(owner=user, digest=digest).first()
    if held is not None:
        if held.unnamed_since:
            held.unnamed_since = timezone.now()
            held.save(update_fields=["unnamed_since"])
        return held, []
    if space_used(user) + size > MAX_TOTAL_BYTES:
        raise InputError(
            "no_space",
            "Your pictures fill all the space there is.",
            "Remove pieces that you no longer need, and let go for good what you have removed.",
        )
    given_up: list[str] = []
    if _bytes_of(Picture.objects.filter(owner=user)) + size > MAX_TOTAL_BYTES:
        spare = _with_named(Picture.objects.filter(owner=user, made__lte=timezone.now() - FRESH)).filter(named=False)
        given_up = list(spare.values_list("digest", flat=True))
        spare.delete()
    made = Picture.objects.create(
        owner=user, digest=digest, size_bytes=size, width=read.width, height=read.height, profile=read.profile
    )
    return made, given_up


def space_used(user: User) -> int:
    """Bytes of the pictures that the artist's pieces name, and of those put in just now."""
    pictures = _with_named(Picture.objects.filter(owner=user))
    return _bytes_of(pictures.filter(Q(named=True) | Q(made__gt=timezone.now() - FRESH)))


def _bytes_of(some: QuerySet[Any]) -> int:
    return some.aggregate(total=Sum("size_bytes"))["total"] or 0


def _with_named(pictures: QuerySet[Picture]) -> QuerySet[Any]:
    """With `named`: whether anything refers to them."""
    named = Q()
    for relation in Picture._meta.related_objects:
        assert isinstance(relation, ForeignObjectRel)
        named |= Q(Exists(relation.related_model._base_manager.filter(**{relation.field.name: OuterRef("pk")})))
    return pictures.annotate(named=named)


def note_unnamed(user: User | None = None) -> None:
    """Note since when pictures (of one artist, or all) are named by nothing."""
    pictures = Picture.objects.filter(owner=user) if user else Picture.objects.all()
    unnamed = _with_named(pictures.filter(unnamed_since=None)).filter(named=False)
    Picture.objects.filter(pk__in=unnamed.values("pk")).update(unnamed_since=timezone.now())


def sweep_pictures(grace: timedelta = GRACE) -> int:
    """Delete the pictures that nothing has named for the time of grace, and files that belong to no picture.

    Safe beside everything else that goes on: a row goes first and its file only when, under the lock for
    writing, no row names it. Returns how many files were deleted.
    """
    with transaction.atomic():
        note_unnamed()
        old = Picture.objects.filter(unnamed_since__lte=timezone.now() - grace)
        _with_named(old).filter(named=False).delete()
    folders = (Path(settings.PICTURES_DIR).glob("*/*"), Path(settings.VIEWS_DIR).glob("*"))
    files = [file for folder in folders for file in folder if not is_part(file)]
    return sum(_delete_orphans(files[i : i + _AT_ONCE]) for i in range(0, len(files), _AT_ONCE))


@transaction.atomic
def _delete_orphans(files: Sequence[Path]) -> int:
    named = set(
        Picture.objects.filter(digest__in={_digest_of(file) for file in files}).values_list("digest", flat=True)
    )
    orphans = [file for file in files if _digest_of(file) not in named]
    for file in orphans:
        file.unlink(missing_ok=True)
    return len(orphans)


def _digest_of(file: Path) -> str:
    """The digest of the picture that a file holds or shows."""
    shown = file.parent == Path(settings.VIEWS_DIR)
    return file.name.partition("-")[0] if shown else file.parent.name + file.name


def get_picture(user: User, picture_id: UUID | str) -> Picture:
    """Raises NotFoundError (`no_picture`), also for somebody else's."""
    picture = Picture.objects.filter(owner=user, pk=picture_id).first()
    if picture is None:
        raise no_picture()
    return picture


def no_picture() -> NotFoundError:
    """The refusal of a picture that is not there, or not the artist's."""
    return NotFoundError("no_picture", "There is no such picture.", "Put it in again.", "picture")


def source_of(picture: Picture) -> Source:
    """A stored picture, as questions about it name it."""
    return Source(picture.digest, str(file_of(picture.digest)))


def ask(function: Callable[..., T], about: Source | Seen, *rest: Any) -> T:
    """The answer to a question about a picture (`questions` of core.look, core.photo), by the process for pictures.

    Raises what the function raises, and NotFoundError (`no_picture`) if the picture was deleted meanwhile.
    """
    try:
        return jobs.wait(digest(function.__name__, about, rest), Step(function, (about, *rest)))
    except FileNotFoundError as error:
        raise no_picture() from error


def shown(picture: Picture, longest: int = LONGEST_SHOWN) -> bytes:
    """The picture as it is, as JPEG with at most `longest` pixels on its longer side."""
    cached = _shown_file(picture.digest, longest)
    if cached.exists():
        return bytes(cached.read_bytes())
    made = ask(questions.shown, source_of(picture), longest)
    try:
        write_whole(cached, made)
    except OSError as error:
        # On a full disk it is made again each time: reading goes on.
        log.warning("a shown copy could not be kept (%s)", error)
    return made


def near(picture: Picture, x: float, y: float, part: float) -> bytes:
    """A piece of the picture from near; see core.look.questions."""
    return ask(questions.near, source_of(picture), LONGEST_SHOWN, x, y, part)


def patch(user: User, picture_id: UUID, paper: Disc, white: Disc) -> Swatch:
    """The colour of a paper on a photograph, beside a white sheet. Raises InputError, NotFoundError."""
    return ask(questions.beside_white, source_of(get_picture(user, picture_id)), paper, white)


def sheet(user: User, picture_id: UUID, asked: AskSheet) -> SeenSheet:
    """A sheet with swatches in a photograph. Raises NotFoundError, InputError (see core.photo.swatches.read_sheet)."""
    boxes, laid = asked.boxes, asked.grid
    cells = boxes is None and laid is not None
    if boxes is None and laid is not None:
        boxes = tuple(grid(laid.rows, laid.columns, laid.frame)[: laid.count or None])
    source = source_of(get_picture(user, picture_id))
    read = ask(photo_questions.sheet_of, source, asked.corners, boxes, asked.chart, cells)
    return SeenSheet(
        corners=read.corners,
        width=read.size[0],
        height=read.size[1],
        swatches=tuple(
            SeenSwatch(box, Swatch.of(found.lab), found.spread, found.doubt, found.said)
            for box, found in zip(read.boxes, read.readings, strict=True)
        ),
        first=read.first,
        said=read.said,
        usual=read.usual,
        usual_words=closeness(read.usual),
    )


def squared(picture: Picture, corners: Sequence[Corner]) -> bytes:
    """The sheet between four corners of a photograph, as JPEG. Raises InputError (`bad_corners`)."""
    return ask(photo_questions.squared_of, source_of(picture), tuple(corners))


def _shown_file(digest: str, longest: int) -> Path:
    return Path(settings.VIEWS_DIR) / f"{digest}-{longest}.jpg"


def kind_of(file: Path) -> str:
    """What a picture file is, as its name should end."""
    try:
        with Image.open(file) as image:
            return (image.format or "bin").lower()
    except (OSError, UnidentifiedImageError):
        return "bin"


def file_of(digest: str) -> Path:
    """Where the bytes of a picture lie."""
    return Path(settings.PICTURES_DIR) / digest[:2] / digest[2:]
