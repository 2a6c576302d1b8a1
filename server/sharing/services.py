"""Plans shown to others: a link that cannot be guessed, ends by itself, and can be taken back.

What is shown is the plan as it was when the link was made: whoever opens it makes nothing be worked out, and sees
nothing of what is done to the piece since.
"""

from __future__ import annotations

import hashlib
from dataclasses import asdict, replace
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.utils.crypto import salted_hmac

from core.errors import InputError, NotFoundError
from core.exchange.plan_sheet import PlanSheet
from server.pieces.document.history import open_piece
from server.pieces.piece.plan_sheet import plan_of
from server.sharing.models import SharedPicture, SharedPlan
from server.sharing.values import AskShare, SharedLink

MOST_LINKS = 60
"""Of one artist."""
_SALT = "server.sharing"


def share(user: User, piece_id: UUID, asked: AskShare) -> SharedLink:
    """A new link to the plan of a piece. Raises NotFoundError, InputError (`nothing_planned`, `too_many_links`),
    Underway."""
    opened = open_piece(user, piece_id)
    forget_old()
    if SharedPlan.objects.filter(owner=user, piece__removed=None).count() >= MOST_LINKS:
        raise InputError("too_many_links", f"You have {MOST_LINKS} links.", "Take one back first.", "days")
    plan = plan_of(user, opened, asked.reference)
    # Notes are the artist's own, and so is how far the work has come.
    plain = replace(plan, notes=(), layers=tuple(replace(layer, note="") for layer in plan.layers))
    page, pictures = page_of(plain)
    made = uuid4()
    with transaction.atomic():
        row = SharedPlan.objects.create(
            id=made, owner=user, piece=opened.piece, digest=_digest_of(_token(made)), reference=asked.reference,
            page=page, expires=timezone.now() + timedelta(days=asked.days),
        )  # fmt: skip
        SharedPicture.objects.bulk_create(
            SharedPicture(plan=row, number=number, data=data) for number, data in enumerate(pictures)
        )
    return _link(row)


def page_of(plan: PlanSheet) -> tuple[dict[str, Any], list[bytes]]:
    """A plan as JSON data, and the pictures that it names by their numbers."""
    pictures: list[bytes] = []

    def kept(data: bytes) -> int:
        pictures.append(data)
        return len(pictures) - 1

    page = asdict(plan)
    page["shown"] = [{"said": said, "picture": kept(data)} for said, data in plan.shown]
    for row, layer in zip(page["layers"], plan.layers, strict=True):
        row["maps"] = [kept(data) for data in layer.maps]
    return page, pictures


def links(user: User, piece_id: UUID) -> list[SharedLink]:
    """To a piece's plan, the earliest first. Raises NotFoundError."""
    piece = open_piece(user, piece_id).piece
    forget_old()
    return [_link(row) for row in SharedPlan.objects.filter(piece=piece)]


def take_back(user: User, link_id: UUID) -> None:
    """Nobody sees it any more. Raises NotFoundError (`no_link`)."""
    if not SharedPlan.objects.filter(owner=user, pk=link_id).delete()[0]:
        raise NotFoundError("no_link", "There is no such link.", "It may have ended.", "link")


def opened(token: str) -> SharedPlan | None:
    """What a token shows; None if there is nothing, or not any more."""
    standing = SharedPlan.objects.filter(piece__removed=None, expires__gt=timezone.now())
    return standing.filter(digest=_digest_of(token)).first()


def picture(token: str, number: int) -> bytes | None:
    """A picture of what a token shows."""
    plan = opened(token)
    row = plan and plan.pictures.filter(number=number).first()
    return bytes(row.data) if row else None


def forget_old() -> None:
    """Delete what has ended."""
    SharedPlan.objects.filter(expires__lte=timezone.now()).delete()


def _link(row: SharedPlan) -> SharedLink:
    token = _token(row.pk)
    path = f"/shared/{token}" if _digest_of(token) == row.digest else ""
    return SharedLink(row.pk, path, row.reference, row.made, row.expires)


def _token(link: UUID) -> str:
    """Made of the secret, and told again to its artist; the database alone lets nobody in."""
    return salted_hmac(_SALT, str(link), algorithm="sha256").hexdigest()


def _digest_of(token: str) -> str:
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()
