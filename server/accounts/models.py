"""Accounts are Django's own users; here are only the one-time sign-in links."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class EntryLink(models.Model):
    """A link that signs its artist in, once. Only a digest of its token is kept."""

    digest = models.CharField(max_length=64, unique=True)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    expires = models.DateTimeField()
