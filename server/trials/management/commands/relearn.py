"""Learn anew what trial cards say, where an earlier version's model of sticks and paper learnt it."""

from __future__ import annotations

from typing import Any

from server.api.chores import Chore
from server.trials.taught import relearn


class Command(Chore):
    help = __doc__ or ""

    def handle(self, *args: Any, **options: Any) -> None:
        relearn()
