"""The cheapest purchase that covers what is wanted: singles against sets, exactly."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

from core.errors import InputError

MOST_WANTED = 60


@dataclass(frozen=True, slots=True)
class Offer:
    """A stick that can be had. place: the range it is of; code: its number there; price: alone, 0 if it is not sold or
    not known; sets: names and prices of the sets of that range that hold it."""

    place: str
    code: str
    price: float = 0.0
    sets: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True, slots=True)
class BoughtSet:
    """place, name, price: of a set; covers: indices of what is wanted that it holds; size: how many sticks it has."""

    place: str
    name: str
    price: float
    covers: tuple[int, ...]
    size: int


@dataclass(frozen=True, slots=True)
class Purchase:
    """sets, singles: what to buy (singles with the index of what each is for); total: what that costs; alone: what all
    would cost as singles, None if not all are sold alone; unpriced: indices of what nobody names a price for."""

    sets: tuple[BoughtSet, ...]
    singles: tuple[tuple[int, Offer], ...]
    total: float
    alone: float | None
    unpriced: tuple[int, ...]


def cheapest(wanted: Sequence[Sequence[Offer]], shelf: Sequence[Offer] = ()) -> Purchase:
    """The purchase of least price that covers every wanted thing by one of its offers, alone or in a set.

    wanted: for each, the offers that are it, of whatever range; shelf: everything there is, by which the sets' sizes
    are told. An integer program, solved to its optimum. Raises InputError (`nothing_wanted`, `too_many_wanted`).
    """
    if not wanted:
        raise InputError("nothing_wanted", "Nothing is wanted yet.", "Mark what you would buy.", "codes")
    if len(wanted) > MOST_WANTED:
        raise InputError("too_many_wanted", f"{len(wanted)} are wanted.", f"Keep it to {MOST_WANTED}.", "codes")
    unpriced = tuple(i for i, offers in enumerate(wanted) if not any(offer.price or offer.sets for offer in offers))
    singles = [(i, offer) for i, offers in enumerate(wanted) for offer in offers if offer.price > 0]
    prices: dict[tuple[str, str], float] = {}
    covers: dict[tuple[str, str], set[int]] = {}
    for i, offers in enumerate(wanted):
        for offer in offers:
            for name, price in offer.sets:
                prices[offer.place, name] = price
                covers.setdefault((offer.place, name), set()).add(i)
    sets = sorted(prices)
    asked = [i for i in range(len(wanted)) if i not in unpriced]
    bought = _solved(asked, [(i, offer.price) for i, offer in singles], [(prices[key], covers[key]) for key in sets])
    kept_singles = tuple(row for row, taken in zip(singles, bought[: len(singles)], strict=True) if taken)
    kept_sets = [key for key, taken in zip(sets, bought[len(singles) :], strict=True) if taken]
    alone = [min((offer.price for offer in wanted[i] if offer.price > 0), default=None) for i in asked]
    return Purchase(
        sets=tuple(BoughtSet(*key, prices[key], tuple(sorted(covers[key])), size_of(key, shelf)) for key in kept_sets),
        singles=kept_singles,
        total=round(sum(offer.price for _, offer in kept_singles) + sum(prices[key] for key in kept_sets), 2),
        alone=None if None in alone else round(sum(price for price in alone if price is not None), 2),
        unpriced=unpriced,
    )


def size_of(key: tuple[str, str], shelf: Sequence[Offer]) -> int:
    """How many sticks a set holds. key: its range and its name."""
    return sum(offer.place == key[0] and key[1] in dict(offer.sets) for offer in shelf)


def _solved(
    asked: Sequence[int], singles: Sequence[tuple[int, float]], sets: Sequence[tuple[float, set[int]]]
) -> list[bool]:
    """Which singles (what each is, its price) and sets (price, what each holds) to take."""
    if not asked:
        return [False] * (len(singles) + len(sets))
    row_of = {i: row for row, i in enumerate(asked)}
    places = [(row_of[i], column) for column, (i, _) in enumerate(singles)]
    places += [(row_of[i], len(singles) + column) for column, (_, held) in enumerate(sets) for i in held]
    prices = np.array([price for _, price in singles] + [price for price, _ in sets])
    rows, columns = np.array(places).T
    holds = csr_array((np.ones(len(places)), (rows, columns)), shape=(len(asked), len(prices)))
    found = milp(
        # Of purchases of one price the one with fewer parts.
        prices + 1e-6,
        integrality=np.ones(len(prices)),
        bounds=Bounds(0, 1),
        constraints=LinearConstraint(holds, lb=1),
    )
    return [bool(round(taken)) for taken in found.x]
