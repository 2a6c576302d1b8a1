"""How stacks end, beyond what the search lays."""

from __future__ import annotations

from dataclasses import dataclass, replace

from core.optics.medium import Pass
from core.optics.stick import Stick


@dataclass(frozen=True, slots=True)
class End:
    """How stacks end: with one more pass (added), or with their last pass laid by another technique (last).

    stick: that of the pass, if it has one. over: how many passes must lie beneath the one that ends it.
    """

    added: Pass | None = None
    stick: Stick | None = None
    last: str = ""
    over: int = 0

    def __call__(self, stack: tuple[Pass, ...]) -> tuple[Pass, ...]:
        """A stack that ends so; the same stack if there is too little beneath."""
        if self.added:
            return (*stack, self.added)
        return (*stack[:-1], replace(stack[-1], technique=self.last)) if len(stack) > self.over else stack
