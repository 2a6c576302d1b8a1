"""Plans that were shown to others, as they were then."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from server.pieces.models import PackedJSONField, Piece


class SharedPlan(models.Model):
    """A plan behind a link. digest: of the link's token; reference: whether the reference is shown; page: as
    server.sharing.services.page_of makes it, its pictures by their numbers."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="shared_plans")
    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="shared_plans")
    digest = models.CharField(max_length=64, unique=True)
    reference = models.BooleanField()
    page = PackedJSONField()
    made = models.DateTimeField(auto_now_add=True)
    expires = models.DateTimeField()

    class Meta:
        ordering = ["made"]


class SharedPicture(models.Model):
    """A picture of such a plan, a JPEG file."""

    plan = models.ForeignKey(SharedPlan, on_delete=models.CASCADE, related_name="pictures")
    number = models.PositiveSmallIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["plan", "number"], name="one_picture_per_number")]
