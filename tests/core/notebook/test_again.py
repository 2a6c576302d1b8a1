"""Sticks of an earlier plan in another tray."""

from dataclasses import replace

from core.notebook.again import again
from core.optics.stick import Stick
from tools.bench_trial import tray_of

TRAY: tuple[Stick, ...] = tray_of("pencil", 16)


def test_the_same_sticks_are_themselves_whatever_else_is_alike() -> None:
    twin = replace(TRAY[0], code="X1", name="twin")
    found = again(TRAY[:4], (twin, *TRAY))
    assert [row.now for row in found] == list(TRAY[:4]) and all(row.close for row in found)


def test_no_stick_does_the_work_of_two_and_what_is_too_far_does_none() -> None:
    one, other = TRAY[0], replace(TRAY[0], code="X1")
    found = again((one, other), (one,))
    assert sorted(row.now is None for row in found) == [False, True]
    far = max(TRAY, key=lambda stick: abs(stick.lab[0] - one.lab[0]))
    assert again((one,), (far,))[0].now is None
    assert again((one,), ())[0].now is None and again((), TRAY) == []
