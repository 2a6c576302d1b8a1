"""Pieces, their history, and the pictures in them."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone


class Picture(models.Model):
    """A reference that an artist put in. Its bytes lie in PICTURES_DIR under the digest.

    unnamed_since: since when no revision names it, as far as that was noted; None while one does.
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
        constraints = [models.UniqueConstraint(fields=["owner", "digest"], name="one_picture_per_digest")]


class Piece(models.Model):
    """One work. `version` grows with every write; `position` is where in the history it stands."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pieces")
    title = models.CharField(max_length=120)
    version = models.PositiveIntegerField(default=1)
    position = models.PositiveIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed"]


class Revision(models.Model):
    """One state of a piece's document (see serializers.DocumentSerializer).

    picture: the one that the document names, so that the database itself keeps it as long as any step does.
    """

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="revisions")
    position = models.PositiveIntegerField()
    document = models.JSONField()
    picture = models.ForeignKey(Picture, null=True, on_delete=models.RESTRICT, related_name="revisions")
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["piece", "position"], name="one_revision_per_position")]
