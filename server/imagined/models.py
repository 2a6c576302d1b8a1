"""Complexions that artists keep."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Complexion(models.Model):
    """A complexion under a name of the artist's choosing; skin: as core.skin.describe.Description."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="complexions")
    name = models.CharField(max_length=60)
    skin = models.JSONField()
    note = models.CharField(max_length=500, blank=True)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["made"]
