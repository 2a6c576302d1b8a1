"""Everything within reach on one paper: stacks that pass from one medium to another."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.media import facts_of, get_medium
from core.optics.medium import STEADY, TOOLS, Box, Ground, Hand, Pass
from core.optics.stick import Stick
from core.optics.support import Support


@dataclass(frozen=True, slots=True)
class KitState:
    """medium: the one in hand, empty on the bare paper. held: its own state."""

    medium: str
    held: Any


class Kit:
    """Sticks of all media on one paper; see `Layered`. Each medium starts on what the one before has left.

    Raises InputError (`unknown_medium`, `no_swatch`).
    """

    def __init__(self, sticks: tuple[Stick, ...], support: Support, usual: str) -> None:
        """usual: the medium that tools work on as long as nothing is laid."""
        self.sticks = sticks
        self.support = support
        self.usual = usual
        self._medium_of = {stick.code: stick.medium for stick in sticks}

    @cached_property
    def boxes(self) -> dict[str, Box]:
        """A box for each medium that is there, and for the usual one."""
        media = dict.fromkeys((self.usual, *self._medium_of.values()))
        return {
            medium: get_medium(medium).prepare(tuple(s for s in self.sticks if s.medium == medium), self.support)
            for medium in media
        }

    def medium_of(self, code: str) -> str:
        """The medium of a stick; empty for what is none of these."""
        return self._medium_of.get(code, "")

    def start(self) -> KitState:
        return KitState("", Ground(self.support.reflectance()))

    def apply(self, state: KitState, pass_: Pass, hand: Hand = STEADY) -> KitState:
        medium = self._medium_of.get(pass_.stick)
        if medium is None and pass_.stick in TOOLS:
            medium = state.medium or self.usual
        if medium is None:
            raise InputError(
                "unknown_stick", f"There is no “{pass_.stick[:40]}” in the tray.", "Use a code of the tray.", "stick"
            )
        box = self.boxes[medium]
        held = state.held if medium == state.medium else box.start(self._left(state, medium))
        return KitState(medium, box.apply(held, pass_, hand))

    def _left(self, state: KitState, following: str) -> Ground:
        if not state.medium:
            return Ground(self.support.reflectance())
        if state.medium not in facts_of(following).over:
            below, above = get_medium(state.medium).name.lower(), get_medium(following).name.lower()
            raise InputError(
                "cannot_lie_over", f"{above.capitalize()} does not hold over {below}.", "Lay it first.", "stick"
            )
        return self.boxes[state.medium].leave(state.held)

    def reflectance(self, state: KitState) -> Floats:
        return self.boxes[state.medium].reflectance(state.held) if state.medium else self.support.reflectance()

    def tooth_left(self, state: KitState) -> float:
        return self.boxes[state.medium].tooth_left(state.held) if state.medium else 1.0
