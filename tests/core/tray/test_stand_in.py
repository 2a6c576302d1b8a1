"""Which stick stands in: told in use, checked with another path of the model, and in words set by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import hex_to_lab
from core.colour.turned import compared
from core.errors import InputError
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.optics.support import supports
from core.tray.stand_in import looks, stand_ins, under_skin
from tests.conftest import a_range

PAPER = supports()["medium-white"]


def test_a_stick_stands_in_for_itself_and_equal_ones_come_before_others() -> None:
    sticks = a_range("gangway-36").sticks
    wanted = sticks[12]
    twin = replace(wanted, code="T", name="twin", range="Another")
    best, second, *_ = stand_ins(wanted, (*sticks[:12], twin, *sticks[13:]), PAPER, under_skin(sticks))
    assert (best.stick, round(best.off, 6), best.words) == (twin, 0.0, "so close that none can tell")
    assert second.off > 0.5
    assert second.worst >= second.off
    assert stand_ins(wanted, a_range("ebb-24").sticks, PAPER, ()) == []


def test_what_counts_is_what_it_does_over_skin() -> None:
    # Common practice: of two sticks with one swatch the opaque one lightens a dark skin, the transparent one does not.
    sticks = a_range("gangway-36").sticks
    pale = Stick("p", "pale", "pencil", "#f0d8c0", "transparent")
    veil = replace(pale, code="v", hex="#f2dac4")
    body = replace(pale, code="b", opacity="opaque")
    found = stand_ins(pale, (body, veil), PAPER, under_skin(sticks))
    assert [row.stick.code for row in found] == ["v", "b"]
    assert np.allclose(body.lab, pale.lab)


def test_colours_in_use_are_those_of_passes() -> None:
    sticks = a_range("gangway-36").sticks
    wanted, under = sticks[20], under_skin(sticks)[:1]
    held = looks((wanted,), PAPER, under)[0]
    kit = Kit((wanted, *under), PAPER, "pencil")
    closed = colours_after(kit, [Pass(wanted.code, "heavy", 2)])[-1]
    assert ciede2000(held[2], closed) < 1.5
    assert len(held) == 5
    # Over skin it is the nearer to the skin the thinner it lies.
    skin = colours_after(kit, [Pass(under[0].code, "light", 1)])[-1]
    assert ciede2000(held[3], skin) < ciede2000(held[4], skin)
    with pytest.raises(InputError, match="two media"):
        looks((wanted,), PAPER, a_range("ebb-24").sticks[:1])


def test_sticks_under_skin_are_skin_colours() -> None:
    under = under_skin(a_range("long-pier-72").sticks)
    assert 1 < len(under) <= 3
    assert all(stick.lab[1] > 5 and stick.lab[2] > 5 for stick in under)
    assert under_skin(()) == ()


@pytest.mark.parametrize(
    ("one", "other", "words"),
    [
        # From memory: what one would say, seeing the two side by side.
        ("#c08a6a", "#c08a6a", ""),
        ("#c08a6a", "#6a4632", "darker and a little greyer"),
        ("#8a4b2f", "#8a5a4b", "greyer and a little lighter"),
        ("#e0a080", "#e0b080", "more yellow"),
    ],
)
def test_differences_in_words(one: str, other: str, words: str) -> None:
    said = compared(hex_to_lab(one), hex_to_lab(other))
    assert said.split(" and ")[0].removeprefix("a little ") == words.split(" and ")[0].removeprefix("a little ")
