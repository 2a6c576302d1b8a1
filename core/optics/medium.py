"""What every medium can do: the contract, and the words its passes are made of."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any, Protocol

import numpy as np
from annotated_types import Interval

from core.colour.spaces import Floats
from core.errors import InputError
from core.limits import Choice, Code
from core.optics.stick import Stick
from core.optics.support import Support

PRESSURES = ("light", "medium", "heavy")
HOW_HARD = (0.22, 0.50, 1.0)
"""What those are on the scale from not touching, 0, to as hard as the stick bears, 1 (assumption)."""
MAX_REPEATS = 3
FADES = 0.55
"""How coverage falls with pressure below a light hand: its power (as it does above, on most papers)."""


@dataclass(frozen=True, slots=True)
class Pass:
    """One application. stick: a code of the tray; repeats: strokes laid over each other, 1–3."""

    stick: Code
    pressure: Choice = "light"
    repeats: Annotated[int, Interval(ge=1, le=MAX_REPEATS)] = 1
    technique: Choice = "lay"


@dataclass(frozen=True, slots=True)
class Hand:
    """How a hand departs from the plan: factors on film thickness and on coverage.

    Columns (h, 1) in their place are h hands at once; whatever they lay then has h rows.
    """

    thickness: Any = 1.0
    coverage: Any = 1.0

    @staticmethod
    def together(hands: Iterable[Hand]) -> Hand:
        """These hands at once."""
        thickness, coverage = np.array([(hand.thickness, hand.coverage) for hand in hands]).T[:, :, None]
        return Hand(thickness, coverage)

    def of(self, which: Any) -> Hand:
        """That of some states, if there is one for each."""
        thickness, coverage = (part[which] if np.ndim(part) else part for part in (self.thickness, self.coverage))
        return Hand(thickness, coverage)


STEADY = Hand()


def between(pressures: Floats, at_named: Floats, below: float) -> Floats:
    """What a pass does (its film, its coverage) at any pressure, 0–1, of what it does at the named ones (3,).

    A power of pressure between neighbours, and the power `below` under the lightest.
    """
    scale = np.log(np.array(HOW_HARD))
    known = np.log(np.asarray(at_named))
    u = np.log(np.maximum(pressures, 1e-9))
    return np.asarray(np.exp(np.where(u < scale[0], known[0] + below * (u - scale[0]), np.interp(u, scale, known))))


@dataclass(frozen=True, slots=True)
class Action:
    """A pass as the search counts it: index of the stick, index of the pressure, repeats, technique."""

    stick: int
    pressure: int
    repeats: int
    technique: str = "lay"


def actions_of(
    sticks: Iterable[int], pressures: int = len(PRESSURES), techniques: tuple[str, ...] = ("lay",)
) -> tuple[Action, ...]:
    """All actions of these sticks, those of one stick together."""
    return _actions_of(tuple(sticks), pressures, techniques)


@lru_cache(maxsize=64)
def _actions_of(sticks: tuple[int, ...], pressures: int, techniques: tuple[str, ...]) -> tuple[Action, ...]:
    return tuple(
        Action(s, p, n, technique)
        for s in sticks
        for technique in techniques
        for p in range(pressures)
        for n in range(1, MAX_REPEATS + 1)
    )


@dataclass(frozen=True, slots=True)
class Ground:
    """What a medium is laid on: its reflectance (31,), and the part of the paper's tooth still free, 0–1."""

    reflectance: Floats
    tooth: Any = 1.0


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """What a medium has laid at g places, as its search keeps it. roots (g, …), deposits filled (g,); begun (g, …): the
    roots on which it began; masses (g, n): what each of n passes has left there, of which sticks (n,)."""

    roots: Any
    filled: Floats
    begun: Any
    masses: Floats
    sticks: Any


class Layered(Protocol):
    """Anything on which passes can be laid and looked at. `State` is private to it."""

    sticks: tuple[Stick, ...]
    support: Support

    def start(self) -> Any:
        """The bare paper."""

    def apply(self, state: Any, pass_: Pass, hand: Hand = STEADY) -> Any:
        """The state after one pass. Raises InputError for what cannot be done."""

    def reflectance(self, state: Any) -> Floats:
        """Reflectance (31,) that the eye meets."""

    def tooth_left(self, state: Any) -> float:
        """How much more the paper takes of what is in hand, 0–1; where several hands have laid it, of the first."""


class Box(Layered, Protocol):
    """A medium made ready for one tray on one paper. Actions of one stick are neighbours."""

    actions: tuple[Action, ...]
    once_a_stick: bool
    """Whether the search must not use a stick twice in one stack, since its coats remember each other."""
    drags: bool
    """Whether a pass takes along much of what lies beneath, so that the order of passes tells."""

    def coarse(self) -> Box:
        """The same at every third band (see core.optics.spectra.COARSE), for `blank`, `strokes` and `seen` alone."""

    def start(self, ground: Ground | None = None) -> Any:
        """The bare paper, or what another medium has left."""

    def leave(self, state: Any) -> Ground:
        """What the next medium finds."""

    def expand(self, roots: Any, filled: float, sticks: Any = None) -> tuple[Any, Floats]:
        """All actions, or those of some sticks (ascending indices), over many states that hold the same deposit.

        roots: (g, 31) as the search keeps them. Returns (g, actions, 31) and the deposits (actions,).
        """

    def advance(self, roots: Any, filled: Floats, actions: Any, hand: Hand = STEADY) -> tuple[Any, Floats]:
        """One action (index) for each of g states: roots (g, 31) and deposits (g,) afterwards."""

    def strokes(
        self,
        roots: Any,
        filled: Floats,
        stick: Any,
        pressure: Floats,
        times: Any,
        technique: str = "lay",
        hand: Hand = STEADY,
        before: Any = 0,
    ) -> tuple[Any, Floats]:
        """One stick (index) over g states, or one for each (g,): roots (g, …) and deposits (g,) after some strokes.

        pressure (g,): how hard, anything above 0 up to 1 (see HOW_HARD); what ink has instead is the part of the patch
        that a coat covers. times (g,): how many strokes, 1 or more. hand: one for all or one for each state (g,).
        before: how many strokes of the stick lie there already, which ink remembers: one number, or one for each (g,).
        """  # fmt: skip

    def blank(self) -> tuple[Any, float]:
        """Roots (1, 31) and deposit of the bare paper, for `expand`."""

    def over(self, reflectance: Floats, tooth: Floats) -> tuple[Any, Floats]:
        """Roots (g, …) and deposits (g,) where another medium has left these reflectances (g, 31) and so much of the
        tooth (g,), 0–1. Raises InputError (`cannot_lie_over`) for a medium that lies on bare paper only."""

    def looking(self, reflectance: Floats, roots: Any, filled: Floats) -> tuple[Any, Floats]:
        """Roots (g, …) and deposits (g,) of places that hold as much as those given, and look like these reflectances
        (g, 31): what was laid there turned out otherwise than it was foreseen."""

    def seen(self, roots: Any) -> Floats:
        """Reflectance (…, 31) of the search's roots (…, 31)."""

    def tooth_left_at(self, filled: Floats) -> Floats:
        """How much more the paper takes at these deposits of the search, 0–1."""

    def left(self, roots: Any, filled: Floats) -> tuple[Floats, Floats]:
        """Reflectance (g, 31) and free part of the tooth (g,), 0–1, that the next medium finds at these roots, if all
        of it was free before."""

    def worked(self, laid: Laid, pass_: Pass, hand: Hand = STEADY) -> tuple[Any, Floats]:
        """Roots (g, …) and deposits (g,) after a pass that works on all that the medium has laid: a tool, a burnisher.
        Raises InputError (`bad_technique`) for a medium that is not worked so."""

    def stacks(self, sticks: Any, pressures: Any) -> Floats:
        """Reflectance (g, 31) of g stacks of strokes laid singly, in double precision: what `apply` gives of them.

        sticks (g, m): their indices in order, −1 where a stack has fewer; pressures (g, m): indices of PRESSURES.
        """  # fmt: skip

    def pile(self, paths: Any) -> Any:
        """What the stacks (g, depth) of actions leave, as one state with g rows that `apply` can go on with, as
        long as it goes on with a stick that is not in them where `once_a_stick` holds."""

    def rows(self, pile: Any, which: Any) -> Any:
        """Some rows of such a state."""


class Medium(Protocol):
    """One medium: what it is called, what can be done with it, how it lies, how to make it ready."""

    id: str
    name: str
    word: str
    """What one stick of it is called."""
    techniques: tuple[str, ...]
    pressures: tuple[str, ...]
    tools: dict[str, tuple[str, ...]]
    """What can be done with things that hold no pigment (see TOOLS)."""
    lies: str
    """How it lies: `film` on the tooth, `ink` in the paper, `crumbs`, `paste`, or a closed `body`."""
    grain: float
    """How much of the paper's tooth shows in it, 0–1."""
    hides: bool
    """Whether it can make a darker ground lighter."""
    finishing: bool
    """Whether it only finishes what other media began."""

    def prepare(self, sticks: tuple[Stick, ...], support: Support) -> Box:
        """A box for these sticks on this paper. Raises InputError (`no_swatch`)."""


TOOLS = {"stump": "paper stump", "putty": "putty rubber", "blade": "blade"}
"""Things without pigment that a pass may be made with; the code of a stick goes before them."""


def check_pass(
    pass_: Pass,
    techniques: tuple[str, ...],
    codes: dict[str, int],
    pressures: tuple[str, ...] = PRESSURES,
    tools: dict[str, tuple[str, ...]] | None = None,
) -> None:
    """Raises InputError unless the pass is one that the medium and tray can make."""
    tools = tools or {}
    if pass_.stick not in codes and pass_.stick not in tools:
        raise InputError(
            "unknown_stick", f"There is no “{pass_.stick[:40]}” in the tray.", "Use a code of the tray.", "stick"
        )
    if pass_.pressure not in pressures:
        raise InputError(
            "bad_pressure",
            f"“{pass_.pressure[:40]}” is not a pressure here.",
            f"Use {', '.join(pressures)}.",
            "pressure",
        )
    fitting = techniques if pass_.stick in codes else tools[pass_.stick]
    if pass_.technique not in fitting:
        raise InputError(
            "bad_technique",
            f"“{pass_.technique[:40]}” cannot be done with {pass_.stick[:40]}.",
            f"Use {', '.join(fitting)}.",
            "technique",
        )
    if not 1 <= pass_.repeats <= MAX_REPEATS:
        raise InputError(
            "bad_repeats", f"{pass_.repeats} repeats are out of range.", f"Use 1 to {MAX_REPEATS}.", "repeats"
        )
