from collections.abc import Callable

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.optics.medium import PRESSURES, Pass
from core.optics.pencil import PencilBox
from core.optics.stack import colours_after, tooth_left_after
from core.optics.support import get_support, supports


def test_a_heavily_worked_swatch_comes_near_the_declared_one(box: PencilBox) -> None:
    for code in ("peach", "terracotta", "brown", "green", "violet"):
        stick = next(stick for stick in box.sticks if stick.code == code)
        worked = colours_after(box, [Pass(code, "heavy", 3)])[-1]
        assert ciede2000(stick.lab, worked) < 7, code


def test_the_first_colour_after_no_pass_is_the_paper(box: PencilBox) -> None:
    seen = colours_after(box, [])
    assert seen.shape == (1, 3)
    assert np.allclose(seen[0], box.support.lab, atol=0.05)


def test_burnishing_closes_the_tooth_for_good(box: PencilBox) -> None:
    before = [Pass("sienna", "medium", 2)]
    burnished = [*before, Pass("cream", "heavy", 1, "burnish")]
    assert tooth_left_after(box, burnished)[-1] == 0
    after = colours_after(box, [*burnished, Pass("black", "heavy", 3)])
    assert np.allclose(after[-1], after[-2], atol=1e-6)


def test_a_white_pencil_is_weak(box: PencilBox) -> None:
    dark = colours_after(box, [Pass("brown", "heavy", 2)])[-1, 0]
    whitened = colours_after(box, [Pass("brown", "heavy", 2), Pass("white", "heavy", 1)])[-1, 0]
    assert dark < whitened < dark + 20


def test_order_matters(box: PencilBox) -> None:
    one = colours_after(box, [Pass("brown", "medium", 2), Pass("peach", "medium", 2)])[-1]
    other = colours_after(box, [Pass("peach", "medium", 2), Pass("brown", "medium", 2)])[-1]
    assert ciede2000(one, other) > 3
    assert one[0] > other[0]


def test_smooth_paper_is_full_long_before_a_toothy_one(box_on: Callable[[str], PencilBox]) -> None:
    after = {paper: tooth_left_after(box_on(paper), [Pass("brown", "medium", 3)])[-1] for paper in supports()}
    assert after["smooth-white"] < after["medium-white"] < after["toothy-white"]


def test_opaque_sticks_hide_more_than_transparent_ones() -> None:
    from core.optics.media import get_medium
    from core.optics.stick import Stick
    from tests.conftest import SWATCHES, pencil

    sticks = (
        pencil("brown", SWATCHES["brown"]),
        *(Stick(o, o, "pencil", pencil("p", SWATCHES["peach"]).hex, o) for o in ("transparent", "semi", "opaque")),
    )
    box = get_medium("pencil").prepare(sticks, get_support("medium-white"))
    over_dark = [
        colours_after(box, [Pass("brown", "heavy"), Pass(o, "heavy")])[-1, 0] for o in ("transparent", "semi", "opaque")
    ]
    assert over_dark[0] < over_dark[1] < over_dark[2]


@pytest.mark.parametrize("pressure", PRESSURES)
def test_toothier_paper_takes_less_colour_at_each_stroke(pressure: str, box_on: Callable[[str], PencilBox]) -> None:
    lightness = [
        colours_after(box_on(paper), [Pass("sienna", pressure)])[-1, 0]
        for paper in ("smooth-white", "medium-white", "toothy-white")
    ]
    assert lightness[0] < lightness[1] < lightness[2]


def test_an_unknown_paper_is_refused_with_the_choice() -> None:
    with pytest.raises(InputError) as caught:
        get_support("parchment")
    assert caught.value.code == "unknown_paper"
    assert "medium-white" in caught.value.hint
