"""Pictures: stored by digest, decoded on demand, served only to their owner."""

from __future__ import annotations

import hashlib
import io
import os
import tempfile
from functools import lru_cache
from pathlib import Path
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import Sum
from PIL import Image

from core.errors import InputError, NotFoundError
from core.look import picture as core_picture
from core.look import views
from server.pieces.models import Picture

MAX_TOTAL_BYTES = 4 * 1024**3
LONGEST_SHOWN = 1800


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


@lru_cache(maxsize=3)
def decoded(digest: str) -> core_picture.Picture:
    """The pixels of a stored picture."""
    return core_picture.read_picture(_path(digest).read_bytes())


def view(user: User, picture_id: UUID, kind: str, steps: int) -> tuple[bytes, str]:
    """An image of the picture and its media type; kind: `as_it_is` or `values`.

    Raises InputError (`bad_view`, `bad_steps`).
    """
    picture = get_picture(user, picture_id)
    if kind == "as_it_is":
        name, media_type = f"{picture.digest}-{LONGEST_SHOWN}.jpg", "image/jpeg"
    elif kind == "values":
        name, media_type = f"{picture.digest}-{LONGEST_SHOWN}-values-{int(steps)}.png", "image/png"
    else:
        raise InputError("bad_view", f"There is no view “{kind[:40]}”.", "Use as_it_is or values.", "kind")
    cached = settings.VIEWS_DIR / name
    if cached.exists():
        return cached.read_bytes(), media_type
    small = views.scaled(decoded(picture.digest), LONGEST_SHOWN)
    out = io.BytesIO()
    if kind == "as_it_is":
        Image.fromarray(views.as_it_is(small)).save(out, "JPEG", quality=92, subsampling=0)
    else:
        Image.fromarray(views.values(small, steps)).convert("L").save(out, "PNG", compress_level=3)
    _write(cached, out.getvalue())
    return out.getvalue(), media_type


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
