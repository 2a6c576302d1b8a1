"""Complexions that artists keep."""

from __future__ import annotations

import uuid

from django.db import models

from server.api.removable import Removable


class Complexion(Removable):
    """A complexion under a name of the artist's choosing; skin: as core.skin.describe.Description."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=60)
    skin = models.JSONField()
    note = models.CharField(max_length=500, blank=True)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["made"]
