"""Stacks that pass from one medium to another."""

import numpy as np
import pytest

from core.errors import InputError
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after, tooth_left_after
from core.optics.stick import Stick
from core.optics.support import get_support
from tests.conftest import SWATCHES, pencil

PREFIX = {"p": "pencil", "m": "marker", "s": "pastel", "o": "oil_pastel"}


def kit_on(paper: str, usual: str = "pencil") -> Kit:
    sticks = [
        Stick(f"{letter}-{code}", code, medium, pencil(code, lab).hex)
        for letter, medium in PREFIX.items()
        for code, lab in SWATCHES.items()
    ]
    finishing = (
        Stick("pen", "white pen", "opaque", "#fafafa", "semi"),
        Stick("gouache", "white gouache", "opaque", "#fafafa", "opaque"),
        Stick("liner", "liner", "opaque", "#1c1a19", "transparent"),
        Stick("blender", "colourless blender", "pencil", "#f4f4f1", "transparent"),
        Stick("wet", "colourless blender", "marker", "#f4f4f1", "transparent"),
    )
    return Kit((*sticks, *finishing), get_support(paper), usual)


@pytest.fixture(scope="module")
def card() -> Kit:
    return kit_on("marker-card")


def last(kit: Kit, *passes: Pass) -> np.ndarray:
    return np.asarray(colours_after(kit, passes)[-1])


def test_pencil_over_marker_lies_on_its_ink(card: Kit) -> None:
    coat, glaze = Pass("m-peach"), Pass("p-sienna", "light", 2)
    both = last(card, coat, glaze)
    assert both[0] < last(card, coat)[0] - 3
    assert both[0] < last(card, glaze)[0] - 3
    assert tooth_left_after(card, [coat, glaze])[1] == 1.0 - 1 / card.support.coats


def test_marker_leaves_the_tooth_to_the_pencil(card: Kit) -> None:
    alone = tooth_left_after(card, [Pass("p-sienna", "medium")])[-1]
    over_ink = tooth_left_after(card, [Pass("m-peach"), Pass("p-sienna", "medium")])[-1]
    assert over_ink == pytest.approx(alone, abs=1e-9)


def test_pencil_holds_on_oil_pastel_only_as_far_as_there_is_room() -> None:
    kit = kit_on("oil-paper", "oil_pastel")
    thin, thick = Pass("o-peach", "light"), Pass("o-peach", "heavy", 3)
    darkened = [last(kit, under)[0] - last(kit, under, Pass("p-brown", "medium", 2))[0] for under in (thin, thick)]
    assert darkened[0] > darkened[1] + 5
    assert darkened[1] > 0


@pytest.mark.parametrize("under", ["p-brown", "m-brown", "s-brown", "o-brown"])
def test_opaque_white_covers_every_medium_and_gouache_covers_more_than_a_pen(under: str) -> None:
    kit = kit_on("warm-grey")
    base = Pass(under, "light" if under.startswith("m") else "heavy", 2)
    dark = last(kit, base)[0]
    pen, gouache = (last(kit, base, Pass(code, "heavy"))[0] for code in ("pen", "gouache"))
    assert dark + 25 < pen < gouache
    assert gouache > 88


def test_a_liner_is_near_black_on_anything(card: Kit) -> None:
    for under in ((), (Pass("m-peach"),), (Pass("p-peach", "heavy", 2),)):
        lightness, a, b = last(card, *under, Pass("liner", "heavy"))
        assert lightness < 26
        assert np.hypot(a, b) < 6


@pytest.mark.parametrize(
    ("below", "above"),
    [("p-brown", "m-peach"), ("p-brown", "o-peach"), ("o-brown", "m-peach"), ("s-brown", "p-peach")],
)
def test_what_does_not_hold_over_another_medium_is_refused_by_the_pass(below: str, above: str, card: Kit) -> None:
    with pytest.raises(InputError) as caught:
        colours_after(card, [Pass(below), Pass(above)])
    assert caught.value.code == "cannot_lie_over"
    assert caught.value.field == "passes[1].stick"


def test_one_medium_in_a_kit_is_the_medium_alone(card: Kit) -> None:
    passes = [Pass("p-peach", "medium", 2), Pass("p-violet"), Pass("p-sienna", "light", 3)]
    assert np.array_equal(colours_after(card, passes), colours_after(card.boxes["pencil"], passes))


def test_mixed_stacks_make_no_light_and_are_the_same_every_time(card: Kit) -> None:
    passes = [
        Pass("m-peach"), Pass("wet", technique="wet"), Pass("p-sienna", "medium"),
        Pass("p-cream", "heavy", 1, "burnish"), Pass("putty", "medium", 1, "lift"), Pass("pen", "heavy"),
    ]  # fmt: skip
    state = card.start()
    for pass_ in passes:
        state = card.apply(state, pass_)
        seen = card.reflectance(state)
        assert (seen >= 0).all()
        assert (seen <= 1).all()
    assert colours_after(card, passes).tobytes() == colours_after(kit_on("marker-card"), passes).tobytes()


def test_a_tool_works_on_what_is_in_hand_and_on_nothing_on_bare_paper(card: Kit) -> None:
    assert np.allclose(last(card, Pass("putty", "heavy", 1, "lift")), last(card), atol=1e-9)
    with pytest.raises(InputError, match="Use lift"):
        colours_after(card, [Pass("p-brown"), Pass("blade", technique="smudge")])
    with pytest.raises(InputError) as caught:
        colours_after(card, [Pass("m-brown"), Pass("putty", technique="lift")])
    assert caught.value.code == "unknown_stick"
