"""Questions about a tray that take a while: plain values in and out, so that another process can answer them.

Each process keeps what it laid out last, so that the next question about the same tray is answered sooner.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from core.colour.spaces import SRGB, Floats
from core.errors import InputError
from core.look.questions import Seen, as_jpeg, small_of, study_of
from core.look.views import MOST_STEPS, Small, enlarged, values
from core.method.method import Method
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stick import Stick, Tray
from core.optics.support import Support
from core.optics.texture import tooth_tile
from core.plan.setup import LaidOutTray, Setup, lay_out, lay_out_kit, narrowed
from core.plan.solve import Candidates, Wanted, candidates, chosen, replacement
from core.recipe.answers import answers
from core.recipe.forecast import Palette, forecast
from core.recipe.palette import Pairs, additions, choose_palette, pair_costs, smallest_palette, weighed

Lab = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Owned:
    """What is laid out: the usable sticks of a tray, the set-up, and the paper and the method if they are the artist's
    own."""

    sticks: tuple[Stick, ...]
    setup: Setup
    paper: Support | None = None
    method: Method | None = None

    def laid_out(self) -> LaidOutTray:
        """The sticks laid out. Raises what core.plan.setup.lay_out raises."""
        return replace(_laid_out(self.bare()), setup=self.setup)

    def kit(self) -> Kit:
        """Everything that passes may be made with. Raises what core.plan.setup.lay_out_kit raises."""
        return lay_out_kit(Tray("", self.sticks), self.setup, self.paper, self.method)

    def bare(self) -> Owned:
        """Without the choices that do not change what is laid out, only what is looked for in it."""
        held = self.setup
        used = Setup(
            medium=held.medium, paper=held.paper, method=held.method, black=held.black, banned=held.banned,
            under=held.under,
        )  # fmt: skip
        return replace(self, setup=used)


@dataclass(frozen=True, slots=True)
class Task:
    """What is asked: targets are the colours of all spots of the piece in CIELAB, by which its sticks are chosen."""

    owned: Owned
    targets: tuple[Lab, ...]

    def few(self) -> LaidOutTray:
        """The sticks laid out, no more than the set-up allows. Raises what core.plan.setup.narrowed raises."""
        return replace(_few(self._narrowing()), setup=self.owned.setup)

    def _narrowing(self) -> Task:
        held = self.owned.bare()
        choice = replace(held.setup, max_sticks=self.owned.setup.max_sticks, must_use=self.owned.setup.must_use)
        return replace(self, owned=replace(held, setup=choice))


@lru_cache(maxsize=8)
def _laid_out(owned: Owned) -> LaidOutTray:
    return lay_out(Tray("", owned.sticks), owned.setup, owned.paper, owned.method)


@lru_cache(maxsize=8)
def _few(task: Task) -> LaidOutTray:
    return narrowed(task.owned.laid_out(), _array(task.targets))


def _array(labs: Sequence[Lab]) -> Floats:
    return np.array(labs, dtype=float).reshape(-1, 3)


def stacks_for(task: Task, wanted: tuple[Wanted, ...]) -> list[Candidates]:
    """The best stacks for some of the spots. Raises what core.plan.solve.candidates raises."""
    return candidates(task.few(), wanted)


def passes_for(
    task: Task, wanted: tuple[Wanted, ...], lists: list[Candidates], in_use: frozenset[str]
) -> list[tuple[Pass, ...]]:
    """The passes of some spots, chosen together; see core.plan.solve.chosen."""
    return chosen(task.few(), wanted, in_use, lists)


@dataclass(frozen=True, slots=True)
class OtherAnswer:
    kind: str
    passes: tuple[Pass, ...]


def answers_for(task: Task, wanted: Wanted, hits: Candidates, in_use: frozenset[str]) -> list[OtherAnswer]:
    """Several answers for one spot; see core.recipe.answers."""
    few = task.few()
    target = np.array(wanted.target)
    said = answers(few.table, target, few.setup.max_passes, few.index(in_use), hits)
    return [OtherAnswer(answer.kind, few.table.stack(answer.found)) for answer in said]


def replacement_for(owned: Owned, stick: Stick) -> tuple[Pass, ...]:
    """The passes of the best mix in the place of a stick."""
    return tuple(step.pass_ for step in replacement(owned.laid_out(), stick).steps)


@dataclass(frozen=True, slots=True, eq=False)
class Foreseen:
    """A drawing to be foreseen: palettes, one for each person seen; paper: whose grain is shown, if any; tooth: of the
    paper it is on; muted: what is nobody's skin is faded; finished: not a stage on the way."""

    seen: Seen
    palettes: tuple[Palette | None, ...]
    paper: Support | None
    tooth: float
    muted: bool
    finished: bool


def forecast_for(asked: Foreseen, longest: int, in_values: bool) -> bytes:
    """The drawing as JPEG of at most `longest` pixels on its longer side; see core.recipe.forecast."""
    small = small_of(asked.seen.source, longest)
    owners = enlarged(study_of(asked.seen).coloured, small)
    tile = tooth_tile(asked.paper) if asked.paper else None
    pixels = forecast(small, owners, asked.palettes, asked.muted, tile, asked.tooth, asked.finished)
    if in_values:
        pixels = np.repeat(values(Small(pixels, SRGB), MOST_STEPS)[..., :1], 3, axis=-1)
    return as_jpeg(pixels)


@dataclass(frozen=True, slots=True)
class BestPalette:
    """sticks, losses: codes, and what the mean cost of a target would rise by without each; cost: that mean with these;
    cost_of_all: with the whole tray; gains: what each stick that is not owned would lower it by, the best first."""

    sticks: tuple[str, ...]
    losses: tuple[float, ...]
    cost: float
    cost_of_all: float
    gains: tuple[tuple[str, float], ...]


def palette_for(
    task: Task, wanted: tuple[Lab, ...], more: tuple[Stick, ...], size: int | None, within: float | None
) -> BestPalette:
    """The best palette of a size, or the smallest within a tolerance. wanted: the colours as they should be, whatever
    these sticks reach; more: sticks that could be bought.

    Raises InputError (`bad_palette`, `too_many_must_use`, or what core.plan.setup.lay_out raises).
    """
    owned = task.owned.laid_out()
    _check_size(size, len(owned.box.sticks))
    wide, pairs = _wide(replace(task, owned=task.owned.bare()), more)
    buyable = {stick.code for stick in more}
    mine = [i for i, stick in enumerate(wide.box.sticks) if stick.code not in buyable]
    codes = [wide.box.sticks[i].code for i in mine]
    own = pairs[:, mine][:, :, mine]
    must = [codes.index(code) for code in task.owned.setup.must_use if code in codes]
    targets = _array(task.targets)
    if size is not None:
        best_few = choose_palette(owned.table, targets, size, must, pairs=own)
    else:
        best_few = smallest_palette(owned.table, targets, within or 1.0, must, pairs=own)
    best = weighed(own, best_few)
    buyable_at = [i for i in range(len(wide.box.sticks)) if i not in mine]
    gained = additions(
        _wide_as_wanted(replace(task, owned=task.owned.bare(), targets=wanted), more),
        [mine[i] for i in best_few],
        buyable_at,
        _BOUGHT,
    )
    return BestPalette(
        sticks=tuple(codes[i] for i in best.sticks),
        losses=best.losses,
        cost=best.cost,
        cost_of_all=float(own.min(axis=(1, 2)).mean()),
        gains=tuple((wide.box.sticks[i].code, gain) for i, gain in gained.items()),
    )


_BOUGHT, _FARTHEST = 3, 200.0
"""How many sticks are named that would help, and how far off a colour counts there: as far as it is."""
FEWEST, MOST = 2, 20
"""Sticks of a palette."""


def _check_size(size: int | None, owned: int) -> None:
    if size is not None and not FEWEST <= size <= min(MOST, owned):
        raise InputError(
            "bad_palette",
            f"A palette of {size} is out of range; the tray holds {owned} that may be used.",
            f"Use {FEWEST} to {min(MOST, owned)}.",
            "size",
        )


@lru_cache(maxsize=4)
def _wide_as_wanted(task: Task, more: tuple[Stick, ...]) -> Pairs:
    wide = replace(task.owned, sticks=(*task.owned.sticks, *more)).laid_out()
    return pair_costs(wide.table, _array(task.targets), _FARTHEST)


@lru_cache(maxsize=4)
def _wide(task: Task, more: tuple[Stick, ...]) -> tuple[LaidOutTray, Pairs]:
    wide = replace(task.owned, sticks=(*task.owned.sticks, *more)).laid_out()
    return wide, pair_costs(wide.table, _array(task.targets))
