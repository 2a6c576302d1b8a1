"""What artists own."""

from __future__ import annotations

import uuid

from django.db import models

from server.api.removable import Removable


class Tray(Removable):
    """A named set of sticks. `changed` moves whenever any stick does: it keys what is worked out from them.

    per_row: how many lie in a row of the box, 0 if that is not known; at: how many of its steps stand."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=80)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    per_row = models.PositiveSmallIntegerField(default=0)
    at = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["made"]


class TrayStep(models.Model):
    """What was done to a tray: in words, and the tray before and after, packed."""

    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="steps")
    number = models.PositiveIntegerField()
    said = models.CharField(max_length=120)
    before = models.BinaryField()
    after = models.BinaryField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["tray", "number"], name="one_step_per_number")]


class Stick(models.Model):
    """One stick of a tray; the fields are those of core.optics.stick.Stick and Kept."""

    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="sticks")
    place = models.PositiveSmallIntegerField()
    code = models.CharField(max_length=80)
    name = models.CharField(max_length=80)
    medium = models.CharField(max_length=20)
    hex = models.CharField(max_length=7)
    opacity = models.CharField(max_length=20)
    range = models.CharField(max_length=80, blank=True)
    binder = models.CharField(max_length=80, blank=True)
    pigments = models.JSONField(default=list)
    lightfastness = models.CharField(max_length=8, blank=True)
    condition = models.CharField(max_length=20, default="good")
    light_hex = models.CharField(max_length=7, blank=True)
    heavy_hex = models.CharField(max_length=7, blank=True)
    black_hex = models.CharField(max_length=7, blank=True)
    spectrum = models.JSONField(default=list)
    count = models.PositiveSmallIntegerField(default=1)
    note = models.CharField(max_length=300, blank=True)
    feel = models.JSONField(default=list)
    source = models.CharField(max_length=20, blank=True)
    price = models.FloatField(default=0)
    sets = models.JSONField(default=list)

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["tray", "code"], name="one_code_per_tray")]


class Paper(Removable):
    """A paper of the artist's own; the fields are those of core.optics.support.own_support."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=60)
    lab = models.JSONField()
    tooth = models.FloatField()
    coats = models.FloatField()
    media = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]


class OwnMethod(Removable):
    """A method that the artist has put in. file: as core.exchange.method_toml writes it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=60)
    file = models.TextField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]
