"""Pictures: stored by digest, decoded on demand, served only to their owner."""

from __future__ import annotations

import hashlib
import io
import os
import tempfile
from pathlib import Path
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import Sum
from PIL import Image

from core.colour.swatch import Swatch
from core.errors import InputError, NotFoundError
from core.look import picture as core_picture
from core.look import views
from core.look.balance import read_beside_white
from core.look.reading import Disc
from server.pieces.models import Picture
from server.pieces.services.kept import Kept

MAX_TOTAL_BYTES = 4 * 1024**3
LONGEST_SHOWN = 1800

_decoded: Kept[str, core_picture.Picture] = Kept(2)
_smaller: Kept[tuple[str, int], views.Small] = Kept(6)


def store_picture(user: User, data: bytes) -> Picture:
    """Keep a picture that can be read; nothing is stored otherwise.

    Raises PictureError, or InputError (`no_space`) when the artist's pictures fill their space.
    """
    read = core_picture.read_picture(data)
    digest = hashlib.sha256(data).hexdigest()
    held = Picture.objects.filter(owner=user).aggregate(total=Sum("size_bytes"))["total"] or 0
    if held + len(data) > MAX_TOTAL_BYTES:
        raise InputError("no_space", "Your pictures fill all the space there is.", "Delete a piece you no longer need.")
    _write(_path(digest), data)
    _decoded.put(digest, read)
    picture, _ = Picture.objects.get_or_create(
        owner=user,
        digest=digest,
        defaults={"size_bytes": len(data), "width": read.width, "height": read.height, "profile": read.profile},
    )
    return picture


def get_picture(user: User, picture_id: UUID | str) -> Picture:
    """Raises NotFoundError (`no_picture`), also for somebody else's."""
    picture = Picture.objects.filter(owner=user, pk=picture_id).first()
    if picture is None:
        raise NotFoundError("no_picture", "There is no such picture.", "Put it in again.", "picture")
    return picture


def decoded(digest: str) -> core_picture.Picture:
    """The pixels of a stored picture."""
    return _decoded.get(digest, lambda: core_picture.read_picture(_path(digest).read_bytes()))


def small_of(digest: str, longest: int) -> views.Small:
    """A stored picture, at most `longest` pixels on its longer side."""
    return _smaller.get((digest, longest), lambda: views.scaled(decoded(digest), longest))


def shown(user: User, picture_id: UUID) -> bytes:
    """The picture as it is, as JPEG."""
    digest = get_picture(user, picture_id).digest
    cached = settings.VIEWS_DIR / f"{digest}-{LONGEST_SHOWN}.jpg"
    if cached.exists():
        return bytes(cached.read_bytes())
    out = io.BytesIO()
    Image.fromarray(views.as_it_is(small_of(digest, LONGEST_SHOWN))).save(out, "JPEG", quality=92, subsampling=0)
    _write(cached, out.getvalue())
    return out.getvalue()


def patch(user: User, picture_id: UUID, paper: dict[str, float], white: dict[str, float]) -> Swatch:
    """The colour of a paper on a photograph, beside a white sheet. Raises InputError, NotFoundError."""
    picture = decoded(get_picture(user, picture_id).digest)
    return Swatch.of(read_beside_white(picture, Disc(**paper), Disc(**white)))


def _path(digest: str) -> Path:
    return Path(settings.PICTURES_DIR) / digest[:2] / digest[2:]


def _write(path: Path, data: bytes) -> None:
    """The whole file or none of it, also through a power cut."""
    if path.exists():
        return
    path.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as out:
        out.write(data)
        out.flush()
        os.fsync(out.fileno())
    Path(out.name).replace(path)
