"""What trial cards have taught ends with the paper that they were filled on."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_delete


class TrialsConfig(AppConfig):
    name = "server.trials"

    def ready(self) -> None:
        post_delete.connect(_paper_gone, sender="materials.Paper")


def _paper_gone(instance: Any, **_: Any) -> None:
    """Nothing could ever reach them again: a paper's id is its own."""
    from server.trials.models import Calibration, TaughtPlaces, TrialCard

    for kind in (TrialCard, TaughtPlaces, Calibration):
        kind.objects.filter(paper=str(instance.pk)).delete()
