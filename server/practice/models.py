"""What was asked in practice, and what was answered."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Practised(models.Model):
    """A question of a round, or a step of a ramp that was laid. round: what was asked together, number: from 0;
    question: as core.practice.asked.Question, empty for a ramp; scene: of the study head it is about; guess, error, at:
    None until it is answered."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practised")
    round = models.UUIDField(default=uuid.uuid4)
    number = models.PositiveSmallIntegerField()
    made = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=12)
    group = models.CharField(max_length=12)
    question = models.JSONField(default=dict)
    scene = models.JSONField(null=True)
    guess = models.FloatField(null=True)
    error = models.FloatField(null=True)
    at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["made", "number"]
        indexes = [models.Index(fields=["owner", "at"], name="practised_by_owner")]
        constraints = [models.UniqueConstraint(fields=["round", "number"], name="one_question_per_number")]
