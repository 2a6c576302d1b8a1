"""Which stick runs out first: told by hand for a box of three."""

from core.optics.stick import Kept, Stick
from core.tray.lasting import Asked, closed_cm2, lasting

BOX = [
    Stick("1", "much used", "pencil", "#a06040"),
    Stick("2", "nearly gone", "pencil", "#c08060", condition="low"),
    Stick("3", "dried out", "marker", "#808080", condition="dried_out"),
]


def test_pressure_times_and_area_make_the_use() -> None:
    heavy, light = ("heavy", 1), ("light", 1)
    assert closed_cm2(Asked("1", 100, (heavy, heavy))) == 100
    assert closed_cm2(Asked("1", 100, (heavy, None))) == 50
    assert closed_cm2(Asked("1", 100, (("heavy", 2), None))) == 100
    assert closed_cm2(Asked("1", 100, (light,))) < closed_cm2(Asked("1", 100, (("medium", 1),))) < 100
    assert closed_cm2(Asked("1", 100, ())) == 0


def test_what_is_scarce_comes_first() -> None:
    heavy = (("heavy", 1),)
    asked = [Asked("1", 500, heavy), Asked("1", 500, heavy), Asked("2", 500, heavy), Asked("3", 1, heavy)]
    asked += [Asked("elsewhere", 5, heavy)]
    rows = lasting(BOX, [Kept(), Kept(), Kept()], asked)
    assert [row.code for row in rows] == ["3", "2", "1"]
    assert [row.words for row in rows] == [
        "none left", "not enough for what is planned", "just enough for what is planned",
    ]  # fmt: skip
    # Three of a kind last three times as long.
    more = lasting(BOX, [Kept(3), Kept(3), Kept()], asked)
    assert all(2.5 < row.times / before.times < 3.5 for row, before in zip(more[1:], rows[1:], strict=True))
    assert lasting(BOX, [Kept(20)] * 3, [Asked("1", 50, heavy)])[0].words == "enough"
