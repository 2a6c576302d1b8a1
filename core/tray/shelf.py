"""What is sold: the sticks of ranges with their prices, what stands for one another among them, and the sets."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from core.optics.stick import Kept, Stick, Tray
from core.optics.support import Support
from core.tray.purchase import Offer
from core.tray.stand_in import stand_ins, under_skin

_SAME_IN_USE = 1.0
"""ΔE00 in use within which two sticks are one purchase: they can hardly be told apart."""
_MOST_SAME = 4


@dataclass(frozen=True, slots=True)
class ForSale:
    """A stick of a range. place: that range; kept: with its price and sets."""

    place: str
    stick: Stick
    kept: Kept

    @property
    def offer(self) -> Offer:
        """What it costs."""
        return Offer(self.place, self.stick.code, self.kept.price, self.kept.sets)


@dataclass(frozen=True, slots=True)
class SoldTogether:
    """A set of a range. members: indices on the shelf of its sticks that lie there; size: how many it holds."""

    place: str
    name: str
    price: float
    members: tuple[int, ...]
    size: int


def shelf_of(ranges: Iterable[Tray], medium: str) -> list[ForSale]:
    """Everything of a medium in these ranges, once; where two lists hold the same stick, as the one says that has a
    price. Blenders are left out."""
    found: dict[tuple[str, str], ForSale] = {}
    for held in ranges:
        for stick, kept in zip(held.sticks, held.kept or (Kept(),) * len(held.sticks), strict=True):
            if stick.medium == medium and not stick.colourless:
                place = stick.range or held.name
                before = found.get((place, stick.code))
                if before is None or not before.kept.price:
                    found[place, stick.code] = ForSale(place, stick, kept)
    return list(found.values())


def not_owned(
    shelf: Sequence[ForSale], owned: Iterable[Stick], most: int = 1000
) -> tuple[list[ForSale], list[SoldTogether]]:
    """What of a shelf is not owned, `most` at most, and the sets that are sold. A stick of a range stays itself when
    its colour is measured; one of no range is known by its number and colour."""
    have = {(stick.range, stick.code) if stick.range else (stick.code, stick.hex) for stick in owned}
    left = [
        row for row in shelf if (row.place, row.stick.code) not in have and (row.stick.code, row.stick.hex) not in have
    ][:most]
    at = {(row.place, row.stick.code): i for i, row in enumerate(left)}
    held: dict[tuple[str, str], list[ForSale]] = {}
    prices: dict[tuple[str, str], float] = {}
    for row in shelf:
        for name, price in row.kept.sets:
            held.setdefault((row.place, name), []).append(row)
            prices[row.place, name] = price
    sets = []
    for key, rows in held.items():
        members = tuple(i for row in rows if (i := at.get((row.place, row.stick.code))) is not None)
        sets.append(SoldTogether(*key, prices[key], members, len(rows)))
    return left, sets


def same_in_use(shelf: Sequence[ForSale], number: int, support: Support) -> list[int]:
    """What can hardly be told from a stick in use, itself first, the nearest before the others."""
    others = [i for i in range(len(shelf)) if i != number]
    under = under_skin([row.stick for row in shelf])
    close = stand_ins(shelf[number].stick, [shelf[i].stick for i in others], support, under, _MOST_SAME)
    near = [id(found.stick) for found in close if found.off < _SAME_IN_USE]
    by_stick = {id(shelf[i].stick): i for i in others}
    return [number, *(by_stick[each] for each in near)]
