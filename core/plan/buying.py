"""Which sticks to buy, for pieces that are there: one after the other, by what each brings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from core.optics.stick import Stick, Tray
from core.plan.questions import Lab, Owned
from core.plan.setup import lay_out
from core.recipe.palette import Pairs, additions, best_with, pair_costs

_FARTHEST = 200.0
"""How far off a colour counts: as far as it is."""
_LEAST_GAIN = 0.02
"""ΔE00 in the mean below which a stick brings nothing."""


@dataclass(frozen=True, slots=True)
class Bought:
    """number: of the stick among those that could be bought; gain: by how much it lowers the mean ΔE00 over everything
    wanted; after: that mean for each piece, once it is there."""

    number: int
    gain: float
    after: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class ToBuy:
    """before: mean ΔE00 of each piece with what is there; bought: in the order in which they help most; used: how many
    sticks of each set would ever be used."""

    before: tuple[float, ...]
    bought: tuple[Bought, ...]
    used: tuple[int, ...]


def to_buy(
    owned: Owned,
    pieces: Sequence[Sequence[Lab]],
    more: Sequence[Stick],
    count: int,
    sets: Sequence[Sequence[int]] = (),
) -> ToBuy:
    """What to buy, by stacks of one and two layers. pieces: the colours wanted in each; more: sticks of the set-up's
    medium that could be had; sets: which of them are sold together. Raises what core.plan.setup.lay_out raises."""
    # Numbers of two boxes may be the same: here each stick has one of its own.
    sticks = [replace(stick, code=f"{i}") for i, stick in enumerate([*owned.sticks, *more])]
    first = len(owned.sticks)
    wide = lay_out(Tray("", tuple(sticks)), replace(owned.bare().setup, banned=()), owned.paper, owned.method)
    at = {stick.code: i for i, stick in enumerate(wide.box.sticks)}
    mine = [at[f"{i}"] for i in range(first) if f"{i}" in at]
    theirs = {at[f"{first + i}"]: i for i in range(len(more)) if f"{first + i}" in at}
    labs = np.array([lab for piece in pieces for lab in piece], dtype=float).reshape(-1, 3)
    pairs = pair_costs(wide.table, labs, _FARTHEST)
    ends = np.cumsum([len(piece) for piece in pieces])

    def by_piece(held: list[int]) -> tuple[float, ...]:
        costs = best_with(pairs, held) if held else np.full(len(labs), np.nan)
        return tuple(round(float(part.mean()), 2) if part.size else float("nan") for part in np.split(costs, ends[:-1]))

    held, rows = list(mine), []
    for i, gain in additions(pairs, mine, theirs, count).items():
        held.append(i)
        if gain >= _LEAST_GAIN:
            rows.append(Bought(theirs[i], round(gain, 2), by_piece(held)))
    place = {number: i for i, number in theirs.items()}
    either = np.minimum(pairs, pairs.transpose(0, 2, 1))
    used = tuple(_used(either, mine, [place[number] for number in held if number in place]) for held in sets)
    return ToBuy(by_piece(mine), tuple(rows), used)


def _used(either: Pairs, mine: Sequence[int], bought: Sequence[int]) -> int:
    """How many of the bought sticks are in the best stack of any colour, beside one's own."""
    held = np.array([*mine, *bought], dtype=np.intp)
    if not len(bought) or not len(either):
        return 0
    among = either[:, held][:, :, held].reshape(len(either), -1)
    first, second = np.divmod(among.argmin(axis=1), len(held))
    best = {int(held[i]) for i in (*first, *second)}
    return len(best & set(bought))
