"""Learn anew what trial cards say, where an earlier version's model of sticks and paper learnt it."""

from __future__ import annotations

from typing import Any

from server.api.chores import Chore
from server.trials.models import Calibration, CardPhoto


class Command(Chore):
    help = __doc__ or ""

    def handle(self, *args: Any, **options: Any) -> None:
        if Calibration.objects.exists() or CardPhoto.objects.exists():
            # It needs all of the computation, which takes longer to load than a folder without cards to be made ready.
            from server.trials.taught import relearn

            relearn()
