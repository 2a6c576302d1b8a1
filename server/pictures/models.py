"""Pictures that artists put in."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone


class Picture(models.Model):
    """A picture. Its bytes lie in PICTURES_DIR under the digest.

    Whatever names it refers to it by a foreign key that restricts its deletion. unnamed_since: since when nothing
    does, as far as that was noted; None while something does.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pictures")
    digest = models.CharField(max_length=64)
    size_bytes = models.PositiveBigIntegerField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    profile = models.CharField(max_length=80)
    made = models.DateTimeField(auto_now_add=True)
    unnamed_since = models.DateTimeField(null=True, default=timezone.now)

    class Meta:
        db_table = "pieces_picture"
        constraints = [models.UniqueConstraint(fields=["owner", "digest"], name="one_picture_per_digest")]
