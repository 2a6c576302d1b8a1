"""What is easily taken for another: pairs set by hand."""

from dataclasses import replace

from core.optics.stick import Stick
from core.tray.alike import Alike, alike

RUST = Stick("1", "burnt earth 50%", "pencil", "#a0522d")


def test_equal_colours_and_names_that_differ_in_one_word_are_told() -> None:
    sticks = (
        RUST,
        replace(RUST, code="2", name="old brick", hex="#a1532e"),
        replace(RUST, code="3", name="burnt earth 10%", hex="#d8b49c"),
        replace(RUST, code="4", name="burnt earth", hex="#803c1c"),
        replace(RUST, code="5", name="old brick", medium="marker"),
        replace(RUST, code="6", name="sky", hex="#88bbee"),
    )
    found = dict(zip("123456", alike(sticks), strict=True))
    assert found["1"] == Alike(equal=("2",), mistaken=("4", "3"))
    assert found["2"] == Alike(equal=("1",))
    assert found["4"].mistaken == ("1", "3")
    # Of another medium it is no other pencil.
    assert found["5"] == found["6"] == Alike()
    assert alike(()) == ()


def test_a_name_of_one_word_is_not_nearly_another() -> None:
    sticks = (replace(RUST, name="rust"), replace(RUST, code="2", name="sky", hex="#88bbee"))
    assert alike(sticks) == (Alike(), Alike())
