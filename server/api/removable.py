"""What artists remove stays for a while, so that they can put it back."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, ClassVar, Self, TypeVar

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models, transaction
from django.utils import timezone

KEPT_FOR = timedelta(days=30)
MOST_KEPT = 50
"""How many removed things of a kind an artist has at most; the one that was removed first goes for good then."""

M = TypeVar("M", bound="Removable")


class Standing(models.Manager[M]):
    """What was not removed."""

    def get_queryset(self) -> models.QuerySet[M]:
        return super().get_queryset().filter(removed=None)


class Removable(models.Model):
    """Something of an artist's own that can be removed and put back. removed: when it was, None while it stands."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="%(class)ss")
    removed = models.DateTimeField(null=True, default=None, editable=False)
    objects: ClassVar[Standing[Self]] = Standing()
    every: ClassVar[models.Manager[Self]] = models.Manager()

    class Meta:
        abstract = True


def removed_of(kind: type[M], user: User) -> models.QuerySet[M]:
    """What an artist has removed of a kind, the last first."""
    return kind.every.filter(owner=user, removed__isnull=False).order_by("-removed", "pk")


@transaction.atomic
def remove(kind: type[Removable], user: User, **of: Any) -> bool:
    """Set aside what stands; false if there is no such thing."""
    if not kind.objects.filter(owner=user, **of).update(removed=timezone.now()):
        return False
    too_many = removed_of(kind, user).values_list("pk", flat=True)[MOST_KEPT:]
    kind.every.filter(pk__in=list(too_many)).delete()
    return True


def sweep_removed(grace: timedelta = KEPT_FOR) -> None:
    """Delete for good what anybody has removed that long ago."""
    for kind in Removable.__subclasses__():
        kind.every.filter(removed__lte=timezone.now() - grace).delete()
