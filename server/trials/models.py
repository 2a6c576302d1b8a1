"""Trial cards, what was read from their photographs, and what that taught."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from server.materials.models import Tray
from server.pictures.models import Picture


class TrialCard(models.Model):
    """A card for a tray's sticks of one medium on a paper. number: what its marks tell, one's own and in turn; card: as
    core.exchange.card_json writes it; foreseen: hex of each box when it was made."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="trial_cards")
    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="trial_cards")
    medium = models.CharField(max_length=20)
    paper = models.CharField(max_length=60)
    title = models.CharField(max_length=160)
    number = models.PositiveSmallIntegerField()
    card = models.JSONField()
    foreseen = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]


class CardPhoto(models.Model):
    """What was read from a photograph of a card's page: rows as core.trial.reading.BoxRead; left_out: cells that the
    artist does not want to be learnt from; taken_in: those that are doubtful and are learnt from nevertheless;
    liked: those that the artist likes."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    card = models.ForeignKey(TrialCard, on_delete=models.CASCADE, related_name="photos")
    picture = models.ForeignKey(Picture, on_delete=models.RESTRICT, related_name="card_photos")
    page = models.PositiveSmallIntegerField()
    corners = models.JSONField()
    places = models.JSONField()
    rows = models.JSONField()
    said = models.CharField(max_length=300, blank=True)
    left_out = models.JSONField(default=list)
    taken_in = models.JSONField(default=list)
    liked = models.JSONField(default=list)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]


class TaughtPlaces(models.Model):
    """Places of a drawing that teach as boxes of a card do. source: of what compared them; boxes: passes as they were
    laid, CIELAB as measured and the reading's own error, as core.trial.joint.MeasuredBox."""

    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="taught_places")
    medium = models.CharField(max_length=20)
    paper = models.CharField(max_length=60)
    source = models.UUIDField(unique=True)
    boxes = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]


class Calibration(models.Model):
    """What all cards of a tray's medium on a paper have shown: fits by the sticks' codes, with the colours they had
    then; paper and touch. The latest is in force; with no boxes nothing is. liked: codes of sticks in boxes that the
    artist likes; model: of which core.recipe.recipe.MODEL it is."""

    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="calibrations")
    medium = models.CharField(max_length=20)
    paper = models.CharField(max_length=60)
    boxes = models.PositiveSmallIntegerField()
    fits = models.JSONField()
    colours = models.JSONField(default=dict)
    lab = models.JSONField()
    touch = models.JSONField()
    doubt = models.FloatField()
    errors = models.JSONField(null=True)
    disagree = models.JSONField(default=list)
    words = models.JSONField(default=list)
    liked = models.JSONField(default=list)
    model = models.PositiveSmallIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]
