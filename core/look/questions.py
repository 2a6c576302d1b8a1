"""Questions about a picture that take a while: plain values in and out, so that another process can answer them.

Each process keeps what it decoded and studied last, so that the next question about a picture is answered sooner.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path

import numpy as np
from PIL import Image

from core.colour.swatch import Swatch
from core.look import views
from core.look.balance import Balance, Neutral, balance_on, read_beside_white
from core.look.borders import BorderLine, border_lines
from core.look.faces import Face
from core.look.picture import Picture, read_picture
from core.look.reading import Disc, Reading, Region, read_spot
from core.look.study import WORKING_SIZE, Known, Person, Study, study
from core.look.suggest import Suggestion, suggest
from core.look.views import Pixels, Small
from core.look.ways import Scene, get_way

_BEYOND = 128


@dataclass(frozen=True, slots=True)
class Source:
    """A picture. digest: of its bytes; these themselves, or the file they are in, make it no other picture."""

    digest: str
    content: str | bytes = field(compare=False, repr=False)


@dataclass(frozen=True, slots=True)
class Seen:
    """A picture, and what an artist said of it: on what it is balanced, who is in it, which finds are no faces. known:
    what need not be looked for in it."""

    source: Source
    balance: Neutral | None = None
    people: tuple[Person, ...] = ()
    ignored: tuple[Face, ...] = ()
    known: Known | None = None


@dataclass(frozen=True, slots=True)
class Facts:
    """width, height in pixels, upright; profile: what the file says of its colours."""

    width: int
    height: int
    profile: str


@lru_cache(maxsize=2)
def decoded(source: Source) -> Picture:
    held = source.content
    return read_picture(held if isinstance(held, bytes) else Path(held).read_bytes())


@lru_cache(maxsize=10)
def small_of(source: Source, longest: int) -> Small:
    """A picture of at most `longest` pixels on its longer side. Raises PictureError, OSError."""
    return views.scaled(decoded(source), longest)


@lru_cache(maxsize=20)
def balance_of(source: Source, on: Neutral) -> Balance:
    """See core.look.balance.balance_on."""
    return balance_on(decoded(source), on.disc, on.eye_white)


@lru_cache(maxsize=6)
def study_of(seen: Seen) -> Study:
    """What a picture shows of the people in it; see core.look.study."""
    return study(small_of(seen.source, WORKING_SIZE), _balance(seen), seen.people, seen.ignored, seen.known)


def _balance(seen: Seen) -> Balance | None:
    return balance_of(seen.source, seen.balance) if seen.balance else None


def facts_of(source: Source) -> Facts:
    """Raises PictureError for what cannot be read, and OSError."""
    picture = decoded(source)
    return Facts(picture.width, picture.height, picture.profile)


def readings_of(source: Source, regions: Sequence[Region]) -> list[Reading]:
    """The colour that is there in each region. Raises InputError for a region that cannot be read."""
    return [read_spot(decoded(source), region) for region in regions]


def suggestions_of(seen: Seen) -> list[tuple[Suggestion, ...]]:
    """Spots that might be worth marking, by figure; see core.look.suggest."""
    return [suggest(study_of(seen), number) for number in range(len(seen.people))]


def lines_of(seen: Seen, steps: int) -> tuple[BorderLine, ...]:
    """The borders between values; see core.look.borders."""
    return border_lines(study_of(seen), steps)


def beside_white(source: Source, paper: Disc, white: Disc) -> Swatch:
    """The colour of a paper on a photograph, beside a white sheet. Raises InputError."""
    return Swatch.of(read_beside_white(decoded(source), paper, white))


def shown(source: Source, longest: int) -> bytes:
    """The picture as it is, as JPEG with at most `longest` pixels on its longer side."""
    return as_jpeg(views.as_it_is(small_of(source, longest)), 92)


def near(source: Source, longest: int, x: float, y: float, part: float) -> bytes:
    """A piece of the picture as JPEG: a square around a point (fractions of width and height), as wide as this part of
    the longer side, of which `longest` pixels are kept; beyond the edge it is grey."""
    small = small_of(source, longest)
    side = max(1, round(part * max(small.width, small.height)))
    left, top = round(x * small.width - side / 2), round(y * small.height - side / 2)
    pixels = views.as_it_is(small)
    square = np.full((side, side, 3), _BEYOND, np.uint8)
    rows, columns = slice(max(0, top), top + side), slice(max(0, left), left + side)
    kept = pixels[rows, columns]
    square[rows.start - top : rows.start - top + len(kept), columns.start - left :][:, : kept.shape[1]] = kept
    return as_jpeg(square)


def view_of(seen: Seen, longest: int, way: str, amount: int, borders: bool, balanced: bool) -> bytes:
    """A way of seeing the picture, as JPEG of at most `longest` pixels on its longer side.

    Raises InputError (`bad_view`, or what core.look.views raises).
    """
    chosen = get_way(way)
    scene = Scene(small_of(seen.source, longest), lambda: study_of(seen), _balance(seen) if balanced else None)
    return as_jpeg(chosen.see(scene, amount, borders))


def as_jpeg(pixels: Pixels, quality: int = 88) -> bytes:
    """sRGB pixels (h, w, 3) as a JPEG file, colours at full resolution."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=quality, subsampling=0, optimize=True, progressive=True)
    return out.getvalue()


def as_webp(pixels: Pixels) -> bytes:
    """sRGB pixels (h, w, 3) as a WebP file: less than half of a JPEG file for lines on a plain ground."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "WEBP", quality=85)
    return out.getvalue()
