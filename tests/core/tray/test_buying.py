"""Which sticks to buy: what is missing is named first, and what is there brings nothing."""

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.optics.stick import Stick
from core.plan.buying import to_buy
from core.plan.questions import Lab, Owned
from core.plan.setup import usual_setup
from tests.conftest import a_range

STICKS = {stick.code: stick for stick in a_range("gangway-36").sticks}


def lab(stick: Stick) -> Lab:
    lightness, a, b = map(float, stick.lab)
    return lightness, a, b


def test_the_missing_colour_is_bought_first() -> None:
    own = tuple(STICKS[code] for code in ("G01", "G16", "G30", "G50", "G72"))
    blue, red = STICKS["G60"], STICKS["G36"]
    pieces = [[lab(blue), lab(STICKS["G16"])], [lab(STICKS["G30"])]]
    found = to_buy(Owned(own, usual_setup("pencil")), pieces, [red, blue], 2, [(0, 1), (0,)])
    assert found.bought[0].number == 1
    assert found.bought[0].after[0] < 0.5 * found.before[0]
    assert found.bought[0].after[1] == pytest.approx(found.before[1], abs=0.01)
    assert found.used == (1, 0)
    # What is there does as well as its nearest stick would alone.
    nearest = min(float(ciede2000(np.array(stick.lab), np.array(blue.lab))) for stick in own)
    assert found.before[0] < nearest


def test_with_nothing_owned_the_first_stick_is_still_named() -> None:
    wanted = [[lab(STICKS["G30"])]]
    found = to_buy(Owned((), usual_setup("pencil")), wanted, [STICKS["G60"], STICKS["G30"]], 1)
    assert [row.number for row in found.bought] == [1]
