"""The cheapest purchase, against every purchase there is; what is sold; what stands in on the shelf."""

import itertools
from dataclasses import replace

import numpy as np
import pytest

from core.errors import InputError
from core.exchange.tray_csv import read_tray, write_tray
from core.exchange.tray_json import read_tray_json, write_tray_json
from core.optics.support import supports
from core.plan.setup import usual_setup
from core.tray.purchase import Offer, Purchase, cheapest
from core.tray.shelf import not_owned, same_in_use, shelf_of
from tests.conftest import ROOT, a_range


def least_of_all(wanted: list[list[Offer]]) -> float:
    """By trying every set of sets, and the cheapest single for what is left."""
    sets = {(offer.place, name): price for offers in wanted for offer in offers for name, price in offer.sets}
    best = float("inf")
    for count in range(len(sets) + 1):
        for taken in itertools.combinations(sets, count):
            total = sum(sets[key] for key in taken)
            for offers in wanted:
                if not any((offer.place, name) in taken for offer in offers for name, _ in offer.sets):
                    total += min((offer.price for offer in offers if offer.price), default=float("inf"))
            best = min(best, total)
    return best


def test_no_purchase_is_cheaper() -> None:
    rng = np.random.default_rng(3)
    for _ in range(40):
        sets = {f"set {i}": round(float(rng.uniform(3, 14)), 2) for i in range(5)}
        wanted = []
        for i in range(int(rng.integers(1, 9))):
            held = tuple((name, price) for name, price in sets.items() if rng.random() < 0.35)
            price = round(float(rng.uniform(1, 4)), 2) if rng.random() < 0.8 or not held else 0.0
            other = [Offer("other", f"o{i}", 2.5)] if rng.random() < 0.3 else []
            wanted.append([Offer("one", f"s{i}", price, held), *other])
        best = cheapest(wanted)
        assert best.total == pytest.approx(least_of_all(wanted), abs=0.02)
        assert covered(best) == set(range(len(wanted)))


def covered(best: Purchase) -> set[int]:
    return {i for one in best.sets for i in one.covers} | {i for i, _ in best.singles}


def test_what_has_no_price_is_said_and_left() -> None:
    best = cheapest([[Offer("one", "a", 1.0)], [Offer("one", "b")]])
    assert (best.total, best.alone, best.unpriced) == (1.0, 1.0, (1,))
    only = cheapest([[Offer("one", "a", 0.0, (("tin", 9.0),))]], [Offer("one", c, 1, (("tin", 9.0),)) for c in "abc"])
    assert (only.total, only.alone, only.sets[0].size) == (9.0, None, 3)
    assert cheapest([[Offer("one", "a")]]).total == 0
    for wanted, code in (([], "nothing_wanted"), ([[Offer("one", "a", 1)]] * 61, "too_many_wanted")):
        with pytest.raises(InputError) as error:
            cheapest(wanted)
        assert error.value.code == code


def test_what_ranges_sell_lies_on_the_shelf_once() -> None:
    ranges = [a_range("gangway-36"), a_range("small-tray-24"), a_range("long-pier-72"), a_range("lantern-16")]
    shelf = shelf_of(ranges, "pencil")
    assert len(shelf) == len({(row.place, row.stick.code) for row in shelf}) == 36 + 72
    assert all(row.kept.price > 0 for row in shelf)
    left, sold = not_owned(shelf, a_range("small-tray-24").sticks)
    assert len(left) == 36 - 24 + 72
    measured = [replace(stick, hex="#123456") for stick in a_range("gangway-36").sticks]
    assert len(not_owned(shelf, measured)[0]) == 72
    unnamed = [replace(stick, range="") for stick in a_range("gangway-36").sticks]
    assert len(not_owned(shelf, unnamed)[0]) == 72
    sets = {(one.place, one.name): (len(one.members), one.size) for one in sold}
    assert sets["Gangway 36", "All 36"] == (12, 36) and sets["Long Pier 72", "Portrait 12"] == (12, 12)
    # The same colour from two ranges is one thing to want.
    white = next(i for i, row in enumerate(shelf) if row.place == "Gangway 36" and row.stick.name == "salt")
    same = [shelf[i] for i in same_in_use(shelf, white, supports()[usual_setup("pencil").paper])]
    assert same[0].place == "Gangway 36" and "Long Pier 72" in {row.place for row in same[1:]}


def test_prices_and_sets_go_out_and_in_unchanged() -> None:
    held = a_range("gangway-36")
    assert held.kept[0].price == 1.9 and dict(held.kept[0].sets)["All 36"] > 0
    assert read_tray(write_tray(held), held.name) == held
    assert read_tray_json(write_tray_json(held)) == held
    plain = (ROOT / "demo/ranges/gangway-36.csv").read_text().splitlines()
    for price, sets in (("-1", ""), ("dear", ""), ("1", "tin"), ("1", "tin=dear"), ("1", "=3"), ("1", "tin=0")):
        row = ",".join([*plain[1].split(",")[:10], price, sets])
        with pytest.raises(InputError) as error:
            read_tray("\n".join([plain[0], row]).encode())
        assert error.value.code == "bad_tray_row" and "row 2" in error.value.field
